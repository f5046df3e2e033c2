/** What the elements target writes: modules, pages, the stylesheet and the script of all elements, and the manifest. */
import { describe, expect, test } from '@jest/globals';
import { elements } from '../../../src/core/emit/elements/index.js';
import { checkedFiles, textsOf } from '../../../src/core/emit/files.js';
import { Problem, readComponents } from '../../../src/index.js';
import { siteOf } from './site-of.js';

const prop = (name: string, type = 'text', more = '') => `<meta prop="${name}" type="${type}" ${more}>`;

async function written(
  components: Record<string, string>,
  pages: Record<string, string>,
  { css = '', files = [] as string[], prerender = false, data = {} } = {},
) {
  const sources = Object.entries(components).map(([name, source]) => ({ path: `components/${name}.html`, source }));
  const registry = readComponents(sources, { data: new Map(Object.entries(data)) });
  const site = { ...siteOf(pages, registry, css), files };
  const emitted = await elements(site, { prerender });
  const texts = await textsOf(emitted.files, (_, text) => Promise.resolve(text));
  return {
    text: (path: string) => texts.get(path) ?? '',
    paths: emitted.files.map(({ path }) => path),
    remarks: emitted.remarks.map(({ message }) => message),
  };
}

const doc = (body: string, head = '<title>t</title>') =>
  `<!DOCTYPE html>\n<html>\n<head>\n  ${head}\n</head>\n<body>\n${body}\n</body>\n</html>\n`;
const CARD = `<template component="x-card">${prop('heading')}<div class="card"><b>{{heading}}</b><slot></slot></div></template>`;

describe('a page', () => {
  test('keeps its bytes but for what is linked, and the attributes of roots', async () => {
    const body = '  <p   class=a>x</P>\n  <x-card heading="&copy;">a <i>b</i></x-card>';
    const { text } = await written({ 'x-card': CARD }, { 'sub/p.html': doc(body) });
    const page = text('sub/p.html');
    expect(page).toContain(
      '  <p   class=a>x</P>\n  <x-card heading="&copy;" class="card">a <i>b</i></x-card>\n</body>',
    );
    expect(page).toContain(
      '<link rel="stylesheet" href="../elements/all.css">\n<script defer src="../elements/all.js"></script>\n</head>',
    );
  });

  test.each<[string, string, string, RegExp]>([
    [
      'the stylesheet comes before all others',
      '<!-- <link> --><link rel="stylesheet" href="a.css">',
      '',
      /<!-- <link> --><link rel="stylesheet" href="elements\/all\.css"><script defer[^>]*><\/script><link rel="stylesheet" href="a\.css">/,
    ],
    [
      'the script before those at the end',
      '',
      '<script src="a.js"></script>',
      /all\.css">\s*<\/head>[^]*<script src="elements\/all\.js"><\/script>\s*<script src="a\.js">/,
    ],
    [
      'the script before those of the head',
      '<script src="a.js" defer></script>',
      '',
      /<script defer src="elements\/all\.js"><\/script>\s*<script src="a\.js" defer>/,
    ],
  ])('%s', async (_, head, end, expected) => {
    const { text } = await written(
      { 'x-card': CARD },
      { 'p.html': doc(`<x-card heading="a"></x-card>\n${end}`, head) },
    );
    expect(text('p.html')).toMatch(expected);
  });

  test('without head or html has them linked too', async () => {
    const { text } = await written({ 'x-card': CARD }, { 'p.html': '<!DOCTYPE html><x-card heading="a"></x-card>' });
    expect(text('p.html')).toMatch(
      /^<!DOCTYPE html><link rel="stylesheet" href="elements\/all\.css"><script defer[^>]*><\/script><x-card/,
    );
    const commented = await written({ 'x-card': CARD }, { 'p.html': '<!-- a -->\n<x-card heading="a"></x-card>' });
    expect(commented.text('p.html')).toMatch(/^<!-- a -->\n<link [^>]*>\n<script [^>]*><\/script>\n<x-card/);
  });

  test('drawn beforehand has its content, with its parts and lists in comments', async () => {
    const list = `<template component="x-list">${prop('l', 'list')}${prop('l.at')}<article><template each="i" of="l"><b>{{i.at}}</b></template><slot name="side"></slot><slot></slot></article></template>`;
    const json = '<script type="application/json" slot="l">[{"at":"--><b>"}]</script>';
    const use = `<x-list>${json}<template slot="side"><u>s</u></template>rest</x-list>`;
    const { text } = await written(
      { 'x-card': CARD, 'x-list': list },
      { 'p.html': doc(`<x-card heading="a">${use}</x-card>`) },
      { prerender: true },
    );
    expect(text('p.html')).toContain(
      '<x-card heading="a" class="card" data-prerendered="1"><b>a</b><!--slot 1 -->' +
        '<x-list data-prerendered="2"><!--list 2 l [{"at":"\\u002d-\\u003e\\u003cb\\u003e"}]-->' +
        '<article><b>--&gt;&lt;b&gt;</b><!--slot 2 side--><u>s</u><!--/slot 2--><!--slot 2 -->rest<!--/slot 2--></article></x-list>' +
        '<!--/slot 1--></x-card>',
    );
  });

  test('has the lists of data files, and uses within what is left expanded', async () => {
    const list = `<template component="x-list">${prop('l', 'list')}${prop('l.at')}<article><template each="i" of="l"><x-card heading="{{i.at}}"></x-card></template></article></template>`;
    const row = `<template component="x-row">${prop('t')}<tr><td><x-card heading="{{t}}">in</x-card></td></tr></template>`;
    const { text, remarks } = await written(
      { 'x-card': CARD, 'x-list': list, 'x-row': row },
      {
        'p.html': doc(
          '<x-list><script type="application/json" slot="l" src="data/l.json"></script></x-list><table><template use="x-row" t="1"></template></table>',
        ),
      },
      { data: { 'data/l.json': '[{"at":"</b>"}]' } },
    );
    expect(text('p.html')).toContain(
      '<x-list><script type="application/json" slot="l">[{"at":"\\u003c/b>"}]</script></x-list>',
    );
    expect(text('p.html')).toContain('<tr><td><x-card heading="1" class="card">in</x-card></td></tr>');
    expect(remarks).toContain('x-row is left expanded in all its places: an unknown tag cannot stand there');
  });
});

