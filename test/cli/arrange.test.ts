/** Folders for component files through the built program: drawn, moved, proven, followed by what is emitted, undone. */
import { afterAll, expect, test } from '@jest/globals';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { demo, Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const pathsOf = (folder: Folder, below: string) => Object.keys(folder.files(below));

test('the demo in every layout: nothing of the site changes, data goes along, and undo gives all back', () => {
  const folder = demo();
  folder.write({
    'estrade.config.json': JSON.stringify({
      inlineList: 100,
      arrange: { layout: 'patterns', fileCase: 'camel', suffix: '.part', patterns: { '*-row': 'tables/rows' } },
    }),
    'js/own.js': "const row = fetch('components/departure-row.html')",
  });
  expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
  const states = [folder.files()];
  const drawn = folder.run(['arrange', 'area', '--file-case', 'kebab', '--suffix', '', '--dry-run']);
  expect([drawn.status, drawn.err]).toEqual([0, '']);
  expect(drawn.out).toMatch(/^before +after\ncomponents\/ +components\/\n {2}badge-boat-card\.html +boats\/\n/);
  expect(drawn.out).toMatch(/data\/\n +sailings\/\n +sailings-departures-2\.json/);
  expect(drawn.out).toContain('js/own.js:1:20 names components/departure-row.html, and is not changed');
  expect(folder.files()).toEqual(states[0]);
  for (const args of [
    ['area', '--file-case', 'kebab', '--suffix', ''],
    ['own', '--file-case', 'pascal'],
    [],
    ['flat'],
  ]) {
    const { status, out } = folder.run(['arrange', ...args]);
    expect([status, out]).toEqual([0, expect.stringContaining('all 15 pages expand to exactly what they did before')]);
    expect(folder.json(['check'])).toMatchObject({ passed: true, stylesheets: [{ same: 'cascade' }] });
    states.push(folder.files());
  }
  expect(Object.keys(states[1]!)).toEqual(
    expect.arrayContaining([
      'components/shell/site-header/nav-item.html',
      'components/sailings/timetable-table/departure-row.html',
      'data/sailings/sailings-departures.json',
    ]),
  );
  expect(states[1]!['sailings.html']).toContain('src="data/sailings/sailings-departures.json"');
  expect(Object.keys(states[2]!)).toContain('components/BoatCard/BoatCard.part.html');
  expect(Object.keys(states[3]!)).toContain('components/tables/rows/departureRow.part.html');
  expect(folder.run(['arrange', 'flat']).out).toMatch(/^All files are where "flat" has them: 27 files\.\n$/);
  for (const state of states.slice(0, -1).reverse()) {
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()).toEqual(state);
  }
  expect(existsSync(join(folder.path, 'components/tables'))).toBe(false);
});

test('a rename follows in folders; what is emitted again follows, and stale modules go', () => {
  const folder = demo();
  folder.write({
    'estrade.config.json': '{ "pages": ["{notices,sailings}.html"], "emit": { "layout": "folders" } }',
  });
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  expect(folder.run(['emit', 'tsx']).status).toBe(0);
  expect(pathsOf(folder, 'emitted/tsx')).toContain('components/SiteHeader/SiteHeader.tsx');
  expect(folder.run(['arrange', 'area']).status).toBe(0);
  expect(folder.run(['rename', 'site-header', 'top-bar']).out).toContain('in components/shell/top-bar.html');
  expect(pathsOf(folder, 'components')).toContain('shell/top-bar/nav-item.html');
  expect(folder.run(['emit', 'tsx', '--verify']).out).toMatch(
    /16 old ones removed[^]*no error[^]*2 pages the same\.\n/,
  );
  const modules = pathsOf(folder, 'emitted/tsx');
  expect(modules).toContain('components/shell/top-bar/NavItem/NavItem.tsx');
  expect(modules).not.toContain('components/SiteHeader/SiteHeader.tsx');
  expect(folder.run(['arrange', 'own']).status).toBe(0);
  expect(folder.run(['emit', 'tsx']).status).toBe(0);
  expect(pathsOf(folder, 'emitted/tsx')).toContain('components/nav-item/NavItem.tsx');
});

const part = '<template component="boat-card">\n<p><a href="../../x.html">x</a></p>\n</template>\n';
const plain = part.replace('../../', '../');

test.each([
  [['arrange'], {}, 2, /how should the components be arranged\?\n {2}name one of flat, own, area, patterns, or set/],
  [['arrange', 'folders'], {}, 2, /"folders" is no layout\n {2}choose one of flat/],
  [['arrange', 'patterns'], {}, 2, /there are no patterns to arrange by/],
  [['arrange', 'flat', '--suffix', 'a/b'], {}, 2, /"a\/b" cannot be a suffix/],
  [['arrange', 'flat', '--file-case', 'loud'], {}, 2, /Allowed choices are kebab, pascal, camel/],
  [
    ['arrange', 'own'],
    { 'components/boat-card.html': part },
    1,
    /boat-card\.html:2:13: "\.\.\/\.\.\/x\.html" leads out of/,
  ],
  [['arrange', 'own'], { 'components/boat-card/boat-card.html': '<p>mine</p>' }, 1, /boat-card\.html is there already/],
  [['arrange', 'flat'], { 'components/boat-card.html': '<p>none</p>' }, 2, /there is no component to arrange/],
  [
    ['arrange'],
    { 'estrade.config.json': '{\n  "arrange": { "patterns": { "a-*": "../x" } }\n}' },
    2,
    /estrade\.config\.json:2:37: "arrange\.patterns\.a-\*" must name a folder inside the project/,
  ],
  [
    ['arrange'],
    { 'estrade.config.json': '{ "arrange": { "layouts": "own" } }' },
    2,
    /keys here are layout, suffix, fileCase/,
  ],
] as const)('%j with %j ends with %i, and nothing is written', (args, files, status, message) => {
  const all = { 'index.html': page('<boat-card></boat-card>'), 'components/boat-card.html': plain, ...files };
  const folder = new Folder(all);
  expect(folder.run([...args])).toMatchObject({ status, err: expect.stringMatching(message) });
  expect(folder.files()).toEqual(all);
});
