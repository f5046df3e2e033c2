/**
 * Aligns alike subtrees into one pattern: partial tree alignment over the whole group. Sequences of children are merged
 * into a master sequence (`merge.ts`); what an occurrence lacks is null there.
 * (Zhai and Liu, "Web data extraction based on partial tree alignment", 2005.)
 */
import { once } from '../once.js';
import { type Child, type Element, RAW_TEXT } from '../page/tree.js';
import { isSpace, isSpaceText, spaceKind, spacesAround } from '../page/space.js';
import { END, mergeRows } from './merge.js';
import { firstOf } from './pattern.js';

/** A place among the children of aligned elements. */
export type Column =
  | { kind: 'node'; nodes: (Child | null)[] }
  /** a child that repeats: its items and the white space before each, null where the parent is not */
  | { kind: 'star'; runs: (Child[] | null)[] }
  /** what does not align; ranges are up to what stands around it */
  | { kind: 'gap' };

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

/** The children of aligned elements, read once for all ways of aligning them, where they have to be read. */
export interface Children {
  parents: (Element | null)[];
  rows: () => (Row | null)[];
  /** the same where elements of one place have children of the same tags, too */
  fineRows: () => (Row | null)[];
}

export function childrenOf(parents: (Element | null)[], verbatim: boolean, nameOf: NameOf): Children {
  return {
    parents,
    rows: once(() => rowsOf(parents, verbatim, nameOf, false)),
    fineRows: () => rowsOf(parents, verbatim, nameOf, true),
  };
}

/**
 * Puts the children of aligned elements into columns, without lists. Where the sequences are too varied what they share at
 * both ends is aligned, with a gap between. Elements meet by tag and name; where that leaves some places empty, by what they
 * hold too, if fewer are empty then.
 * @returns one way, or a second one in which those meet that say the same, of several that could
 */
export function alignPlainly(children: Children): Column[][] {
  const { parents, fineRows } = children;
  if (parents.length === 1) return [inOrder(parents)];
  const rows = children.rows();
  // nearly all elements of one place have the same children
  if (new Set(rows).size - (rows.includes(null) ? 1 : 0) === 1) return [inOrder(parents)];
  const coarse = alignBy(rows, parents);
  const empty = emptyPlaces(coarse, parents);
  if (empty === 0) return [coarse];
  const finely = fineRows();
  const fine = alignBy(finely, parents);
  const [columns, read] = emptyPlaces(fine, parents) < empty ? [fine, finely] : [coarse, rows];
  const contents = contentsOf(read, parents);
  if (contents.size === 0) return [columns];
  const other = alignBy(read, parents, contents);
  const isSame = other.length === columns.length && other.every((column, at) => isSameColumn(column, columns[at]!));
  return isSame ? [columns] : [columns, other];
}

/**
 * The same with children that repeat in one column.
 * @param lists which repeats: those that stand in varying number, or those of equal number too
 * @returns no columns where nothing repeats so
 */
export function alignLists(children: Children, lists: 'uneven' | 'all'): Column[] {
  const { parents } = children;
  const rows = children.rows();
  const all = [...new Set(rows.filter((row) => row !== null))];
  const stars = starred(all, isContainer(firstOf(parents)) ? 2 : REPEATS, lists === 'all');
  if (stars.size === 0) return [];
  const collapsed = new Map(all.map((row) => [row, collapse(row, stars)]));
  return alignBy(
    rows.map((row) => row && collapsed.get(row)!),
    parents,
  );
}

/** True for columns that have the same nodes in each place. */
export function isSameColumn(column: Column, other: Column): boolean {
  if (column.kind === 'node') return other.kind === 'node' && column.nodes.every((node, i) => node === other.nodes[i]);
  if (column.kind === 'gap' || other.kind !== 'star') return column.kind === other.kind;
  const isSameRun = (run: Child[] | null, i: number) =>
    run?.length === other.runs[i]?.length && (run ?? []).every((node, at) => node === other.runs[i]![at]);
  return column.runs.every(isSameRun);
}

/** The children of elements that all have the same ones. */
function inOrder(nodes: (Element | null)[]): Column[] {
  return firstOf(nodes).children.map((_, at) => ({
    kind: 'node',
    nodes: nodes.map((node) => node?.children[at] ?? null),
  }));
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

/** @param contents what could stand in several places says, by rows */
function alignBy(rows: (Row | null)[], nodes: (Element | null)[], contents?: ReadonlyMap<string, string[]>): Column[] {
  const merged = mergeRows(
    rows.map((row) => row?.key ?? null),
    contents,
  );
  // raw text is the same everywhere, or the elements are not alike
  const raw = RAW_TEXT.has(firstOf(nodes).tag);
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
 * What children say that could stand in several places, by the keys of their rows: '' where it differs among the occurrences
 * of a row, or nothing can be mistaken.
 */
function contentsOf(rows: (Row | null)[], nodes: (Element | null)[]): Map<string, string[]> {
  const contents = new Map<string, string[]>();
  const there = [...new Set(rows.filter((row) => row !== null))];
  if (there.length < 2) return contents;
  const repeated = new Set<string>();
  for (const { units } of there) {
    const tokens = units.map(({ token }) => token);
    for (const [at, token] of tokens.entries()) if (tokens.indexOf(token) < at) repeated.add(token);
  }
  if (repeated.size === 0) return contents;
  for (const [i, row] of rows.entries()) {
    if (row === null) continue;
    const known = contents.get(row.key);
    const said = row.units.map(({ token, from }, at) =>
      repeated.has(token) && known?.[at] !== '' ? contentOf(nodes[i]!.children[from]!) : '',
    );
    contents.set(row.key, known === undefined ? said : said.map((each, at) => (each === known[at] ? each : '')));
  }
  return contents;
}

/** What a node says is told by no more characters than these. */
const MOST_CONTENT = 300;
/** Attributes that say how it looks, or in which state it is. */
const LOOKS = /^(class|style|aria-.*)$/;

/** What a node says, from whatever folder it points at something. */
function contentOf(node: Child): string {
  if (node.kind === 'text') return node.value.trim();
  if (node.kind !== 'element') return '';
  let content = '';
  for (const { name, value } of node.attrs)
    if (!LOOKS.test(name)) content += `${name}=${value.replace(/^(\.\.?\/)+/, '')} `;
  for (const child of node.children) {
    if (content.length > MOST_CONTENT) break;
    content += contentOf(child);
  }
  return content;
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
