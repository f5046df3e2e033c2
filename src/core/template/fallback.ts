/**
 * What stands in a slot where nothing is poured in: what many places hold there, so that it is written once. It is the same
 * in all of them, but for what shows there or not, as the mark of the current page in a menu.
 */
import type { Occurrence } from '../fragments/occurrence.js';
import { addTo } from '../groups.js';
import { isSpaceText } from '../page/space.js';
import type { Child } from '../page/tree.js';
import { PRICE } from './cost.js';
import {
  type ElementPattern,
  type Hole,
  isText,
  type Pattern,
  patternsIn,
  type SlotPattern,
  withChildren,
} from './pattern.js';
import type { Samples } from './samples.js';
import { solveSiblings, type Solving } from './solve.js';
import { MARK_TEXTS, placesWithUsualValues } from './usual-values.js';

/** What so many places hold is usual, and such a part of all. */
const USUAL = { places: 3, share: 1 / 3 };

/** What slots are looked at with: the occurrences of a pattern, and how many places each of them stands for. */
interface Places {
  occurrences: Occurrence[];
  counts: number[];
  solving: Solving;
}

/** A slot, and the element that it stands in. */
interface Within {
  slot: SlotPattern;
  parent: ElementPattern;
}

/**
 * The pattern with what is usual in its slots written there; the pattern itself where nothing is.
 * @param fits false for a pattern that takes too many props
 */
export function withFallbacks(
  root: ElementPattern,
  { samples, of }: Samples,
  solving: Solving,
  fits: (root: ElementPattern) => boolean,
): ElementPattern {
  const counts = samples.map(() => 0);
  for (const number of of) counts[number]!++;
  let current = root;
  for (const within of slotsIn(root)) {
    for (const way of waysToWrite(within, { occurrences: samples, counts, solving })) {
      const next = withInstead(current, within.slot, way);
      if (!fits(next)) continue;
      current = next;
      break;
    }
  }
  return current;
}

function slotsIn(parent: ElementPattern): Within[] {
  return parent.children.flatMap((child): Within[] => {
    if (child.kind === 'element') return slotsIn(child);
    return child.kind === 'slot' ? [{ slot: child, parent }] : [];
  });
}

/** A copy of the pattern with others in place of a slot. */
function withInstead(pattern: ElementPattern, slot: SlotPattern, written: Pattern[]): ElementPattern {
  const children = pattern.children.flatMap((child): Pattern[] => {
    if (child.kind === 'element') return [withInstead(child, slot, written)];
    return child === slot ? written : [child];
  });
  const isSame =
    children.length === pattern.children.length && children.every((child, i) => child === pattern.children[i]);
  return isSame ? pattern : withChildren(pattern, children);
}

/** The slot with what is usual in it, or that alone where all places hold it: the way first that leaves the least to say. */
function* waysToWrite({ slot, parent }: Within, { occurrences, counts, solving }: Places): Generator<Pattern[]> {
  // of what comes and goes nothing is poured in either where it is not there
  if (parent.nodes.some((node, i) => node !== null && slot.ranges[i] === null)) return;
  const held = slot.ranges.map((range, i) => (range === null ? null : childrenIn(parent.nodes[i]!.children, range)));
  const countOf = (some: Iterable<number>) => [...some].reduce((sum, i) => sum + counts[i]!, 0);
  const lengthOf = (some: Iterable<number>) =>
    [...some].reduce((sum, i) => sum + counts[i]! * (slot.ranges[i]![1] - slot.ranges[i]![0]), 0);
  const all = countOf([...held.keys()].filter((i) => held[i] !== null));
  const isUsual = (some: Set<number>) => {
    const [count, length] = [countOf(some), lengthOf(some)];
    const isOften = count >= Math.max(USUAL.places, all * USUAL.share);
    return count === all || (isOften && length - length / count > PRICE.slot);
  };
  const shapes = held.map((children) => (children === null ? '' : shapeOf(children)));
  const marks = held.map((children, i) => (children?.length ? marksIn(children, occurrences[i]!) : []));
  const keys = [
    (i: number) => shapes[i]!,
    (i: number) => `${shapes[i]!} ${[...marks[i]!].sort().join('')}`,
    (i: number) => `${shapes[i]!} ${marks[i]!.join('')}`,
  ];
  let least = Infinity;
  for (const keyOf of keys) {
    const [largest] = placesBy(keyOf, held).sort((one, other) => lengthOf(other) - lengthOf(one));
    // what few hold is left out until what the others hold is the same
    for (let some = largest ?? new Set<number>(); some.size < least && isUsual(some);) {
      least = some.size;
      const fallback = solvedIn(some, held, occurrences, solving);
      if (fallback === null) break;
      const others = fallback.flatMap(patternsIn).filter(({ holes }) => !holes.every(isLeft));
      if (!others.every(variesInAttributes)) break;
      if (others.length > 0) {
        some = placesWithUsualValues(some, others, counts, { occurrences, solving });
        continue;
      }
      const ranges = slot.ranges.map((range, i) => (some.has(i) ? null : range));
      yield ranges.every((range) => range === null) ? fallback : [{ ...slot, fallback, hasFallback: true, ranges }];
    }
  }
}

