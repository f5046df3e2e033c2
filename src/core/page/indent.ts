/** Indentation: which lines may be indented otherwise, and how they are moved from one depth to another. */
import { valueOf } from './attribute.js';
import { indentAt, type Page } from './parse.js';
import { isPreformatted } from './same.js';
import { firstNotBefore } from '../search.js';
import { type Child, type Element, elementsOf, type Parent } from './tree.js';

/** A line break, and the white space at the start of the line after it. */
const BREAK = /(\r\n|\n|\r)([ \t]*)/g;

/**
 * Text with the indentation `from` of its lines replaced by `to`. A line that is indented less is so by as many characters
 * afterwards; an empty one stays empty.
 * @param text whose first line is the rest of one, and stays
 * @param ends what follows the text begins a line of its own: a break at its end is left alone
 */
export function movedLines(text: string, from: string, to: string, ends = false): string {
  if (from === to && !ends) return text;
  return text.replace(BREAK, (whole: string, eol: string, own: string, at: number) => {
    const next = at + whole.length;
    const isEmpty = own === '' && (next === text.length ? ends : isBreak(text.charCodeAt(next)));
    return isEmpty ? whole : eol + movedIndent(own, from, to);
  });
}

/** Indentation that begins with `from`, beginning with `to`; where it is less than that, as many characters less than `to`. */
export function movedIndent(own: string, from: string, to: string): string {
  if (own.startsWith(from)) return to + own.slice(from.length);
  return to.slice(0, Math.max(0, to.length - Math.max(0, from.length - own.length)));
}

const elements = new WeakMap<object, Element[]>();

/**
 * The indentation of the lines of what stands in an element, less one step: that of the line on which the innermost element
 * around a range begins.
 * @param outer where it stands for the whole: what is not around the range in here has the indentation of that
 */
export function holderIndent(page: Pick<Page, 'root' | 'source'>, [start, end]: Range, outer: number): string {
  let sorted = elements.get(page.root);
  if (sorted === undefined) {
    sorted = elementsOf(page.root).filter(({ start: from, openEnd }) => from >= 0 && openEnd >= 0);
    sorted.sort((a, b) => a.openEnd - b.openEnd);
    elements.set(page.root, sorted);
  }
  let holder: Parent | null = sorted[firstNotBefore(sorted, ({ openEnd }) => openEnd <= start) - 1] ?? null;
  const isAround = (each: Element) => each.start >= 0 && (each.closeStart >= 0 ? each.closeStart : each.end) >= end;
  while (holder?.kind === 'element' && !isAround(holder)) holder = holder.parent;
  return indentAt(page, holder?.kind === 'element' && holder.start >= outer ? holder.start : outer);
}

/** Columns that white space takes, a tab four of them. */
export function columnsOf(space: string): number {
  return space.length + 3 * (space.split('\t').length - 1);
}

const steps = new WeakMap<object, string>();

/** One step of indentation: the one by which most lines that begin with a tag are deeper than the line before; two spaces where none is. */
export function stepOf(page: { source: string }): string {
  const known = steps.get(page);
  if (known !== undefined) return known;
  const counts = new Map<string, number>();
  let before = '';
  for (const [, own] of page.source.matchAll(/(?:^|[\n\r])([ \t]*)(?=<[a-z])/gi)) {
    const deeper = own!.startsWith(before) ? own!.slice(before.length) : '';
    if (STEP.test(deeper)) counts.set(deeper, (counts.get(deeper) ?? 0) + 1);
    before = own!;
  }
  const [step] = [...counts].reduce((most, each) => (each[1] > most[1] ? each : most), ['  ', 0]);
  steps.set(page, step);
  return step;
}

/** What is taken for one step. */
const STEP = /^(\t| {1,8})$/;

function isBreak(code: number): boolean {
  return code === 10 || code === 13;
}

/** True for text whose first line holds nothing. */
export function beginsWithBreak(text: string): boolean {
  return /^[ \t]*[\n\r]/.test(text);
}

/** True for what stands on lines of its own between two tags: it begins and ends with a line break. */
export function hasOwnLines(content: string): boolean {
  return /^[ \t]*[\n\r](?:[^]*[\n\r])?[ \t]*$/.test(content);
}

/** A range in UTF-16 units. */
type Range = [start: number, end: number];

const fixed = new WeakMap<object, Range[]>();

/**
 * The source from `start` to `end` with the indentation `from` of its lines replaced by `to`; where white space shows, in
 * comments and in attribute values lines stay as they are.
 */
export function movedSource(
  page: Pick<Page, 'root' | 'source'>,
  [start, end]: Range,
  from: string,
  to: string,
): string {
  const { source } = page;
  if (from === to) return source.slice(start, end);
  const ranges = fixedRanges(page);
  let text = '';
  let at = start;
  for (let i = firstNotBefore(ranges, (range) => range[1] <= start); i < ranges.length && ranges[i]![0] < end; i++) {
    const [begins, ends] = [Math.max(at, ranges[i]![0]), Math.min(end, ranges[i]![1])];
    text += movedLines(source.slice(at, begins), from, to) + source.slice(begins, Math.max(begins, ends));
    at = Math.max(at, ends);
  }
  return text + movedLines(source.slice(at, end), from, to);
}

/** Ranges of a page whose lines stay as they are: where white space shows, in comments and in attribute values; in order, none in another. */
function fixedRanges(page: Pick<Page, 'root' | 'source'>): Range[] {
  const known = fixed.get(page.root);
  if (known !== undefined) return known;
  const ranges: Range[] = [];
  const visit = (node: Child): void => {
    if (node.kind === 'comment') ranges.push([node.start, node.end]);
    if (node.kind !== 'element') return;
    if (node.start >= 0)
      for (const attr of node.attrs) {
        if (attr.start < 0 || !/[\n\r]/.test(attr.value)) continue;
        const { raw, start } = valueOf(page.source, attr);
        ranges.push([start, start + raw.length]);
      }
    if (node.openEnd >= 0 && isPreformatted(node))
      ranges.push([node.openEnd, node.closeStart >= 0 ? node.closeStart : node.end]);
    else node.children.forEach(visit);
  };
  page.root.children.forEach(visit);
  ranges.sort((a, b) => a[0] - b[0]);
  fixed.set(page.root, ranges);
  return ranges;
}
