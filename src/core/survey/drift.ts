/**
 * Drift: a part that pages share, and a few of them say otherwise where most agree. What differs from page to page on
 * purpose (the current page in a menu, a title) is no drift.
 */
import type { Place } from '../errors.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { isText, keyOf, type Pattern, type Value, type InferredProp } from '../template/pattern.js';
import { type Page, placeAt } from '../page/parse.js';
import { type Element, elementsOf, textOf } from '../page/tree.js';
import { nameIn, type Vocabulary } from '../words/vocabulary.js';
import { occurrenceOf } from '../fragments/occurrence.js';
import { MAJORITY, majorityOf } from '../majority.js';
import { comparable, writtenName } from './slips.js';
import type { Finding } from './types.js';
import { LANDMARKS } from './landmarks.js';

export interface Drift {
  /** what the component file calls the prop */
  prop: string;
  /** the prop by itself */
  inferred: InferredProp;
  /** what most pages have, and at which occurrence it is read */
  usual: Value;
  usualAt: number;
  /** how many have it */
  count: number;
  /** the others */
  places: { index: number; value: Value; place: Place }[];
  /** of a part that comes and goes: its text */
  part: string | null;
}

/** Words that mark the current page. */
const CURRENT = /(^|[-_ ])(active|current|selected)$/;

/** Where pages drifted apart; none for what is no part that pages share. */
export function driftIn(finding: Finding): Drift[] {
  const { occurrences } = finding;
  const pages = new Set(occurrences.map(({ page }) => page));
  if (finding.component !== null || pages.size <= MAJORITY || pages.size < occurrences.length) return [];
  const general = finding.general!;
  return general.props.flatMap((prop): Drift[] => {
    const blocks = general.blocks.filter((block) => block.prop === prop);
    const isMarker = [...prop.holes, ...blocks].some(({ equals }) => equals !== undefined) || marksCurrent(prop);
    if (prop.type === 'list' || prop.type === 'handler' || isMarker) return [];
    // white space is no difference that anyone means
    const keys = prop.values.map((value, i) => {
      // a flag of what a place does not have is off there
      const said = prop.type === 'flag' && value === null ? false : value;
      return (comparable(general, prop, i) ?? keyOf(said)).replace(/\s+/g, ' ');
    });
    const majority = majorityOf(keys);
    if (majority === null || majority.count === keys.length) return [];
    const { text: most, count } = majority;
    const usualAt = keys.indexOf(most);
    // a class or attribute that only a few have was given to them
    if (prop.type === 'flag' && blocks.length === 0 && prop.values[usualAt] !== true) return [];
    const places = keys.flatMap((key, index) =>
      key === most
        ? []
        : [{ index, value: prop.values[index]!, place: placeOf(general.occurrences[index]!, prop, index) }],
    );
    const part = blocks.length === 0 ? null : partText(blocks.flatMap(({ patterns }) => patterns));
    return [
      { prop: writtenName(finding, prop), inferred: prop, usual: prop.values[usualAt]!, usualAt, count, places, part },
    ];
  });
}

function marksCurrent({ holes }: InferredProp): boolean {
  return holes.some(({ attr, before }) => attr === 'aria-current' || (attr === 'class' && CURRENT.test(before.trim())));
}

function partText(patterns: Pattern[]): string {
  const nodes = patterns.flatMap(({ nodes: each }) => each.find((node) => node?.kind === 'element') ?? []);
  return nodes.map((node) => textOf(node) || (node.kind === 'element' ? `<${node.tag}>` : '')).join(' ');
}

/** What looks like a part that most pages share, on pages that have none of it: too different to be one component. */
export function strangersTo({ occurrences }: Finding, pages: Page[], vocabulary: Vocabulary): Occurrence[] {
  const covered = new Set(occurrences.map(({ page }) => page));
  const others = pages.filter((page) => !covered.has(page) && page.component === undefined);
  if (covered.size < MAJORITY || covered.size < occurrences.length || others.length >= covered.size) return [];
  const { element, page: first } = occurrences[0]!;
  const block = nameIn(element, vocabulary);
  const isLike = (other: Element) =>
    other.start >= 0 &&
    other.tag === element.tag &&
    nameIn(other, vocabulary) === block &&
    (block !== '' || (LANDMARKS.has(other.tag) && other.parent?.kind === element.parent?.kind));
  // a page has one of what is shared, or it has something else
  const ones = (page: Page) => {
    const found = elementsOf(page.root).filter(isLike);
    return found.length === 1 ? found : [];
  };
  if (ones(first).length === 0) return [];
  return others.flatMap((page) => ones(page).map((found) => occurrenceOf(page, found, null)));
}

/** Where an occurrence says what the prop tells. */
function placeOf({ page, element }: Occurrence, { holes }: InferredProp, index: number): Place {
  const node = holes[0]?.pattern.nodes[index];
  return placeAt(page, Math.max(0, node && node.start >= 0 ? node.start : element.start));
}

/** A value as drift tells it. */
export function driftText(value: Value, { part }: Drift): string {
  if (isText(value)) return value.value;
  if (Array.isArray(value)) return `${value.length} records`;
  if (part !== null && part !== '') return value === true ? part : '(none)';
  return value === true ? 'yes' : value === false ? 'no' : '(none)';
}
