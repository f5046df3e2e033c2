/**
 * The one cost, in bytes: the length of all that is written (template, uses, data; description length) plus a price for
 * what people must understand. What aligns, groups, chooses and shows asks here.
 */
import type { Child, Element } from '../page/tree.js';
import { defaultOf } from './default-value.js';
import { type Hole, isFlagHole, isText, type Pattern, rawOf, type Run, tagOf, type Value } from './pattern.js';
import { isSpace } from './kinds.js';
import { saySame, VectorMap } from './vectors.js';

/** Bytes for each thing that a component has beyond its markup, with the reason. */
export const PRICE = {
  /** `<meta prop="" type="text">` with a name: a line of the interface, to be read by everyone */
  prop: 38,
  /** a prop in a use: its name, quotes and a space */
  given: 11,
  /** a field of a record: its name, quotes and a comma */
  field: 8,
  /** the tags around a part that comes and goes, and the question when it does; once more for each further one there */
  block: 36,
  /** a kind of content too many, where each occurrence has exactly one: better poured in whatever that costs */
  kind: 5000,
  /** a block of white space only says nothing that anyone would want to say */
  emptyBlock: 300,
  /** the tags of a use */
  use: 40,
  /** `<slot></slot>` with a name, and one more place to be filled */
  slot: 60,
  /** a slot with nothing but white space to pour in */
  emptySlot: 500,
  /** the tags around what is poured in, in a use */
  poured: 20,
  /** a list: the tags around its template, and one more thing to know */
  list: 60,
  /** the tags around the records in a use */
  records: 20,
  /** the braces of one record; its punctuation is the same everywhere, and counts for less than its length */
  record: 2,
  /** a value that stands in a second place */
  again: 10,
} as const;

/** Bytes of a part that is small wherever it stands. */
const SHORT = 100;

/** What is not paid for twice. */
export interface Paid {
  vectors: VectorMap<true>;
  ways: Set<string>;
}

export function nothingPaid(): Paid {
  return { vectors: new VectorMap(saySame), ways: new Set() };
}

/** What costs are counted with. */
export interface Paying {
  /** what has been paid for: vectors of values, one an occurrence, and ways in which flags show */
  paid: Paid;
  /** values of the occurrences that are looked at as those of all, with `absent` for the others */
  widen: <T>(values: T[], absent: T) => T[];
}

/** Among so many values one is usual; of three two may agree by chance. */
const MANY = 4;

/**
 * Bytes of a varying value; of one that varies like another before it, hardly any.
 * @param plain it is a field of records, which have no defaults
 */
export function costOfHole(hole: Hole, { paid, widen, plain }: Paying & { plain: boolean }): number {
  if (hole.kind === 'literal' || hole.kind === 'name') return 0;
  const values = widen(hole.values, null);
  if (paid.vectors.get(values)) return PRICE.again;
  paid.vectors.set(values, true);
  // flags that show in one same way are often one marker
  const way = isFlagHole(hole) ? `${hole.attr} ${hole.before}` : '';
  let bytes = way !== '' && paid.ways.has(way) ? 0 : PRICE.prop;
  if (way !== '') paid.ways.add(way);
  const given = plain ? PRICE.field : PRICE.given;
  const usual = plain || values.length < MANY || !values.every(isText) ? null : defaultOf(values);
  // white space is no default that anyone would want to read
  const isDefault = (value: Value) => isText(value) && value.value === usual?.value && value.value.trim() !== '';
  for (const value of hole.values)
    if (value !== null && value !== false && !isDefault(value)) bytes += given + rawOf(value).length;
  return usual !== null && isDefault(usual) ? bytes + given + usual.raw.length : bytes;
}

