/** The preview in real Chromium, through the built program. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { symlinkSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Browser, BrowserContext, Page } from 'playwright-core';
import { WebSocket } from 'ws';
import { farthest } from '../../src/verify/images.js';
import { launch } from '../browser/drawn.js';
import { layerText, served, stopServing, until } from '../browser/served.js';
import { demo, Folder, page, removeFolders } from './estrade.js';

let browser: Browser;
beforeAll(async () => {
  browser = await launch();
});
afterAll(async () => {
  await browser.close();
  stopServing();
  removeFolders();
});

describe('the demo, lifted with its styles', () => {
  const folder = demo();
  let url: string;
  let context: BrowserContext;
  let shown: Page;
  beforeAll(async () => {
    expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
    expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
    ({ url } = await served(folder));
    context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
    shown = await context.newPage();
  });
  const textOf = (selector: string) => () => shown.locator(selector).first().innerText({ timeout: 500 });

  test.each(['index.html', 'boats/tern.html', 'lost-property.html'])(
    '%s is in DOM and pixels what expand builds, and nothing of ours is left in it',
    async (path) => {
      const read = async (address: string) => {
        await shown.goto(address, { waitUntil: 'load' });
        const globals = await shown.evaluate('Object.keys(window).sort().join()');
        return [await shown.content(), globals, await shown.screenshot({ animations: 'disabled' })] as const;
      };
      const addresses = [`${url}/${path}`, pathToFileURL(join(folder.path, 'dist', path)).href] as const;
      const both = [await read(addresses[0]), await read(addresses[1])] as const;
      expect(both[0].slice(0, 2)).toEqual(both[1].slice(0, 2));
      // shades are left to chance: what differs is drawn again, each in turn, and one shade is no difference
      const pictures = [both[0][2], both[1][2]];
      for (let tries = 0; tries < 6 && !pictures[0]!.equals(pictures[1]!); tries++)
        pictures[tries % 2] = (await read(addresses[tries % 2]!))[2];
      expect(farthest([pictures[0]!], [pictures[1]!])).toBeLessThanOrEqual(1);
    },
  );

  test('edits of a page, a component, a stylesheet and moved styles show by themselves, and the scroll stays', async () => {
    await shown.goto(`${url}/index.html`, { waitUntil: 'load' });
    await shown.evaluate('scrollTo(0, 300)');
    const edit = (path: string, from: string | RegExp, to: string) => {
      const text = folder.read(path);
      expect(text).toMatch(from);
      folder.write({ [path]: text.replace(from, to) });
    };
    edit('index.html', '</main>', '<p class="seen">A new line at the end.</p></main>');
    const scrolled = () => shown.evaluate('scrollY');
    await until(textOf('.seen'), (text) => text === 'A new line at the end.');
    await until(scrolled, (top) => top === 300);
    edit('components/site-footer.html', /<footer([^>]*)>/, '<footer$1><p class="below">From the component.</p>');
    await until(textOf('.below'), (text) => text === 'From the component.');
    await until(scrolled, (top) => top === 300);
    const colour = (selector: string) => () =>
      shown.evaluate<string>(`getComputedStyle(document.querySelector('${selector}')).color`);
    // a stylesheet is loaded again in the page as it is
    await shown.evaluate('window.sameDocument = true');
    folder.write({ 'css/site.css': `${folder.read('css/site.css')}\n.seen { color: rgb(1, 2, 3) }\n` });
    await until(colour('.seen'), (value) => value === 'rgb(1, 2, 3)');
    edit('components/site-header.html', /<style>/, '<style>\n.site-header { color: rgb(4, 5, 6) !important }');
    await until(colour('.site-header'), (value) => value === 'rgb(4, 5, 6)');
    expect(await shown.evaluate('window.sameDocument')).toBe(true);
    // a page that is not made of it is told nothing
    edit('components/crew-member.html', '<li', '<li data-none');
    edit('index.html', 'A new line at the end.', 'Another line at the end.');
    await until(textOf('.seen'), (text) => text.startsWith('Another'));
  });

  test('what is wrong shows over the page with its place and line, and goes when it is mended', async () => {
    await shown.goto(`${url}/boats/tern.html`, { waitUntil: 'load' });
    const before = await shown.content();
    expect(await layerText(shown)).toBe('');
    const component = folder.read('components/site-header.html');
    folder.write({ 'components/site-header.html': component.replace('{{phone}}', '{{phome}}') });
    const line = component.slice(0, component.indexOf('{{phone}}')).split('\n').length;
    const told = await until(
      () => layerText(shown),
      (text) => text !== '',
    );
    expect(told).toContain(`components/site-header.html:${line}:`);
    expect(told).toContain('did you mean phone?');
    expect(told).toContain('phome');
    // the page is still there below, and a broken file that cannot be read at all is told the same way
    expect(await textOf('h1')()).not.toBe('');
    folder.write({ 'components/site-header.html': component.replace('<template component', '<template componemt') });
    await until(
      () => layerText(shown),
      (text) => !text.includes('phome') && text !== '',
    );
    folder.write({ 'components/site-header.html': component });
    await until(
      () => layerText(shown),
      (text) => text === '',
    );
    await until(
      () => shown.content(),
      (text) => text === before,
    );
    // a page that is opened while something is wrong is shown with it
    folder.write({
      'boats/tern.html': folder.read('boats/tern.html').replace('<site-header ', '<site-header colour="x" '),
    });
    await shown.goto(`${url}/boats/tern.html`, { waitUntil: 'load' });
    expect(
      await until(
        () => layerText(shown),
        (text) => text !== '',
      ),
    ).toContain('site-header has no prop colour');
    // it can be put away with the keyboard
    await shown.keyboard.press('Escape');
    await until(
      () => layerText(shown),
      (text) => text === '',
    );
  });
});

describe('who may ask for what', () => {
  const folder = new Folder({
    'index.html': page('<p>One</p>'),
    'deep/index.html': page('<p>Two</p>'),
    'bare.html':
      '<!doctype html>\n<html>\n<title>Bare</title>\n<meta http-equiv="Content-Security-Policy" content="default-src \'none\'">\n<p>Three',
    'latin.html': Buffer.from('<meta charset="windows-1252"><p>caf\xe9', 'latin1'),
    'film.mp4': '0123456789',
    '.env': 'SECRET=1',
    '.estrade/entries/1.json': '{}',
    'deep/.hidden/x.txt': 'SECRET',
    'components/boat-mark.html': '<template component="boat-mark"><b>mark</b></template>\n',
  });
  const outside = new Folder({ 'secret.txt': 'SECRET' });
  let url: string;
  let child: ChildProcess;
  beforeAll(async () => {
    symlinkSync(join(outside.path, 'secret.txt'), join(folder.path, 'linked.txt'));
    symlinkSync(outside.path, join(folder.path, 'far'));
    ({ url, child } = await served(folder));
  });

  /** Sends a request as it is spelled. */
  function ask(path: string, headers: Record<string, string> = {}, method = 'GET') {
    const { hostname, port } = new URL(url);
    return new Promise<{ status: number; type: string; body: string; headers: Record<string, unknown> }>(
      (done, fail) => {
        request({ hostname, port, path, headers, method, agent: false }, (response) => {
          let body = '';
          response.setEncoding('latin1').on('data', (part: string) => (body += part));
          const { statusCode: status = 0, headers: given } = response;
          response.on('end', () => done({ status, body, headers: given, type: given['content-type'] ?? '' }));
        })
          .on('error', fail)
          .end();
      },
    );
  }

  test.each([
    '/../secret.txt',
    '/%2e%2e/%2e%2e/etc/passwd',
    '/..%2f..%2fetc/passwd',
    '/deep/..%5c..%5csecret.txt',
    '//etc/passwd',
    '/.env',
    '/%2eenv',
    '/.estrade/entries/1.json',
    '/deep/.hidden/x.txt',
    '/linked.txt',
    '/far/secret.txt',
    '/film.mp4%00.html',
    '/%ff%zz',
  ])('%s is refused', async (path) => {
    const { status, body } = await ask(path);
    expect(status).toBe(404);
    expect(body).not.toMatch(/SECRET|root:/);
  });

  test('a host that is not of this machine, another method, a socket of another site', async () => {
    for (const host of ['evil.test', '127.0.0.1.evil.test', 'localhost.evil.test:80'])
      expect((await ask('/', { Host: host })).status).toBe(403);
    for (const host of ['localhost', '127.0.0.1:1', '[::1]']) expect((await ask('/', { Host: host })).status).toBe(200);
    expect((await ask('/', {}, 'POST')).status).toBe(405);
    const socketOf = async (options: { origin?: string; headers?: Record<string, string> }) => {
      const socket = new WebSocket(`${url.replace('http', 'ws')}/-estrade/changes`, options);
      const first = await new Promise<string>((done) => {
        socket.once('open', () => done('open')).once('error', () => done('refused'));
      });
      if (first === 'open') socket.send('what is this');
      socket.terminate();
      return first;
    };
    expect(await socketOf({ origin: 'http://evil.test' })).toBe('refused');
    expect(await socketOf({ origin: 'null' })).toBe('refused');
    expect(await socketOf({ headers: { Host: 'evil.test' } })).toBe('refused');
    expect(await socketOf({ origin: url })).toBe('open');
    expect((await ask('/')).status).toBe(200);
  });

  test('types, ranges, folders, encodings, nothing kept; what scripts fetch is as it will be built', async () => {
    const film = await ask('/film.mp4', { Range: 'bytes=2-4' });
    expect(film).toMatchObject({ status: 206, type: 'video/mp4', body: '234' });
    for (const path of ['/', '/film.mp4', '/deep/'])
      expect((await ask(path)).headers['cache-control']).toBe('no-store');
    expect(await ask('/deep')).toMatchObject({ status: 302, headers: expect.objectContaining({ location: '/deep/' }) });
    expect(await ask('/latin.html', { 'Sec-Fetch-Dest': 'empty' })).toMatchObject({
      type: 'text/html; charset=windows-1252',
      body: '<meta charset="windows-1252"><p>caf\xe9',
    });
    const nothing = await ask('/nothing.html');
    expect([nothing.status, nothing.body]).toEqual([404, expect.stringContaining('href="/deep/index.html"')]);
  });

  test('a page without a head, with a policy of its own, is parsed as without the preview, and follows edits', async () => {
    const shown = await browser.newPage();
    await shown.goto(`${url}/bare.html`, { waitUntil: 'load' });
    const markup = await shown.content();
    await shown.goto(pathToFileURL(join(folder.path, 'bare.html')).href);
    expect(markup).toBe(await shown.content());
    await shown.goto(`${url}/bare.html`, { waitUntil: 'load' });
    folder.write({ 'bare.html': folder.read('bare.html').replace('Three', 'Four') });
    await until(
      () => shown.locator('p').innerText(),
      (text) => text === 'Four',
    );
    await shown.close();
  });

  test('it ends when it is interrupted', async () => {
    child.kill('SIGINT');
    expect(await once(child, 'exit')).toEqual([0, null]);
  });

  test('wrong ports and a port that is taken', async () => {
    expect(folder.run(['preview', '--port', '0x']).status).toBe(2);
    expect(folder.run(['preview', '--port', '70000']).status).toBe(2);
    const other = await served(folder);
    const taken = folder.run(['preview', '--port', new URL(other.url).port]);
    expect([taken.status, taken.err]).toEqual([2, expect.stringContaining('something else listens there')]);
  });
});

