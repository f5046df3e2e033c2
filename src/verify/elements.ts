/**
 * Proves emitted elements in a real browser: each page is opened from disk, as it was emitted and as it is expanded, and
 * once its elements are drawn the two must be the same but for the elements themselves.
 */
import { rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { standings } from '../core/emit/elements/standing.js';
import { differenceOfDrawn } from '../core/emit/elements/without.js';
import type { EmitSite } from '../core/emit/model.js';
import { findBrowser, type LaunchBrowser } from './browser.js';
import type { Verified, VerifiedPage } from './verified.js';

/** What was written, and how an expanded page is written beside it. */
export interface WrittenElements {
  folder: string;
  site: EmitSite;
  encodedLike: (page: string, text: string) => Buffer;
}

/**
 * Looks for what proving needs, before anything is written.
 * @returns what proves emitted elements
 * @throws Problem when the browser is not installed
 */
export function elementVerifier(prerender: boolean): (written: WrittenElements) => Promise<Verified> {
  const launch = findBrowser('--verify');
  return (written) => verifyElements(launch, prerender, written);
}

async function verifyElements(
  launch: LaunchBrowser,
  prerender: boolean,
  { folder, site, encodedLike }: WrittenElements,
): Promise<Verified> {
  const { standing } = standings(site);
  const browser = await launch();
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
