/** Pages before and after in the preview, in real Chromium through the built program. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { cpSync } from 'node:fs';
import type { Browser, Page } from 'playwright-core';
import { accessibilityFindings } from '../browser/accessible.js';
import { launch } from '../browser/drawn.js';
import { served, stopServing, until } from '../browser/served.js';
import { demo, Folder, removeFolders } from './estrade.js';

let browser: Browser;
beforeAll(async () => {
  browser = await launch();
});
afterAll(async () => {
  await browser.close();
  stopServing();
  removeFolders();
});
const opened = async (url: string, path: string): Promise<Page> => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  const shown = await context.newPage();
  await shown.goto(`${url}/-estrade/compare?path=${path}`);
  return shown;
};
/** What it says of differences, as soon as it says what passes. */
const said = (shown: Page, passes: (text: string) => boolean) =>
  until(() => shown.locator('#said').innerText(), passes);
const frame = (shown: Page, side: 'before' | 'after') => shown.frameLocator(`#${side}`);

test('a lifted page is as it was; what is edited then is marked in both, and the two scroll and go together', async () => {
  const folder = demo();
  expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
  const { url } = await served(folder);
  const shown = await opened(url, 'boats/tern.html');
  await said(shown, (text) => text === 'Nothing differs');
  const card = folder.read('components/boat-card.html');
  folder.write({
    'components/boat-card.html': card
      .replace('border-radius: var(--round)', 'border-radius: 0')
      .replace('<h2>On board</h2>', '<h2>Crew</h2><hr>'),
  });
  // the page that is open follows the edit, and is compared again
  await said(shown, (text) => text === '3 differences');
  const told: string[] = [];
  for (let i = 0; i < 3; i++) {
    await shown.getByRole('button', { name: 'Next' }).click();
    told.push(await shown.locator('#said').innerText());
  }
  expect(told).toEqual(['1 of 3: img looks otherwise', '2 of 3: h2 is otherwise', '3 of 3: hr is only after']);
  const headings = ['before', 'after'] as const;
  const texts = headings.map((side) => frame(shown, side).locator('.crew h2').innerText());
  expect(await Promise.all(texts)).toEqual(['On board', 'Crew']);
  expect(await accessibilityFindings(shown)).toEqual([]);
  // who scrolls one sees the other beside it
  const scrolled = (side: 'before' | 'after') =>
    frame(shown, side)
      .locator('html')
      .evaluate<number, Element>('scrollY / (document.documentElement.scrollHeight - innerHeight)');
  for (const [side, other, to] of [
    ['before', 'after', 1],
    ['after', 'before', 0],
  ] as const) {
    await frame(shown, side)
      .locator('html')
      .evaluate(`window.scrollTo(0, ${to * 10000})`);
    await until(
      () => scrolled(other),
      (share) => Math.abs(share - to) < 0.01,
    );
  }
  // a stylesheet is no reason to load the page again, and it is compared again all the same
  folder.write({ 'css/site.css': `${folder.read('css/site.css')}\n.lead { letter-spacing: 1px }\n` });
  await said(shown, (text) => text === '4 differences');
  await frame(shown, 'after').getByRole('link', { name: 'Fares', exact: true }).click();
  await until(
    () => frame(shown, 'before').locator('h1').innerText(),
    (text) => text.includes('Fares'),
  );
  expect(await shown.getByRole('combobox').inputValue()).toBe('fares.html');
  await said(shown, (text) => text === '1 difference');
  await shown.getByRole('button', { name: 'Slider' }).click();
  await shown.getByRole('slider').fill('20');
  const clip = await shown.evaluate("getComputedStyle(document.querySelectorAll('figure')[1]).clipPath");
  expect(clip).toBe('inset(0px 0px 0px 20%)');
  // the site as it was is served no more freely than the site
  const { origin } = new URL((await shown.locator('#before').getAttribute('src'))!);
  const statusOf = async (path: string, method = 'GET') => (await fetch(`${origin}${path}`, { method })).status;
  for (const path of ['/.estrade/entries', '/-estrade/compare', '/..%2f..%2fetc/passwd', '/nothing.html'])
    expect(await statusOf(path)).toBe(404);
  expect(await statusOf('/', 'POST')).toBe(405);
  expect(await statusOf('/index.html')).toBe(200);
});

test('another folder is compared with where it is named; without either it says what is missing', async () => {
  const [folder, other] = [demo(), new Folder()];
  cpSync(folder.path, other.path, { recursive: true });
  const plain = await opened((await served(folder)).url, 'contact.html');
  expect(await plain.locator('body').innerText()).toContain('estrade preview --against');
  other.write({ 'contact.html': other.read('contact.html').replace('</h1>', ' once</h1>') });
  const shown = await opened((await served(folder, ['--against', other.path])).url, 'contact.html');
  expect(await said(shown, (text) => text.includes('difference'))).toBe('1 difference');
  expect(await frame(shown, 'before').locator('h1').innerText()).toContain('once');
  expect(folder.run(['preview', '--against', 'nowhere'])).toMatchObject({ status: 2 });
});
