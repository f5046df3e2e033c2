/** What a selector matches as one component, for tests of what is made of a group of places. */
import { readComponents } from '../../src/core/component/read.js';
import { selected } from '../../src/core/survey/point.js';
import { pointedFinding } from '../../src/core/survey/pointed.js';
import { generalisingOf, siteOf } from '../../src/core/survey/survey.js';
import type { ComponentSource, Finding, Page } from '../../src/index.js';

const wishes = { name: null, props: new Map<string, string>(), slots: [], fixed: [] };

/** What generalises the places of these pages. */
export function generalisingFor(pages: Page[], components: ComponentSource[] = [], maxProps = 12) {
  const { vocabulary } = siteOf(pages, {});
  return generalisingOf(vocabulary, readComponents(components), { componentFolder: 'components', maxProps });
}

/** The finding of all that `selector` matches. @throws Problem where that makes no one component */
export function componentOf(selector: string, pages: Page[], taken: string[] = []): Finding {
  return pointedFinding(selected(pages, selector), wishes, generalisingFor(pages), new Set(taken)).finding;
}
