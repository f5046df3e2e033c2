/**
 * The frame that whole pages share: what stands in their heads and around their contents, as one component with slots.
 * Its template holds the tags of `html`, `head` and `body`, which the parser passes over in a template; so they must be
 * the same on all pages, to the letter. The doctype stays in the page.
 */
import { type Generalising, layoutFrameOf } from '../template/generalise.js';
import { type Occurrence, RUN } from '../fragments/occurrence.js';
import { rangeAt, type SlotPattern } from '../template/pattern.js';
import { folderOfPage } from '../component/expand.js';
import { type Page, placeAt } from '../page/parse.js';
import { type Child, type Element, elementsOf, HTML, newElement } from '../page/tree.js';
import { Problem } from '../errors.js';
import { findingFor } from './findings.js';
import type { Finding, Offer } from './types.js';
import { addTo } from '../groups.js';

interface Whole {
  occurrence: Occurrence;
  /** where the head ends and the body begins */
  between: [number, number];
  /** the tags of the frame */
  tags: string;
}

/** The layout of the pages that share most of one; null where fewer than `least` do. It is never recommended. */
export function layoutOf(pages: Page[], name: string, least: number, options: Generalising): Offer | null {
  const byTags = new Map<string, Whole[]>();
  for (const page of pages) {
    const whole = page.component === undefined ? wholeOf(page) : null;
    if (whole === null) continue;
    addTo(byTags, whole.tags, whole);
  }
  const [most] = [...byTags.values()].sort((a, b) => b.length - a.length);
  if (most === undefined || most.length < least) return null;
  const occurrences = most.map(({ occurrence }) => occurrence);
  const make = (): Finding => {
    const general = layoutFrameOf(occurrences, options);
    const crosses = (slot: SlotPattern) =>
      most.some(({ between: [from, to] }, i) => {
        const range = rangeAt(slot, i);
        return range !== null && range[0] < to && range[1] > from;
      });
    if (general === null || general.slots.length === 0 || general.slots.some(crosses))
      throw new Problem('no one frame can be written for these pages', {
        place: placeAt(most[0]!.occurrence.page, most[0]!.occurrence.element.start),
        hint: 'lift what their heads and bodies share: estrade survey',
      });
    return findingFor(name, general);
  };
  return { name, kind: 'frame', reason: 'the frame of whole pages is only offered', occurrences, finding: make };
}

function wholeOf(page: Page): Whole | null {
  const html = page.root.children.find((child) => child.kind === 'element');
  const [head, body] = ['head', 'body'].map((tag) => childOf(html, tag));
  const parts = [html, head, body];
  if (!parts.every((part): part is Element => part !== undefined && part.start >= 0 && part.closeStart >= 0))
    return null;
  // URLs resolve against a base, and that would be out of sight
  if (elementsOf(page.root).some(({ tag }) => tag === 'base')) return null;
  const [top, first, second] = parts as [Element, Element, Element];
  const { source } = page;
  const close = second.closeStart;
  const children = top.children
    .flatMap((child): Child[] => (child === first || child === second ? child.children : [child]))
    .flatMap((child) => upTo(close, child, source));
  const inOrder = children.every(
    ({ start, end }, i) => start >= 0 && end >= start && end <= close && (children[i - 1]?.end ?? top.openEnd) <= start,
  );
  if (!inOrder || children.length === 0) return null;
  const element = {
    ...newElement(RUN, HTML),
    ...{ children, parent: page.root },
    ...{ start: top.start, openEnd: top.start, closeStart: close, end: top.end },
  };
  const tags = [
    source.slice(top.start, first.openEnd),
    source.slice(first.closeStart, second.openEnd),
    source.slice(second.closeStart, top.end),
  ].map((text) => text.replace(/[\t\f\r ]*\n\s*/g, '\n'));
  return {
    occurrence: { page, element, end: top.end, folder: folderOfPage(page) },
    between: [first.closeStart, second.openEnd],
    tags: tags.join('\n'),
  };
}

/** A node as far as it stands before the end of the body; the parser takes white space after that into it. */
function upTo(close: number, node: Child, source: string): Child[] {
  if (node.start >= close) return [];
  if (node.kind !== 'text' || node.end <= close || node.value.trim() !== '') return [node];
  return [{ ...node, end: close, value: source.slice(node.start, close).replace(/\r\n?/g, '\n') }];
}

function childOf(parent: Child | undefined, tag: string): Element | undefined {
  return parent?.kind === 'element'
    ? parent.children.find((child): child is Element => child.kind === 'element' && child.tag === tag)
    : undefined;
}
