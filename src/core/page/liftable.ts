/**
 * The definition behind the survey's fast answer: a fragment is liftable only when its own source range, parsed in its
 * context, gives exactly its subtree, and its nodes stand in that range in order, so that a template can be written.
 */
import { type Page, parseFragment } from './parse.js';
import { firstDifference } from './same.js';
import type { Element } from './tree.js';

/** Tags that the parser supplies around what stands in the source; other sourceless elements it made up, or copied. */
export const IMPLIED = new Set(['tbody', 'tr', 'colgroup', 'html', 'head', 'body']);

/** True where the parser copied formatting elements that are left open, so that one tag stands for several elements. */
export function hasCopies(elements: readonly Element[]): boolean {
  const spelled = elements.flatMap(({ start }) => (start < 0 ? [] : [start]));
  return new Set(spelled).size < spelled.length;
}

/** Asks the parser. Linear in the element's source. */
export function isLiftable(page: Page, element: Element): boolean {
  if (element.start < 0 || element.parent?.kind !== 'element') return false;
  const end = element.closeStart >= 0 ? element.closeStart : element.end;
  if (orderedTo(page.source, element, element.openEnd, end) < 0) return false;
  const alone = parseFragment(page.source.slice(element.start, element.end), element.parent);
  const [only] = alone.children;
  return alone.children.length === 1 && firstDifference(element, only!, true) === null;
}

/** Where the children's source ends, or -1 when they are out of order; `{{` between them would mean something. */
function orderedTo(source: string, element: Element, start: number, end: number): number {
  let at = start;
  for (const child of element.children) {
    if (child.start < 0) {
      at = child.kind === 'element' && IMPLIED.has(child.tag) ? orderedTo(source, child, at, end) : -1;
    } else {
      if (child.start < at || child.end > end || source.slice(at, child.start).includes('{{')) return -1;
      const last = child.kind === 'element' && child.closeStart >= 0 ? child.closeStart : child.end;
      if (child.kind === 'element' && orderedTo(source, child, child.openEnd, last) < 0) return -1;
      at = child.end;
    }
    if (at < 0) return -1;
  }
  return source.slice(at, end).includes('{{') ? -1 : at;
}
