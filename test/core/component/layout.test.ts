/** Where the lines of what a use holds come out. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { movedSource } from '../../../src/core/page/indent.js';
import { expandPage, parsePage, readComponents } from '../../../src/index.js';
import { cases } from '../../arbitrary/cases.js';

/** What a page expands to with components given as name → template. */
function expandedWith(page: string, templates: Record<string, string>): string {
  const components = Object.entries(templates).map(([name, template]) => ({
    path: `components/${name}.html`,
    source: `<template component="${name}">\n  ${template}\n</template>\n`,
  }));
  return expandPage(parsePage('p.html', page), readComponents(components)).text;
}

const expanded = (page: string, template: string) => expandedWith(page, { 'x-card': template });

test('content that is poured on into a component in which white space shows stays as it is', () => {
  const templates = {
    'x-log': '<pre><slot></slot></pre>',
    'x-card': '<div>\n    <x-log><i><slot></slot></i></x-log>\n  </div>',
  };
  const page = '      <x-card>\n        calm\n      late</x-card>';
  expect(expandedWith(page, templates)).toBe(
    '      <div>\n        <pre><i>\n        calm\n      late</i></pre>\n      </div>',
  );
});

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
    'blocks and slots have their lines behind a placeholder too',
    '<x-card note="Late"><i>a</i></x-card>\n<x-card></x-card>',
    '<meta prop="note" type="text" optional>\n\n  <p>\n    {{note ?? \'On time\'}}\n    <slot></slot>\n    {{\'today\'}}\n    <template when="note"><b>!</b></template>\n  </p>',
    '<p>\n  Late\n  <i>a</i>\n  today\n  <b>!</b>\n</p>\n<p>\n  On time\n  today\n</p>',
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
  [
    'what stands there otherwise has lines of its own too',
    '  <x-card></x-card>',
    '<p>\n    <slot>\n      <i>a</i>\n        <b>b</b>\n    </slot>\n  </p>',
    '  <p>\n    <i>a</i>\n      <b>b</b>\n  </p>',
  ],
  [
    'or none',
    '<x-card></x-card>',
    '<p>\n    <slot><i>a</i></slot>\n    <slot name="foot"> b\n    c</slot>\n  </p>',
    '<p>\n  <i>a</i>\n   b\n  c\n</p>',
  ],
  [
    'and nothing of it is left of content',
    '<x-card>\n  <u>c</u>\n</x-card>',
    '<p>\n    <slot>\n      <i>a</i>\n    </slot>\n  </p>',
    '<p>\n  <u>c</u>\n</p>',
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

test('source that is moved and moved back is the same, and only the indentation of its lines differs', () => {
  const line = fc.tuple(
    fc.nat({ max: 3 }),
    fc.constantFrom('a', '<i>b</i>', '<p title="c\n d">e</p>', '<pre>\n f\n</pre>', '<!-- g\n  h -->', '<br\n  id=x>'),
  );
  fc.assert(
    fc.property(
      fc.array(line, { minLength: 1 }),
      fc.constantFrom('', ' ', '    ', '\t'),
      fc.constantFrom('', '  ', '\t\t'),
      fc.constantFrom('\n', '\r\n'),
      (lines, from, to, eol) => {
        // the lines of a tag are as deep as the line that it begins on, at least
        const source = lines.map(([depth, text]) => eol + from + ' '.repeat(depth) + text).join('');
        const deep = source.replaceAll('<br\n', `<br\n${from}`);
        const page = parsePage('p.html', deep);
        const moved = movedSource(page, [0, deep.length], from, to);
        expect(moved.replace(/[\n\r][ \t]*/g, '\n')).toBe(deep.replace(/[\n\r][ \t]*/g, '\n'));
        expect(movedSource(parsePage('p.html', moved), [0, moved.length], to, from)).toBe(deep);
      },
    ),
    { numRuns: cases(400) },
  );
});
