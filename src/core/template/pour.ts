/**
 * Pours what varies into slots where a component would take more props than it may, or is wanted as a frame: elements of
 * a solved pattern keep their tags, and what stands in them becomes a slot.
 */
import type { Occurrence } from '../fragments/occurrence.js';
import { type ElementPattern, firstOf, type Pattern, patternsIn, withChildren } from './pattern.js';
import { takesSlot } from './form.js';
import { slotIn } from './slots.js';
import { VectorMap } from './vectors.js';
import { withWholeClasses } from './whole-classes.js';

/** What could be poured in at one element. */
interface Pouring {
  element: ElementPattern;
  /** values that vary in it and nowhere else */
  values: number;
  /** bytes of its content over all occurrences */
  length: number;
}

/**
 * What `make` makes of the pattern with class lists told as wholes, or else with as much poured in as that takes, the least
 * that does at each step; null where even the most is not enough.
 */
export function pourUntil<T>(
  root: ElementPattern,
  occurrences: Occurrence[],
  make: (root: ElementPattern) => T | null,
  { maxProps }: { maxProps: number },
): T | null {
  const plain = make(root);
  if (plain !== null) return plain;
  for (const each of withWholeClasses(root, occurrences)) {
    const made = make(each);
    if (made !== null) return made;
  }
  let current = root;
  for (;;) {
    const all = countsIn([current]);
    const ways = pouringsIn(current, all, occurrences);
    const excess = sizeOf(all) - maxProps;
    const enough = ways.filter(({ values }) => values >= excess);
    const [best] = enough.length > 0 ? byLength(enough) : byValues(ways);
    const poured = best && pour(current, best.element, occurrences);
    if (!poured) return null;
    current = poured;
    const made = make(current);
    if (made !== null) return made;
  }
}

function byLength(ways: Pouring[]): Pouring[] {
  return [...ways].sort((a, b) => a.length - b.length);
}

function byValues(ways: Pouring[]): Pouring[] {
  return [...ways].sort((a, b) => b.values - a.values || a.length - b.length);
}

/** How often each vector of values varies in a pattern, and how many lists there are. */
interface Counts {
  vectors: VectorMap<number>;
  lists: number;
}

function countsIn(patterns: Pattern[]): Counts {
  const counts: Counts = { vectors: new VectorMap(), lists: 0 };
  for (const { kind, holes } of patterns.flatMap(patternsIn)) {
    if (kind === 'list') counts.lists++;
    for (const hole of holes) {
      if (hole.kind === 'literal' || hole.kind === 'name') continue;
      counts.vectors.set(hole.values, (counts.vectors.get(hole.values) ?? 0) + 1);
    }
  }
  return counts;
}

function sizeOf({ vectors, lists }: Counts): number {
  return vectors.entries().length + lists;
}

function pouringsIn(pattern: Pattern, all: Counts, occurrences: Occurrence[]): Pouring[] {
  if (pattern.kind !== 'element') return [];
  const found = pattern.children.flatMap((child) => pouringsIn(child, all, occurrences));
  if (!takesSlot(firstOf(pattern.nodes))) return found;
  const inside = countsIn(pattern.children);
  const own = inside.vectors.entries().filter(({ values, held }) => all.vectors.get(values) === held);
  const values = own.length + inside.lists;
  if (values === 0) return found;
  const length = contents(pattern, occurrences).reduce(
    (sum, range) => sum + (range === null ? 0 : range[1] - range[0]),
    0,
  );
  return [...found, { element: pattern, values, length }];
}

function contents({ nodes }: ElementPattern, occurrences: Occurrence[]): ([number, number] | null)[] {
  return nodes.map((node, i) => {
    if (node === null) return null;
    return [node.openEnd, node.closeStart >= 0 ? node.closeStart : Math.min(node.end, occurrences[i]!.end)];
  });
}

/** A copy of `pattern` in which the content of `element` is poured in. */
function pour(pattern: ElementPattern, element: ElementPattern, occurrences: Occurrence[]): ElementPattern | null {
  if (pattern === element) {
    const slot = slotIn(pattern, contents(pattern, occurrences), occurrences);
    return slot && withChildren(pattern, [slot]);
  }
  for (const [i, child] of pattern.children.entries()) {
    const copy = child.kind === 'element' ? pour(child, element, occurrences) : child;
    if (copy !== null && copy !== child) return withChildren(pattern, pattern.children.with(i, copy));
  }
  return pattern;
}

/** True where something in it varies, comes and goes, or is poured in. */
function varies(pattern: Pattern): boolean {
  if (pattern.kind === 'slot' || pattern.kind === 'list' || pattern.holes.some(({ kind }) => kind !== 'literal'))
    return true;
  return (
    pattern.kind === 'element' &&
    (pattern.children.some(varies) || pattern.children.some((child) => comes(child, pattern)))
  );
}

function comes(child: Pattern, parent: ElementPattern): boolean {
  return child.nodes.some((node, i) => node === null && parent.nodes[i] !== null);
}

/** More slots than this are no frame that anyone would fill. */
const FEW = 2;

/** The pattern as a frame: what varies is poured in where it stands, or all of an element where that makes few slots. */
export function framed(pattern: ElementPattern, occurrences: Occurrence[]): ElementPattern {
  const isLoose = (child: Pattern) => varies(child) || comes(child, pattern);
  if (!pattern.children.some(isLoose)) return pattern;
  const inner = pattern.children.map((child) =>
    child.kind === 'element' && isLoose(child) && !comes(child, pattern) ? framed(child, occurrences) : child,
  );
  const slots = inner.reduce((sum, child) => sum + slotsIn(child), 0);
  const settled = inner.every((child) => child.kind === 'slot' || child.kind === 'element' || !isLoose(child));
  const kept = settled && inner.every((child) => !comes(child, pattern));
  if (kept && slots <= FEW) return withChildren(pattern, inner);
  const slot = takesSlot(firstOf(pattern.nodes)) ? slotIn(pattern, contents(pattern, occurrences), occurrences) : null;
  return withChildren(pattern, slot === null ? inner : [slot]);
}

/** The pattern with each of its children as a frame of its own: what pages share around their contents. */
export function framedApart(pattern: ElementPattern, occurrences: Occurrence[]): ElementPattern {
  const isKept = (child: Pattern) => child.kind !== 'element' || !varies(child) || comes(child, pattern);
  const apart = (child: Pattern) => (isKept(child) ? child : framed(child as ElementPattern, occurrences));
  return withChildren(pattern, pattern.children.map(apart));
}

function slotsIn(pattern: Pattern): number {
  if (pattern.kind === 'slot') return 1;
  return pattern.kind === 'element' ? pattern.children.reduce((sum, child) => sum + slotsIn(child), 0) : 0;
}
