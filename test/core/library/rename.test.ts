/** Renaming: whatever is renamed to whatever, pages come out the same, and renaming back gives every file back. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { mentionsOf } from '../../../src/core/library/mentions.js';
import { renameComponent, renameProp, renameSlot } from '../../../src/core/library/rename.js';
import { sites } from '../../arbitrary/pages.js';
import { boards, changed, component, expanded, type Files, lifted, siteOf } from './files.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(60);
const word = fc.stringMatching(/^[a-z][a-z0-9]{0,6}$/);
const name = fc.array(word, { minLength: 1, maxLength: 3 }).map((words) => `zz${words.join('-')}`);

test('any component, prop, field or slot, to any name: the same pages, and all files back', () => {
  const seen = { component: 0, prop: 0, field: 0, slot: 0, data: 0 };
  fc.assert(
    fc.property(
      fc.oneof(sites, boards),
      fc.nat(),
      name,
      fc.constantFrom(0, 60, 10_000),
      (sources, turn, to, inline) => {
        const files = lifted(sources, inline);
        const before = expanded(files);
        const { registry } = siteOf(files);
        const ways = [...registry.values()].flatMap((component) => [
          { component, kind: 'component' as const, from: component.name },
          ...component.props.map((prop) => ({ component, kind: 'prop' as const, from: prop.name })),
          ...[...component.slots].filter(Boolean).map((slot) => ({ component, kind: 'slot' as const, from: slot })),
        ]);
        if (ways.length === 0) return;
        const { component, kind, from } = ways[turn % ways.length]!;
        const change = (some: Files, old: string, fresh: string, of: string) => {
          const site = siteOf(some);
          const owner = site.registry.get(of)!;
          if (kind === 'component') return changed(some, renameComponent(site, owner, fresh, new Set()));
          return changed(some, (kind === 'prop' ? renameProp : renameSlot)(site, owner, old, fresh));
        };
        const isField = kind === 'prop' && from.includes('.');
        const fresh = kind === 'component' ? `${to}-block` : to;
        const after = change(files, from, fresh, component.name);
        expect(expanded(after)).toEqual(before);
        expect(after.sheets.get('site.css')).toContain(`@component ${kind === 'component' ? fresh : component.name};`);
        const now = isField ? from.replace(/[^.]*$/, fresh) : fresh;
        const back = change(after, now, from.replace(/^.*\./, ''), kind === 'component' ? fresh : component.name);
        expect(back).toEqual(files);
        seen[isField ? 'field' : kind]++;
        seen.data += files.data.size;
      },
    ),
    { numRuns },
  );
  console.log(JSON.stringify(seen));
  if (numRuns >= 60) for (const count of Object.values(seen)) expect(count).toBeGreaterThan(0);
});

test('a name in expressions is the prop only where no record hides it', () => {
  const file = component(
    'stop-list',
    '<meta prop="stop" type="text">\n<meta prop="stops" type="list">\n<meta prop="stops.stop" type="text">',
    `<p title='{{stop === "stop" ? stop : "{{stop}}"}}' data-a="{{ stop ?? &quot;stop&quot; }}">{{stop}}</p>
<template when="stop !== 'stop'"><b>{{stop}}</b></template>
<template each="stop" of="stops"><i>{{stop.stop}}</i></template>`,
  );
  const site = siteOf({ pages: new Map(), components: [file], data: new Map(), sheets: new Map() });
  const owner = site.registry.get('stop-list')!;
  const prop = renameProp(site, owner, 'stop', 'quay-name').texts.get(file.path)!;
  expect(prop.match(/quay-?Name/gi)).toHaveLength(7);
  expect(prop).toContain(
    `title='{{quayName === "stop" ? quayName : "{{stop}}"}}' data-a="{{ quayName ?? &quot;stop&quot; }}"`,
  );
  expect(prop).toContain('<template each="stop" of="stops"><i>{{stop.stop}}</i>');
  expect(renameProp(site, owner, 'stops.stop', 'quay').texts.get(file.path)).toContain('<i>{{stop.quay}}</i>');
  expect(renameProp(site, owner, 'stops', 'calls').texts.get(file.path)).toContain('of="calls"');
  expect(renameProp(site, owner, 'stops', 'calls').texts.get(file.path)).toContain('prop="calls.stop"');
});

test.each([
  ['prop', 'heading', 'title', '"title" cannot be the name of a prop'],
  ['prop', 'heading', 'Big', '"Big" cannot be the name of a prop'],
  ['prop', 'headin', 'name', 'boat-card has no prop headin'],
  ['prop', 'heading', 'sub-line', 'boat-card has a prop subline already'],
  ['slot', '', 'foot', 'the default slot has no name to change'],
  ['slot', 'foot', 'head', 'boat-card has a slot head already'],
  ['slot', 'foot', 'rows', 'boat-card has a list rows already'],
  ['component', 'boat-card', 'boat', '"boat" cannot be the name of a component'],
  ['component', 'boat-card', 'font-face', '"font-face" cannot be the name of a component'],
  ['component', 'boat-card', 'tag-here', '"tag-here" is the name of another component, or of a tag in the pages'],
] as const)('%s %s cannot be called %s', (kind, from, to, message) => {
  const file = component(
    'boat-card',
    '<meta prop="heading" type="text">\n<meta prop="subline" type="text">\n<meta prop="rows" type="list">',
    '<p>{{heading}} {{subline}}<slot></slot><slot name="head"></slot><slot name="foot"></slot></p>',
  );
  const site = siteOf({ pages: new Map(), components: [file], data: new Map(), sheets: new Map() });
  const owner = site.registry.get('boat-card')!;
  const rename = () =>
    kind === 'component'
      ? renameComponent(site, owner, to, new Set(['tag-here']))
      : (kind === 'prop' ? renameProp : renameSlot)(site, owner, from, to);
  expect(rename).toThrow(message);
});

test('scripts and stylesheets that name the tag are told, those that name a class or a longer word are not', () => {
  const site = siteOf({
    pages: new Map([['a.html', `<script>document.querySelector('boat-card > b')</script><p class="boat-card"></p>`]]),
    components: [],
    data: new Map(),
    sheets: new Map(),
  });
  const texts = new Map([
    ['site.css', '.boat-card, #boat-card, .x-boat-card, boat-card-wide { }\n@component boat-card;\nmain boat-card { }'],
    ['menu.js', `'./boat-card.js'; x.boat-card;\ncreateElement('boat-card')`],
  ]);
  expect(mentionsOf('boat-card', site, texts).map(({ path, line, column }) => `${path}:${line}:${column}`)).toEqual([
    'a.html:1:33',
    'site.css:3:6',
    'menu.js:2:16',
  ]);
});