/** Bytes for parts of one parent that come and go, as far as they go beyond what stands in them. */
export function costOfRuns(runs: Run[], { paid, widen }: Paying): number {
  if (runs.length === 0) return 0;
  let bytes = 0;
  const here = nothingPaid();
  for (const [number, { presence: mine, patterns }] of runs.entries()) {
    const presence = widen(mine, false);
    bytes += PRICE.block + burdenOf({ presence, patterns }, number);
    // a value that is there exactly when they are tells it
    const isPaid = paid.vectors.get(presence) ?? here.vectors.get(presence);
    if (isPaid || patterns.some((pattern) => holdsText(pattern))) continue;
    here.vectors.set(presence, true);
    const way = patterns.map(tagOf).join(' ');
    const times = presence.filter((there) => there).length;
    const price = paid.ways.has(way) || here.ways.has(way) ? 0 : PRICE.prop;
    bytes += price + Math.min(times, presence.length - times) * PRICE.given;
    here.ways.add(way);
  }
  return bytes;
}

/** Bytes for the tags of so many parts of one parent that come and go: each further one costs more. */
export function costOfBlocks(count: number): number {
  return (PRICE.block * count * (count + 1)) / 2;
}

/** Notes what parts of one parent have paid for, once they are written so. */
export function payForRuns(runs: Run[], { paid, widen }: Paying): void {
  for (const { presence, patterns } of runs) {
    if (patterns.some((pattern) => holdsText(pattern))) continue;
    paid.vectors.set(widen(presence, false), true);
    paid.ways.add(patterns.map(tagOf).join(' '));
  }
}

/**
 * What a block costs its reader: more for each further one in the same place, and for what stands in one occurrence only,
 * which is content of that one rather than a part of the component.
 */
function burdenOf({ presence, patterns }: Run, number: number): number {
  const single = presence.filter((there) => there).length === 1 && presence.length > 2;
  const content = single ? patterns.reduce((sum, pattern) => sum + lengthOf(pattern), 0) : 0;
  return number * PRICE.block + Math.max(0, content - SHORT) + (patterns.every(isSpace) ? PRICE.emptyBlock : 0);
}

/** Bytes of a place that is poured into, with all that is. */
export function costOfSlot(ranges: (readonly [number, number] | null)[], blank: boolean): number {
  return ranges.reduce<number>(
    (sum, range) => sum + (range === null ? 0 : range[1] - range[0] + PRICE.poured),
    blank ? PRICE.emptySlot : PRICE.slot,
  );
}

/** Bytes of a list, whose item's template costs `item` with all its values. */
export function costOfList(item: number, records: number, uses: number): number {
  return PRICE.list + PRICE.prop + item + records * PRICE.record + uses * PRICE.records;
}

/** Bytes of what stands in all occurrences: of the longest one, so that it does not matter which comes first. */
export function lengthOf({ nodes }: Pattern): number {
  return longest<Child>(nodes, (node) => node.end - node.start);
}

/** Bytes of the longest tags of an element. */
export function lengthOfTags(nodes: (Element | null)[]): number {
  return longest(nodes, ({ start, openEnd, closeStart, end }) =>
    start < 0 ? 0 : openEnd - start + (closeStart < 0 ? 0 : end - closeStart),
  );
}

function longest<T>(nodes: (T | null)[], lengthOfOne: (node: T) => number): number {
  let most = 0;
  for (const node of nodes) if (node !== null) most = Math.max(most, lengthOfOne(node));
  return most;
}

function holdsText(pattern: Pattern): boolean {
  if (pattern.kind === 'list') return true;
  const always = (hole: Hole) => hole.values.every((value, i) => value !== null || pattern.nodes[i] === null);
  if (pattern.holes.some((hole) => typeof hole.values.find((value) => value !== null) === 'object' && always(hole)))
    return true;
  return pattern.kind === 'element' && pattern.children.some(holdsText);
}

// eslint-disable-next-line no-control-regex -- all of ASCII is meant
const BEYOND_ASCII = /[^\u0000-\u007f]+/g;

/** Length in UTF-8, counted without encoding it. */
export function byteLength(text: string): number {
  let { length } = text;
  for (const [run] of text.matchAll(BEYOND_ASCII))
    for (let i = 0; i < run.length; i++) {
      const code = run.charCodeAt(i);
      // each half of a pair of surrogates stands for two bytes
      length += code > 0x7ff && (code < 0xd800 || code > 0xdfff) ? 2 : 1;
    }
  return length;
}
