/** What a part is worth, and which parts are chosen: one example a line. */
import { describe, expect, test } from '@jest/globals';
import { parsePage } from '../../../src/core/page/parse.js';
import type { Choice } from '../../../src/core/survey/choice.js';
import { choose } from '../../../src/core/survey/choose.js';
import { isHeadingBlock } from '../../../src/core/survey/heading-block.js';
import { elementsOf } from '../../../src/core/page/tree.js';
import { findCandidates } from '../../../src/core/fragments/candidates.js';
import type { Standing } from '../../../src/core/survey/owners.js';
import { siteOf } from '../../../src/core/survey/survey.js';
import { frameTerms, laterTerms, sumOf, WORTH, worthTerms } from '../../../src/core/survey/worth.js';

/** Three places that count of a dressed block with a word, eight of its ten elements the same everywhere. */
const USUAL = {
  ...{ tag: 'div', name: 'card', told: '', count: 3, constant: 8, coverage: 0.8, size: 10 },
  ...{ apart: 0, beside: 1, mixed: 0, strength: 1, speaks: false, prose: false, dressed: true },
};
const standing = (other: Partial<Standing> = {}) => ({ ...USUAL, places: [0, 1, 2], ...other }) as Standing;
const NAMELESS = { name: '', strength: 0 };

describe('what a part is worth', () => {
  test.each<[string, Partial<Standing>, string[]]>([
    ['a block in three places', {}, ['one place to change']],
    ['what stands once', { count: 1 }, []],
    ['a bare pair of tags', { constant: 1, size: 2 }, []],
    ['running text', { prose: true }, []],
    ['without a name', NAMELESS, ['one place to change', 'nothing names it']],
    [
      'without a name, and nearly without content',
      { ...NAMELESS, constant: 3 },
      ['one place to change', 'nothing names it', 'little in it is constant'],
    ],
    [
      'a cell in which anything stands',
      { ...NAMELESS, coverage: 0.3 },
      ['one place to change', 'nothing names it', 'anything stands in it'],
    ],
    ['a landmark needs no name', { ...NAMELESS, speaks: true }, ['one place to change']],
    ['siblings like it', { mixed: 0.5 }, ['one place to change', 'siblings are like it, and none of them']],
    ['others of its name', { apart: 0.5 }, ['one place to change', 'others are called like it']],
    ['two elements', { constant: 2, size: 2 }, ['one place to change', 'it is tiny']],
  ])('%s', (_, other, lines) => {
    const terms = worthTerms(standing(other));
    expect(terms.map(({ what }) => what)).toEqual(lines);
    for (const [i, { bytes }] of terms.entries()) expect(Math.sign(bytes)).toBe(i === 0 ? 1 : -1);
  });

  test.each<[string, Partial<Standing>, Partial<Standing>]>([
    ['more places', { count: 6 }, { count: 3 }],
    ['more that is the same', { constant: 12 }, { constant: 8 }],
    ['a larger share that is the same', { coverage: 0.9 }, { coverage: 0.6 }],
    ['a word with rules', { strength: 1 }, { strength: 0.4 }],
    ['a tag that speaks', { speaks: true }, { speaks: false }],
    ['siblings like it, with styles of its own', { mixed: 0.5 }, { mixed: 0.5, dressed: false }],
  ])('%s is worth more', (_, more, less) => {
    expect(sumOf(worthTerms(standing(more)))).toBeGreaterThan(sumOf(worthTerms(standing(less))));
  });

  test.each<[string, Partial<Standing>, number, number, number]>([
    ['saves bytes', {}, 200, 4, 0],
    ['costs two bytes a place', {}, -3, 4, -2],
    ['costs much', {}, -3000, 4, -WORTH.mostForFrame],
    ['costs something, and no stylesheet knows it', { dressed: false }, -3, 4, -500],
    ['has nothing but its root', { name: '', beside: 0 }, 200, 1, -500],
    ['has nothing but its root, in a row of such', { name: '', beside: 1, tag: 'div' }, 200, 1, -500],
    ['is an item of a list', { name: '', beside: 1, tag: 'li' }, 200, 1, 0],
    ['has nothing but its root, and is called a row', { name: 'row', beside: 0 }, 200, 1, -500],
    ['has nothing but its root, and is called a card', { name: 'card', beside: 0 }, 200, 1, 0],
  ])('a frame that %s', (_, other, saved, constant, price) => {
    const choice = { ...standing(other), terms: [{ what: 'one place to change', bytes: 500 }] };
    expect(sumOf(frameTerms(choice, saved, constant)) + 0).toBe(price);
  });

  test.each([
    ['saves bytes', 40, false, 0],
    ['costs bytes', -40, false, -40],
    ['stands in a template', 40, true, -WORTH.passedOver],
  ])('beside components that are there, what %s', (_, saved, isInTemplates, price) => {
    expect(sumOf(laterTerms(saved, isInTemplates))).toBe(price);
  });
});

