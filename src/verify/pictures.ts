/**
 * Proves with the browser's eyes that pages are as they were: pictures of the whole pages, pixel by pixel, and what every
 * element computes to.
 */
import type { Browser } from 'playwright-core';
import { USED_VALUES } from '../browser/computed.js';
import { OFFSET_ATTRIBUTE } from '../core/component/trace.js';
import { pairThatDiffers } from './again.js';
import type { LaunchBrowser } from './browser.js';
import { closeWindow, drawPage, measure, openPage, openWindow, type Screen, type Window } from './drawing.js';
import { farthest, type ImageDifference, imageDifference, type Strips } from './images.js';
import type { SiteVersion } from './site-version.js';
import { NotLoaded, orNotLoaded } from './staying.js';

export interface Comparing {
  /** paths of pages */
  pages: string[];
  before: SiteVersion;
  after: SiteVersion;
  /** a page as it is after, its elements with their offsets in `OFFSET_ATTRIBUTE` */
  withOffsets: (path: string) => Buffer;
  /** widths of the window, in CSS pixels */
  widths: readonly number[];
  /** whether pictures are compared, and computed styles */
  pictures: boolean;
  computed: boolean;
  tick: (done: number, all: number) => void;
}

/** An element in which something differs. */
export interface DrawnElement {
  /** start of its tag, with its classes */
  element: string;
  /** UTF-16 offset of its start tag in the page as it is after; null for what a script made */
  offset: number | null;
}

export interface PictureDifference extends ImageDifference {
  path: string;
  width: number;
  /** the innermost elements around what differs, each once: where it begins, then from the top of the page */
  elements: DrawnElement[];
}

export interface StyleDifference extends DrawnElement {
  path: string;
  width: number;
  media: Screen['media'];
  /** such as `::before`; '' for the element itself */
  pseudo: string;
  property: string;
  before: string;
  after: string;
}

/** What differs on one page and screen, or on all. */
export interface Differences {
  different: PictureDifference[];
  /** how many elements and pseudo-elements were read in each version, all pages and screens together */
  styled: number;
  restyled: StyleDifference[];
}

export interface Compared extends Differences {
  /** pages that did not load in time, in one version or both, so that they are not compared */
  unloaded: { path: string; message: string }[];
  /** how many pictures were drawn of each version */
  pictures: number;
}

/** So wide is paper, in CSS pixels. */
const PAPER: Screen = { width: 800, media: 'print' };
/** Pages that are open at once, in both versions each. */
const AT_ONCE = 2;
/** What painting leaves to chance differs by so much of 255 at most, and comes out alike after so many times. */
const SHADES = 8;
const REDRAWN = 6;
/** So often pages are opened again on which something differs. */
const REOPENED = 2;
/** So many elements of a page and screen are told whose styles differ. */
const MOST_RESTYLED = 5;
/** So many of them are read to find those, some at a time, for all that an element computes to is much to read. */
const MOST_READ = 200;
const READ_AT_ONCE = 20;

/** Draws and compares all pages. */
export async function comparePictures(launch: LaunchBrowser, comparing: Comparing): Promise<Compared> {
  const { pages, before, after, widths, computed, pictures, tick } = comparing;
  const screens: Screen[] = widths.map((width) => ({ width, media: 'screen' }));
  const jobs = pages.flatMap((path) => [...screens, ...(computed ? [PAPER] : [])].map((screen) => ({ path, screen })));
  const results: Differences[] = [];
  const unloaded = new Map<string, NotLoaded>();
  const browser = await launch();
  try {
    let next = 0;
    const work = async () => {
      const ready = () => Promise.all([openWindow(browser, before), openWindow(browser, after)]);
      let windows = await ready();
      for (let i = next++; i < jobs.length; i = next++) {
        tick(i, jobs.length);
        if (unloaded.has(jobs[i]!.path)) continue;
        const found = await orNotLoaded(compareOn(windows, browser, comparing, jobs[i]!));
        if (found instanceof NotLoaded) {
          unloaded.set(found.path, found);
          await Promise.all(windows.map(closeWindow));
          windows = await ready();
        } else results[i] = found;
      }
      await Promise.all(windows.map(closeWindow));
    };
    await Promise.all(Array.from({ length: Math.min(AT_ONCE, jobs.length) }, work));
  } finally {
    await browser.close();
  }
  const compared = results.filter((_, i) => !unloaded.has(jobs[i]!.path));
  return {
    unloaded: [...unloaded.values()].map(({ path, message }) => ({ path, message })),
    pictures: pictures ? (pages.length - unloaded.size) * screens.length : 0,
    different: compared.flatMap(({ different }) => different),
    styled: compared.reduce((sum, { styled }) => sum + styled, 0),
    restyled: compared.flatMap(({ restyled }) => restyled),
  };
}

interface Job {
  path: string;
  screen: Screen;
}

