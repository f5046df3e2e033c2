/** Class lists of one place: which of their words come and go. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { wordHoles } from '../../../src/core/template/class-words.js';
import { isText, type PartHole } from '../../../src/core/template/pattern.js';
import { cases } from '../../arbitrary/cases.js';

/** What a class attribute says at one place. */
function said(holes: PartHole[], i: number): string {
  const saidBy = ({ values, before, otherwise }: PartHole) => {
    const value = values[i]!;
    if (isText(value)) return before + value.value;
    return value === true ? before : value === false ? (otherwise ?? '') : '';
  };
  const words = holes[0]!.words!;
  return words.map((word, at) => word ?? saidBy(holes.find(({ part }) => part === at)!)).join('');
}

describe('words that come and go', () => {
  test.each<[lists: string[], flags: string[] | null]>([
    [['menu here', 'menu'], [' here']],
    [['here menu', 'menu'], ['here ']],
    [
      ['here menu wide', 'menu', 'menu wide'],
      ['here ', ' wide'],
    ],
    [['here menu', 'menu', 'menu here'], null],
    [[' menu here', 'menu'], null],
    [['here', 'there'], null],
    [['here ', 'there '], null],
    [
      ['boat-old boat', 'boat', 'boat boat-new'],
      ['boat-old ', ' boat-new'],
    ],
  ])('in %j', (lists, flags) => {
    expect(wordHoles(lists)?.map(({ before }) => before) ?? null).toEqual(flags);
  });

  test('say what each place has, wherever they stand', () => {
    const words = fc.subarray(['a', 'b', 'x-1', 'x-2', 'c']);
    const list = fc.tuple(words, words).map(([before, after]) => [...before, 'quay', ...after].join(' '));
    fc.assert(
      fc.property(fc.array(list, { minLength: 2, maxLength: 5 }), (lists) => {
        const holes = wordHoles(lists);
        if (holes !== null) expect(lists.map((_, i) => said(holes, i))).toEqual(lists);
      }),
      { numRuns: cases(2000) },
    );
  });
});
