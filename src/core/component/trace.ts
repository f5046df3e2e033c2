/** From what stands in an expanded page back to what it was made of: the page itself, and the components around. */
import { type Place } from '../errors.js';
import { type Page, placeAt } from '../page/parse.js';
import { walk } from '../page/tree.js';
import type { Expanded } from './expand.js';

/** Where something in an expanded page comes from. */
export interface Origin {
  /** in the page, as it stands on disk: what was written there, or the use that it came out of */
  place: Place;
  /** name of the component whose template it stands in; null where it is written in the page, poured in or not */
  component: string | null;
}

/**
 * @param page as it stands on disk
 * @param offset UTF-16 offset into `expanded.text`
 * @returns where that comes from
 */
export function originAt(page: Page, expanded: Pick<Expanded, 'uses' | 'extents'>, offset: number): Origin {
  const within = expanded.extents.filter(({ start, end }) => start <= offset && offset < end);
  const own = within.findLast(({ poured }) => !poured.some(({ start, end }) => start <= offset && offset < end));
  return { place: placeAt(page, sourceOffset(expanded.uses, offset)), component: own?.component ?? null };
}

/** The offset into the page on disk of what stands at `offset` in the expanded page: of the use, where it is in one. */
function sourceOffset(uses: Expanded['uses'], offset: number): number {
  let moved = 0;
  for (const { start, end, output } of uses) {
    if (offset < start + moved) break;
    if (offset < start + moved + output.length) return start;
    moved += output.length - (end - start);
  }
  return offset - moved;
}

/**
 * Gives each element of a page its own place as an attribute, so that whoever draws it can tell which element is which.
 * What no browser makes elements of as the page is read (`template`, `noscript`, raw text) stays as it is.
 * @param page as the browser gets it
 * @param name of the attribute, which no element has
 * @returns the source in which the attribute of each element is the UTF-16 offset of its start tag
 */
export function withOffsets({ source, root }: Page, name: string): string {
  let text = '';
  let at = 0;
  for (const start of drawnStarts(root)) {
    const tagEnd = start + /^<[^\s/>]+/.exec(source.slice(start, start + MAX_TAG))![0].length;
    text += `${source.slice(at, tagEnd)} ${name}="${start}"`;
    at = tagEnd;
  }
  return text + source.slice(at);
}

/** UTF-16 units in which the name of a tag is looked for. */
const MAX_TAG = 1000;

/** Where the start tags are of which a browser makes elements as it reads the page, in order; one tag may make several. */
function drawnStarts(root: Page['root']): number[] {
  const found = new Set<number>();
  walk(root, (node) => {
    if (node.kind !== 'element') return;
    if (node.start >= 0) found.add(node.start);
    return node.tag !== 'template' && node.tag !== 'noscript';
  });
  return [...found].sort((a, b) => a - b);
}
