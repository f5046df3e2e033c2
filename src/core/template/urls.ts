/** URLs that mean the same from every page. */
import { moveUrls, templateUrls, type UrlKind } from '../page/url.js';
import type { Occurrence } from '../fragments/occurrence.js';

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

/** True where what a component file writes gives back the exact text. */
export function isWrittenAs(literal: string, { raw, kind, folder }: PlacedUrl, componentFolder: string): boolean {
  return folder !== null && moveUrls(literal, kind, componentFolder, folder) === raw;
}

/** The URL as a component writes it, when that gives back each occurrence's exact text; else null. */
export function sharedUrl(
  raws: (string | null)[],
  kind: UrlKind,
  occurrences: Occurrence[],
  componentFolder: string,
): string | null {
  const exact = (literal: string, i: number) =>
    raws[i] === null || isWrittenAs(literal, { raw: raws[i]!, kind, folder: occurrences[i]!.folder }, componentFolder);
  const literalOf = (at: number) =>
    literalUrl({ raw: raws[at]!, kind, folder: occurrences[at]!.folder }, componentFolder);
  const tried = new Set<string>();
  let literal = literalOf(raws.findIndex((raw) => raw !== null));
  // one with a dot, or that climbs further than it has to, tells how others are written that need not say so
  while (literal !== null && !tried.has(literal)) {
    const shared = literal;
    const other = raws.findIndex((_, i) => !exact(shared, i));
    if (other < 0) return shared;
    tried.add(shared);
    literal = literalOf(other);
  }
  return null;
}
