/** The relative URLs of a page or of a template, and the paths that they point at. */
import { valueOf } from './attribute.js';
import { decodeAttribute } from './spelling.js';
import { type Element, elementsOf, type Parent } from './tree.js';
import { relativeUrls, resolve, type UrlKind } from './url.js';

export interface Link {
  url: string;
  /** offset of the attribute that holds it */
  start: number;
  /** path from the root, without query and fragment; null when it climbs out of the root */
  target: string | null;
}

/** All relative URLs below `parent` that are written out, as seen from `folder`. */
export function linksIn(
  parent: Parent,
  source: string,
  folder: string,
  urlKindOf: (element: Element, name: string) => UrlKind | null,
): Link[] {
  return elementsOf(parent).flatMap((element) =>
    element.attrs.flatMap((attr): Link[] => {
      const kind = attr.start < 0 ? null : urlKindOf(element, attr.name);
      if (kind === null) return [];
      const urls = relativeUrls(valueOf(source, attr).raw, kind).filter((url) => !url.includes('{{'));
      return urls.map((raw) => {
        const url = decodeAttribute(raw);
        const path = url.replace(/[?#].*$/s, '');
        return { url, start: attr.start, target: path === '' ? null : decoded(resolve(path, folder)) };
      });
    }),
  );
}

/** Percent-encoding read, where it can be. */
function decoded(path: string | null): string | null {
  try {
    return path === null ? null : decodeURIComponent(path);
  } catch {
    return path;
  }
}
