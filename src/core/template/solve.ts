/**
 * Makes one pattern of alike fragments, in one pass from the root down and back: children are aligned once into columns,
 * each column is solved once, and what it came to (a pattern and its cost) is used by whoever asks. At each element the
 * costs of its solved children decide: fixed, optional, a list, or poured into a slot.
 */
import type { Occurrence } from '../fragments/occurrence.js';
import { showsSpace } from '../page/same.js';
import { isSpaceText } from '../page/space.js';
import { type Child, type Comment, type Element, HTML, PREFORMATTED, type Text } from '../page/tree.js';
import { alignChildren, type Column, isContainer, isPartial, type NameOf } from './align.js';
import {
  costOfHole,
  costOfList,
  costOfRuns,
  costOfSlot,
  lengthOf,
  lengthOfTags,
  type Paid,
  payForRuns,
  PRICE,
} from './cost.js';
import { takesSlot } from './form.js';
import { attributeHoles, textHole } from './holes.js';
import {
  allEqual,
  type ElementPattern,
  type ListPattern,
  type Pattern,
  runsOf,
  type SlotPattern,
  type TextPattern,
  type UrlKindOf,
} from './pattern.js';

export interface Solving {
  /** folder of the component files, relative to the root */
  componentFolder: string;
  urlKindOf: UrlKindOf;
  /** what an element is called by its own words; '' for none */
  nameOf: NameOf;
  /** elements that are poured in, whatever is alike in them */
  poured?: ReadonlySet<Element>;
  /** elements that become uses of other components: in a varying number they are poured in, not listed as records */
  parts?: ReadonlySet<Element>;
}

interface Solver extends Solving {
  occurrences: Occurrence[];
  /** what each pattern costs with all in it */
  costs: Map<Pattern, number>;
  paid: Paid;
  /** inside a list: no slots and no lists there */
  plain: boolean;
}

/** The pattern of a group, or null when the occurrences are not alike. */
export function solve(occurrences: Occurrence[], solving: Solving): ElementPattern | null {
  const solver: Solver = { ...solving, occurrences, costs: new Map(), paid: new Set(), plain: false };
  const roots = occurrences.map(({ element }) => element);
  const pattern = solveColumn(roots, false, solver, true);
  return pattern?.kind === 'element' ? pattern : null;
}

function solveColumn(column: (Child | null)[], inherited: boolean, solver: Solver, isRoot = false): Pattern | null {
  const first = column.find((node) => node !== null)!;
  if (column.some((node) => node !== null && node.kind !== first.kind)) return null;
  switch (first.kind) {
    case 'text': {
      const pattern: TextPattern = { kind: 'text', nodes: column as (Text | null)[], holes: [], verbatim: inherited };
      return textHole(pattern, solver.occurrences) ? costed(pattern, solver) : null;
    }
    case 'comment': {
      const pattern: Pattern = { kind: 'comment', nodes: column as (Comment | null)[], holes: [] };
      return allEqual(pattern.nodes, (node) => node.value) ? costed(pattern, solver) : null;
    }
    case 'element':
      return solveElement(column as (Element | null)[], inherited, solver, isRoot);
    case 'doctype':
      return null;
  }
}

function costed(pattern: TextPattern | Extract<Pattern, { kind: 'comment' }>, solver: Solver): Pattern {
  const bytes = pattern.holes.reduce((sum, hole) => sum + costOfHole(hole, solver.paid, givenIn(solver)), 0);
  solver.costs.set(pattern, bytes + (pattern.holes.length > 0 ? 0 : lengthOf(pattern)));
  return pattern;
}

function givenIn({ plain }: Solver): number {
  return plain ? PRICE.field : PRICE.given;
}

