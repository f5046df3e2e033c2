/** Reading stylesheets as a browser does: structure, selectors, order of the cascade, and what wins. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { SheetReader } from '../../../src/core/style/cascade.js';
import { PageMatcher } from '../../../src/core/style/match.js';
import { namedIn } from '../../../src/core/style/names.js';
import { longhandsOf } from '../../../src/core/style/properties.js';
import { readSelectors } from '../../../src/core/style/selector.js';
import { readSheet, type Sheet } from '../../../src/core/style/sheet.js';
import { blankedRules, readSyntax, type Rule } from '../../../src/core/style/syntax.js';
import { applyingTo, winnersOf } from '../../../src/core/style/winners.js';
import { placeAt } from '../../../src/core/page/parse.js';
import { cases } from '../../arbitrary/cases.js';

const shape = (node: Rule): string =>
  `${node.name === null ? '' : `@${node.name} `}${node.prelude}${node.children === null ? '' : `{${node.children.map((each) => (each.kind === 'rule' ? shape(each) : `${each.property}:${each.value}${each.important ? '!' : ''}`)).join(' ')}}`}`;

/** Where rules stand that say something of a property, and at-rules, with the ones around. */
const saidOf = (property: string, rules: Rule[], around = ''): string[] =>
  rules.flatMap(({ name, children, start, end }) => {
    const inside = `${around} ${name ?? ''} ${start}-${end}`;
    const told = children?.some((each) => each.kind === 'declaration' && each.property === property) ? [inside] : [];
    const nested = (children ?? []).filter((each) => each.kind === 'rule');
    return [...told, ...(children === null ? [inside] : []), ...saidOf(property, nested, inside)];
  });

describe('structure', () => {
  test('what is asked for is read the same with white space for the rules that nobody asks for', () => {
    const pieces =
      '.a{k:v}|.b{x:y}|.c,d e{x:y;k:v}|.f{k:v;&:hover{x:y}.g &{k:v}}|;|}|{|(|)|[|]|"|\'|"}.a{"|/*|*/|\\{|@media p{|@k v;|--m:{k:v};|x:y;|.h|url(;a{b})| |\n'.split(
        '|',
      );
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...pieces), { maxLength: 12 }), (some) => {
        const css = some.join('');
        const blanked = blankedRules(css, (_, body) => /[x@]/.test(body));
        expect(blanked).toHaveLength(css.length);
        expect(saidOf('x', readSyntax(blanked).rules)).toEqual(saidOf('x', readSyntax(css).rules));
      }),
      { numRuns: cases(10_000) },
    );
  });

  test('what is nested deeper than anybody writes is dropped and told, and the rest is read', () => {
    const { rules, errors } = readSyntax(`${'a{'.repeat(5000)}b:c${'}'.repeat(5000)} d{e:f}`);
    expect(rules.map(shape)).toEqual([`${'a{'.repeat(201)}${'}'.repeat(201)}`, 'd{e:f}']);
    expect(errors).toEqual([{ message: expect.stringMatching(/nested more than 200 deep/), start: 400, end: 401 }]);
  });

  test.each([
    ['a{b:c;d:e!important}', ['a{b:c d:e!}'], []],
    [
      'a{&:hover{x:1} .b &{y:2} p:hover{z:3} @media (m){k:v} f:g}',
      ['a{&:hover{x:1} .b &{y:2} p:hover{z:3} @media (m){k:v} f:g}'],
      [],
    ],
    ['a{--x:{p:q};--y: 1 ;;k:url(a;b)}', ['a{--x:{p:q} --y:1 k:url(a;b)}'], []],
    ['<!-- a{} --> @import "x.css"; @layer l;', ['a{}', '@import "x.css"', '@layer l'], []],
    ['a{b:c', ['a{b:c}'], ['1:1 this block is not closed']],
    ['@media x{a{b:c}', ['@media x{a{b:c}}'], ['1:1 this block is not closed']],
    ['a[ {b:c} d{e:f}', [], ['1:2 this bracket is not closed', '1:1 this rule has no block, and is dropped']],
    [
      'a{*zoom:1;b c;d:e}',
      ['a{: d:e}'],
      [
        '1:3 "*zoom:1" is no declaration, and is dropped',
        '1:11 this is neither a declaration nor a rule, and is dropped',
      ],
    ],
    ['a{b:(c;} d{e:f}', ['a{b:(c;} d{e:f}}'], ['1:5 this bracket is not closed', '1:1 this block is not closed']],
    ['a{b:"}"} /* } */ c{d:e}', ['a{b:"}"}', 'c{d:e}'], []],
  ])('%s', (source, rules, told) => {
    const { rules: found, errors } = readSyntax(source);
    expect(found.map(shape)).toEqual(rules);
    expect(
      errors.map(({ message, start }) => {
        const { line, column } = placeAt({ path: '', source }, start);
        return `${line}:${column} ${message}`;
      }),
    ).toEqual(told);
  });

  test('any text is read, and ranges nest in order', () => {
    const piece = fc.constantFrom(
      'a',
      '.b',
      '{',
      '}',
      '(',
      ')',
      '[',
      ';',
      ':',
      '@media x',
      '@layer',
      '"',
      "'",
      '/*',
      '*/',
      '\n',
      '\\',
      'url(',
      '--c',
      '!important',
      ' ',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
        const source = pieces.join('');
        const visit = (nodes: Rule['children'], start: number, end: number) => {
          let at = start;
          for (const node of nodes ?? []) {
            expect(node.start).toBeGreaterThanOrEqual(at);
            expect(node.end).toBeLessThanOrEqual(end);
            at = node.end;
            if (node.kind === 'rule') visit(node.children, node.bodyStart, node.bodyEnd);
          }
        };
        visit(readSheet('a.css', source).nodes, 0, source.length);
      }),
      { numRuns: cases(500) },
    );
  });
});

