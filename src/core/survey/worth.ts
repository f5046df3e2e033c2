/**
 * What a part is worth, in bytes: what one place to change is worth (constant structure, times places that are not
 * copies, damped) less a price for what people must understand. One table, each line with its reason.
 */
import { SPEAKING } from '../fragments/candidates.js';
import { isTelling } from '../words/names.js';
import type { Standing } from './owners.js';

/** Bytes for one place to change, and what counts against a part. */
export const WORTH = {
  /** one place to change instead of two, of one constant element without a name */
  change: 100,
  /** share of that for what is not constant at all */
  least: 0.15,
  /** what a root without a word counts, and how much its word or its tag adds */
  nameless: 0.4,
  word: 0.25,
  speaking: 0.3,
  /** a root that nothing names has to be named by people */
  unnamed: 30,
  /** few constant elements without a name say little */
  slight: 30,
  /** a nameless layout cell with anything in it */
  loose: 100,
  /** what is called alike and is not one of them has to be told apart */
  apart: 60,
  /** siblings of the same label that are none of the places: a share of what the change is worth, more without styles */
  mixed: 0.3,
  mixedAndPlain: 0.8,
  /** two elements are hardly worth a file, still less where the tag says nothing */
  tiny: 50,
  tinyAndPlain: 100,
  /** what was no part when what is around it was made one, has to be clearly worth it */
  passedOver: 120,
  /** a frame or a list that takes more to write than it saves, for so many places, and at most so much */
  frame: 2,
  mostForFrame: 100,
} as const;

/** One line of the sum. */
export interface Term {
  what: string;
  bytes: number;
}

/** What the developer asks for goes before all that is found. */
export const TAKEN: Term = { what: 'the configuration takes it', bytes: 100_000 };

/** The worth of a part, as the lines of its sum; nothing for what stands once, and for prose. */
export function worthTerms(standing: Standing): Term[] {
  const { count, constant, coverage, strength, speaks, size, name, told, apart, mixed, dressed, prose } = standing;
  if (count < 1.99 || (constant < 2 && size < 3) || prose) return [];
  const named = Math.max(0.1, WORTH.nameless + WORTH.word * strength + (speaks ? WORTH.speaking : 0));
  const change =
    WORTH.change * Math.log2(count) * Math.sqrt(constant) * (WORTH.least + (1 - WORTH.least) * coverage) * named;
  const terms: Term[] = [{ what: 'one place to change', bytes: Math.round(change) }];
  const price = (what: string, bytes: number) => terms.push({ what, bytes: -bytes });
  const nameless = strength <= 0 || name + told === '';
  if (nameless && !speaks) {
    price('nothing names it', WORTH.unnamed);
    if (constant < 4) price('little in it is constant', WORTH.slight);
  }
  if (nameless && coverage < (speaks ? 0.5 : 0.7)) price('anything stands in it', WORTH.loose);
  const share = mixed * (dressed ? WORTH.mixed : WORTH.mixedAndPlain);
  if (mixed > 0) price('siblings are like it, and none of them', Math.round(change * share));
  if (apart > 0) price('others are called like it', Math.round(WORTH.apart * apart));
  if (constant < 3 && size < 3) price('it is tiny', speaks ? WORTH.tiny : WORTH.tinyAndPlain);
  return terms;
}

/**
 * What counts against a frame or a list, once it is known how it is written: used many times it may cost something, but one
 * that nothing names, of which only the root is the same everywhere, leaves nothing to change in one place.
 * @param saved bytes that all its places save
 * @param constant elements that all places have outside of slots, and lists
 */
export function frameTerms(choice: Standing & { terms: Term[] }, saved: number, constant: number): Term[] {
  const { name, told, tag, beside, places, terms, dressed } = choice;
  const nothing = (what: string) => [{ what, bytes: -Math.max(0, sumOf(terms)) }];
  // a cell or a row of a layout holds anything, however many of them stand in a row
  const isNamed = told !== '' || (name !== '' && isTelling(name));
  if (constant === 1 && !isNamed && (beside < 0.5 || !SPEAKING.has(tag)))
    return nothing('only its root is the same everywhere');
  if (saved >= 0) return [];
  if (!dressed) return nothing('it saves nothing, and no stylesheet knows it');
  const price = Math.min(WORTH.mostForFrame, Math.round((-saved * WORTH.frame) / places.length));
  return price === 0 ? [] : [{ what: 'it saves nothing, for few places', bytes: -price }];
}

/**
 * What counts against what is found beside components that are there: it has to save something, and what stands in their
 * templates was passed over when these were made.
 */
export function laterTerms(saved: number, isInTemplates: boolean): Term[] {
  const terms: Term[] = saved >= 0 ? [] : [{ what: 'it costs more than it saves', bytes: saved }];
  if (isInTemplates) terms.push({ what: 'part of what is a component already', bytes: -WORTH.passedOver });
  return terms;
}

export function sumOf(terms: Term[]): number {
  return terms.reduce((sum, { bytes }) => sum + bytes, 0);
}
