/**
 * Makes one pattern of alike fragments, in one pass from the root down and back: children are aligned once into columns,
 * each column is solved once, and what it came to (a pattern and its cost) is used by whoever asks. At each element the
 * costs of its solved children decide: fixed, optional, a list, or poured into a slot.
 */
import type { Occurrence } from '../fragments/occurrence.js';
import { isPreformatted } from '../page/same.js';
import { type Child, type Comment, type Element, isDeeperThan, MOST_LEVELS, type Text } from '../page/tree.js';
import {
  alignLists,
  alignPlainly,
  childrenOf,
  type Column,
  isContainer,
  isPartial,
  isSameColumn,
  type NameOf,
} from './align.js';
import { costOfBlocks, costOfHole, costOfList, lengthOf, lengthOfTags, nothingPaid, payForRuns } from './cost.js';
import { takesSlot } from './form.js';
import {
  canStay,
  type Costing,
  costOfAll,
  costOfPoured,
  isInShown,
  isOfOneKind,
  unnamedSlot,
  written,
} from './slots.js';
import { attributeHoles, textHole } from './holes.js';
import { type InnerParts, sparedAt } from './inner-parts.js';
import { inTemplates } from './placeholders.js';
import {
  allEqual,
  type ElementPattern,
  firstOf,
  type ListPattern,
  type Pattern,
  patternsIn,
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
  parts?: InnerParts;
}

interface Solver extends Solving, Costing {
  /** inside a list: no slots and no lists there */
  plain: boolean;
  /** inside a list: one that costs more than so many bytes is of no use */
  limit: number;
}

/** The pattern of a group, or null when the occurrences are not alike or nested too deep. */
export function solve(occurrences: Occurrence[], solving: Solving): ElementPattern | null {
  if (occurrences.some(({ element }) => isDeeperThan(element, MOST_LEVELS))) return null;
  const solver: Solver = { ...solving, ...costingOf(occurrences), plain: false, limit: Infinity };
  const roots = occurrences.map(({ element }) => element);
  const pattern = solveColumn(roots, false, solver, true);
  return pattern?.kind === 'element' ? pattern : null;
}

/**
 * The patterns of siblings that stand in the same order at all places where there are any; null where they are not alike.
 * @param columns one a sibling, with null where there are none
 */
export function solveSiblings(
  columns: (Child | null)[][],
  occurrences: Occurrence[],
  solving: Solving,
): Pattern[] | null {
  const solver: Solver = { ...solving, ...costingOf(occurrences), plain: true, limit: Infinity };
  const verbatim = isInShown(firstOf(columns[0]!).parent as Element);
  const patterns = columns.map((column) => solveColumn(column, verbatim, solver));
  return patterns.includes(null) ? null : (patterns as Pattern[]);
}

function solveColumn(column: (Child | null)[], inherited: boolean, solver: Solver, isRoot = false): Pattern | null {
  const first = firstOf(column);
  if (column.some((node) => node !== null && node.kind !== first.kind)) return null;
  switch (first.kind) {
    case 'text': {
      const pattern: TextPattern = { kind: 'text', nodes: column as (Text | null)[], holes: [], verbatim: inherited };
      return textHole(pattern, solver) ? costed(pattern, solver) : null;
    }
    case 'comment': {
      const pattern: Pattern = { kind: 'comment', nodes: column as (Comment | null)[], holes: [] };
      return allEqual(pattern.nodes, (node) => node.value) ? costed(pattern, solver) : null;
    }
    case 'element':
      return isSparse(column)
        ? solveSparsely(column as (Element | null)[], inherited, solver)
        : solveElement(column as (Element | null)[], inherited, solver, isRoot);
    case 'doctype':
      return null;
  }
}

function costingOf(occurrences: Occurrence[]): Costing {
  const templated = inTemplates(occurrences);
  return { occurrences, templated, costs: new Map(), paid: nothingPaid(), widen: (values) => values };
}

/** True for what most occurrences lack. */
function isSparse(column: (Child | null)[]): boolean {
  let lacking = 0;
  for (const node of column) if (node === null) lacking++;
  return column.length > 2 && lacking >= column.length / 2;
}

/** Solves what few occurrences have among those alone, so that it takes no longer the more others there are. */
function solveSparsely(column: (Element | null)[], inherited: boolean, solver: Solver): Pattern | null {
  const present = [...column.keys()].filter((i) => column[i] !== null);
  const widen = <T>(values: T[], absent: T): T[] => {
    const all = new Array<T>(column.length).fill(absent);
    values.forEach((value, at) => (all[present[at]!] = value));
    return all;
  };
  const occurrences = present.map((i) => solver.occurrences[i]!);
  const few: Solver = {
    ...solver,
    occurrences,
    templated: solver.templated && inTemplates(occurrences),
    widen: (values, absent) => solver.widen(widen(values, absent), absent),
  };
  const pattern = solveElement(
    present.map((i) => column[i]!),
    inherited,
    few,
    false,
  );
  for (const each of pattern === null ? [] : patternsIn(pattern)) {
    (each as { nodes: (Child | null)[] }).nodes = widen<Child | null>(each.nodes, null);
    for (const hole of each.holes) hole.values = widen(hole.values, null);
    if (each.kind === 'slot') each.ranges = widen(each.ranges, null);
    if (each.kind !== 'list') continue;
    each.ends = widen(each.ends, null);
    each.owners = each.owners.map((owner) => present[owner]!);
  }
  return pattern;
}