function solveElement(nodes: (Element | null)[], inherited: boolean, solver: Solver, isRoot: boolean): Pattern | null {
  const first = nodes.find((node) => node !== null)!;
  if (nodes.some((node) => node !== null && (node.tag !== first.tag || node.ns !== first.ns))) return null;
  const pattern: ElementPattern = { kind: 'element', nodes, holes: [], children: [] };
  const { poured, occurrences, plain } = solver;
  const mayPour = !isRoot && !plain && takesSlot(first.parent as Element);
  if (poured !== undefined && nodes.every((node) => node === null || poured.has(node)))
    return !isRoot && takesSlot(first.parent as Element) ? slotOf(pattern, solver) : null;
  // what is poured into a template's slot is poured into that of the component in it
  if (first.tag === 'slot' && nodes.every((node, i) => node === null || occurrences[i]!.page.component !== undefined))
    return plain || isRoot ? null : slotOf(pattern, solver);
  if (!attributeHoles(pattern, occurrences, solver.componentFolder, solver.urlKindOf)) return null;
  if (mayPour && isBundle(pattern)) return slotOf(pattern, solver);
  const own = pattern.holes.reduce((sum, hole) => sum + costOfHole(hole, solver.paid, givenIn(solver)), 0);
  const verbatim = inherited || PREFORMATTED.has(first.tag) || showsSpace(first);
  const children = solveChildren(pattern, verbatim, solver);
  if (children === null) return null;
  pattern.children = children;
  solver.costs.set(pattern, own + lengthOfTags(nodes) + costOfAll(pattern, children, solver));
  payForRuns(runsOf(pattern), solver.paid);
  return pattern;
}

