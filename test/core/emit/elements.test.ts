/** Custom elements in a real browser, for all inputs: once they are drawn, the page is the page. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { setTimeout } from 'node:timers/promises';
import type { Browser, Page } from 'playwright-core';
import { elements } from '../../../src/core/emit/elements/index.js';
import { elementsFolder, loadedBy } from '../../../src/core/emit/elements/loaded.js';
import { standings } from '../../../src/core/emit/elements/standing.js';
import { differenceOfDrawn, type Drawn } from '../../../src/core/emit/elements/without.js';
import { textsOf } from '../../../src/core/emit/files.js';
import type { EmitPage, EmitSite } from '../../../src/core/emit/model.js';
import { readComponents } from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { readyForStaying } from '../../../src/verify/staying.js';
import { launch } from '../../browser/drawn.js';
import { hostileSite, liftedSite, siteOf } from './site-of.js';
import { cases } from '../../arbitrary/cases.js';

// each opens a browser
const numRuns = cases(24);
let browser: Browser;
beforeAll(async () => {
  browser = await launch();
});
afterAll(() => browser.close());

/** Serves the emitted files of a site, and its expanded pages below `before/`. */
async function served(
  site: EmitSite,
  options: { prerender?: boolean },
  scripts = true,
): Promise<{ page: Page; errors: string[] }> {
  const { files } = await elements(site, options);
  const texts = await textsOf(files, (_, text) => Promise.resolve(text));
  for (const { path, expanded } of site.pages) texts.set(`before/${path}`, expanded);
  const context = await browser.newContext({ javaScriptEnabled: scripts });
  const page = await context.newPage();
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  await page.route('**/*', (route) => {
    const text = texts.get(new URL(route.request().url()).pathname.slice(1));
    const type = /\.(html|css|js)$/.exec(route.request().url())?.[1] ?? 'html';
    if (text === undefined) return route.abort();
    return route.fulfill({ body: text, contentType: `text/${type === 'js' ? 'javascript' : type}; charset=utf-8` });
  });
  return { page, errors };
}

/** What a page of a site is made of. */
function drawn(site: EmitSite, page: EmitPage): Drawn {
  const { standing } = standings(site);
  return { components: site.components, standing, loaded: loadedBy(page, elementsFolder(site)) };
}

/** What differs on any page, opened as it was emitted. */
async function differences(site: EmitSite, options: { prerender?: boolean }, scripts = true): Promise<string[]> {
  const { page, errors } = await served(site, options, scripts);
  const found: string[] = [];
  const read = async (path: string) => {
    await page.goto(`http://site.test/${path}`, { waitUntil: 'load' });
    return page.content();
  };
  for (const emitted of site.pages) {
    const { path } = emitted;
    const before = await read(`before/${path}`);
    // the scripts of random pages fail by themselves
    const own = errors.splice(0);
    const what = differenceOfDrawn(before, await read(path), drawn(site, emitted));
    if (what !== null) found.push(`${path}: ${what}`);
    found.push(...errors.splice(0).filter((message) => !own.includes(message)));
  }
  await page.context().close();
  return found;
}

test('random sites, lifted and handed over: plain, drawn beforehand, and without script', async () => {
  let count = 0;
  await fc.assert(
    fc.asyncProperty(sites, fc.nat(), async (sources, turn) => {
      const { site } = liftedSite(sources, turn);
      expect(await differences(site, {})).toEqual([]);
      expect(await differences(site, { prerender: true })).toEqual([]);
      expect(await differences(site, { prerender: true }, false)).toEqual([]);
      count += site.components.length;
    }),
    { numRuns, endOnFailure: true },
  );
  expect(count).toBeGreaterThan(numRuns / 4);
});

test('hostile text comes out as the same text, and nothing runs', async () => {
  await fc.assert(
    fc.asyncProperty(hostileSite, fc.boolean(), async ({ site }, prerender) => {
      const { page, errors } = await served(site, { prerender });
      // a file holds no halves of surrogate pairs, JSON may
      const read = async () => (await page.content()).replace(/\p{Cs}/gu, '\ufffd');
      await page.goto('http://site.test/before/p.html');
      const before = await read();
      const own = errors.splice(0);
      await page.goto('http://site.test/p.html');
      expect(differenceOfDrawn(before, await read(), drawn(site, site.pages[0]!))).toBeNull();
      expect(await page.evaluate('globalThis.hit')).toBeUndefined();
      expect(errors).toEqual(own);
      await page.context().close();
    }),
    { numRuns: numRuns * 2, endOnFailure: true },
  );
});

