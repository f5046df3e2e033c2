/**
 * One stylesheet as the cascade sees it: style rules with their selectors and declarations, the at-rules around them,
 * imports, and the markers that components' styles are filled in at.
 */
import type { Place } from '../errors.js';
import { blankedRules, type Declaration, isGrouping, readSyntax, type Rule } from './syntax.js';
import { plainKeys } from './plain-selectors.js';
import { type Around, aroundOf, readSelectors, type Selector } from './selector.js';

/** The at-rule that stands in a stylesheet where the styles of a component were. */
const MARKER = 'component';

interface SheetProblem {
  message: string;
  /** offset into the source */
  start: number;
}

/** Declarations that share selectors and conditions. */
export interface StyleRule {
  sheet: Sheet;
  /** what moves as one: the outermost style rule */
  unit: Unit;
  readonly selectors: Selector[];
  /** keys of its selectors where these need not be read for that; null otherwise */
  keys: string[] | null;
  declarations: Declaration[];
  /** preludes of the at-rules around it that may or may not hold: `@media print` */
  conditions: string[];
  /** names of the cascade layers around it, outermost first */
  layers: string[];
  /** false where a browser may drop the whole rule */
  sure: boolean;
  start: number;
  end: number;
}

/** A style rule with all that is nested in it, or `@keyframes`: what can move to another place. */
export interface Unit {
  sheet: Sheet;
  /** number in source order */
  at: number;
  kind: 'rule' | 'keyframes';
  /** the selector, or the name of the keyframes */
  name: string;
  rules: StyleRule[];
  /** at-rules around it, outermost first */
  around: Rule[];
  node: Rule;
}

export interface Import {
  url: string;
  conditions: string[];
  /** null for none, '' for one without a name */
  layer: string | null;
  start: number;
}

/** `@component name;`, where the styles of a component belong. */
export interface Marker {
  name: string;
  start: number;
  end: number;
}

export interface Sheet {
  /** of the file, or of the page whose `style` element this is */
  path: string;
  source: string;
  /** number of the `style` element on its page, 0 for a file */
  element: number;
  nodes: Rule[];
  rules: StyleRule[];
  units: Unit[];
  imports: Import[];
  /** `@layer a, b` and blocks, in source order */
  layerNames: string[][];
  markers: Marker[];
  /** `@font-face` families */
  fonts: { name: string; start: number; end: number }[];
  problems: SheetProblem[];
  /** where an offset stands on disk, when that is elsewhere */
  onDisk?: (offset: number) => Place;
}

interface Outer {
  unit: Unit;
  /** what is nested in it is relative to */
  nesting: () => Around;
  /** null for what has none, such as `@scope` */
  selectors: (() => Selector[]) | null;
  keys: string[] | null;
  sure: boolean;
}

interface Context {
  around: Rule[];
  conditions: string[];
  layers: string[];
  /** the style rule around, for what is nested in it */
  outer: Outer | null;
}

/**
 * Reads a stylesheet; what a browser drops is among the problems. Never throws.
 * @param element number of the `style` element on the page at `path`, 0 for a file
 */
