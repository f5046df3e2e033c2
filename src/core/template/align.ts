/**
 * Aligns alike subtrees into one pattern: partial tree alignment over the whole group. Sequences of children are merged
 * into a master sequence by longest common subsequences, the longest and then alphabetically first one as the seed, so
 * that the order in which occurrences come does not matter. What an occurrence lacks is null there.
 * (Zhai and Liu, "Web data extraction based on partial tree alignment", 2005.)
 */
import { type Child, type Element, RAW_TEXT } from '../page/tree.js';
import { isSpace, isSpaceText, spaceKind, spacesAround } from '../page/space.js';
import { firstOf } from './pattern.js';

/** Longer or more varied sequences of children are not one component. */
const MAX_LENGTH = 80;
const MAX_SEQUENCES = 24;

/** A place among the children of aligned elements. */
export type Column =
  | { kind: 'node'; nodes: (Child | null)[] }
  /** a child that repeats: its items and the white space before each, null where the parent is not */
  | { kind: 'star'; runs: (Child[] | null)[] }
  /** what does not align; ranges are up to what stands around it */
  | { kind: 'gap' };

const END = '\u0000';
const STAR = '*';

/** One or several children that stand in one place, by their numbers. */
interface Unit {
  token: string;
  from: number;
  count: number;
}

/** The children of an element as units; elements with equal children share one. */
interface Row {
  key: string;
  units: Unit[];
}

/** What an element is called by its own words; '' for none. */
export type NameOf = (element: Element) => string;

/** The children of aligned elements, read once for all ways of aligning them. */
export interface Children {
  parents: (Element | null)[];
  rows: (Row | null)[];
  /** the same where elements of one place have children of the same tags, too */
  fineRows: () => (Row | null)[];
}

export function childrenOf(parents: (Element | null)[], verbatim: boolean, nameOf: NameOf): Children {
  return {
    parents,
    rows: rowsOf(parents, verbatim, nameOf, false),
    fineRows: () => rowsOf(parents, verbatim, nameOf, true),
  };
}

/**
 * Puts the children of aligned elements into columns. Children that repeat in varying number are one column, and where
 * the sequences are too varied what they share at both ends is aligned, with a gap between. Elements meet by tag and
 * name; where that leaves some places empty, by what they hold too, if fewer are empty then.
 * @param lists which repeats are one column: none, those that stand in varying number, or those of equal number too
 */
export function alignChildren({ parents, rows, fineRows }: Children, lists: 'none' | 'uneven' | 'all'): Column[] {
  if (lists !== 'none') return alignBy(rows, parents, lists);
  // nearly all elements of one place have the same children
  if (new Set(rows).size - (rows.includes(null) ? 1 : 0) === 1) return inOrder(rows, parents);
  const coarse = alignBy(rows, parents, 'none');
  const empty = emptyPlaces(coarse, parents);
  if (empty === 0) return coarse;
  const fine = alignBy(fineRows(), parents, 'none');
  return emptyPlaces(fine, parents) < empty ? fine : coarse;
}

/** The children of elements that all have the same ones. */
function inOrder(rows: (Row | null)[], nodes: (Element | null)[]): Column[] {
  const { units } = firstOf(rows);
  return units.map((_, at) => ({ kind: 'node', nodes: nodes.map((node) => node?.children[at] ?? null) }));
}

/** How many places are empty at some occurrence; more than any number where something does not align. */
function emptyPlaces(columns: Column[], nodes: (Element | null)[]): number {
  if (columns.some(({ kind }) => kind === 'gap')) return Infinity;
  return columns.filter((column) => isPartial(column, nodes)).length;
}

/** True for a column that some of the elements have nothing in. */
export function isPartial(column: Column, parents: (Element | null)[]): boolean {
  return column.kind !== 'node' || column.nodes.some((node, i) => node === null && parents[i] !== null);
}

/**
 * The children of each element as units; elements with equal children share one row.
 * @param fine elements of one place have children of the same tags, too
 */
function rowsOf(nodes: (Element | null)[], verbatim: boolean, nameOf: NameOf, fine: boolean): (Row | null)[] {
  const reading: Reading = { verbatim, raw: RAW_TEXT.has(firstOf(nodes).tag), fine, nameOf };
  const distinct = new Map<string, Row>();
  let before: { children: Child[]; names: string[]; row: Row } | null = null;
  return nodes.map((node): Row | null => {
    if (node === null) return null;
    const { children } = node;
    // mostly like the one before
    if (before !== null && areAlike(children, before, reading)) return before.row;
    let key = '';
    for (const child of children) key += tokenOf(child, reading) + END;
    let row = distinct.get(key);
    if (row === undefined) distinct.set(key, (row = rowOf(key)));
    const names = children.map((child) => (child.kind === 'element' ? nameOf(child) : ''));
    before = { children, names, row };
    return row;
  });
}

