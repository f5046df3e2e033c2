/** From decoded source to a page: parse5 with source locations, into our own tree. */
import { parse, parseFragment as parse5Fragment } from 'parse5';
import { type Place, Problem, workingOn } from '../errors.js';
import { firstNotBefore } from '../search.js';
import { adapterFor } from './adapter.js';
import type { Prop } from './prop.js';
import type { Element, Parent, Root } from './tree.js';

/** The component whose template a page is, as far as pages are concerned. */
export interface Owner {
  name: string;
  props: Prop[];
  template: Element;
}

export interface Page {
  /** relative to the project's root, with `/` */
  path: string;
  source: string;
  root: Root;
  /** set where this is the markup of a component's template: its placeholders, blocks and slots mean something */
  component?: Owner;
  /** label of the encoding that the page is in, where that is not UTF-8: what says so must stay in it */
  encoding?: string;
  /** lets go of the tree, of which nothing is held any more: it is made anew where it is asked for again; absent where it stays */
  release?: () => void;
}

/**
 * Parses a whole document as a browser with scripting would.
 * @param encoding label of the encoding that its bytes are in
 */
export function parsePage(path: string, source: string, encoding = 'UTF-8'): Page {
  const root = workingOn(path, () => parse(source, { treeAdapter: adapterFor(source), sourceCodeLocationInfo: true }));
  root.end = source.length;
  const page = { path, source, root, ...(encoding === 'UTF-8' ? {} : { encoding }) };
  refuseDepth(page);
  return page;
}

/**
 * A page that is parsed when its tree is first asked for, which may throw then: where its text alone may do, or its tree is
 * needed only for a while.
 * @param encoding label of the encoding that its bytes are in
 */
export function parsedWhenAsked(path: string, source: string, encoding = 'UTF-8'): Page {
  let parsed: Page | null = null;
  return {
    path,
    source,
    get root() {
      return (parsed ??= parsePage(path, source)).root;
    },
    ...(encoding === 'UTF-8' ? {} : { encoding }),
    release: () => {
      parsed = null;
    },
  };
}

/** A page with this text: the page itself where it is its own, so that its tree serves; else one that is parsed when asked. */
export function pageWithText(page: Page, text: string): Page {
  return text === page.source ? page : parsedWhenAsked(page.path, text);
}

/** The tree of a page, which is parsed now where it was not yet. @throws Problem when it cannot be */
export function treeOf({ root }: Page): Root {
  return root;
}

/** Deeper than any browser nests (512), and as deep as plain recursion over a page is safe. */
const MAX_DEPTH = 1000;

/** @throws Problem with the place of the first element that stands too deep */
export function refuseDepth(page: Pick<Page, 'path' | 'source' | 'root'>): void {
  let level: Parent[] = [page.root];
  for (let depth = 0; level.length > 0; depth++) {
    const below: Parent[] = [];
    for (const parent of level) for (const child of parent.children) if (child.kind === 'element') below.push(child);
    if (depth > MAX_DEPTH)
      throw new Problem(`elements are nested more than ${MAX_DEPTH} deep`, {
        place: placeAt(page, below[0]?.start ?? 0),
        hint: 'close the elements that were left open, or leave this page out with the key "ignore"',
      });
    level = below;
  }
}

/** Parses `source` as the content of `context` (of `template`, when none is given); offsets are into `source`. */
export function parseFragment(source: string, context: Element | null = null): Root {
  const root = parse5Fragment(context, source, { treeAdapter: adapterFor(source), sourceCodeLocationInfo: true });
  root.end = source.length;
  return root;
}

const starts = new WeakMap<object, number[]>();

function lineStarts(holder: { source: string }): number[] {
  let found = starts.get(holder);
  if (found === undefined) {
    found = [0];
    const { source } = holder;
    if (source.includes('\r'))
      for (const { index, 0: end } of source.matchAll(/\r\n?|\n/g)) found.push(index + end.length);
    // to look for one character is quicker by far
    else for (let at = source.indexOf('\n'); at >= 0; at = source.indexOf('\n', at + 1)) found.push(at + 1);
    starts.set(holder, found);
  }
  return found;
}

/** Line and column, both from 1, of an offset into a page or any other holder of a source. */
export function placeAt(holder: { path: string; source: string }, offset: number): Place {
  const line = lineAt(holder, offset);
  return { path: holder.path, line: line + 1, column: offset - lineStarts(holder)[line]! + 1 };
}

/** The line, counted from 0, on which an offset stands. */
function lineAt(holder: { source: string }, offset: number): number {
  return Math.max(0, firstNotBefore(lineStarts(holder), (start) => start <= offset) - 1);
}

/** Offset of the start of a line, counted from 1. */
export function offsetAt(holder: { source: string }, line: number): number {
  return lineStarts(holder)[line - 1]!;
}

/** Number of lines, the last one counted when it holds anything. */
export function lineCount(holder: { source: string }): number {
  const lines = lineStarts(holder);
  return lines.at(-1) === holder.source.length ? lines.length - 1 : lines.length;
}

/** The white space at the start of the line on which `offset` stands. */
export function indentAt(holder: { source: string }, offset: number): string {
  const { source } = holder;
  const start = lineStarts(holder)[lineAt(holder, offset)]!;
  let end = start;
  while (end < offset && (source.charCodeAt(end) === 32 || source.charCodeAt(end) === 9)) end++;
  return source.slice(start, end);
}

/** The line end that the source uses: its first one, LF when it has none. */
export function eolOf(source: string): '\n' | '\r\n' {
  const at = source.indexOf('\n');
  return at > 0 && source.charCodeAt(at - 1) === 13 ? '\r\n' : '\n';
}
