/**
 * What belongs to vectors of values, one value an occurrence. Vectors are compared with each other: nearly all differ in
 * what they start with, and a key of all their values would be as long as these.
 */
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

/** A map from vectors, in the order in which these were first met. */
export class VectorMap<T> {
  private readonly known: { values: Value[]; held: T }[] = [];

  constructor(private readonly areEqual: (some: Value[], others: Value[]) => boolean = areSameValues) {}

  get(values: Value[]): T | undefined {
    return this.known.find((each) => this.areEqual(each.values, values))?.held;
  }

  set(values: Value[], held: T): void {
    const before = this.known.find((each) => this.areEqual(each.values, values));
    if (before === undefined) this.known.push({ values, held });
    else before.held = held;
  }

  entries(): { values: Value[]; held: T }[] {
    return this.known;
  }
}
