/** How pages compare with what they were, in a sentence. */
import type { Sameness } from '../core/page/same.js';
import { count, number } from '../terminal/style.js';

/** `all 12 pages expand`, `both pages expand`, `the page expands`. */
export function pagesText(pages: number): string {
  if (pages < 3) return pages === 1 ? 'the page expands' : 'both pages expand';
  return `all ${number(pages)} pages expand`;
}

/** What may differ in markup that is the same (docs/sameness.md). */
const BUT = 'but for indentation and how tags are spelled';

/** How pages compare with what they were: `all 12 pages expand to exactly what they were`. */
export function samenessText(samenesses: Sameness[]): string {
  const of = (same: Sameness) => samenesses.filter((each) => each === same).length;
  const [all, exact, alike] = [samenesses.length, of('bytes'), of('markup')];
  if (all === exact + alike && (exact === all || exact === 0)) {
    const they = all === 1 ? 'it was' : 'they were';
    return `${pagesText(all)} to ${exact === all ? 'exactly ' : ''}what ${they}${exact === all ? '' : `, ${BUT}`}`;
  }
  const but = alike === 0 ? '' : `, ${number(alike)} ${BUT}`;
  const not = of('different') === 0 ? '' : `, and ${number(of('different'))} to something else`;
  return `${number(exact)} of ${count(all, 'page')} ${exact === 1 ? 'expands' : 'expand'} to exactly what ${exact === 1 ? 'it was' : 'they were'}${but}${not}`;
}