const CARD = readComponents([
  {
    path: 'components/x-card.html',
    source: `<template component="x-card">
  <meta prop="heading" type="text">
  <meta prop="open" type="flag">
  <meta prop="count" type="number" default="3">
  <meta prop="stops" type="list">
  <meta prop="stops.place-name" type="text"><meta prop="stops.tone" type="text" optional>
  <section class="card{{open ? ' card--open' : ''}}"><h2>{{heading}}</h2><b>{{count}}</b>
    <ul><template each="stop" of="stops"><li class="stop{{stop.tone === null ? '' : ' is-'}}{{stop.tone}}">{{stop.placeName}}</li></template></ul>
    <div><slot>Nothing.</slot></div><p><slot name="foot"></slot></p></section>
</template>`,
  },
  {
    path: 'components/x-frame.html',
    source: `<template component="x-frame"><meta prop="label" type="text">
  <x-card heading="{{label}}"><slot></slot></x-card></template>`,
  },
]);
test.each([
  ['a paragraph', '<p>Sails on <x-card heading="Early"></x-card> only</p>', false],
  ['a link', '<a href="#top">Sails on <x-link></x-link> only</a>', false],
  ['a block', '<div>Sails on <x-card heading="Early"></x-card> only</div>', true],
])('where a tag in an element closes %s around it, pages have it written out', async (_, body, isElement) => {
  const link = { path: 'components/x-link.html', source: '<template component="x-link"><a href="#b">b</a></template>' };
  const registry = new Map([...CARD, ...readComponents([link])]);
  const site = siteOf({ 'p.html': `<!DOCTYPE html><body>${body}</body>` }, registry);
  const { standing, remarks } = standings(site);
  expect(standing.get(/x-\w+/.exec(body)![0])!.kind !== 'expanded').toBe(isElement);
  expect(remarks.some(({ message }) => message.includes('closes what is open around it on p.html'))).toBe(!isElement);
  expect(await differences(site, {})).toEqual([]);
});

test('links lead where they led from every folder, and climb as far as they did', async () => {
  const source =
    '<template component="x-card"><p><a href=".././sub/b.html?x">b</a> <a href="../c.html">c</a></p></template>';
  const use = '<!DOCTYPE html><body><x-card></x-card></body>';
  const site = siteOf(
    { 'sub/p.html': use, 'q.html': use },
    readComponents([{ path: 'components/x-card.html', source }]),
  );
  expect(site.pages.map(({ expanded }) => /<p>.*<\/p>/.exec(expanded)![0])).toEqual([
    '<p><a href="../sub/b.html?x">b</a> <a href="../c.html">c</a></p>',
    '<p><a href="sub/b.html?x">b</a> <a href="c.html">c</a></p>',
  ]);
  expect(standings(site).standing.get('x-card')!.kind).not.toBe('expanded');
  expect(await differences(site, {})).toEqual([]);
});

test('the line break in an element without an end tag stands behind it once it is drawn', async () => {
  const line = { path: 'components/x-line.html', source: '<template component="x-line"><p>Sails on</template>' };
  const body = '<div>\n<x-line></x-line>\n  <x-line></x-line>\n<hr></div><ul><li>Early\n<li>Late\n</ul>';
  const site = siteOf({ 'p.html': `<!DOCTYPE html><body>${body}</body>` }, readComponents([line]));
  expect(await differences(site, {})).toEqual([]);
  const as = drawn(site, site.pages[0]!);
  const { expanded } = site.pages[0]!;
  expect(differenceOfDrawn(expanded, expanded.replace('on\n', 'on \n'), as)).toBeNull();
  expect(differenceOfDrawn(expanded, expanded.replace('on\n<hr', 'on<hr'), as)).not.toBeNull();
  expect(differenceOfDrawn(expanded, expanded.replace('on\n', 'on '), as)).not.toBeNull();
});

