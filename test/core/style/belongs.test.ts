/** What belongs to whom, and how rules leave a stylesheet and come back, byte by byte. */
import { describe, expect, test } from '@jest/globals';
import { readComponents } from '../../../src/core/component/read.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { bondsOf, ownUnits } from '../../../src/core/style/belongs.js';
import { dress } from '../../../src/core/style/dress.js';
import { PageMatcher } from '../../../src/core/style/match.js';
import { fillMarkers } from '../../../src/core/style/fill.js';
import { expandAll, filledReader, planStyles } from '../../../src/core/style/plan.js';
import { totalsOf } from '../../../src/core/style/totals.js';

const component = (name: string, body: string, style = '') => ({
  path: `parts/${name}.html`,
  source: `<template component="${name}">\n  ${body}\n</template>\n${style}`,
});
const card = component(
  'x-card',
  '<article class="card"><h2 class="t">h</h2><div class="body"><slot></slot></div></article>',
);
const body = `<main class="m"><x-card><p class="own">a</p></x-card><x-card></x-card><p class="after">z</p></main><h2>other</h2>`;

const pageOf = (content: string, head = '<link rel="stylesheet" href="css/a.css">') =>
  parsePage('p.html', `<!DOCTYPE html><html><head>${head}</head><body>${content}</body></html>`);

describe('how a rule stands to a component', () => {
  test.each([
    ['.card', 'own'],
    ['.t', 'own'],
    ['h2', 'shared'],
    ['.m .t', 'own reachesIn'],
    ['.m > .card', 'own reachesIn wrapper'],
    ['.m .card .t', 'own reachesIn'],
    ['.card .t', 'own'],
    ['.card > .t', 'own'],
    ['.card:first-child', 'own wrapper neighbours'],
    ['.card + .card', 'own reachesIn reachesOut wrapper neighbours'],
    ['.card + p', 'shared reachesOut wrapper'],
    ['.m:has(.t)', 'shared reachesOut'],
    ['main > :last-child', 'shared neighbours'],
    ['.card p', 'own throughSlot'],
    ['.own', null],
    ['p', null],
    ['.m p', null],
    ['.t:hover', 'own'],
    ['.t::after', 'own'],
    ['.gone', null],
  ])('%s', (selector, bond) => {
    const registry = readComponents([card]);
    const { read } = filledReader(new Map([['css/a.css', `${selector} { color: red }`]]), registry);
    const dressed = dress(expandAll([pageOf(body)], registry), new PageMatcher(read));
    const [found] = bondsOf(dressed, 'x-card');
    const told =
      found === undefined
        ? null
        : [
            found.own ? 'own' : 'shared',
            ...Object.entries(found)
              .filter(([key, value]) => value === true && key !== 'own')
              .map(([key]) => key),
          ].join(' ');
    expect(told).toBe(bond);
    expect(ownUnits(dressed, 'x-card').map(({ name }) => name)).toEqual(found?.own === true ? [selector] : []);
    expect(totalsOf(dressed, [[]])[0]!.unseen.length).toBe(selector === '.gone' ? 1 : 0);
  });
});

/** Moves the own rules of the components; gives back the sheet, the styles, and what stays with its reason. */
function move(css: string, components = [card], content = body, fixed = new Map<string, string>()) {
  const registry = readComponents(components);
  const names = components
    .filter(({ source }) => !source.includes('<style>'))
    .map(({ path }) => /(\S+)\/(.*)\.html/.exec(path)![2]!);
  const pages = expandAll([pageOf(content)], registry);
  const sources = new Map([['css/a.css', css]]);
  const before = filledReader(sources, registry);
  const plan = planStyles({ pages, sources, before, components, around: {}, names, cuts: [], fixed });
  const after = plan.sheets[0]?.after ?? css;
  const written = new Map(components.map((each) => [each.path, each]));
  for (const each of plan.components) written.set(each.path, each);
  return {
    after,
    styles: plan.components.map(({ source }) => source.slice(source.indexOf('<style>'))),
    staying: plan.staying.map(
      ({ unit, why, competes }) =>
        `${unit.name}: ${why}${(competes ?? []).map(({ declaration }) => ` ${declaration.value}`).join()}`,
    ),
    filled: fillMarkers('css/a.css', after, readComponents([...written.values()])).text,
  };
}

