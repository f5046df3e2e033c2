/** The library: the core's functions, with their types. Values in, values out; no file is read or written here. */
export { type Page, parsePage, placeAt } from './core/page/parse.js';
export { comparePages, type Difference, type Sameness, type Verdict } from './core/page/same.js';
export { Problem, type Place } from './core/errors.js';
export { survey, type SurveyOptions } from './core/survey/survey.js';
export {
  DEFAULT_THRESHOLDS,
  type Finding,
  type FindingKind,
  type FindingProp,
  type Offer,
  type Remark,
  type Survey,
  type Thresholds,
} from './core/survey/types.js';
export { type ComponentSource, readComponents, templatesOf } from './core/component/read.js';
export type { Component, Prop, Registry } from './core/component/model.js';
export { expandPage, type Expanded } from './core/component/expand.js';
export { templateProblems, type UseProblem } from './core/component/problems.js';
export { extendComponent, type Extension } from './core/lift/extend.js';
export { type LiftPlan, planLift, type PlanInput, type PlannedPage } from './core/lift/plan.js';
export { type Bond, bondsOf } from './core/style/belongs.js';
export { planBack, type SheetCut } from './core/style/back.js';
export { dress, type Dressed } from './core/style/dress.js';
export { type Filled, fillMarkers } from './core/style/fill.js';
export { expandAll, filledReader, planStyles, type StylesInput, type StylesPlan } from './core/style/plan.js';
export { readSheet, type Sheet } from './core/style/sheet.js';
export type {
  ElementNode,
  EmitAttr,
  EmitComponent,
  EmitNode,
  EmitPage,
  EmitProp,
  EmitRemark,
  EmitSite,
  Emitted,
  EmittedFile,
  Json,
  Piece,
  Target,
  UseNode,
} from './core/emit/model.js';
export { tidySite } from './core/emit/space.js';
