/** The report, through the built program and in real Chromium. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Browser, BrowserContextOptions, Page } from 'playwright-core';
import { accessibilityFindings } from '../browser/accessible.js';
import { launch } from '../browser/drawn.js';
import { card, demo, Folder, page, removeFolders, type SurveyJson } from './estrade.js';
import { isDeep, usualTest } from '../arbitrary/cases.js';

let browser: Browser;
beforeAll(async () => {
  browser = await launch();
});
afterAll(async () => {
  await browser.close();
  removeFolders();
});

/** Opens a report; whatever it asks for besides itself is told. */
async function opened(folder: Folder, options: BrowserContextOptions = {}): Promise<{ shown: Page; asked: string[] }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, ...options });
  const shown = await context.newPage();
  const asked: string[] = [];
  shown.on('request', (request) => asked.push(request.url()));
  shown.on('pageerror', ({ message }) => asked.push(message));
  await shown.goto(pathToFileURL(join(folder.path, 'report.html')).href, { waitUntil: 'load' });
  return { shown, asked: asked.filter((each) => !each.startsWith('file:') && !each.startsWith('data:image/webp')) };
}

/** The demo cut down to a few pages, with its report: what there is to look at is soon looked at. */
function fewPages(): Folder {
  const folder = demo();
  folder.write({ 'estrade.config.json': '{ "pages": ["{notices,sailings}.html"] }' });
  expect(folder.run(['report', '--out', 'report.html'])).toMatchObject({ status: 0, err: '' });
  return folder;
}

const NUMBER = /[\d,]+/g;
const numbersIn = (text: string) => (text.match(NUMBER) ?? []).map((each) => Number(each.replaceAll(',', '')));

