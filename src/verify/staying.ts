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

/** Readies a window, in which scripts run or do not, for `openStaying`. */
export async function readyForStaying(page: Page): Promise<void> {
  await page.addInitScript({ content: STAYING });
}

/** Milliseconds that a page may take to load, and after which it is asked again whether it has. */
const PATIENCE = 60_000;
const PAUSE = 10;

/**
 * Opens an address in a window that is ready for it, and waits until it has loaded.
 * @param instead bytes of the page that is there instead of what is
 * @throws Problem where it does not load
 */
export async function openStaying(page: Page, url: string, instead?: Buffer): Promise<void> {
  await page.unroute(ANYTHING);
  await page.route(ANYTHING, refusingOthers(instead));
  await page.goto(url, { waitUntil: 'commit' });
  await untilLoaded(page, url);
}

/**
 * Asks the page: where a form in it was sent, the driver would wait for what is answered. It is asked from outside, for a page
 * without scripts does not look again by itself.
 */
async function untilLoaded(page: Page, url: string): Promise<void> {
  const end = Date.now() + PATIENCE;
  // it fails while the window goes elsewhere, as to `about:blank`, which nobody answers
  const state = () => page.evaluate('document.readyState').catch(() => null);
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
function refusingOthers(instead?: Buffer): (route: Route) => Promise<void> {
  let isFirst = true;
  return (route) => {
    const request = route.request();
    const leads = request.isNavigationRequest() && request.frame().parentFrame() === null;
    if (!leads) return route.fallback();
    if (!isFirst) return route.fulfill({ status: 204 });
    isFirst = false;
    return instead === undefined ? route.fallback() : route.fulfill({ body: instead, contentType: 'text/html' });
  };
}
