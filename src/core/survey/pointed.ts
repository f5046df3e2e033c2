/** From where the developer points to a finding: one component of all places, with the names and slots that were asked for. */
import { Problem } from '../errors.js';
import { isComponentName, nameComponent } from './component-names.js';
import { solve } from '../template/solve.js';
import { type General, generalise, type Generalising, interfaceOf } from '../template/generalise.js';
import { asName } from '../words/names.js';
import { GLOBAL_ATTRIBUTES, nameProps } from '../template/prop-names.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { type ElementPattern, type Hole, patternsIn, type Value } from '../template/pattern.js';
import { isPassed } from '../template/placeholders.js';
import { groupHoles } from '../template/props.js';
import { valueOf } from '../page/attribute.js';
import { placeAt } from '../page/parse.js';
import { selectIn } from '../page/select.js';
import { spelledAttribute, spelledText } from '../page/spelling.js';
import { type Element, RAW_TEXT } from '../page/tree.js';
import { findingFor } from './findings.js';
import { trimmed } from '../page/space.js';
import type { Finding } from './types.js';

export interface Wishes {
  /** what the component is called; null for a name of ours */
  name: string | null;
  /** props, by the names that they would have, and what they are called instead */
  props: ReadonlyMap<string, string>;
  /** CSS selectors of what is poured in */
  slots: string[];
  /** props that keep their first value; places with another one stay as they are */
  fixed: string[];
}

export interface Pointed {
  finding: Finding;
  /** of a single place: what could be named to become a prop, with its text */
  nameable: { name: string; text: string }[];
  /** places that a fixed prop leaves out */
  leftOut: Occurrence[];
}

/**
 * Makes one component of all places.
 * @throws Problem (exit 2) where they are not alike, or a wish cannot be met
 */
export function pointedFinding(
  occurrences: Occurrence[],
  wishes: Wishes,
  options: Generalising,
  taken: ReadonlySet<string>,
): Pointed {
  const poured = pouredIn(occurrences, wishes.slots);
  const generalising = poured.size === 0 ? options : { ...options, poured };
  let kept = occurrences;
  let nameable: Pointed['nameable'] = [];
  let general: General;
  if (occurrences.length === 1) ({ general, nameable } = single(occurrences[0]!, wishes, generalising));
  else {
    general = several(kept, generalising);
    for (const name of wishes.fixed) {
      const { values } = propOf(general, name, '--fixed');
      const [first] = values;
      const same = values.map((value) => textOf(value) === textOf(first!));
      kept = general.occurrences.filter((_, i) => same[i]);
      general =
        kept.length === 1
          ? single(kept[0]!, { ...wishes, fixed: [] }, generalising).general
          : several(kept, generalising);
    }
    const props = [...wishes.props].map(([from, to]) => ({ prop: propOf(general, from, '--props'), to }));
    for (const { prop, to } of props) prop.name = to;
    refuseTwins(general);
  }
  if (poured.size > 0 && general.slots.length === 0) {
    const { page, element } = occurrences[0]!;
    throw new Problem(`no slot can stand for "${wishes.slots.join('", "')}" here`, {
      place: placeAt(page, element.start),
      hint: 'in a table, a select or a drawing the parser leaves no room for one; pour in what is around it',
    });
  }
  const name = wishes.name ?? nameComponent(occurrences, taken, options.vocabulary);
  refuseName(name, taken);
  return { finding: findingFor(name, general), nameable, leftOut: occurrences.filter((each) => !kept.includes(each)) };
}

function textOf(value: Value): string {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? value.value : JSON.stringify(value);
}

function refuseName(name: string, taken: ReadonlySet<string>): void {
  if (!isComponentName(name))
    throw new Problem(`"${name}" cannot be the name of a component`, {
      hint: 'small letters and digits, and one hyphen at least, as in harbour-panel',
    });
  if (taken.has(name))
    throw new Problem(`"${name}" is the name of another component, or of a tag in the pages`, {
      hint: 'choose another one with --name',
    });
}

/** The elements that the selectors match inside the occurrences. @throws Problem where one matches nothing */
function pouredIn(occurrences: Occurrence[], selectors: string[]): Set<Element> {
  const poured = new Set<Element>();
  for (const selector of selectors) {
    const found = occurrences.flatMap(({ element }) => selectIn(element, selector));
    if (found.length === 0)
      throw new Problem(`"${selector}" matches nothing inside of what is pointed at`, {
        hint: 'the selector is matched below the root of the component',
      });
    for (const each of found) poured.add(each);
  }
  return poured;
}

function several(occurrences: Occurrence[], options: Generalising): General {
  const general =
    generalise(occurrences, options) ?? generalise(occurrences, { ...options, maxProps: Infinity });
  if (general !== null) return general;
  const odd = occurrences.find(({ element }) => element.tag !== occurrences[0]!.element.tag) ?? occurrences[1]!;
  throw new Problem('these places are not alike: no one template can be written for them', {
    place: placeAt(odd.page, odd.element.start),
    hint: 'point at fewer of them',
  });
}

