/** The built program on one page: its regions as a tree, before and after they are lifted. */
import { afterAll, expect, test } from '@jest/globals';
import { Folder, page, removeFolders, type SurveyJson } from './estrade.js';

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
    ['footer.foot shared'],
  ]);
  const [main] = outlined(folder, 'index.html');
  const section = outlined(folder, 'index.html', '--min-lines', '1')[0]!.regions[0]!;
  expect(section.name).toBe('tides-section');
  expect(folder.run(['lift', section.name, '--min-lines', '1']).status).toBe(0);
  expect(folder.run(['lift', main!.name]).status).toBe(0);
  const { pages } = folder.json(['check']) as { pages: { same: string }[] };
  expect(pages.map(({ same }) => same)).toEqual(['bytes']);
  for (let i = 0; i < 3; i++) expect(folder.run(['undo']).status).toBe(0);
  expect(folder.files()).toEqual(site);
});

test('regions are findings: listed on demand, sized by options, shown and lifted by name, but for what others hold', () => {
  const pages = {
    ...site,
    'long.html': page(`<div class="col">\n${`<p>${filler}</p>\n`.repeat(12)}</div>\n${footer}`),
  };
  const folder = new Folder(pages);
  const named = (...options: string[]) =>
    (folder.json(['survey', '--regions', ...options]) as SurveyJson).findings
      .filter(({ kind }) => kind === 'region')
      .map(({ name, recommended, occurrences: [first] }) => [name, recommended, `${first!.page}:${first!.line}`]);
  const line = (path: keyof typeof pages, text: string) =>
    pages[path].slice(0, pages[path].indexOf(text)).split('\n').length;
  const at = (text: string) => `index.html:${line('index.html', text)}`;
  expect(named()).toEqual([
    ['form-main', false, at('<main')],
    ['tides-section', false, at('<section')],
    ['field-form', false, at('<form')],
  ]);
  expect(named('--min-lines', '20').map(([, , where]) => where)).toEqual([at('<main'), at('<form')]);
  // a part without a name, long and one of several
  expect(named('--large-lines', '10').map(([, , where]) => where)).toContain(`long.html:${line('long.html', '<div')}`);
  const shown = folder.json(['show', 'tides-section']) as { kind: string; file: string };
  expect([shown.kind, shown.file]).toEqual(['region', expect.stringContaining('aria-label="Tides"')]);
  const run = folder.run(['lift', 'tides-section', '--recommended']);
  expect([run.status, run.err]).toEqual([0, '']);
  expect(folder.read('components/tides-section.html').match(/<tide-card /g)).toHaveLength(3);
  expect(folder.run(['check']).status).toBe(0);
  expect(outlined(folder, 'components/foot-footer.html', '--min-lines', '1')).toEqual([]);
  expect(tree(outlined(folder, 'components/tides-section.html'))).toEqual([['3 tide-card component']]);
});

test('a page that is not there is an error', () => {
  const run = new Folder(site).run(['outline', 'two.html']);
  expect([run.status, run.err]).toEqual([2, expect.stringContaining('did you mean quay/two.html?')]);
});
