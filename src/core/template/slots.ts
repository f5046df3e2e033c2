/**
 * Which children of aligned elements are written where they stand, and which are poured into slots: what does not align,
 * and what costs less poured in.
 */
import type { Occurrence } from '../fragments/occurrence.js';
import { hasOwnLines } from '../page/indent.js';
import { isPreformatted } from '../page/same.js';
import { isSameButForSpace, isSpaceText } from '../page/space.js';
import { type Child, type Element, HTML, type Parent } from '../page/tree.js';
import { type Column, isContainer, isPartial, isSpaceColumn } from './align.js';
import { costOfRuns, costOfSlot, type Paying, PRICE } from './cost.js';
import { takesSlot } from './form.js';
import type { Aligning } from './holes.js';
import type { InnerParts } from './inner-parts.js';
import { kindsTooMany } from './kinds.js';
import { type ElementPattern, firstOf, type Pattern, runsOf, type SlotPattern } from './pattern.js';

/** What costs are counted with. */
export interface Costing extends Paying, Aligning {
  /** what each pattern costs with all in it */
  costs: Map<Pattern, number>;
  /** elements that become uses of other components */
  parts?: InnerParts;
}

/** Bytes of a place that is poured into, with all that is, and with uses of other components in it. */
export function costOfPoured(
  ranges: ([number, number] | null)[],
  blank: boolean,
  { parts, occurrences }: Costing,
): number {
  const sparedAt = (range: [number, number] | null, i: number) =>
    range === null ? 0 : (parts?.sparedIn(occurrences[i]!.page, range) ?? 0);
  return ranges.reduce((sum, range, i) => sum - sparedAt(range, i), costOfSlot(ranges, blank));
}

/** Bytes for the children of `parent` when they are written so. */
export function costOfAll(parent: ElementPattern, children: Pattern[], costing: Costing): number {
  let parts = 0;
  // in one alone nothing comes and goes
  if (parent.nodes.length > 1) {
    const pattern = { ...parent, children };
    const runs = runsOf(pattern);
    parts = costOfRuns(runs, costing) + kindsTooMany(pattern, runs) * PRICE.kind;
  }
  return children.reduce((sum, child) => sum + costing.costs.get(child)!, parts);
}

/** True for children that do not differ in kind among the elements. */
export function isOfOneKind(parent: ElementPattern, children: Pattern[]): boolean {
  return kindsTooMany({ ...parent, children }) === 0;
}

/** True for nodes that can be written where they stand: text that comes and goes cannot, nor what does so outside HTML. */
export function canStay(column: Column, parents: (Element | null)[]): boolean {
  if (column.kind !== 'node') return false;
  if (!isPartial(column, parents)) return true;
  return firstOf(parents).ns === HTML && !hasText(column);
}

/** True for a column with text that is more than white space. */
function hasText(column: Column): boolean {
  return column.kind === 'node' && column.nodes.some((node) => node?.kind === 'text' && !isSpaceText(node));
}

/** Text that varies on both sides of markup is one running text. */
function isRunning(children: Pattern[]): boolean {
  const texts = children.filter(({ kind, holes }) => kind === 'text' && holes.length > 0);
  return texts.length > 1 && children.some(({ kind }) => kind === 'element');
}