function costed(pattern: TextPattern | Extract<Pattern, { kind: 'comment' }>, solver: Solver): Pattern {
  const bytes = pattern.holes.reduce((sum, hole) => sum + costOfHole(hole, solver), 0);
  solver.costs.set(pattern, bytes + (pattern.holes.length > 0 ? 0 : lengthOf(pattern)));
  return pattern;
}

function solveElement(nodes: (Element | null)[], inherited: boolean, solver: Solver, isRoot: boolean): Pattern | null {
  const first = firstOf(nodes);
  if (nodes.some((node) => node !== null && (node.tag !== first.tag || node.ns !== first.ns))) return null;
  const pattern: ElementPattern = { kind: 'element', nodes, holes: [], children: [] };
  const { poured, occurrences, plain } = solver;
  const mayPour = !isRoot && !plain && takesSlot(first.parent as Element);
  if (poured !== undefined && nodes.every((node) => node === null || poured.has(node)))
    return !isRoot && takesSlot(first.parent as Element) ? slotOf(pattern, solver) : null;
  // what is poured into a template's slot is poured into that of the component in it
  if (first.tag === 'slot' && nodes.every((node, i) => node === null || occurrences[i]!.page.component !== undefined))
    return plain || isRoot ? null : slotOf(pattern, solver);
  if (!attributeHoles(pattern, solver, solver.componentFolder, solver.urlKindOf)) return null;
  if (mayPour && isBundle(pattern)) return slotOf(pattern, solver);
  const own = pattern.holes.reduce((sum, hole) => sum + costOfHole(hole, solver), 0);
  const verbatim = inherited || isPreformatted(first);
  const children = solveChildren(pattern, verbatim, solver);
  if (children === null) return null;
  pattern.children = children;
  const cost = own + lengthOfTags(nodes) + costOfAll(pattern, children, solver);
  solver.costs.set(pattern, isRoot ? cost : cost - sparedAt(pattern, solver.parts));
  // of one alone nothing comes and goes
  if (nodes.length > 1) payForRuns(runsOf(pattern), solver);
  return pattern;
}

/** Void elements and controls: what they are given is native to them, and mirrors of it would be many. */
const LEAVES = new Set('input select textarea button img video audio iframe object embed'.split(' '));
const MANY_ATTRIBUTES = 4;

/** A leaf of which many attributes vary. */
function isBundle({ nodes, holes }: ElementPattern): boolean {
  const { tag } = firstOf(nodes);
  const names = new Set(holes.filter(({ kind }) => kind !== 'literal' && kind !== 'name').map(({ attr }) => attr));
  return LEAVES.has(tag) && names.size >= MANY_ATTRIBUTES;
}

function slotOf({ nodes }: ElementPattern, solver: Solver): SlotPattern {
  const ranges = nodes.map((node): [number, number] | null => node && [node.start, node.end]);
  const around = firstOf(nodes);
  const slot = unnamedSlot({ nodes, ranges, around, blank: false, isOnLine: false });
  solver.costs.set(slot, costOfPoured(ranges, false, solver));
  return slot;
}

/** A row of up to so many cells says something else in each column: it is no list of cells. */
const MOST_COLUMNS = 8;
/** So many children that repeat equally often are tried as a list; one less where nothing but items may stand. */
const MANY_ITEMS = 4;

