/** Where a fragment stands: an element, or a run of adjacent siblings, in a page or in the template of a component. */
import type { Page } from '../page/parse.js';
import { isSpace } from '../page/space.js';
import { newElement, type Child, type Element } from '../page/tree.js';

/** One place where a fragment stands; `folder` is what its relative URLs resolve against, null when unknown. */
export interface Occurrence {
  page: Page;
  /** its root; a run of siblings has one of the tag `RUN` made for it, with the run's source range */
  element: Element;
  /** where its source ends: as the element's, without white space that only stands in it for want of an end tag */
  end: number;
  folder: string | null;
}

/** Tag of the root that stands for a run of siblings: no parser gives it. */
export const RUN = '#run';

/** The element of an occurrence, or the first one of a run. */
export function firstElementOf(element: Element): Element {
  return element.tag === RUN ? (element.children[0] as Element) : element;
}

/** An element, or the root of a run, as an occurrence. */
export function occurrenceOf(page: Page, element: Element, folder: string | null): Occurrence {
  return { page, element, end: fragmentEnd(page.source, element), folder };
}

/** The root that stands for `span` elements from `first` on, and what is between them. */
export function runFrom(first: Element, span: number): Element {
  const siblings = first.parent!.children;
  const from = siblings.indexOf(first);
  let to = from;
  for (let left = span; left > 0; to++) if (siblings[to]!.kind === 'element') left--;
  return runOf(siblings.slice(from, to), first);
}

/** The root that stands for `children`, of which `first` is an element. */
export function runOf(children: Child[], { ns, parent }: Element): Element {
  const [start, end] = [children[0]!.start, children.at(-1)!.end];
  return { ...newElement(RUN, ns), children, parent, start, openEnd: start, closeStart: end, end };
}

function fragmentEnd(source: string, element: Element): number {
  let { end } = element;
  if (element.closeStart >= 0) return end;
  while (end > element.openEnd && isSpace(source.charCodeAt(end - 1))) end--;
  return end;
}
