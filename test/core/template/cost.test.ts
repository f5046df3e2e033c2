/** What is written, and what people must understand for it, in bytes: one example a line. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { parsePage } from '../../../src/core/page/parse.js';
import {
  byteLength,
  costOfBlocks,
  costOfHole,
  costOfList,
  costOfSlot,
  nothingPaid,
  PRICE,
} from '../../../src/core/template/cost.js';
import type { Hole, Pattern, Value } from '../../../src/core/template/pattern.js';
import { componentOf } from '../component-of.js';

const text = (value: string): Value => ({ value, raw: value });
const hole = (values: Value[], kind: Hole['kind'] = 'text') =>
  ({ kind, pattern: {} as Pattern, attr: null, part: null, values, before: '' }) as Hole;
const paying = () => ({ paid: nothingPaid(), widen: <T>(values: T[]) => values, plain: false });

describe('the cost of', () => {
  test.each<[string, number, number]>([
    ['a value in two uses', costOfHole(hole([text('Tern'), text('Auk')]), paying()), PRICE.prop + 11 + 4 + 11 + 3],
    ['one that a use lacks', costOfHole(hole([text('Tern'), null]), paying()), PRICE.prop + 11 + 4],
    [
      'one that most uses leave to its default',
      costOfHole(hole(['Tern', 'Tern', 'Tern', 'Auk'].map(text)), paying()),
      PRICE.prop + 11 + 4 + 11 + 3,
    ],
    [
      'white space that most have, which is no default',
      costOfHole(hole([' ', ' ', ' ', '\n'].map(text)), paying()),
      PRICE.prop + 4 * (11 + 1),
    ],
    [
      'that of a record, which has no default',
      costOfHole(hole(['Tern', 'Tern', 'Tern', 'Auk'].map(text)), { ...paying(), plain: true }),
      PRICE.prop + 4 * PRICE.field + 15,
    ],
    ['text that never varies', costOfHole(hole([text('Tern')], 'literal'), paying()), 0],
    ['one part that comes and goes', costOfBlocks(1), PRICE.block],
    ['three of them, each dearer than the one before', costOfBlocks(3), PRICE.block * (1 + 2 + 3)],
    ['a slot with eight bytes in one use of two', costOfSlot([[10, 18], null], false), PRICE.slot + PRICE.poured + 8],
    ['a slot for nothing but white space', costOfSlot([[10, 12]], true), PRICE.emptySlot + PRICE.poured + 2],
    [
      'a list of five records in two uses',
      costOfList(90, 5, 2),
      PRICE.list + PRICE.prop + 90 + 5 * PRICE.record + 2 * PRICE.records,
    ],
  ])('%s', (_, cost, expected) => {
    expect(cost).toBe(expected);
  });

  test('a value that stands in a second place is hardly anything', () => {
    const both = paying();
    costOfHole(hole([text('Tern'), text('Auk')]), both);
    expect(costOfHole(hole([text('Tern'), text('Auk')]), both)).toBe(PRICE.again);
  });

  test('text is its length in UTF-8', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', '\u0000', 'é', '文', '😀')),
        (parts) => byteLength(parts.join('')) === Buffer.byteLength(parts.join('')),
      ),
    );
  });
});

const rows = (parts: string[]) => parts.map((part) => `<section class="quay">${part}</section>`).join('\n');
/** The template that is cheapest for such sections. */
const written = (...parts: string[]) =>
  componentOf('.quay', [parsePage('p.html', `<!DOCTYPE html><body>\n${rows(parts)}\n</body>`)])
    .file.replace(/<meta[^>]*>\s*/g, '')
    .replace(/^<template[^>]*>\s*|\s*<\/template>\s*$/g, '');
const boats = (count: number, at: number) =>
  `<ul>${Array.from({ length: count }, (_, i) => `<li><b>Boat ${i}</b> at ${at}</li>`).join('')}</ul>`;
const cells = (text: string, count: number) =>
  `<table><tr>${Array.from({ length: count }, (_, i) => `<td>${text.repeat(i + 1)}</td>`).join('')}</tr></table>`;
const long = 'Read this before you go down to the quay, for no boat waits';

describe('the solver writes', () => {
  test.each<[string, string[], RegExp]>([
    ['what is the same as it is', ['<b>Quay</b><i>1</i>', '<b>Quay</b><i>2</i>'], /<b>Quay<\/b><i>\{\{\w+\}\}<\/i>/],
    [
      'a part that one lacks as a condition',
      [`<h2>A</h2><p>${long}</p>`, '<h2>B</h2>', `<h2>C</h2><p>${long}</p>`],
      /<template when="\w+"><p>Read/,
    ],
    [
      'one kind of content or another as a slot',
      ['1', '2', '3', '4'].map((n) => `<h2>Quay</h2>${Number(n) % 2 ? `<b>${n}</b>` : `<i>${n}</i>`}`),
      /<h2>Quay<\/h2><slot><\/slot>/,
    ],
    ['the cells of a row as values of their own', ['a', 'b', 'c'].map((each) => cells(each, 4)), /^(?!.*each=)/s],
    ['those of a long one as a list', ['a', 'b', 'c'].map((each) => cells(each, 12)), /<tr><template each="\w+"/],
    ['what mostly stands alone as no list', [1, 1, 3, 1].map(boats), /^(?!.*each=)/s],
    ['a varying number of items as a list', [1, 3, 2].map(boats), /<ul><template each="\w+" of="\w+"><li><b>/],
    [
      'content of different kinds as a slot',
      [
        '<p>One</p><table><tr><td>1</td></tr></table>',
        '<ol><li>a</li><li>b</li></ol>',
        '<h3>x</h3><dl><dt>y</dt></dl>',
      ].map((any) => `<h2>Quay</h2><div>${any}</div>`),
      /<h2>Quay<\/h2><div><slot><\/slot><\/div>/,
    ],
    [
      'one value in two places as one prop',
      ['Tern', 'Auk'].map((name) => `<a href="${name}.html">${name}</a>`),
      /<a href="\.\.\/\{\{(\w+)\}\}\.html">\{\{\1\}\}<\/a>/,
    ],
    [
      'a class that comes and goes as a flag',
      ['<p class="note late">1</p>', '<p class="note">1</p>'],
      /<p class="note\{\{late \? ' late' : ''\}\}">1/,
    ],
  ])('%s', (_, parts, expected) => {
    expect(written(...parts)).toMatch(expected);
  });
});
