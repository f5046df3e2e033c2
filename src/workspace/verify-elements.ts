/**
 * Proves emitted elements in a real browser: each page is opened from disk, as it was emitted and as it is expanded, and
 * once its elements are drawn the two must be the same but for the elements themselves.
 */
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { standings } from '../core/emit/elements/standing.js';
import { differenceOfDrawn } from '../core/emit/elements/without.js';
import type { EmitSite } from '../core/emit/model.js';
import { Problem } from '../core/errors.js';
import { loadPackage } from './packages.js';
import type { Verified, VerifiedPage } from './verified.js';

const BROWSERS = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/usr/bin/google-chrome-stable',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
  'C:\\Program Files\\Google\\Chrome\\Application\\chrome.exe',
];

/** What was written, and how an expanded page is written beside it. */
export interface WrittenElements {
  folder: string;
  site: EmitSite;
  encodedLike: (page: string, text: string) => Buffer;
}

/**
 * Looks for what proving needs, before anything is written.
 * @returns what proves emitted elements
 * @throws Problem when the browser, or what drives it, is not installed
 */
export async function elementVerifier(
  root: string,
  prerender: boolean,
): Promise<(written: WrittenElements) => Promise<Verified>> {
  const driver = await loadPackage<typeof import('playwright-core')>(root, 'playwright-core');
  const named = process.env.CHROMIUM_PATH;
  const executablePath = (named === undefined ? BROWSERS : [named]).find((path) => existsSync(path));
  if (executablePath === undefined)
    throw new Problem(`--verify needs Chromium, which is not ${named === undefined ? 'installed' : `at ${named}`}`, {
      hint: 'nothing was written: apt-get install chromium (Debian), or name the program in CHROMIUM_PATH',
    });
  return (written) => verifyElements(driver, executablePath, prerender, written);
}

async function verifyElements(
  { chromium }: typeof import('playwright-core'),
  executablePath: string,
  prerender: boolean,
  { folder, site, encodedLike }: WrittenElements,
): Promise<Verified> {
  const { standing } = standings(site);
  const browser = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu'] });
  /** @returns what differs, null when nothing does */
  const differenceOn = async (path: string, expanded: string, javaScriptEnabled: boolean): Promise<string | null> => {
    const beside = join(folder, dirname(path), `.${basename(path)}.expanded.html`);
    const context = await browser.newContext({ javaScriptEnabled });
    const read = async (file: string) => {
      const page = await context.newPage();
      const errors: string[] = [];
      page.on('pageerror', (error) => errors.push(error.message.split('\n')[0]!));
      await page.goto(pathToFileURL(file).href, { waitUntil: 'load' });
      return { html: await page.content(), errors };
    };
    try {
      writeFileSync(beside, encodedLike(path, expanded));
      const before = await read(beside);
      const after = await read(join(folder, path));
      // what fails without elements too is the page's own
      const failed = after.errors.find((message) => !before.errors.includes(message));
      if (failed !== undefined) return `a script fails: ${failed}`;
      return differenceOfDrawn(before.html, after.html, site, standing);
    } finally {
      rmSync(beside, { force: true });
      await context.close();
    }
  };
  try {
    const pages: VerifiedPage[] = [];
    for (const { path, expanded } of site.pages) {
      let what = await differenceOn(path, expanded, true);
      if (what === null && prerender) {
        what = await differenceOn(path, expanded, false);
        if (what !== null) what = `without script, ${what}`;
      }
      pages.push({
        path,
        same: what === null ? 'markup' : 'different',
        first: what === null ? null : { place: null, what },
      });
    }
    return { checked: null, errors: [], pages };
  } finally {
    await browser.close();
  }
}
