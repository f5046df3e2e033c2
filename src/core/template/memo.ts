/** What need not be made again while one group is generalised in several ways, one after the other. */
import type { Child, Element } from '../page/tree.js';
import { alignChildren, type Column } from './align.js';
import type { ListPattern, Pattern } from './pattern.js';

/** By the first node of a column. */
export type Made<T> = Map<Child, { column: (Child | null)[]; pattern: T }[]>;

/** How children align, and patterns for which nothing had to be weighed. */
export interface Memo {
  alignments: Map<Child, { column: (Child | null)[]; way: string; columns: Column[] }[]>;
  columns: Made<Pattern | null>;
  lists: Made<ListPattern | null>;
}

/** @param alignments those of the same occurrences, which hold for frames too */
export function newMemo(alignments: Memo['alignments']): Memo {
  return { alignments, columns: new Map(), lists: new Map() };
}

/**
 * What was made of a column before, or what `make` makes of it now.
 * @param forGood where it goes that holds for every weight, because nothing was weighed for it
 */
export function once<T>(
  made: Made<T>,
  forGood: Made<T> | undefined,
  column: (Child | null)[],
  weighed: { times: number },
  make: () => T,
): T {
  const first = column.find((node) => node !== null)!;
  const before = find(forGood?.get(first), column) ?? find(made.get(first), column);
  if (before !== undefined) return before.pattern;
  const { times } = weighed;
  const pattern = make();
  const kept = forGood !== undefined && weighed.times === times ? forGood : made;
  kept.set(first, [...(kept.get(first) ?? []), { column, pattern }]);
  return pattern;
}

function find<T extends { column: (Child | null)[] }>(some: T[] | undefined, column: (Child | null)[]): T | undefined {
  return some?.find(
    (each) => each.column.length === column.length && each.column.every((node, i) => node === column[i]),
  );
}

/** The children of aligned elements in columns, as far as that is known already. */
export function columnsOf(
  nodes: (Element | null)[],
  verbatim: boolean,
  lists: 'none' | 'uneven' | 'all',
  memo: Memo | undefined,
  fine = false,
): Column[] {
  if (memo === undefined) return alignChildren(nodes, verbatim, lists, fine);
  const first = nodes.find((node) => node !== null)!;
  const way = `${lists} ${fine}`;
  const known = memo.alignments.get(first) ?? [];
  const same = known.filter((each) => each.way === way);
  const before = find(same, nodes);
  if (before !== undefined) return before.columns;
  const columns = alignChildren(nodes, verbatim, lists, fine);
  memo.alignments.set(first, [...known, { column: nodes, way, columns }]);
  return columns;
}
