/**
 * Aligns alike subtrees into one pattern: partial tree alignment over the whole group. Sequences of children are merged
 * into a master sequence by longest common subsequences, the longest and then alphabetically first one as the seed, so
 * that the order in which occurrences come does not matter. What an occurrence lacks is null there.
 * (Zhai and Liu, "Web data extraction based on partial tree alignment", 2005.)
 */
import { type Child, classWords, type Comment, type Element, RAW_TEXT, type Text } from '../page/tree.js';
import { trimmed } from '../survey/profile.js';

interface Aligned<T extends Child> {
  /** one an occurrence, null where it has no such node */
  nodes: (T | null)[];
}

export interface ElementPattern extends Aligned<Element> {
  kind: 'element';
  children: Pattern[];
}
export interface TextPattern extends Aligned<Text> {
  kind: 'text';
  /** its white space shows */
  verbatim: boolean;
}
export interface CommentPattern extends Aligned<Comment> {
  kind: 'comment';
}
export type Pattern = ElementPattern | TextPattern | CommentPattern;

/** Longer or more varied sequences of children are not one component. */
const MAX_LENGTH = 80;
const MAX_SEQUENCES = 24;

/**
 * Puts the children of aligned elements into columns, one node or null an occurrence.
 * @param exact the elements are of one shape: their children stand in one place by number
 * @returns null when they are too varied
 */
export function alignChildren(nodes: (Element | null)[], verbatim: boolean, exact: boolean): (Child | null)[][] | null {
  const first = nodes.find((node) => node !== null)!;
  const byNumber = () => first.children.map((_, at) => nodes.map((node) => node?.children[at] ?? null));
  if (exact) {
    const { length } = first.children;
    return nodes.some((node) => node !== null && node.children.length !== length) ? null : byNumber();
  }
  const raw = RAW_TEXT.has(first.tag);
  const rows = nodes.map((node) => (node === null ? null : rowOf(node.children, verbatim, raw)));
  const own = rows.find((row) => row !== null)!;
  if (rows.every((row) => row === null || row === own)) return byNumber();
  // raw text is the same everywhere, or the elements are not alike
  const columns = raw ? null : mergeRows(rows);
  if (columns === null) return null;
  const filled = columns.map((column) =>
    nodes.map((node, i) => (column[i] === -1 ? null : node!.children[column[i]!]!)),
  );
  // running text with and without markup in it is not one text that comes and goes
  const partial = (column: (Child | null)[]) => column.some((child, i) => child === null && nodes[i] !== null);
  const speaks = (child: Child | null) => child?.kind === 'text' && !isSpace(child);
  if (filled.some((column) => partial(column) && column.some(speaks))) return null;
  return leadWithSpace(filled);
}

const END = '\u0000';

function rowOf(children: Child[], verbatim: boolean, raw: boolean): string {
  let row = '';
  for (const child of children) row += tokenOf(child, verbatim, raw) + END;
  return row;
}

/** True for a text node of white space only. */
export function isSpace(node: Child | null | undefined): boolean {
  return node?.kind === 'text' && trimmed(node.value)[0] === node.value.length;
}

/** What a node must share with another to stand in one place with it. */
function tokenOf(node: Child, verbatim: boolean, raw: boolean): string {
  if (node.kind === 'element') return `<${node.tag} ${classWords(node)[0]?.replace(/--.*$/, '') ?? ''}`;
  if (node.kind === 'comment') return `!${node.value}`;
  if (node.kind === 'doctype') return '?';
  if (raw) return `r${node.value}`;
  if (verbatim) return 't';
  return isSpace(node) ? `w${spaceKind(node.value)}` : `t${spacesAround(node.value)}`;
}

/** The kinds of white space before and after a text: none, a run with a line break, or exactly which other run. */
export function spacesAround(value: string): string {
  const [lead, trail] = trimmed(value);
  return `${spaceKind(value.slice(0, lead))}|${spaceKind(value.slice(value.length - trail))}`;
}

function spaceKind(space: string): string {
  return space.includes('\n') ? '\n' : space;
}

/**
 * Merges sequences of tokens, each token ended by `\\0`; a null row is an absent parent.
 * @returns a column a place: for each row the index of its token there, -1 where it has none; null when too varied
 */
export function mergeRows(rows: (string | null)[]): number[][] | null {
  const distinct = new Map<string, string[]>();
  for (const row of rows) if (row !== null && !distinct.has(row)) distinct.set(row, row.split(END).slice(0, -1));
  if (distinct.size > MAX_SEQUENCES) return null;
  const keys = [...distinct.keys()].sort(
    (a, b) => distinct.get(b)!.length - distinct.get(a)!.length || (a < b ? -1 : 1),
  );
  let master: { token: string; at: Map<string, number> }[] = [];
  for (const key of keys) {
    const row = distinct.get(key)!;
    if (row.length > MAX_LENGTH) return null;
    const pairs = commonSubsequence(
      master.map(({ token }) => token),
      row,
    );
    const merged: typeof master = [];
    let m = 0;
    let r = 0;
    for (const [i, j] of [...pairs, [master.length, row.length] as const]) {
      while (m < i) merged.push(master[m++]!);
      while (r < j) merged.push({ token: row[r]!, at: new Map([[key, r++]]) });
      if (i < master.length) {
        master[i]!.at.set(key, j);
        merged.push(master[m++]!);
        r++;
      }
    }
    master = merged;
    if (master.length > MAX_LENGTH) return null;
  }
  return master.map(({ at }) => rows.map((row) => (row === null ? -1 : (at.get(row) ?? -1))));
}

/** A longest common subsequence as pairs of indices; the earliest one of the first sequence where there are several. */
function commonSubsequence(a: string[], b: string[]): [number, number][] {
  const lengths = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1));
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      lengths[i]![j] = a[i] === b[j] ? lengths[i + 1]![j + 1]! + 1 : Math.max(lengths[i + 1]![j]!, lengths[i]![j + 1]!);
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (a[i] === b[j]) pairs.push([i++, j++]);
    else if (lengths[i + 1]![j]! >= lengths[i]![j + 1]!) i++;
    else j++;
  }
  return pairs;
}

/**
 * A part that comes and goes takes the white space before it along, not that after it: where the alignment has a run
 * `x space` after a constant space, the two spaces change places.
 */
function leadWithSpace(columns: (Child | null)[][]): (Child | null)[][] {
  const result = columns.map((column) => [...column]);
  const presence = (column: (Child | null)[]) => column.map((node) => (node === null ? '0' : '1')).join('');
  const space = (column: (Child | null)[] | undefined) => isSpace(column?.find((node) => node !== null));
  for (let start = 1; start < result.length; start++) {
    const key = presence(result[start]!);
    if (key === presence(result[start - 1]!)) continue;
    let end = start;
    while (end + 1 < result.length && presence(result[end + 1]!) === key) end++;
    const [before, last] = [result[start - 1]!, result[end]!];
    const covers = result[start]!.every((node, i) => node === null || before[i] !== null);
    if (end === start || !covers || !space(before) || !space(last) || space(result[start])) continue;
    const constant = before.map((node, i) => last[i] ?? node);
    const optional = before.map((node, i) => (last[i] === null ? null : node));
    result.splice(start - 1, end - start + 2, optional, ...result.slice(start, end), constant);
    start = end;
  }
  return result;
}