/** The places that hold more than white space, by a key of that. */
function placesBy(keyOf: (i: number) => string, held: (Child[] | null)[]): Set<number>[] {
  const groups = new Map<string, number[]>();
  for (const [i, children] of held.entries())
    if (children?.some((child) => !isSpaceText(child))) addTo(groups, keyOf(i), i);
  return Array.from(groups.values(), (group) => new Set(group));
}

/** What some places hold as patterns; null where it is not alike. */
function solvedIn(
  places: ReadonlySet<number>,
  held: (Child[] | null)[],
  occurrences: Occurrence[],
  solving: Solving,
): Pattern[] | null {
  const [first] = places;
  const columns = held[first!]!.map((_, at) => held.map((children, i) => (places.has(i) ? children![at]! : null)));
  return solveSiblings(columns, occurrences, solving);
}

/** True for what the pattern itself can say: what is written for the component's folder, and what marks one of several. */
function isLeft(hole: Hole): boolean {
  return hole.kind === 'literal' || isMark(hole);
}

/** True for an element that differs in nothing but its attributes. */
function variesInAttributes(pattern: Pattern): pattern is ElementPattern {
  return pattern.kind === 'element' && pattern.holes.every(({ attr }) => attr !== null);
}

/** True for what is there or not, and for one class word or another, as what marks one of several. */
function isMark({ attr, values }: Hole): boolean {
  const there = values.filter((value) => value !== null);
  if (there.every((value) => typeof value === 'boolean')) return true;
  return attr === 'class' && there.every(isText) && new Set(there.map(({ value }) => value)).size <= MARK_TEXTS;
}

/** What children are made of and say, without their attributes: what does not differ in it can be aligned. */
function shapeOf(children: Child[]): string {
  const shapes = children.map((child) => {
    if (child.kind === 'text') return linesFolded(child.value);
    if (child.kind === 'comment') return `!${child.value}`;
    return child.kind === 'element' ? `${child.tag}(${shapeOf(child.children)})` : child.kind;
  });
  return shapes.join();
}

/** A text with one line break for all white space around one. */
function linesFolded(text: string): string {
  return text.replace(/\s+/g, (space) => (space.includes('\n') ? '\n' : space));
}

/** What marks one of several, as the link to the current page. */
const MARK = /\s(?:class|aria-[a-z]+)=(?:"[^"]*"|'[^']*'|[^\s>]*)/g;

/** The marks in what children are written as, in order. */
function marksIn(children: Child[], { page }: Occurrence): string[] {
  return page.source.slice(children[0]!.start, children.at(-1)!.end).match(MARK) ?? [];
}

/** The nodes that fill a range; none where something else stands in it, or tags that are not written. */
function childrenIn(children: Child[], [start, end]: [number, number]): Child[] {
  const inside = children.filter((child) => child.start >= start && child.end <= end);
  const fills = inside.every((child, i) => child.start === (inside[i - 1]?.end ?? start));
  return fills && inside.at(-1)?.end === end ? inside : [];
}