describe('of the demo', () => {
  const folder = demo();
  const { findings, pages } = folder.json(['survey']) as SurveyJson;
  const recommended = findings.filter((finding) => finding.recommended);
  const lines = pages.reduce((sum, each) => sum + each.lines, 0);
  const saved = recommended.reduce((sum, finding) => sum + finding.saved.lines, 0);
  const printed = folder.run(['survey']).out;
  beforeAll(() => {
    expect(folder.run(['report', '--out', 'report.html'])).toMatchObject({ status: 0, err: '' });
  });

  usualTest(
    'is read without scripts and network, has a picture of each part, and the numbers that the survey prints',
    async () => {
      const { shown, asked } = await opened(folder, { javaScriptEnabled: false });
      expect(asked).toEqual([]);
      expect(folder.read('report.html').length).toBeLessThan(2_000_000);
      expect(await shown.locator('.lead').allInnerTexts()).toEqual([
        `${pages.length} pages, ${lines.toLocaleString('en')} lines.`,
        `${recommended.length} findings recommended; lifting them saves ${saved} lines of ${lines.toLocaleString('en')}.`,
      ]);
      expect(numbersIn((await shown.locator('svg.totals').getAttribute('aria-label'))!)).toEqual([
        lines,
        lines - saved,
      ]);
      const rows = await shown.locator('#lines ~ * tbody tr, #lines ~ * tfoot tr').allInnerTexts();
      const columns = rows.map((row) => numbersIn(row.replace(/^\S+( themselves)?/, '')));
      for (const [i, total] of [lines, lines - saved].entries())
        expect(columns.reduce((sum, row) => sum + row[i]!, 0)).toBe(total);
      expect(await shown.locator('.part').count()).toBe(recommended.length);
      for (const { name, occurrences, props, kind, saved: own } of recommended) {
        const part = shown.locator(`#part-${name}`);
        const places = `${occurrences.length} place${occurrences.length === 1 ? '' : 's'}`;
        expect(await part.locator('header p').innerText()).toMatch(
          new RegExp(`^${kind}, ${places} on .* ${own.lines < 0 ? 'adds' : 'saves'} ${Math.abs(own.lines)} line`),
        );
        for (const { name: prop } of props)
          await expect(part.getByRole('rowheader', { name: prop, exact: true }).count()).resolves.toBe(1);
        expect(await part.locator('.sources pre').first().innerText()).toContain(`component="${name}"`);
        // a page's head is nothing to look at
        expect(await part.locator('img').count()).toBe(name === 'page-head' ? 0 : 1);
      }
      const loaded = `Array.from(document.images).every(({ complete, naturalWidth }) => complete && naturalWidth > 20)`;
      const withScripts = (await opened(folder)).shown;
      await withScripts.evaluate(`Promise.all(Array.from(document.images, (image) => image.decode()))`);
      expect(await withScripts.evaluate(loaded)).toBe(true);
      const map = await shown.locator('.map tbody tr').filter({ hasText: 'nav-item' }).innerText();
      expect(numbersIn(map)).toEqual(pages.map(() => 6));
      const drift = await shown.locator('.sides tbody tr').first().innerText();
      for (const each of ['site-header', 'Sailings', '14', 'Timetable', 'harbours/sandrey.html:21'])
        expect(drift).toContain(each);
      expect(await shown.locator('#slips ~ ul').innerText()).toContain('boats/puffin.html:54:72');
      for (const each of [/(\d+) more findings/, /(\d+) regions/])
        expect(
          await shown
            .locator('#left ~ *')
            .allInnerTexts()
            .then((all) => all.join(' ').length),
        ).toBeGreaterThan(Number(each.exec(printed)![1]));
    },
  );

  const screens = [
    ['dark', 400],
    ['light', 1280],
  ] as const;
  test.each(isDeep ? screens : screens.slice(0, 1))(
    '%s and %i wide, an accessibility check finds nothing, and it is no wider than the window',
    async (colorScheme, width) => {
      const { shown } = await opened(isDeep ? folder : fewPages(), { colorScheme, viewport: { width, height: 800 } });
      expect(await accessibilityFindings(shown)).toEqual([]);
      expect(await shown.evaluate('document.documentElement.scrollWidth')).toBeLessThanOrEqual(width);
    },
  );

  usualTest('its script sorts tables and shows the parts of a name', async () => {
    const { shown } = await opened(folder);
    const table = shown.getByRole('table', { name: 'Lines by component' });
    const second = async () =>
      (await table.locator('tbody td:nth-child(3)').allInnerTexts()).map((each) => numbersIn(each)[0]!);
    await table.getByRole('button', { name: 'with components' }).click();
    expect(await second()).toEqual((await second()).sort((a, b) => a - b));
    await table.getByRole('button', { name: 'with components' }).click();
    expect(await second()).toEqual((await second()).sort((a, b) => b - a));
    await shown.getByRole('searchbox').fill('boat');
    expect(await shown.locator('.part:visible').count()).toBe(
      recommended.filter(({ name }) => name.includes('boat')).length,
    );
  });

  usualTest('is no page of the site, is written over by the next, and by nothing else', () => {
    expect((folder.json(['survey']) as SurveyJson).pages).toHaveLength(pages.length);
    expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
    expect(Object.keys(folder.files('dist'))).not.toContain('report.html');
    expect(folder.run(['report', '--no-pictures']).status).toBe(0);
    expect(folder.read('report.html')).not.toContain('<img');
    const before = folder.read('index.html');
    const refused = folder.run(['report', '--out', 'index.html']);
    expect(refused).toMatchObject({ status: 1 });
    expect(refused.err).toContain('index.html is there already, and is no report');
    expect(folder.read('index.html')).toBe(before);
    expect(folder.run(['report', '--out', 'none/report.html'])).toMatchObject({ status: 2 });
  });

  test('after the lift it shows the components, with what roster and styles tell of them', async () => {
    expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
    const without = folder.run(['report'], { env: { CHROMIUM_PATH: '/nowhere' } });
    expect(without.out).toContain('with Chromium installed they would be drawn');
    const { components } = folder.json(['roster']) as {
      components: { name: string; uses: number; pages: string[]; lines: number }[];
    };
    const styles = folder.json(['styles']) as { components: { name: string; rules: { own: boolean }[] }[] };
    const { shown } = await opened(folder);
    expect(await shown.locator('.part').count()).toBe(components.length);
    for (const { name, uses, pages: on, lines: own } of components) {
      const part = shown.locator(`#part-${name}`);
      expect(numbersIn(await part.locator('header p').innerText())).toEqual([uses, on.length, own]);
      const rules = styles.components.find((each) => each.name === name)!.rules.filter((each) => each.own).length;
      expect(await part.innerText()).toContain(
        `${rules === 0 ? 'No' : rules} rule${rules === 1 || rules === 0 ? '' : 's'} of its own`,
      );
    }
    if (isDeep) expect(await accessibilityFindings(shown)).toEqual([]);
  });
});

usualTest('whatever the pages say stands in it as text', async () => {
  const hostile = [
    '"><img src=x onerror=alert(1)>',
    `</script><script>alert('1')</script>`,
    '🛥️ & مرفأ',
    '{{x}} <!-- -->',
  ];
  const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');
  const folder = new Folder({
    'index.html': page(hostile.map((each, i) => card(escaped(each), `b${i}.html`)).join('\n')),
    'css/a"b.css': `.sailing::before { content: "</style><script>alert(2)</script>" }`,
  });
  expect(folder.run(['report', '--min-worth=-9999']).status).toBe(0);
  const { shown, asked } = await opened(folder);
  expect(asked).toEqual([]);
  const text = await shown.locator('main').innerText();
  for (const each of hostile) expect(text.replace(/\s+/g, ' ')).toContain(each.slice(0, 30));
  expect(await shown.locator('img[src="x"], main script').count()).toBe(0);
  expect(await accessibilityFindings(shown)).toEqual([]);
});
