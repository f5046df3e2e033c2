/** Arranging: wherever files go, pages and stylesheets come out the same, and arranging back gives every file back. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { FILE_CASES, fileNameOf, isNamedAfter, namingOf } from '../../../src/core/component/file-names.js';
import { arrange, type Arrangement, LAYOUTS } from '../../../src/core/library/arrange.js';
import { renameComponent } from '../../../src/core/library/rename.js';
import { expandPage } from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { boards, changed, component, expanded, type Files, lifted, siteOf } from './files.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(60);
const folders = { components: 'components', data: 'data' };
const plain: Arrangement = { layout: 'flat', fileCase: 'kebab', suffix: '', patterns: {} };

const arranged = (files: Files, how: Partial<Arrangement>): Files => {
  const site = siteOf(files);
  const partsOf = (page: (typeof site.pages)[number]) => expandPage(page, site.registry).components;
  return changed(files, arrange(site, { ...plain, ...how }, folders, partsOf));
};

const folder = fc
  .array(fc.constantFrom('a', 'own-part', 'Deep', 'x.y', 'note-frame'), { maxLength: 4 })
  .map((names) => names.join('/'));
const word = fc.stringMatching(/^[a-z][a-z0-9]{0,3}$/);
const name = fc.array(word, { minLength: 2, maxLength: 4 }).map((words) => words.join('-'));
const naming = {
  fileCase: fc.constantFrom(...FILE_CASES),
  suffix: fc.constantFrom('', '.part', '-x', '_', 'Component'),
};

test('any layout after any other: the same pages and stylesheets, renamed in between too, and all files back', () => {
  const seen = { moved: 0, data: 0, urls: 0, renamed: 0 };
  fc.assert(
    fc.property(
      fc.oneof(sites, boards),
      fc.array(fc.record({ layout: fc.constantFrom(...LAYOUTS), folder, ...naming }), { minLength: 1, maxLength: 3 }),
      fc.option(name),
      fc.constantFrom(0, 60, 10_000),
      (sources, ways, fresh, inline) => {
        const files = lifted(sources, inline);
        const before = expanded(files);
        let now = files;
        for (const { folder: to, ...how } of ways) {
          const moved = arranged(now, { ...how, patterns: { 'note-*': 'x', '*-*': to } });
          expect(expanded(moved)).toEqual(before);
          seen.moved += moved.components.filter(
            ({ path }) => !now.components.some((each) => each.path === path),
          ).length;
          // what is where it should be stays
          expect(arranged(moved, { ...how, patterns: { 'note-*': 'x', '*-*': to } })).toEqual(moved);
          now = moved;
        }
        const owner = siteOf(now).registry.get('note-frame')!;
        if (fresh !== null && !siteOf(now).registry.has(fresh)) {
          const renamed = changed(now, renameComponent(siteOf(now), owner, fresh, new Set()));
          expect(expanded(renamed)).toEqual(before);
          const file = renamed.components.find(({ source }) => source.includes(`component="${fresh}"`))!;
          expect(namingOf(file.path, fresh).suffix).toBe(namingOf(owner.path, owner.name).suffix);
          now = changed(
            renamed,
            renameComponent(siteOf(renamed), siteOf(renamed).registry.get(fresh)!, 'note-frame', new Set()),
          );
          seen.renamed++;
        }
        seen.data += files.data.size;
        seen.urls += files.components.filter(({ source }) => source.includes('"../')).length;
        expect(arranged(now, {})).toEqual(files);
      },
    ),
    { numRuns },
  );
  console.log(JSON.stringify(seen));
  if (numRuns >= 60) for (const count of Object.values(seen)) expect(count).toBeGreaterThan(0);
});

test('a file name in any case, with any suffix, is one of its component, and says how it is spelled', () => {
  fc.assert(
    fc.property(name, fc.record(naming), fc.constantFrom('', 'a/', 'a/b-c/'), (own, how, at) => {
      const path = at + fileNameOf(own, how);
      expect(isNamedAfter(path, own)).toBe(true);
      const read = namingOf(path, own);
      expect(at + fileNameOf(own, read)).toBe(path);
    }),
  );
  expect(isNamedAfter('components/boat-kard.html', 'boat-card')).toBe(false);
});

const use = (name: string) => `<${name}></${name}>`;
const areaSite = (): Files => ({
  pages: new Map([
    ['index.html', use('top-bar') + use('home-hero')],
    ['boats.html', use('top-bar') + use('boat-card')],
    ['boats/tern.html', use('top-bar') + use('boat-card') + use('boat-fact')],
    ['boats/eider.html', use('top-bar') + use('two-uses')],
    ['isles/Far & away/orlay.html', use('top-bar') + use('isle-map') + use('both-areas')],
    ['fares.html', use('fare-row') + use('both-areas')],
  ]),
  components: [
    component('top-bar', '', `<p>${use('bar-item')}</p>`),
    component('bar-item', '', `<p>${use('bar-icon')}</p>`),
    component('bar-icon', '', '<i></i>'),
    ...['home-hero', 'boat-card', 'boat-fact', 'isle-map', 'both-areas', 'fare-row', 'not-used'].map((each) =>
      component(each, '', '<p>x</p>'),
    ),
    component('two-uses', '', use('shared-part')),
    component('three-uses', '', use('shared-part')),
    component('shared-part', '', '<b></b>'),
  ],
  data: new Map(),
  sheets: new Map(),
});

test('areas are made of who uses what', () => {
  const paths = arranged(areaSite(), { layout: 'area' }).components.map(({ path }) => path.slice('components/'.length));
  expect(paths).toEqual([
    'shell/top-bar.html',
    'shell/top-bar/bar-item.html',
    'shell/top-bar/bar-item/bar-icon.html',
    'home/home-hero.html',
    'boats/boat-card.html',
    'boats/boat-fact.html',
    'isles/far-away/isle-map.html',
    'both-areas.html',
    'fares/fare-row.html',
    'not-used.html',
    'boats/two-uses.html',
    'three-uses.html',
    'boats/shared-part.html',
  ]);
  const own = arranged(areaSite(), { layout: 'own', fileCase: 'pascal', suffix: '.part' });
  expect(own.components[0]!.path).toBe('components/TopBar/TopBar.part.html');
  const moved = arranged(areaSite(), { layout: 'patterns', patterns: { 'bar-*': 'bar/all', '*-bar': 'bar' } });
  expect(moved.components.slice(0, 4).map(({ path }) => path)).toEqual([
    'components/bar/top-bar.html',
    'components/bar/all/bar-item.html',
    'components/bar/all/bar-icon.html',
    'components/home-hero.html',
  ]);
  // a folder that is called like a component is renamed with it
  const area = arranged(areaSite(), { layout: 'area' });
  const { registry } = siteOf(area);
  expect([...renameComponent(siteOf(area), registry.get('top-bar')!, 'page-bar', new Set()).moved]).toEqual([
    ['components/shell/top-bar.html', 'components/shell/page-bar.html'],
    ['components/shell/top-bar/bar-item.html', 'components/shell/page-bar/bar-item.html'],
    ['components/shell/top-bar/bar-item/bar-icon.html', 'components/shell/page-bar/bar-item/bar-icon.html'],
  ]);
});

test('what cannot stand elsewhere is refused with its place', () => {
  const files = {
    ...areaSite(),
    components: [component('out-side', '', '<a href="../../x.html">x</a>')],
    pages: new Map(),
  };
  expect(() => arranged(files, { layout: 'own' })).toThrow('"../../x.html" leads out of the project');
  const alike = { ...files, components: [component('a-bc', '', '<b></b>'), component('ab-c', '', '<b></b>')] };
  expect(() => arranged(alike, { fileCase: 'pascal' })).toThrow(
    'components/a-bc.html and components/ab-c.html would both be components/AbC.html',
  );
});