/** Bytes for the children of `parent` when they are written so. */
function costOfAll(parent: ElementPattern, children: Pattern[], { costs, paid }: Solver): number {
  const parts = costOfRuns(runsOf({ ...parent, children }), paid);
  return children.reduce((sum, child) => sum + costs.get(child)!, parts);
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

function slotOf({ nodes }: ElementPattern, solver: Solver): SlotPattern {
  const ranges = nodes.map((node): [number, number] | null => node && [node.start, node.end]);
  const around = nodes.find((node) => node !== null)!;
  const slot: SlotPattern = { kind: 'slot', nodes, holes: [], ranges, around, blank: false, name: '' };
  solver.costs.set(slot, costOfSlot(ranges, false));
  return slot;
}

/** So many children that repeat equally often are tried as a list; one less where nothing but items may stand. */
const MANY_ITEMS = 4;

/** The children of aligned elements; null where they are not alike, and no slot may stand for them. */
function solveChildren(pattern: ElementPattern, verbatim: boolean, solver: Solver): Pattern[] | null {
  const { nodes } = pattern;
  const first = nodes.find((node) => node !== null)!;
  const known = new Map<Child | null, { column: Column; pattern: Pattern | null }>();
  const solved = (columns: Column[]) =>
    columns.map((column) => {
      const before = known.get(keyNode(column));
      if (before !== undefined && column.kind === 'node' && isSameColumn(column, before.column)) return before.pattern;
      const found = solveOne(column, pattern, verbatim, solver);
      known.set(keyNode(column), { column, pattern: found });
      return found;
    });
  const plainly = alignChildren(nodes, verbatim, 'none', solver.nameOf);
  const patterns = solved(plainly);
  let best = written(pattern, plainly, patterns, solver);
  if (solver.plain) return best;
  const take = (way: Pattern[] | null) => {
    if (way === null) return;
    if (best === null || costOfAll(pattern, way, solver) < costOfAll(pattern, best, solver)) best = way;
  };
  if (plainly.some((column) => isPartial(column, nodes))) {
    const columns = alignChildren(nodes, verbatim, 'uneven', solver.nameOf);
    if (columns.some(({ kind }) => kind === 'star')) {
      const way = written(pattern, columns, solved(columns), solver);
      // what may hold nothing but items is a list of them wherever they are alike
      const lists = way?.some(({ kind }) => kind === 'list') && !way.some(({ kind }) => kind === 'slot');
      if ((lists && isContainer(first)) || columns.some((column) => repeatsParts(column, solver))) return way;
      take(way);
    }
  }
  const least = isContainer(first) ? MANY_ITEMS - 1 : MANY_ITEMS;
  if (patterns.filter((child) => child?.kind === 'element' && varies(child)).length < least) return best;
  const columns = alignChildren(nodes, verbatim, 'all', solver.nameOf);
  if (!columns.some(({ kind }) => kind === 'star')) return best;
  const way = solved(columns);
  if (!way.includes(null)) take(way as Pattern[]);
  return best;
}

/** True for what repeats in varying number and becomes uses of other components: it is poured in. */
function repeatsParts(column: Column, { parts }: Solver): boolean {
  return (
    column.kind === 'star' &&
    column.runs.some((run) => run?.some((node) => node.kind === 'element' && parts?.has(node)))
  );
}

function varies(pattern: Pattern): boolean {
  return pattern.holes.length > 0 || (pattern.kind === 'element' && pattern.children.some(varies));
}

/** The first node of a column, by which it is found again. */
function keyNode(column: Column): Child | null {
  return column.kind === 'node' ? column.nodes.find((node) => node !== null)! : null;
}

function isSameColumn(column: Extract<Column, { kind: 'node' }>, other: Column): boolean {
  return other.kind === 'node' && column.nodes.every((node, i) => node === other.nodes[i]);
}

/** The pattern of a column, null where what stands there is not alike. */
function solveOne(column: Column, parent: ElementPattern, verbatim: boolean, solver: Solver): Pattern | null {
  if (column.kind === 'gap') return null;
  if (column.kind === 'node') return solveColumn(column.nodes, verbatim, solver);
  return solver.plain ? null : solveList(column.runs, parent, verbatim, solver);
}

function solveList(
  runs: (Child[] | null)[],
  { nodes }: ElementPattern,
  verbatim: boolean,
  solver: Solver,
): ListPattern | null {
  const items: Occurrence[] = [];
  const owners: number[] = [];
  let lead: Text | null = null;
  runs.forEach((run, i) => {
    for (const node of run ?? []) {
      if (node.kind === 'text') lead ??= node;
      if (node.kind !== 'element') continue;
      const { page, folder, end } = solver.occurrences[i]!;
      items.push({ page, element: node, end: Math.min(node.end, end), folder });
      owners.push(i);
    }
  });
  // parts of their own are poured in, wherever that can be
  const pours = takesSlot(nodes.find((node) => node !== null)!);
  if (items.some(({ element }) => element.start < 0 || (pours && solver.parts?.has(element)))) return null;
  // a record holds values, and no placeholders
  const speaks = ({ page, element }: Occurrence) =>
    page.component !== undefined && /\{\{|<(template|slot)\b/.test(page.source.slice(element.start, element.end));
  if (items.some(speaks)) return null;
  const inner: Solver = { ...solver, occurrences: items, paid: new Set(), plain: true };
  const root = solveColumn(
    items.map(({ element }) => element),
    verbatim,
    inner,
    true,
  );
  if (root?.kind !== 'element') return null;
  const ends = runs.map((run, i) => run?.at(-1)?.end ?? (nodes[i] === null ? null : -1));
  const list: ListPattern = {
    kind: 'list',
    nodes: runs.map((run) => run?.[0] ?? null),
    holes: [],
    lead,
    root,
    items,
    owners,
    ends,
  };
  solver.costs.set(list, costOfList(solver.costs.get(root)!, items.length, runs.length));
  return list;
}

function speaks(node: Child | null | undefined): boolean {
  return node?.kind === 'text' && !isSpaceText(node);
}

/** Text that varies on both sides of markup is one running text. */
function isRunning(children: Pattern[]): boolean {
  const texts = children.filter(({ kind, holes }) => kind === 'text' && holes.length > 0);
  return texts.length > 1 && children.some(({ kind }) => kind === 'element');
}

/** The cheapest way to write solved columns: what does not align, or is cheaper poured in, as slots. */
function written(
  pattern: ElementPattern,
  columns: Column[],
  patterns: (Pattern | null)[],
  solver: Solver,
): Pattern[] | null {
  const { nodes } = pattern;
  const first = nodes.find((node) => node !== null)!;
  const partial = columns.map((column) => column.kind === 'node' && isPartial(column, nodes));
  const spoken = columns.map((column) => column.kind === 'node' && column.nodes.some(speaks));
  const bad = columns.map((_, i) => patterns[i] === null || (partial[i]! && (spoken[i]! || first.ns !== HTML)));
  if (solver.plain || !takesSlot(first)) return bad.includes(true) ? null : (patterns as Pattern[]);
  const running = partial.some((each, i) => each && spoken[i]!) || isRunning(patterns.filter((each) => each !== null));
  const loose = columns.map((column, i) => bad[i]! || partial[i]! || column.kind === 'star');
  if (!running && !loose.includes(true)) return patterns as Pattern[];
  const pour = (from: number, to: number) => slotAmong(pattern, columns, from, to, solver);
  const whole = pour(0, columns.length);
  if (running && whole !== null) return [whole];
  if (!loose.includes(true)) return patterns as Pattern[];
  // what may hold nothing but items is a list of them wherever they are alike
  const listed = isContainer(first) && patterns.some((each) => each?.kind === 'list');
  if (listed && !bad.includes(true)) return patterns as Pattern[];
  const costOfWay = (way: Pattern[]) => costOfAll(pattern, way, solver);
  // each stretch by itself, from the last one so that what stands before keeps its number
  let each: (Pattern | null)[] = patterns;
  for (const [from, to] of stretches(loose, columns).reverse()) {
    const kept = patterns.slice(from, to);
    const slot = pour(from, to);
    const keeps = !bad.slice(from, to).includes(true);
    if (slot === null || (keeps && costOfWay(kept as Pattern[]) <= costOfWay([slot]))) continue;
    each = [...each.slice(0, from), slot, ...each.slice(to)];
  }
  const [from, to] = widened(loose.indexOf(true), loose.lastIndexOf(true) + 1, columns);
  const middle = pour(from, to);
  const hull = middle && [...patterns.slice(0, from), middle, ...patterns.slice(to)];
  const ways = [each, hull, whole && [whole]].filter((way): way is Pattern[] => way !== null && !way.includes(null));
  const costs = ways.map(costOfWay);
  return ways[costs.indexOf(Math.min(...costs))] ?? null;
}

/** Stretches of loose columns, with the white space around them. */
function stretches(loose: boolean[], columns: Column[]): [from: number, to: number][] {
  const found: [number, number][] = [];
  for (let from = 0; from < loose.length; from++) {
    if (!loose[from]) continue;
    let to = from + 1;
    for (let at = to; at < loose.length && (loose[at] || isSpaceColumn(columns[at])); at++) if (loose[at]) to = at + 1;
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
  return column?.kind === 'node' && isSpaceText(column.nodes.find((node) => node !== null));
}

/** A slot for the columns from `from` up to `to`; null where their source is not in order. */
function slotAmong(
  parent: ElementPattern,
  columns: Column[],
  from: number,
  to: number,
  solver: Solver,
): SlotPattern | null {
  const ranges = parent.nodes.map((node, i): [number, number] | null => {
    if (node === null) return null;
    const close = node.closeStart >= 0 ? node.closeStart : Math.min(node.end, solver.occurrences[i]!.end);
    let before = from - 1;
    while (before >= 0 && nodesAt(columns[before]!, i).length === 0) before--;
    let after = to;
    while (after < columns.length && nodesAt(columns[after]!, i).length === 0) after++;
    const start = before < 0 ? node.openEnd : nodesAt(columns[before]!, i).at(-1)!.end;
    return [start, after < columns.length ? nodesAt(columns[after]!, i)[0]!.start : close];
  });
  const slot = slotIn(parent, ranges, solver.occurrences);
  if (slot === null) return null;
  const contents = slot.ranges.flatMap((range, i) =>
    range === null
      ? []
      : [
          solver.occurrences[i]!.page.source.slice(...range)
            .replace(/\s+/g, ' ')
            .trim(),
        ],
  );
  // what is the same everywhere is no more to be poured in than nothing is
  solver.costs.set(
    slot,
    costOfSlot(
      slot.ranges,
      contents.every((content) => content === contents[0]),
    ),
  );
  return slot;
}

/** A slot for a range of each element's content; null where a range is none. */
export function slotIn(
  parent: ElementPattern,
  ranges: ([number, number] | null)[],
  occurrences: Occurrence[],
): SlotPattern | null {
  if (ranges.some((range) => range !== null && (range[0] < 0 || range[1] < range[0]))) return null;
  const nodes = parent.nodes.map((node, i) => {
    const range = ranges[i];
    return node?.children.find(({ start }) => range && start >= range[0] && start < range[1]) ?? null;
  });
  const around = parent.nodes.find((node) => node !== null)!;
  const blank = ranges.every((range, i) => range === null || !/\S/.test(occurrences[i]!.page.source.slice(...range)));
  return { kind: 'slot', nodes, holes: [], ranges, around, blank, name: '' };
}

function nodesAt(column: Column, i: number): Child[] {
  if (column.kind === 'star') return column.runs[i] ?? [];
  const node = column.kind === 'node' ? column.nodes[i] : null;
  return node ? [node] : [];
}