/** The children of aligned elements; null where they are not alike, and no slot may stand for them. */
function solveChildren(pattern: ElementPattern, verbatim: boolean, solver: Solver): Pattern[] | null {
  const { nodes } = pattern;
  const first = firstOf(nodes);
  const known = new Map<Child | null, { column: Column; pattern: Pattern | null }>();
  if (nodes.length === 1 && !solver.plain && !solver.templated) {
    const alone = first.children.map((child) => solveColumn([child], verbatim, solver));
    if (!alone.includes(null) && !mayBeList(alone, first)) return alone as Pattern[];
    for (const [i, child] of first.children.entries())
      known.set(child, { column: { kind: 'node', nodes: [child] }, pattern: alone[i]! });
  }
  const solveOne = (column: Column, limit: number) => {
    if (column.kind === 'node') return solveColumn(column.nodes, verbatim, solver);
    return column.kind === 'gap' || solver.plain
      ? null
      : solveList(column.runs, pattern, verbatim, { ...solver, limit });
  };
  const solved = (columns: Column[], limit = Infinity) =>
    columns.map((column) => {
      const before = known.get(keyNode(column));
      if (before !== undefined && isSameColumn(column, before.column)) return before.pattern;
      const found = solveOne(column, limit);
      known.set(keyNode(column), { column, pattern: found });
      return found;
    });
  const held = childrenOf(nodes, verbatim, solver.nameOf);
  const costOf = (way: Pattern[]) => costOfAll(pattern, way, solver);
  const isCheaper = (way: Pattern[] | null, other: Pattern[] | null) =>
    way !== null && (other === null || costOf(way) < costOf(other));
  const aligned = alignPlainly(held);
  if (solver.plain)
    return aligned
      .map((columns) => solveAll(pattern, columns, verbatim, solver))
      .reduce((one, other) => (isCheaper(other, one) ? other : one));
  const plain = aligned
    .map((columns) => ({ columns, patterns: solved(columns) }))
    .map((each) => ({ ...each, way: written(pattern, each.columns, each.patterns, solver) }))
    .reduce((one, other) => (isCheaper(other.way, one.way) ? other : one));
  const { columns: plainly, patterns } = plain;
  let best = plain.way;
  const take = (way: Pattern[] | null) => {
    if (isCheaper(way, best)) best = way;
  };
  if (plainly.some((column) => isPartial(column, nodes))) {
    const columns = alignLists(held, 'uneven');
    if (columns.some(({ kind }) => kind === 'star')) {
      const way = written(pattern, columns, solved(columns), solver);
      // what may hold nothing but items is a list of them wherever they are alike
      const areLists =
        way?.some(({ kind }) => kind === 'list') &&
        !way.some(({ kind }) => kind === 'slot') &&
        isOfOneKind(pattern, way);
      if ((areLists && isContainer(first)) || columns.some((column) => repeatsParts(column, solver))) return way;
      take(way);
    }
  }
  if (!mayBeList(patterns, first)) return best;
  const columns = alignLists(held, 'all');
  if (!columns.some(({ kind }) => kind === 'star')) return best;
  // every way has all that the children hold, so no list may cost more than all of the best one
  const way = solved(columns, best === null ? Infinity : costOf(best));
  if (!way.includes(null) && (takesSlot(first) || isOfOneKind(pattern, way as Pattern[]))) take(way as Pattern[]);
  return best;
}

/** True for so many children in which something varies that they may be a list. */
function mayBeList(patterns: (Pattern | null)[], parent: Element): boolean {
  const least = isContainer(parent) ? MANY_ITEMS - 1 : MANY_ITEMS;
  const elements = patterns.filter((child) => child?.kind === 'element');
  if (parent.tag === 'tr' && elements.length <= MOST_COLUMNS) return false;
  return elements.length >= least && elements.filter(varies).length >= least;
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

/** The least that parts which come and go cost in blocks alone, before any of them is looked into. */
function leastForBlocks(columns: Column[], parents: (Element | null)[]): number {
  let blocks = 0;
  let before: (Child | null)[] | null = null;
  for (const column of columns) {
    const partial = column.kind === 'node' && isPartial(column, parents) ? column.nodes : null;
    if (partial?.some((node, i) => before === null || (node === null) !== (before[i] === null))) blocks++;
    before = partial;
  }
  return costOfBlocks(blocks);
}

/** The children inside a list, where no slot may stand: null as soon as one of them is not alike. */
function solveAll(parent: ElementPattern, columns: Column[], verbatim: boolean, solver: Solver): Pattern[] | null {
  const { nodes } = parent;
  if (columns.some((column) => !canStay(column, nodes)) || leastForBlocks(columns, nodes) > solver.limit) return null;
  // parts that come and go are poured in, which no item can have
  const hasPart = (column: Column) =>
    column.kind === 'node' && column.nodes.some((node) => node?.kind === 'element' && solver.parts?.has(node));
  if (columns.some((column) => isPartial(column, nodes) && hasPart(column))) return null;
  const patterns: Pattern[] = [];
  for (const column of columns) {
    const found = column.kind === 'node' ? solveColumn(column.nodes, verbatim, solver) : null;
    if (found === null) return null;
    patterns.push(found);
  }
  return patterns;
}

/** The first node of a column, by which it is found again. */
function keyNode(column: Column): Child | null {
  if (column.kind === 'gap') return null;
  return column.kind === 'node'
    ? firstOf(column.nodes)
    : column.runs.find((run) => run !== null && run.length > 0)![0]!;
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
  // what mostly stands alone is no item
  const alone = owners.filter((owner, i) => owner !== owners[i - 1] && owner !== owners[i + 1]);
  if (alone.length > runs.length / 2) return null;
  // parts of their own are poured in, wherever that can be
  const pours = takesSlot(firstOf(nodes));
  if (items.some(({ element }) => element.start < 0 || (pours && solver.parts?.has(element)))) return null;
  // a record holds values, and no placeholders
  const speaks = ({ page, element }: Occurrence) =>
    page.component !== undefined && /\{\{|<(template|slot)\b/.test(page.source.slice(element.start, element.end));
  if (items.some(speaks)) return null;
  const inner: Solver = { ...solver, ...costingOf(items), costs: solver.costs, plain: true };
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
  solver.costs.set(list, costOfList(solver.costs.get(root)!, items.length, solver.widen(runs, null).length));
  return list;
}
