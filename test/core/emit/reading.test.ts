/** What targets are given: components and pages as trees, and back to HTML. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { expanding } from '../../../src/core/emit/site.js';
import { drawn, htmlOf, htmlText } from '../../../src/core/emit/html.js';
import type { EmitNode, EmitSite } from '../../../src/core/emit/model.js';
import { find, readDocument } from '../../../src/core/emit/read.js';
import { isDrawnAlike } from '../../../src/core/emit/same.js';
import { comparePages } from '../../../src/core/page/same.js';
import { parsePage, readComponents } from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { liftedSite, siteOf } from './site-of.js';
import { cases } from '../../arbitrary/cases.js';

const component = (source: string, name = 'x-card') => ({ path: `components/${name}.html`, source });

/** Nodes without their places, short. */
function short(nodes: EmitNode[]): unknown[] {
  return nodes.map((node) => {
    if (node.kind === 'text') return node.value;
    if (node.kind === 'comment') return { comment: node.value };
    if (node.kind === 'value') return { value: node.expression };
    if (node.kind === 'element')
      return [node.tag, Object.fromEntries(node.attrs.map(({ name, pieces }) => [name, pieces])), short(node.children)];
    if (node.kind === 'use')
      return { use: node.component, slots: node.slots.map(({ name, children }) => [name, short(children)]) };
    return { [node.kind]: short(node.children) };
  });
}

const name = (...path: string[]) => ({ kind: 'name', path });
const value = (...path: string[]) => ({ kind: 'value', expression: name(...path) });

describe('a component', () => {
  const read = (markup: string, meta = '') => {
    const source = `<template component="x-card">${meta}\n${markup}\n</template>`;
    return siteOf({ 'p.html': '<p>' }, readComponents([component(source)])).components[0]!;
  };

  test('has its interface, with the fields of lists', () => {
    const { props, slots, styles } = read(
      '<p>{{t}}<slot></slot><slot name="side"></slot></p>',
      `<meta prop="t" type="choice" choices="a b" default="a" about="What it says"><meta prop="l" type="list"><meta prop="l.at-time" type="text" optional>`,
    );
    expect(props).toEqual([
      {
        name: 't',
        type: 'choice',
        optional: false,
        default: 'a',
        choices: ['a', 'b'],
        about: 'What it says',
        fields: [],
      },
      expect.objectContaining({
        name: 'l',
        type: 'list',
        fields: [expect.objectContaining({ name: 'at-time', type: 'text', optional: true })],
      }),
    ]);
    expect([slots, styles]).toEqual([['', 'side'], null]);
  });

  test.each<[string, string, unknown[]]>([
    ['references are characters', '<p title="&copy;">a &amp; b</p>', [['p', { title: ['©'] }, ['a & b']]]],
    [
      'values stand in text and attributes',
      '<p title="a{{t}}b">{{t}}</p>',
      [['p', { title: ['a', value('t'), 'b'] }, [{ value: name('t') }]]],
    ],
    ['two braces are text', '<p>{{"{{"}}</p>', [['p', {}, ['{{']]]],
    [
      'relative URLs lead from the root',
      '<a href="../b/{{t}}.html"><img src="i.svg" srcset="i.svg 1x, ../j.svg 2x"></a>',
      [
        [
          'a',
          { href: [{ kind: 'url', pieces: ['b/', value('t'), '.html'] }] },
          [
            [
              'img',
              {
                src: [{ kind: 'url', pieces: ['components/i.svg'] }],
                srcset: [
                  { kind: 'url', pieces: ['components/i.svg'] },
                  ' 1x, ',
                  { kind: 'url', pieces: ['j.svg'] },
                  ' 2x',
                ],
              },
              [],
            ],
          ],
        ],
      ],
    ],
    [
      'what climbs further than it has to turns where it did',
      '<a href=".././components/i.html">x</a>',
      [['a', { href: [{ kind: 'url', pieces: ['././components/i.html'] }] }, ['x']]],
    ],
    ['those that a value starts are the page’s', '<a href="{{t}}">x</a>', [['a', { href: [value('t')] }, ['x']]]],
    ['code of scripts is no template', '<script>{{t}} &amp;</script>', [['script', {}, ['{{t}} &amp;']]]],
    [
      'a block on lines of its own comes and goes with its lines',
      '<ul>\n  <template when="t">\n    <li>a</li>\n  </template>\n</ul>',
      [['ul', {}, [{ when: ['\n  ', ['li', {}, ['a']]] }, '\n']]],
    ],
    ['comments stay', '<p><!-- {{t}} --></p>', [['p', {}, [{ comment: ' {{t}} ' }]]]],
  ])('%s', (_, markup, expected) => {
    expect(short(read(markup, '<meta prop="t" type="text">').nodes)).toEqual(expected);
  });
});

