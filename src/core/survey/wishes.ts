/** What a developer who points wishes for, and what may be wished. */
import { impossiblePropName } from '../component/names.js';
import { Problem } from '../errors.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { placeAt } from '../page/parse.js';
import type { Value } from '../template/pattern.js';
import { GLOBAL_ATTRIBUTES } from '../page/prop.js';
import { isDeeperThan, MOST_LEVELS } from '../page/tree.js';
import { asName } from '../words/names.js';
import type { Finding } from './types.js';

export interface Wishes {
  /** what the component is called; null for a name of ours */
  name: string | null;
  /** props, by the names that they would have, and what they are called instead */
  props: ReadonlyMap<string, string>;
  /** CSS selectors of what is poured in */
  slots: string[];
  /** props that keep their first value; places with another one stay as they are */
  fixed: string[];
}

export interface Pointed {
  finding: Finding;
  /** of a single place: what could be named to become a prop, with its text */
  nameable: { name: string; text: string }[];
  /** places that a fixed prop leaves out */
  leftOut: Occurrence[];
}

/** A value as one text, to be compared. */
export function textOf(value: Value): string {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? value.value : JSON.stringify(value);
}

/** @throws Problem where elements are nested deeper in a place than a template can be made of */
export function refuseDeepPlaces(occurrences: readonly Occurrence[]): void {
  for (const { page, element } of occurrences)
    if (isDeeperThan(element, MOST_LEVELS))
      throw new Problem(`elements are nested more than ${MOST_LEVELS} deep here: no template can be written for this`, {
        place: placeAt(page, element.start),
        hint: 'close those that were left open, or point at what stands further in',
      });
}

/** What could have been meant. */
export function namesHint(names: string[]): string {
  return names.length === 0 ? 'nothing varies in it' : `there are ${names.join(', ')}`;
}

/**
 * @param names of all props
 * @param chosen those among them that somebody chose
 * @throws Problem (exit 2) where one that was chosen is no name that a prop may have, or two props have one
 */
export function refuseNames(names: string[], chosen: Iterable<string>): void {
  for (const name of chosen) if (asName(name) !== name || GLOBAL_ATTRIBUTES.has(name)) throw impossiblePropName(name);
  const seen = new Set<string>();
  for (const name of names) {
    if (seen.has(name))
      throw new Problem(`two props would be called "${name}"`, { hint: 'rename one of them: --props old=new' });
    seen.add(name);
  }
}
