/** What the survey recommends is accepted as it is, and comes to what the survey said, on random sites. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import {
  DEFAULT_THRESHOLDS,
  type LiftPlan,
  parsePage,
  planLift,
  readComponents,
  survey,
  templatesOf,
} from '../../../src/index.js';
import { lineCount } from '../../../src/core/page/parse.js';
import { elementsOf, lacksEndTag } from '../../../src/core/page/tree.js';
import { sites } from '../../arbitrary/pages.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(1000);

function linesSaved({ pages, components }: LiftPlan): number {
  const sum = (texts: string[]) => texts.reduce((total, source) => total + lineCount({ source }), 0);
  const after = [...pages.map((page) => page.after), ...components.map(({ source }) => source)];
  return sum(pages.map((page) => page.before)) - sum(after);
}

/** Surveys and lifts a site; the figures of both agree. @returns null where nothing was found, or the parser mends something */
function liftedAsSurveyed(sources: string[], minWorth: number) {
  const options = { thresholds: { ...DEFAULT_THRESHOLDS, minWorth }, componentFolder: 'components' };
  const pages = sources.map((source, i) => parsePage(i === 1 ? 'sub/p1.html' : `p${i}.html`, source));
  const { findings, remarks, cutsOf } = survey(pages, new Map(), options);
  expect(new Set(findings.map(({ name }) => name)).size).toBe(findings.length);
  const plan = planLift({ pages, components: [], findings, componentFolder: 'components' });
  // where end tags are missing by mistake, a use may have to be written otherwise, or be left out
  const mends = remarks.some(({ kind }) => kind === 'not-liftable');
  if (findings.length === 0 || mends || pages.some(({ root }) => elementsOf(root).some(lacksEndTag))) return null;
  for (const { why } of plan.leftOut) expect(why).not.toMatch(/stands in/);
  if (plan.leftOut.length > 0) return { findings, plan, exact: false };
  expect(findings.reduce((total, { saved }) => total + saved.lines, 0)).toBe(linesSaved(plan));
  // and each by itself
  for (const finding of findings) {
    const alone = planLift({ pages, components: [], findings: [finding], componentFolder: 'components' });
    if (alone.leftOut.length === 0) expect(cutsOf(finding)[0]!.alone.saved.lines).toBe(linesSaved(alone));
  }
  // pages that are left take what is used in templates along
  expect(templatesOf(readComponents(plan.components))).toHaveLength(findings.length);
  return { findings, plan, exact: true };
}

test('what is recommended is lifted without refusal, and its figures are those of the survey', () => {
  const seen = { sites: 0, findings: 0, nested: 0, exact: 0 };
  fc.assert(
    fc.property(sites, fc.constantFrom(0, 60, DEFAULT_THRESHOLDS.minWorth), (sources, minWorth) => {
      const found = liftedAsSurveyed(sources, minWorth);
      if (found === null) return;
      seen.sites++;
      seen.findings += found.findings.length;
      seen.nested += found.plan.registry.size > found.plan.uses.size ? 1 : 0;
      seen.exact += found.exact ? 1 : 0;
    }),
    { numRuns },
  );
  console.log(`${numRuns} random sites: ${JSON.stringify(seen)}`);
  expect(seen.exact).toBeGreaterThan(seen.sites / 2);
});

const page = (body: string) =>
  `<!DOCTYPE html>\n<html><head><title>t</title></head>\n<body>\n${body}\n</body></html>\n`;
const card = `<div><div class='card'></div></div>`;
const long = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';
const link = `<div><div href="tern"></div></div>`;
const pre = (depth: string) => `<pre>\n${depth}  <div></div>\n${depth}</pre>`;

test.each<[string, string[]]>([
  [
    'a part that comes and goes where white space shows',
    [`<div style="white-space: pre">\n  ${card}\n  ${card}\n</div>\n<div style="white-space: pre">\n  ${card}\n</div>`],
  ],
  [
    'what is poured in behind an open paragraph',
    [
      `<p>\n  <section title="${long} A"><h3>a</h3><div>x</div></section>\n  <section title="${long} B"><h3>b</h3><ul><li>y</li></ul></section>`,
      `<main>\n  <section title="${long}"><h3>c</h3><pre>z</pre></section>\n</main>`,
    ],
  ],
  [
    'siblings that are all poured in',
    [
      `<main>\n  <h3>a</h3>\n  ${link}\n  ${link}\n</main>\n<main>\n  <h3>tern</h3>\n</main>`,
      `<main>\n  <h3>tern</h3>\n  ${link}\n</main>`,
      `<main>\n  <div><div href="a b"></div></div>\n</main>`,
    ],
  ],
  [
    'braces in an address that a template writes for its folder',
    [
      `<table><tr><td>\n  <div></div>\n</td></tr></table>`,
      `<table><tr><td>\n  <div class="tern"><div href="{{name}}">${card}</div></div>\n  <div></div>\n</td></tr></table>\n<main>\n  ${card}\n  ${card}\n</main>`,
    ],
  ],
  [
    'a list before a part that comes and goes',
    [
      `<ul>\n  ${card}\n</ul>`,
      `<ul>\n  <h3></h3>\n  <h3></h3>\n  <div></div>\n  <h3></h3>\n  ${card}\n</ul>\n<main>\n  ${card}\n</main>`,
    ],
  ],
  [
    'white space that shows in what is poured into a use in a template',
    [
      `<main>\n    <div><div class="tern">${pre('        ')}</div></div>\n    <div><div class="tern">${pre('        ')}</div></div>\n</main>`,
      `<main>\n  <div><div class="a">${pre('      ')}</div></div>\n</main>`,
    ],
  ],
  ['items with and without end tags', [`<ul>\n  <li>${card}\n  <li>${card}\n  <div></div>\n</li>\n</ul>`]],
])('%s', (_, bodies) => {
  const found = liftedAsSurveyed(bodies.map(page), -500);
  expect(found).toMatchObject({ exact: true });
});