describe('selectors', () => {
  test.each([
    ['a', '0,0,1', 'a', true],
    ['.a#b[c]', '1,2,0', '.a#b[c]', true],
    [':is(.a, #b) p::before', '1,0,2', ':is(.a,#b) p', true],
    [':where(#b) .c', '0,1,0', ':is(#b) .c', true],
    ['a:not(.b, .c.d)', '0,2,1', 'a:not(.b,.c.d)', true],
    ['a:hover', '0,1,1', 'a', false],
    ['a:not(:hover)', '0,1,1', 'a', false],
    ['li:nth-child(2n + 1)', '0,1,1', 'li:nth-child(2n+1)', true],
    ['li:nth-child(2 of .x)', '0,2,1', 'li', false],
    ['*', '0,0,0', '*', true],
    [':root', '0,1,0', ':root', true],
    ['::slotted(p)', '0,0,1', null, true],
    ['p:first-letter', '0,0,2', 'p', true],
    ['.w-1\\/2', '0,1,0', '.w-1\\/2', true],
  ])('%s has specificity %s', (text, specificity, still, exact) => {
    const [found] = readSelectors(text, null);
    expect([found!.specificity.join(), found!.still, found!.exact]).toEqual([specificity, still, exact]);
  });

  test.each(['', '..x', 'a[', 'a >', '> a', 'a,,b', 'a{', 'p:nth-child('])('%j is none', (text) => {
    expect(() => readSelectors(text, null)).toThrow();
  });
});

test.each([
  ['margin', 'margin-bottom margin-left margin-right margin-top'],
  ['margin-inline', 'margin-top? margin-right? margin-bottom? margin-left?'],
  ['overflow', 'overflow-x overflow-y'],
  ['-webkit-transform', '-webkit-transform transform?'],
  ['--Mine', '--Mine'],
  ['border-top', 'border-top-width border-top-style border-top-color'],
])('%s sets %s', (property, longhands) => {
  expect(
    longhandsOf(property)
      .map(({ name, sure }) => name + (sure ? '' : '?'))
      .join(' '),
  ).toBe(longhands);
});

/** What wins for the element with the class `x`: values, the strongest first, with what must hold. */
function colors(head: string, files: Record<string, string> = {}, body = '<p class="x y" id="i">t</p>') {
  const page = parsePage('p/q.html', `<!DOCTYPE html><html><head>${head}</head><body>${body}</body></html>`);
  const sheets = new Map<string, Sheet>();
  const read = new SheetReader((path) => {
    if (!sheets.has(path) && files[path] !== undefined) sheets.set(path, readSheet(path, files[path]));
    return sheets.get(path) ?? null;
  });
  const { elements, cascade, matched } = new PageMatcher(read).match(page);
  const x = elements.find(({ attrs }) => attrs.some(({ name, value }) => name === 'class' && value.startsWith('x')))!;
  const list = applyingTo(x, matched.get(x)!, cascade).get(' color') ?? [];
  return {
    wins: winnersOf(list).map(({ declaration, conditions }) => [declaration.value, ...conditions].join(' ')),
    notes: cascade.notes.map(
      ({ kind, message, place }) => `${kind} ${place.path}:${place.line}:${place.column} ${message}`,
    ),
  };
}
const style = (css: string) => `<style>${css}</style>`;

