/** Which places have the attribute values that most have. */
import type { Occurrence } from '../fragments/occurrence.js';
import { addTo } from '../groups.js';
import { valueOf } from '../page/attribute.js';
import { type ElementPattern, firstOf } from './pattern.js';
import type { Solving } from './solve.js';
import { isWrittenAs, literalUrl, type PlacedUrl } from './urls.js';

/** A class list that marks one of several has so many texts: with the mark, and without it. */
export const MARK_TEXTS = 2;

/** Where patterns have their nodes, and how they are solved. */
interface Looking {
  occurrences: Occurrence[];
  solving: Solving;
}

/**
 * The places at which each attribute that varies in the patterns has the value that most of them have, or one of the two
 * that most class lists have. A URL has that of all places for which a component file could write the same.
 * @param counts how many places each one stands for
 */
export function placesWithUsualValues(
  places: ReadonlySet<number>,
  patterns: ElementPattern[],
  counts: number[],
  looking: Looking,
): Set<number> {
  const countOf = (some: number[]) => some.reduce((sum, i) => sum + counts[i]!, 0);
  let left = [...places];
  for (const pattern of patterns)
    for (const attr of new Set(pattern.holes.map((hole) => hole.attr!))) {
      const groups = groupsBy(attr, pattern, [...places], looking).sort((one, other) => countOf(other) - countOf(one));
      const most = new Set(groups.slice(0, attr === 'class' ? MARK_TEXTS : 1).flat());
      left = left.filter((i) => most.has(i));
    }
  return new Set(left);
}

/** Places by the value of an attribute. */
function groupsBy(attr: string, { nodes }: ElementPattern, places: number[], looking: Looking): number[][] {
  const { occurrences, solving } = looking;
  const raws = new Map<string | null, number[]>();
  for (const i of places) {
    const own = nodes[i]?.attrs.find(({ name }) => name === attr);
    addTo(raws, own === undefined ? null : valueOf(occurrences[i]!.page.source, own).raw, i);
  }
  const kind = solving.urlKindOf(firstOf(nodes), attr);
  if (kind === null) return [...raws.values()];
  const urls = new Map<string, { url: PlacedUrl; at: number[] }>();
  for (const [raw, at] of raws)
    for (const i of raw === null ? [] : at) {
      const { folder } = occurrences[i]!;
      const key = `${folder ?? occurrences[i]!.page.path}\u0000${raw!}`;
      const known = urls.get(key);
      if (known === undefined) urls.set(key, { url: { raw: raw!, kind, folder }, at: [i] });
      else known.at.push(i);
    }
  const literals = new Set(Array.from(urls.values(), ({ url }) => literalUrl(url, solving.componentFolder)));
  return [...literals].map((literal) =>
    Array.from(urls.values())
      .filter(({ url }) => literal !== null && isWrittenAs(literal, url, solving.componentFolder))
      .flatMap(({ at }) => at),
  );
}
