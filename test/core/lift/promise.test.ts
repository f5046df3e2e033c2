/**
 * The promise, for all inputs: whatever is lifted expands to the same site. ESTRADE_CASES sets how many random sites
 * are tried (`npm run bench` tries 10,000).
 */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { comparePages, type Finding, type Page, parsePage, planLift, expandPage, survey } from '../../../src/index.js';
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

test('lifted and expanded, every page is the same', () => {
  let uses = 0;
  let bytes = 0;
  let pagesLifted = 0;
  fc.assert(
    fc.property(sites, fc.nat(), (sources, turn) => {
      const pages = sources.map((source, i) => parsePage(i === 1 ? 'sub/p1.html' : `p${i}.html`, source));
      const { findings } = survey(pages, new Map(), { thresholds, componentFolder: 'components' });
      const order = findings
        .slice(turn % (findings.length + 1))
        .concat(findings.slice(0, turn % (findings.length + 1)));
      const chosen = apart(order);
      if (chosen.length === 0) return;
      const plan = planLift({ pages, components: [], findings: chosen, componentFolder: 'components' });
      for (const { path, before, after, uses: count } of plan.pages) {
        const expanded = expandPage(parsePage(path, after), plan.registry);
        const { same, first } = comparePages(path, before, expanded.text);
        expect({ same, first }).toEqual({ same: expect.stringMatching(/bytes|markup/), first: null });
        expect(expanded.uses).toHaveLength(count);
        expect(expanded.problems).toEqual([]);
        for (const { start, end, component } of expanded.uses)
          expect(after.slice(start, end)).toMatch(
            new RegExp(`^<(${component}|template\\s+use="${component}")(\\s[^]*)?></`),
          );
        uses += count;
        pagesLifted++;
        if (same === 'bytes') bytes++;
      }
    }),
    { numRuns },
  );
  console.log(`${numRuns} random sites: ${pagesLifted} pages lifted, ${bytes} to the byte, ${uses} uses`);
  expect(uses).toBeGreaterThan(numRuns / 2);
});
