/** One page in two spellings that differ in white space: what stands where in one stands where in the other. */
import type { Page } from '../page/parse.js';
import { elementsOf } from '../page/tree.js';
import { firstNotBefore } from '../search.js';
import type { Extent } from './expand.js';

/**
 * @param from a page
 * @param to the same page: equal elements in equal order
 * @returns what gives the UTF-16 offset into `to` of what stands at an offset into `from`: tags exactly; what stands between
 * them as far from the tag before it, and no farther than the next
 */
export function offsetsInto(from: Page, to: Page): (offset: number) => number {
  if (from.source === to.source) return (offset) => offset;
  const [own, other] = [from, to].map(tagOffsets) as [number[], number[]];
  return (offset) => {
    const next = firstNotBefore(own, (each) => each <= offset);
    const before = next - 1;
    if (before < 0) return Math.min(offset, other[0] ?? to.source.length);
    const most = other[next] ?? to.source.length;
    return Math.min(other[before]! + offset - own[before]!, Math.max(other[before]!, most));
  };
}

/** Where tags begin and end, in order; those that are not written are left out. */
function tagOffsets({ root }: Page): number[] {
  const offsets = elementsOf(root)
    .filter(({ start }) => start >= 0)
    .flatMap(({ start, openEnd, closeStart, end }) => [start, openEnd, ...(closeStart < 0 ? [] : [closeStart]), end]);
  return offsets.sort((a, b) => a - b);
}

/** Extents of a page, as they stand in another spelling of it. */
export function extentsIn(to: Page, { page, extents }: { page: Page; extents: readonly Extent[] }): Extent[] {
  const move = offsetsInto(page, to);
  const moved = <R extends { start: number; end: number }>(range: R): R => ({
    ...range,
    start: move(range.start),
    end: move(range.end),
  });
  return extents.map((extent) => ({ ...moved(extent), poured: extent.poured.map(moved) }));
}
