/** What the browser saw when it drew pages as they were and as they are, and how that is told. */
import { type Place, placeText } from '../core/errors.js';
import { addTo } from '../core/groups.js';
import { count, red, yellow } from '../terminal/style.js';
import { oneLine } from '../terminal/table.js';
import type { LaunchBrowser } from '../verify/browser.js';
import { JOURNAL } from '../workspace/journal.js';

/** What is asked of the browser. */
export interface PictureOptions {
  pictures?: boolean;
  computed?: boolean;
}

/** Where in a page something is drawn otherwise. */
export interface DrawnPlace extends Place {
  /** start of the tag of the innermost element around it */
  element: string;
  /** the component in whose template that stands; null where it is written in the page */
  component: string | null;
}

export interface Pictured {
  widths: readonly number[];
  pages: number;
  /** how many pictures were drawn of each version; 0 where none were asked for */
  pictures: number;
  /** how many elements and pseudo-elements were read in each version; 0 where that was not asked for */
  styled: number;
  different: DrawnOtherwise[];
  restyled: (DrawnPlace & {
    width: number;
    media: 'screen' | 'print';
    pseudo: string;
    property: string;
    before: string;
    after: string;
    edited: string[];
  })[];
  /** pages that did not load in time, so that nothing is known of them */
  unloaded: { path: string; message: string }[];
  /** false where something differs that the user did not edit, or is not known */
  isSame: boolean;
}

export interface DrawnOtherwise {
  path: string;
  width: number;
  /** how many differ */
  pixels: number;
  places: DrawnPlace[];
  files: PictureFiles;
  /** what the user changed that the page is made of */
  edited: string[];
}

/** Paths of the pictures that were written, from the root. */
export interface PictureFiles {
  before: string;
  after: string;
  difference: string;
}

/** Where the pictures go of what differs. */
export const PICTURES = `${JOURNAL}/pictures`;

/** What starts the browser, where something is asked of it; null where nothing is. @throws Problem (exit 2) without one */
export async function launcherFor({ pictures, computed }: PictureOptions): Promise<LaunchBrowser | null> {
  if (pictures !== true && computed !== true) return null;
  const { findBrowser } = await import('../verify/browser.js');
  return findBrowser(pictures === true ? '--pictures' : '--computed');
}

/** What differs, and where that begins. */
export function pictureLines({ different, restyled, unloaded }: Pictured): string[] {
  const mark = (edited: string[]) => (edited.length > 0 ? yellow('edited') : red('differs'));
  return [
    ...unloaded.map(({ message }) => `${red('not drawn')}  ${message}`),
    ...different.flatMap(({ path, width, pixels, places: [first, ...more], files, edited }) => [
      `${mark(edited)}  ${path} at ${width}: ${count(pixels, 'pixel')}, ${files.difference}`,
      `         ${placeText(first!)}: ${insideText(first!)}${more.length === 0 ? '' : `, and ${count(more.length, 'element')} more`}`,
    ]),
    ...alike(restyled).map(([each, more]) => {
      const where = each.media === 'print' ? 'on paper' : `at ${each.width}`;
      const what = `${each.property} "${oneLine(each.before)}" became "${oneLine(each.after)}"`;
      const others = more === 0 ? '' : ` (and ${count(more, 'place')} more)`;
      return `${mark(each.edited)}  ${placeText(each)}: ${where}, ${what} in ${insideText(each)}${each.pseudo}${others}`;
    }),
  ];
}

/** What is restyled alike, on whatever page and screen, by its first place, with how many more there are. */
function alike(restyled: Pictured['restyled']): [Pictured['restyled'][number], number][] {
  const groups = new Map<string, Pictured['restyled']>();
  for (const each of restyled)
    addTo(groups, [each.property, each.before, each.after, each.element, each.pseudo, each.component].join(' '), each);
  return [...groups.values()].map(([first, ...more]) => [first!, more.length]);
}

/** An element, and the component that it stands in. */
function insideText({ element, component }: DrawnPlace): string {
  return `${oneLine(element)}${component === null ? '' : ` of ${component}`}`;
}
