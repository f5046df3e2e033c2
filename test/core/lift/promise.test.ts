/**
 * The promise, for all inputs: whatever is lifted expands to the same site. ESTRADE_CASES sets how many random sites
 * are tried (`npm run bench` tries 10,000).
 */
import { expect, test } from '@jest/globals';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import fc from '../../arbitrary/seeded.js';
import {
  comparePages,
  type ComponentSource,
  expandPage,
  type Finding,
  type Page,
  parsePage,
  planLift,
  readComponents,
  survey,
  templatesOf,
} from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { made } from '../offered.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(300);
const thresholds = { ...DEFAULT_THRESHOLDS, minElements: 1, minWorth: -10_000, maxProps: 12, minLines: 1 };

/** Findings that do not overlap, in the order of the survey. */
function apart(findings: Finding[]): Finding[] {
  const taken: { page: Page; start: number; end: number }[] = [];
  return findings.filter(({ occurrences }) => {
    const ranges = occurrences.map(({ page, element: { start, end } }) => ({ page, start, end }));
    const free = ranges.every(({ page, start, end }) =>
      taken.every((other) => other.page !== page || other.end <= start || end <= other.start),
    );
    if (free) taken.push(...ranges);
    return free;
  });
}

const options = { thresholds, componentFolder: 'components' };

test('lifted and expanded, and lifted again in pages and in templates, every page is the same', () => {
  const seen = { pages: 0, bytes: 0, uses: 0, second: 0, templates: 0, regions: 0 };
  fc.assert(
    fc.property(sites, fc.nat(), (sources, turn) => {
      const originals = new Map(sources.map((source, i) => [i === 1 ? 'sub/p1.html' : `p${i}.html`, source]));
      let current = new Map(originals);
      let components: ComponentSource[] = [];
      for (const round of [1, 2, 3]) {
        const registry = readComponents(components);
        const pages = [...[...current].map(([path, source]) => parsePage(path, source)), ...templatesOf(registry)];
        const { findings, ...surveyed } = survey(pages, registry, options);
        const regions = surveyed.regions();
        const inside = findings.filter(({ occurrences }) => occurrences.some(({ page }) => page.component));
        const all = [...(round === 3 ? inside : findings), ...(round === 1 ? [] : regions.flatMap(made))];
        const first = turn % (all.length + 1);
        const chosen = apart([...all.slice(first), ...all.slice(0, first)]);
        // what an earlier round may have left to do by halves, the next one finds as more uses
        const some = round === 1 ? chosen.slice(0, 2) : chosen;
        if (some.length === 0) continue;
        const plan = planLift({ pages, components, findings: some, componentFolder: 'components', origins: originals });
        current = new Map([...current, ...plan.pages.map(({ path, after }) => [path, after] as const)]);
        const rewritten = new Map(plan.templates.map(({ path, after }) => [path, after]));
        components = components.map(({ path, source }) => ({ path, source: rewritten.get(path) ?? source }));
        components = [...components, ...plan.components];
        const after = readComponents(components);
        for (const [path, source] of current) {
          const expanded = expandPage(parsePage(path, source), after);
          const { same, first: difference } = comparePages(path, originals.get(path)!, expanded.text);
          expect([same, difference]).toEqual([expect.stringMatching(/^(bytes|markup)$/), null]);
          expect(expanded.problems).toEqual([]);
          for (const { start, end, component } of expanded.uses)
            expect(source.slice(start, end)).toMatch(
              new RegExp(`^<(${component}|template\\s+use="${component}")(\\s[^]*)?>[^]*</(${component}|template)>$`),
            );
          if (same === 'bytes') seen.bytes++;
        }
        seen.pages += plan.pages.length;
        seen.templates += plan.templates.length;
        if (round > 1) seen.second += plan.pages.length;
        for (const { uses } of plan.pages) seen.uses += uses;
        seen.regions += plan.components.filter(({ path }) =>
          regions.some(({ name }) => path.endsWith(`/${name}.html`)),
        ).length;
      }
    }),
    { numRuns },
  );
  console.log(
    `${numRuns} random sites: ${seen.pages} pages lifted (${seen.second} again) and ${seen.templates} templates, ${seen.regions} regions, ${seen.bytes} to the byte, ${seen.uses} uses`,
  );
  expect(seen.uses).toBeGreaterThan(numRuns / 2);
  expect(Math.min(seen.second, seen.templates, seen.regions)).toBeGreaterThan(0);
});
