/** The built program on one page: its regions as a tree, before and after they are lifted. */
import { afterAll, expect, test } from '@jest/globals';
import { Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const filler = 'It hangs beside the clock in the office on the quay, and stays there all week.';
const card = (name: string) =>
  `<article class="tide">\n<h3>${name}</h3>\n<p>${filler}</p>\n<p class="tide__end">${filler}</p>\n</article>`;
const footer = `<footer class="foot">\n${`<p>${filler}</p>\n`.repeat(4)}</footer>`;
const site = {
  'index.html': page(`<main id="main">
<div class="row">
<section class="tides" aria-label="Tides">
${[card('North'), card('South'), card('East')].join('\n')}
</section>
</div>
<form action="/ask">
<input name="q">
</form>
</main>
${footer}`),
  'quay/two.html': page(`<div class="col">\n<p>Two</p>\n</div>\n${footer}`),
};

interface Region {
  element: string;
  kind: string;
  name: string;
  count: number;
  from: number;
  to: number;
  places: number;
  pages: number;
  regions: Region[];
}

const tree = (regions: Region[]): unknown[] =>
  regions.map(({ element, kind, count, regions: inner }) => [
    `${count > 1 ? `${count} ` : ''}${element} ${kind}`,
    ...tree(inner),
  ]);
const outlined = (folder: Folder, path: string, ...options: string[]) =>
  (folder.json(['outline', path, ...options]) as { regions: Region[] }).regions;

test('landmarks, named blocks and findings, each under what holds it; what only lays out is passed through', () => {
  const folder = new Folder(site);
  const regions = outlined(folder, 'index.html');
  expect(tree(regions)).toEqual([
    ['main#main region', ['section.tides region', ['3 article.tide series']], ['form region']],
    ['footer.foot shared'],
  ]);
  const [main, foot] = regions;
  const lines = site['index.html'].split('\n');
  expect([lines[main!.from - 1], lines[main!.to - 1]]).toEqual(['<main id="main">', '</main>']);
  expect(foot).toMatchObject({ places: 2, pages: 2 });
  expect(tree(outlined(folder, 'index.html', '--depth', '1'))).toEqual([['main#main region'], ['footer.foot shared']]);
  expect(folder.run(['outline', 'index.html']).out).toMatch(
    /^ {4}3 × article\.tide +\d+-\d+ +tide-card +series, 3 places$/m,
  );
  expect(folder.files()).toEqual(site);
});

test('after lifting, the components stand in the tree, and what is left can be pointed at by line and name', () => {
  const folder = new Folder(site);
  folder.run(['lift', '--recommended']);
  expect(tree(outlined(folder, 'index.html', '--min-lines', '1'))).toEqual([
    ['main#main region', ['section.tides region', ['3 tide-card component']], ['form region']],
    ['foot-footer component'],
  ]);
  const [main] = outlined(folder, 'index.html');
  const section = outlined(folder, 'index.html', '--min-lines', '1')[0]!.regions[0]!;
  expect(folder.run(['lift', '--at', `index.html:${section.from}`, '--name', section.name]).status).toBe(0);
  expect(folder.run(['lift', '--at', `index.html:${main!.from}`, '--name', 'page-main']).status).toBe(0);
  const { pages } = folder.json(['check']) as { pages: { same: string }[] };
  expect(pages.map(({ same }) => same)).toEqual(['bytes', 'bytes']);
  for (let i = 0; i < 3; i++) expect(folder.run(['undo']).status).toBe(0);
  expect(folder.files()).toEqual(site);
});

test('a page that is not there is an error', () => {
  const run = new Folder(site).run(['outline', 'two.html']);
  expect([run.status, run.err]).toEqual([2, expect.stringContaining('did you mean quay/two.html?')]);
});
