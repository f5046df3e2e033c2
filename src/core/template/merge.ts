/**
 * Merges rows of tokens into a master sequence by longest common subsequences, the longest and then alphabetically first row as
 * the seed, so that the order in which rows come does not matter.
 */

/** Longer or more varied rows are not one component. */
const MAX_LENGTH = 80;
const MAX_SEQUENCES = 24;

/** Ends each token of a row. */
export const END = '\u0000';

/**
 * Merges sequences of tokens, each token ended by `END`; a null row is an absent parent.
 * @param contents what the tokens of each row say, '' for nothing; where several could meet, those meet that say the same
 * @returns a column a place: for each row the index of its token there, -1 where it has none; null when too varied
 */
export function mergeRows(
  rows: (string | null)[],
  contents: ReadonlyMap<string, string[]> = new Map(),
): number[][] | null {
  const distinct = new Map<string, string[]>();
  for (const row of rows) if (row !== null && !distinct.has(row)) distinct.set(row, row.split(END).slice(0, -1));
  if (distinct.size > MAX_SEQUENCES) return null;
  const keys = [...distinct.keys()].sort(
    (a, b) => distinct.get(b)!.length - distinct.get(a)!.length || (a < b ? -1 : 1),
  );
  let master: Place[] = [];
  for (const key of keys) {
    const row = distinct.get(key)!;
    if (row.length > MAX_LENGTH) return null;
    const said = contents.get(key);
    const pairs = commonSubsequence(
      master.map(({ token }) => token),
      row,
      (i, j) => said !== undefined && master[i]!.said.has(said[j]!),
    );
    const merged: Place[] = [];
    const note = (place: Place, at: number) => {
      place.at.set(key, at);
      if (said !== undefined && said[at] !== '') place.said.add(said[at]!);
      merged.push(place);
    };
    let m = 0;
    let r = 0;
    for (const [i, j] of [...pairs, [master.length, row.length] as const]) {
      while (m < i) merged.push(master[m++]!);
      for (; r < j; r++) note({ token: row[r]!, at: new Map(), said: new Set() }, r);
      if (i < master.length) note(master[m++]!, r++);
    }
    master = merged;
    if (master.length > MAX_LENGTH) return null;
  }
  return master.map(({ at }) => rows.map((row) => (row === null ? -1 : (at.get(row) ?? -1))));
}

/** A place in the master sequence. */
interface Place {
  token: string;
  /** where each row has it, by its key */
  at: Map<string, number>;
  /** what it says in the rows that have it */
  said: Set<string>;
}

/** Weighs a pair; what says the same decides only among subsequences of one length. */
const PAIR = MAX_LENGTH + 1;

/**
 * A longest common subsequence as pairs of indices, of those that are as long the one with the most pairs that say the same;
 * the earliest one of the first sequence where there are several.
 */
function commonSubsequence(a: string[], b: string[], saysSame: (i: number, j: number) => boolean): [number, number][] {
  const weights = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1));
  const weightOfPair = (i: number, j: number) => weights[i + 1]![j + 1]! + PAIR + (saysSame(i, j) ? 1 : 0);
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--) {
      const without = Math.max(weights[i + 1]![j]!, weights[i]![j + 1]!);
      weights[i]![j] = a[i] === b[j] ? Math.max(weightOfPair(i, j), without) : without;
    }
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (a[i] === b[j] && weights[i]![j] === weightOfPair(i, j)) pairs.push([i++, j++]);
    else if (weights[i + 1]![j]! >= weights[i]![j + 1]!) i++;
    else j++;
  }
  return pairs;
}