describe('moving', () => {
  test('rules that stand together come back to the byte, with their comments', () => {
    const css =
      '/* page */\np { margin: 0 }\n\n/* the card */\n.card { color: red } /* warm */\n\n.t {\n  color: blue;\n}\n\n/* free */\n\nh2 { color: green }\n';
    const { after, styles, filled } = move(css);
    expect(after).toBe('/* page */\np { margin: 0 }\n\n@component x-card;\n\n/* free */\n\nh2 { color: green }\n');
    expect(styles).toEqual([
      '<style>\n  /* the card */\n  .card { color: red } /* warm */\n\n  .t {\n    color: blue;\n  }\n</style>\n',
    ]);
    expect(filled).toBe(css);
  });

  test('scattered rules gather where the most of them stand, with the at-rules around them', () => {
    const css =
      '.card { a: b }\n.body { c: d }\np { e: f }\n@media print {\n  .t { g: h }\n  h2 { i: j }\n}\n@media (width > 9px) {\n  .card { k: l }\n}\n';
    const { after, styles } = move(css);
    expect(after).toBe('@component x-card;\np { e: f }\n@media print {\n  h2 { i: j }\n}\n');
    expect(styles).toEqual([
      '<style>\n  .card { a: b }\n  .body { c: d }\n  @media print {\n    .t { g: h }\n  }\n  @media (width > 9px) {\n    .card { k: l }\n  }\n</style>\n',
    ]);
  });

  test('what the sheet says at its top stays there', () => {
    expect(move('/* all of it */\n/* the card */\n.card { a: b }\n').after).toBe(
      '/* all of it */\n@component x-card;\n',
    );
    expect(move('/*! ours */.card{a:b}').after).toBe('/*! ours */@component x-card;');
  });

  test('a marker stands in the layer that all share', () => {
    const css = '@layer parts {\n  .card { a: b }\n  p { c: d }\n}\n';
    const { after, styles, filled } = move(css);
    expect(after).toBe('@layer parts {\n  @component x-card;\n  p { c: d }\n}\n');
    expect(styles).toEqual(['<style>\n  .card { a: b }\n</style>\n']);
    expect(filled).toBe(css);
  });

  test('a sheet of one line stays one, CRLF stays CRLF', () => {
    const { after, filled } = move('p{a:b}.card{c:d}.t{e:f}h2{g:h}');
    expect(after).toBe('p{a:b}@component x-card;h2{g:h}');
    expect(filled).toBe('p{a:b}.card{c:d}.t{e:f}h2{g:h}');
    const crlf = 'p { a: b }\r\n.card {\r\n  c: d\r\n}\r\nh2 { e: f }\r\n';
    expect(move(crlf).filled).toBe(crlf);
  });

  test('URLs point at what they did, keyframes of one go along', () => {
    const css = '.card { background: url("../img/a.png"); animation: in 1s }\n@keyframes in { from { opacity: 0 } }\n';
    const { after, styles, filled } = move(css);
    expect(after).toBe('@component x-card;\n');
    expect(styles[0]).toContain('url("../img/a.png")');
    const moved = move('.card { background: url(x/a.png) }\n');
    expect(moved.styles[0]).toContain('url(../css/x/a.png)');
    expect([filled, moved.filled]).toEqual([css, '.card { background: url(x/a.png) }\n']);
  });

  test.each([
    [
      'what would change a winner',
      '.t { color: red; margin: 0 }\nh2.t { color: navy }\nh2 { color: green }\n.x, .t { margin: 1px; color: blue }\nh2:not(.t) { a: b }\n.t { margin: 2px }\n',
      [],
    ],
    [
      'a url() that leads out',
      '.card { background: url(../../a.png) }\n',
      ['.card: a url() in it leads out of the project'],
    ],
    ['a layer without a name', '@layer { .card { a: b } }\n', ['.card: its layer has no name to be found by']],
    [
      'what would end the element',
      '.card { content: "</style>" }\n',
      ['.card: it holds what would end a style element'],
    ],
  ])('%s is left', (_, css, staying) => {
    const found = move(css);
    expect(found.staying).toEqual(staying);
    expect(found.after === css).toBe(staying.length > 0);
  });

  test('a rule that must not pass another stays, with the two that compete', () => {
    const two = [card, component('x-note', '<p class="note t">n</p>')];
    const css =
      '.body { color: red; margin: 0 }\n.card .body { padding: 0 }\n.own, .k { margin: 3px }\n.body { color: blue }\n';
    expect(move(css, two, `${body}<x-note></x-note>`).staying).toEqual([]);
    const crossed =
      '.card { color: red }\n.t { margin: 0 }\n.body { c: d }\n.m, .card { color: blue; margin: 1px }\n.card { margin: 2px }\n';
    const found = move(crossed);
    expect(found.staying).toEqual(['.card: moving it would change what wins 2px, 1px']);
    expect(found.after).toBe('@component x-card;\n.m, .card { color: blue; margin: 1px }\n.card { margin: 2px }\n');
  });

  test('styles that a component has already stay where they are', () => {
    const done = component(
      'x-note',
      '<p class="note">n</p>',
      '\n<style>\n  .note { a: b }\n\n  /* mine */\n</style>\n',
    );
    const css = '.card { c: d }\n@component x-note;\nh2 { e: f }\n.t { g: h }\n';
    const { after, filled } = move(css, [card, done], `${body}<x-note></x-note>`);
    expect(after).toBe('@component x-card;\n@component x-note;\nh2 { e: f }\n');
    expect(filled).toBe('.card { c: d }\n.t { g: h }\n.note { a: b }\n\n/* mine */\nh2 { e: f }\n');
  });

  test('the order of layers stays', () => {
    const css =
      '@layer one {\n  .t { color: red }\n}\n@layer two {\n  h2 { color: blue }\n}\n.card { a: b }\n.body { c: d }\n';
    const { after, staying } = move(css);
    expect(staying).toEqual(['.t: the order of layers would change']);
    expect(after).toBe(`${css.slice(0, css.indexOf('.card'))}@component x-card;\n`);
    // also of those whose rules meet on no page yet, for a script may bring them together
    const apart = '@layer one {\n  .on { color: red }\n}\n@layer two {\n  .card { color: blue }\n}\n';
    expect(move(`.card { a: b }\n${apart}`).staying).toEqual(['.card: the order of layers would change']);
    // told before, the order is safe
    expect(move(`@layer one, two;\n${css}`).staying).toEqual([]);
  });

  test('a sheet that cannot be written is read all the same', () => {
    const { staying, after } = move('.card { a: b }', [card], body, new Map([['css/a.css', 'not mine']]));
    expect([staying, after]).toEqual([['.card: not mine'], '.card { a: b }']);
  });
});

test('markers that are wrong are told with their place', () => {
  const registry = readComponents([card]);
  const { text, problems } = fillMarkers('a.css', 'p{}\n  @component nope;\n@component x-card;', registry);
  expect(text).toBe('p{}\n  @component nope;\n@component x-card;');
  expect(problems.map(({ message, place }) => `${place.line}:${place.column} ${message}`)).toEqual([
    '2:3 there is no component nope',
    '3:1 the component x-card has no styles',
  ]);
});
