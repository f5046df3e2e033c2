/** How many lines of a site are whose: of each component, and of the pages themselves. */
import type { Extent } from '../component/expand.js';
import { lineCount, offsetAt, type Page } from '../page/parse.js';
import { firstNotBefore } from '../search.js';
import { dataPathOf, listsIn, type Site, usesOf } from './uses.js';

export interface LineShares {
  total: number;
  /** lines that are no component's */
  pages: number;
  /** by the component's name */
  components: ReadonlyMap<string, number>;
}

/** A range of a text that is one component's but for what is poured into it, in UTF-16 offsets. */
interface Owned {
  name: string;
  start: number;
  end: number;
  poured: readonly { start: number; end: number }[];
}

/**
 * The lines of the static site.
 * @param pages expanded, with the extents of their uses
 */
export function staticLines(pages: readonly { page: Page; extents: readonly Extent[] }[]): LineShares {
  const counts = new Map<string, number>();
  for (const { page, extents } of pages)
    countLines(
      page,
      '',
      extents.map((extent) => ({ ...extent, name: extent.component })),
      counts,
    );
  return sharesOf(counts);
}

/** The lines of pages, component files and data files as they are written; a use is of the component that it uses. */
export function sourceLines(site: Pick<Site, 'pages' | 'registry' | 'data'>): LineShares {
  const counts = new Map<string, number>();
  const owned = new Map<string, Owned[]>();
  for (const use of usesOf(site)) {
    const { holder, element, name } = use;
    const lists = new Set(listsIn(use));
    const poured = element.children.filter((child) => child.kind !== 'element' || !lists.has(child));
    owned.set(holder.path, [
      ...(owned.get(holder.path) ?? []),
      { name, start: element.start, end: element.end, poured },
    ]);
    for (const path of [...lists].flatMap((list) => dataPathOf(use, list) ?? [])) {
      const source = site.data.get(path);
      // a file that several uses name is counted once
      if (source !== undefined && !owned.has(path))
        countLines({ source }, name, owned.set(path, []).get(path)!, counts);
    }
  }
  for (const page of site.pages) countLines(page, '', owned.get(page.path) ?? [], counts);
  for (const component of site.registry.values())
    countLines(component, component.name, owned.get(component.path) ?? [], counts);
  return sharesOf(counts);
}

function sharesOf(counts: ReadonlyMap<string, number>): LineShares {
  const components = new Map([...counts].filter(([name]) => name !== ''));
  const total = [...counts.values()].reduce((sum, lines) => sum + lines, 0);
  return { total, pages: counts.get('') ?? 0, components };
}

/**
 * Counts each line for whoever the first thing on it is of.
 * @param own whose what is in no range is, '' for the pages
 * @param ranges outer ones before those in them
 */
function countLines(
  holder: { source: string },
  own: string,
  ranges: readonly Owned[],
  counts: Map<string, number>,
): void {
  const starts = Array.from({ length: lineCount(holder) }, (_, i) => firstOnLine(holder, offsetAt(holder, i + 1)));
  const owners = starts.map(() => own);
  /** numbers of the lines that begin in a range, from the first to before the last */
  const linesIn = ({ start, end }: { start: number; end: number }) =>
    [start, end].map((offset) => firstNotBefore(starts, (first) => first < offset)) as [number, number];
  for (const { name, poured, ...range } of ranges) {
    const [from, to] = linesIn(range);
    const outer = owners.slice(from, to);
    owners.fill(name, from, to);
    for (const [first, after] of poured.map(linesIn))
      for (let line = first; line < after; line++) owners[line] = outer[line - from]!;
  }
  for (const owner of owners) counts.set(owner, (counts.get(owner) ?? 0) + 1);
}

/** Offset of what is not white space on a line; of a blank one, where it starts. */
function firstOnLine({ source }: { source: string }, start: number): number {
  const [space = ''] = /^[ \t\f]*(?=[^\s])/.exec(source.slice(start, start + LONGEST_INDENT)) ?? [];
  return start + space.length;
}

/** Indentation beyond it counts as the beginning of its line. */
const LONGEST_INDENT = 1000;
