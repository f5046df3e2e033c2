/**
 * Which of two candidates for the same places goes first where one of them holds all places of the other: a block with
 * something that comes and goes in it is not two.
 */
import type { Candidate, Site } from '../fragments/site.js';
import { addTo } from '../groups.js';
import type { Choice } from './choice.js';
import { ownersOf } from './owners.js';
import type { StandingReader } from './standing.js';
import { sumOf, worthTerms } from './worth.js';

/** What one that holds all places of another needs: so many more places, so much of its worth, and places so alike. */
interface Least {
  places: number;
  worth: number;
  coverage: number;
}

const WIDER: Least = { places: 1.25, worth: 0.8, coverage: 0.75 };
/** The same for what is the same in all places, wherever they stand. */
const EQUAL: Least = { places: 1, worth: 0.5, coverage: 0.99 };
/** The same for all that is called alike, where one part for it saves as much. */
const JOINED: Least = { places: 1.25, worth: 0.3, coverage: 0.1 };

/** Takes out the best of those that go before a choice that could be made, from a queue with the best at its end. */
export function takeWider(queue: Choice[], best: Choice, joining: ReadonlySet<Candidate>): Choice | undefined {
  if (best.candidate.spans !== null) return undefined;
  const isWorth = (choice: Choice | undefined, least: number) =>
    choice !== undefined && choice.worth >= least * best.worth;
  const goesBefore = (choice: Choice) =>
    [WIDER, EQUAL, ...(joining.has(choice.candidate) ? [JOINED] : [])].some(
      (least) => isWorth(choice, least.worth) && isWider(choice, best, least),
    );
  const lowest = Math.min(EQUAL.worth, JOINED.worth);
  let at = queue.length - 1;
  while (isWorth(queue[at], lowest) && !goesBefore(queue[at]!)) at--;
  return isWorth(queue[at], lowest) ? queue.splice(at, 1)[0] : undefined;
}

function isWider(wider: Choice, { tag, name, places }: Choice, least: Least): boolean {
  if (wider.candidate.spans !== null || wider.tag !== tag || wider.name !== name || wider.coverage < least.coverage)
    return false;
  if (wider.places.length === places.length) return false;
  return wider.places.length >= least.places * places.length && holdsAll(wider.places, places);
}

/** True where all of the second are among the first, both in ascending order. */
function holdsAll(all: number[], some: number[]): boolean {
  let at = 0;
  return some.every((each) => {
    while (all[at]! < each) at++;
    return all[at] === each;
  });
}

/** All that is called alike as one part, and the chosen parts that stand at some of its places. */
export interface Joined {
  whole: Choice;
  parts: Choice[];
}

/** What could be one part in place of chosen ones that are called alike, as far as it is worth it; at most one for a name. */
export function joinable(chosen: Choice[], candidates: Candidate[], reader: StandingReader, site: Site): Joined[] {
  const { label } = site;
  const byLabel = new Map<number, Choice[]>();
  for (const choice of chosen)
    if (choice.candidate.spans === null && choice.name !== '') addTo(byLabel, label[choice.places[0]!]!, choice);
  const widest = new Map<number, Candidate>();
  for (const candidate of candidates) {
    const { spans, places } = candidate;
    const name = label[places[0]!]!;
    const parts = spans === null ? byLabel.get(name) : undefined;
    if (parts === undefined || places.length <= (widest.get(name)?.places.length ?? 0)) continue;
    const isMuchWider = (part: Choice) => places.length >= JOINED.places * part.places.length;
    const areAlike = parts.every(isMuchWider) && places.every((i) => label[i] === name);
    if (areAlike && parts.every((part) => holdsAll(places, part.places))) widest.set(name, candidate);
  }
  if (widest.size === 0) return [];
  const owners = ownersOf(
    chosen.filter(({ isRest }) => !isRest),
    site,
  );
  return [...widest].flatMap(([name, candidate]): Joined[] => {
    const parts = byLabel.get(name)!;
    const standing = reader.read(candidate, candidate.places, owners);
    if (standing === null || standing.places.length < candidate.places.length || standing.apart > 0) return [];
    if (standing.coverage < JOINED.coverage) return [];
    const terms = worthTerms(standing);
    const worth = sumOf(terms);
    if (parts.some((part) => worth < JOINED.worth * part.worth)) return [];
    return [{ whole: { ...standing, terms, worth, chosen: true, isRest: false, inTheWay: null }, parts }];
  });
}
