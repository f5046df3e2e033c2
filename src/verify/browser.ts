/** The system's Chromium, for whoever looks at pages: found, or told how to install it. */
import { existsSync, readFileSync } from 'node:fs';
import type { Browser } from 'playwright-core';
import { Problem } from '../core/errors.js';

/** The first that is there is taken; the one that only draws, and shows no window, starts and opens pages twice as fast. */
const BROWSERS = [
  '/usr/bin/chromium-headless-shell',
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/usr/bin/google-chrome-stable',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
  'C:\\Program Files\\Google\\Chrome\\Application\\chrome.exe',
];

/** Signals that end the program and its browser, with the exit status that shells give them. */
const SIGNALS = [
  ['SIGHUP', 129],
  ['SIGINT', 130],
  ['SIGTERM', 143],
] as const;

/** Starts a browser that is there; whoever starts it closes it. */
export type LaunchBrowser = () => Promise<Browser>;

/**
 * Looks for Chromium, before anything is written.
 * @param wanted what needs it, such as an option
 * @throws Problem when it is not installed
 */
export function findBrowser(wanted: string): LaunchBrowser {
  const named = process.env.CHROMIUM_PATH;
  const executablePath = (named === undefined ? BROWSERS : [named]).find((path) => existsSync(path));
  if (executablePath === undefined)
    throw new Problem(`${wanted} needs Chromium, which is not ${named === undefined ? 'installed' : `at ${named}`}`, {
      hint: 'nothing was written: apt-get install chromium-headless-shell (Debian), or name the program in CHROMIUM_PATH',
    });
  return async () => {
    const { chromium } = await import('playwright-core');
    const browser = await chromium.launch({
      executablePath,
      // pictures that move stand at their first frame
      args: ['--no-sandbox', '--disable-gpu', '--blink-settings=imageAnimationPolicy=2'],
    });
    // at a signal it is closed, which whoever asks it something takes for an error: the status tells that it is none
    for (const [signal, status] of SIGNALS) {
      const end = () => (process.exitCode = status);
      process.once(signal, end);
      browser.once('disconnected', () => process.off(signal, end));
    }
    return browser;
  };
}

/** The text of a script that runs in pages (`src/browser`), as it was built. */
export function browserScript(name: string): string {
  return readFileSync(new URL(`../browser/${name}.js`, import.meta.url), 'utf8');
}
