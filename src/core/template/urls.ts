/** URLs that mean the same from every page. */
import { moveUrls, type UrlKind } from '../page/url.js';
import type { Occurrence } from '../fragments/occurrence.js';

/** The URL as a component writes it, when that gives back each occurrence's exact text; else null. */
export function sharedUrl(
  raws: (string | null)[],
  kind: UrlKind,
  occurrences: Occurrence[],
  componentFolder: string,
): string | null {
  // one with a dot tells how those are written that climb to the same
  const dotted = raws.findIndex((raw) => raw?.startsWith('./'));
  const at = dotted < 0 ? raws.findIndex((raw) => raw !== null) : dotted;
  const from = occurrences[at]!.folder;
  const literal = from === null ? null : moveUrls(raws[at]!, kind, from, componentFolder);
  if (literal === null) return null;
  const exact = (raw: string | null, { folder }: Occurrence) =>
    raw === null || (folder !== null && moveUrls(literal, kind, componentFolder, folder) === raw);
  return raws.every((raw, i) => exact(raw, occurrences[i]!)) ? literal : null;
}
