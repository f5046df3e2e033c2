/** From what stands in an expanded page back to what it was made of: the page itself, and the components around. */
import { type Place } from '../errors.js';
import { type Page, placeAt } from '../page/parse.js';
import { type Element, walk } from '../page/tree.js';
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
  for (const { start, end, expandedLength } of uses) {
    if (offset < start + moved) break;
    if (offset < start + moved + expandedLength) return start;
    moved += expandedLength - (end - start);
  }
  return offset - moved;
}

/** The attribute that `withOffsets` gives elements where nothing else is said. */
export const OFFSET_ATTRIBUTE = 'data-estrade-offset';

/**
 * Gives each element of a page its own place as an attribute, so that whoever draws it can tell which element is which.
 * What no browser makes elements of as the page is read (`template`, `noscript`, raw text) stays as it is, and so do
 * elements that it would read otherwise: see `foursAlike`.
 * @param page as the browser gets it
 * @param name of the attribute, which no element has
 * @returns the source in which the attribute of each element is the UTF-16 offset of its start tag
 */
export function withOffsets({ source, root }: Page, name: string): string {
  let text = '';
  let at = 0;
  for (const start of markedStarts(root)) {
    const tagEnd = start + /^<[^\s/>]+/.exec(source.slice(start, start + MAX_TAG))![0].length;
    text += `${source.slice(at, tagEnd)} ${name}="${start}"`;
    at = tagEnd;
  }
  return text + source.slice(at);
}

/** UTF-16 units in which the name of a tag is looked for. */
const MAX_TAG = 1000;

/** Where the start tags are that get an attribute, in order; one tag may make several elements. */
function markedStarts(root: Page['root']): number[] {
  const drawn: Element[] = [];
  walk(root, (node) => {
    if (node.kind !== 'element') return;
    if (node.start >= 0) drawn.push(node);
    return node.tag !== 'template' && node.tag !== 'noscript';
  });
  const kept = foursAlike(drawn);
  const starts = drawn.filter((element) => !kept.has(alikeKey(element) ?? '')).map(({ start }) => start);
  return [...new Set(starts)].sort((a, b) => a - b);
}

/** Elements that the parser opens again where they were left open (HTML standard, "formatting"). */
const FORMATTING = new Set('a b big code em font i nobr s small strike strong tt u'.split(' '));

/** What makes two formatting elements one to the parser: tag and attributes; null for other elements. */
function alikeKey({ tag, attrs }: Element): string | null {
  if (!FORMATTING.has(tag)) return null;
  return [tag, ...attrs.map(({ name, value }) => `${name}=${value}`).sort()].join(' ');
}

/**
 * Keys of the formatting elements of which four stand in each other: the parser opens three alike again at most, and would
 * open the fourth too if they were told apart.
 */
function foursAlike(elements: readonly Element[]): Set<string> {
  const found = new Set<string>();
  for (const element of elements) {
    const key = alikeKey(element);
    if (key === null || found.has(key)) continue;
    let alike = 1;
    for (let { parent } = element; parent?.kind === 'element'; { parent } = parent)
      if (alikeKey(parent) === key) alike++;
    if (alike > 3) found.add(key);
  }
  return found;
}
