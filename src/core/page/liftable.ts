/**
 * The definition behind the survey's fast answer: a fragment is liftable only when its own source range, parsed in its
 * context, gives exactly its subtree.
 */
import { type Page, parseFragment } from './parse.js';
import { firstDifference } from './same.js';
import type { Element } from './tree.js';

/** Asks the parser. Linear in the element's source. */
export function isLiftable(page: Page, element: Element): boolean {
  if (element.start < 0 || element.parent?.kind !== 'element') return false;
  const alone = parseFragment(page.source.slice(element.start, element.end), element.parent);
  const [only] = alone.children;
  return alone.children.length === 1 && firstDifference(element, only!, true) === null;
}
