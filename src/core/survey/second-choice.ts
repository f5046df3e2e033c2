/**
 * What is recommended of a choice. What turns out to be worth too little once it is written may have been in the way of
 * something better: that is chosen then, where all of it saves more.
 */
import type { Candidate } from '../fragments/site.js';
import type { Generalised } from './choice.js';
import type { ChosenAlike } from './generalised.js';
import type { Recommended } from './recommend.js';

/** How often it is looked at again. */
const ROUNDS = 3;
/** Such a part of what is saved must stand in the places that are free then; and what is chosen there, save by itself. */
const LEAST = { free: 1 / 3, saved: 1 / 20 };

/** @param recommendedOf writes what is chosen, and says what of that is worth it */
export function recommendedAmong(
  first: ChosenAlike,
  recommendedOf: (choice: ChosenAlike) => Recommended,
): Recommended & Pick<ChosenAlike, 'others'> {
  let choice = first;
  let recommended = recommendedOf(choice);
  let added = new Set<Candidate>();
  for (let round = 0; round < ROUNDS; round++) {
    const { poor } = recommended;
    // what is saved is worked out only where it is asked for
    if (poor.length === 0) break;
    const saved = savedBy(recommended);
    // what was chosen in place of something else, and is poor too, makes room again
    const isAgain = poor.some(({ candidate }) => added.has(candidate));
    if (!isAgain && bytesOf(poor) < LEAST.free * saved) break;
    const next = choice.without(candidatesOf(poor));
    const before = candidatesOf(choice.chosen);
    const others = next.chosen.filter(({ candidate }) => !before.has(candidate));
    const gained = others.reduce((sum, { general }) => sum + choice.savedAlone(general), 0);
    if (others.length === 0 || (!isAgain && gained < LEAST.saved * saved)) break;
    const again = recommendedOf(next);
    if (savedBy(again) <= saved) break;
    choice = next;
    added = candidatesOf(others);
    recommended = again;
  }
  return { ...recommended, others: choice.others };
}

function candidatesOf(choices: Generalised[]): Set<Candidate> {
  return new Set(choices.map(({ candidate }) => candidate));
}

function savedBy({ findings }: Recommended): number {
  return findings.reduce((sum, { saved }) => sum + saved.bytes, 0);
}

/** The length of the source at all places, in UTF-16 units. */
function bytesOf(choices: Generalised[]): number {
  const occurrences = choices.flatMap(({ general }) => general.occurrences);
  return occurrences.reduce((sum, { element, end }) => sum + end - element.start, 0);
}
