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

/** Milliseconds that a page may take to load, and after which it is asked again whether it has. */
const PATIENCE = 60_000;
const PAUSE = 10;

/** The bytes of a page, and whether its scripts run. */
export interface GivenPage {
  bytes: Buffer;
  scripts: boolean;
}

/**
 * Opens an address, and waits until it has loaded; the path names it where it does not.
 * @param given the page that is there, whatever is
 * @throws NotLoaded
 */
export type OpenPage = (path: string, url: string, given?: GivenPage) => Promise<void>;

/** What is said of a page that did not load in time. */
export const NOT_LOADED = `has not loaded within ${PATIENCE / 1000} seconds`;

/** A page that did not load in time. What else is done in its window may wait for ever, so that it is to be closed. */
export class NotLoaded extends Problem {
  constructor(readonly path: string) {
    super(`${path} ${NOT_LOADED}`, {
      hint: 'open it in a browser and look what it waits for',
    });
  }
}

/** What some work comes to, or the page that did not load in it. */
export function orNotLoaded<T>(work: Promise<T>): Promise<T | NotLoaded> {
  return work.catch((error: unknown) => {
    if (error instanceof NotLoaded) return error;
    throw error;
  });
}

/** Readies a window, in which scripts run or do not. @returns what opens one page after the other in it */
export async function readyForStaying(page: Page): Promise<OpenPage> {
  await page.addInitScript({ content: STAYING });
  /** answers what leads the window to the page that is opened; null once that has come */
  let first: ((route: Route) => Promise<void>) | null = null;
  await page.route(ANYTHING, (route) => {
    const request = route.request();
    const leads = request.isNavigationRequest() && request.frame().parentFrame() === null;
    if (!leads) return route.fallback();
    const answer = first;
    first = null;
    // the window keeps the page it has: without scripts nothing is cancelled, and `meta refresh` leads away once it has loaded
    return answer === null ? route.fulfill({ status: 204 }) : answer(route);
  });
  return async (path, url, given) => {
    first = (route) => {
      if (given === undefined) return route.fallback();
      const headers = { 'content-type': 'text/html', ...(given.scripts ? {} : HELD) };
      return route.fulfill({ body: given.bytes, headers });
    };
    await page.goto(url, { waitUntil: 'commit' });
    if (!(await hasLoaded(page))) throw new NotLoaded(path);
  };
}

/**
 * Waits for a page. It is asked: where a form in it was sent, the driver would wait for what is answered; and from outside, for
 * one without scripts does not look again by itself.
 * @returns false where it has not loaded in time, or is too busy to say so
 */
async function hasLoaded(page: Page): Promise<boolean> {
  const end = Date.now() + PATIENCE;
  const late = setTimeout(PATIENCE, 'late', { ref: false });
  const state = () =>
    page.evaluate<string>('document.readyState').catch((error: unknown) => {
      // else the window goes elsewhere, as to `about:blank`, which nobody answers
      if (page.isClosed()) throw error;
      return null;
    });
  while (Date.now() < end) {
    if ((await Promise.race([state(), late])) === 'complete') return true;
    await setTimeout(PAUSE);
  }
  return false;
}
