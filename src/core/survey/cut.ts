/**
 * Cuts a cluster of alike shapes into groups: one for all, one a kind of content, or one a shape, whichever saves most.
 * Ways are compared on a sample of the places, so that their number does not count; what is settled on is generalised
 * over all.
 */
import type { General } from '../template/generalise.js';
import { classWords, type Element, elementsOf } from '../page/tree.js';
import { likenessKeys, resemblance } from '../fragments/alike.js';
import type { Group, Spot } from './groups.js';
import { halvesOf } from './halves.js';
import type { Profile } from '../fragments/profile.js';

export interface Cutting {
  profiles: Profile[];
  minOccurrences: number;
  /** generalises spots of one shape, of alike ones, or as a frame; null where that makes no component */
  generalise: (spots: Spot[], as: Likeness) => General | null;
  /** bytes saved if there were `count` such places, at least 1 for what is worth a look */
  worth: (general: General, count: number) => number;
  /** true for spots that an outer group always holds */
  inside: (spots: Spot[]) => boolean;
}

export type Likeness = 'one shape' | 'alike' | 'frame';

/** A group that is not settled yet. */
interface Draft {
  spots: Spot[];
  as: Likeness;
  sample: General;
  worth: number;
  /** what it is cut into where it turns out not to be one */
  parts: Draft[];
}

/** Bytes by which an estimate may be off: what costs more is not looked at before someone asks. */
const ROUGH = 400;

/** The groups that save most. */
export function cut(buckets: Spot[][], cutting: Cutting): Group[] {
  const settle = ({ spots, as, sample, worth, parts }: Draft): Group[] => {
    if (worth < -ROUGH) {
      const whole = () => (sample.occurrences.length === spots.length ? null : cutting.generalise(spots, as)) ?? sample;
      return [{ spots, general: sample, hopeless: { worth: Math.round(worth), whole } }];
    }
    const general = sample.occurrences.length === spots.length ? sample : cutting.generalise(spots, as);
    return general === null ? parts.flatMap(settle) : [{ spots, general, hopeless: null }];
  };
  const best = bestOf(buckets, cutting, 0);
  return joined(best, leftFrom(buckets, best), cutting).flatMap(settle);
}

/** So many places tell how the rest looks. */
const SAMPLE = 40;

/** Every so many spots, and the first one of each shape. */
function sampleOf(spots: Spot[], profiles: Profile[]): Spot[] {
  if (spots.length <= SAMPLE) return spots;
  const step = spots.length / SAMPLE;
  const taken = new Set(Array.from({ length: SAMPLE }, (_, i) => spots[Math.floor(i * step)]!));
  const shapes = new Set<number>();
  for (const spot of spots) {
    const shape = profiles[spot.page]!.shape[spot.at]!;
    if (!shapes.has(shape) && shapes.size < SAMPLE) taken.add(spot);
    shapes.add(shape);
  }
  return spots.filter((spot) => taken.has(spot));
}

/** So many parts that come and go are much. */
const MANY_BLOCKS = 3;

function draftOf(spots: Spot[], exact: boolean, cutting: Cutting, parts: Draft[] = []): Draft | null {
  if (spots.length < cutting.minOccurrences) return null;
  const some = sampleOf(spots, cutting.profiles);
  const draft = (as: Likeness): Draft | null => {
    const sample = cutting.generalise(some, as);
    return sample && { spots, as, sample, worth: cutting.worth(sample, spots.length), parts };
  };
  const whole = draft(exact ? 'one shape' : 'alike');
  if (whole !== null && whole.sample.blocks.length < MANY_BLOCKS) return whole;
  // where much comes and goes, less is said by what stands around it
  const frame = draft('frame');
  return frame === null || (whole !== null && whole.worth >= frame.worth) ? whole : frame;
}

function total(drafts: Draft[]): number {
  return drafts.reduce((sum, { worth }) => sum + Math.max(0, worth), 0);
}

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

/** More shapes than this are not tried as one component. */
const MAX_SHAPES = 400;

/** What several components save counts for less than what one for all of them saves. */
const APART = 0.9;
/** But not for more than so many bytes less. */
const AT_MOST = 600;

/** What one component must save to be better than several. */
function apart(parts: Draft[]): number {
  return Math.max(total(parts) * APART, total(parts) - AT_MOST);
}

