/** Every way to cut, runs of siblings, and what a survey tells: on random sites and on small ones. */
import { describe, expect, test } from '@jest/globals';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import fc from '../../arbitrary/seeded.js';
import { expandPage, parsePage, planLift, readComponents, survey } from '../../../src/index.js';
import { driftIn, driftText } from '../../../src/core/survey/drift.js';
import { echoesIn } from '../../../src/core/survey/echoes.js';
import { sites } from '../../arbitrary/pages.js';
import { findRuns } from '../../../src/core/fragments/runs.js';
import { occurrenceOf, runFrom } from '../../../src/core/fragments/occurrence.js';
import { findingFor } from '../../../src/core/survey/findings.js';
import { siteOf } from '../../../src/core/survey/survey.js';
import { generalise } from '../../../src/core/template/generalise.js';
import { componentOf, generalisingFor } from '../component-of.js';
import { cases } from '../../arbitrary/cases.js';

const thresholds = { ...DEFAULT_THRESHOLDS, minWorth: -100_000 };
const options = { thresholds, componentFolder: 'components' };
const filler = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';

function surveyed(sources: string[]) {
  const pages = sources.map((source, i) => parsePage(`p${i}.html`, source));
  return { pages, ...survey(pages, new Map(), options) };
}

/** The run of siblings that stands in so many places, as one component. */
function runIn(source: string, places: number) {
  const pages = [parsePage('p.html', source)];
  const site = siteOf(pages, {});
  const run = findRuns(site).find((each) => each.places.length === places)!;
  const occurrences = run.places.map((i) =>
    occurrenceOf(pages[0]!, runFrom(site.elements[i]!, run.spans!.get(i)!), ''),
  );
  return { pages, finding: findingFor('the-run', generalise(occurrences, generalisingFor(pages))!) };
}

test('whichever way a finding is cut, the pages are the same', () => {
  let cut = 0;
  fc.assert(
    fc.property(sites, fc.nat(), fc.nat(), (sources, which, way) => {
      const { pages, findings, cutsOf } = surveyed(sources);
      if (findings.length === 0) return;
      const cuts = cutsOf(findings[which % findings.length]!);
      expect(cuts[0]?.finding).toBe(findings[which % findings.length]);
      const { finding, places } = cuts[way % cuts.length]!;
      expect(places).toBeGreaterThan(0);
      const plan = planLift({ pages, components: [], findings: [finding], componentFolder: 'components' });
      for (const { path, before, after, same } of plan.pages) {
        const { text } = expandPage(parsePage(path, after), plan.registry);
        expect(same === 'bytes' ? text === before : same).not.toBe(same === 'bytes' ? false : 'different');
        cut++;
      }
    }),
    { numRuns: cases(150) },
  );
  expect(cut).toBeGreaterThan(cases(50));
});

describe('runs of siblings', () => {
  const parent = fc.constantFrom('div', 'section', 'article', 'main');
  const around = fc.record({
    tag: parent,
    before: fc.boolean(),
    after: fc.boolean(),
    count: fc.integer({ min: 1, max: 3 }),
  });

  test('are found across different parents, whatever stands around them, and come back to the byte', () => {
    fc.assert(
      fc.property(fc.array(around, { minLength: 3, maxLength: 6 }), (some) => {
        const run = (i: number) =>
          `  <h3 class="facts__heading" data-kind="facts"><b>${filler}</b> Quay ${i}</h3>\n  <p class="facts__text" data-kind="text"><i>${filler}</i> Text ${i * 7}</p>`;
        let number = 0;
        const blocks = some.map(({ tag, before, after, count }, i) => {
          const runs = Array.from({ length: count }, () => run(number++));
          const body = [...(before ? [`  <hr id="b${i}">`] : []), ...runs, ...(after ? [`  <pre>${i}</pre>`] : [])];
          return `<${tag} id="of-${i}">\n${body.join('\n')}\n</${tag}>`;
        });
        // at least one parent holds something else too, or the run would be all that its parent is
        const source = `<!DOCTYPE html>\n<body>\n${blocks.join('\n')}\n<div>\n${run(number++)}\n  <hr>\n</div>\n</body>\n`;
        const { pages, finding } = runIn(source, number);
        expect(finding.props.map(({ type }) => type)).toEqual(['text', 'text']);
        const plan = planLift({ pages, components: [], findings: [finding], componentFolder: 'components' });
        expect([plan.leftOut, plan.pages[0]!.same, plan.pages[0]!.uses]).toEqual([[], 'bytes', number]);
      }),
      { numRuns: cases(60) },
    );
  });

  test('take the form that their place has room for', () => {
    const entry = (i: number) =>
      `  <dt class="term" data-kind="term"><b>${filler}</b></dt>\n  <dd class="detail" data-kind="detail">Detail ${i}</dd>`;
    const source = `<!DOCTYPE html>\n<body>\n${[0, 3, 6].map((at) => `<dl id="l${at}">\n${[at, at + 1, at + 2].map(entry).join('\n')}\n</dl>`).join('\n')}\n</body>\n`;
    const { pages, finding } = runIn(source, 9);
    const plan = planLift({ pages, components: [], findings: [finding], componentFolder: 'components' });
    expect(plan.pages[0]).toMatchObject({ same: 'bytes', uses: 9 });
    expect(plan.pages[0]!.after).toContain(`<template use="${finding.name}" detail="Detail 4"></template>`);
    expect(readComponents(plan.components).get(finding.name)!.props).toHaveLength(1);
  });
});

