/** A component of one place: its texts stay as they are but for those that are named. */
import { Problem } from '../errors.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { valueOf } from '../page/attribute.js';
import { placeAt } from '../page/parse.js';
import { trimmed } from '../page/space.js';
import { spelledAttribute, spelledText } from '../page/spelling.js';
import { type Element, RAW_TEXT } from '../page/tree.js';
import type { Generalising } from '../template/generalise.js';
import { interfaceOf } from '../template/interface.js';
import { type ElementPattern, type Hole, patternsIn, type General } from '../template/pattern.js';
import { isPassed } from '../template/placeholders.js';
import { nameProps } from '../template/prop-names.js';
import { groupHoles } from '../template/props.js';
import { solve } from '../template/solve.js';
import { namesHint, type Pointed, refuseDeepPlaces, refuseNames, textOf, type Wishes } from './wishes.js';

/** Attributes whose values are what a developer would pass in. */
const TELLING = 'href src alt content value placeholder label aria-label datetime action poster cite'.split(' ');

/** The pattern of one place; null where braces in it would mean something that no template can say. */
export function patternOf(occurrence: Occurrence, options: Generalising): ElementPattern | null {
  return solve([occurrence], options);
}

function solved(occurrence: Occurrence, options: Generalising): ElementPattern {
  const root = patternOf(occurrence, options);
  if (root !== null) return root;
  refuseDeepPlaces([occurrence]);
  const place = placeAt(occurrence.page, occurrence.element.start);
  throw new Problem('no template can be written for this', { place });
}

/** A component of one place as it is: its texts all stay. */
export function asItIs(occurrence: Occurrence, options: Generalising): General {
  return interfaceOf([occurrence], solved(occurrence, options), { ...options, maxProps: Infinity })!;
}

/** A component of one place: its texts stay as they are but for those that are named. */
export function single(
  occurrence: Occurrence,
  { props: wanted, fixed }: Pick<Wishes, 'props' | 'fixed'>,
  options: Generalising,
): { general: General; nameable: Pointed['nameable'] } {
  const occurrences = [occurrence];
  const root = solved(occurrence, options);
  const holes = patternsIn(root).flatMap((pattern) => textsOf(pattern, occurrence));
  const varying = groupHoles(holes, Infinity, { occurrences, ...options }) ?? [];
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
  refuseNames(
    general.props.map((prop) => prop.name),
    wanted.values(),
  );
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