const JSON_LIST = '<script type="application/json" slot="stops">[{"place-name":"Mew & <b>"}]</script>';
const USE = `<x-card heading="Early">${JSON_LIST}<i>in</i><template slot="foot">end</template></x-card>`;

describe('an element', () => {
  const open = async (body: string, options = {}) => {
    const site = siteOf({ 'p.html': `<!DOCTYPE html><body>${body}</body>` }, CARD);
    const { page, errors } = await served(site, options);
    await page.goto('http://site.test/p.html');
    return { page, errors, html: (selector: string) => page.innerHTML(selector) };
  };
  const text = (page: Page) =>
    page.evaluate('document.querySelector("x-card").textContent.replace(/\\s+/g, " ").trim()');

  test.each([false, true])(
    'follows its attributes, properties and lists, and keeps what is poured in (prerender: %s)',
    async (prerender) => {
      const { page, errors } = await open(USE, { prerender });
      expect(await text(page)).toBe('Early3 Mew & <b> inend');
      await page.evaluate(`(async () => {
      const card = document.querySelector('x-card');
      globalThis.poured = card.querySelector('i');
      card.heading = '<script>globalThis.hit = 1</script>';
      card.count = 5;
      card.open = true;
      card.stops = [{ placeName: 'Hallow', tone: 'calm' }, { placeName: 'Varn' }];
      await null;
    })()`);
      expect(await text(page)).toBe('<script>globalThis.hit = 1</script>5 HallowVarn inend');
      expect(
        await page.evaluate(`(() => { const card = document.querySelector('x-card');
        return [card.querySelector('i') === poured, card.getAttribute('count'), card.hasAttribute('open'), card.querySelector('section').className,
          card.stops.length, globalThis.hit ?? null] })()`),
      ).toEqual([true, '5', true, 'card card--open', 2, null]);
      expect(await page.evaluate(`[...document.querySelectorAll('li')].map((li) => li.className)`)).toEqual([
        'stop is-calm',
        'stop',
      ]);
      expect(errors).toEqual([]);
    },
  );

  test('is not drawn twice when it is moved, and may be defined late', async () => {
    const { page, errors } = await open(
      `<div id="a">${USE}</div><div id="b"></div><x-frame label="Out"><u>deep</u></x-frame>`,
    );
    await page.evaluate(`document.getElementById('b').append(document.querySelector('x-card'))`);
    expect(await text(page)).toBe('Early3 Mew & <b> inend');
    expect(await page.evaluate(`document.querySelector('x-frame section u').textContent`)).toBe('deep');
    // made, filled and given properties before it is in the page, and before there is such an element
    await page.goto('about:blank');
    await page.route('**/late.html', (route) =>
      route.fulfill({ contentType: 'text/html', body: `<!DOCTYPE html><body>${USE}</body>` }),
    );
    await page.goto('http://site.test/late.html');
    await page.evaluate(`document.querySelector('x-card').heading = 'Late'`);
    await page.addScriptTag({ url: 'http://site.test/elements/all.js' });
    expect(await text(page)).toBe('Late3 Mew & <b> inend');
    expect(errors).toEqual([]);
  });

  test('waits for what stands in it when its script comes first, and works as a module', async () => {
    const { page, errors } = await open('');
    const site = (loads: string) => `<!DOCTYPE html><head>${loads}</head><body>${USE}</body>`;
    for (const loads of [
      '<script src="elements/all.js"></script>',
      '<script type="module" src="elements/index.js"></script>',
    ]) {
      await page.route('**/first.html', (route) => route.fulfill({ contentType: 'text/html', body: site(loads) }));
      await page.goto('http://site.test/first.html', { waitUntil: 'load' });
      expect(await text(page)).toBe('Early3 Mew & <b> inend');
    }
    expect(errors).toEqual([]);
  });
});

test.each([true, false])('a page that loads slowly is waited for: with scripts %s', async (javaScriptEnabled) => {
  const page = await (await browser.newContext({ javaScriptEnabled })).newPage();
  const open = await readyForStaying(page);
  let isLoaded = false;
  await page.route('**/slow.png', async (route) => {
    await setTimeout(200);
    isLoaded = true;
    await route.fulfill({ body: '' });
  });
  await page.route('**/index.html', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<!DOCTYPE html><img src="slow.png">' }),
  );
  await open('index.html', 'http://site.test/index.html');
  expect(isLoaded).toBe(true);
});

