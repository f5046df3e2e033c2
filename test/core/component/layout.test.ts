/** Where the lines of what a use holds come out. */
import { expect, test } from '@jest/globals';
import { expandPage, parsePage, readComponents } from '../../../src/index.js';

/** What a page expands to with one component. */
function expanded(page: string, template: string): string {
  const source = `<template component="x-card">\n  ${template}\n</template>\n`;
  return expandPage(parsePage('p.html', page), readComponents([{ path: 'components/x-card.html', source }])).text;
}

test.each([
  [
    'lines of content stand in the slot as they stand in the use',
    '    <x-card>\n      <i>a</i>\n        <b>b</b>\n    </x-card>',
    '<p>\n    <slot></slot>\n  </p>',
    '    <p>\n      <i>a</i>\n        <b>b</b>\n    </p>',
  ],
  [
    'deeper in the template, and before something else',
    '<x-card>\n  <i>a</i>\n</x-card>',
    '<div>\n    <p>\n      <slot></slot>\n      <hr>\n    </p>\n  </div>',
    '<div>\n  <p>\n    <i>a</i>\n    <hr>\n  </p>\n</div>',
  ],
  [
    'blank lines at either end stay',
    '<x-card>\n\n  <i>a</i>\n\n</x-card>',
    '<p>\n    <slot></slot>\n  </p>',
    '<p>\n\n  <i>a</i>\n\n</p>',
  ],
  [
    'named slots on lines of their own are none of the content',
    '<x-card>\n  <template slot="foot">\n    <b>f</b>\n  </template>\n  <i>a</i>\n</x-card>',
    '<p>\n    <slot></slot>\n  </p>\n  <footer>\n    <slot name="foot"></slot>\n  </footer>',
    '<p>\n  <i>a</i>\n</p>\n<footer>\n  <b>f</b>\n</footer>',
  ],
  [
    'running text takes the line of the slot',
    '<x-card>a\nb</x-card>',
    '<p>\n    <slot></slot>\n  </p>',
    '<p>\n  a\nb\n</p>',
  ],
  ['a line without content goes', '<x-card></x-card>', '<p>\n    <slot></slot>\n  </p>', '<p>\n</p>'],
  [
    'where white space shows nothing moves',
    '  <x-card>\n    a\n   <pre>\n b</pre>\n  </x-card>',
    '<div>\n    <pre><slot></slot></pre>\n  </div>',
    '  <div>\n    <pre>\n    a\n   <pre>\n b</pre>\n  </pre>\n  </div>',
  ],
  [
    'nor in attributes, comments and what is preformatted',
    '  <x-card>\n      <i title="a\n b"\n        lang="de"></i><!--\n c --><pre>\n d</pre>\n  </x-card>',
    '<p><slot></slot></p>',
    '  <p>\n      <i title="a\n b"\n        lang="de"></i><!--\n c --><pre>\n d</pre>\n  </p>',
  ],
])('%s', (_, use, template, expected) => {
  expect(expanded(use, template)).toBe(expected);
});