function bestOf(buckets: Spot[][], cutting: Cutting, level: number): Draft[] {
  const exact = () => buckets.flatMap((spots) => (cutting.inside(spots) ? [] : bestSplit(spots, cutting)));
  const spots = outermost(buckets.flat(), cutting.profiles);
  if (buckets.length < 2 || spots.length < cutting.minOccurrences) return exact();
  if (cutting.inside(spots)) return [];
  let kinds = [buckets];
  let next = level;
  for (; next < LEVELS.length && kinds.length === 1; next++) kinds = kindsOf(buckets, cutting.profiles, LEVELS[next]!);
  const parts = kinds.length > 1 ? kinds.flatMap((each) => bestOf(each, cutting, next)) : exact();
  const whole = buckets.length > MAX_SHAPES ? null : draftOf(spots, false, cutting, parts);
  const one = whole === null ? [] : inHalves(whole, cutting);
  // a change to what they share would touch all parts, and where none saves anything one finding says it all
  return one.length > 0 && total(one) >= apart(parts) ? one : parts;
}

/** A draft whose places are mostly made of what others lack is none: its halves, unless that saves far less. */
function inHalves(draft: Draft, cutting: Cutting): Draft[] {
  if (draft.spots.length !== draft.sample.occurrences.length) return [draft];
  const side = halvesOf(draft.sample);
  if (side === null) return [draft];
  const halves = [true, false].flatMap((which) => {
    const half = draftOf(
      draft.spots.filter((_, i) => side[i] === which),
      false,
      cutting,
    );
    return half === null ? [] : inHalves(half, cutting);
  });
  return total(halves) >= apart([draft]) ? halves : [draft];
}

/** How often groups of one cluster are tried as one. */
const TRIALS = 40;
/** And one with what is left. */
const TRIES = 8;
/** So much of what is left is looked at: no pairs of all with all. */
const MOST_LEFT = 40;
/** So many keys must two groups share for that. */
const SHARED_KEYS = 3;
/** How much of their structure must what is left share with a group for that. */
const NEAR = 0.8;

/**
 * Groups of one cluster that are more alike than the rest of it, as one where that saves as much; and what is left, with
 * the group that saves more with it.
 */
function joined(drafts: Draft[], left: Spot[][], cutting: Cutting): Draft[] {
  const { profiles } = cutting;
  const rootOf = ([spot]: Spot[]) => profiles[spot!.page]!.elements[spot!.at]!;
  const keysOf = (spots: Spot[]) => new Set(likenessKeys(rootOf(spots)));
  const kept = [
    ...drafts.map((draft) => ({ draft, spots: draft.spots, keys: keysOf(draft.spots) })),
    ...left.slice(0, MOST_LEFT).map((spots) => ({ draft: null, spots, keys: keysOf(spots) })),
  ];
  let trials = TRIALS;
  let tries = TRIES;
  for (let i = 0; i < kept.length; i++) {
    for (let j = i + 1; j < kept.length; j++) {
      const [one, other] = [kept[i]!, kept[j]!];
      if (one.draft === null) continue;
      if (other.draft === null && resemblance(rootOf(one.spots), rootOf(other.spots)) < NEAR) continue;
      if (other.draft !== null && [...one.keys].filter((key) => other.keys.has(key)).length < SHARED_KEYS) continue;
      if (trials-- <= 0 || (other.draft === null && tries-- <= 0)) break;
      const parts = [one.draft, ...(other.draft === null ? [] : [other.draft])];
      const spots = outermost([...one.spots, ...other.spots], profiles);
      const both = draftOf(spots, false, cutting, parts);
      if (both === null || inHalves(both, cutting).length > 1) continue;
      if (other.draft === null ? both.worth <= one.draft.worth : total([both]) < apart(parts)) continue;
      kept[i] = { draft: both, spots, keys: new Set([...one.keys, ...other.keys]) };
      kept.splice(j, 1);
      j = i;
    }
  }
  return kept.flatMap(({ draft }) => draft ?? []);
}

/** Shapes of which no place is in a group. */
function leftFrom(buckets: Spot[][], drafts: Draft[]): Spot[][] {
  const taken = new Set(drafts.flatMap(({ spots }) => spots));
  return buckets.filter((spots) => !spots.some((spot) => taken.has(spot)));
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
function bestSplit(spots: Spot[], cutting: Cutting): Draft[] {
  const whole = draftOf(spots, true, cutting);
  const unstemmed = whole?.sample.props.some((prop) =>
    prop.holes.some(({ attr, before }) => attr === 'class' && before === ''),
  );
  if (whole !== null && unstemmed !== true) return [whole];
  const byClasses = new Map<string, Spot[]>();
  for (const spot of spots) {
    const element = cutting.profiles[spot.page]!.elements[spot.at]!;
    const key = elementsOf(element)
      .map((each) => classWords(each).join(' '))
      .join('|');
    const part = byClasses.get(key);
    if (part === undefined) byClasses.set(key, [spot]);
    else part.push(spot);
  }
  if (byClasses.size === 1) return whole === null ? [] : [whole];
  const parts = [...byClasses.values()].flatMap((part) => draftOf(part, true, cutting) ?? []);
  return whole === null || total(parts) > total([whole]) ? parts : [{ ...whole, parts }];
}
