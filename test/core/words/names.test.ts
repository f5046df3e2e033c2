/** Words that may be names, one a line. */
import { expect, test } from '@jest/globals';
import { asName, isSayable, isTelling } from '../../../src/core/words/names.js';

test.each([
  ['Tide table', 'tide-table'],
  ['boatName', 'boat-name'],
  ['jQuery', 'jquery'],
  ['a Quay', 'a-quay'],
  ['Fähre & Hafen', 'fahre-hafen'],
  ['1st quay', 'st-quay'],
  ['quay_2', 'quay-2'],
  ['42', null],
  ['', null],
  ['—', null],
  ['a name that is far too long to be one of a component', null],
])('%j as a name is %j', (text, name) => {
  expect(asName(text)).toBe(name);
});

test.each([
  ['departure', true, true],
  ['boat-card', true, true],
  ['mb-3', false, false],
  ['col-md-6', false, false],
  ['text-muted', true, false],
  ['primary', true, false],
  ['quay2', false, false],
  ['rounded-corner', false, false],
  ['third', true, false],
])('%s: may be said %s, says what a thing is %s', (word, sayable, telling) => {
  expect([isSayable(word), isTelling(word)]).toEqual([sayable, telling]);
});
