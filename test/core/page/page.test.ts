/** Reading a page: ranges, liftability, sameness, spelling, URLs. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { isLiftable } from '../../../src/core/page/liftable.js';
import { parseFragment, parsePage, placeAt } from '../../../src/core/page/parse.js';
import { comparePages, firstDifference } from '../../../src/core/page/same.js';
import { quoteAttribute, spell, spelledAttribute, spelledText, type Target } from '../../../src/core/page/spelling.js';
import { attrOf, type Element, elementsOf, type Root, textOf, walk } from '../../../src/core/page/tree.js';
import { Lift, profile } from '../../../src/core/fragments/profile.js';
import { sites } from '../../arbitrary/pages.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(200);

describe('source ranges', () => {
  test('every start tag and attribute range is where its source stands', () => {
    fc.assert(
      fc.property(sites, (sources) => {
        for (const source of sources) {
          const page = parsePage('p.html', source);
          for (const element of elementsOf(page.root)) {
            if (element.start < 0) continue;
            expect(source.slice(element.start, element.openEnd).toLowerCase()).toMatch(
              new RegExp(`^<${element.tag.toLowerCase()}[\\s/>]`),
            );
            if (element.closeStart >= 0)
              expect(source.slice(element.closeStart, element.end).toLowerCase()).toMatch(
                new RegExp(`^</${element.tag}`),
              );
            for (const attr of element.attrs)
              if (attr.start >= 0)
                expect(source.slice(attr.start, attr.end).toLowerCase().startsWith(attr.name.toLowerCase())).toBe(true);
          }
        }
      }),
      { numRuns },
    );
  });

  test('what the profile calls liftable is what the parser gives back from the range alone', () => {
    let sure = 0;
    fc.assert(
      fc.property(sites, (sources) => {
        for (const source of sources) {
          const page = parsePage('p.html', source);
          const { elements, lift } = profile(page);
          elements.forEach((element, i) => {
            if (lift[i] !== Lift.yes) return;
            sure++;
            // the reason for the answer must hold by the definition
            if (element.parent?.kind === 'element')
              expect([element.tag, element.start, isLiftable(page, element)]).toEqual([
                element.tag,
                element.start,
                true,
              ]);
          });
        }
      }),
      { numRuns },
    );
    expect(sure).toBeGreaterThan(numRuns);
  });

  test.each([
    ['a copy that the parser made of misnested formatting', '<p><b>x<i>y</b>z</i></p>', 'i', 1],
    ['what holds such a copy', '<a>x<div><a>y</a></div></a>', 'div', 0],
    ['a table whose content is moved before it', '<table><div>x</div><tr><td>y</td></tr></table>', 'table', 0],
    ['the body', '<p>x</p>', 'body', 0],
    [
      'what holds a select that a table cuts short',
      '<table><td><div><select>a<table><td>x</table></div></table>',
      'div',
      0,
    ],
  ])('%s is not liftable', (_, body, tag, nth) => {
    const page = parsePage('p.html', `<!DOCTYPE html><body>${body}</body>`);
    const { elements, lift } = profile(page);
    const at = elements.indexOf(elements.filter((element) => element.tag === tag)[nth]!);
    expect(lift[at] === Lift.yes || (lift[at] === Lift.unsure && isLiftable(page, elements[at]!))).toBe(false);
  });

  test('implied elements are looked through, CRLF keeps its offsets, a template holds its content', () => {
    const source =
      '<!DOCTYPE html>\r\n<table>\r\n<tr><td>a</td></tr>\r\n</table>\r\n<template><p id="in">x</p></template>';
    const page = parsePage('p.html', source);
    const { elements, lift } = profile(page);
    const byTag = (tag: string) => elements.findIndex((element) => element.tag === tag);
    expect(lift[byTag('tbody')]).toBe(Lift.sourceless);
    expect(lift[byTag('table')]).toBe(Lift.yes);
    expect(placeAt(page, elements[byTag('tr')]!.start)).toEqual({ path: 'p.html', line: 3, column: 1 });
    expect((elements[byTag('p')]!.parent as Element).tag).toBe('template');
    expect(source.slice(elements[byTag('p')]!.start, elements[byTag('p')]!.end)).toBe('<p id="in">x</p>');
  });

  test('a page nested beyond all reason is refused with its place', () => {
    expect(() => parsePage('deep.html', '<div>'.repeat(3000))).toThrow(/nested more than 1000 deep/);
  });
});

describe('sameness', () => {
  const body = (inner: string) => `<!DOCTYPE html><html><head></head><body>${inner}</body></html>`;
  test.each([
    ['<p>a</p>', '<p>a</p>', 'bytes'],
    ['<p>\n  a</p>', '<p>\n      a</p>', 'markup'],
    ['<p class="a" id=b>x</p>', "<p id='b' class=a>x</p>", 'markup'],
    ['<p>a&amp;b</p>', '<p>a&b</p>', 'markup'],
    ['<p>a</p> <p>b</p>', '<p>a</p>\n<p>b</p>', 'different'],
    ['<p>a  b</p>', '<p>a b</p>', 'different'],
    ['<pre>\n\n a</pre>', '<pre>\n\n  a</pre>', 'different'],
    ['<p style="white-space: var(--ws)">a\n b</p>', '<p style="white-space: var(--ws)">a\n  b</p>', 'different'],
    ['<p style="white-space: normal">a\n b</p>', '<p style="white-space: normal">a\n  b</p>', 'markup'],
    ['<p style="white\\-space: pre">a\n b</p>', '<p style="white\\-space: pre">a\n  b</p>', 'different'],
    ['<p style="white-space/**/: /**/pre">a\n b</p>', '<p style="white-space/**/: /**/pre">a\n  b</p>', 'different'],
    [
      '<svg><text xml:space="preserve">a\n b</text></svg>',
      '<svg><text xml:space="preserve">a\n  b</text></svg>',
      'different',
    ],
    [
      '<svg><text white-space="pre">a\n b</text></svg>',
      '<svg><text white-space="pre">a\n  b</text></svg>',
      'different',
    ],
    ['<pre>\n\na</pre>', '<pre>\na</pre>', 'different'],
    ['<textarea>\n\na</textarea>', '<textarea>\n\n\na</textarea>', 'different'],
    ['<p style="white-space: pre-line">a\n b</p>', '<p style="white-space: pre-line">a\n  b</p>', 'different'],
    ['<textarea>a\n b</textarea>', '<textarea>a\n  b</textarea>', 'different'],
    ['<p title="a\n b">x</p>', '<p title="a\n  b">x</p>', 'different'],
    ['<script>\n a</script>', '<script>\n  a</script>', 'different'],
    ['<!-- a -->', '<!-- b -->', 'different'],
    ['<p hidden>a</p>', '<p>a</p>', 'different'],
    ['<ul><li>a<li>b</ul>', '<ul><li>a</li><li>b</li></ul>', 'markup'],
    ['<i>a</i>', '<b>a</b>', 'different'],
    ['<p>a</p>', '<p>a</p><p></p>', 'different'],
  ])('%j and %j are %s', (a, b, same) => {
    expect(comparePages('p.html', body(a), body(b)).same).toBe(same);
    expect(comparePages('p.html', body(b), body(a)).same).toBe(same);
  });

  const run = fc.string({ unit: fc.constantFrom('\n', ' ', '\t', '\r\n'), minLength: 1, maxLength: 4 });
  const untidy = fc.constantFrom(
    ...'<p> </p> <b> <table> <tr> <td> </table> <pre> </pre> <ul> <li> </ul> <select> <option> <template> </template>'.split(
      ' ',
    ),
    ...'<script> </script> <textarea> </textarea> <!-- --> </body> </html> <head> <svg> <svg/> <br> <i\nid=a> x &amp; < a=">" <plaintext>'.split(
      ' ',
    ),
    '<p style="white-space:pre">',
  );
  /** Parts of a page, with what stands between them on one page and on another. */
  const parts = fc.array(
    fc.tuple(untidy, fc.option(fc.tuple(run, run), { freq: 2, nil: ['', ''] as [string, string] })),
    {
      maxLength: 14,
    },
  );

  test('pages that differ in white space alone are the same exactly where their trees are', () => {
    let same = 0;
    fc.assert(
      fc.property(parts, fc.boolean(), (all, isDocument) => {
        const [one, other] = [0, 1].map(
          (side) =>
            (isDocument ? '<!DOCTYPE html>' : '') + all.map(([part, space]) => part + space[side as 0 | 1]).join(''),
        ) as [string, string];
        const roots = [one, other].map((source) => parsePage('p.html', source).root) as [Root, Root];
        const isSame = firstDifference(...roots, false) === null;
        if (isSame && one !== other) same++;
        expect(comparePages('p.html', one, other).same !== 'different').toBe(isSame);
        expect(comparePages('p.html', one, parsePage('p.html', other)).same !== 'different').toBe(isSame);
      }),
      { numRuns: cases(2000) },
    );
    expect(same).toBeGreaterThan(0);
  });

  test('the doctype and what it does to rendering count, and the first difference has its place', () => {
    expect(comparePages('p.html', '<!DOCTYPE html><p>a', '<p>a').same).toBe('different');
    const { first } = comparePages('p.html', body('\n<p>a</p>\n<p>old</p>'), body('\n<p>a</p>\n<p>new</p>'));
    expect(first).toEqual({ line: 3, column: 4, what: 'text "old" became "new"' });
    const [long, other] = ['old', 'new'].map((word) =>
      body(`<p>\n  ${'so '.repeat(20)}${word} ${'on '.repeat(20)}</p>`),
    );
    expect(comparePages('p.html', long!, other!.replace('\n  ', '\n')).first!.what).toBe(
      'text "…so so so so old on on on on on on on o…" became "…so so so so new on on on on on on on o…"',
    );
  });
});

