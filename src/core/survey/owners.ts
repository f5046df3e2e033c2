/** What is found out of a set of places, and which chosen part each element belongs to. */
import type { Candidate, Site } from '../fragments/site.js';

/** What has been found out of a set of places. */
export interface Standing {
  candidate: Candidate;
  places: number[];
  tag: string;
  /** what all places are called by their own words; '' where they are not called alike */
  name: string;
  /** what an attribute calls them all; '' for nothing */
  told: string;
  /** places that count */
  count: number;
  /** paths that so many places have that they are part of a template */
  known: ReadonlySet<number>;
  /** how many paths nearly all places have, and what share of a place's own that is */
  constant: number;
  coverage: number;
  /** share of what is called alike that is none of the places */
  apart: number;
  /** share of the places that have another one beside them */
  beside: number;
  /** share of the elements of the same label beside its places, under the same parents, that are none of them */
  mixed: number;
  /** number of elements of a place */
  size: number;
  /** what speaks for a part of its own: its word, and its tag */
  strength: number;
  speaks: boolean;
  /** text and what structures it: nothing says what it is, and nothing in it is the same at most places */
  prose: boolean;
  /** a class word on a root that some stylesheet has rules for */
  dressed: boolean;
}

/** The chosen parts, by the numbers of elements. */
export interface Owners {
  /** the one that an element is the root of; undefined for none */
  at: readonly (Standing | undefined)[];
  /** the nearest root of one around an element, -1 for none */
  around: Int32Array;
}

/** The chosen parts, each at all its places; runs own nothing. */
export function ownersOf(chosen: Iterable<Standing>, { elements, parent }: Site): Owners {
  const at = new Array<Standing | undefined>(elements.length).fill(undefined);
  for (const standing of chosen)
    if (standing.candidate.spans === null) for (const i of standing.places) at[i] = standing;
  const around = new Int32Array(elements.length).fill(-1);
  for (let i = 0; i < elements.length; i++) {
    const outer = parent[i]!;
    if (outer >= 0) around[i] = at[outer] === undefined ? around[outer]! : outer;
  }
  return { at, around };
}

/** True for the same places in the same order. */
export function areSamePlaces(some: readonly number[], others: readonly number[]): boolean {
  return some === others || (some.length === others.length && some.every((each, i) => each === others[i]));
}