describe('modules', () => {
  test('use each other as elements, or as markup where no element can stand', async () => {
    const frame = `<template component="x-frame">${prop('open', 'flag')}<section><table><template use="x-row" t="{{open ? 'a' : null}}"></template></table><x-card heading="h"><slot></slot></x-card></section></template>`;
    const row = `<template component="x-row">${prop('t', 'text', 'default="d"')}<tr><td>{{t}}</td></tr></template>`;
    const { text, paths } = await written(
      { 'x-card': CARD, 'x-frame': frame, 'x-row': row },
      { 'p.html': doc('<x-frame open>x</x-frame>') },
    );
    expect(text('elements/x-frame.js')).toMatch(
      /import \{ xRowMarkup \} from '\.\/x-row\.js';\nimport '\.\/x-card\.js';[^]*\$\{xRowMarkup\(\{ t: \(open \? 'a' : null\) \?\? 'd' \}, \{\s*\}\)\}/,
    );
    expect(text('elements/x-frame.js')).toContain('<x-card heading="h">${slots.default}</x-card>');
    expect(text('elements/x-row.js')).toMatch(/export function xRowMarkup\(\{ t \}, slots\)/);
    expect(text('elements/x-row.js')).not.toContain('define(');
    expect(text('elements/index.js')).toBe("import './x-card.js';\nimport './x-frame.js';\n");
    expect(text('elements/all.js')).toMatch(
      /^[^]*\(\(\) => \{\n'use strict';[^]*class XCard extends SiteElement[^]*class XFrame[^]*\}\)\(\);\n$/,
    );
    expect(text('elements/all.js')).not.toMatch(/^(import|export) /m);
    expect(text('elements/all.js')).not.toContain('import.meta');
    expect(paths).not.toContain('elements/x-none.js');
  });

  test('content that reads like the code of a module stays as it is in the script of all', async () => {
    const code = 'import { markup } from "./base.js";\nexport class XCard {}\nexport const url = import.meta.url;';
    const { text } = await written(
      { 'x-card': `<template component="x-card">${prop('heading')}<pre>a\n${code}\n{{heading}}é</pre></template>` },
      { 'p.html': doc('<x-card heading="a"></x-card>') },
    );
    expect(text('elements/all.js')).toContain(`<pre>a\n${code}\n\${heading}\\u00e9</pre>`);
    expect(text('elements/all.js')).toContain("new URL('..', document.currentScript.src)");
  });

  test('names that elements have already are others', async () => {
    const meta = ['prefix', 'render', 'markup', 'aria-name'].map((name) => prop(name)).join('');
    const { text } = await written(
      { 'x-card': `<template component="x-card">${meta}<p>{{prefix}}{{render}}{{markup}}{{ariaName}}</p></template>` },
      { 'p.html': doc('<x-card prefix="1" render="2" markup="3" aria-name="4"></x-card>') },
    );
    const module = text('elements/x-card.js');
    expect(module).toContain('const { prefixValue, renderValue, markupValue, ariaNameValue } = this;');
    expect(module).toContain("get prefixValue() {\nreturn this.getAttribute('prefix');\n}");
    const { modules } = JSON.parse(text('custom-elements.json')) as {
      modules: { declarations: { attributes: object[] }[] }[];
    };
    expect(modules[0]!.declarations[0]!.attributes[0]).toEqual({
      name: 'prefix',
      type: { text: 'string | null' },
      fieldName: 'prefixValue',
    });
  });

  test('leave the names of the site’s files alone', async () => {
    const { paths } = await written(
      { 'x-card': CARD },
      { 'elements/p.html': doc('<x-card heading="a"></x-card>') },
      { files: ['custom-elements.json', 'a.css'] },
    );
    expect(paths).toEqual(
      expect.arrayContaining([
        'elements/p.html',
        'elements-2/x-card.js',
        'custom-elements-2.json',
        'custom-elements.json',
        'a.css',
      ]),
    );
  });
});

