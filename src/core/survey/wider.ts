/**
 * Which of two candidates for the same places goes first where one of them holds all places of the other: a block with
 * something that comes and goes in it is not two.
 */
import type { Candidate } from '../fragments/site.js';
import { includesAll } from '../search.js';
import type { Choice } from './choice.js';
import { LEAST_JOINED } from './joining.js';

/** What one that holds all places of another needs: so many more places, so much of its worth, and places so alike. */
interface Least {
  places: number;
  worth: number;
  coverage: number;
}

const WIDER: Least = { places: 1.25, worth: 0.8, coverage: 0.75 };
/** The same for what is the same in all places, wherever they stand. */
const EQUAL: Least = { places: 1, worth: 0.5, coverage: 0.99 };
/** The same for what is called alike, and was found to be better as one. */
const JOINED: Least = { places: 1, worth: LEAST_JOINED, coverage: 0 };

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
  return wider.places.length >= least.places * places.length && includesAll(wider.places, places);
}
