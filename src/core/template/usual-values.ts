/** Which places have the attribute values that most have. */
import type { Occurrence } from '../fragments/occurrence.js';
import { addTo } from '../groups.js';
import { valueOf } from '../page/attribute.js';
import { targetIn, type UrlKind } from '../page/url.js';
import { type ElementPattern, firstOf } from './pattern.js';
import type { Solving } from './solve.js';
import { literalUrl, type PlacedUrl, writtenIn } from './urls.js';

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
  const rawAt = (i: number) => {
    const own = nodes[i]?.attrs.find(({ name }) => name === attr);
    return own === undefined ? null : valueOf(looking.occurrences[i]!.page.source, own).raw;
  };
  const kind = looking.solving.urlKindOf(firstOf(nodes), attr);
  if (kind !== null) return groupsByUrl(places, kind, rawAt, looking);
  const groups = new Map<string | null, number[]>();
  for (const i of places) addTo(groups, rawAt(i), i);
  return [...groups.values()];
}

/** The places that have what a component file could write, for each that it could; those without a URL are in none. */
function groupsByUrl(
  places: number[],
  kind: UrlKind,
  rawAt: (i: number) => string | null,
  { occurrences, solving: { componentFolder } }: Looking,
): number[][] {
  // what one folder spells alike is looked at once
  const alike = new Map<string, number[]>();
  for (const i of places) {
    const { folder, page } = occurrences[i]!;
    const raw = rawAt(i);
    if (raw !== null) addTo(alike, `${folder ?? page.path}\u0000${raw}`, i);
  }
  const urls = Array.from(alike.values(), (at) => {
    const url: PlacedUrl = { raw: rawAt(at[0]!)!, kind, folder: occurrences[at[0]!]!.folder };
    return { at, url };
  });
  // only what leads to the same may be written alike
  const byTarget = new Map<string, typeof urls>();
  for (const each of urls) {
    const { raw, folder } = each.url;
    if (folder !== null) addTo(byTarget, targetIn(raw, kind, folder), each);
  }
  const literals = new Set(urls.flatMap(({ url }) => literalUrl(url, componentFolder) ?? []));
  return [...literals].map((literal) => {
    const textIn = writtenIn(literal, kind, componentFolder);
    const some = byTarget.get(targetIn(literal, kind, componentFolder)) ?? [];
    return some.filter(({ url }) => textIn(url.folder) === url.raw).flatMap(({ at }) => at);
  });
}
