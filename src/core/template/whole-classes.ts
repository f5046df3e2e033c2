/** Class lists told as wholes, where telling their words apart takes more props than a component may have. */
import { valueOf } from '../page/attribute.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { type ElementPattern, type Hole, type Pattern, patternsIn, spelled, withChildren } from './pattern.js';
import { VectorMap } from './vectors.js';

/**
 * Patterns like this one in which more and more class lists are told as wholes, those that vary in most ways first.
 * @param occurrences what its nodes stand in
 */
export function* withWholeClasses(root: ElementPattern, occurrences: Occurrence[]): Generator<ElementPattern> {
  const elements = patternsIn(root).filter((pattern): pattern is ElementPattern => pattern.kind === 'element');
  const divided = elements
    .map((element) => ({
      element,
      ways: waysIn(element.holes.filter(isOfClass)),
      raws: classesOf(element, occurrences),
    }))
    .filter(({ ways, raws }) => ways > 1 && !raws.some((raw) => raw?.includes('{{')))
    .sort((a, b) => b.ways - a.ways);
  const whole = new Map<Pattern, Hole>();
  for (const { element, raws } of divided) {
    const hole = { kind: 'attr' as const, pattern: element, attr: 'class', part: null, before: '' };
    whole.set(element, { ...hole, values: raws.map(spelled) });
    yield withHoles(root, whole);
  }
}

/** True for a part of a class list. */
function isOfClass({ kind, attr, part }: Hole): boolean {
  return attr === 'class' && part !== null && (kind === 'attr' || kind === 'word');
}

/** How many different columns of values there are. */
function waysIn(holes: Hole[]): number {
  const vectors = new VectorMap<true>();
  for (const { values } of holes) vectors.set(values, true);
  return vectors.entries().length;
}

/** The class list of each node; null where there is none. */
function classesOf({ nodes }: ElementPattern, occurrences: Occurrence[]): (string | null)[] {
  return nodes.map((node, i) => {
    const attr = node?.attrs.find(({ name }) => name === 'class');
    return attr === undefined ? null : valueOf(occurrences[i]!.page.source, attr).raw;
  });
}

/** A copy in which some elements have one hole for their class. */
function withHoles(pattern: ElementPattern, whole: ReadonlyMap<Pattern, Hole>): ElementPattern {
  const children = pattern.children.map((child) => (child.kind === 'element' ? withHoles(child, whole) : child));
  const hole = whole.get(pattern);
  if (hole === undefined && children.every((child, i) => child === pattern.children[i])) return pattern;
  if (hole === undefined) return withChildren(pattern, children);
  const at = pattern.holes.findIndex(isOfClass);
  const holes = pattern.holes.flatMap((each, i) => (i === at ? hole : isOfClass(each) ? [] : each));
  return withChildren({ ...pattern, holes }, children);
}
