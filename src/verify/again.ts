/** What two versions of a page come to, read again while they differ. */

/**
 * What a browser makes of a page may depend on when fonts and files arrive: one that comes out as the other version did at
 * some time is the same.
 * @param read reads both versions, for the first time (0), or opened again
 * @param again how often at most
 * @returns the last pair, which waited longest for files, where no two that were read are alike; else null
 */
export async function pairThatDiffers<T>(
  read: (time: number) => Promise<[before: T, after: T]>,
  areAlike: (before: T, after: T) => boolean,
  again: number,
): Promise<[before: T, after: T] | null> {
  const pairs: [T, T][] = [];
  while (pairs.length <= again) {
    const [before, after] = await read(pairs.length);
    const isAsAtOtherTime = ([was, is]: [T, T]) => areAlike(was, after) || areAlike(before, is);
    if (areAlike(before, after) || pairs.some(isAsAtOtherTime)) return null;
    pairs.push([before, after]);
  }
  return pairs.at(-1)!;
}
