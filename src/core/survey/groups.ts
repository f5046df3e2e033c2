/**
 * Puts elements of one shape together, outer fragments first, and leaves out those that another group always contains.
 * Linear in the number of elements times the depth of what repeats.
 */
import { isLiftable } from '../page/liftable.js';
import { classWords, type Element, elementsOf } from '../page/tree.js';
import type { General } from '../infer/generalise.js';
import type { Occurrence } from '../infer/pattern.js';
import { gatherAlike, likenessKeys } from './alike.js';
import { groupKey, isSpace, Lift, type Profile } from './profile.js';

/** An element by its page's and its own number. */
export interface Spot {
  page: number;
  at: number;
}

export interface Group {
  spots: Spot[];
  general: General;
}

export interface GroupOptions {
  minOccurrences: number;
  minElements: number;
  /** true for an element that is a use already */
  isUse: (element: Element) => boolean;
  /** generalises spots of one shape (`exact`) or of alike ones, or null where that makes no component */
  generalise: (spots: Spot[], exact: boolean) => General | null;
  /** bytes saved, at least 1 for what is worth a look */
  worth: (general: General) => number;
  onProgress?: (done: number, all: number) => void;
}

export function occurrenceAt(profiles: Profile[], folders: (string | null)[], { page, at }: Spot): Occurrence {
  const profile = profiles[page]!;
  const element = profile.elements[at]!;
  return { page: profile.page, element, end: fragmentEnd(profile.page.source, element), folder: folders[page]! };
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
    for (const group of bestOf(sure, profiles, options, alwaysInside)) {
      const id = groups.push(group) - 1;
      for (const { page, at } of group.spots) {
        const end = at + profiles[page]!.size[at]!;
        owner[page]!.fill(id, at, end);
        ownerAt[page]!.fill(at, at, end);
      }
      if (group.general.slots.length > 0) framed.add(id);
    }
  }
  return groups;
}

function isSure(profile: Profile, at: number): boolean {
  if (profile.lift[at] === Lift.unsure)
    profile.lift[at] = isLiftable(profile.page, profile.elements[at]!) ? Lift.yes : Lift.misnested;
  return profile.lift[at] === Lift.yes;
}

/** More shapes than this are not tried as one component. */
const MAX_SHAPES = 400;

type Inside = (spots: Spot[]) => boolean;

const totalWorth = (groups: Group[], options: GroupOptions) =>
  groups.reduce((sum, { general }) => sum + Math.max(0, options.worth(general)), 0);

/** Ways to tell shapes apart, from coarse to fine: the tags below the root, their order, and the order one level deeper. */
const LEVELS: ((root: Element) => string)[] = [
  (root) => [...new Set(tagsBelow(root))].sort().join(' '),
  (root) => tagsBelow(root).join(' '),
  (root) =>
    elementsBelow(root)
      .map((child) => `${child.tag}(${tagsBelow(child).join(' ')})`)
      .join(' '),
];

function elementsBelow(element: Element): Element[] {
  return element.children.filter((child) => child.kind === 'element');
}

function tagsBelow(element: Element): string[] {
  return elementsBelow(element).map(({ tag }) => tag);
}

/** What several components save counts for less than what one for all of them saves. */
const APART = 0.9;

/** A cluster as one group, as one a kind of content, or as one a shape: whichever saves most. */
function bestOf(buckets: Spot[][], profiles: Profile[], options: GroupOptions, inside: Inside, level = 0): Group[] {
  const exact = () =>
    buckets.flatMap((spots) =>
      spots.length < options.minOccurrences || inside(spots) ? [] : bestSplit(spots, profiles, options),
    );
  const spots = outermost(buckets.flat(), profiles);
  if (buckets.length < 2 || spots.length < options.minOccurrences) return exact();
  if (inside(spots)) return [];
  let parts: Group[] | null = null;
  let kinds = [buckets];
  let next = level;
  for (; next < LEVELS.length && kinds.length === 1; next++) kinds = kindsOf(buckets, profiles, LEVELS[next]!);
  if (kinds.length > 1) parts = kinds.flatMap((each) => bestOf(each, profiles, options, inside, next));
  parts ??= exact();
  const general = buckets.length > MAX_SHAPES ? null : options.generalise(spots, false);
  if (general === null) return level === 0 ? joined(parts, profiles, options) : parts;
  const whole = [{ spots, general }];
  // a change to what they share would touch all parts, and where none saves anything one finding says it all
  const better = totalWorth(whole, options) >= totalWorth(parts, options) * APART;
  if (better) return whole;
  return level === 0 ? joined(parts, profiles, options) : parts;
}

