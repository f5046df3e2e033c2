/** Tells two components in the clothes of one: occurrences that fall into two halves, each mostly made of parts that the other lacks. */
import type { General } from '../template/generalise.js';
import { type Pattern, patternsIn, rangeAt, runsOf } from '../template/pattern.js';

/** What the halves have in common is less than this share of each. */
const COMMON = 0.5;
/** So many ways to halve are looked at. */
const MOST = 8;

/** Which of the two halves each occurrence belongs to; null where it is one component. */
export function halvesOf(general: General): boolean[] | null {
  const { root, slots, occurrences } = general;
  const ways = new Map<string, boolean[]>();
  for (const pattern of patternsIn(root)) {
    if (pattern.kind !== 'element') continue;
    for (const { presence } of runsOf(pattern)) {
      const key = presence.map((there) => Number(there === presence[0])).join('');
      if (!ways.has(key) && ways.size < MOST) ways.set(key, presence);
    }
  }
  const lengths = occurrences.map(({ element, end }, i) => {
    const poured = slots.reduce((sum, { ranges }) => sum + lengthOf(ranges[i] ?? null), 0);
    return end - element.start - poured;
  });
  const isApart = (side: boolean[]) => {
    const whole = lengths.reduce((sum, length, i) => sum + (side[i] ? length : 0), 0);
    return onlyIn(root, side) > whole * (1 - COMMON);
  };
  for (const side of ways.values()) if (isApart(side) && isApart(side.map((there) => !there))) return side;
  return null;
}

/** Bytes of the parts that stand in no occurrence beyond `side`, slots left out. */
function onlyIn(pattern: Pattern, side: boolean[]): number {
  if (pattern.kind === 'slot') return 0;
  if (pattern.nodes.every((node, i) => node === null || side[i]))
    return pattern.nodes.reduce((sum, _, i) => sum + lengthOf(rangeAt(pattern, i)), 0);
  return pattern.kind === 'element' ? pattern.children.reduce((sum, child) => sum + onlyIn(child, side), 0) : 0;
}

function lengthOf(range: [start: number, end: number] | null): number {
  return range === null ? 0 : range[1] - range[0];
}
