/**
 * Chooses which findings are recommended: greedily what saves most, given what is chosen already. Components nest: what
 * stands in another's template counts once there, not once a place, and only where all copies of that place are it; what
 * is poured into another's slots counts as if it stood free. A finding that loses places to a better one keeps the rest,
 * when enough are left.
 */
import type { General } from '../template/generalise.js';
import { type Pattern, placesIn } from '../template/pattern.js';
import type { Profile } from '../fragments/profile.js';
import type { Spot } from './groups.js';

export interface Amount {
  bytes: number;
  lines: number;
}

export interface Candidate<T> {
  spots: Spot[];
  /** what each place saves */
  gains: Amount[];
  /** what its file takes */
  cost: Amount;
  /** bytes that count against it beside its length */
  burden: number;
  /** null for a component that is there already: it comes first, and nothing nests in it */
  general: General | null;
  payload: T;
  /** the candidate that this one is what is left of */
  origin?: Candidate<T>;
}

export interface Choice<T> {
  candidate: Candidate<T>;
  chosen: boolean;
  /** saved in all, given what else is chosen */
  saved: Amount;
  /** why not, when not */
  reason: string | null;
  /** the chosen one that stands in the way, when one does */
  blockedBy: Candidate<T> | null;
}

/** A chosen occurrence that an element belongs to, and its place there. */
interface Owner<T> {
  by: Candidate<T>;
  spot: Spot;
  gain: Amount;
  /** the chosen occurrence in whose template it stands and the place there, null where it stands free */
  holder: Owner<T> | null;
  within: Pattern | null;
}

interface State<T> {
  profiles: Profile[];
  /** for each element the innermost chosen occurrence whose template has it, and the pattern there */
  owner: (Owner<T> | null)[][];
  place: (Pattern | null)[][];
}

function ownerAt<T>({ owner }: State<T>, { page, at }: Spot): Owner<T> | null {
  return owner[page]?.[at] ?? null;
}

interface Standing<T> {
  saved: Amount;
  /** indices of spots that can be uses */
  kept: number[];
  blockedBy: Candidate<T> | null;
}

export interface Choices<T> {
  choices: Choice<T>[];
  /** what a chosen candidate saves, given the rest; asked again when its gains have been measured again */
  savedBy: (candidate: Candidate<T>) => Amount;
}

/** How often the choice is made again without what turned out not to be worth it. */
const ROUNDS = 4;

/**
 * @param shrink makes a candidate of the spots that are left, or null where that is none
 * @param refuse why a saving is not worth it, or null
 */
export function choose<T>(
  candidates: Candidate<T>[],
  profiles: Profile[],
  shrink: (candidate: Candidate<T>, kept: number[]) => Candidate<T> | null,
  refuse: (candidate: Candidate<T>, saved: Amount) => string | null,
): Choices<T> {
  const poor: Choice<T>[] = [];
  let left = candidates;
  for (let round = 0; ; round++) {
    const { choices, state } = chooseOnce(left, profiles, shrink, refuse);
    const originOf = (candidate: Candidate<T>) => candidate.origin ?? candidate;
    // a better one that was chosen later took places of a run: it keeps the rest
    const cut = choices.find(({ chosen, candidate }) => chosen && isRun(candidate) && !standsFree(candidate, state));
    if (cut !== undefined && round < ROUNDS) {
      const { candidate } = cut;
      const free = [...candidate.spots.keys()].filter((i) => ownerAt(state, candidate.spots[i]!)!.holder === null);
      const smaller = shrink(candidate, free);
      left = left.flatMap((each) => (each !== originOf(candidate) ? [each] : (smaller ?? [])));
      continue;
    }
    const drop = choices.filter((choice) => {
      if (!choice.chosen || choice.candidate.general === null) return false;
      choice.saved = settled(choice.candidate, state);
      const free = !isRun(choice.candidate) || standsFree(choice.candidate, state);
      return !free || refuse(choice.candidate, choice.saved) !== null;
    });
    if (drop.length === 0 || round > ROUNDS)
      return {
        choices: [...choices, ...poor],
        savedBy: (candidate) => plus(settled(candidate, state), { bytes: candidate.burden, lines: 0 }),
      };
    // those whose places went into others' templates; the least first, for the rest may do without it
    drop.sort((a, b) => a.saved.bytes - b.saved.bytes || order(a.candidate, b.candidate));
    for (const choice of round < ROUNDS - 1 ? drop.slice(0, 1) : drop) {
      poor.push({ ...choice, saved: total(choice.candidate), chosen: false, reason: 'others save more in its places' });
      left = left.filter((each) => each !== originOf(choice.candidate));
    }
  }
}