/** How children are read. */
interface Reading {
  verbatim: boolean;
  /** their text is raw */
  raw: boolean;
  fine: boolean;
  nameOf: NameOf;
}

/** True for children that have the same tokens as others, which are called `names`, as far as can be told without making them. */
function areAlike(
  children: Child[],
  others: { children: Child[]; names: string[] },
  { verbatim, raw, fine, nameOf }: Reading,
): boolean {
  if (children.length !== others.children.length) return false;
  for (const [i, child] of children.entries()) {
    const other = others.children[i]!;
    if (child.kind === 'element') {
      if (fine || other.kind !== 'element' || child.tag !== other.tag || nameOf(child) !== others.names[i])
        return false;
    } else {
      if (child.kind !== 'text' || other.kind !== 'text') return false;
      const isSame = child.value === other.value || (!raw && (verbatim || areBareTexts(child.value, other.value)));
      if (!isSame) return false;
    }
  }
  return true;
}

/** True for texts without white space around them. */
function areBareTexts(one: string, other: string): boolean {
  return [one, other].every(
    (value) => value !== '' && !isSpace(value.charCodeAt(0)) && !isSpace(value.charCodeAt(value.length - 1)),
  );
}

function alignBy(read: (Row | null)[], nodes: (Element | null)[], lists: 'none' | 'uneven' | 'all'): Column[] {
  const first = firstOf(nodes);
  let rows = read;
  const all = [...new Set(rows.filter((row) => row !== null))];
  const stars = lists === 'none' ? new Set<string>() : starred(all, isContainer(first) ? 2 : REPEATS, lists === 'all');
  if (stars.size > 0) {
    const collapsed = new Map(all.map((row) => [row, collapse(row, stars)]));
    rows = rows.map((row) => row && collapsed.get(row)!);
  }
  // raw text is the same everywhere, or the elements are not alike
  const merged = mergeRows(rows.map((row) => row?.key ?? null));
  const raw = RAW_TEXT.has(first.tag);
  if (merged === null || (raw && merged.some((column) => column.includes(-1)))) return alignEnds(rows, nodes);
  return leadWithSpace(merged.map((column) => columnOf(column, rows, nodes)));
}

function rowOf(key: string): Row {
  const tokens = key.split(END).slice(0, -1);
  return { key, units: tokens.map((token, from) => ({ token, from, count: 1 })) };
}

/** The column of the units with the given number in each row, -1 where there is none. */
function columnOf(numbers: number[], rows: (Row | null)[], nodes: (Element | null)[]): Column {
  const unitAt = (i: number) => rows[i]?.units[numbers[i]!];
  const first = numbers.findIndex((_, i) => unitAt(i) !== undefined);
  if (!unitAt(first)!.token.startsWith(STAR)) {
    return { kind: 'node', nodes: nodes.map((node, i) => node?.children[unitAt(i)?.from ?? -1] ?? null) };
  }
  const runs = nodes.map((node, i) => {
    const { from, count } = unitAt(i) ?? { from: 0, count: 0 };
    return node?.children.slice(from, from + count) ?? null;
  });
  return { kind: 'star', runs };
}

/** Aligns what all rows start and end with. */
function alignEnds(rows: (Row | null)[], nodes: (Element | null)[]): Column[] {
  const there = [...new Set(rows.filter((row) => row !== null))];
  const shortest = Math.min(...there.map(({ units }) => units.length));
  const same = (at: number) => there.every(({ units }) => units.at(at)!.token === there[0]!.units.at(at)!.token);
  const column = (at: number) =>
    columnOf(
      rows.map((row) => (row === null ? -1 : (row.units.length + at) % row.units.length)),
      rows,
      nodes,
    );
  const before: Column[] = [];
  const after: Column[] = [];
  for (let at = 0; at < shortest && same(at); at++) before.push(column(at));
  for (let at = -1; -at <= shortest - before.length && same(at); at--) after.unshift(column(at));
  return [...before, { kind: 'gap' }, ...after];
}

const SPACE = 'w';

/** So often must an element stand in a row somewhere to be an item of a list; twice where nothing but items may stand. */
const REPEATS = 3;
const CONTAINERS = new Set('ul ol menu tbody thead tr select datalist optgroup'.split(' '));

/** True for an element in which nothing but items may stand. */
export function isContainer({ tag }: Element): boolean {
  return CONTAINERS.has(tag);
}

/** Paragraphs that follow each other are text, not records. */
const PROSE = '<p  ';

