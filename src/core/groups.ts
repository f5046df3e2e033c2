/** Groups by key. */

/** A map of groups, as far as putting something into one asks. */
interface Groups<K, T> {
  get: (key: K) => T[] | undefined;
  set: (key: K, group: T[]) => unknown;
}

/** Puts one more into the group of its key, which is made when it is the first. */
export function addTo<K, T>(groups: Groups<K, T>, key: K, each: T): void {
  const group = groups.get(key);
  if (group === undefined) groups.set(key, [each]);
  else group.push(each);
}
