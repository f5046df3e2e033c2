/** Encodings and configuration: what comes in goes out again, and what is wrong is named. */
import { expect, test } from '@jest/globals';
import { DEFAULT_JSX } from '../src/core/emit/tsx/options.js';
import { DEFAULT_THRESHOLDS } from '../src/core/survey/types.js';
import fc from './arbitrary/seeded.js';
import { stripVTControlCharacters } from 'node:util';
import iconv from 'iconv-lite';
import { decode, encode, isBinary } from '../src/workspace/encoding.js';
import { acceptedPage, withAccepted } from '../src/workspace/accepted.js';
import { validateConfig } from '../src/workspace/schema.js';
import { unifiedDiff } from '../src/terminal/diff.js';
import { sideBySide, treeLines } from '../src/terminal/tree.js';
import { cut, cutApart, table, wrapped } from '../src/terminal/table.js';

test.each([
  ['UTF-8', '<p>é 世界'],
  ['UTF-8', '\uFEFF<p>é 世界'],
  ['UTF-16LE', '\uFEFF<p>é 世界'],
  ['UTF-16BE', '\uFEFF<p>é 世界'],
  ['windows-1252', '<meta charset="latin1"><p>é €'],
  ['shift_jis', '<meta charset="shift_jis"><p>世界'],
  ['windows-1251', '<meta http-equiv="content-type" content="text/html; charset=windows-1251"><p>Привет'],
])('%s is decoded as a browser would, and written back to the byte', (encoding, text) => {
  const bytes = iconv.encode(text, encoding);
  const decoded = decode(bytes);
  expect(decoded).toMatchObject({ text: text.replace('\uFEFF', ''), bom: text.startsWith('\uFEFF'), exact: true });
  expect(encode(decoded.text, decoded)).toEqual(bytes);
});

test('any bytes are read, and only what comes back to the byte is called exact', () => {
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 60 }),
      fc.constantFrom('', '<meta charset=utf-8>', '<meta charset=windows-1252>'),
      (noise, head) => {
        const bytes = Buffer.concat([Buffer.from(head), noise]);
        const decoded = decode(bytes);
        expect(encode(decoded.text, decoded).equals(bytes)).toBe(decoded.exact);
      },
    ),
  );
});

test('a character that the encoding lacks is written as a reference; bytes that are no text are told', () => {
  expect(encode('é 世', { encoding: 'windows-1252', bom: false })).toEqual(
    Buffer.from('e9202623313939393 03b'.replace(/ /g, ''), 'hex'),
  );
  expect([
    isBinary(Buffer.from('a\0b')),
    isBinary(Buffer.from('\xff\xfea\0', 'latin1')),
    isBinary(Buffer.from('text')),
  ]).toEqual([true, false, false]);
});

test.each([
  [
    { page: ['a'] },
    /the key "page" is not known/,
    /pages, ignore, assets, components, data, inlineList, maxPageSize, survey/,
  ],
  [{ survey: { maxprops: 1 } }, /the key "survey.maxprops" is not known/, /maxProps/],
  [{ survey: { maxProps: '8' } }, /"survey.maxProps" must be a number/, /README/],
  [{ components: '../out' }, /must name a folder inside the project/, /README/],
  [[], /must be of type object/, /README/],
])('the configuration %j is refused', (value, message, hint) => {
  expect(validateConfig(value)).toMatchObject({
    message: expect.stringMatching(message),
    hint: expect.stringMatching(hint),
  });
});

test('what the configuration leaves out is filled in', () => {
  expect(validateConfig({ components: 'parts/', survey: { maxProps: 3 } })).toEqual({
    config: {
      pages: ['**/*.html', '**/*.htm', '**/*.xhtml'],
      ignore: [],
      assets: expect.arrayContaining(['**/*.css']),
      data: 'data',
      inlineList: 2000,
      maxPageSize: 32_000_000,
      components: 'parts',
      survey: { ...DEFAULT_THRESHOLDS, maxProps: 3 },
      leave: [],
      take: [],
      words: {},
      starter: null,
      arrange: { layout: null, suffix: '', fileCase: 'kebab', patterns: {} },
      emit: { ...DEFAULT_JSX, prerender: false, out: 'emitted', options: {} },
      pictures: { widths: [1280, 400] },
      preview: { editor: '' },
    },
  });
});

