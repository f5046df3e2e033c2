/** Time, random numbers and frames in pages, the same each time. */
import type { Page } from 'playwright-core';

/** When it is in pages. */
const NOW = Date.parse('2030-01-15T12:00:00Z');
/** Milliseconds that pass for scripts after a page has loaded. */
const PASSED = 2000;
/** Milliseconds between two frames. */
const FRAME = 16;

/**
 * Makes random numbers, the time since a page began, and when its frames come the same each time. Runs in the page, after its
 * clock is set, whose own frames come at any time within the first one.
 */
const SAME_NUMBERS = `(() => {
  let state = 1;
  Math.random = () => (state = (state * 48271) % 0x7fffffff) / 0x7fffffff;
  const start = Date.now();
  performance.now = () => Date.now() - start;
  const { setTimeout, clearTimeout } = window;
  window.requestAnimationFrame = (callback) =>
    setTimeout(() => callback(performance.now()), ${FRAME} - (performance.now() % ${FRAME}));
  window.cancelAnimationFrame = (handle) => clearTimeout(handle);
})()`;

/** Stops time for all pages that a window will open; it runs scripts. */
export async function stopClock(page: Page): Promise<void> {
  // time can only be stopped at one to come
  await page.clock.install({ time: NOW - 60_000 });
  await page.clock.pauseAt(NOW);
  await page.addInitScript({ content: SAME_NUMBERS });
}

/** Lets all happen that scripts wait for, once a page has loaded. */
export async function passTime(page: Page): Promise<void> {
  // when all that is due has run, the first error of a script is thrown here: that is the page's own
  await page.clock.runFor(PASSED).catch(() => undefined);
}
