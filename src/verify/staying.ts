/** Opens pages so that they stay what they are, though they lead elsewhere at once: a redirect, a form that a script sends. */
import { setTimeout } from 'node:timers/promises';
import type { Page, Route } from 'playwright-core';
import { Problem } from '../core/errors.js';

/** Cancels whatever leads to another page, or to this one again. Runs in the page. */
const STAYING = `if (window === top)
  navigation.addEventListener('navigate', (event) => {
    if (!event.destination.sameDocument) event.preventDefault();
  });`;

/** Whatever a page asks for. */
const ANYTHING = /./;

/** What a page comes with that is given to a window without scripts: nothing leads away from it by itself, not to `about:blank` either. */
const HELD = { 'content-security-policy': 'sandbox allow-same-origin' };

/** Readies a window, in which scripts run or do not, for `openStaying`. */
export async function readyForStaying(page: Page): Promise<void> {
  await page.addInitScript({ content: STAYING });
}

/** Milliseconds that a page may take to load, and after which it is asked again whether it has. */
const PATIENCE = 60_000;
const PAUSE = 10;

/** The bytes of a page, and whether its scripts run. */
export interface GivenPage {
  bytes: Buffer;
  scripts: boolean;
}

/**
 * Opens an address in a window that is ready for it, and waits until it has loaded.
 * @param given the page that is there, whatever is
 * @throws Problem where it does not load
 */
export async function openStaying(page: Page, url: string, given?: GivenPage): Promise<void> {
  await page.unroute(ANYTHING);
  await page.route(ANYTHING, refusingOthers(given));
  await page.goto(url, { waitUntil: 'commit' });
  await untilLoaded(page, url);
}

/**
 * Asks the page: where a form in it was sent, the driver would wait for what is answered. It is asked from outside, for a page
 * without scripts does not look again by itself.
 */
async function untilLoaded(page: Page, url: string): Promise<void> {
  const end = Date.now() + PATIENCE;
  const state = () =>
    page.evaluate('document.readyState').catch((error: unknown) => {
      // else the window goes elsewhere, as to `about:blank`, which nobody answers
      if (page.isClosed()) throw error;
      return null;
    });
  while ((await state()) !== 'complete') {
    if (Date.now() > end)
      throw new Problem(`${url} has not loaded within ${PATIENCE / 1000} seconds`, {
        hint: 'open it in a browser and look what it waits for',
      });
    await setTimeout(PAUSE);
  }
}

/**
 * What answers nothing where a window is led to another page than the first, so that it keeps the one it has: without scripts
 * nothing is cancelled, and `meta refresh` leads away once a page has loaded.
 */
function refusingOthers(given?: GivenPage): (route: Route) => Promise<void> {
  let isFirst = true;
  return (route) => {
    const request = route.request();
    const leads = request.isNavigationRequest() && request.frame().parentFrame() === null;
    if (!leads) return route.fallback();
    if (!isFirst) return route.fulfill({ status: 204 });
    isFirst = false;
    if (given === undefined) return route.fallback();
    const headers = { 'content-type': 'text/html', ...(given.scripts ? {} : HELD) };
    return route.fulfill({ body: given.bytes, headers });
  };
}
