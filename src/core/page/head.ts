/** Where something can be put first into the head of a page, so that all else is parsed as without it. */
import type { Page } from './parse.js';
import { type Child, type Element } from './tree.js';

/**
 * @returns the UTF-16 offset at which an element of the head can be written as its first: after the start tag of the head,
 * or, where that is left out, before what makes the parser begin one
 */
export function headOffset({ root, source }: Page): number {
  const html = elementIn(root.children, 'html');
  const head = html === undefined ? undefined : elementIn(html.children, 'head');
  if (head !== undefined && head.start >= 0) return head.openEnd;
  const body =
    html === undefined ? undefined : (elementIn(html.children, 'body') ?? elementIn(html.children, 'frameset'));
  const starts = [...(head?.children ?? []), ...(body === undefined || body.start >= 0 ? [] : body.children)]
    .filter(({ kind, start }) => start >= 0 && kind !== 'comment')
    .map(({ start }) => start);
  if (body !== undefined && body.start >= 0) starts.push(body.start);
  return starts.length === 0 ? source.length : Math.min(...starts);
}

function elementIn(children: readonly Child[], tag: string): Element | undefined {
  return children.find((child): child is Element => child.kind === 'element' && child.tag === tag);
}
