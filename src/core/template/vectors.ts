/** What belongs to vectors of values, one value an occurrence; a key of all values would be as long as these. */
import { addTo } from '../groups.js';
import { keyOf, type Value } from './pattern.js';

/** True for values that are the same. */
function isSameValue(one: Value, other: Value): boolean {
  return one === other || (typeof one === typeof other && keyOf(one) === keyOf(other));
}

/** True for vectors of the same values. */
export function areSameValues(some: Value[], others: Value[]): boolean {
  return some.length === others.length && some.every((value, i) => isSameValue(value, others[i]!));
}

/** True for vectors of the same values, and where one is true exactly where the other is false. */
export function saySame(some: Value[], others: Value[]): boolean {
  if (areSameValues(some, others)) return true;
  return some.length === others.length && some.every((value, i) => typeof value === 'boolean' && others[i] === !value);
}

/** A number that is the same for vectors that say the same; others seldom have it too. */
function hashOf(values: Value[]): number {
  const [first] = values;
  // of flags that are all there, only which are alike counts: the opposite of all says the same
  const areFlags = values.every((value) => typeof value === 'boolean');
  let hash = values.length;
  for (const value of values) {
    const code =
      typeof value !== 'boolean' ? textHash(keyOf(value)) : areFlags ? Number(value === first) : value ? 2 : 3;
    hash = (Math.imul(hash, 31) + code) | 0;
  }
  return hash;
}

function textHash(text: string): number {
  const { length } = text;
  return length === 0 ? 0 : length * 65_599 + text.charCodeAt(length >> 1) * 257 + text.charCodeAt(length - 1);
}

interface Entry<T> {
  values: Value[];
  held: T;
}

/** A map from vectors, in the order in which these were first met. */
export class VectorMap<T> {
  private readonly known: Entry<T>[] = [];
  private readonly byHash = new Map<number, Entry<T>[]>();

  constructor(private readonly areEqual: (some: Value[], others: Value[]) => boolean = areSameValues) {}

  get(values: Value[]): T | undefined {
    return this.entryOf(values, hashOf(values))?.held;
  }

  set(values: Value[], held: T): void {
    const hash = hashOf(values);
    const before = this.entryOf(values, hash);
    if (before !== undefined) {
      before.held = held;
      return;
    }
    const entry = { values, held };
    this.known.push(entry);
    addTo(this.byHash, hash, entry);
  }

  entries(): readonly Entry<T>[] {
    return this.known;
  }

  private entryOf(values: Value[], hash: number): Entry<T> | undefined {
    return this.byHash.get(hash)?.find((each) => this.areEqual(each.values, values));
  }
}
