/**
 * The promise, for all inputs: whatever is lifted expands to the same site. ESTRADE_CASES sets how many random sites
 * are tried (`npm run bench` tries 10,000).
 */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
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
} from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';

const numRuns = Number(process.env.ESTRADE_CASES ?? 300);
const thresholds = { minOccurrences: 2, minElements: 1, minSaving: -10_000, maxProps: 12 };

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

test('lifted and expanded, and lifted again, every page is the same', () => {
  const seen = { pages: 0, bytes: 0, uses: 0, second: 0 };
  fc.assert(
    fc.property(sites, fc.nat(), (sources, turn) => {
      const originals = new Map(sources.map((source, i) => [i === 1 ? 'sub/p1.html' : `p${i}.html`, source]));
      let current = new Map(originals);
      let components: ComponentSource[] = [];
      for (const round of [1, 2]) {
        const pages = [...current].map(([path, source]) => parsePage(path, source));
        const { findings } = survey(pages, readComponents(components), options);
        const first = turn % (findings.length + 1);
        const chosen = apart([...findings.slice(first), ...findings.slice(0, first)]);
        // what an earlier round may have left to do by halves, the next one finds as more uses
        const some = round === 1 ? chosen.slice(0, 2) : chosen;
        if (some.length === 0) return;
        const plan = planLift({ pages, components, findings: some, componentFolder: 'components', origins: originals });
        for (const { path, after, uses } of plan.pages) {
          const expanded = expandPage(parsePage(path, after), plan.registry);
          const { same, first: difference } = comparePages(path, originals.get(path)!, expanded.text);
          expect([same, difference]).toEqual([expect.stringMatching(/^(bytes|markup)$/), null]);
          expect(expanded.problems).toEqual([]);
          for (const { start, end, component } of expanded.uses)
            expect(after.slice(start, end)).toMatch(
              new RegExp(`^<(${component}|template\\s+use="${component}")(\\s[^]*)?>[^]*</(${component}|template)>$`),
            );
          seen.uses += uses;
          seen.pages++;
          if (same === 'bytes') seen.bytes++;
          if (round === 2) seen.second++;
        }
        current = new Map([...current, ...plan.pages.map(({ path, after }) => [path, after] as const)]);
        components = [...components, ...plan.components];
      }
    }),
    { numRuns },
  );
  console.log(
    `${numRuns} random sites: ${seen.pages} pages lifted (${seen.second} a second time), ${seen.bytes} to the byte, ${seen.uses} uses`,
  );
  expect(seen.uses).toBeGreaterThan(numRuns / 2);
  expect(seen.second).toBeGreaterThan(0);
});
