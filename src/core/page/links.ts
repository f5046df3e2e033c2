/** The URLs of a page, of a template or of styles, and the paths that they point at. */
import { valueOf } from './attribute.js';
import { decodeAttribute } from './spelling.js';
import { type Element, elementsOf, type Parent, textOf } from './tree.js';
import { isRelative, relativeUrls, resolve, urlKind, type UrlKind, urlsIn } from './url.js';
import type { Page } from './parse.js';

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

/**
 * The files of the site that a page refers to, relative to its root: by URLs in attributes, in styles and in `meta`,
 * relative ones and those that start at the root.
 * @param folder that relative URLs are resolved in; null where they lead elsewhere
 */
export function filesReferredTo({ root, source }: Page, folder: string | null): string[] {
  return elementsOf(root).flatMap((element) => {
    const inStyles = element.tag === 'style' ? filesInStyles(textOf(element), folder) : [];
    const inAttributes = element.attrs.flatMap((attr) => {
      const isContent = element.tag === 'meta' && attr.name === 'content';
      const kind = attr.start < 0 ? null : (urlKind(element, attr.name) ?? (isContent ? 'url' : null));
      return kind === null ? [] : filesOf(urlsIn(valueOf(source, attr).raw, kind), folder);
    });
    return [...inStyles, ...inAttributes];
  });
}

/** The files of the site that styles refer to, by `url()` and by imports. */
export function filesInStyles(text: string, folder: string | null): string[] {
  const imports = [...text.matchAll(/@import\s*(["'])(.*?)\1/gi)].map(([, , url]) => url!);
  return filesOf([...urlsIn(text, 'css'), ...imports], folder);
}

function filesOf(urls: string[], folder: string | null): string[] {
  return urls.flatMap((raw) => {
    const url = decodeAttribute(raw).replace(/[?#].*$/s, '');
    const isFromRoot = /^\/(?![/\\])/.test(url);
    if (!isFromRoot && (folder === null || !isRelative(url))) return [];
    return decoded(isFromRoot ? resolve(url.slice(1), '') : resolve(url, folder!)) ?? [];
  });
}

/** Percent-encoding read, where it can be. */
function decoded(path: string | null): string | null {
  try {
    return path === null ? null : decodeURIComponent(path);
  } catch {
    return path;
  }
}