describe('where elements stand', () => {
  const choose = (css: string, root = 'div', attributes = 'class="card"') => {
    const registry = readComponents([
      {
        path: 'components/x-card.html',
        source: `<template component="x-card"><meta prop="t" type="text"><${root} ${attributes}><b>{{t}}</b></${root}></template>`,
      },
    ]);
    const page =
      '<!DOCTYPE html><link rel="stylesheet" href="site.css"><main><x-card t="a"></x-card><x-card t="b"></x-card></main>';
    const { standing, remarks } = standings(siteOf({ 'p.html': page }, registry, css));
    return [standing.get('x-card')!, remarks.map(({ message }) => message).join()] as const;
  };

  test.each<[string, string, string, object, RegExp]>([
    ['a plain div is replaced', '.card { color: red }', 'div', { kind: 'root', role: null }, /^$/],
    ['what says more than a div stays', '.card { color: red }', 'article', { kind: 'around' }, /^$/],
    [
      'a neighbour counts',
      '.card + .card { color: red }',
      'article',
      { kind: 'root', role: 'article' },
      /around it, \.card \+ \.card \(site\.css:1:1\)/,
    ],
    ['so does a parent', 'main > .card { color: red }', 'section', { kind: 'root', role: null }, /main > \.card/],
    ['and a tag', 'div { color: red }', 'div', { kind: 'around' }, /^$/],
    [
      'both',
      'main > div { color: red }',
      'div',
      { kind: 'expanded' },
      /left expanded.*main > div.*in the place of its div/,
    ],
    ['what no element replaces', 'main > p { color: red }', 'p', { kind: 'expanded' }, /left expanded/],
    ['no part of a box that it has not', '::-webkit-scrollbar { display: none }', 'article', { kind: 'around' }, /^$/],
    [
      'content before it',
      '*::before { content: "x" }',
      'article',
      { kind: 'root', role: 'article' },
      /around it, \*::before/,
    ],
    ['a box of its own', 'main > * { display: flex }', 'nav', { kind: 'root', role: 'navigation' }, /main > \*/],
  ])('%s', (_, css, root, standing, message) => {
    const [found, told] = choose(css, root);
    expect(found).toEqual(standing);
    expect(told).toMatch(message);
  });

  test('what is left open around elements goes on as it did', async () => {
    const registry = readComponents([
      {
        path: 'components/x-box.html',
        source: '<template component="x-box"><article><slot></slot></article></template>',
      },
    ]);
    const pages = {
      'p.html': '<!DOCTYPE html><body><x-box><a href="a">b<a></x-box>\n<p>c</p>',
      'q.html': '<!DOCTYPE html><body><x-box><em>d</x-box>\n<p>e</p>',
    };
    expect(await differences(siteOf(pages, registry), {})).toEqual([]);
  });

  test('scripts run where they stand: what holds one, and what one is poured into, is left expanded', () => {
    const registry = readComponents([
      { path: 'components/x-run.html', source: '<template component="x-run"><p><script>go()</script></p></template>' },
      { path: 'components/x-year.html', source: '<template component="x-year"><p><slot></slot></p></template>' },
      {
        path: 'components/x-data.html',
        source: '<template component="x-data"><p><script type="text/plain">x</script></p></template>',
      },
    ]);
    const body =
      '<x-run></x-run><x-year><script>document.write(1)</script></x-year><x-year>2</x-year><x-data></x-data>';
    const { standing, remarks } = standings(siteOf({ 'p.html': `<!DOCTYPE html><body>${body}` }, registry));
    expect([...standing].map(([name, { kind }]) => [name, kind])).toEqual([
      ['x-data', 'around'],
      ['x-run', 'expanded'],
      ['x-year', 'around'],
    ]);
    expect(remarks.map(({ message }) => message)).toEqual([
      'x-run is left expanded: it holds a script, which runs otherwise when it is drawn later',
      'x-year is left expanded in one place: a script is poured in, which runs where it stands',
    ]);
  });
});
