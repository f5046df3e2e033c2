/** The parts of an attribute's value: class words, and the sides of style declarations. */
import { cssUrlRanges, relativeUrls, type UrlKind } from '../page/url.js';
import { allEqual, firstOf, type Hole, type PartHole, spelled } from './pattern.js';
import { commonStem, wordHoles } from './class-words.js';
import { areFew, holesAroundCommonWords } from './common-words.js';

/** What stands between class words, and between the sides of declarations; placeholders are not taken apart. */
const BETWEEN_WORDS = /([\t\n\f\r ]+)(?![^{}]*\}\})/;
const BETWEEN_SIDES = /([:;][\t\n\f\r ]*)(?![^{}]*\}\})/;

/** Splits a raw attribute value: parts at even indices, and what stands between them at odd ones. Of most attributes it is one part. */
export function partsOf(name: string, raw: string): string[] {
  if (name === 'class') return raw.split(BETWEEN_WORDS);
  return name === 'style' ? partsOfStyle(raw) : [raw];
}

/** Declarations: names, and their values; of a value with a URL what stands before, the URL itself, and what stands after it. */
function partsOfStyle(raw: string): string[] {
  const urls = cssUrlRanges(raw);
  // a placeholder may say all of `url(…)`
  if (urls.some(([start]) => /^[^{}]*\}\}/.test(raw.slice(start)))) return raw.split(BETWEEN_SIDES);
  const parts: string[] = [];
  let at = 0;
  for (const [start, end] of urls) {
    const open = raw.lastIndexOf('(', start) - 'url'.length;
    const close = raw.indexOf(')', end) + 1;
    parts.push(
      ...raw.slice(at, open).split(BETWEEN_SIDES),
      raw.slice(open, start),
      raw.slice(start, end),
      raw.slice(end, close),
    );
    at = close;
  }
  return [...parts, ...raw.slice(at).split(BETWEEN_SIDES)];
}

/** The value without some of its parts. */
export function withoutParts(name: string, raw: string, without: readonly number[]): string {
  return partsOf(name, raw)
    .filter((_, i) => !without.includes(i))
    .join(' ');
}

/** True for a part of declarations that is the name of a property. */
function isPropertyName(parts: string[], at: number): boolean {
  return at === 0 || parts[at - 1]!.startsWith(';');
}

/** The property that a part is in the value of, and whether it is a URL. */
function declaredAt(parts: string[], at: number): Hole['declared'] {
  let owner = at;
  while (!isPropertyName(parts, owner)) owner -= 2;
  return { property: parts[owner]!, isUrl: /^url\(/i.test(parts[at - 1]!) };
}

/** Splits a class or style value into parts where all occurrences have the same parts but for some; else the whole. */
export function partHoles(name: string, raws: (string | null)[]): PartHole[] {
  const whole = wholeOf(raws);
  if (name !== 'class' && name !== 'style') return whole;
  const rows = raws.map((raw) => (raw === null ? null : partsOf(name, raw)));
  const first = firstOf(rows);
  const alike = (row: string[] | null) =>
    row === null || (row.length === first.length && row.every((part, i) => i % 2 === 0 || part === first[i]));
  if (!rows.every(alike)) return name === 'class' ? (listHoles(raws) ?? whole) : whole;
  const columns = Array.from({ length: Math.ceil(first.length / 2) }, (_, at) => {
    return { part: at * 2, column: rows.map((row) => row?.[at * 2] ?? null) };
  });
  const varying = columns.filter(({ column }) => !allEqual(column, (each) => each));
  // words that stand elsewhere in another list are the same words, moved by those that come and go
  if (name === 'class' && haveMoved(varying)) {
    const moved = listHoles(raws);
    if (moved !== null || areFew(raws)) return moved ?? whole;
  }
  if (name === 'style' && varying.some(({ part }) => isPropertyName(first, part))) return whole;
  return varying.map(({ part, column }) => {
    const before = name === 'class' ? commonStem(column.filter((each) => each !== null)) : '';
    const values = column.map((each) => (each === null ? null : spelled(each.slice(before.length))));
    return { part, values, before, ...(name === 'style' ? { declared: declaredAt(first, part) } : {}) };
  });
}

/** The words of class lists that are no row of as many; null where each list is another text. */
function listHoles(raws: (string | null)[]): PartHole[] | null {
  return wordHoles(raws) ?? holesAroundCommonWords(raws);
}

/** All of a value that varies. */
export function wholeOf(raws: (string | null)[]): PartHole[] {
  return [{ part: null, values: raws.map(spelled), before: '' }];
}

/** The indices of the parts that vary by themselves. */
export function varyingIn(holes: PartHole[]): number[] {
  return holes.flatMap(({ part }) => part ?? []);
}

/** An attribute with URLs that varies; in declarations only the parts that do, where what is around them means the same everywhere. */
export function urlHoles(name: string, raws: (string | null)[], kind: UrlKind): PartHole[] {
  const holes = kind === 'css' ? partHoles(name, raws) : [];
  const varying = varyingIn(holes);
  const isRest = (raw: string | null) =>
    raw === null || relativeUrls(withoutParts(name, raw, varying), 'css').length === 0;
  return varying.length > 0 && raws.every(isRest) ? holes : wholeOf(raws);
}

/** True where a word of one row stands at another place in a second one. */
function haveMoved(columns: { part: number; column: (string | null)[] }[]): boolean {
  const placeOf = new Map<string | null, number>();
  return columns.some(({ part, column }) =>
    column.some((word) => {
      const place = placeOf.get(word) ?? part;
      if (word !== null) placeOf.set(word, place);
      return place !== part;
    }),
  );
}