export function readSheet(path: string, source: string, element = 0): Sheet {
  const { rules: nodes, errors } = readSyntax(source);
  const sheet: Sheet = {
    ...{ path, source, element, nodes, rules: [], units: [], imports: [], layerNames: [], fonts: [] },
    markers: markersAmong(nodes),
    problems: errors.map(({ message, start }) => ({ message, start })),
  };
  let anonymous = 0;
  const layerOf = (name: string) =>
    name === '' ? [`(${path}#${anonymous++})`] : name.split('.').map((each) => each.trim());
  const visit = (node: Rule, context: Context, first: boolean) => {
    const { name, prelude, children } = node;
    if (name === null) styleRule(sheet, node, context, nested);
    else if (name === 'import') {
      if (first) sheet.imports.push(importOf(node));
      else tell(sheet, 'an @import after other rules is dropped: move it to the top', node.start);
    } else if (name === MARKER) return;
    else if (name === 'layer' && children === null)
      for (const each of prelude.split(',')) sheet.layerNames.push([...context.layers, ...layerOf(each.trim())]);
    else if (name.endsWith('keyframes') && context.outer === null)
      sheet.units.push({
        ...unitOf(sheet, node, context),
        kind: 'keyframes',
        name: prelude.replace(/^["']|["']$/g, ''),
      });
    else if (name === 'font-face') font(sheet, node);
    else if (isGrouping(name) && children !== null) nested(node, grouped(node, context));
    else if (!KNOWN.has(name) && !name.startsWith('-'))
      tell(sheet, `@${name} is not known, and is dropped`, node.start);
  };
  const grouped = (node: Rule, context: Context): Context => {
    const inside = { ...context, around: [...context.around, node] };
    if (node.name === 'layer') {
      inside.layers = [...context.layers, ...layerOf(node.prelude)];
      sheet.layerNames.push(inside.layers);
    } else inside.conditions = [...context.conditions, `@${node.name!} ${fold(node.prelude)}`.trim()];
    if (node.name === 'scope') inside.outer = context.outer ?? scopeOf(sheet, node, context);
    return inside;
  };
  const nested = (node: Rule, context: Context) => {
    // declarations between nested rules keep their place in the order
    let run: Declaration[] = [];
    const flush = () => {
      if (run.length > 0 && context.outer !== null && context.outer.selectors !== null)
        pushRule(sheet, context, run, run[0]!.start);
      run = [];
    };
    for (const child of node.children ?? []) {
      if (child.kind === 'declaration') {
        if (child.property !== '') run.push(child);
      } else {
        flush();
        visit(child, context, false);
      }
    }
    flush();
  };
  let first = true;
  for (const node of nodes) {
    if (node.name !== 'import' && node.name !== 'charset' && !(node.name === 'layer' && node.children === null))
      first = false;
    visit(node, { around: [], conditions: [], layers: [], outer: null }, first);
  }
  sheet.problems.sort((a, b) => a.start - b.start);
  return sheet;
}

/** The markers of a stylesheet, in source order, without reading anything else of its rules. */
export function markersIn(source: string): Marker[] {
  if (!/@component\s/i.test(source)) return [];
  return markersAmong(readSyntax(blankedRules(source, (_, body) => body.includes('@'))).rules);
}

function markersAmong(rules: Rule[]): Marker[] {
  return rules.flatMap((node) => {
    const { name, prelude, children, start, end } = node;
    if (name === MARKER) return [{ name: prelude, start, end }];
    const holds = name === null || isGrouping(name);
    return holds ? markersAmong((children ?? []).filter((child): child is Rule => child.kind === 'rule')) : [];
  });
}

const KNOWN = new Set(
  'charset namespace page property counter-style font-feature-values font-palette-values view-transition position-try viewport color-profile'.split(
    ' ',
  ),
);

function tell(sheet: Sheet, message: string, start: number): void {
  sheet.problems.push({ message, start });
}

/** White space folded, so that equal conditions are equal. */
export function fold(text: string): string {
  return text
    .replace(/\/\*[^]*?\*\//g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
}

function unitOf(sheet: Sheet, node: Rule, { around }: Context): Unit {
  return { sheet, at: sheet.units.length, kind: 'rule', name: fold(node.prelude), rules: [], around, node };
}

function styleRule(sheet: Sheet, node: Rule, context: Context, nested: (node: Rule, context: Context) => void): void {
  const { outer } = context;
  const keys = outer === null ? plainKeys(node.prelude) : null;
  // lists that are known to be valid are read when they are asked for
  const read = keys === null ? selectorsOf(sheet, node, outer) : { selectors: null, sure: true };
  if (read === null) return;
  const selectors = () => read.selectors ?? readSelectors(node.prelude, null);
  const isInRule = outer !== null && outer.unit.node.name !== 'scope';
  const unit = isInRule ? outer.unit : unitOf(sheet, node, context);
  if (!isInRule) sheet.units.push(unit);
  const sure = read.sure && (outer?.sure ?? true);
  nested(node, { ...context, outer: { unit, keys, selectors, nesting: () => aroundOf(selectors()), sure } });
}

/** The selectors of a rule, and whether a browser is sure to know them; null where they cannot be read, which is told. */
function selectorsOf(
  sheet: Sheet,
  { prelude, preludeStart }: Rule,
  outer: Outer | null,
): { selectors: Selector[]; sure: boolean } | null {
  if (prelude === '') {
    tell(sheet, 'no selector stands before this block, and it is dropped', preludeStart);
    return null;
  }
  try {
    const selectors = readSelectors(prelude, outer?.nesting() ?? null);
    const doubtful = selectors.find((each) => each.doubtful !== null)?.doubtful ?? null;
    if (doubtful !== null && !/^::?-/.test(doubtful))
      tell(sheet, `${doubtful} is not known; a browser that does not know it drops the rule`, preludeStart);
    return { selectors, sure: doubtful === null };
  } catch (error) {
    const { message, offset = 0 } = error as Error & { offset?: number };
    tell(sheet, `this selector cannot be read, and the rule is dropped: ${message}`, preludeStart + offset);
    return null;
  }
}

/** A rule whose selectors are read when they are asked for. */
class ReadRule implements StyleRule {
  readonly sheet: Sheet;
  readonly unit: Unit;
  readonly keys: string[] | null;
  readonly declarations: Declaration[];
  readonly conditions: string[];
  readonly layers: string[];
  readonly sure: boolean;
  readonly start: number;
  readonly end: number;

  constructor(
    rule: Omit<StyleRule, 'selectors'>,
    private readonly read: () => Selector[],
  ) {
    this.sheet = rule.sheet;
    this.unit = rule.unit;
    this.keys = rule.keys;
    this.declarations = rule.declarations;
    this.conditions = rule.conditions;
    this.layers = rule.layers;
    this.sure = rule.sure;
    this.start = rule.start;
    this.end = rule.end;
  }

  get selectors(): Selector[] {
    return this.read();
  }
}

function pushRule(
  sheet: Sheet,
  { conditions, layers, outer }: Context,
  declarations: Declaration[],
  start: number,
): void {
  const { unit, selectors, keys, sure } = outer!;
  const end = declarations.at(-1)!.end;
  const rule = new ReadRule({ sheet, unit, keys, declarations, conditions, layers, sure, start, end }, selectors!);
  sheet.rules.push(rule);
  unit.rules.push(rule);
}

/** `@scope (root)`: selectors inside are relative to the root, as in nesting; the limit is a condition. */
function scopeOf(sheet: Sheet, node: Rule, context: Context): Context['outer'] {
  const root = /^\(([^]*?)\)\s*(to\b|$)/.exec(node.prelude)?.[1];
  const unit = unitOf(sheet, node, context);
  try {
    const selectors = root === undefined ? [] : readSelectors(root, null);
    const around = aroundOf(selectors);
    const nesting: Around = { ...around, specificity: [0, 0, 0], scope: true };
    return { unit, nesting: () => nesting, selectors: null, keys: null, sure: true };
  } catch (error) {
    tell(sheet, `this scope cannot be read, and is dropped: ${(error as Error).message}`, node.preludeStart);
    return { unit, nesting: () => aroundOf([]), selectors: null, keys: null, sure: true };
  }
}

const IMPORT = /^(?:url\(\s*)?("[^"]*"|'[^']*'|[^\s"')]+)\s*\)?\s*([^]*)$/i;

function importOf({ prelude, start }: Rule): Import {
  const [, spelled = '', rest = ''] = IMPORT.exec(prelude) ?? [];
  const url = spelled.replace(/^["']|["']$/g, '');
  const layer = /^layer(?:\(\s*([^)]*?)\s*\))?(?=\s|$)\s*/i.exec(rest);
  const others = fold(layer === null ? rest : rest.slice(layer[0].length));
  const conditions = others === '' || others === 'all' ? [] : [`@import ${others}`];
  return { url, conditions, layer: layer === null ? null : (layer[1] ?? ''), start };
}

function font(sheet: Sheet, node: Rule): void {
  const family = node.children?.find((child) => child.kind === 'declaration' && child.property === 'font-family');
  const name = family?.kind === 'declaration' ? family.value.replace(/^["']|["']$/g, '') : '';
  sheet.fonts.push({ name, start: node.start, end: node.end });
}
