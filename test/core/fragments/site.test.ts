/** The numbers of fragments, and what they are told by, against the slow way: writing every fragment out. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { findCandidates } from '../../../src/core/fragments/candidates.js';
import { Paths } from '../../../src/core/fragments/paths.js';
import { isSure } from '../../../src/core/fragments/profile.js';
import { readComponents, templatesOf } from '../../../src/index.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { classWords, type Element, lacksEndTag, RAW_TEXT } from '../../../src/core/page/tree.js';
import { siteOf } from '../../../src/core/survey/survey.js';
import { sites } from '../../arbitrary/pages.js';
import { cases } from '../../arbitrary/cases.js';

const siteFor = (sources: string[]) =>
  siteOf(
    sources.map((source, i) => parsePage(`p${i}.html`, source)),
    {},
  );

/** A fragment written out: start tags as they are, texts without the white space around them. */
function written(element: Element, source: string): string {
  const tag = element.start < 0 ? element.tag : source.slice(element.start, element.openEnd);
  const inner = element.children.map((child) => {
    if (child.kind === 'element') return written(child, source);
    if (child.kind === 'text')
      return RAW_TEXT.has(element.tag) ? `"${child.value}"` : child.value.trim() && `"${child.value.trim()}"`;
    return `!${child.kind === 'comment' ? child.value : ''}`;
  });
  return `<${tag}|${inner.filter((each) => each !== '').join('|')}>`;
}

/** The tags and names from the root of a fragment down to each of its elements. */
function pathsIn(i: number, { elements, name, size }: ReturnType<typeof siteFor>, outer = ''): string[] {
  const mine = `${outer}/${elements[i]!.tag}.${name[i]!}`;
  const found = [mine];
  for (let next = i + 1; next < i + size[i]!; next += size[next]!)
    found.push(...pathsIn(next, { elements, name, size } as never, mine));
  return found;
}

test('fragments of equal markup, and only these, have one number', () => {
  fc.assert(
    fc.property(sites, (sources) => {
      const site = siteFor(sources);
      const byText = new Map<string, number>();
      const byNumber = new Map<number, string>();
      site.elements.forEach((element, i) => {
        const text = written(element, site.profiles[site.page[i]!]!.page.source);
        expect(byText.get(text) ?? site.exact[i]).toBe(site.exact[i]);
        expect(byNumber.get(site.exact[i]!) ?? text).toBe(text);
        byText.set(text, site.exact[i]!);
        byNumber.set(site.exact[i]!, text);
      });
    }),
    { numRuns: cases(60) },
  );
});

test('fragments of one shape have the same paths, as many as are written out', () => {
  fc.assert(
    fc.property(sites, (sources) => {
      const site = siteFor(sources);
      const paths = new Paths(site);
      const byShape = new Map<number, string>();
      site.elements.forEach((_, i) => {
        const own = new Set(pathsIn(i, site));
        const key = [...own].sort().join(' ');
        expect(byShape.get(site.shape[i]!) ?? key).toBe(key);
        byShape.set(site.shape[i]!, key);
        if (own.size > 1 && key.split('/').length < 20) expect(paths.of(i).size).toBe(own.size);
        for (let at = site.parent[i]!; at >= 0; at = site.parent[at]!)
          expect(paths.of(at).has(paths.between(at, i)) || site.size[at]! > 20).toBe(true);
      });
    }),
    { numRuns: cases(60) },
  );
});

test('every candidate has several places of its own, none inside another, none that is left open', () => {
  fc.assert(
    fc.property(sites, (sources) => {
      const site = siteFor(sources);
      const sets = findCandidates(site, {
        minOccurrences: 2,
        minElements: 1,
        isSettled: () => false,
        covered: new Set(),
      });
      for (const { places, spans } of sets) {
        expect(places.length).toBeGreaterThan(1);
        expect(places).toEqual([...new Set(places)].sort((a, b) => a - b));
        if (spans !== null) continue;
        places.forEach((i, at) => {
          expect(lacksEndTag(site.elements[i]!)).toBe(false);
          if (at > 0) expect(i).toBeGreaterThanOrEqual(places[at - 1]! + site.size[places[at - 1]!]!);
        });
      }
      const keys = sets.filter(({ spans }) => spans === null).map(({ places }) => places.join());
      expect(new Set(keys).size).toBe(keys.length);
    }),
    { numRuns: cases(60) },
  );
});

/** Keys by which elements may be one part, as they are said: what each has in common with the others. */
const KEYS: Record<string, (i: number, site: ReturnType<typeof siteFor>) => string | null> = {
  'the same class words': (i, { elements }) => {
    const words = [...classWords(elements[i]!)].sort();
    return words.length === 0 ? null : `${elements[i]!.tag} ${words.join(' ')}`;
  },
  'the same structure': (i, { shape }) => String(shape[i]!),
  'the same around them': (i, { parent, label }) => (parent[i]! < 0 ? null : `${label[parent[i]!]!} ${label[i]!}`),
};

test.each(Object.entries(KEYS))('all that have %s are a candidate', (_, keyOf) => {
  let found = 0;
  fc.assert(
    fc.property(sites, (sources) => {
      const site = siteFor(sources);
      const { elements, page, first, size, profiles, prose } = site;
      const sets = findCandidates(site, {
        minOccurrences: 2,
        minElements: 1,
        isSettled: () => false,
        covered: new Set(),
      });
      const known = new Set(sets.filter(({ spans }) => spans === null).map(({ places }) => places.join()));
      const groups = new Map<string, number[]>();
      elements.forEach((element, i) => {
        const isPlain = /^(div|section|p|span|b|em|h3|button|label)$/.test(element.tag) && element.closeStart >= 0;
        const key = keyOf(i, site);
        if (key === null || !isPlain || prose[i] === 1) return;
        if (isSure(profiles[page[i]!]!, i - first[page[i]!]!)) groups.set(key, [...(groups.get(key) ?? []), i]);
      });
      for (const group of groups.values()) {
        const isNested = group.some((i, at) => at > 0 && i < group[at - 1]! + size[group[at - 1]!]!);
        // what is open, or cannot be lifted, may have pushed others out
        const all = elements.filter((_, i) => keyOf(i, site) === keyOf(group[0]!, site));
        if (group.length < 2 || isNested || all.length > group.length) continue;
        expect(known).toContain(group.join());
        found++;
      }
    }),
    { numRuns: cases(40) },
  );
  expect(found).toBeGreaterThan(cases(20) - 1);
});

test('what stands in code is no part, also where the code is the template of a component', () => {
  const component = (tag: string) =>
    `<template component="ferry-${tag}"><p><${tag}>--<slot></slot></${tag}></p></template>`;
  const registry = readComponents(
    ['code', 'cite'].map((tag) => ({ path: `components/ferry-${tag}.html`, source: component(tag) })),
  );
  const holders = [
    'code',
    'cite',
    'ferry-code',
    'ferry-cite',
    'template use="ferry-code"',
    'template use="ferry-cite"',
  ];
  const uses = holders.map((holder) => `<${holder}><b>quay <i>gull</i></b></${holder.split(' ')[0]!}>`);
  const page = parsePage('a.html', `<!DOCTYPE html><html><body><div>${uses.join('\n')}</div></body></html>`);
  const { elements, prose } = siteOf([page, ...templatesOf(registry)], {});
  const told = (name: string) => elements.flatMap(({ tag }, i) => (tag === name ? [prose[i]] : []));
  expect(told('b')).toEqual([1, 0, 1, 0, 1, 0]);
  expect(told('i')).toEqual(told('b'));
});
