/** Who matches whom, against the matcher asked about every rule and every element. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { readComponents } from '../../../src/core/component/read.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { atOnce, nearTo, otherwise, wrapped } from '../../../src/core/style/belongs.js';
import { dress } from '../../../src/core/style/dress.js';
import { matches, PageMatcher } from '../../../src/core/style/match.js';
import { expandAll, filledReader } from '../../../src/core/style/plan.js';
import type { Unit } from '../../../src/core/style/sheet.js';
import { components, selector, tree } from './made.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(200);
const registry = readComponents(components);
const own = ['[title]', '[class~=a]', '[class^=a]', ':has(.b)', ':not([title])', ':first-of-type'];
const further = [
  ' [title]',
  '>[class^="a"]',
  ' [class$=b]',
  '~[id]',
  ' [ID=i]',
  ' [class="A" i]',
  ' :is([title],[id^=i])',
];
const attributes = fc.constantFrom('', '', '', '', '', '', ...own, ...further);
const rules = fc.array(fc.tuple(selector, attributes), { minLength: 12, maxLength: 24 });
const bodies = fc.array(fc.tuple(fc.constantFrom('<div>', '<div class="a" title=x>', '<section id=i class=d>'), tree), {
  minLength: 1,
  maxLength: 3,
});

/** Pages under a stylesheet of such selectors, each a rule of its own. */
function dressedWith(list: [string, string][], contents: [string, string][]) {
  const css = list
    .map(([one, more]) => `${more === '' || one.includes('::') ? one : one + more} { color: red }`)
    .join('\n');
  const pages = contents.map(([open, inner], i) =>
    parsePage(`p${i}.html`, `<!DOCTYPE html><link rel="stylesheet" href="site.css">${open}${inner}`),
  );
  return dress(expandAll(pages, registry), new PageMatcher(filledReader(new Map([['site.css', css]]), registry).read));
}

test('an element has exactly the rules that match it, on every page', () => {
  let found = 0;
  fc.assert(
    fc.property(rules, bodies, (list, contents) => {
      const { pages, sheets } = dressedWith(list, contents);
      const all = sheets.flatMap((sheet) => sheet.rules.flatMap((rule) => rule.selectors));
      for (const { elements, matched } of pages)
        for (const element of elements) {
          const mine = matched.get(element)!.map((each) => each.selector);
          expect(mine).toEqual(all.filter((each) => matches(each, element)));
          found += mine.length;
        }
    }),
    { numRuns },
  );
  expect(found).toBeGreaterThan(0);
});

test('what an element around components changes is found as far down as rules look', () => {
  let found = 0;
  fc.assert(
    fc.property(rules, bodies, fc.constantFrom('x-card', 'x-item'), (list, contents, name) => {
      for (const on of dressedWith(list, contents).pages) {
        const places = on.instances.get(name) ?? [];
        if (places.length === 0) continue;
        const changed = (elements: ReturnType<typeof nearTo>) => {
          const units = new Set<Unit>();
          wrapped(places, 'x-around', null, () => otherwise(elements, on, units));
          return units;
        };
        const near = changed(nearTo(on, places));
        expect(near).toEqual(changed(atOnce(on.elements)));
        found += near.size;
      }
    }),
    { numRuns },
  );
  expect(found).toBeGreaterThan(0);
});

test('only rules that ask for tags match otherwise when an element has another one', () => {
  let found = 0;
  fc.assert(
    fc.property(rules, bodies, fc.nat(), (list, contents, number) => {
      for (const on of dressedWith(list, contents).pages) {
        const element = on.elements[number % on.elements.length]!;
        const { tag } = element;
        const all = on.elements.flatMap((each) => on.matched.get(each)!.map(({ selector }) => ({ each, selector })));
        element.tag = 'x-other';
        const other = all.filter(({ each, selector }) => !matches(selector, each));
        element.tag = tag;
        expect(other.filter(({ selector }) => !selector.byTag)).toEqual([]);
        found += other.length;
      }
    }),
    { numRuns },
  );
  expect(found).toBeGreaterThan(0);
});
