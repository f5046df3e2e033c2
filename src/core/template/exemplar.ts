/** Which occurrence a template is written from. */
import type { Occurrence } from '../fragments/occurrence.js';
import { indentAt } from '../page/parse.js';
import { holeRange } from './holes.js';
import { type General, type Hole, type List, rangeAt } from './pattern.js';

/** The first occurrence of the layout that most occurrences have, among those that lack the least. */
export function exemplarOf(general: General): number {
  const { occurrences } = general;
  const counts = new Map<string, { first: number; count: number; missing: number }>();
  const holes = general.props.flatMap((prop) => prop.holes);
  occurrences.forEach((occurrence, i) => {
    const away = (hole: Hole) => hole.values[i] === false || hole.values[i] === null;
    const blocks = general.blocks.filter(({ presence }) => presence[i] === false);
    const lists = ownLists(general).filter(({ pattern }) => pattern.nodes[i] === null);
    const missing = holes.filter(away).length + blocks.length + lists.length;
    const key = layoutOf(general, occurrence, i);
    const entry = counts.get(key);
    if (entry) entry.count++;
    else counts.set(key, { first: i, count: 1, missing });
  });
  const [best] = [...counts].sort(
    ([a, one], [b, two]) => one.missing - two.missing || two.count - one.count || (a < b ? -1 : 1),
  );
  return best![1].first;
}

/** Occurrences, those first whose lines are all indented at least as deep as where they start. */
export function byTidiness(occurrences: Occurrence[], indents: string[]): number[] {
  const untidy = occurrences.map(({ page, element, end }, i) => {
    const lines = page.source.slice(element.start, end).split('\n').slice(1);
    return lines.filter((line) => line.trim() !== '' && !line.startsWith(indents[i]!)).length;
  });
  return [...occurrences.keys()].sort((a, b) => untidy[a]! - untidy[b]! || a - b);
}

function layoutOf(general: General, occurrence: Occurrence, i: number): string {
  const { source } = occurrence.page;
  const { start } = occurrence.element;
  const indent = indentAt(occurrence.page, start);
  let text = '';
  let at = start;
  const ranges = [...general.props.flatMap((prop) => prop.holes), ...general.literals]
    .map((hole) => holeRange(hole, i, occurrence))
    .concat(general.slots.map(({ ranges }) => ranges[i] ?? null))
    .concat(ownLists(general).map(({ pattern }) => rangeAt(pattern, i)))
    .filter((range): range is [number, number] => range !== null)
    .sort((a, b) => a[0] - b[0]);
  for (const [from, to] of ranges) {
    text += `${source.slice(at, from)}\u0001`;
    at = Math.max(at, to);
  }
  return (text + source.slice(at, occurrence.end)).replaceAll(`\n${indent}`, '\n');
}

/** The lists that the template itself repeats, without those that it passes on. */
export function ownLists({ props }: General): List[] {
  return props.flatMap(({ list, holes }) => (list === undefined || holes.length > 0 ? [] : [list]));
}
