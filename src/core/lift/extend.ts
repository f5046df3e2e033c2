/**
 * Widens a component by what fragments say otherwise that it would give back but for one difference: a prop, a choice or
 * a part that its uses so far do without, so that they stay as they are.
 */
import type { Component, Registry } from '../component/model.js';
import { type ComponentSource, readComponents } from '../component/read.js';
import { Problem } from '../errors.js';
import { addTo } from '../groups.js';
import type { NearUse } from '../match/known.js';
import { Recogniser } from '../match/known.js';
import { withEdits } from '../page/edits.js';
import { eolOf, indentAt } from '../page/parse.js';
import { quoteAttribute } from '../page/spelling.js';
import { attrOf, type Element, elementsOf } from '../page/tree.js';
import { folderOfPage } from '../component/expand.js';
import { RUN } from '../fragments/occurrence.js';
import { type NewProp, type Widening, wideningFor } from './widening.js';

/** Where a component is widened. */
interface Context {
  /** all component files */
  sources: ComponentSource[];
  registry: Registry;
  /** of all pages and templates */
  elements: Element[];
}

export interface Extension {
  /** the component file as it would be written */
  file: ComponentSource;
  added: string[];
  /** the fragments that are uses then */
  places: NearUse[];
  /** those that it is still not enough for */
  rest: NearUse[];
}

/**
 * Widens one component for all fragments that differ in one thing each.
 * @param near of that component, its own template the one that says otherwise
 */
export function extendComponent(component: Component, near: NearUse[], context: Context): Extension | null {
  const groups = new Map<string, NearUse[]>();
  for (const each of near) {
    const { kind, start, end } = each.difference;
    const name = 'name' in each.difference ? each.difference.name : '';
    addTo(groups, `${kind} ${start} ${end} ${name}`, each);
  }
  const taken = new Set(component.props.map(({ name }) => name));
  for (const slot of component.slots) taken.add(slot);
  const kept: { widening: Widening; places: NearUse[] }[] = [];
  const rest: NearUse[] = [];
  for (const places of groups.values()) {
    const widening = wideningFor(component, places, taken);
    const works = widening === null ? [] : givenBack(component, [widening], places, context);
    const isNew = (each: NearUse) => works.includes(each);
    rest.push(...places.filter((each) => !isNew(each)));
    if (widening === null || works.length === 0) continue;
    kept.push({ widening, places: works });
    if (widening.prop !== null) taken.add(widening.prop.name);
  }
  if (kept.length === 0) return null;
  const widenings = merged(kept.map(({ widening }) => widening));
  const all = kept.flatMap(({ places }) => places);
  const places = givenBack(component, widenings, all, context);
  return {
    file: widened(component, widenings),
    added: widenings.map(({ what, choices }) => (choices === null ? what : moreChoices(choices))),
    places,
    rest: [...rest, ...all.filter((each) => !places.includes(each))],
  };
}

/** The places that the widened component gives back. */
function givenBack(component: Component, widenings: Widening[], places: NearUse[], context: Context): NearUse[] {
  const file = widened(component, widenings);
  try {
    const sources = context.sources.map((each) => (each.path === file.path ? file : each));
    const registry = readComponents(sources, context.registry);
    const recogniser = new Recogniser(registry, context.elements);
    return places.filter(({ occurrence: { page, element } }) => {
      const first = element.tag === RUN ? (element.children[0] as Element) : element;
      const use = recogniser.useAt({ page, element: first, folder: folderOfPage(page) }, -Infinity);
      return use?.component.name === component.name;
    });
  } catch (error) {
    // what the markup says may be what no template can say
    if (error instanceof Problem) return [];
    throw error;
  }
}

/** Widenings that add choices to one prop, as one. */
function merged(widenings: Widening[]): Widening[] {
  const found: Widening[] = [];
  for (const each of widenings) {
    const at = found.findIndex(({ choices }) => choices !== null && choices.prop === each.choices?.prop);
    const before = found[at];
    if (before?.choices == null || each.choices === null) found.push(each);
    else {
      const more = [...new Set([...before.choices.more, ...each.choices.more])];
      const choices = { prop: before.choices.prop, more };
      found[at] = { ...before, edits: [...before.edits, ...each.edits], choices };
    }
  }
  return found;
}

/** What is told of choices that a prop has besides. */
function moreChoices({ prop, more }: { prop: string; more: string[] }): string {
  return `${more.length === 1 ? 'a choice' : 'choices'} of "${prop}": ${more.join(', ')}`;
}

/** The component file with all widenings. */
function widened(component: Component, widenings: Widening[]): ComponentSource {
  const { path, source, template } = component;
  const metas = elementsOf(template).filter(({ tag, parent }) => tag === 'meta' && parent === template);
  const edits = widenings.flatMap((each) => each.edits);
  for (const { choices } of widenings) {
    if (choices === null) continue;
    const meta = metas.find((each) => attrOf(each, 'prop') === choices.prop)!;
    const attr = meta.attrs.find(({ name }) => name === 'choices')!;
    const all = [...attr.value.split(/\s+/).filter((word) => word !== ''), ...choices.more];
    edits.push({ start: attr.start, end: attr.end, text: `choices="${all.join(' ')}"` });
  }
  const lines = widenings.flatMap(({ prop }) => (prop === null ? [] : [metaLine(prop)]));
  if (lines.length > 0) {
    const last = metas.findLast(({ end }) => end <= component.start);
    const at = last?.end ?? template.openEnd;
    const indent = last === undefined ? component.base : indentAt(component, last.start);
    edits.push({ start: at, end: at, text: lines.map((line) => eolOf(source) + indent + line).join('') });
  }
  return { path, source: withEdits(source, edits) };
}

function metaLine({ name, type, choices, default: standard, optional }: NewProp): string {
  const said = [
    ...(choices.length > 0 ? [`choices="${choices.join(' ')}"`] : []),
    ...(standard === null ? [] : [`default=${quoteAttribute(standard)}`]),
    ...(optional ? ['optional'] : []),
  ];
  return ['<meta', `prop="${name}"`, `type="${type}"`, ...said].join(' ') + '>';
}