test('a page that is read as XML is followed and looked at like the others, and has nothing of ours in it', async () => {
  const xml = (text: string) =>
    `<?xml version="1.0" encoding="UTF-8"?>\n<html xmlns="http://www.w3.org/1999/xhtml"><head><title>T</title></head><body><p>${text}</p><quay-mark/></body></html>\n`;
  const folder = new Folder({ 'x.xhtml': xml('One &amp; two') });
  const { url } = await served(folder);
  const shown = await browser.newPage();
  await shown.goto(`${url}/x.xhtml`, { waitUntil: 'load' });
  expect(await shown.evaluate('[document.contentType, document.scripts.length, document.body.innerHTML]')).toEqual([
    'application/xhtml+xml',
    0,
    '<p xmlns="http://www.w3.org/1999/xhtml">One &amp; two</p><quay-mark xmlns="http://www.w3.org/1999/xhtml"></quay-mark>',
  ]);
  await shown.evaluate('document.documentElement.dataset.mine = "kept until it is loaded again"');
  folder.write({ 'x.xhtml': xml('Three') });
  await until(
    () => shown.locator('p').innerText(),
    (text) => text === 'Three',
  );
  expect(await shown.evaluate('document.documentElement.attributes.length')).toBe(1);
  await shown.close();
});