describe('spelling', () => {
  const source = fc
    .array(
      fc.constantFrom(
        '&amp;',
        '&copy;',
        '&copy',
        '&',
        '<',
        '>',
        '"',
        "'",
        '&#34;',
        '&#39;',
        'a',
        ' ',
        '=',
        ';',
        '#',
        '\n',
        'é',
        '&nbsp;',
        '`',
      ),
      {
        maxLength: 8,
      },
    )
    .map((list) => list.join(''));
  const written: Record<Target, (text: string) => string> = {
    text: (text) => `<p>${text}</p>`,
    '"': (text) => `<p a="${text}"></p>`,
    "'": (text) => `<p a='${text}'></p>`,
    '': (text) => `<p a=${text}></p>`,
  };
  const readBack = (html: string, target: Target) => {
    const [p] = parseFragment(html).children as [Element];
    return target === 'text'
      ? p.children.map((child) => (child.kind === 'text' ? child.value : '?')).join('')
      : attrOf(p, 'a');
  };

  test('a value means the same wherever it is written', () => {
    fc.assert(
      fc.property(source, fc.constantFrom<Target>('text', '"', "'", ''), fc.boolean(), (raw, target, fromText) => {
        const spelled = fromText ? spelledText(raw.replaceAll('<', '')) : spelledAttribute(raw);
        if (target === '' && spelled.value === '') return;
        expect(readBack(written[target](spell(spelled, target)), target)).toBe(spelled.value);
        const [p] = parseFragment(`<p a=${quoteAttribute(spelled)}></p>`).children as [Element];
        expect(attrOf(p, 'a')).toBe(spelled.value);
      }),
      { numRuns: cases(2000) },
    );
  });

  test.each(['&copy; 1911', 'R&D', `both "and" it's`, '&quot;so&quot;', 'don&#39;t', 'a < b', '"all"', "it's"])(
    'the text %s comes back letter by letter through a use',
    (raw) => {
      const quoted = quoteAttribute(spelledText(raw));
      expect(spell(spelledAttribute(quoted.slice(1, -1)), 'text')).toBe(raw);
    },
  );
});

test('text of an element folds white space and leaves scripts out', () => {
  const root = parseFragment('<div> a\n <b>b</b><script>no</script></div>');
  expect(textOf(root)).toBe('a b');
  let nodes = 0;
  walk(root, () => {
    nodes++;
  });
  expect(nodes).toBe(7);
});
