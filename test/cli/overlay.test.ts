/** The overlay of the preview in real Chromium, through the built program. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { realpathSync } from 'node:fs';
import type { Browser, Page } from 'playwright-core';
import { launch } from '../browser/drawn.js';
import { layerText, served, stopServing, until } from '../browser/served.js';
import { demo, page, removeFolders, type SurveyJson } from './estrade.js';

let browser: Browser;
afterAll(async () => {
  await browser.close();
  stopServing();
  removeFolders();
});

const folder = demo();
const wild = `<style>* { display: block !important; position: static !important; opacity: .3 !important } estrade-layer { inset: 50px !important }</style>
<script>
// what the page can see of itself while it is read, and what it does about strangers
const seen = document.documentElement.outerHTML;
new MutationObserver(() => document.querySelector('estrade-layer')?.shadowRoot?.replaceChildren()).observe(document, { childList: true, subtree: true });
</script>
<p>Wild</p>
<script>document.currentScript.before(seen.includes('data-') ? 'marked' : 'clean')</script>`;
let url: string;
let shown: Page;
beforeAll(async () => {
  browser = await launch();
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  folder.write({ 'wild.html': page(`<site-header current="boats"></site-header>${wild}`) });
  ({ url } = await served(folder));
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  shown = await context.newPage();
});
const open = async (path: string) => {
  await shown.goto(`${url}/${path}`, { waitUntil: 'load' });
  await shown.keyboard.press('Alt+Shift+E');
  await until(
    () => layerText(shown),
    (text) => text.includes('Close'),
  );
};

test('shows what the page is made of and goes without a trace, by keyboard alone', async () => {
  await shown.goto(`${url}/boats/index.html`, { waitUntil: 'load' });
  const before = [await shown.content(), await shown.screenshot()] as const;
  await open('boats/index.html');
  const text = await layerText(shown);
  for (const name of ['site-header', 'nav-item', 'main-heading', 'boat-card', 'site-footer'])
    expect(text).toContain(name);
  // the list is reached by Tab, tells the first of its kind, and filters
  for (let i = 0; i < 3; i++) await shown.keyboard.press('Tab');
  await until(
    () => layerText(shown),
    (told) => told.includes('components/site-header.html:1:1'),
  );
  await shown.keyboard.press('Enter');
  await shown.keyboard.press('Escape');
  expect(await layerText(shown)).toBe('');
  expect(await shown.content()).toBe(before[0]);
  let isSame = false;
  for (let tries = 0; tries < 6 && !isSame; tries++) isSame = before[1].equals(await shown.screenshot());
  expect(isSame).toBe(true);
  expect(await shown.evaluate('sessionStorage.length')).toBe(0);
});

test('pointing tells the innermost component and what it was given; a click copies its place and does nothing else', async () => {
  await open('index.html');
  await shown.mouse.move(300, 540);
  const told = await until(
    () => layerText(shown),
    (text) => text.includes('used at'),
  );
  const source = folder.read('index.html');
  const line = source.slice(0, source.indexOf('<sailing-card')).split('\n').length;
  expect(told).toContain(`index.html:${line}:`);
  for (const value of ['components/sailing-card.html:1:1', 'Varnhaven to Mewport', 'boats/tern.html', ' default'])
    expect(told).toContain(value);
  await shown.mouse.click(240, 520);
  await until(
    () => layerText(shown),
    (text) => text.includes('Copied'),
  );
  expect(await shown.evaluate('navigator.clipboard.readText()')).toMatch(new RegExp(`^index\\.html:${line}:\\d+$`));
  expect(new URL(shown.url()).pathname).toBe('/index.html');
  // an edit shows while it is on, and it stays on
  folder.write({ 'index.html': source.replace('Varnhaven to Mewport', 'Varnhaven to Elsewhere') });
  await until(
    () => shown.locator('body').innerText(),
    (text) => text.includes('Elsewhere'),
  );
  await until(
    () => layerText(shown),
    (text) => text.includes('sailing-card'),
  );
  await shown.keyboard.press('Alt+Shift+E');
  expect(await layerText(shown)).toBe('');
});

test('a button in the corner turns it on while the pointer is near', async () => {
  await shown.goto(`${url}/fares.html`, { waitUntil: 'load' });
  await shown.mouse.move(1240, 780);
  await until(
    () => layerText(shown),
    (text) => text.includes('Components'),
  );
  await shown.mouse.move(600, 300);
  expect(await layerText(shown)).toBe('');
  await shown.mouse.move(1240, 780);
  await shown.mouse.click(1230, 775);
  await until(
    () => layerText(shown),
    (text) => text.includes('Close'),
  );
  await shown.keyboard.press('Escape');
});

test('the rules that are its own are told, as styles tells them, and whether slots are filled', async () => {
  await open('boats/tern.html');
  await shown.mouse.move(300, 300);
  const { components } = folder.json(['styles', 'boat-card']) as {
    components: { rules: { selector: string; own: boolean }[] }[];
  };
  const own = components[0]!.rules.filter((rule) => rule.own).map(({ selector }) => selector);
  const told = await until(
    () => layerText(shown),
    (text) => /\d rules of its own/.test(text),
  );
  expect(told).toContain(`${own.length} rules of its own`);
  for (const selector of own) expect(told).toContain(selector);
  expect(told).toContain('Takes markup: facts, list');
  await shown.keyboard.press('Escape');
});

test('styles and scripts of the page neither see it come nor touch it', async () => {
  await open('wild.html');
  expect(await shown.locator('body').innerText()).toContain('clean');
  const layer = await shown.evaluate<string[]>(
    `(({ position, inset, opacity }) => [position, inset, opacity])(getComputedStyle(document.querySelector('estrade-layer')))`,
  );
  expect(layer).toEqual(['fixed', '0px', '1']);
  expect(await layerText(shown)).toContain('site-header');
  await shown.keyboard.press('Escape');
  expect(await layerText(shown)).toBe('');
});

test('before anything is lifted it shows what would become what, with its numbers and the command, and opens places in the editor', async () => {
  const raw = demo();
  // what opens files answers links of its own; one that a browser can follow shows where they lead
  raw.write({
    'estrade.config.json': JSON.stringify({ preview: { editor: `${url}/index.html?open={path}:{line}:{column}` } }),
  });
  const { findings } = raw.json(['survey']) as SurveyJson;
  const { url: address } = await served(raw);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  const looked = await context.newPage();
  await looked.goto(`${address}/boats/index.html`, { waitUntil: 'load' });
  const before = await looked.content();
  await looked.keyboard.press('Alt+Shift+E');
  await until(
    () => layerText(looked),
    (text) => text.includes('badge-boat-card'),
  );
  await looked.mouse.move(240, 470);
  const told = await until(
    () => layerText(looked),
    (text) => text.includes('estrade lift badge-boat-card'),
  );
  const finding = findings.find(({ name }) => name === 'badge-boat-card')!;
  const here = finding.occurrences.filter(({ page: path }) => path === 'boats/index.html');
  expect(told).toContain(`saves ${finding.saved.lines} lines, ${finding.saved.bytes} B`);
  expect(told).toContain(`boats/index.html:${here[0]!.line}:${here[0]!.column}`);
  for (const { name, values } of finding.props) {
    expect(told).toContain(name);
    if (typeof values[0] === 'string') expect(told).toContain(values[0]);
  }
  // the numbers beside the names are those of the survey, for this page
  for (const { name, occurrences } of findings) {
    const many = occurrences.filter(({ page: path }) => path === 'boats/index.html').length;
    if (many > 0) expect(told).toMatch(new RegExp(`^${name}\\n+${many}$`, 'm'));
  }
  const opening = context.waitForEvent('page');
  await looked.mouse.click(240, 470);
  const opened = new URL((await opening).url()).searchParams.get('open');
  expect(opened).toBe(`${realpathSync(raw.path)}/boats/index.html:${here[0]!.line}:${here[0]!.column}`);
  await looked.bringToFront();
  await looked.keyboard.press('Escape');
  expect(await looked.content()).toBe(before);
  await context.close();
});
