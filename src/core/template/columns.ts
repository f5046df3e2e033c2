/**
 * Walks all occurrences in lockstep, aligned, and makes one pattern of them. Where they differ in values there are
 * holes; where parts come and go, runs; what repeats is a list, and what does not align at all a slot. Between ways to
 * write the children of an element the shortest is taken (description length).
 */
import { type Child, type Comment, type Element, HTML, PREFORMATTED, RAW_TEXT, type Text } from '../page/tree.js';
import { showsSpace } from '../page/same.js';
import { type Column, isContainer, isSpace } from './align.js';
import { attributeHoles, textHole } from './holes.js';
import { columnsOf, type Made, type Memo, once } from './memo.js';
import {
  allEqual,
  type ElementPattern,
  type ListPattern,
  type Occurrence,
  type Pattern,
  RUN,
  runsOf,
  type SlotPattern,
  type TextPattern,
  type UrlKindOf,
} from './pattern.js';
import { weigh, weighRuns } from './weigh.js';

export interface Walking {
  componentFolder: string;
  urlKindOf: UrlKindOf;
  /** the occurrences are of one shape: their children stand in one place by number */
  exact: boolean;
  /** more varying places than this are not one component, unless some go into slots */
  limit: number;
  /** extra bytes that each prop counts */
  penalty: number;
  /** elements that are poured in, whatever is alike in them */
  poured?: ReadonlySet<Element>;
  /** what repeats is written one by one */
  unlisted?: true;
  /** what walks of these occurrences with another penalty came to, as far as that does not count */
  memo?: Memo;
}

interface Walk extends Walking {
  occurrences: Occurrence[];
  /** how often ways to write something were weighed against each other */
  weighed: { times: number };
  varying: number;
  /** inside a list: no slots and no lists there */
  plain: boolean;
  /** what columns and lists came to, by their first node: ways to write one place share most of them */
  known: Made<Pattern | null>;
  lists: Made<ListPattern | null>;
}

/** The pattern of a group, or null when the occurrences are not alike after all. */
export function findPattern(occurrences: Occurrence[], walking: Walking): ElementPattern | null {
  const walk: Walk = {
    ...walking,
    occurrences,
    weighed: { times: 0 },
    varying: 0,
    plain: false,
    known: new Map(),
    lists: new Map(),
  };
  const pattern = visit(
    occurrences.map(({ element }) => element),
    false,
    walk,
    true,
  );
  return pattern?.kind === 'element' ? pattern : null;
}

function visit(column: (Child | null)[], inherited: boolean, walk: Walk, isRoot = false): Pattern | null {
  const first = column.find((node) => node !== null)!;
  if (column.some((node) => node !== null && node.kind !== first.kind)) return null;
  if (first.kind === 'text') {
    const pattern: TextPattern = { kind: 'text', nodes: column as (Text | null)[], holes: [], verbatim: inherited };
    return textHole(pattern, walk.occurrences) && counted(pattern, walk) ? pattern : null;
  }
  if (first.kind === 'comment') {
    const pattern: Pattern = { kind: 'comment', nodes: column as (Comment | null)[], holes: [] };
    return allEqual(pattern.nodes, (node) => node.value) ? pattern : null;
  }
  if (first.kind !== 'element') return null;
  const nodes = column as (Element | null)[];
  if (nodes.some((node) => node !== null && (node.tag !== first.tag || node.ns !== first.ns))) return null;
  const verbatim = inherited || PREFORMATTED.has(first.tag) || showsSpace(first);
  const pattern: ElementPattern = { kind: 'element', nodes, holes: [], children: [] };
  if (walk.poured !== undefined && nodes.every((node) => node === null || walk.poured!.has(node)))
    return !isRoot && takesSlot(first.parent as Element) ? slotOf(pattern) : null;
  // what is poured into a template's slot is poured into that of the component in it
  if (
    first.tag === 'slot' &&
    nodes.every((node, i) => node === null || walk.occurrences[i]!.page.component !== undefined)
  )
    return walk.plain || isRoot ? null : slotOf(pattern);
  if (!attributeHoles(pattern, walk.occurrences, walk.componentFolder, walk.urlKindOf)) return null;
  if (!isRoot && isBundle(pattern) && !walk.plain && takesSlot(first.parent as Element)) return slotOf(pattern);
  if (!counted(pattern, walk)) return null;
  const children = walk.exact ? byNumber(pattern, verbatim, walk) : aligned(pattern, verbatim, walk);
  if (children === null) return null;
  pattern.children = children;
  pattern.children = (walk.plain || walk.unlisted ? null : listsIn(pattern, verbatim, walk)) ?? children;
  return pattern;
}