const CSS = ['.card, .card__name, .card__text, .menu, .menu__item, .bar { color: navy }'];
const card = (n: number, more = '') =>
  `<div class="card"><h3 class="card__name">Boat ${n}</h3><p class="card__text">It calls at quay ${n}</p>${more}</div>`;
const menu = `<nav class="menu">${['a', 'b', 'c'].map((at) => `<a class="menu__item" href="${at}.html"><i></i>${at}</a>`).join('')}</nav>`;
const body = (...parts: string[]) => `<!DOCTYPE html><body>${parts.join('\n')}</body>`;

/** What is chosen on pages. @param isUnlike tells what turns out to be no one part */
function choicesOn(sources: string[], isUnlike: (choice: Choice) => boolean = () => false): Choice[] {
  const pages = sources.map((source, i) => parsePage(`p${i}.html`, source));
  const site = siteOf(pages, { stylesheets: CSS });
  const options = { minOccurrences: 2, minElements: 2, isSettled: () => false, covered: new Set<never>() };
  const { choices } = choose(findCandidates(site, options), site, 60, {
    unlikeAmong: (chosen) => new Set(chosen.filter(isUnlike)),
    savedBy: () => ({ components: 0, bytes: 0 }),
  });
  return choices.filter(({ chosen }) => chosen);
}

/** The word or tag of each part that is chosen, and in how many places. */
function chosenOn(...sources: string[]): string[] {
  return choicesOn(sources)
    .filter(({ candidate }) => candidate.spans === null)
    .map(({ name, tag, places }) => `${places.length} ${name || tag}`)
    .sort();
}

describe('what is chosen', () => {
  test.each<[string, string[], string[]]>([
    ['a block in a row', [body(...[1, 2, 3, 4].map((n) => card(n)))], ['4 card']],
    ['nothing, where everything stands once', [body(card(1), menu)], ['3 menu__item']],
    ['what pages share, and its items', [1, 2, 3].map((n) => body(menu, `<h1>${n}</h1>`)), ['3 menu', '9 menu__item']],
    [
      'a block with a part that comes and goes',
      [body(card(1, menu), card(2), card(3), card(4))],
      ['3 menu__item', '4 card'],
    ],
    ['no running text', [body('<p>One <b>boat</b></p><p>Two <b>boats</b></p><p>Three <b>boats</b></p>')], []],
  ])('%s', (_, pages, expected) => {
    expect(chosenOn(...pages)).toEqual(expected);
  });

  test('what something was in the way of that turns out to be no one part', () => {
    const loads = ['tide', 'boats', 'fares', 'quays', 'mail', 'notices'].map(
      (name) => `<script src="${name}.js"></script>`,
    );
    const pages = [6, 6, 6, 4, 4].map((count) => `<!DOCTYPE html><head>${loads.slice(0, count).join('')}</head>`);
    const lengthOf = ({ candidate, places }: Choice) => candidate.spans?.get(places[0]!);
    const lengths = (...unlike: number[]) =>
      choicesOn(pages, (choice) => unlike.includes(lengthOf(choice)!)).map(lengthOf);
    expect([lengths(), lengths(4), lengths(4, 6)]).toEqual([[4], [6], []]);
  });
});

test.each([
  ['a heading and a line', '<h2>Boats</h2>\n<p>All of <em>them</em></p>', true],
  ['two lines', '<h1>Boats</h1><p>All of them</p><small>so far</small>', true],
  ['a heading alone', '<h2>Boats</h2>', false],
  ['one of a card or a row', '<h5>Boats</h5><p>All of them</p>', false],
  ['something above it', '<em>Now</em><h2>Boats</h2><p>All of them</p>', false],
  ['more than lines', '<h2>Boats</h2><ul><li>Tern</li></ul>', false],
  ['lines of many parts', '<h2>Boats</h2><p><b>a</b><b>b</b><b>c</b><b>d</b></p>', false],
  ['text by itself', '<h2>Boats</h2><p>All</p> of them', false],
])('a block that heads a section: %s', (_, content, expected) => {
  const [block] = elementsOf(parsePage('p.html', `<!DOCTYPE html><body><div>${content}</div></body>`).root).filter(
    ({ tag }) => tag === 'div',
  );
  expect(isHeadingBlock(block!)).toBe(expected);
});
