/** Small pictures of parts of pages, drawn by the browser. */
import type { Browser } from 'playwright-core';
import { OFFSET_ATTRIBUTE } from '../core/component/trace.js';
import type { LaunchBrowser } from './browser.js';
import { closeWindow, measure, openPage, openWindow, type Window } from './drawing.js';
import { NotLoaded, orNotLoaded } from './staying.js';
import type { Box } from './images.js';
import type { SiteVersion } from './site-version.js';

/** Something that stands at several places, of which one is drawn. */
export interface WantedPart {
  name: string;
  places: readonly PartPlace[];
}

export interface PartPlace {
  /** of the page */
  path: string;
  /** values of `OFFSET_ATTRIBUTE` of its outermost elements */
  roots: readonly number[];
}

export interface Thumbnail {
  /** a WebP file */
  image: Buffer;
  /** in CSS pixels, as it is to be shown */
  width: number;
  height: number;
  /** path of the page on which it is drawn */
  page: string;
}

export interface Thumbnails {
  /** width of the window, in CSS pixels */
  width: number;
  /** most bytes that all pictures together come to */
  mostBytes: number;
  tick: (done: number, all: number) => void;
}

/** CSS pixels that a picture is wide and high at most. */
const WIDEST = 720;
const HIGHEST = 420;
/** CSS pixels around a part that are drawn with it. */
const AROUND = 4;
/** Pages on which a part is looked for, and places on each. */
const PAGES = 3;
const PLACES = 6;
const QUALITY = 80;
/** So often a picture is made smaller, each time by so much, until it is small enough. */
const TRIES = 8;
const SMALLER = 0.75;

/**
 * @param version whose pages have their elements' offsets in `OFFSET_ATTRIBUTE`
 * @returns pictures by name, none of what shows nowhere; and what did not load in time
 */
export async function drawParts(
  launch: LaunchBrowser,
  version: SiteVersion,
  wanted: readonly WantedPart[],
  { width, mostBytes, tick }: Thumbnails,
): Promise<{ drawn: Map<string, Thumbnail>; unloaded: NotLoaded[] }> {
  const drawn = new Map<string, Thumbnail>();
  const unloaded: NotLoaded[] = [];
  const most = Math.floor(mostBytes / Math.max(1, wanted.length));
  const browser: Browser = await launch();
  try {
    let window = await openWindow(browser, version);
    for (let round = 0; round < PAGES; round++) {
      const byPage = new Map<string, WantedPart[]>();
      for (const part of wanted) {
        const path = [...new Set(part.places.map((place) => place.path))][round];
        if (path !== undefined && !drawn.has(part.name)) byPage.set(path, [...(byPage.get(path) ?? []), part]);
      }
      for (const [path, parts] of byPage) {
        tick(drawn.size, wanted.length);
        const opened = await orNotLoaded(openPage(window, path, { width, media: 'screen' }));
        if (opened instanceof NotLoaded) {
          unloaded.push(opened);
          await closeWindow(window);
          window = await openWindow(browser, version);
          continue;
        }
        await measure(window, 'settle');
        await measure(window, 'stopTransitions');
        for (const part of parts) {
          const found = await drawPart(
            window,
            part.places.filter((place) => place.path === path).slice(0, PLACES),
            most,
          );
          if (found !== null) drawn.set(part.name, found);
        }
      }
    }
    await closeWindow(window);
  } finally {
    await browser.close();
  }
  return { drawn, unloaded };
}

/** Draws the first of the places that shows; null where none does, or no picture is small enough. */
async function drawPart(window: Window, places: PartPlace[], most: number): Promise<Thumbnail | null> {
  for (const place of places) {
    const box = await measure<Box | null>(window, 'boxAround', [...place.roots], OFFSET_ATTRIBUTE);
    if (box === null) continue;
    const clip = await clipAround(window, box);
    if (clip.width < 1 || clip.height < 1) continue;
    let scale = Math.min(1, WIDEST / clip.width);
    for (let run = 0; run < TRIES; run++, scale *= SMALLER) {
      const { data } = await window.session.send('Page.captureScreenshot', {
        format: 'webp',
        quality: QUALITY,
        captureBeyondViewport: true,
        clip: { ...clip, scale },
      });
      const image = Buffer.from(data, 'base64');
      const shown = Math.min(1, WIDEST / clip.width);
      if (image.length <= most)
        return {
          image,
          width: Math.round(clip.width * shown),
          height: Math.round(clip.height * shown),
          page: place.path,
        };
    }
  }
  return null;
}

/** What is drawn of a box: as far as it is on the page, and not beyond what can be looked at at once. */
async function clipAround({ session }: Window, box: Box): Promise<Box> {
  const { cssContentSize } = await session.send('Page.getLayoutMetrics');
  const [left, top] = [Math.max(0, box.x - AROUND), Math.max(0, box.y - AROUND)];
  const width = Math.min(cssContentSize.width, box.x + box.width + AROUND) - left;
  const height = Math.min(cssContentSize.height, box.y + box.height + AROUND) - top;
  return { x: left, y: top, width, height: Math.min(height, (HIGHEST * Math.max(width, WIDEST)) / WIDEST) };
}
