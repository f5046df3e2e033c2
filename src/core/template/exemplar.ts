/** Which occurrence a template is written from. */
import type { Occurrence } from '../fragments/occurrence.js';
import { indentAt } from '../page/parse.js';
import { holeRange } from './holes.js';
import { type General, type Hole, type List, rangeAt } from './pattern.js';

/** How often a layout was met, and where first. */
interface Layout {
  first: number;
  count: number;
}

/** The first occurrence of the layout that most have, among those that lack the least. */
export function exemplarOf(general: General): number {
  const missing = missingCounts(general);
  const least = missing.reduce((one, other) => Math.min(one, other));
  const holes = [...general.props.flatMap((prop) => prop.holes), ...general.literals];
  const lists = ownLists(general);
  const layouts = new Map<string, Layout>();
  let before = { indent: '', rest: [''], layout: { first: -1, count: 0 } };
  for (const [i, occurrence] of general.occurrences.entries()) {
    if (missing[i] !== least) continue;
    const indent = indentAt(occurrence.page, occurrence.element.start);
    const rest = restOf(general, holes, lists, i);
    // mostly like the one before
    if (before.indent !== indent || !areEqual(before.rest, rest)) {
      const key = dedented(rest.join('\u0001'), indent);
      const layout = layouts.get(key) ?? { first: i, count: 0 };
      layouts.set(key, layout);
      before = { indent, rest, layout };
    }
    before.layout.count++;
  }
  const [best] = [...layouts].sort(([a, one], [b, two]) => two.count - one.count || (a < b ? -1 : 1));
  return best![1].first;
}

/** A text with its lines indented as they are deeper than a place; those that are not get a mark. */
function dedented(text: string, indent: string): string {
  return text.replace(/\n([ \t]*)/g, (line, own: string, at: number) => {
    if (own.startsWith(indent)) return `\n${own.slice(indent.length)}`;
    const isBlank = /[\r\n]/.test(text[at + line.length] ?? '');
    return isBlank ? line : `\n\u0002${own}`;
  });
}

function areEqual(some: string[], others: string[]): boolean {
  return some.length === others.length && some.every((each, i) => each === others[i]);
}

/** How much of what comes and goes is not there, one an occurrence. */
function missingCounts(general: General): number[] {
  const missing = new Array<number>(general.occurrences.length).fill(0);
  const count = <T>(each: T[], isAway: (value: T) => boolean) => {
    for (let i = 0; i < missing.length; i++) if (isAway(each[i]!)) missing[i]!++;
  };
  for (const { holes } of general.props)
    for (const { values } of holes) count(values, (value) => value === false || value === null);
  for (const { presence } of general.blocks) count(presence, (there) => !there);
  for (const { pattern } of ownLists(general)) count(pattern.nodes, (node) => node === null);
  return missing;
}

/** Occurrences, those first whose lines are all indented at least as deep as where they start. */
export function byTidiness(occurrences: Occurrence[], indents: string[]): number[] {
  const untidy = occurrences.map(({ page, element, end }, i) => {
    const lines = page.source.slice(element.start, end).split('\n').slice(1);
    return lines.filter((line) => line.trim() !== '' && !line.startsWith(indents[i]!)).length;
  });
  return [...occurrences.keys()].sort((a, b) => untidy[a]! - untidy[b]! || a - b);
}

/** The source of an occurrence without what its own is, values and what is poured in: what stands around these. */
function restOf({ occurrences, slots }: General, holes: Hole[], lists: List[], i: number): string[] {
  const occurrence = occurrences[i]!;
  const { source } = occurrence.page;
  const ranges: [number, number][] = [];
  const add = (range: [number, number] | null) => {
    if (range !== null) ranges.push(range);
  };
  for (const hole of holes) add(holeRange(hole, i, occurrence));
  for (const slot of slots) add(slot.ranges[i] ?? null);
  for (const { pattern } of lists) add(rangeAt(pattern, i));
  ranges.sort((a, b) => a[0] - b[0]);
  const rest: string[] = [];
  let at = occurrence.element.start;
  for (const [from, to] of ranges) {
    rest.push(source.slice(at, from));
    at = Math.max(at, to);
  }
  return [...rest, source.slice(at, occurrence.end)];
}

/** The lists that the template itself repeats, without those that it passes on. */
export function ownLists({ props }: General): List[] {
  return props.flatMap(({ list, holes }) => (list === undefined || holes.length > 0 ? [] : [list]));
}