function counted(pattern: Pattern, walk: Walk): boolean {
  walk.varying += pattern.holes.filter(({ kind }) => kind !== 'literal' && kind !== 'name').length;
  return !walk.exact || walk.varying <= walk.limit;
}

/** Void elements and controls: what they are given is native to them, and mirrors of it would be many. */
const LEAVES = new Set('input select textarea button img video audio iframe object embed'.split(' '));
const MANY_ATTRIBUTES = 4;

/** A leaf of which many attributes vary. */
function isBundle({ nodes, holes }: ElementPattern): boolean {
  const { tag } = nodes.find((node) => node !== null)!;
  const names = new Set(holes.filter(({ kind }) => kind !== 'literal' && kind !== 'name').map(({ attr }) => attr));
  return LEAVES.has(tag) && names.size >= MANY_ATTRIBUTES;
}

function slotOf({ nodes }: ElementPattern): SlotPattern {
  const ranges = nodes.map((node): [number, number] | null => node && [node.start, node.end]);
  const around = nodes.find((node) => node !== null)!;
  return { kind: 'slot', nodes, holes: [], ranges, around, blank: false, name: '' };
}

/** Where the parser would throw a slot out, or take it as text. */
const NO_SLOT = new Set(
  'table thead tbody tfoot tr colgroup select optgroup option title textarea html head frameset'.split(' '),
);

function takesSlot(parent: Element): boolean {
  if (parent.tag === RUN) return parent.parent?.kind !== 'element' || takesSlot(parent.parent);
  return parent.ns === HTML && !NO_SLOT.has(parent.tag) && !RAW_TEXT.has(parent.tag);
}

function speaks(node: Child | null | undefined): boolean {
  return node?.kind === 'text' && !isSpace(node);
}

/** Text that varies on both sides of markup is one running text. */
function isRunning(children: Pattern[]): boolean {
  const texts = children.filter(({ kind, holes }) => kind === 'text' && holes.length > 0);
  return texts.length > 1 && children.some(({ kind }) => kind === 'element');
}

function byNumber(pattern: ElementPattern, verbatim: boolean, walk: Walk): Pattern[] | null {
  const { nodes } = pattern;
  const first = nodes.find((node) => node !== null)!;
  if (nodes.some((node) => node !== null && node.children.length !== first.children.length)) return null;
  const children: Pattern[] = [];
  for (const at of first.children.keys()) {
    const child = visit(
      nodes.map((node) => node?.children[at] ?? null),
      verbatim,
      walk,
    );
    if (child === null) return null;
    children.push(child);
  }
  const whole = isRunning(children) && !walk.plain && takesSlot(first) ? gap(pattern, [], 0, 0, walk) : null;
  return whole === null ? children : [whole];
}

/** Fewer children that repeat equally often are written one by one, where other things may stand among them. */
const MANY_ITEMS = 4;

/** Children that repeat equally often, as a list, where that is shorter. */
function listsIn(pattern: ElementPattern, verbatim: boolean, walk: Walk): Pattern[] | null {
  const { nodes, children } = pattern;
  const vary = (child: Pattern): boolean =>
    child.holes.length > 0 || (child.kind === 'element' && child.children.some(vary));
  const least = isContainer(nodes.find((node) => node !== null)!) ? MANY_ITEMS - 1 : MANY_ITEMS;
  if (children.filter((child) => child.kind === 'element' && vary(child)).length < least) return null;
  const columns = columnsOf(nodes, verbatim, 'all', walk.memo);
  if (!columns.some(({ kind }) => kind === 'star')) return null;
  const listed = patternsOf(columns, pattern, verbatim, { ...walk, varying: 0, limit: Infinity });
  if (listed.includes(null)) return null;
  const way = listed as Pattern[];
  return weight(pattern, way, walk) < weight(pattern, children, walk) ? way : null;
}

/** Bytes for the children of `parent` when they are written so. */
function weight(parent: ElementPattern, children: Pattern[], { penalty, weighed }: Walk): number {
  weighed.times++;
  const weighing = { seen: new Set<string>(), penalty };
  const parts = weighRuns(runsOf({ ...parent, children }), weighing);
  return parts + weigh(children, weighing);
}