function chooseOnce<T>(
  candidates: Candidate<T>[],
  profiles: Profile[],
  shrink: (candidate: Candidate<T>, kept: number[]) => Candidate<T> | null,
  refuse: (candidate: Candidate<T>, saved: Amount) => string | null,
): { choices: Choice<T>[]; state: State<T> } {
  const state: State<T> = {
    profiles,
    owner: profiles.map(({ elements }) => new Array<null>(elements.length).fill(null)),
    place: profiles.map(({ elements }) => new Array<null>(elements.length).fill(null)),
  };
  const choices: Choice<T>[] = [];
  const queue = candidates
    .map((candidate) => ({ candidate, worth: worthOf(candidate, total(candidate)) - candidate.burden }))
    .sort((a, b) => a.worth - b.worth || order(b.candidate, a.candidate));
  const put = (candidate: Candidate<T>, worth: number) => {
    const at = queue.findIndex((each) => each.worth > worth);
    queue.splice(at < 0 ? queue.length : at, 0, { candidate, worth });
  };
  while (queue.length > 0) {
    const { candidate, worth } = queue.pop()!;
    const { saved, kept, blockedBy } = standing(candidate, state);
    const told = { candidate, saved, blockedBy, chosen: false };
    if (kept.length < candidate.spots.length) {
      const smaller = kept.length === 0 ? null : shrink(candidate, kept);
      if (smaller === null) choices.push({ ...told, saved: total(candidate), reason: 'in the way' });
      else {
        smaller.origin = candidate.origin ?? candidate;
        put(smaller, Math.min(worth, worthOf(smaller, total(smaller))));
      }
      continue;
    }
    const now = worthOf(candidate, saved);
    if (now < worth && queue.length > 0 && queue.at(-1)!.worth > now) {
      put(candidate, now);
      continue;
    }
    const poor = refuse(candidate, saved);
    const alone =
      poor === null ? null : refuse(candidate, plus(total(candidate), { bytes: candidate.burden, lines: 0 }, -1));
    const reason = poor === null ? null : (alone ?? 'others save more in its places');
    const choice: Choice<T> = { ...told, saved: total(candidate), chosen: reason === null, reason, blockedBy: null };
    choices.push(choice);
    if (reason === null) settle(candidate, state);
  }
  return { choices, state };
}

function total<T>({ gains, cost }: Candidate<T>): Amount {
  return gains.reduce((sum, each) => plus(sum, each), { bytes: -cost.bytes, lines: -cost.lines });
}

function plus(a: Amount, b: Amount, sign = 1): Amount {
  return { bytes: a.bytes + sign * b.bytes, lines: a.lines + sign * b.lines };
}

/** What a candidate is ranked by. */
function worthOf<T>({ general }: Candidate<T>, { bytes }: Amount): number {
  return general === null ? Number.MAX_SAFE_INTEGER : bytes;
}

/** Runs of siblings are no root that a template could have in its place: they stand free, or not at all. */
function isRun<T>({ spots }: Candidate<T>): boolean {
  return spots[0]!.span !== undefined;
}

/** Spots that stand in one place of another's template, as one. */
function groupsOf<T>(spots: Spot[], state: State<T>) {
  const groups = new Map<Pattern, { indices: number[]; holder: Owner<T> }>();
  const free: number[] = [];
  const lost: number[] = [];
  const inTheWay: Candidate<T>[] = [];
  spots.forEach((spot, i) => {
    const owner = ownerAt(state, spot);
    if (owner === null) return free.push(i);
    const pattern = spot.span === undefined ? state.place[spot.page]![spot.at] : null;
    if (pattern === null || pattern === undefined || owner.spot.at === spot.at) {
      inTheWay.push(owner.by);
      return lost.push(i);
    }
    const group = groups.get(pattern);
    if (group === undefined) groups.set(pattern, { indices: [i], holder: owner });
    else group.indices.push(i);
    return undefined;
  });
  const whole: number[][] = [];
  for (const [pattern, { indices, holder }] of groups) {
    if (pattern.nodes.filter((node) => node !== null).length === indices.length) whole.push(indices);
    else {
      inTheWay.push(holder.by);
      lost.push(...indices);
    }
  }
  return { free, whole, lost, by: inTheWay[0] ?? null };
}

