/**
 * Moving styles: for any stylesheet over any pages, every winner is the same afterwards, by a second cascade, also when a
 * script adds and removes classes.
 */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { readComponents } from '../../../src/core/component/read.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { classWords, type Element, elementsOf } from '../../../src/core/page/tree.js';
import { fillMarkers } from '../../../src/core/style/fill.js';
import { planBack } from '../../../src/core/style/back.js';
import { expandAll, filledReader, planStyles } from '../../../src/core/style/plan.js';
import { classes, components, sheet, tree } from './made.js';
import { winners } from './oracle.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(300);

const conditions = ['(m1)', '(m2)', '(s1)'];
const states = Array.from({ length: 16 }, (_, bits) => ({
  media: conditions.filter((__, i) => (bits >> i) & 1),
  hover: bits >= 8,
}));

/** What a script does: a class of an element, by number, comes or goes. */
const toggles = fc.array(fc.record({ element: fc.nat(30), word: fc.constantFrom(...new Set(classes), 'off', 'on') }), {
  minLength: 1,
  maxLength: 6,
});

function toggle(elements: Element[], changes: { element: number; word: string }[]): void {
  for (const { element: number, word } of changes) {
    const element = elements[number % elements.length]!;
    const words = classWords(element);
    const attrs = element.attrs.filter(({ name }) => name !== 'class');
    const value = (words.includes(word) ? words.filter((each) => each !== word) : [...words, word]).join(' ');
    element.attrs = [...attrs, { name: 'class', value, start: 0, end: 0 }];
  }
}

const site = fc.array(tree, { minLength: 1, maxLength: 2 });
/** What is written at the end of the sheet after the move, and whether styles go back last first. */
const edit = fc.tuple(fc.constantFrom('', '', '\n.later { top: 0 }\n'), fc.boolean());

test('after a move every winner of every element is the same, in every state', () => {
  let moved = 0;
  let stayed = 0;
  let exact = 0;
  fc.assert(
    fc.property(site, sheet, toggles, edit, (bodies, css, script, [more, isReversed]) => {
      const registry = readComponents(components);
      const head = '<!DOCTYPE html><html><head><link rel="stylesheet" href="site.css"></head>';
      const pages = expandAll(
        bodies.map((body, i) => parsePage(`p${i}.html`, `${head}<body>${body}</body></html>`)),
        registry,
      );
      const sources = new Map([['site.css', css]]);
      const plan = planStyles({
        pages,
        sources,
        before: filledReader(sources, registry),
        components,
        around: {},
        names: ['x-card', 'x-item'],
        cuts: [],
        fixed: new Map(),
      });
      const written = new Map(components.map((each) => [each.path, each]));
      for (const each of plan.components) written.set(each.path, each);
      const after = readComponents([...written.values()]);
      const [changed] = plan.sheets;
      const { text, problems } = fillMarkers('site.css', changed?.after ?? css, after);
      expect(problems).toEqual([]);
      for (const { page } of pages) {
        const elements = elementsOf(page.root);
        expect(winners(text, elements, states)).toEqual(winners(css, elements, states));
        toggle(elements, script);
        expect(winners(text, elements, states)).toEqual(winners(css, elements, states));
      }
      for (const units of plan.moved.values()) moved += units.length;
      stayed += plan.staying.length;
      // back again, one by one, every byte is where it was, whatever was written at the end meanwhile; where that would
      // reorder rules while others are still moved, the styles go to the marker
      let now = `${changed?.after ?? css}${more}`;
      let isExact = true;
      for (const name of [...plan.moved.keys()].sort(() => (isReversed ? -1 : 1))) {
        const back = planBack(name, after, new Map([['site.css', now]]), plan.cuts);
        now = back.sheets[0]!.after;
        isExact &&= back.sheets[0]!.exact;
        expect(back.components[0]!.source).toBe(components.find(({ path }) => path.includes(name))!.source);
        const { text: filled } = fillMarkers('site.css', now, after);
        for (const { page } of pages)
          expect(winners(filled, elementsOf(page.root), states)).toEqual(
            winners(`${css}${more}`, elementsOf(page.root), states),
          );
      }
      if (more === '' && plan.moved.size < 2) expect(isExact).toBe(true);
      if (more === '' && isExact) expect(now).toBe(css);
      if (now === `${css}${more}`) exact++;
    }),
    { numRuns },
  );
  console.log(
    `${numRuns} random stylesheets: ${moved} rules moved, ${stayed} stayed, ${exact} sheets back to the byte`,
  );
  expect(moved).toBeGreaterThan(numRuns);
  expect(stayed).toBeGreaterThan(numRuns / 20);
  expect(exact).toBeGreaterThan(numRuns * 0.8);
});
