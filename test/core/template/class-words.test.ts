/** Class lists of one place: which of their words come and go. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { wordHoles } from '../../../src/core/template/class-words.js';
import { holesAroundCommonWords } from '../../../src/core/template/common-words.js';
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

/** A class attribute with what varies in it: what may stand there, and what is constant before that. */
const written = (holes: PartHole[]) =>
  holes[0]!.words!.map((word, at) => {
    const { values, before } = holes.find(({ part }) => part === at) ?? { values: [], before: '' };
    const told = new Set(values.map((value) => (isText(value) ? value.value : value)));
    return word ?? { [before]: [...told] };
  });

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
    [['tx-red menu', 'tx-low menu', 'menu'], null],
    [
      ['boat-old boat', 'boat', 'boat boat-new'],
      ['boat-old ', ' boat-new'],
    ],
  ])('in %j', (lists, flags) => {
    expect(wordHoles(lists)?.map(({ before }) => before) ?? null).toEqual(flags);
  });

  test.each<[lists: string[], expected: unknown[]]>([
    // one of a stem, however long that is, and one of another
    [
      ['ic ic-reel', 'ic ic-reel tx-red', 'ic ic-buoy-up', 'ic tx-low'],
      ['ic', { ' ic-': ['reel', 'buoy-up', null] }, { ' tx-': [null, 'red', 'low'] }],
    ],
    // one of several that exclude each other
    [
      ['card', 'card wide', 'card low', 'card red'],
      ['card', { ' ': [null, 'wide', 'low', 'red'] }],
    ],
    // what says how something is just now comes and goes by itself
    [
      ['item', 'item active', 'item disabled', 'item wide'],
      ['item', { ' active': [false, true] }, { ' disabled': [false, true] }, { ' wide': [false, true] }],
    ],
    // what moves a box in one way
    [
      ['card mb-5', 'card mb-5 mb-lg-0', 'card mb-md-0 mb-lg-0', 'card red'],
      ['card', { ' ': ['mb-5', 'mb-5 mb-lg-0', 'mb-md-0 mb-lg-0', null] }, { ' red': [false, true] }],
    ],
    // white space that is always behind them is none of theirs
    [
      ['w-6 h card', 'w-4 card'],
      [{ 'w-': ['6', '4'] }, ' ', { 'h ': [true, false] }, 'card'],
    ],
  ])('and what is told together in %j', (lists, expected) => {
    expect(written(wordHoles(lists)!)).toEqual(expected);
  });

  test('say what each place has, wherever they stand', () => {
    const words = fc.subarray(['a', 'b', 'x-1', 'x-2', 'c', 'mb-1', 'mb-2', 'y-1-1', 'y-2']);
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

describe('what stands around the words that all lists have', () => {
  test.each<[lists: string[], expected: unknown[] | null]>([
    [
      ['icon anchor', 'icon gear spin', 'icon buoy'],
      ['', 'icon', ' ', { '': ['anchor', 'gear', 'buoy'] }, { ' spin': [false, true] }, ''],
    ],
    [
      ['icon i-anchor', 'icon spin i-gear', 'icon i-buoy', 'icon spin i-reel', 'icon i-hook'],
      ['', 'icon', ' ', { 'spin ': [false, true] }, { 'i-': ['anchor', 'gear', 'buoy', 'reel', 'hook'] }, ''],
    ],
    [
      ['icon i-anchor', 'icon i-gear red', 'icon i-buoy', 'icon i-gear low', 'icon i-hook'],
      ['', 'icon', ' ', { 'i-': ['anchor', 'gear', 'buoy', 'hook'] }, { ' ': [null, 'red', 'low'] }, ''],
    ],
    [
      ['card', 'card wide red', 'card low'],
      ['', 'card', { ' ': [null, 'wide red', 'low'] }, ''],
    ],
    [
      ['card', 'card card-wide', 'card card-low'],
      ['', 'card', { ' card-': [null, 'wide', 'low'] }, ''],
    ],
    [
      ['wide red card', 'low card'],
      ['', { '': ['wide red', 'low'] }, ' ', 'card', ''],
    ],
    [
      ['card a b end', 'card end c', 'card d end'],
      ['', 'card', { ' ': ['a b', null, 'd'] }, ' ', 'end', { ' c': [false, true] }, ''],
    ],
    [
      ['wide red card', 'card'],
      [{ 'wide red ': [true, false] }, 'card', ''],
    ],
    [['wide card', 'low card', 'card'], null],
    [['card  wide red', 'card low'], null],
    [
      ['card wide ', 'card red', 'card low'],
      ['', 'card', ' ', { '': ['wide ', 'red', 'low'] }, ''],
    ],
    [['card ', 'card low'], null],
    [
      ['bg-1 card', 'bg-2 card', 'bg-3 tx-red card', 'bg-4 tx-low card', 'bg-5 card'],
      ['', { 'bg-': ['1', '2', '3', '4', '5'] }, { ' tx-': [null, 'red', 'low'] }, ' ', 'card', ''],
    ],
    [[' wide card', 'low card'], null],
    [['wide red', 'low'], null],
    [['card {{wide}} red', 'card low'], null],
    [
      ['nav icon i-reel', 'icon i-buoy nav', 'icon i-hook', 'icon i-gear'],
      [
        { 'nav ': [true, false] },
        'icon',
        ' ',
        { 'i-': ['reel', 'buoy', 'hook', 'gear'] },
        { ' nav': [false, true] },
        '',
      ],
    ],
    // a choice of few
    [['wide low', 'low wide'], null],
    [['item', 'item active', 'active item'], null],
    // more have these than none, and what may be left out has no default
    [['card wide red', 'card wide red', 'card low', 'card'], null],
  ])('in %j', (lists, expected) => {
    const holes = holesAroundCommonWords(lists);
    expect(holes && written(holes)).toEqual(expected);
  });

  test('say what each place has', () => {
    const word = fc.constantFrom('a', 'b', 'x-1', 'x-2', 'quay', 'pier', '');
    const list = fc
      .tuple(fc.array(fc.tuple(word, fc.constantFrom(' ', ' ', ' ', '\n  ')), { maxLength: 5 }), word)
      .map(([words, last]) => [...words.flat(), last].join(''));
    fc.assert(
      fc.property(fc.array(fc.option(list, { freq: 9 }), { minLength: 2, maxLength: 5 }), (lists) => {
        fc.pre(lists.some((each) => each !== null));
        const holes = holesAroundCommonWords(lists) ?? [];
        if (holes.length > 0) expect(lists.map((each, i) => each && said(holes, i))).toEqual(lists);
      }),
      { numRuns: cases(4000) },
    );
  });
});
