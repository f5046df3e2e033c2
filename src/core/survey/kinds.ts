/** Places that turn out to be of two kinds once their template is known. */
import { classWords } from '../page/tree.js';
import type { General } from '../template/pattern.js';
import { isNaming } from '../words/vocabulary.js';
import { LANDMARKS } from './landmarks.js';

/** So often must one thing stand in a template where another stands otherwise: a single choice between two is one thing. */
const ALTERNATIVES = 2;

/**
 * The two kinds that occurrences are of, where several parts of the template are there exactly when several others are
 * not.
 * @returns for each occurrence whether it is of the first kind; null where all are of one
 */
export function kindsIn({ blocks }: General): boolean[] | null {
  const counts = new Map<string, number>();
  const keyOf = (presence: boolean[], negated: boolean) =>
    presence.map((there) => (there === negated ? '0' : '1')).join('');
  for (const { presence } of blocks) {
    const key = keyOf(presence, false);
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const found = blocks.find(({ presence }) => {
    const count = counts.get(keyOf(presence, false))!;
    return Math.min(count, counts.get(keyOf(presence, true)) ?? 0) >= ALTERNATIVES;
  });
  return found?.presence ?? null;
}

/**
 * The two kinds that occurrences may be of where some hold what is usual in a slot and others do not: a word that names
 * something stands on the roots of one kind only, or the first kind is a landmark that pages have once.
 * @returns for each such slot whether an occurrence is of the first kind
 */
export function kindsByContent({ slots, root, occurrences, vocabulary }: General): boolean[][] {
  const lists = root.nodes.map((node) => classWords(node!).filter((word) => isNaming(vocabulary.get(word))));
  const isNamed = (isFirst: boolean[]) =>
    [...new Set(lists.flat())].some((word) => {
      const has = lists.map((list) => list.includes(word));
      return has.every((each, i) => each === isFirst[i]) || has.every((each, i) => each !== isFirst[i]);
    });
  const areLandmarks = (isFirst: boolean[]) => {
    const pages = occurrences.filter((_, i) => isFirst[i]).map(({ page }) => page);
    return LANDMARKS.has(root.nodes[0]!.tag) && new Set(pages).size === pages.length;
  };
  return slots
    .filter(({ hasFallback }) => hasFallback)
    .map(({ ranges }) => ranges.map((range) => range === null))
    .filter((isFirst) => isNamed(isFirst) || areLandmarks(isFirst));
}
