/** Checks pages that are open in a browser for what keeps people from reading or using them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import type { Page } from 'playwright-core';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What is found in all of a page, one a place; what stands in frames is left out. */
export async function accessibilityFindings(shown: Page): Promise<string[]> {
  await shown.evaluate(`document.querySelectorAll('details').forEach((each) => (each.open = true))`);
  await shown.evaluate(AXE);
  const { violations } = await shown.evaluate<AxeResults>('axe.run({ resultTypes: ["violations"], iframes: false })');
  return violations.flatMap(({ id, nodes }) =>
    nodes.map(({ html, failureSummary }) => `${id}: ${html} ${failureSummary}`),
  );
}
