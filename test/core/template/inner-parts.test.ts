/** What stands in a place and becomes a use of another component counts for the use that it will be. */
import { describe, expect, test } from '@jest/globals';
import { lengthsOfUses } from '../../../src/core/survey/chosen-parts.js';
import { type Page, parsePage } from '../../../src/core/page/parse.js';
import type { Element } from '../../../src/core/page/tree.js';
import { selected } from '../../../src/core/survey/point.js';
import { PRICE } from '../../../src/core/template/cost.js';
import { generalise } from '../../../src/core/template/generalise.js';
import type { InnerParts } from '../../../src/core/template/inner-parts.js';
import { siteOf } from '../../../src/core/survey/survey.js';
import { generalisingFor } from '../component-of.js';

const row = '<tr><td>Tern</td><td>Holm Quay</td><td>Every weekday at seven, and at noon on Sundays</td></tr>';
const table = `<div class="timetable"><table>${row.repeat(12)}</table></div>`;
const notice = '<p class="notice">The Auk is in dock.</p>';
const panelsOf = (...contents: string[]) =>
  contents.map((content, i) =>
    parsePage(`${i}.html`, `<section class="panel"><h2>Panel ${i}</h2><i>a</i>${content}<i>b</i></section>`),
  );
const elementsIn = (pages: Page[], selector: string): Element[] =>
  selected(pages, selector).map(({ element }) => element);

/** How many flags and slots a panel has, with what `selector` matches becoming uses. */
function panelOf(pages: Page[], selector: string): { flags: number; slots: number } {
  const elements = new Set(selector === '' ? [] : elementsIn(pages, selector));
  const parts: InnerParts = {
    has: (element) => elements.has(element),
    sparedIn: (page, [from, to]) =>
      [...elements]
        .filter(({ start, end }) => page.source.slice(start, end) === table && start >= from && end <= to)
        .reduce((sum, { start, end }) => sum + end - start - PRICE.use, 0),
  };
  const { props, slots } = generalise(selected(pages, '.panel'), { ...generalisingFor(pages), parts })!;
  return { flags: props.filter(({ type }) => type === 'flag').length, slots: slots.length };
}

describe('a table that some panels hold', () => {
  const some = panelsOf(table + notice, table, notice, '<ul><li>Holm</li><li>Skerry</li></ul>', '');
  test('is written once, with a flag, where it is no component of its own', () => {
    expect(panelOf(some, '').flags).toBeGreaterThan(0);
  });
  test('is poured in where it is one, and its use is short', () => {
    expect(panelOf(some, '.timetable')).toEqual({ flags: 0, slots: 1 });
  });
  test('stays where it is in all of them', () => {
    expect(panelOf(panelsOf(table, table, table), '.timetable')).toEqual({ flags: 0, slots: 0 });
  });
});

test('a use is as long as its tags, and what not all places say', () => {
  const pages = panelsOf('<b class="quay">Holm</b>', '<b class="quay">Holm</b>', '<b class="quay">Skerry</b>');
  const given = (...texts: string[]) => texts.reduce<number>((sum, text) => sum + PRICE.given + text.length, PRICE.use);
  const site = siteOf(pages, {});
  const places = elementsIn(pages, '.panel').map((element) => site.elements.indexOf(element));
  expect(lengthsOfUses(places, site)).toEqual([
    given('Panel 0', 'Holm'),
    given('Panel 1', 'Holm'),
    given('Panel 2', 'Skerry'),
  ]);
});
