/**
 * The description length of a pattern: bytes of its template, plus bytes of what uses must say. What varies together is
 * counted once. Only differences between ways to write one place matter, so the longest occurrence stands for all.
 */
import type { Child, Element } from '../page/tree.js';
import { isSpace } from './align.js';
import { type Hole, keyOf, type Pattern, rawOf, type Run, runsOf, type Value } from './pattern.js';

/** Bytes of `<meta prop="" type="text">` with a name, of a name in a use, and of what stands around both. */
const DECLARED = 38;
const GIVEN = 11;
const FIELD = 8;
const BLOCK = 36;
const SLOT = 16;
const NAMED = 20;
/** The punctuation of a list is the same everywhere: it counts for less than its length. */
const LIST = 60;
const JSON_BLOCK = 20;
const RECORD = 2;

export interface Weighing {
  /** vectors of values that have been counted */
  seen: Set<string>;
  /** extra bytes that each prop counts */
  penalty: number;
}

/** Bytes for `patterns`, the children of one element or a part of them. */
export function weigh(patterns: Pattern[], weighing: Weighing): number {
  return patterns.reduce((sum, pattern) => sum + weighOne(pattern, weighing, GIVEN), 0);
}

/** Bytes for runs of one parent's children that come and go, as far as they go beyond what stands in them. */
export function weighRuns(runs: Run[], { seen, penalty }: Weighing): number {
  let bytes = 0;
  for (const [number, run] of runs.entries()) {
    const { presence, patterns } = run;
    bytes += BLOCK + burdenOf(run, number);
    const key = keyOfAll(presence);
    if (seen.has(key) || patterns.some((pattern) => holdsText(pattern))) continue;
    seen.add(key);
    const way = patterns
      .map(({ nodes }) => (nodes.find((node) => node?.kind === 'element') as Element | undefined)?.tag)
      .join(' ');
    bytes += (seen.has(way) ? 0 : DECLARED + penalty) + leastOften(presence) * GIVEN;
    seen.add(way);
  }
  return bytes;
}

/** How often a flag must be given: it may as well say that something is not there. */
function leastOften(presence: boolean[]): number {
  const times = presence.filter((there) => there).length;
  return Math.min(times, presence.length - times);
}

/** Bytes of a part that is small wherever it stands. */
const SHORT = 100;

/** A block, and even more a slot, of white space alone says nothing that anyone would want to say. */
const EMPTY_BLOCK = 300;
const BLANK_SLOT = 500;

/**
 * What a block costs its reader, in bytes: more for each further one in the same place, and for what stands in one
 * occurrence only, which is content of that one rather than a part of the component.
 */
export function burdenOf({ presence, patterns }: Run, number: number): number {
  const single = presence.filter((there) => there).length === 1 && presence.length > 2;
  const content = single ? patterns.reduce((sum, pattern) => sum + lengthOf(pattern), 0) : 0;
  const empty = patterns.every(({ kind, nodes }) => kind === 'text' && isSpace(nodes.find((node) => node !== null)));
  return number * BLOCK + Math.max(0, content - SHORT) + (empty ? EMPTY_BLOCK : 0);
}

function lengthOf({ nodes }: Pattern): number {
  return longest<Child>(nodes, (node) => node.end - node.start);
}

/** The greatest length, so that it does not matter which occurrence comes first. */
export function longest<T>(nodes: (T | null)[], lengthOfOne: (node: T) => number): number {
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

function weighOne(pattern: Pattern, weighing: Weighing, given: number): number {
  let bytes = 0;
  for (const hole of pattern.holes) bytes += weighHole(hole, weighing, given);
  switch (pattern.kind) {
    case 'slot':
      return (
        (pattern.blank ? BLANK_SLOT : SLOT) +
        pattern.ranges.reduce((sum, range) => sum + (range === null ? 0 : range[1] - range[0] + NAMED), 0)
      );
    case 'list': {
      const { owners, nodes } = pattern;
      const inner = { ...weighing, seen: new Set<string>() };
      const content = weighOne(pattern.root, inner, FIELD);
      return LIST + DECLARED + weighing.penalty + content + owners.length * RECORD + JSON_BLOCK * nodes.length;
    }
    case 'text':
    case 'comment':
      return bytes + (pattern.holes.length > 0 ? 0 : longest<Child>(pattern.nodes, (node) => node.end - node.start));
    case 'element': {
      bytes += longest(pattern.nodes, ({ start, openEnd, closeStart, end }) =>
        start < 0 ? 0 : openEnd - start + (closeStart < 0 ? 0 : end - closeStart),
      );
      for (const child of pattern.children) bytes += weighOne(child, weighing, given);
      return bytes + weighRuns(runsOf(pattern), weighing);
    }
  }
}

/** Values as one text; what is there where another is not is said by that other. */
function keyOfAll(values: Value[]): string {
  const [first] = values;
  if (values.every((value) => typeof value === 'boolean'))
    return values.map((value) => Number(value === first)).join('');
  return values.map(keyOf).join('\u0005');
}

function weighHole(hole: Hole, { seen, penalty }: Weighing, given: number): number {
  if (hole.kind === 'literal') return 0;
  const key = keyOfAll(hole.values);
  if (seen.has(key)) return 10;
  seen.add(key);
  // flags that show in one same way are often one marker
  const way = typeof hole.values.find((value) => value !== null) === 'boolean' ? `${hole.attr} ${hole.before}` : '';
  let bytes = way !== '' && seen.has(way) ? 0 : DECLARED + penalty;
  if (way !== '') seen.add(way);
  for (const value of hole.values) {
    if (value !== null && value !== false) bytes += given + rawOf(value).length;
  }
  return bytes;
}
