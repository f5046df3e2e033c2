/** Which components an expanded page is made of. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { expandPage } from '../../../src/core/component/expand.js';
import { instancesOn } from '../../../src/core/component/instances.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { readComponents } from '../../../src/index.js';
import { cases } from '../../arbitrary/cases.js';

const registry = readComponents([
  {
    path: 'c/quay-box.html',
    source: `<template component="quay-box">
  <meta prop="heading" type="text" default="Quay">
  <meta prop="wide" type="flag">
  <section class="box"><h2>{{heading}}</h2><slot></slot><boat-mark name="{{heading}}"></boat-mark></section>
</template>`,
  },
  {
    path: 'c/boat-mark.html',
    source: '<template component="boat-mark"><meta prop="name" type="text"><b>{{name}}</b><i>!</i></template>',
  },
  {
    path: 'c/boat-list.html',
    source: `<template component="boat-list"><meta prop="boats" type="list"><meta prop="boats.name" type="text">
<ul><template each="boat" of="boats"><li><boat-mark name="{{boat.name}}"></boat-mark></li></template></ul></template>`,
  },
]);

test('each has its use, what is around it, its outermost elements and what it was given in the end', () => {
  const source = `<p>x</p>
<quay-box heading="Mewport" wide>
  <boat-mark name="Tern"></boat-mark>
</quay-box>
<boat-list><script type="application/json" slot="boats">[{ "name": "Auk" }, { "name": "Skua" }]</script></boat-list>`;
  const page = parsePage('p.html', source);
  const expanded = expandPage(page, registry);
  const found = instancesOn(page, expanded, registry);
  const told = found.map(({ component, use, within, roots, props }) => [
    `${component} ${use.path}:${use.line}:${use.column}`,
    within,
    roots.map((start) => /^<\w+/.exec(expanded.text.slice(start))![0]),
    props.map(({ name, value }) => `${name}=${value}`).join(' '),
  ]);
  expect(told).toEqual([
    ['quay-box p.html:2:1', null, ['<section'], 'heading=Mewport wide=yes'],
    ['boat-mark p.html:3:3', 0, ['<b', '<i'], 'name=Tern'],
    ['boat-mark c/quay-box.html:4:57', 0, ['<b', '<i'], 'name=Mewport'],
    ['boat-list p.html:5:1', null, ['<ul'], 'boats=2 records'],
    ['boat-mark c/boat-list.html:2:42', 3, ['<b', '<i'], 'name=Auk'],
    ['boat-mark c/boat-list.html:2:42', 3, ['<b', '<i'], 'name=Skua'],
  ]);
  expect(found[0]!.props[0]).toEqual({ name: 'heading', type: 'text', value: 'Mewport', default: 'Quay' });
  expect(found[0]).toMatchObject({ file: { path: 'c/quay-box.html', line: 1, column: 1 }, slots: [{ name: '' }] });
});

test('however uses stand in each other, every root is an element of the page and lies in what is around it', () => {
  const { use } = fc.letrec<{ use: string; content: string }>((tie) => ({
    content: fc
      .array(fc.oneof({ maxDepth: 4 }, fc.constantFrom('text ', '<em>e</em>'), tie('use')), { maxLength: 3 })
      .map((all) => all.join('')),
    use: fc.oneof(
      { maxDepth: 4 },
      fc.constant('<boat-mark name="N"></boat-mark>'),
      tie('content').map((content) => `<quay-box>${content}</quay-box>`),
      fc
        .nat(3)
        .map(
          (n) =>
            `<boat-list><script type="application/json" slot="boats">${JSON.stringify(Array(n).fill({ name: 'B' }))}</script></boat-list>`,
        ),
    ),
  }));
  fc.assert(
    fc.property(fc.array(use, { maxLength: 4 }), (uses) => {
      const page = parsePage('p.html', `<main>${uses.join('<hr>')}</main>`);
      const expanded = expandPage(page, registry);
      const found = instancesOn(page, expanded, registry);
      expect(found.length).toBe(expanded.extents.length);
      found.forEach(({ component, within, roots }, i) => {
        const names = roots.map((start) => /^<(\w+)/.exec(expanded.text.slice(start))![1]);
        expect(names).toEqual({ 'quay-box': ['section'], 'boat-mark': ['b', 'i'], 'boat-list': ['ul'] }[component]);
        if (within === null) return;
        expect(within).toBeLessThan(i);
        const { start, end } = expanded.extents[within]!;
        for (const root of roots) expect(root >= start && root < end).toBe(true);
      });
    }),
    { numRuns: cases(100) },
  );
});
