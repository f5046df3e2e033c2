/** What is called alike, and when it is one part. */
import { describe, expect, test } from '@jest/globals';
import type { Candidate } from '../../../src/core/fragments/site.js';
import { chooseAlike } from '../../../src/core/survey/generalised.js';
import { generalisingOf, siteOf } from '../../../src/core/survey/survey.js';
import { DEFAULT_THRESHOLDS, parsePage, survey } from '../../../src/index.js';

const words = ['tide', 'quay', 'gull', 'rope', 'bell', 'lamp'];
const repeated = (kinds: ((word: string, at: number) => string)[]) =>
  kinds.flatMap((kind) => words.slice(0, 3).map(kind)).join('\n<hr>\n');

/** How many places each finding has that is called by a word, most first. */
function placesOf(word: string, body: string): number[] {
  const source = `<!DOCTYPE html>\n<html lang="en">\n<head><title>t</title></head>\n<body>\n${body}\n</body>\n</html>\n`;
  const options = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };
  return survey([parsePage('a.html', source)], new Map(), options)
    .findings.filter(({ name }) => name.includes(word))
    .map(({ occurrences }) => occurrences.length)
    .sort((a, b) => b - a);
}

describe('what is called alike', () => {
  test('is several parts where these save more than a frame for all', () => {
    const rules = '.card, .card h3, .card p, .card img, .card__body, .card b { margin: 0 }';
    const card = (content: string) =>
      `<div class="card">\n<div class="card__body">\n<div class="card__text">\n${content}\n</div>\n</div>\n</div>`;
    const kinds = [
      (word: string) =>
        card(`<h3>${word}</h3>\n<p>It calls at every quay.</p>\n<ul><li><i>by day</i></li></ul>\n<b>mail</b>`),
      (word: string) => card(`<img alt="">\n<form><label>${word}<input name="a"></label><button>Send</button></form>`),
    ];
    expect(placesOf('card', `<style>${rules}</style>\n${repeated(kinds)}`)).toEqual([3, 3]);
  });

  test('is one part where three or more of a kind would save hardly more', () => {
    const style = `<style>.sample, .sample b, .sample p { color: navy }</style>`;
    const kinds = ['b', 'p', 'em', 'ul'].map(
      (tag) => (word: string) => `<div class="sample">\n<${tag}><s>${word}</s><u>${word}</u></${tag}>\n</div>`,
    );
    expect(placesOf('sample', `${style}${repeated(kinds)}`)).toEqual([12]);
    // of two kinds each may be a part
    expect(placesOf('sample', `${style}${repeated(kinds.slice(0, 2))}`)).toEqual([3, 3]);
  });
});

describe('two chosen parts that are called alike are one', () => {
  const rules =
    '.card, .card h3, .card p, .card__body, .card__head, .card__flag, .card__fold, .card__foot { margin: 0 }';
  const card = (...parts: string[]) => `<div class="card">${parts.join('')}</div>`;
  const head = (word: string) =>
    `<div class="card__head"><h3>${word}</h3><a href="#" class="card__fold"><i></i></a></div>`;
  const note = (text: string) => `<div class="card__body"><p>${text}</p><p>It calls at every quay.</p></div>`;
  const form = (word: string) => `<form><label>${word}<input name="a"></label><button>Send</button></form>`;

  /** How many places each part has when those of each kind are offered by themselves; of the first also what stands in others. */
  const chosenOf = (...kinds: ((word: string, at: number) => string)[]) => {
    const pages = kinds.map((kind, k) =>
      parsePage(`${k}.html`, `<!DOCTYPE html><body>${words.map(kind).join('')}</body>`),
    );
    const site = siteOf(pages, { stylesheets: [rules] });
    const isInner = (i: number) => site.name[site.parent[i]!] === 'card';
    const cards = [...site.name.keys()].filter((i) => site.name[i] === 'card');
    const candidates = kinds.map((_, k): Candidate => {
      return { places: cards.filter((i) => (isInner(i) ? 0 : site.page[i]) === k), spans: null };
    });
    const generalising = generalisingOf(site.vocabulary, new Map(), { componentFolder: 'components', maxProps: 8 });
    const { chosen } = chooseAlike(candidates, {
      site,
      folders: kinds.map(() => null),
      generalising,
      thresholds: DEFAULT_THRESHOLDS,
    });
    return chosen.map(({ places }) => places.length).sort((a, b) => b - a);
  };

  const plain = (word: string) => card(head(word), note(`${word} by day`));
  test.each<[string, (word: string, at: number) => string, number[]]>([
    [
      'where one has something more',
      (word, at) => card(`<b class="card__flag">${at}</b>`, head(word), note(word)),
      [12],
    ],
    ['where they differ in a word', (word) => plain(word).replace('"card"', '"card card--calm"'), [12]],
    [
      'but not where they hold something else',
      (word) => card(form(word), `<ul><li>${word}</li><li>mail</li></ul>`),
      [6, 6],
    ],
    ['nor where they have little in common', (word) => card(head(word), form(word), form(word), form(word)), [6, 6]],
  ])('%s', (_, other, expected) => {
    expect(chosenOf(plain, other)).toEqual(expected);
  });

  test('but not where a place of one stands in one of the other', () => {
    const calm = (word: string, at: number) =>
      card(head(word), note(`${word} by day`), at === 0 ? plain(word) : '').replace('"card"', '"card card--calm"');
    expect(chosenOf(plain, calm)).toEqual([7, 6]);
  });
});