/** How often groups of one cluster are tried as one. */
const TRIALS = 40;
/** So many keys must two groups share for that. */
const SHARED_KEYS = 3;

/** Groups of one cluster that are more alike than the rest of it, as one where that saves as much. */
function joined(groups: Group[], profiles: Profile[], options: GroupOptions): Group[] {
  const keysOf = ({ spots: [spot] }: Group) => new Set(likenessKeys(profiles[spot!.page]!.elements[spot!.at]!));
  const kept = groups.map((group) => ({ group, keys: keysOf(group) }));
  let trials = TRIALS;
  for (let i = 0; i < kept.length; i++) {
    for (let j = i + 1; j < kept.length; j++) {
      const [one, other] = [kept[i]!, kept[j]!];
      if ([...one.keys].filter((key) => other.keys.has(key)).length < SHARED_KEYS) continue;
      if (trials-- === 0) return kept.map(({ group }) => group);
      const spots = outermost([...one.group.spots, ...other.group.spots], profiles);
      const general = options.generalise(spots, false);
      if (general === null) continue;
      const both = { spots, general };
      if (totalWorth([both], options) < totalWorth([one.group, other.group], options) * APART) continue;
      kept[i] = { group: both, keys: new Set([...one.keys, ...other.keys]) };
      kept.splice(j, 1);
      j = i;
    }
  }
  return kept.map(({ group }) => group);
}

/** In document order, without those that stand inside another. */
function outermost(spots: Spot[], profiles: Profile[]): Spot[] {
  let last: Spot = { page: -1, at: -1 };
  let end = -1;
  return spots
    .sort((a, b) => a.page - b.page || a.at - b.at)
    .filter((spot) => {
      if (spot.page === last.page && spot.at < end) return false;
      last = spot;
      end = spot.at + profiles[spot.page]!.size[spot.at]!;
      return true;
    });
}

/** Buckets by what `keyOf` says of their first element. */
function kindsOf(buckets: Spot[][], profiles: Profile[], keyOf: (root: Element) => string): Spot[][][] {
  const kinds = new Map<string, Spot[][]>();
  for (const spots of buckets) {
    const { page, at } = spots[0]!;
    const key = keyOf(profiles[page]!.elements[at]!);
    const kind = kinds.get(key);
    if (kind === undefined) kinds.set(key, [spots]);
    else kind.push(spots);
  }
  return [...kinds.values()];
}

/** Spots of one shape as a whole, or split by class words, whichever saves more. */
function bestSplit(spots: Spot[], profiles: Profile[], options: GroupOptions): Group[] {
  const made = (part: Spot[]): Group[] => {
    const general = part.length < options.minOccurrences ? null : options.generalise(part, true);
    return general === null ? [] : [{ spots: part, general }];
  };
  const whole = made(spots);
  const unstemmed = (group: Group) =>
    group.general.props.some((prop) => prop.holes.some((hole) => hole.attr === 'class' && hole.before === ''));
  if (whole.length > 0 && !unstemmed(whole[0]!)) return whole;
  const byClasses = new Map<string, Spot[]>();
  for (const spot of spots) {
    const element = profiles[spot.page]!.elements[spot.at]!;
    const key = elementsOf(element)
      .map((each) => classWords(each).join(' '))
      .join('|');
    const part = byClasses.get(key);
    if (part === undefined) byClasses.set(key, [spot]);
    else part.push(spot);
  }
  if (byClasses.size === 1) return whole;
  const parts = [...byClasses.values()].flatMap(made);
  return whole.length === 0 || totalWorth(parts, options) > totalWorth(whole, options) ? parts : whole;
}
