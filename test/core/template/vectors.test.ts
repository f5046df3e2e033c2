/** Maps by vectors of values, against the slow way: a key that spells all values out. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { keyOf, type Value } from '../../../src/core/template/pattern.js';
import { areSameValues, saySame, VectorMap } from '../../../src/core/template/vectors.js';

const text = fc.constantFrom('a', 'b', 'tide').map((value) => ({ value, raw: value }));
const value: fc.Arbitrary<Value> = fc.oneof(
  text,
  fc.boolean(),
  fc.constant(null),
  fc.constantFrom<Value>([{ note: null }], [{ note: { value: 'a', raw: 'a' } }]),
);
const vectors = fc
  .integer({ min: 1, max: 3 })
  .chain((length) => fc.array(fc.array(value, { minLength: length, maxLength: length }), { maxLength: 12 }));
const spelled = (values: Value[]) => JSON.stringify(values.map((each) => [typeof each, keyOf(each)]));

test('a vector map gives back what was last set for equal values, in the order in which these were first met', () => {
  fc.assert(
    fc.property(vectors, (all) => {
      const [fast, slow] = [new VectorMap<number>(), new Map<string, number>()];
      all.forEach((values, i) => {
        expect(fast.get(values)).toBe(slow.get(spelled(values)));
        fast.set(values, i);
        slow.set(spelled(values), i);
      });
      expect(fast.entries().map(({ values, held }) => [spelled(values), held])).toEqual([...slow]);
    }),
  );
});

test('one of vectors that say the same gives back what was set for those, the first of them', () => {
  fc.assert(
    fc.property(vectors, (all) => {
      const [fast, slow] = [new VectorMap<number>(saySame), [] as { values: Value[]; held: number }[]];
      all.forEach((values, i) => {
        const before = slow.find((each) => saySame(each.values, values));
        expect(fast.get(values)).toBe(before?.held);
        fast.set(values, i);
        if (before === undefined) slow.push({ values, held: i });
        else before.held = i;
      });
      expect(fast.entries()).toEqual(slow);
    }),
  );
});

test('two flags say the same where one is there exactly when the other is, or exactly when it is not', () => {
  const states = (values: Value[]) => values.map((each) => each === values[0]).join();
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.boolean(), fc.boolean()), { minLength: 1 }), (pairs) => {
      const [some, others] = [pairs.map(([one]) => one), pairs.map(([, other]) => other)];
      expect(saySame(some, others)).toBe(states(some) === states(others));
    }),
  );
});

test('the spelling of a value does not count, and what is there or not is not negated', () => {
  const said = (raw: string): Value => ({ value: 'fish & chips', raw });
  expect(areSameValues([said('fish & chips')], [said('fish &amp; chips')])).toBe(true);
  expect(saySame([true, null], [false, null])).toBe(false);
  expect(saySame([true, false], [true, false, true])).toBe(false);
});
