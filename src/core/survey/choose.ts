/**
 * Chooses which findings are recommended: greedily what saves most, never two in one place. A finding that overlaps a
 * better one keeps the places that are left to it, when enough are.
 */
import type { Profile } from './profile.js';
import type { Spot } from './groups.js';

export interface Candidate<T> {
  spots: Spot[];
  /** bytes saved */
  worth: number;
  payload: T;
}

export interface Choice<T> {
  candidate: Candidate<T>;
  chosen: boolean;
  /** why not, when not */
  reason: string | null;
  /** the chosen one that stands in the way, when one does */
  blockedBy: Candidate<T> | null;
}

const FREE = 0;

/**
 * @param shrink makes a candidate of the spots that are left, or null where that is none
 * @param refuse why a candidate is not worth it by itself, or null
 */
export function choose<T>(
  candidates: Candidate<T>[],
  profiles: Profile[],
  shrink: (candidate: Candidate<T>, spots: Spot[]) => Candidate<T> | null,
  refuse: (candidate: Candidate<T>) => string | null,
): Choice<T>[] {
  // number of the chosen candidate that covers an element, negative where it only holds one that is covered
  const taken = profiles.map(({ elements }) => new Int32Array(elements.length));
  const chosen: Candidate<T>[] = [];
  const choices: Choice<T>[] = [];
  const queue = [...candidates].sort((a, b) => a.worth - b.worth || order(b, a));

  while (queue.length > 0) {
    const candidate = queue.pop()!;
    const free = candidate.spots.filter(({ page, at }) => taken[page]![at] === FREE);
    if (free.length < candidate.spots.length) {
      const hit = candidate.spots.find(({ page, at }) => taken[page]![at] !== FREE)!;
      const number = taken[hit.page]![hit.at]!;
      const smaller = free.length === 0 ? null : shrink(candidate, free);
      if (smaller === null || refuse(smaller) !== null) {
        const reason = number > 0 ? 'stands inside' : 'holds';
        choices.push({ candidate, chosen: false, reason, blockedBy: chosen[Math.abs(number) - 1]! });
      } else {
        const at = queue.findIndex((each) => each.worth > smaller.worth);
        queue.splice(at < 0 ? queue.length : at, 0, smaller);
      }
      continue;
    }
    const reason = refuse(candidate);
    choices.push({ candidate, chosen: reason === null, reason, blockedBy: null });
    if (reason !== null) continue;
    const number = chosen.push(candidate);
    for (const { page, at } of candidate.spots) {
      const { size, parent } = profiles[page]!;
      taken[page]!.fill(number, at, at + size[at]!);
      for (let up = parent[at]!; up >= 0 && taken[page]![up] === FREE; up = parent[up]!) taken[page]![up] = -number;
    }
  }
  return choices;
}

function order<T>(a: Candidate<T>, b: Candidate<T>): number {
  return a.spots[0]!.page - b.spots[0]!.page || a.spots[0]!.at - b.spots[0]!.at || b.spots.length - a.spots.length;
}