test('a table stays within its width, and wide characters count as two', () => {
  const rows = [
    ['世界世界世界', 'a fairly long cell of text'],
    ['x', 'y'],
  ];
  const lines = table([{ title: 'a' }, { title: 'b' }], rows, 30).split('\n');
  // eslint-disable-next-line no-control-regex -- colours are no columns
  expect(lines.map((line) => line.replace(/\u001b\[\d+m/g, ''))).toEqual([
    'a             b',
    '世界世界世界  a fairly long c…',
    'x             y',
  ]);
  expect(cut('世界', 3)).toBe('世…');
});

test('of two long texts that begin alike the part is shown that differs', () => {
  expect(cutApart('../../styles/quay.dark.css', '../../styles/quay.css', 16)).toEqual(['…quay.dark.css', '…quay.css']);
  expect(cutApart('Sailings in winter', 'Timetable of the winter', 12)).toEqual(['Sailings in…', 'Timetable o…']);
  expect(cutApart('Sailings', 'Sails', 12)).toEqual(['Sailings', 'Sails']);
  expect(cutApart('harbour harbour 🚢', 'harbour harbour 🚣', 10)).toEqual(['…🚢', '…🚣']);
});

test('two trees stand side by side where they fit, else one below the other; folders come first', () => {
  const tree = treeLines(['a/z.html', 'a/b/y.html', 'x.json'], (name, path) => (path === 'x.json' ? `${name}!` : name));
  expect(tree).toEqual(['a/', '  b/', '    y.html', '  z.html', 'x.json!']);
  const drawn = (width: number) => stripVTControlCharacters(sideBySide(['one'], tree, width)).split('\n');
  expect(drawn(20)).toEqual([
    'before    after',
    'one       a/',
    '            b/',
    '              y.html',
    '            z.html',
    '          x.json!',
  ]);
  expect(drawn(19)).toEqual(['before', 'one', '', 'after', ...tree]);
});

test('a patch quotes names as git does', () => {
  const patch = (path: string) =>
    unifiedDiff({ path, before: Buffer.from('a\n'), after: Buffer.from('b\n') }).toString();
  expect(patch('a b.html')).toContain('--- a/a b.html\t\n');
  expect(patch('é".html')).toContain('+++ "b/\\303\\251\\".html"\n');
});

test('a long line breaks between words, and a word that is too long stays whole', () => {
  expect(wrapped('elements around: boat-card, site-header', 28)).toBe('elements around: boat-card,\n  site-header');
  expect(wrapped('short', 28)).toBe('short');
  expect(wrapped('one-very-long-word-alone and more', 10)).toBe('one-very-long-word-alone\n  and more');
});

test('what was accepted of a page gives it as it became, one change after another, and no other page', () => {
  const lines = fc
    .array(fc.constantFrom('a', 'b\r', '', ' c', '\r'), { maxLength: 8 })
    .chain((some) => fc.constantFrom(some.join('\n'), `${some.join('\n')}\n`));
  fc.assert(
    fc.property(lines, lines, lines, (first, second, third) => {
      fc.pre(new Set([first, second, third]).size === 3);
      const change = (before: string, after: string) => acceptedPage({ path: 'a.html', before, after, changes: [] });
      const accepted = [change(second, third), change(first, second)];
      expect(withAccepted(accepted, 'a.html', first).text).toBe(third);
      expect(withAccepted(accepted, 'b.html', first).text).toBe(first);
      expect(withAccepted(accepted, 'a.html', `${first}.`).text).toBe(`${first}.`);
    }),
  );
});
