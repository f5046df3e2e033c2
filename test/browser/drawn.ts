/** Draws the pages of two folders as they open from disk, and compares their pictures. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Page } from 'playwright-core';
import { globSync } from 'tinyglobby';
import { findBrowser } from '../../src/verify/browser.js';

/** The system's Chromium. */
export const launch = findBrowser('this test');

/** @returns how many pictures of each folder were drawn, and which differ */
export async function drawFolders(
  before: string,
  after: string,
  { scripts, only = '**/*.html' }: { scripts: boolean; only?: string | undefined },
): Promise<{ pictures: number; different: string[] }> {
  const browser = await launch();
  try {
    const context = await browser.newContext({ javaScriptEnabled: scripts, reducedMotion: 'reduce' });
    const window = await context.newPage();
    const differs = async (path: string) => {
      let [one, two] = [await picture(window, before, path), await picture(window, after, path)];
      // shades are left to chance: what differs is drawn again
      for (let tries = 0; tries < 6 && !one.equals(two); tries++)
        if (tries % 2 === 0) one = await picture(window, before, path);
        else two = await picture(window, after, path);
      return !one.equals(two);
    };
    const found = { pictures: 0, different: [] as string[] };
    for (const path of globSync([only], { cwd: before }).sort())
      for (const width of [1280, 400]) {
        await window.setViewportSize({ width, height: 800 });
        found.pictures++;
        if (await differs(path)) found.different.push(`${path} ${width}`);
      }
    return found;
  } finally {
    await browser.close();
  }
}

async function picture(window: Page, folder: string, path: string): Promise<Buffer> {
  await window.goto(pathToFileURL(join(folder, path)).href, { waitUntil: 'load' });
  return window.screenshot({ fullPage: true, animations: 'disabled' });
}