describe('the cascade', () => {
  test.each([
    ['later beats earlier', style('.x{color:red}.x{color:blue}'), ['blue']],
    ['specificity beats order', style('p.x{color:red}.x{color:blue}'), ['red']],
    ['importance beats specificity', style('.x{color:red!important}#i{color:blue}'), ['red']],
    [
      'what may not hold leaves the next one in',
      style('.x{color:red}@media print{.x{color:blue}}'),
      ['blue @media print', 'red'],
    ],
    ['equal conditions hide', style('@media print{.x{color:red}}@media print{.x{color:blue}}'), ['blue @media print']],
    ['a state may not hold', style('.x{color:red}.x:hover{color:blue}'), ['blue .x:hover', 'red']],
    [
      'no layer beats layers, the last layer beats the first',
      style('@layer a,b;@layer b{.x{color:red}}@layer a{#i{color:blue}}'),
      ['red'],
    ],
    ['unlayered', style('.x{color:green}@layer b{#i{color:red}}'), ['green']],
    [
      'important layers are turned round',
      style('@layer a{.x{color:red!important}}@layer b{.x{color:blue!important}}.x{color:green!important}'),
      ['red'],
    ],
    ['inner layers come before their layer', style('@layer a{.x{color:red}@layer b{#i{color:blue}}}'), ['red']],
    ['all resets', style('.x{color:red}p.x{all:unset}'), ['unset']],
    ['nesting', style('.x{color:red;&.y{color:blue}}'), ['blue']],
    ['nested declarations keep their place', style('.x{&{color:red}color:blue}'), ['blue']],
    ['nesting takes the weight of the list', style('#no,.x{&{color:red}}.x.y{color:blue}'), ['red']],
    ['@scope', style('@scope (body){.x{color:red}}@scope (main){.x{color:blue}}'), ['red @scope (body)']],
    ['a value that is none may be passed over', style('.x{color:red}.x{color:12px}'), expect.arrayContaining(['red'])],
    ['a variable counts', style('.x{color:red}.x{color:var(--c)}'), ['var(--c)']],
    ['media of the element', '<style media="print">.x{color:red}</style>', ['red @media print']],
    ['another type is no style', '<style type="text/plain">.x{color:red}</style>', []],
  ])('%s', (_, head, wins) => expect(colors(head).wins).toEqual(wins));

  test('the style attribute beats selectors, not importance', () => {
    expect(colors(style('#i{color:red}'), {}, '<p class="x" id="i" style="color:blue">').wins).toEqual(['blue']);
    expect(colors(style('.x{color:red!important}'), {}, '<p class="x" style="color:blue">').wins).toEqual(['red']);
  });

  test('links and imports in their order, with media, layers and supports', () => {
    const files = {
      'css/a.css': '@import "b.css" layer(base) supports(display: grid) print;\n.x{color:red}',
      'css/b.css': '.x{color:blue!important}',
      'p/c.css': '.x{color:green}',
    };
    const link = (href: string, more = '') => `<link rel="stylesheet" href="${href}"${more}>`;
    expect(colors(link('../css/a.css?v=1'), files).wins).toEqual(['blue @import supports(display: grid) print', 'red']);
    expect(colors(link('/css/a.css') + link('c.css', ' media="screen"'), files).wins.at(1)).toBe('green @media screen');
    expect(colors(link('c.css').replace('rel="', 'rel="alternate ') + link('c.css', ' disabled'), files).wins).toEqual(
      [],
    );
  });

  test('what is not there, elsewhere, or leads in a circle is named with its place', () => {
    const files = {
      'p/a.css': '@import "b.css";',
      'p/b.css': '\n@import url(a.css);\n@import "gone.css";.x{color:red}',
    };
    const head = '<link rel="stylesheet" href="a.css"><link rel="stylesheet" href="https://a.test/x.css">';
    expect(colors(head, files)).toEqual({
      wins: ['red'],
      notes: [
        'cycle p/b.css:2:1 these stylesheets import each other: p/a.css → p/b.css → p/a.css; the last import is skipped',
        'missing p/b.css:3:1 the stylesheet "gone.css" is not there',
        'remote p/q.html:1:64 https://a.test/x.css is elsewhere, and is not read',
      ],
    });
  });
});

test('what is dropped is told with its place, the rest goes on', () => {
  const { problems, rules } = readSheet(
    'a.css',
    '.a{b:c}\n..bad,.x{d:e}\n@unknown y;\n.k:nope{l:m}\n@import "late.css";\n.z{q:r',
  );
  expect(rules.map(({ unit }) => unit.name)).toEqual(['.a', '.k:nope', '.z']);
  expect(problems.map(({ message, start }) => `${start} ${message.slice(0, 30)}`)).toEqual([
    '9 this selector cannot be read, ',
    '22 @unknown is not known, and is ',
    '34 :nope is not known; a browser ',
    '47 an @import after other rules i',
    '67 this block is not closed',
  ]);
});

test('names and who uses them', () => {
  const css =
    ':root{--a:1;--b:2}.x{color:var(--a, red);animation:spin 1s;font:bold 1em "Sea Sans",serif}@keyframes spin{}@keyframes idle{}@font-face{font-family:"Sea Sans"}';
  const told = namedIn([readSheet('a.css', css)]).map(({ kind, name, users }) => `${kind} ${name} ${users.size}`);
  expect(told).toEqual(['keyframes spin 1', 'keyframes idle 0', 'font Sea Sans 1', 'property --a 1', 'property --b 0']);
});
