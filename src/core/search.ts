/** Searching what is sorted. */

/** The index of the first value that does not come before what is looked for; the length where all do. */
export function firstNotBefore<T>(sorted: readonly T[], isBefore: (value: T) => boolean): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (isBefore(sorted[middle]!)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** True where all of the second are among the first, both in ascending order. */
export function includesAll(all: readonly number[], some: readonly number[]): boolean {
  let at = 0;
  return some.every((each) => {
    while (all[at]! < each) at++;
    return all[at] === each;
  });
}
