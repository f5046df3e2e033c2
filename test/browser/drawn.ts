/** Draws the pages of two folders as they open from disk, and compares their pictures. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Browser, Page } from 'playwright-core';
import { globSync } from 'tinyglobby';
import { findBrowser } from '../../src/verify/browser.js';
import { isDeep } from '../arbitrary/cases.js';

/** In CSS pixels. */
export const WIDTHS = isDeep ? [1280, 400] : [1280];

/** The system's Chromium. */
export const launch = findBrowser('this test');

/** What is drawn, and how often again where it differs, since painting leaves shades to chance. */
export interface Drawing {
  scripts: boolean;
  only: string;
  redrawn?: number;
}

/** @returns how many pictures of each folder were drawn, and which differ */
export async function drawFolders(
  browser: Browser,
  [before, after]: [string, string],
  { scripts, only, redrawn = 6 }: Drawing,
): Promise<{ pictures: number; different: string[] }> {
  const context = await browser.newContext({ javaScriptEnabled: scripts, reducedMotion: 'reduce' });
  try {
    const window = await context.newPage();
    const differs = async (path: string) => {
      let [one, two] = [await picture(window, before, path), await picture(window, after, path)];
      for (let tries = 0; tries < redrawn && !one.equals(two); tries++)
        if (tries % 2 === 0) one = await picture(window, before, path);
        else two = await picture(window, after, path);
      return !one.equals(two);
    };
    const found = { pictures: 0, different: [] as string[] };
    for (const path of globSync([only], { cwd: before }).sort())
      for (const width of WIDTHS) {
        await window.setViewportSize({ width, height: 800 });
        found.pictures++;
        if (await differs(path)) found.different.push(`${path} ${width}`);
      }
    return found;
  } finally {
    await context.close();
  }
}

async function picture(window: Page, folder: string, path: string): Promise<Buffer> {
  await window.goto(pathToFileURL(join(folder, path)).href, { waitUntil: 'load' });
  return window.screenshot({ fullPage: true, animations: 'disabled' });
}
