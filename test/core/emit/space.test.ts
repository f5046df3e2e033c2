/** White space that shows stays, what cannot show goes, as the stylesheets have it. */
import { describe, expect, test } from '@jest/globals';
import type { EmitNode } from '../../../src/core/emit/model.js';
import { tidySite } from '../../../src/core/emit/space.js';
import { readComponents } from '../../../src/index.js';
import { siteOf } from './site-of.js';

/** Markup of nodes, with `·` for white space that is left and `¶` for line breaks that show. */
function shown(nodes: EmitNode[]): string {
  return nodes
    .map((node) => {
      if (node.kind === 'text')
        return node.exact === true
          ? node.value.replaceAll('\n', '¶').replaceAll(' ', '·')
          : node.value.replaceAll(' ', '·');
      if (node.kind === 'value') return '{}';
      if (node.kind === 'element') return `<${node.tag}>${shown(node.children)}</${node.tag}>`;
      if (node.kind === 'use') return `<use>${node.slots.map(({ children }) => shown(children)).join('')}</use>`;
      return 'children' in node ? `[${shown(node.children)}]` : '';
    })
    .join('');
}

function tidied(body: string, css = ''): string {
  const page = `<!DOCTYPE html><html><head><link rel="stylesheet" href="site.css"></head><body>${body}</body></html>`;
  return shown(tidySite(siteOf({ 'p.html': page }, readComponents([]), css)).pages[0]!.body);
}

describe('white space', () => {
  test.each<[string, string, string, string]>([
    [
      'at the edges of blocks, and between them',
      '<div>\n  <p> a </p>\n  <p>b</p>\n</div>',
      '',
      '<div><p>a</p><p>b</p></div>',
    ],
    ['between parts of a line', '<p><b>a</b>\n  <i>b</i> c\n d</p>', '', '<p><b>a</b>·<i>b</i>·c·d</p>'],
    ['beside a line break', '<p>a <br> b</p>', '', '<p>a<br></br>b</p>'],
    [
      'in a cell and a list',
      '<table> <tbody> <tr> <td> a </td> </tr> </tbody> </table><ul> <li>b </li> </ul>',
      '',
      '<table><tbody><tr><td>a</td></tr></tbody></table><ul><li>b</li></ul>',
    ],
    ['in a pre', '<pre>a\n  b</pre>', '', '<pre>a¶··b</pre>'],
    ['where a rule makes it show', '<p class="v">a\n b</p>', '.v { white-space: pre-wrap }', '<p>a¶·b</p>'],
    [
      'where a rule may make it show',
      '<p class="v">a\n b</p>',
      '@media print { .v { white-space: pre } }',
      '<p>a¶·b</p>',
    ],
    [
      'where a style attribute does, and only there',
      '<p style="white-space: pre">a\n</p><p>b\n</p>',
      '',
      '<p>a¶</p><p>b</p>',
    ],
    [
      'between inline blocks',
      '<p><span class="i">a</span> <span class="i">b</span></p>',
      '.i { display: inline-block }',
      '<p><span>a</span>·<span>b</span></p>',
    ],
    [
      'between items',
      '<div class="f">\n <span>a</span> <span>b</span>\n</div>',
      '.f { display: flex }',
      '<div><span>a</span><span>b</span></div>',
    ],
    [
      'between items only sometimes',
      '<div class="f"><span>a</span> <span>b</span></div>',
      '@media (width > 9px) { .f { display: flex } }',
      '<div><span>a</span>·<span>b</span></div>',
    ],
    [
      'beside what is a block by a rule',
      '<p>a</p><span class="b">b</span> <span>c</span>',
      '.b { display: block }',
      '<p>a</p><span>b</span><span>c</span>',
    ],
    [
      'beside what a rule makes part of a line',
      '<div>a</div> <div>b</div>',
      'div { display: inline }',
      '<div>a</div>·<div>b</div>',
    ],
    [
      'beside a float, which lines do not end at',
      '<i>a</i> <b class="l">b</b>',
      '.l { float: left }',
      '<i>a</i>·<b>b</b>',
    ],
    [
      'before content of a pseudo-element',
      '<p class="q"> a</p><p class="r">b </p>',
      '.q::before { content: "x" } .r::after { content: "" }',
      '<p>·a</p><p>b·</p>',
    ],
    ['at the start of the page', '<i> <b>a</b></i>', '', '<i><b>a</b></i>'],
    [
      'behind content of a pseudo-element of the body',
      '<i> <b>a</b></i>',
      'body::before { content: "x" }',
      '<i>·<b>a</b></i>',
    ],
    ['in a body that lays out items', '<i>a</i> <i>b</i>', 'body { display: flex }', '<i>a</i><i>b</i>'],
    ['in a body that shows it', '<i>a</i> \n<i>b</i>', 'body { white-space: pre }', '<i>a</i>·¶<i>b</i>'],
    ['beside what is never on the screen', '<p>a <script>s</script> b</p>', '', '<p>a·<script>s</script>b</p>'],
    [
      'between the shapes of a drawing',
      '<p><svg> <g> <path></path> </g> </svg></p>',
      '',
      '<p><svg><g><path></path></g></svg></p>',
    ],
    [
      'in the text of one',
      '<svg><text> a <tspan>b</tspan> </text></svg>',
      '',
      '<svg><text>a·<tspan>b</tspan></text></svg>',
    ],
    ['around comments', '<p>a <!-- c --> b</p>', '', '<p>a·b</p>'],
  ])('%s', (_, body, css, expected) => {
    expect(tidied(body, css)).toBe(expected);
  });
});

test('what stands around a use is what stands around its markup, and around what is poured in', () => {
  const registry = readComponents([
    { path: 'components/x-block.html', source: '<template component="x-block"><div> <slot></slot> </div></template>' },
    { path: 'components/x-word.html', source: '<template component="x-word"><b> w</b></template>' },
    { path: 'components/x-pre.html', source: '<template component="x-pre"><pre><slot></slot></pre></template>' },
  ]);
  const page =
    '<!DOCTYPE html><body><p>a</p> <x-block> <i>b</i> </x-block> <p>c <x-word></x-word> d</p><x-pre> e\n</x-pre><pre><x-word></x-word></pre></body>';
  const { pages, components } = tidySite(siteOf({ 'p.html': page }, registry));
  expect(shown(pages[0]!.body)).toBe(
    '<p>a</p><use><i>b</i></use><p>c·<use></use>·d</p><use>·e¶</use><pre><use></use></pre>',
  );
  // one of its places is in a pre, so its white space shows
  expect(components.map(({ nodes }) => shown(nodes))).toEqual(['<div>[]</div>', '<pre>[]</pre>', '<b>·w</b>']);
});

test('what is poured on into another component stands as it does there', () => {
  const registry = readComponents([
    { path: 'components/x-on.html', source: '<template component="x-on"><x-pre><slot></slot></x-pre></template>' },
    { path: 'components/x-pre.html', source: '<template component="x-pre"><pre><slot></slot></pre></template>' },
  ]);
  const { pages } = tidySite(siteOf({ 'p.html': '<!DOCTYPE html><body><x-on>  <b>e</b>\n</x-on></body>' }, registry));
  expect(shown(pages[0]!.body)).toBe('<use>··<b>e</b>¶</use>');
});