test('slips: the one that is odd among its likes in one thing that is read, wherever it stands', () => {
  const card = (i: number, { phone = '0555 014', kind = 'card', look = 'calm' }) =>
    `<div class="card card--${look}" data-kind="${kind}">\n  <h3>Quay ${i}</h3>\n  <p>${filler}</p>\n  <b>${phone}</b>\n</div>`;
  fc.assert(
    fc.property(fc.integer({ min: 4, max: 8 }), fc.nat(), (count, at) => {
      const odd = at % count;
      const slips = (said: Parameters<typeof card>[1]) => {
        const cards = Array.from({ length: count }, (_, i) => card(i, i === odd ? said : {}));
        const source = `<!DOCTYPE html>\n<body>\n${cards.join('\n')}\n</body>\n`;
        return surveyed([source]).remarks.filter(({ kind }) => kind === 'slip');
      };
      for (const none of [{}, { look: 'loud' }, { phone: '0555 410', kind: 'quay' }]) expect(slips(none)).toEqual([]);
      for (const look of ['calm', 'loud'])
        expect(slips({ phone: '0555 410', look })).toMatchObject([
          {
            message: expect.stringMatching(new RegExp(`is "0555 410" here and "0555 014" in the ${count - 1} others$`)),
            places: [{ path: 'p0.html', line: 3 + odd * 5 + 3 }],
          },
        ]);
    }),
    { numRuns: 20 },
  );
});

test.each<[string, string, string, string[]]>([
  ['a text', '<b>0555 014</b>', '<b>0555 410</b>', ['0555 410 for 0555 014']],
  ['a part that one lacks', '<b>0555 014</b>', '', ['(none) for 0555 014']],
  ['a part that one alone has', '', '<b>0555 014</b>', ['0555 014 for (none)']],
  ['a class that one lacks', '<b class="call late">x</b>', '<b class="call">x</b>', ['no for yes']],
  ['a class that one alone has', '<b class="call">x</b>', '<b class="call late">x</b>', []],
  ['an attribute that one alone has', '<b>x</b>', '<b hidden>x</b>', []],
])('drift: %s', (_, usual, odd, told) => {
  const header = (own: string) =>
    `<!DOCTYPE html>\n<body>\n<header class="top">\n<h2>Ferries</h2>\n<p>${filler}</p>\n${own}</header>\n</body>\n`;
  const { findings } = surveyed([usual, usual, odd, usual, usual].map(header));
  const shared = findings.find(({ occurrences }) => occurrences[0]!.element.tag === 'header')!;
  const drift = driftIn(shared).flatMap((each) =>
    each.places.map(({ value }) => `${driftText(value, each)} for ${driftText(each.usual, each)}`),
  );
  expect(drift).toEqual(told);
});

describe('values that repeat others in another form', () => {
  const row = (key: string, name: string) =>
    `<div class="row" data-key="${key}">\n  <b>${name}</b>\n  <p>${filler}</p>\n</div>`;
  const names = ['Long Quay', 'Old Pier', 'East Steps'];
  const told = (keys: string[]) => {
    const source = `<!DOCTYPE html>\n<body>\n${keys.map((key, i) => row(key, names[i]!)).join('\n')}\n</body>\n`;
    const finding = componentOf('div', [parsePage('p.html', source)]);
    return echoesIn(finding).map(({ form }) => form);
  };

  test.each<[string, string[], string[]]>([
    ['lower case', ['long quay', 'old pier', 'east steps'], ['lower case']],
    ['hyphens', ['long-quay', 'old-pier', 'east-steps'], ['lower case with hyphens']],
    ['capitals', ['LONG QUAY', 'OLD PIER', 'EAST STEPS'], ['upper case']],
    ['one that is another word', ['long-quay', 'old-pier', 'steps'], []],
  ])('%s', (_, keys, forms) => {
    expect(told(keys)).toEqual(forms);
  });
});

test('a component that is there already is cut as it is', () => {
  const card = (name: string) => `<section class="quay">\n  <h3>${name}</h3>\n  <p>${filler}</p>\n</section>`;
  const source = `<!DOCTYPE html>\n<body>\n${['Long Quay', 'Old Pier'].map(card).join('\n')}\n</body>\n`;
  const { pages, findings } = surveyed([source]);
  const [finding] = findings;
  const { components } = planLift({ pages, components: [], findings: [finding!], componentFolder: 'components' });
  const again = survey(pages, readComponents(components), options);
  const known = again.findings.find(({ component }) => component !== null)!;
  expect(known.occurrences).toHaveLength(2);
  expect(again.cutsOf(known)).toEqual([]);
});
