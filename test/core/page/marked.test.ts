/** What is put into pages that are looked at, and taken out of them again: a script in the head, offsets of elements. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { parse, serialize } from 'parse5';
import { originAt, withOffsets } from '../../../src/core/component/trace.js';
import { expandPage } from '../../../src/core/component/expand.js';
import { headOffset } from '../../../src/core/page/head.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { readComponents } from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { cases } from '../../arbitrary/cases.js';

const OPENINGS = ['', '<!-- before -->', '<!doctype html>', '<!DOCTYPE html>\n', '\n\n'];
const HTML = ['', '<html>', '<html lang=en>\n', '<HTML>\n<!-- in it -->\n'];
const HEADS = [
  '',
  '<head></head>',
  '<head >\n',
  '\n<title>A</title>\n',
  '<meta charset=utf-8><link rel=x>',
  '<head\nid=h><!-- c -->',
  '<!-- c --><style>a</style> ',
];
const BODIES = [
  '',
  '<body>',
  '<body class=b>\n',
  ' text first ',
  '<p>One',
  '<table><tr><td>x<b>y</table>z',
  '<noscript><p>n</noscript><template><i>t</i></template>',
  '<frameset><frame></frameset>',
  '<image src=a><br/><svg><a/></svg><p>1<b>2<p>3</b>',
];
/** Pages in which what may be left out is left out in every way, and whole ones. */
const documents = fc.oneof(
  fc
    .tuple(
      fc.constantFrom(...OPENINGS),
      fc.constantFrom(...HTML),
      fc.constantFrom(...HEADS),
      fc.array(fc.constantFrom(...BODIES), { maxLength: 3 }),
    )
    .map(([opening, html, head, body]) => opening + html + head + body.join('')),
  sites.chain((sources) => fc.constantFrom(...sources)),
);

describe('every page', () => {
  test('is parsed with a script as the first of its head, once that is taken out, as it is without', () => {
    fc.assert(
      fc.property(documents, (source) => {
        const at = headOffset(parsePage('p.html', source));
        const mark = '<script>mark</script>';
        const marked = serialize(parse(source.slice(0, at) + mark + source.slice(at)));
        expect(marked.replace(mark, '')).toBe(serialize(parse(source)));
        // nothing of the page comes before it
        expect(marked.slice(0, marked.indexOf(mark))).not.toMatch(/<(?!html|head|!)/i);
      }),
      { numRuns: cases(500) },
    );
  });

  test('has the offset of each start tag in it, and is without them as it is', () => {
    fc.assert(
      fc.property(documents, (source) => {
        const marked = withOffsets(parsePage('p.html', source), 'data-at');
        expect(marked.replace(/ data-at="\d+"/g, '')).toBe(source);
        expect(serialize(parse(marked)).replace(/ data-at="\d+"/g, '')).toBe(serialize(parse(source)));
        for (const [start, tag, at] of marked.matchAll(/<([a-z]+) data-at="(\d+)"/gi)) {
          expect(source.slice(Number(at)).toLowerCase()).toMatch(new RegExp(`^<${tag!.toLowerCase()}`));
          expect(start).not.toBe('');
        }
      }),
      { numRuns: cases(500) },
    );
  });
});

test('what stands in an expanded page leads back to where it was written, and to the component that it stands in', () => {
  const registry = readComponents([
    {
      path: 'c/quay-box.html',
      source: '<template component="quay-box"><div class="box"><slot></slot><hr></div></template>',
    },
    {
      path: 'c/boat-mark.html',
      source: '<template component="boat-mark"><meta prop="name" type="text"><b>{{name}}</b></template>',
    },
  ]);
  const source =
    '<p>One</p>\n<quay-box>\n  <i>Two</i> <boat-mark name="Tern"></boat-mark>\n</quay-box>\n<p id="last">Three</p>';
  const page = parsePage('p.html', source);
  const expanded = expandPage(page, registry);
  const originOf = (what: string) => {
    const { place, component } = originAt(page, expanded, expanded.text.indexOf(what));
    return [place.line, place.column, component];
  };
  expect(originOf('<p>One')).toEqual([1, 1, null]);
  // all that a use became leads to the use
  expect(originOf('<div class="box">')).toEqual([2, 1, 'quay-box']);
  expect(originOf('<i>Two')).toEqual([2, 1, null]);
  expect(originOf('<b>Tern')).toEqual([2, 1, 'boat-mark']);
  expect(originOf('<hr>')).toEqual([2, 1, 'quay-box']);
  expect(originOf('<p id="last">')).toEqual([5, 1, null]);
});