/** The cheapest way to write solved columns: what does not align, or is cheaper poured in, as slots. */
export function written(
  pattern: ElementPattern,
  columns: Column[],
  patterns: (Pattern | null)[],
  costing: Costing,
): Pattern[] | null {
  const { nodes } = pattern;
  const first = firstOf(nodes);
  const partial = columns.map((column) => column.kind === 'node' && isPartial(column, nodes));
  const bad = columns.map((column, i) => patterns[i] === null || (column.kind === 'node' && !canStay(column, nodes)));
  const isWritable = () => !bad.includes(true) && isOfOneKind(pattern, patterns as Pattern[]);
  if (!takesSlot(first)) return isWritable() ? (patterns as Pattern[]) : null;
  const running =
    columns.some((column, i) => partial[i]! && hasText(column)) || isRunning(patterns.filter((each) => each !== null));
  const loose = columns.map((column, i) => bad[i]! || partial[i]! || column.kind === 'star');
  if (!running && !loose.includes(true)) return patterns as Pattern[];
  const pour = (from: number, to: number) => slotAmong(pattern, columns, from, to, costing);
  const whole = pour(0, columns.length);
  if (running && whole !== null) return [whole];
  if (!loose.includes(true)) return patterns as Pattern[];
  // what may hold nothing but items is a list of them wherever they are alike
  const listed = isContainer(first) && patterns.some((each) => each?.kind === 'list');
  if (listed && isWritable()) return patterns as Pattern[];
  const costOfWay = (way: Pattern[]) => costOfAll(pattern, way, costing);
  // each stretch by itself, from the last one so that what stands before keeps its number
  let each: (Pattern | null)[] = patterns;
  for (const [from, to] of stretches(loose, columns).reverse()) {
    const kept = patterns.slice(from, to);
    const slot = pour(from, to);
    const keeps = !bad.slice(from, to).includes(true);
    if (slot !== null && !(keeps && costOfWay(kept as Pattern[]) <= costOfWay([slot]))) {
      each = each.toSpliced(from, to - from, slot);
      continue;
    }
    if (!keeps) continue;
    // what stands there in place of something poured in is poured in too
    const [first, after] = withoutSpace(from, to, columns);
    const instead = patterns.slice(first, after) as Pattern[];
    const isPoured = instead.some(({ kind }) => kind === 'slot') && isOneEverywhere(columns.slice(first, after), nodes);
    const one = isPoured ? pour(first, after) : null;
    if (one !== null && costOfWay([one]) < costOfWay(instead)) each = each.toSpliced(first, after - first, one);
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

/** The same columns without white space on either side. */
function withoutSpace(from: number, to: number, columns: Column[]): [from: number, to: number] {
  const start = isSpaceColumn(columns[from]) ? from + 1 : from;
  return [start, isSpaceColumn(columns[to - 1]) ? to - 1 : to];
}

/** True where each parent has exactly one of several children. */
function isOneEverywhere(columns: Column[], parents: (Element | null)[]): boolean {
  return (
    columns.length > 1 &&
    parents.every((parent, i) => parent === null || columns.flatMap((column) => nodesAt(column, i)).length === 1)
  );
}

/** A slot for the columns from `from` up to `to`; null where their source is not in order. */
function slotAmong(
  parent: ElementPattern,
  columns: Column[],
  from: number,
  to: number,
  costing: Costing,
): SlotPattern | null {
  const ranges = parent.nodes.map((node, i): [number, number] | null => {
    if (node === null) return null;
    const close = node.closeStart >= 0 ? node.closeStart : Math.min(node.end, costing.occurrences[i]!.end);
    let before = from - 1;
    while (before >= 0 && nodesAt(columns[before]!, i).length === 0) before--;
    let after = to;
    while (after < columns.length && nodesAt(columns[after]!, i).length === 0) after++;
    const start = before < 0 ? node.openEnd : nodesAt(columns[before]!, i).at(-1)!.end;
    return [start, after < columns.length ? nodesAt(columns[after]!, i)[0]!.start : close];
  });
  const slot = slotIn(parent, ranges, costing.occurrences);
  if (slot === null) return null;
  const contents = slot.ranges.flatMap((range, i) =>
    range === null ? [] : [costing.occurrences[i]!.page.source.slice(...range)],
  );
  // what is the same everywhere is no more to be poured in than nothing is
  const blank = contents.every((content) => isSameButForSpace(content, contents[0]!));
  costing.costs.set(slot, costOfPoured(slot.ranges, blank, costing));
  return slot;
}

/** True for an element in which white space shows. */
export function isInShown(element: Element): boolean {
  for (let at: Parent | null = element; at?.kind === 'element'; at = at.parent) if (isPreformatted(at)) return true;
  return false;
}

/** A slot without a name, and without anything of its own. */
export function unnamedSlot(
  place: Pick<SlotPattern, 'nodes' | 'ranges' | 'around' | 'blank' | 'isOnLine'>,
): SlotPattern {
  // by name: copying whatever is there takes several times as long, and slots are tried everywhere
  const { nodes, ranges, around, blank, isOnLine } = place;
  return {
    kind: 'slot',
    nodes,
    holes: [],
    ranges,
    around,
    blank,
    isOnLine,
    name: '',
    fallback: [],
    hasFallback: false,
  };
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
  const around = firstOf(parent.nodes);
  const contents = ranges.flatMap((range, i) => (range ? [occurrences[i]!.page.source.slice(...range)] : []));
  const blank = contents.every((content) => !/\S/.test(content));
  const isOnLine = !blank && contents.every(hasOwnLines) && !isInShown(around);
  return unnamedSlot({ nodes, ranges, around, blank, isOnLine });
}

function nodesAt(column: Column, i: number): Child[] {
  if (column.kind === 'star') return column.runs[i] ?? [];
  const node = column.kind === 'node' ? column.nodes[i] : null;
  return node ? [node] : [];
}
