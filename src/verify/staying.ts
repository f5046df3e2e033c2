/** Opens pages so that they stay what they are, though they lead elsewhere at once: a redirect, a form that a script sends. */
import type { Page, Route } from 'playwright-core';

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

/** Opens an address in a window that is ready for it, and waits until it has loaded. */
export async function openStaying(page: Page, url: string): Promise<void> {
  await page.unroute(ANYTHING, refuseOthers);
  await page.goto(url, { waitUntil: 'commit' });
  // without scripts nothing is cancelled, and `meta refresh` leads away once a page has loaded
  await page.route(ANYTHING, refuseOthers);
  // asked of the page: where a form in it was sent, the driver would wait for what is answered
  await page.waitForFunction('document.readyState === "complete"');
}

/** Answers nothing where a window is led to another page, so that it keeps the one it has. */
function refuseOthers(route: Route): Promise<void> {
  const request = route.request();
  const leads = request.isNavigationRequest() && request.frame().parentFrame() === null;
  return leads ? route.fulfill({ status: 204 }) : route.fallback();
}
