/** Proves that two sets of stylesheets dress the same pages alike: every winner of every element is the same. */
import type { Page } from '../page/parse.js';
import { attrOf, type Element, elementsOf } from '../page/tree.js';
import type { Cascade } from './cascade.js';
import { type Candidate, matchAll, pageIndexOf } from './match.js';
import { applyingTo, difference, type Entry, winnersOf } from './winners.js';

export interface CascadeDifference {
  page: Page;
  element: Element;
  /** `::before color`, a longhand with its pseudo-element in front */
  property: string;
  before: Entry | null;
  after: Entry | null;
}

/** The first place where what wins differs, or null. Elements that the same rules match are looked at once. */
export function compareCascades(page: Page, before: Cascade, after: Cascade): CascadeDifference | null {
  const elements = elementsOf(page.root);
  const mine = matchAll(pageIndexOf(before, elements), elements);
  const others = matchAll(pageIndexOf(after, elements), elements);
  const seen = new Set<string>();
  for (const element of elements) {
    const one = mine.get(element)!;
    const two = others.get(element)!;
    const key = `${signature(one)} ${signature(two)} ${attrOf(element, 'style') ?? ''}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const first = applyingTo(element, one, before);
    const second = applyingTo(element, two, after);
    for (const property of new Set([...first.keys(), ...second.keys()])) {
      const found = difference(winnersOf(first.get(property) ?? []), winnersOf(second.get(property) ?? []));
      if (found !== null) return { page, element, property, before: found[0], after: found[1] };
    }
  }
  return null;
}

/** Names the rules that match an element. */
export function signature(matched: readonly Candidate[]): string {
  return matched.map(({ id }) => id).join();
}
