/**
 * Puts elements of one shape together, outer fragments first, and leaves out those that another group always contains.
 * Linear in the number of elements times the depth of what repeats.
 */
import { isLiftable } from '../page/liftable.js';
import { classWords, type Element, elementsOf } from '../page/tree.js';
import type { General } from '../infer/generalise.js';
import type { Occurrence } from '../infer/columns.js';
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
  /** generalises, or null where that makes no component */
  generalise: (spots: Spot[]) => General | null;
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

/** Elements of one key, in document order; only those that may be lifted, and enough of them. */
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
  return [...byKey.values()].filter((spots) => spots.length >= options.minOccurrences);
}

/** All groups that make a component, outermost first. */
export function findGroups(profiles: Profile[], options: GroupOptions): Group[] {
  const sizeOf = ({ page, at }: Spot) => profiles[page]!.size[at]!;
  const candidates = collect(profiles, options).sort((a, b) => sizeOf(b[0]!) - sizeOf(a[0]!));
  // for each element the group of the innermost fragment found so far that holds it, and where that starts
  const owner = profiles.map(({ elements }) => new Int32Array(elements.length).fill(-1));
  const ownerAt = profiles.map(({ elements }) => new Int32Array(elements.length));
  const groups: Group[] = [];

  const alwaysInside = (spots: Spot[]) => {
    const [first] = spots;
    const id = owner[first!.page]![first!.at]!;
    if (id < 0 || groups[id]!.spots.length !== spots.length) return false;
    const offsetOf = ({ page, at }: Spot) => at - ownerAt[page]![at]!;
    const offset = offsetOf(first!);
    return spots.every((spot) => id === owner[spot.page]![spot.at] && offsetOf(spot) === offset);
  };

  for (const [i, candidate] of candidates.entries()) {
    options.onProgress?.(i, candidates.length);
    const spots = candidate.filter((spot) => isSure(profiles[spot.page]!, spot.at));
    if (spots.length < options.minOccurrences || alwaysInside(spots)) continue;
    for (const group of bestSplit(spots, profiles, options)) {
      const id = groups.push(group) - 1;
      for (const { page, at } of group.spots) {
        const end = at + profiles[page]!.size[at]!;
        owner[page]!.fill(id, at, end);
        ownerAt[page]!.fill(at, at, end);
      }
    }
  }
  return groups;
}

function isSure(profile: Profile, at: number): boolean {
  if (profile.lift[at] === Lift.unsure)
    profile.lift[at] = isLiftable(profile.page, profile.elements[at]!) ? Lift.yes : Lift.misnested;
  return profile.lift[at] === Lift.yes;
}

/** The group as a whole, or split by class words, whichever saves more. */
function bestSplit(spots: Spot[], profiles: Profile[], options: GroupOptions): Group[] {
  const made = (part: Spot[]): Group[] => {
    const general = part.length < options.minOccurrences ? null : options.generalise(part);
    return general === null ? [] : [{ spots: part, general }];
  };
  const worth = (groups: Group[]) => groups.reduce((sum, { general }) => sum + Math.max(0, options.worth(general)), 0);
  const whole = made(spots);
  const classesVary =
    whole.length === 0 ||
    whole[0]!.general.props.some((prop) => prop.holes.some((hole) => hole.attr === 'class' && hole.before === ''));
  if (!classesVary) return whole;
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
  return worth(parts) > worth(whole) || whole.length === 0 ? parts : whole;
}
