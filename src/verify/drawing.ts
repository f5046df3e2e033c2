/**
 * Draws pages of a site in the browser, the same each time: one moment, no network, nothing that moves. Pages come from a
 * `SiteVersion`; what it does not have is not there, and a page that leads to another one at once stays what it is.
 */
import { lookup } from 'mime-types';
import type { Browser, BrowserContext, CDPSession, Page } from 'playwright-core';
import { browserScript } from './browser.js';
import { passTime, stopClock } from './clock.js';
import type { SiteVersion } from './site-version.js';
import { type OpenPage, readyForStaying } from './staying.js';

/** Where pages stand while they are drawn; no such host is ever asked for. */
const ORIGIN = 'http://site.invalid';
/** CSS pixels that are drawn at once: browsers draw no picture that is much longer. */
const STRIP = 8000;

export interface Screen {
  /** in CSS pixels */
  width: number;
  media: 'screen' | 'print';
}

/** Height of the window, in CSS pixels; pictures are of the whole page. */
const HEIGHT = 800;

/** A window of the browser in which one page after the other of a version is looked at. */
export interface Window {
  page: Page;
  open: OpenPage;
  /** keeps nothing of one page for the next */
  session: CDPSession;
  /** text of the script that pages are asked with */
  script: string;
}

/** Opens a window with nothing in it; whoever opens it closes it. */
export async function openWindow(browser: Browser, version: SiteVersion): Promise<Window> {
  const context = await browser.newContext({
    deviceScaleFactor: 1,
    reducedMotion: 'reduce',
    serviceWorkers: 'block',
    locale: 'en-GB',
    timezoneId: 'UTC',
  });
  await serveFrom(context, version);
  const page = await context.newPage();
  await stopClock(page);
  const open = await readyForStaying(page);
  return { page, open, session: await context.newCDPSession(page), script: browserScript('measure') };
}

export async function closeWindow({ page }: Window): Promise<void> {
  await page.context().close();
}

/** Opens a page of the window's version; it has loaded, and nothing moves but what `settle` stops. @throws NotLoaded */
export async function openPage({ page, open, session }: Window, path: string, { width, media }: Screen): Promise<void> {
  await session.send('Storage.clearDataForOrigin', { origin: ORIGIN, storageTypes: 'all' });
  await page.setViewportSize({ width, height: HEIGHT });
  await page.emulateMedia({ media, reducedMotion: 'reduce' });
  const url = new URL(path.split('/').map(encodeURIComponent).join('/'), ORIGIN);
  await open(path, url.href);
  await passTime(page);
}

/** Calls a function of `src/browser/measure.ts` in a page; what it answers comes as JSON, which is quick to hand over. */
export async function measure<T = void>({ page, script }: Window, name: string, ...args: unknown[]): Promise<T> {
  const given = args.map((arg) => JSON.stringify(arg)).join(', ');
  const call = `(async () => { ${script}; return JSON.stringify((await measure.${name}(${given})) ?? null); })()`;
  return JSON.parse(await page.evaluate<string>(call)) as T;
}

/** Answers all that pages of a context ask for from the site, and nothing from the network. */
async function serveFrom(context: BrowserContext, version: SiteVersion): Promise<void> {
  await context.routeWebSocket(/./, (socket) => socket.close());
  await context.route(/^(?!data:|blob:|about:)/, (route) => {
    const { origin, pathname } = new URL(route.request().url());
    const path = origin === ORIGIN ? decodedPath(pathname) : null;
    const found = path === null ? null : fileAt(version, path);
    if (found === null) return path === null ? route.abort() : route.fulfill({ status: 404, body: '' });
    return route.fulfill({ body: found.bytes, contentType: lookup(found.path) || 'application/octet-stream' });
  });
}

/** The file of a URL: of a folder, its `index.html`. */
function fileAt(version: SiteVersion, path: string): { path: string; bytes: Buffer } | null {
  const own = path === '' || path.endsWith('/') ? `${path}index.html` : path;
  const bytes = version.read(own);
  return bytes === null ? null : { path: own, bytes };
}

/** The path of a URL without its first slash; null where it is not spelled as URLs are. */
function decodedPath(pathname: string): string | null {
  try {
    return decodeURIComponent(pathname.slice(1));
  } catch {
    return null;
  }
}

/** The picture of the whole page, in strips from the top, as PNG files. */
export async function drawPage({ session }: Window): Promise<Buffer[]> {
  const { cssContentSize, cssLayoutViewport } = await session.send('Page.getLayoutMetrics');
  const width = cssLayoutViewport.clientWidth;
  const height = Math.max(Math.ceil(cssContentSize.height), cssLayoutViewport.clientHeight);
  const strips: Buffer[] = [];
  for (let y = 0; y < height; y += STRIP) {
    const clip = { x: 0, y, width, height: Math.min(STRIP, height - y), scale: 1 };
    const options = { format: 'png', captureBeyondViewport: true, optimizeForSpeed: true, clip } as const;
    strips.push(Buffer.from((await session.send('Page.captureScreenshot', options)).data, 'base64'));
  }
  return strips;
}
