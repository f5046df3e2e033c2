/** URLs that mean the same from every page. */
import { moveUrls, templateUrls, type UrlKind } from '../page/url.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { onceEach } from '../once.js';

/** A raw value with URLs, and the folder that it is seen from: null where a page is in none. */
export interface PlacedUrl {
  raw: string;
  kind: UrlKind;
  folder: string | null;
}

/** A value as a component file writes it; null where it climbs out of the root. */
export function literalUrl({ raw, kind, folder }: PlacedUrl, componentFolder: string): string | null {
  return folder === null ? null : templateUrls(raw, kind, folder, componentFolder);
}

/**
 * Gives what a value that a component file writes is in a folder, found once a folder; null where it climbs out of the root, and
 * in none.
 */
export function writtenIn(
  literal: string,
  kind: UrlKind,
  componentFolder: string,
): (folder: string | null) => string | null {
  return onceEach((folder) => (folder === null ? null : moveUrls(literal, kind, componentFolder, folder)));
}

/** The URL as a component writes it, when that gives back each occurrence's exact text; else null. */
export function sharedUrl(
  raws: (string | null)[],
  kind: UrlKind,
  occurrences: Occurrence[],
  componentFolder: string,
): string | null {
  const literalOf = (at: number) =>
    literalUrl({ raw: raws[at]!, kind, folder: occurrences[at]!.folder }, componentFolder);
  const tried = new Set<string>();
  let literal = literalOf(raws.findIndex((raw) => raw !== null));
  // one with a dot, or that climbs further than it has to, tells how others are written that need not say so
  while (literal !== null && !tried.has(literal)) {
    const textIn = writtenIn(literal, kind, componentFolder);
    const other = raws.findIndex((raw, i) => raw !== null && textIn(occurrences[i]!.folder) !== raw);
    if (other < 0) return literal;
    tried.add(literal);
    literal = literalOf(other);
  }
  return null;
}
