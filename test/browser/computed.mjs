/* global document, getComputedStyle */
/**
 * Asks a real browser whether a site came through `lift --recommended --styles move` and `expand` as it was: computed
 * styles of every element and its pseudo-elements, on a wide screen, a narrow one and on paper, and pictures of the
 * pages. Run by hand on any site: node test/browser/computed.mjs <folder>
 */
import { execFileSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { extname, join, resolve } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { chromium } from 'playwright-core';
import { globSync } from 'tinyglobby';

const estrade = fileURLToPath(new URL('../../dist/bin.js', import.meta.url));
const TYPES = {
  '.html': 'text/html',
  '.css': 'text/css',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.js': 'text/javascript',
};
const SCREENS = [
  { name: 'wide', width: 1280, height: 800, media: 'screen' },
  { name: 'narrow', width: 400, height: 800, media: 'screen' },
  { name: 'paper', width: 800, height: 1100, media: 'print' },
];

/** The path of the system's Chromium. */
export function findChromium() {
  const found = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find(existsSync);
  if (found === undefined) throw new Error('no Chromium is installed; node scripts/browser.mjs installs it');
  return found;
}

/** Lifts a copy of a site with its styles and expands it; gives back both folders. `spoil` changes the result, to see that it shows. */
export function liftCopy(site, spoil = (css) => css) {
  const work = mkdtempSync(join(tmpdir(), 'estrade-computed-'));
  const [before, lifted, after] = ['before', 'lifted', 'after'].map((name) => join(work, name));
  for (const copy of [before, lifted]) cpSync(resolve(site), copy, { recursive: true });
  const run = (...args) =>
    execFileSync(process.execPath, [estrade, ...args], { cwd: lifted, encoding: 'utf8', maxBuffer: 1e9 });
  const answer = JSON.parse(run('lift', '--recommended', '--styles', 'move', '--json'));
  run('expand', '--out', after);
  for (const path of globSync(['**/*.css'], { cwd: after })) {
    const css = readFileSync(join(after, path), 'utf8');
    if (spoil(css) !== css) writeFileSync(join(after, path), spoil(css));
  }
  const moved = answer.styles.moved.reduce((sum, { rules }) => sum + rules.length, 0);
  return { work, before, after, moved, staying: answer.styles.staying.length };
}

/** Styles of all elements of the page that is open, one string an element and pseudo-element. */
function collect() {
  const rulesOf = (sheet) => {
    try {
      return Array.from(sheet.cssRules, (rule) => rule.cssText);
    } catch {
      return []; // one that is elsewhere, or not there
    }
  };
  const rules = Array.from(document.styleSheets).flatMap(rulesOf).join(' ');
  const some = ['marker', 'placeholder', 'first-line', 'first-letter', 'selection'].filter((name) =>
    rules.includes(`:${name}`),
  );
  const names = Array.from(getComputedStyle(document.documentElement)).filter((name) => !name.startsWith('--'));
  names.push(...new Set(rules.match(/--[\w-]+(?=:)/g)));
  names.sort();
  const found = [];
  for (const element of document.querySelectorAll('*')) {
    if (element.closest('head') !== null) continue;
    const pseudos = ['::before', '::after'].filter((pseudo) => getComputedStyle(element, pseudo).content !== 'none');
    for (const pseudo of ['', ...pseudos, ...some.map((name) => `::${name}`)]) {
      const style = getComputedStyle(element, pseudo === '' ? null : pseudo);
      found.push(
        `${element.localName}${pseudo} ${names.map((name) => `${name}:${style.getPropertyValue(name)}`).join(';')}`,
      );
    }
  }
  return found;
}

/** Opens a page and reads its styles and its picture, at one moment of what moves. */
async function lookAt(page, address, { width, height, media }) {
  await page.setViewportSize({ width, height });
  await page.emulateMedia({ media, reducedMotion: 'reduce' });
  await page.goto(address, { waitUntil: 'load' });
  await page.evaluate(() => {
    for (const animation of document.getAnimations()) animation.currentTime = 0;
  });
  const styles = await page.evaluate(collect);
  if (media !== 'screen') return { styles, picture: Buffer.of() };
  await page.evaluate(() => Promise.all(Array.from(document.images, (image) => image.decode().catch(() => {}))));
  const shoot = () => page.screenshot({ fullPage: true });
  let picture = await shoot();
  // painting may go on for a while: the picture counts when the next one is the same
  for (let tries = 0; tries < 8; tries++) {
    const next = await shoot();
    if (next.equals(picture)) break;
    picture = next;
  }
  return { styles, picture };
}

/**
 * Compares two folders of pages. With `elements`, the second one has custom elements: then both are opened from disk, with
 * `scripts` or without, and their pictures alone are compared. `only` is a glob of pages.
 */
export async function compareSites(before, after, { elements = false, scripts = false, only = '**/*.html' } = {}) {
  const browser = await chromium.launch({ executablePath: findChromium(), args: ['--no-sandbox', '--disable-gpu'] });
  const result = { pages: 0, styles: 0, different: [], pictures: 0, changed: [] };
  try {
    const context = await browser.newContext({ javaScriptEnabled: scripts, deviceScaleFactor: 1 });
    let folder = before;
    await context.route(/^https?:/, (route) => {
      const { host, pathname } = new URL(route.request().url());
      const file = join(folder, decodeURIComponent(pathname));
      if (host !== 'site.test' || !existsSync(file)) return route.abort();
      return route.fulfill({
        body: readFileSync(file),
        contentType: TYPES[extname(file)] ?? 'application/octet-stream',
      });
    });
    const page = await context.newPage();
    // time stands still in the pages: a short animation would be over sooner or later
    const session = await context.newCDPSession(page);
    await session.send('Animation.enable');
    await session.send('Animation.setPlaybackRate', { playbackRate: 0 });
    for (const path of globSync([only], { cwd: before }).sort()) {
      result.pages++;
      for (const { name, width, height, media } of SCREENS) {
        if (elements && media !== 'screen') continue;
        const screen = { width, height, media };
        const addressIn = (from) => (elements ? pathToFileURL(join(from, path)).href : `http://site.test/${path}`);
        const look = async (from) => ((folder = from), lookAt(page, addressIn(from), screen));
        let one = await look(before);
        let two = await look(after);
        if (!elements) result.styles += one.styles.length;
        one.styles.forEach((style, i) => {
          if (elements) return;
          if (style !== two.styles[i])
            result.different.push(`${path} (${name}): ${firstDifference(style, two.styles[i] ?? '')}`);
        });
        if (media !== 'screen') continue;
        result.pictures++;
        // shades of two in 255 may come out otherwise when the same page is drawn again: then both are drawn again
        for (let tries = 0; tries < 6 && !one.picture.equals(two.picture); tries++)
          if (tries % 2 === 0) one = await look(before);
          else two = await look(after);
        if (!one.picture.equals(two.picture)) result.changed.push(`${path} (${name})`);
      }
    }
  } finally {
    await browser.close();
  }
  return result;
}

function firstDifference(one, two) {
  const others = two.split(';');
  const at = one.split(';').findIndex((each, i) => each !== others[i]);
  return `${one.slice(0, 30)}… ${one.split(';')[at]} became ${others[at]}`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const { work, before, after, moved, staying } = liftCopy(process.argv[2]);
  const { pages, styles, different, pictures, changed } = await compareSites(before, after);
  console.log(`${moved} rules moved, ${staying} stay; ${pages} pages`);
  console.log(`${styles} computed styles, ${different.length} differ; ${pictures} pictures, ${changed.length} differ`);
  for (const line of [...different, ...changed].slice(0, 20)) console.log(line);
  rmSync(work, { recursive: true });
  process.exitCode = different.length + changed.length > 0 ? 1 : 0;
}