/** One pattern a column, null where what stands there is not alike. */
function patternsOf(columns: Column[], pattern: ElementPattern, verbatim: boolean, walk: Walk): (Pattern | null)[] {
  return columns.map((column) => {
    if (column.kind === 'gap') return null;
    if (column.kind === 'star') return walk.plain ? null : listOf(column.runs, pattern, verbatim, walk);
    return once(walk.known, walk.plain ? undefined : walk.memo?.columns, column.nodes, walk.weighed, () =>
      visit(column.nodes, verbatim, walk),
    );
  });
}

function listOf(
  runs: (Child[] | null)[],
  { nodes }: ElementPattern,
  verbatim: boolean,
  walk: Walk,
): ListPattern | null {
  const items: Occurrence[] = [];
  const owners: number[] = [];
  let lead: Text | null = null;
  runs.forEach((run, i) => {
    for (const node of run ?? []) {
      if (node.kind === 'text') lead ??= node;
      if (node.kind !== 'element') continue;
      const { page, folder, end } = walk.occurrences[i]!;
      items.push({ page, element: node, end: Math.min(node.end, end), folder });
      owners.push(i);
    }
  });
  if (items.some(({ element }) => element.start < 0)) return null;
  // a record holds values, and no placeholders
  const speaks = ({ page, element }: Occurrence) =>
    page.component !== undefined && /\{\{|<(template|slot)\b/.test(page.source.slice(element.start, element.end));
  if (items.some(speaks)) return null;
  const column = items.map(({ element }) => element);
  const inner: Walk = { ...walk, occurrences: items, exact: false, plain: true, varying: 0, known: new Map() };
  // items of one owner or another, with or without the space before them, are not one list
  const place = [...column, ...runs.map((run) => run?.[0] ?? null)];
  return once(walk.lists, walk.memo?.lists, place, walk.weighed, () => {
    const root = visit(column, verbatim, inner, true);
    if (root?.kind !== 'element') return null;
    const ends = runs.map((run, i) => run?.at(-1)?.end ?? (nodes[i] === null ? null : -1));
    return { kind: 'list', nodes: runs.map((run) => run?.[0] ?? null), holes: [], lead, root, items, owners, ends };
  });
}

/** The children aligned, with lists or without, whichever is shorter. */
function aligned(pattern: ElementPattern, verbatim: boolean, walk: Walk): Pattern[] | null {
  const { nodes } = pattern;
  const coarse = columnsOf(nodes, verbatim, 'none', walk.memo);
  const ways = [coarse];
  if (coarse.some((column) => isPartial(column, nodes))) {
    const listed = walk.plain ? coarse : columnsOf(nodes, verbatim, 'uneven', walk.memo);
    if (listed.some(({ kind }) => kind === 'star')) ways.push(listed);
    const fine = columnsOf(nodes, verbatim, 'none', walk.memo, true);
    if (!sameColumns(coarse, fine)) ways.push(fine);
  }
  let best: Pattern[] | null = null;
  for (const columns of ways) {
    const way = shortest(pattern, columns, verbatim, walk);
    if (way === null) continue;
    const lists = way.some(({ kind }) => kind === 'list') && !way.some(({ kind }) => kind === 'slot');
    if (lists && isContainer(nodes.find((node) => node !== null)!)) return way;
    if (best === null || weight(pattern, way, walk) < weight(pattern, best, walk)) best = way;
  }
  return best;
}

function sameColumns(some: Column[], others: Column[]): boolean {
  const same = (column: Column, other: Column) =>
    column.kind === 'node' && other.kind === 'node' && column.nodes.every((node, i) => node === other.nodes[i]);
  return some.length === others.length && some.every((column, at) => same(column, others[at]!));
}

function isPartial(column: Column, parents: (Element | null)[]): boolean {
  return column.kind !== 'node' || column.nodes.some((node, i) => node === null && parents[i] !== null);
}

/** The shortest way to write columns: what does not align, or is shorter poured in, as slots. */
function shortest(pattern: ElementPattern, columns: Column[], verbatim: boolean, walk: Walk): Pattern[] | null {
  const { nodes } = pattern;
  const first = nodes.find((node) => node !== null)!;
  const patterns = patternsOf(columns, pattern, verbatim, walk);
  const partial = columns.map((column) => column.kind === 'node' && isPartial(column, nodes));
  const spoken = columns.map((column) => column.kind === 'node' && column.nodes.some(speaks));
  const bad = columns.map((_, i) => patterns[i] === null || (partial[i]! && (spoken[i]! || first.ns !== HTML)));
  if (walk.plain || !takesSlot(first)) return bad.includes(true) ? null : (patterns as Pattern[]);
  const running = partial.some((each, i) => each && spoken[i]!) || isRunning(patterns.filter((each) => each !== null));
  const loose = columns.map((column, i) => bad[i]! || partial[i]! || column.kind === 'star');
  if (!running && !loose.includes(true)) return patterns as Pattern[];
  const whole = gap(pattern, columns, 0, columns.length, walk);
  if (running && whole !== null) return [whole];
  if (!loose.includes(true)) return patterns as Pattern[];
  // what may hold nothing but items is a list of them wherever they are alike
  const listed = isContainer(first) && patterns.some((each) => each?.kind === 'list');
  if (listed && !bad.includes(true)) return patterns as Pattern[];

  const pour = (from: number, to: number, into: (Pattern | null)[]) => {
    const slot = gap(pattern, columns, from, to, walk);
    return slot === null ? null : [...into.slice(0, from), slot, ...into.slice(to)];
  };
  // each stretch by itself, from the last one so that what stands before keeps its number
  let each: (Pattern | null)[] = patterns;
  for (const [from, to] of stretches(loose, columns).reverse()) {
    const kept = patterns.slice(from, to);
    const slot = gap(pattern, columns, from, to, walk);
    const keeps = !bad.slice(from, to).includes(true);
    if (slot === null || (keeps && weight(pattern, kept as Pattern[], walk) <= weight(pattern, [slot], walk))) continue;
    each = [...each.slice(0, from), slot, ...each.slice(to)];
  }
  const hull = pour(...widened(loose.indexOf(true), loose.lastIndexOf(true) + 1, columns), patterns);
  const ways = [each, hull, whole && [whole]].filter((way): way is Pattern[] => way !== null && !way.includes(null));
  const weights = ways.map((way) => weight(pattern, way, walk));
  return ways[weights.indexOf(Math.min(...weights))] ?? null;
}

/** Stretches of loose columns, with the white space around them. */
function stretches(loose: boolean[], columns: Column[]): [from: number, to: number][] {
  const found: [number, number][] = [];
  const neutral = (i: number) => isSpaceColumn(columns[i]);
  for (let from = 0; from < loose.length; from++) {
    if (!loose[from]) continue;
    let to = from + 1;
    for (let at = to; at < loose.length && (loose[at] || neutral(at)); at++) if (loose[at]) to = at + 1;
    found.push(widened(from, to, columns));
    from = to;
  }
  return found;
}

function widened(from: number, to: number, columns: Column[]): [from: number, to: number] {
  const start = isSpaceColumn(columns[from - 1]) ? from - 1 : from;
  return [start, isSpaceColumn(columns[to]) ? to + 1 : to];
}

function isSpaceColumn(column: Column | undefined): boolean {
  return column?.kind === 'node' && isSpace(column.nodes.find((node) => node !== null));
}

/** A slot for the columns from `from` up to `to`; null where their source is not in order. */
function gap(parent: ElementPattern, columns: Column[], from: number, to: number, walk: Walk): SlotPattern | null {
  const ranges = parent.nodes.map((node, i): [number, number] | null => {
    if (node === null) return null;
    const close = node.closeStart >= 0 ? node.closeStart : Math.min(node.end, walk.occurrences[i]!.end);
    let before = from - 1;
    while (before >= 0 && nodesAt(columns[before]!, i).length === 0) before--;
    let after = to;
    while (after < columns.length && nodesAt(columns[after]!, i).length === 0) after++;
    const start = before < 0 ? node.openEnd : nodesAt(columns[before]!, i).at(-1)!.end;
    return [start, after < columns.length ? nodesAt(columns[after]!, i)[0]!.start : close];
  });
  if (ranges.some((range) => range !== null && (range[0] < 0 || range[1] < range[0]))) return null;
  const nodes = parent.nodes.map((node, i) => {
    const range = ranges[i];
    return node?.children.find(({ start }) => range && start >= range[0] && start < range[1]) ?? null;
  });
  const around = parent.nodes.find((node) => node !== null)!;
  const blank = ranges.every(
    (range, i) => range === null || !/\S/.test(walk.occurrences[i]!.page.source.slice(...range)),
  );
  return { kind: 'slot', nodes, holes: [], ranges, around, blank, name: '' };
}

function nodesAt(column: Column, i: number): Child[] {
  if (column.kind === 'star') return column.runs[i] ?? [];
  const node = column.kind === 'node' ? column.nodes[i] : null;
  return node ? [node] : [];
}
