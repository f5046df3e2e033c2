/**
 * Puts elements of one shape together, outer fragments first, and leaves out those that another group always contains.
 * Linear in the number of elements times the depth of what repeats.
 */
import { isLiftable } from '../page/liftable.js';
import type { Page } from '../page/parse.js';
import type { Child, Element } from '../page/tree.js';
import type { General } from '../template/generalise.js';
import { type Occurrence, RUN } from '../template/pattern.js';
import { gatherAlike } from '../fragments/alike.js';
import { cut, type Likeness } from './cut.js';
import { findRuns } from '../fragments/runs.js';
import { groupKey, isSpace, Lift, type Profile } from '../fragments/profile.js';

/** An element by its page's and its own number, or the first of a run of siblings. */
export interface Spot {
  page: number;
  at: number;
  /** how many siblings a run has */
  span?: number;
}

export interface Group {
  spots: Spot[];
  general: General;
  /** set where it costs far more than it saves: `general` is of a sample then, and `whole` makes that of all places */
  hopeless: { worth: number; whole: () => General } | null;
}

export interface GroupOptions {
  minOccurrences: number;
  minElements: number;
  /** true for an element that is a use already */
  isUse: (element: Element) => boolean;
  /** generalises spots of one shape, of alike ones, or as a frame; null where that makes no component */
  generalise: (spots: Spot[], as: Likeness) => General | null;
  /** bytes saved if there were `count` such places, at least 1 for what is worth a look */
  worth: (general: General, count: number) => number;
  onProgress?: (done: number, all: number) => void;
}

export function occurrenceAt(profiles: Profile[], folders: (string | null)[], { page, at, span }: Spot): Occurrence {
  const profile = profiles[page]!;
  const first = profile.elements[at]!;
  return occurrenceOf(profile.page, span === undefined ? first : runFrom(first, span), folders[page]!);
}

/** An element, or a run, as an occurrence. */
export function occurrenceOf(page: Page, element: Element, folder: string | null): Occurrence {
  return { page, element, end: fragmentEnd(page.source, element), folder };
}

/** The root that stands for a run of siblings. */
function runFrom(first: Element, span: number): Element {
  const siblings = first.parent!.children;
  const from = siblings.indexOf(first);
  let to = from;
  for (let left = span; left > 0; to++) if (siblings[to]!.kind === 'element') left--;
  return runOf(siblings.slice(from, to), first);
}

/** The root that stands for `children`, of which `first` is an element. */
export function runOf(children: Child[], { ns, parent }: Element): Element {
  const [start, end] = [children[0]!.start, children.at(-1)!.end];
  return {
    kind: 'element',
    tag: RUN,
    ns,
    attrs: [],
    children,
    parent,
    start,
    openEnd: start,
    closeStart: end,
    end,
    at: -1,
  };
}

function fragmentEnd(source: string, element: Element): number {
  let { end } = element;
  if (element.closeStart >= 0) return end;
  while (end > element.openEnd && isSpace(source.charCodeAt(end - 1))) end--;
  return end;
}

/** Elements of one shape and block, in document order; only those that may be lifted. */
function collect(profiles: Profile[], options: GroupOptions): Spot[][] {
  const byKey = new Map<number, Spot[]>();
  profiles.forEach(({ elements, shape, size, lift }, page) => {
    for (let at = 0; at < elements.length; at++) {
      if (size[at]! < options.minElements || lift[at]! > Lift.unsure || options.isUse(elements[at]!)) continue;
      const key = groupKey(shape[at]!, elements[at]!);
      const spots = byKey.get(key);
      if (spots === undefined) byKey.set(key, [{ page, at }]);
      else spots.push({ page, at });
    }
  });
  return [...byKey.values()];
}

/** All groups that make a component, outermost first. */
export function findGroups(profiles: Profile[], options: GroupOptions): Group[] {
  const sizeOf = ({ page, at }: Spot) => profiles[page]!.size[at]!;
  const rootOf = (spots: Spot[]) => profiles[spots[0]!.page]!.elements[spots[0]!.at]!;
  const largest = (cluster: Spot[][]) => cluster.reduce((most, [spot]) => Math.max(most, sizeOf(spot!)), 0);
  const clusters = gatherAlike(collect(profiles, options), rootOf)
    .map((cluster) => ({ cluster, largest: largest(cluster) }))
    .sort((a, b) => b.largest - a.largest);
  // for each element the group of the innermost fragment found so far that holds it, and where that starts
  const owner = profiles.map(({ elements }) => new Int32Array(elements.length).fill(-1));
  const ownerAt = profiles.map(({ elements }) => new Int32Array(elements.length));
  const groups: Group[] = [];
  // what stands in a frame may be the better cut, the frame being little more than what is around it
  const framed = new Set<number>();

  const alwaysInside = (spots: Spot[]) => {
    const [first] = spots;
    const id = owner[first!.page]![first!.at]!;
    if (id < 0 || framed.has(id) || groups[id]!.spots.length !== spots.length) return false;
    const owners = new Set<string>();
    for (const { page, at } of spots) {
      if (owner[page]![at]! !== id) return false;
      owners.add(`${page} ${ownerAt[page]![at]!}`);
    }
    return owners.size === spots.length;
  };

  for (const [i, { cluster }] of clusters.entries()) {
    options.onProgress?.(i, clusters.length);
    const buckets = cluster.map((spots) => spots.filter((spot) => isSure(profiles[spot.page]!, spot.at)));
    const sure = buckets.filter((spots) => spots.length > 0);
    for (const group of cut(sure, { ...options, profiles, inside: alwaysInside })) {
      const id = groups.push(group) - 1;
      for (const { page, at } of group.spots) {
        const end = at + profiles[page]!.size[at]!;
        owner[page]!.fill(id, at, end);
        ownerAt[page]!.fill(at, at, end);
      }
      if (group.general.slots.length > 0) framed.add(id);
    }
  }
  for (const spots of findRuns(profiles)) {
    const parents = spots.map(({ page, at }) => ({ page, at: profiles[page]!.parent[at]! }));
    if (spots.length < options.minOccurrences || alwaysInside(parents)) continue;
    const general = options.generalise(spots, 'alike');
    if (general !== null && options.worth(general, spots.length) > 0) groups.push({ spots, general, hopeless: null });
  }
  return groups;
}

/** True for what can be lifted; where the source alone does not tell, the parser is asked. */
export function isSure(profile: Profile, at: number): boolean {
  if (profile.lift[at] === Lift.unsure)
    profile.lift[at] = isLiftable(profile.page, profile.elements[at]!) ? Lift.yes : Lift.misnested;
  return profile.lift[at] === Lift.yes;
}