function propOf(general: General, name: string, option: string): General['props'][number] {
  const found = general.props.find((prop) => prop.name === name);
  if (found !== undefined) return found;
  throw new Problem(`${option}: there is no prop "${name}"`, {
    hint: namesHint(general.props.map((prop) => prop.name)),
  });
}

function namesHint(names: string[]): string {
  return names.length === 0 ? 'nothing varies in it' : `there are ${names.join(', ')}`;
}

function refuseTwins({ props }: General): void {
  for (const [i, { name }] of props.entries()) {
    if (asName(name) !== name || GLOBAL_ATTRIBUTES.has(name))
      throw new Problem(`"${name}" cannot be the name of a prop`, {
        hint: 'small letters, digits and hyphens, and no attribute that every element has, such as title or class',
      });
    if (props.findIndex((prop) => prop.name === name) < i)
      throw new Problem(`two props would be called "${name}"`, { hint: 'rename one of them: --props old=new' });
  }
}

/** Attributes whose values are what a developer would pass in. */
const TELLING = 'href src alt content value placeholder label aria-label datetime action poster cite'.split(' ');

/** The pattern of one place; null where braces in it would mean something that no template can say. */
export function patternOf(occurrence: Occurrence, options: Generalising): ElementPattern | null {
  return solve([occurrence], options);
}

/** A component of one place: its texts stay as they are but for those that are named. */
export function single(
  occurrence: Occurrence,
  { props: wanted, fixed }: Pick<Wishes, 'props' | 'fixed'>,
  options: Generalising,
): { general: General; nameable: Pointed['nameable'] } {
  const occurrences = [occurrence];
  const root = patternOf(occurrence, options);
  if (root === null)
    throw new Problem('no template can be written for this', {
      place: placeAt(occurrence.page, occurrence.element.start),
    });
  const holes = patternsIn(root).flatMap((pattern) => textsOf(pattern, occurrence));
  const varying = groupHoles(holes, occurrences, options.componentFolder, Infinity, options.urlKindOf) ?? [];
  const names = nameProps(varying, {
    roots: new Set([occurrence.element]),
    vocabulary: options.vocabulary,
    parts: new Map(),
    passed: [],
  });
  const nameable = varying.map(({ values }, i) => ({ name: names[i]!, text: textOf(values[0]!) }));
  for (const [option, name] of [
    ...[...wanted.keys()].map((key) => ['--props', key]),
    ...fixed.map((key) => ['--fixed', key]),
  ] as [string, string][])
    if (!names.includes(name))
      throw new Problem(`${option}: there is no text "${name}" here`, { hint: namesHint(names) });
  varying.forEach(({ holes: mine }, i) => {
    if (!wanted.has(names[i]!)) return;
    for (const hole of mine) {
      hole.pattern.holes = hole.pattern.holes.filter(({ attr }) => attr !== hole.attr);
      hole.pattern.holes.push(hole);
    }
  });
  const general = interfaceOf(occurrences, root, { ...options, maxProps: Infinity })!;
  for (const prop of general.props) {
    const at = varying.findIndex(({ holes: mine }) => mine.includes(prop.holes[0]!));
    // what a template passes in has its name
    if (at < 0) continue;
    prop.name = wanted.get(names[at]!)!;
    // what is named is given, though it is the same everywhere
    prop.default = null;
  }
  refuseTwins(general);
  return { general, nameable };
}

/** The text of a node, or the telling attributes of an element, as holes. */
function textsOf(pattern: Hole['pattern'], occurrence: Occurrence): Hole[] {
  const { page } = occurrence;
  const [node] = pattern.nodes;
  const hole = { pattern, part: null, before: '' };
  if (pattern.kind === 'text' && node?.kind === 'text') {
    const raw = page.source.slice(node.start, node.end);
    const [lead, trail] = pattern.verbatim ? [0, 0] : trimmed(raw);
    const text = spelledText(raw.slice(lead, raw.length - trail));
    if (text.value.trim() === '' || isPassed(text, occurrence) || RAW_TEXT.has((node.parent as Element).tag)) return [];
    return [{ ...hole, kind: 'text', attr: null, values: [text] }];
  }
  if (pattern.kind !== 'element' || node?.kind !== 'element') return [];
  return node.attrs
    .filter(
      ({ name, value, start }) =>
        start >= 0 && (TELLING.includes(name) || name.startsWith('data-')) && value.trim() !== '',
    )
    .filter((attr) => page.component === undefined || !attr.value.includes('{{'))
    .map((attr) => ({
      ...hole,
      kind: 'attr',
      attr: attr.name,
      values: [spelledAttribute(valueOf(page.source, attr).raw)],
    }));
}