const NO_FILES = { files: [], pages: [] };

test.each<[string, string[], RegExp | null, string[]?]>([
  ['paths of their own', ['a', 'b/c', 'b/d.e'], null],
  ['the same in other letters', ['a/B', 'A/b'], /two files one name/],
  ['the same in other letters, where the site has such paths', ['a/B', 'A/b'], null, ['x.css', 'X.css']],
  ['the same path, there too', ['a', 'a'], /two files one name/, ['x.css', 'X.css']],
  ['a file and a folder', ['a', 'a/b'], /a file where a folder must be/],
  ...['', '/a', '../a', 'a/../b', 'a//b', './a', 'a\\b', 'C:/a', 'a\0'].map((path): [string, string[], RegExp] => [
    JSON.stringify(path),
    [path],
    /not in the output folder/,
  ]),
])('files at %s', (_, paths, message, ofSite = []) => {
  const check = () =>
    checkedFiles(
      paths.map((path) => ({ path, text: '' })),
      'mine',
      { files: ofSite, pages: [] },
    );
  if (message === null) expect(check()).toHaveLength(paths.length);
  else
    expect(check).toThrow(expect.objectContaining({ constructor: Problem, message: expect.stringMatching(message) }));
});

test('what is joined is made of texts as they were formatted, in the order that it names', async () => {
  const text = (path: string, format: boolean) => ({ path, text: path, format });
  const joined = (from: string[]) => ({ path: 'all', from, join: (texts: string[]) => texts.join() });
  const files = [text('a', true), joined(['b', 'a']), text('b', false), { path: 'c', copy: 'c' }];
  const texts = await textsOf(checkedFiles(files, 'mine', NO_FILES), (path) => Promise.resolve(`formatted ${path}`));
  expect(Object.fromEntries(texts)).toEqual({ a: 'formatted a', b: 'b', all: 'b,formatted a' });
  for (const from of ['c', 'none', 'all'])
    expect(() =>
      checkedFiles([...files.filter(({ path }) => path !== 'all'), joined([from])], 'mine', NO_FILES),
    ).toThrow(
      expect.objectContaining({
        constructor: Problem,
        message: expect.stringMatching(/joins what it gives no text of/),
      }),
    );
});
