/** What the survey recommends is accepted as it is, and comes to what the survey said, on random sites. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DEFAULT_THRESHOLDS, parsePage, planLift, readComponents, survey, templatesOf } from '../../../src/index.js';
import { lineCount } from '../../../src/core/page/parse.js';
import { elementsOf, lacksEndTag } from '../../../src/core/page/tree.js';
import { sites } from '../../arbitrary/pages.js';

const numRuns = Number(process.env.ESTRADE_CASES ?? 1000);

test('what is recommended is lifted without refusal, and its figures are those of the survey', () => {
  const seen = { sites: 0, findings: 0, nested: 0, exact: 0 };
  fc.assert(
    fc.property(sites, fc.constantFrom(0, 60, DEFAULT_THRESHOLDS.minWorth), (sources, minWorth) => {
      const options = { thresholds: { ...DEFAULT_THRESHOLDS, minWorth }, componentFolder: 'components' };
      const pages = sources.map((source, i) => parsePage(i === 1 ? 'sub/p1.html' : `p${i}.html`, source));
      const { findings, remarks } = survey(pages, new Map(), options);
      expect(new Set(findings.map(({ name }) => name)).size).toBe(findings.length);
      const plan = planLift({ pages, components: [], findings, componentFolder: 'components' });
      // where end tags are missing, a use may have to be written otherwise, or be left out
      const mends = remarks.some(({ kind }) => kind === 'not-liftable');
      if (findings.length === 0 || mends || pages.some(({ root }) => elementsOf(root).some(lacksEndTag))) return;
      for (const { why } of plan.leftOut) expect(why).not.toMatch(/stands in/);
      seen.sites++;
      seen.findings += findings.length;
      seen.nested += plan.registry.size > plan.uses.size ? 1 : 0;
      if (plan.leftOut.length > 0) return;
      seen.exact++;
      const sum = (texts: string[]) => texts.reduce((total, source) => total + lineCount({ source }), 0);
      const before = sum(plan.pages.map((page) => page.before));
      const after = sum([...plan.pages.map((page) => page.after), ...plan.components.map(({ source }) => source)]);
      expect(findings.reduce((total, { saved }) => total + saved.lines, 0)).toBe(before - after);
      // pages that are left take what is used in templates along
      const registry = readComponents(plan.components);
      expect(templatesOf(registry)).toHaveLength(findings.length);
    }),
    { numRuns },
  );
  console.log(`${numRuns} random sites: ${JSON.stringify(seen)}`);
  expect(seen.exact).toBeGreaterThan(seen.sites / 2);
});
