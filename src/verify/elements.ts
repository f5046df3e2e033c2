/**
 * Proves emitted elements in a real browser: each page is opened from disk, as it was emitted and as it is expanded, and
 * once its elements are drawn the two must be the same but for the elements themselves.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Browser, Page } from 'playwright-core';
import { elementsFolder, loadedBy } from '../core/emit/elements/loaded.js';
import { standings } from '../core/emit/elements/standing.js';
import { differenceOfDrawn, type Drawn } from '../core/emit/elements/without.js';
import type { EmitSite } from '../core/emit/model.js';
import { pairThatDiffers } from './again.js';
import { findBrowser, type LaunchBrowser } from './browser.js';
import { passTime, stopClock } from './clock.js';
import { NOT_LOADED, NotLoaded, type OpenPage, orNotLoaded, readyForStaying } from './staying.js';
import type { Verified, VerifiedPage } from './verified.js';

/** What was written, and how an expanded page would be. */
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

/** Pages that are looked at at once. */
const AT_ONCE = 2;
/** So often a page is read again that differs. */
const READ_AGAIN = 2;

async function verifyElements(
  launch: LaunchBrowser,
  prerender: boolean,
  { folder, site, encodedLike }: WrittenElements,
): Promise<Verified> {
  const { components } = site;
  const { standing } = standings(site);
  const modules = elementsFolder(site);
  const browser = await launch();
  try {
    const pages: VerifiedPage[] = [];
    const all = site.pages.entries();
    const work = async () => {
      const ready = async () => ({
        scripted: await openWindows(browser, true),
        plain: prerender ? await openWindows(browser, false) : null,
      });
      let { scripted, plain } = await ready();
      // each takes the next page that nobody has taken
      for (const [i, page] of all) {
        const { path, expanded } = page;
        const file = join(folder, path);
        const opened = {
          url: pathToFileURL(file).href,
          expanded: encodedLike(path, expanded),
          written: readFileSync(file),
        };
        const made = { components, standing, loaded: loadedBy(page, modules) };
        const differenceIn = (windows: Windows, scripts: boolean) =>
          differenceOf(() => readBoth(windows, { ...opened, path, scripts }), made);
        const compared = async () => {
          const drawn = await differenceIn(scripted, true);
          const still = drawn === null && plain !== null ? await differenceIn(plain, false) : null;
          return drawn ?? (still === null ? null : `without script, ${still}`);
        };
        const difference = await orNotLoaded(compared());
        if (difference instanceof NotLoaded) {
          // windows that wait are of no use for the next page
          await Promise.all([...scripted, ...(plain ?? [])].map(({ page: each }) => each.context().close()));
          ({ scripted, plain } = await ready());
        }
        const what = difference instanceof NotLoaded ? `it ${NOT_LOADED}` : difference;
        const first = what === null ? null : { place: null, what };
        pages[i] = { path, same: what === null ? 'markup' : 'different', first };
      }
    };
    await Promise.all(Array.from({ length: Math.min(AT_ONCE, site.pages.length) }, work));
    return { checked: null, errors: [], pages };
  } finally {
    await browser.close();
  }
}

/** Lets nothing change little by little, which takes its time whatever the clock says. Runs in the page. */
const NO_TRANSITIONS = `(() => {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync('*, ::before, ::after { transition: none !important; animation: none !important }');
  document.adoptedStyleSheets = [sheet];
})()`;

/** One for pages as they expand and one for pages as they were written: each sees all of them in the same order. */
type Windows = readonly [before: Window, after: Window];

interface Window {
  page: Page;
  open: OpenPage;
}

async function openWindows(browser: Browser, javaScriptEnabled: boolean): Promise<Windows> {
  const openWindow = async (): Promise<Window> => {
    const page = await (await browser.newContext({ javaScriptEnabled, offline: true })).newPage();
    const open = await readyForStaying(page);
    if (javaScriptEnabled) {
      await stopClock(page);
      await page.addInitScript({ content: NO_TRANSITIONS });
    }
    return { page, open };
  };
  return [await openWindow(), await openWindow()];
}

/** A page as a browser has it. */
interface ReadPage {
  html: string;
  /** first lines of what scripts failed with */
  errors: string[];
}

/** The bytes of a page as it expands and as it was written, and whether scripts run in the windows. */
interface OpenedPage {
  path: string;
  url: string;
  expanded: Buffer;
  written: Buffer;
  scripts: boolean;
}

/** Both at the same address, for scripts may ask for it. */
function readBoth(
  [before, after]: Windows,
  { path, url, expanded, written, scripts }: OpenedPage,
): Promise<[ReadPage, ReadPage]> {
  const read = async ({ page, open }: Window, bytes: Buffer): Promise<ReadPage> => {
    const errors: string[] = [];
    const note = (error: Error) => errors.push(error.message.split('\n')[0]!);
    page.on('pageerror', note);
    await open(path, url, { bytes, scripts });
    if (scripts) await passTime(page);
    const html = await page.content();
    page.off('pageerror', note);
    return { html, errors };
  };
  return Promise.all([read(before, expanded), read(after, written)]);
}

/** What differs each time that both are read, null when nothing does. */
async function differenceOf(read: () => Promise<[ReadPage, ReadPage]>, drawn: Drawn): Promise<string | null> {
  const areAlike = (before: ReadPage, after: ReadPage) => differenceBetween(before, after, drawn) === null;
  const pair = await pairThatDiffers(read, areAlike, READ_AGAIN);
  return pair && differenceBetween(...pair, drawn);
}

function differenceBetween(before: ReadPage, after: ReadPage, drawn: Drawn): string | null {
  // what fails without elements too is the page's own
  const failed = after.errors.find((message) => !before.errors.includes(message));
  if (failed !== undefined) return `a script fails: ${failed}`;
  return differenceOfDrawn(before.html, after.html, drawn);
}
