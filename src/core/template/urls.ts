/** URLs that mean the same from every page. */
import { moveUrls, templateUrls, type UrlKind } from '../page/url.js';
import type { Occurrence } from '../fragments/occurrence.js';

/** The URL as a component writes it, when that gives back each occurrence's exact text; else null. */
export function sharedUrl(
  raws: (string | null)[],
  kind: UrlKind,
  occurrences: Occurrence[],
  componentFolder: string,
): string | null {
  const exact = (literal: string, i: number) => {
    const raw = raws[i] ?? null;
    const { folder } = occurrences[i]!;
    return raw === null || (folder !== null && moveUrls(literal, kind, componentFolder, folder) === raw);
  };
  const literalOf = (at: number) => {
    const { folder } = occurrences[at]!;
    return folder === null ? null : templateUrls(raws[at]!, kind, folder, componentFolder);
  };
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