function starred(rows: Row[], least: number, even: boolean): Set<string> {
  const candidates = new Set<string>();
  for (const { units } of rows)
    for (const { token } of units) if (token.startsWith('<') && token !== PROSE) candidates.add(token);
  const counts = new Map<string, { most: number; counts: Set<string> }>();
  for (const row of rows) {
    const mine = new Map<string, number[]>();
    for (const { token, count } of collapse(row, candidates).units) {
      if (!token.startsWith(STAR)) continue;
      const name = token.slice(token.indexOf('<'));
      mine.set(name, [...(mine.get(name) ?? []), token.startsWith(STAR + SPACE) ? count / 2 : count]);
    }
    for (const token of candidates) {
      const runs = mine.get(token) ?? [0];
      const entry = counts.get(token) ?? { most: 0, counts: new Set() };
      entry.most = Math.max(entry.most, ...runs);
      entry.counts.add(runs.join());
      counts.set(token, entry);
    }
  }
  return new Set(
    [...candidates].filter((token) => {
      const { most, counts: all } = counts.get(token)!;
      return most >= least && (even || all.size > 1);
    }),
  );
}

/** Makes one unit of what repeats: items with the same white space before each, or with none. */
function collapse({ units }: Row, stars: ReadonlySet<string>): Row {
  const result: Unit[] = [];
  for (let at = 0; at < units.length;) {
    const lead = units[at]!.token.startsWith(SPACE) ? units[at]!.token : '';
    const step = lead === '' ? 1 : 2;
    const item = units[at + step - 1]?.token ?? '';
    if (!stars.has(item)) {
      result.push(units[at++]!);
      continue;
    }
    const from = at;
    while (units[at + step - 1]?.token === item && (lead === '' || units[at]!.token === lead)) at += step;
    result.push({ token: STAR + lead + item, from, count: at - from });
  }
  return { key: result.map(({ token }) => token + END).join(''), units: result };
}

/** What a node must share with another to stand in one place with it. */
function tokenOf(node: Child, { verbatim, raw, fine, nameOf }: Reading): string {
  if (node.kind === 'element') {
    const inner = fine ? node.children.map((child) => (child.kind === 'element' ? child.tag : '')).join(' ') : '';
    return `<${node.tag} ${nameOf(node)} ${inner.trim()}`;
  }
  if (node.kind === 'comment') return `!${node.value}`;
  if (node.kind === 'doctype') return '?';
  if (raw) return `r${node.value}`;
  if (verbatim) return 't';
  return isSpaceText(node) ? `w${spaceKind(node.value)}` : `t${spacesAround(node.value)}`;
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
function leadWithSpace(columns: Column[]): Column[] {
  if (!columns.some(isSpaceColumn)) return columns;
  const result = columns.map((column) => ({ column, key: presenceIn(column) }));
  const nodesAt = (at: number) => {
    const column = result[at]?.column;
    return column?.kind === 'node' ? column.nodes : null;
  };
  const isSpaceAt = (at: number) => isSpaceColumn(result[at]!.column);
  for (let start = 1; start < result.length; start++) {
    const { key } = result[start]!;
    if (key === '' || key === result[start - 1]!.key) continue;
    let end = start;
    while (result[end + 1]?.key === key) end++;
    if (end === start || isSpaceAt(start) || !isSpaceAt(start - 1) || !isSpaceAt(end)) continue;
    const [before, last] = [nodesAt(start - 1)!, nodesAt(end)!];
    if (!before.every((node, i) => node !== null || key[i] === '0')) continue;
    const moved = [
      before.map((node, i) => (last[i] === null ? null : node)),
      before.map((node, i) => last[i] ?? node),
    ].map((nodes) => ({ kind: 'node' as const, nodes }));
    const [optional, constant] = moved.map((column) => ({ column, key: presenceIn(column) })) as [Keyed, Keyed];
    result.splice(start - 1, end - start + 2, optional, ...result.slice(start, end), constant);
    start = end;
  }
  return result.map(({ column }) => column);
}

/** A column, and which occurrences have something in it. */
interface Keyed {
  column: Column;
  key: string;
}

function presenceIn(column: Column): string {
  if (column.kind === 'gap') return '';
  let key = '';
  if (column.kind === 'node') for (const node of column.nodes) key += node === null ? '0' : '1';
  else for (const run of column.runs) key += run === null || run.length === 0 ? '0' : '1';
  return key;
}

/** True for a column of white space. */
export function isSpaceColumn(column: Column | undefined): boolean {
  return column?.kind === 'node' && isSpaceText(column.nodes.find((node) => node !== null));
}
