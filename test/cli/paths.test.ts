/** The built program on pages in folders of any depth: one component, whatever way each page writes its URLs. */
import { symlinkSync } from 'node:fs';
import { afterAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { Folder, removeFolders, site as boatSite, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

const filler = 'It hangs beside the clock in the office on the quay, and stays there all week.';
const boats = ['tern', 'eider', 'puffin', 'gull'];

/** A page with all kinds of URLs; `up` leads to the root. */
function page(up: string, i: number): string {
  const boat = boats[i % boats.length]!;
  return `<!DOCTYPE html>
<html lang="en">
<head>
<meta http-equiv="refresh" content="300; url='${up}index.html'">
<link rel="stylesheet" href="${up}css/site.css?v=2">
<title>Page ${i}</title>
</head>
<body>
<header class="top" style="color: navy; background: url('${up}img/sea.jpg'), url(https://ferry.example/sky.png)">
<a href="${up}index.html">Home</a> <a href="${up}boats/index.html#all">Boats</a> <a href="mailto:quay@ferry.example">Write</a> <a href="#top">Up</a>
<svg viewBox="0 0 9 9"><use href="${up}img/marks.svg#gull"></use></svg>
<img src="${up}img/a.png" srcset="${up}img/a.png 1x, ${up}img/b.png 2x" alt="">
<p>${filler}</p>
</header>
<div class="boat" style="background-image: url(${up}img/${boat}.jpg)" data-boat="${boat}"><p>${filler}</p><a href="${up}boats/${boat}.html">More</a></div>
<p>This is page ${i} of the site.</p>
</body>
</html>
`;
}

/** Pages in folders three deep. */
function site(count: number): Record<string, string> {
  const folders = ['', 'a/', 'a/b/', 'a/b/c/', 'd/', 'd/e/'];
  return Object.fromEntries(
    Array.from({ length: count }, (_, i) => {
      const folder = folders[i % folders.length]!;
      return [`${folder}p${i}.html`, page('../'.repeat(folder.split('/').length - 1), i)];
    }),
  );
}

interface Checked {
  pages: { same: string }[];
  problems: { kind: string; message: string; path: string }[];
}

test('200 pages in folders three deep: one header, and every page the same to the byte', () => {
  const folder = new Folder(site(200));
  const { findings } = folder.json(['survey']) as SurveyJson;
  const wanted = findings.filter(({ recommended }) => recommended);
  expect(wanted.map(({ name, occurrences }) => [name, occurrences.length])).toEqual(
    expect.arrayContaining([
      ['top-header', 200],
      ['boat-block', 200],
    ]),
  );
  expect(wanted.find(({ name }) => name === 'top-header')!.props).toEqual([]);
  // a picture's path is made from the name, wherever the page is
  expect(wanted.find(({ name }) => name === 'boat-block')!.props.map(({ name }) => name)).toEqual(['boat']);
  folder.run(['lift', '--recommended']);
  const { pages } = folder.json(['check']) as Checked;
  expect([pages.length, new Set(pages.map(({ same }) => same))]).toEqual([200, new Set(['bytes'])]);
  expect(folder.read('components/top-header.html')).toContain("url('../img/sea.jpg'), url(https://");
  expect(folder.read('components/boat-block.html')).toContain('url(../img/{{boat}}.jpg)');
}, 60_000);

/** A page whose menu leads everywhere by way of the root, with words beside the links that do not mark where one is. */
function climbing(path: string): string {
  const up = '../'.repeat(path.split('/').length - 1);
  const links = boats.map((boat) => {
    const to = `boats/${boat}.html`;
    return `    <li class="menu__item">\n      <a class="menu__link ${to === path ? 'menu__link--here bold' : ''}" href="${up}${to}">${boat}</a>\n    </li>`;
  });
  return `<!DOCTYPE html>\n<body>\n<nav class="menu">\n  <p>${filler}</p>\n  <ul>\n${links.join('\n')}\n  </ul>\n</nav>\n<p>All of ${path}.</p>\n</body>\n`;
}

test('one menu whose links climb to the root from every folder, also to what is beside the page', () => {
  const paths = ['index.html', ...boats.slice(1).map((boat) => `boats/${boat}.html`), 'boats/old/tern.html'];
  const folder = new Folder(Object.fromEntries(paths.map((path) => [path, climbing(path)])));
  const before = folder.files();
  expect(folder.run(['lift', '--recommended'])).toMatchObject({ status: 0, err: '' });
  expect(folder.read('components/menu-item.html')).toContain('href=".././boats/{{label}}.html"');
  expect(folder.read('boats/eider.html')).toContain('<page-menu here="eider"></page-menu>\n<p>All of');
  // the same on a page that comes later, and after the component has moved
  folder.write({ 'boats/later.html': climbing('boats/later.html') });
  expect(folder.run(['lift', '--recommended'])).toMatchObject({ status: 0, err: '' });
  expect(folder.read('boats/later.html')).toContain('<page-menu></page-menu>\n<p>All of');
  expect(folder.run(['arrange', 'own'])).toMatchObject({ status: 0, err: '' });
  expect(folder.run(['expand', '--out', 'dist'])).toMatchObject({ status: 0, err: '' });
  expect(folder.files('dist')).toMatchObject({ ...before, 'boats/later.html': climbing('boats/later.html') });
});

test('relative URLs that point at no file are told once each, and pass', () => {
  const folder = new Folder(site(4));
  folder.write({
    'index.html': page('', 4),
    'css/site.css': '',
    'boats/index.html': page('../', 5),
    'img/sea.jpg': '',
  });
  const { problems } = folder.json(['check']) as Checked;
  const missing = problems.filter(({ kind }) => kind === 'missing-file');
  const told = missing.map(({ message }) => message.replace(/^(\.\.\/)+/, '').split(' ')[0]);
  expect(told.sort()).toEqual(
    ['tern', 'eider', 'puffin', 'gull']
      .flatMap((boat) => [`boats/${boat}.html`, `img/${boat}.jpg`])
      .concat(['img/a.png', 'img/b.png', 'img/marks.svg#gull'])
      .sort(),
  );
  expect(missing.find(({ message }) => message.includes('marks'))!.message).toMatch(/and in 5 other places$/);
  expect(folder.run(['check']).status).toBe(0);
});

test('a page and a sheet that links lead to are lifted once, under their own names, and stand under both in the site', () => {
  const folder = new Folder({ ...boatSite(), 'site.css': '.boat { color: navy }\n.boat__name { margin: 0 }\n' });
  const before = folder.files();
  symlinkSync('index.html', join(folder.path, 'home.html'));
  symlinkSync('islands', join(folder.path, 'isles'));
  symlinkSync('site.css', join(folder.path, 'a.css'));
  const { pages } = folder.json(['survey']) as { pages: { path: string }[] };
  expect(pages.map(({ path }) => path)).toEqual(['index.html', 'islands/all.html']);
  expect(folder.run(['lift', '--recommended', '--styles', 'move'])).toMatchObject({ status: 0, err: '' });
  expect(folder.run(['check']).status).toBe(0);
  expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
  const built = folder.files('dist');
  for (const [name, own] of [
    ['home.html', 'index.html'],
    ['isles/all.html', 'islands/all.html'],
    ['a.css', 'site.css'],
  ])
    expect([built[name!], built[own!]]).toEqual([before[own!], before[own!]]);
  expect(folder.run(['undo']).status).toBe(0);
  expect(folder.files()).toMatchObject(before);
});