/** What a candidate would save where it stands now. */
function standing<T>(candidate: Candidate<T>, state: State<T>): Standing<T> {
  const { spots, gains, cost, general, burden } = candidate;
  const { free, whole, lost, by } = groupsOf(spots, state);
  const kept = [...free, ...whole.flat()].sort((a, b) => a - b);
  let saved: Amount = { bytes: -cost.bytes - burden, lines: -cost.lines };
  for (const i of free) saved = plus(saved, gains[i]!);
  for (const [i] of whole) saved = plus(saved, gains[i!]!);
  if (lost.length > 0 || general === null) return { saved, kept, blockedBy: by };
  // what is chosen inside of it is short already
  const isFree = new Set(free);
  for (const { pattern, owners } of placesIn(general.root)) {
    const inner = new Map<Candidate<T>, Amount[]>();
    pattern.nodes.forEach((node, i) => {
      const at = owners === null ? i : owners[i]!;
      if (node === null || node.at < 0 || !isFree.has(at)) return;
      const { page, at: root } = spots[at]!;
      const owner = ownerAt(state, { page, at: node.at });
      if (owner?.spot.at !== node.at || node.at === root || owner.holder !== null) return;
      const list = inner.get(owner.by) ?? [];
      inner.set(owner.by, list);
      list.push(owner.gain);
    });
    const all = pattern.nodes.filter((node) => node !== null).length;
    for (const [by, amounts] of inner) {
      for (const amount of amounts) saved = plus(saved, amount, -1);
      if (amounts.length === all && !isRun(by)) saved = plus(saved, amounts[0]!);
    }
  }
  return { saved, kept, blockedBy: by };
}

/** Notes what a chosen candidate covers. */
function settle<T>(by: Candidate<T>, state: State<T>): void {
  const { owner, place, profiles } = state;
  const { spots, general, gains } = by;
  const mine = spots.map((spot, i): Owner<T> => {
    return { by, spot, gain: gains[i]!, holder: ownerAt(state, spot), within: place[spot.page]?.[spot.at] ?? null };
  });
  const cover = (at: number, own: Owner<T>, pattern: Pattern | null) => {
    const { page, at: root } = own.spot;
    const before = ownerAt(state, { page, at });
    if (before === null || before.spot.at < root) {
      owner[page]![at] = own;
      place[page]![at] = pattern;
    } else if (before.spot.at === at && (before.holder === null || before.holder.spot.at < root)) {
      // the root of one that was chosen before, inside of this one
      before.holder = own;
      before.within = isRun(before.by) ? null : pattern;
    }
  };
  if (general === null) {
    for (const own of mine) {
      const end = own.spot.at + profiles[own.spot.page]!.size[own.spot.at]!;
      for (let at = own.spot.at; at < end; at++) cover(at, own, null);
    }
    return;
  }
  for (const { pattern, owners } of placesIn(general.root))
    pattern.nodes.forEach((node, i) => {
      if (node !== null && node.at >= 0) cover(node.at, mine[owners === null ? i : owners[i]!]!, pattern);
    });
  // the first of a run may be poured in
  for (const own of mine) if (ownerAt(state, own.spot) === null) cover(own.spot.at, own, null);
}

function standsFree<T>({ spots }: Candidate<T>, state: State<T>): boolean {
  return spots.every((spot) => ownerAt(state, spot)!.holder === null);
}

/** What a chosen candidate saves when all is chosen. */
function settled<T>({ spots, gains, cost, burden }: Candidate<T>, state: State<T>): Amount {
  let saved: Amount = { bytes: -cost.bytes - burden, lines: -cost.lines };
  const groups = new Map<Pattern, number[]>();
  spots.forEach((spot, i) => {
    const { holder, within: pattern } = ownerAt(state, spot)!;
    if (holder === null) saved = plus(saved, gains[i]!);
    else if (pattern) groups.set(pattern, [...(groups.get(pattern) ?? []), i]);
  });
  for (const [pattern, indices] of groups)
    if (pattern.nodes.filter((node) => node !== null).length === indices.length)
      saved = plus(saved, gains[indices[0]!]!);
  return saved;
}

/** By where they stand: the order of what is equal otherwise. */
export function order<T>(a: Candidate<T>, b: Candidate<T>): number {
  return a.spots[0]!.page - b.spots[0]!.page || a.spots[0]!.at - b.spots[0]!.at || b.spots.length - a.spots.length;
}
