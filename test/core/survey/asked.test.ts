/** What the developer says of places before anything is found: left alone, or taken whatever it is worth. */
import { expect, test } from '@jest/globals';
import { elementsOf } from '../../../src/core/page/tree.js';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import { parsePage, planLift, readComponents, survey, type SurveyOptions, templatesOf } from '../../../src/index.js';

const words = ['tern', 'eider', 'gull', 'quay'];
const card = (word: string, i: number) =>
  `<article class="boat">\n<h3 class="boat__name">${word}</h3>\n<p class="boat__text">Calls at every quay, number ${i}</p>\n<a class="boat__more" href="${word}.html">More</a>\n</article>`;
const source = (before: string) =>
  `<!DOCTYPE html>\n<body>\n<main>\n${words.map((word, i) => (i === 1 ? before : '') + card(word, i)).join('\n')}\n<i class="odd">a</i> <i class="odd">b</i>\n<b class="one">c</b>\n</main>\n</body>\n`;
const options: SurveyOptions = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };
const surveyed = (text: string, more: Partial<SurveyOptions> = {}) => {
  const pages = [parsePage('a.html', text), parsePage('b.html', text)];
  return { pages, ...survey(pages, new Map(), { ...options, ...more }) };
};
const classesIn = ({ findings, others, regions }: ReturnType<typeof surveyed>) =>
  [...findings, ...others(), ...regions()].flatMap(({ occurrences }) =>
    occurrences.flatMap(({ page, element }) =>
      elementsOf(element).map((each) => page.source.slice(each.start, each.openEnd)),
    ),
  );

test('what a comment stands before, or a selector matches, is in no finding, and neither is what holds it', () => {
  const plain = surveyed(source(''));
  expect(plain.findings[0]!.occurrences).toHaveLength(8);
  const left = surveyed(source('<!-- estrade: leave -->\n'));
  expect(left.findings[0]!.occurrences).toHaveLength(6);
  for (const { occurrences } of left.findings)
    for (const { page, element, end } of occurrences)
      expect(page.source.slice(element.start, end)).not.toMatch(/eider|estrade/);
  const none = surveyed(source(''), { leave: ['.boat', 'i'] });
  expect(classesIn(none).filter((each) => /boat|<main|<i/.test(each))).toEqual([]);
  // and what is there already is not known there
  const made = planLift({
    pages: plain.pages,
    components: [],
    findings: plain.findings,
    componentFolder: 'components',
  });
  const registry = readComponents(made.components);
  const known = (text: string) => survey([parsePage('c.html', text), ...templatesOf(registry)], registry, options);
  expect(known(source('')).findings[0]!.occurrences).toHaveLength(4);
  expect(known(source('<!-- estrade: leave -->')).findings[0]!.occurrences).toHaveLength(3);
});

test('what a selector takes is recommended whatever it is worth; what cannot be taken is told', () => {
  const taken = surveyed(source(''), { take: ['.odd', '.one', '.boat__name, .boat', '.none'] });
  const named = taken.findings.map(({ recommended, occurrences }) => [
    recommended,
    occurrences[0]!.page.source.slice(occurrences[0]!.element.start, occurrences[0]!.element.openEnd),
    occurrences.length,
  ]);
  expect(named).toContainEqual([true, '<i class="odd">', 4]);
  expect(named).toContainEqual([true, '<b class="one">', 2]);
  expect(named).toContainEqual([true, '<article class="boat">', 8]);
  expect(taken.remarks.filter(({ kind }) => kind === 'note')).toEqual([
    expect.objectContaining({ message: expect.stringContaining('.boat__name, .boat is in no finding') }),
    expect.objectContaining({ message: '"take" of the configuration: .none matches nothing', places: [] }),
  ]);
});

test('where stylesheets on other servers would tell class words, a place that loads each is told', () => {
  const link = (url: string) => `<link rel="stylesheet" href="${url}">\n`;
  const links = ['https://ferries.example/sound.css', '//ferries.example/boats.css', 'own.css'].map(link).join('');
  const listed = 'a b c d e f g h'.replace(/\w/g, 'word-$&');
  const text = source('').replace('<body>', `<head>\n${links}</head>\n<body class="${listed}">`);
  const told = (...stylesheets: string[]) =>
    surveyed(text, { stylesheets })
      .remarks.filter(({ kind }) => kind === 'unstyled')
      .map(({ places }) => places.map(({ path, line }) => `${path}:${line}`));
  expect(told('.boat__name { margin: 0 }')).toEqual([['a.html:3', 'a.html:4']]);
  expect(told('.boat, .boat__name, .boat__text, .boat__more { margin: 0 }')).toEqual([]);
});

test.each([
  ['<!-- estrade: leav -->', 'the comment "estrade: leav" says nothing: did you mean leave?'],
  ['<!-- estrade: leave -->text', 'the comment "estrade: leave" stands before no element'],
])('%s is told', (note, message) => {
  const { remarks } = surveyed(source(note));
  expect(remarks.filter(({ kind }) => kind === 'note').map((each) => [each.message, each.places[0]])).toEqual([
    [message, expect.objectContaining({ path: 'a.html', line: 9 })],
    [message, expect.objectContaining({ path: 'b.html', line: 9 })],
  ]);
});