/** Compares one page on one screen. */
async function compareOn(
  windows: [Window, Window],
  browser: Browser,
  comparing: Comparing,
  { path, screen }: Job,
): Promise<Differences> {
  const { pictures, computed } = comparing;
  const open = async (window: Window) => {
    await openPage(window, path, screen);
    await measure(window, 'settle');
  };
  const openBoth = () => Promise.all(windows.map(open));
  await openBoth();
  let styles = computed ? await styledOtherwise(...windows) : { styled: 0, changed: [] };
  // what is otherwise only once is left to chance, such as when the browser worked out what a selection looks like
  for (let tries = 0; tries < REOPENED && styles.changed.length > 0; tries++) {
    await openBoth();
    styles = await styledOtherwise(...windows);
  }
  const restyled = await restyledAmong(styles.changed, ...windows);
  const image = pictures && screen.media === 'screen' ? await drawnOtherwise(windows, openBoth) : null;
  const compared: Differences = { different: [], styled: styles.styled, restyled: [] };
  if (image === null && restyled.length === 0) return compared;
  const marked = await openWindow(browser, withOffsetsOn(path, comparing));
  await open(marked);
  const elements = await measure<DrawnElement[]>(
    marked,
    'elementsAround',
    image === null ? [] : [image.first, ...image.boxes],
    OFFSET_ATTRIBUTE,
  );
  if (image !== null) compared.different.push({ ...image, path, width: screen.width, elements: eachOnce(elements) });
  const numbers = restyled.map(({ number }) => number);
  const found = await measure<(DrawnElement | null)[]>(marked, 'elementsAt', numbers, OFFSET_ATTRIBUTE);
  restyled.forEach(({ pseudo, property, before, after }, i) => {
    const element = found[i] ?? { element: 'an element', offset: null };
    compared.restyled.push({ path, ...screen, pseudo, property, before, after, ...element });
  });
  await closeWindow(marked);
  return compared;
}

/** The version after, with the offsets of elements on one page. */
function withOffsetsOn(path: string, { after, withOffsets }: Comparing): SiteVersion {
  return { read: (each) => (each === path ? withOffsets(path) : after.read(each)) };
}

/** Compares pictures of two open pages; where they differ, both are opened again. */
async function drawnOtherwise(
  windows: [Window, Window],
  openBoth: () => Promise<unknown>,
): Promise<ImageDifference | null> {
  const draw = async (time: number) => {
    if (time > 0) await openBoth();
    return drawBoth(...windows);
  };
  const pair = await pairThatDiffers(draw, (before, after) => farthest(before, after) === 0, REOPENED);
  return pair && imageDifference(...pair);
}

/**
 * Draws two open pages. What comes out otherwise is drawn again, for painting may be late; and more often where only shades
 * differ, which may be left to chance.
 */
async function drawBoth(one: Window, two: Window): Promise<[Strips, Strips]> {
  await Promise.all([one, two].map((window) => measure(window, 'stopTransitions')));
  let [before, after] = await Promise.all([drawPage(one), drawPage(two)]);
  let apart = farthest(before, after);
  for (let tries = 0; apart > 0 && tries < (apart > SHADES ? 2 : REDRAWN); tries++) {
    if (tries % 2 === 0) before = await drawPage(one);
    else after = await drawPage(two);
    apart = farthest(before, after);
  }
  return [before, after];
}

interface Restyled extends Pick<StyleDifference, 'pseudo' | 'property' | 'before' | 'after'> {
  number: number;
}

/** What an element or pseudo-element computes to, by property; null where there is none. */
type Styles = { pseudo: string; styles: [string, string][] } | null;

/** Compares what the elements of two open pages compute to: how many there are, and the numbers of those that differ. */
async function styledOtherwise(one: Window, two: Window): Promise<{ styled: number; changed: number[] }> {
  const [before, after] = await Promise.all([one, two].map((each) => measure<number[]>(each, 'styleHashes')));
  const all = Array.from({ length: Math.max(before!.length, after!.length) }, (_, i) => i);
  return { styled: before!.length, changed: all.filter((i) => before![i] !== after![i]) };
}

/** The first of some elements, by number, for which a rule says something else; where there is none, for which anything differs. */
async function restyledAmong(numbers: number[], one: Window, two: Window): Promise<Restyled[]> {
  const found: Restyled[] = [];
  const own = () => found.filter(({ property }) => !USED_VALUES.has(property));
  for (let at = 0; at < Math.min(numbers.length, MOST_READ) && own().length < MOST_RESTYLED; at += READ_AT_ONCE)
    found.push(...(await restyledAt(numbers.slice(at, at + READ_AT_ONCE), one, two)));
  return (own().length > 0 ? own() : found).slice(0, MOST_RESTYLED);
}

/** What differs in elements of two open pages, by number. */
async function restyledAt(numbers: number[], one: Window, two: Window): Promise<Restyled[]> {
  const [was, is] = await Promise.all([one, two].map((each) => measure<Styles[]>(each, 'stylesAt', numbers)));
  return numbers.map((number, i): Restyled => {
    const [then, now] = [was![i] ?? null, is![i] ?? null];
    if (then === null || now === null) {
      const [before, after] = [then, now].map((styles) => (styles === null ? 'nothing' : 'an element')) as [
        string,
        string,
      ];
      return { number, pseudo: (then ?? now)?.pseudo ?? '', property: 'it', before, after };
    }
    const values = new Map(now.styles);
    const differing = then.styles.filter(([name, value]) => values.get(name) !== value);
    const causes = differing.filter(([name]) => !USED_VALUES.has(name));
    // what is written is more often `padding-bottom` than `padding-block-end`
    const cause = causes.find(([name]) => !/-(block|inline)(-|$)/.test(name)) ?? causes[0];
    const [property, value] = cause ?? differing[0] ?? ['tag', ''];
    return {
      number,
      pseudo: now.pseudo,
      property,
      before: value,
      after: values.get(property) ?? '',
    };
  });
}

function eachOnce(elements: DrawnElement[]): DrawnElement[] {
  return [...new Map(elements.map((each) => [`${each.offset ?? each.element}`, each])).values()];
}