describe('a page', () => {
  const registry = readComponents([
    component('<template component="x-card"><meta prop="t" type="text"><b>{{t}}</b></template>'),
    component('<template component="x-end"><script src="a.js"></script></template>', 'x-end'),
    component(
      '<template component="x-list"><meta prop="l" type="list"><meta prop="l.at" type="text"><ul><template each="i" of="l"><li>{{i.at}}</li></template></ul></template>',
      'x-list',
    ),
  ]);
  const read = (source: string) => siteOf({ 'sub/p.html': source }, registry).pages[0]!;

  test('is its body and the document around it; scripts at the end stay with that', () => {
    const source =
      '<!DOCTYPE html>\n<html><head></head><body class="c">\n  <p>a</p>\n  <x-card t="1"></x-card>\n  <x-end></x-end>\n  <script>b</script>\n</body></html>\n';
    const { body, range, shell, uses, elsewhere, folder } = read(source);
    expect(short(body)).toEqual([['p', {}, ['a']], '\n  ', { use: 'x-card', slots: [] }]);
    expect(source.slice(range!.start, range!.end)).toBe('<p>a</p>\n  <x-card t="1"></x-card>');
    expect(shell.before).toMatch(/<body class="c">\n {2}$/);
    expect(shell.after).toBe('\n  <script src="../components/a.js"></script>\n  <script>b</script>\n</body></html>\n');
    expect([uses, elsewhere, folder]).toEqual([['x-card'], ['x-end'], 'sub']);
  });

  test('gives uses their values, lists and parts, with their stretch of the source', () => {
    const json = '<script type="application/json" slot="l">[{"at":"1"}]</script>';
    const source = `<!DOCTYPE html><body><x-card t="&lt;"></x-card><x-list>${json}</x-list><table><tr><td><template use="x-card" t="2"></template></table></body>`;
    const uses = find(read(source).body, 'use');
    expect(uses.map(({ component, template }) => [component, template])).toEqual([
      ['x-card', false],
      ['x-list', false],
      ['x-card', true],
    ]);
    expect(uses[0]!.values).toMatchObject([{ name: 't', pieces: ['<'] }]);
    expect(uses[1]!.lists).toMatchObject([{ name: 'l', records: [{ at: '1' }], file: null }]);
    const { start, openEnd, end } = uses[1]!.range!;
    expect([source.slice(start, openEnd), source.slice(start, end)]).toEqual(['<x-list>', `<x-list>${json}</x-list>`]);
    expect(() => read('<x-list><script type="application/json" slot="l">{}</script></x-list>')).toThrow(
      /the list l is no JSON array/,
    );
  });

  test('a fragment that leaks into what follows is told, and the page goes on expanded', () => {
    const leaking = readComponents([component('<template component="x-open"><div><em></template>', 'x-open')]);
    const { flat, uses, elsewhere, body } = siteOf(
      { 'p.html': '<!DOCTYPE html><body><main><x-open></x-open></main><p>b</p></body>' },
      leaking,
    ).pages[0]!;
    expect(flat?.what).toMatch(/<(p|em)>/);
    expect([uses, elsewhere, find(body, 'use')]).toEqual([[], ['x-open'], []]);
    expect(read('<!DOCTYPE html><body><x-card t="1"></x-card></body>').flat).toBeNull();
  });
});

describe('what is drawn as it stands on the page', () => {
  /** Whether it is told so, and what comes of it once it is written. */
  const told = ({ components, pages }: Pick<EmitSite, 'components' | 'pages'>) => {
    const byName = new Map(components.map((each) => [each.name, each]));
    return pages.map((page) => {
      const { shell, document, path, folder } = page;
      const nodes = drawn(page.body, expanding(byName, folder));
      const made = shell.before + htmlText(nodes) + shell.after;
      return { isAlike: isDrawnAlike(nodes, page, document), same: comparePages(path, document.source, made).same };
    });
  };

  test.each<[string, boolean, string]>([
    ['spelled otherwise, with end tags left out', true, '<UL><li CLASS=a>&copy;<li><img src=a /><br/></UL><p>a'],
    ['indented otherwise', true, '<div>\n<x-card t="1">\n   a</x-card></div>'],
    ['white space that shows', true, '<pre>\n\n a\n  b</pre><textarea>\n c</textarea>'],
    ['a form that begins in another', false, '<form><div></form><form></form></div>'],
    ['an element that is left open', false, '<div><span>a</div>'],
    ['a formatting element that goes on', false, '<p><b>a<p>b</b></p>'],
    ['what a table puts before it', false, '<table>a<tr><td>b</table>'],
    ['tags that the parser adds', false, '<table><tr><td>b</table>'],
  ])('%s: %s', (_, expected, markup) => {
    const card = component(
      '<template component="x-card"><meta prop="t" type="text"><b>{{t}}</b><slot></slot></template>',
    );
    const site = siteOf({ 'p.html': `<!DOCTYPE html><body>${markup}<i>z</i></body>` }, readComponents([card]));
    const [found] = told(site);
    expect(found!.isAlike).toBe(expected);
    if (expected) expect(found!.same).not.toBe('different');
  });

  test('is parsed as the same tree, on random pages', () => {
    let alike = 0;
    fc.assert(
      fc.property(sites, fc.nat(), (sources, turn) => {
        for (const { isAlike, same } of told(liftedSite(sources, turn).site)) {
          if (!isAlike) continue;
          alike++;
          expect(same).not.toBe('different');
        }
      }),
      { numRuns: cases(300) },
    );
    expect(alike).toBeGreaterThan(0);
  });
});

test('trees of random pages, written as HTML, are parsed as the same trees', () => {
  const writing = expanding(new Map(), null);
  // what the parser would move again when it stands as it was moved
  const isSettled = (source: string) => comparePages('p', source, htmlAgain(source)).same !== 'different';
  const htmlAgain = (source: string) => {
    const [doctype = ''] = /^\s*<!doctype[^>]*>/i.exec(source) ?? [];
    return doctype + htmlOf(readDocument(parsePage('p', source)), writing);
  };
  let count = 0;
  fc.assert(
    fc.property(sites, (sources) => {
      for (const source of sources) {
        const once = htmlAgain(source);
        expect(comparePages('p', once, htmlAgain(once)).same).not.toBe('different');
        if (isSettled(source)) count++;
      }
    }),
    { numRuns: cases(100) },
  );
  expect(count).toBeGreaterThan(cases(100));
});
