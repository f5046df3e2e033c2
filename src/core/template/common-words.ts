/** Class lists around the words that all of them have: what stands between these is a hole. */
import { commonStem, holesAmong, SAFE, SPACES } from './class-words.js';
import { allEqual, firstOf, isFlagHole, type PartHole, spelled } from './pattern.js';

/** So few class lists are told as wholes where the same words stand in another order. */
const FEW = 3;

/** How many stretches between the words that all lists have may vary. */
const MAX_STRETCHES = 2;

/**
 * Class lists around the words that all of them have in one order: what stands between these is a hole where it varies.
 * Null where no word is in all lists, where more varies than that, and where there are hardly more lists than holes.
 */
export function holesAroundCommonWords(raws: (string | null)[]): PartHole[] | null {
  if (raws.some((raw) => raw?.includes('{{'))) return null;
  const lists = raws.map((raw) => raw?.split(SPACES) ?? null);
  const common = commonWords(lists);
  if (common.length === 0) return null;
  const row = lists.findIndex((list) => list !== null);
  const parts: (PartHole | string)[] = [];
  let varying = 0;
  for (let at = 0; at <= common.length; at++) {
    const stretches = lists.map((list, i) => list?.slice((common[at - 1]?.[i] ?? -1) + 1, common[at]?.[i]) ?? null);
    if (allEqual(stretches, (each) => each.join(''))) parts.push(firstOf(stretches).join(''));
    else {
      const found = stretchParts(stretches, { isFirst: at === 0, isLast: at === common.length });
      if (found === null || ++varying > MAX_STRETCHES) return null;
      parts.push(...found);
    }
    if (at < common.length) parts.push(lists[row]![common[at]![row]!]!);
  }
  const holes = holesAmong(parts);
  // flags that exclude each other are one choice
  const most = holes.every(isFlagHole) ? holes.length + 1 : holes.length;
  return holes.length > 1 && areFew(raws, most) ? null : holes;
}

/** True for so few different class lists that each is better told as a whole. */
export function areFew(raws: (string | null)[], most = FEW): boolean {
  return new Set(raws.filter((raw) => raw !== null)).size <= most;
}

/** Where the words stand that each list has once, in an order that all have: an index for each list, one array a word. */
function commonWords(lists: (string[] | null)[]): number[][] {
  let last = lists.map(() => -1);
  return firstOf(lists).flatMap((word, at) => {
    if (at % 2 === 1 || word === '') return [];
    const places = lists.map((list) => list?.indexOf(word) ?? Infinity);
    const isOnce = lists.every((list) => list === null || list.filter((each) => each === word).length === 1);
    if (!isOnce || places.some((place, i) => lists[i] !== null && place <= last[i]!)) return [];
    last = places;
    return [places];
  });
}

/** What stands between two common words, before the first or behind the last one, white space included. */
function stretchParts(
  stretches: (string[] | null)[],
  { isFirst, isLast }: { isFirst: boolean; isLast: boolean },
): (PartHole | string)[] | null {
  const rows = stretches.map((each) => each?.slice(isFirst ? 0 : 1, isLast ? undefined : -1) ?? null);
  const there = rows.filter((row) => row !== null && row.length > 0);
  const some = stretches.filter((each) => each !== null && each.length > 0);
  const before = isFirst ? [''] : some.filter((each) => each!.length > 1).map((each) => each![0]!);
  const after = isLast ? [''] : some.map((each) => each!.at(-1)!);
  const isBlank = (row: string[]) => row.join('') === '' || row.slice(0, isLast ? -1 : undefined).includes('');
  if (there.some((row) => isBlank(row!)) || [before, after].some((each) => new Set(each).size > 1)) return null;
  const isAlways = rows.every((row) => row === null || row.length > 0);
  if (isAlways) return [before[0]!, ...alwaysThere(rows), after[0]!];
  if (isFirst) {
    // the white space behind them comes and goes with them
    const text = onlyText(rows);
    return text === null || !SAFE.test(after[0]!) ? null : [flagHole(rows, text + after[0]!)];
  }
  const found = sometimesThere(rows, before[0]!);
  return found && [found, after[0]!];
}

/** Words that are always there: one of a kind, and others that some have beside it, or else all of them together. */
function alwaysThere(rows: (string[] | null)[]): PartHole[] {
  const [first, last] = [rows.map((row) => row?.[0] ?? null), rows.map((row) => row?.at(-1) ?? null)];
  const isOfStem = (words: (string | null)[]) => commonStem(words.filter((word) => word !== null)) !== '';
  const behind = rows.map((row) => row?.slice(2) ?? null);
  const between = new Set(rows.flatMap((row) => row?.[1] ?? []));
  const more = isRare(behind) && between.size === 1 ? sometimesThere(behind, [...between][0]!) : null;
  if (more !== null && (isFlagHole(more) || isOfStem(first))) return [valueHole(first, ''), more];
  const ahead = rows.map((row) => row?.slice(0, -1) ?? null);
  const text = isRare(ahead) && isOfStem(last) ? onlyText(ahead) : null;
  return text === null ? [valueHole(rows.map(textOrNull), '')] : [flagHole(ahead, text), valueHole(last, '')];
}

/** True for words that some have, but fewer than half. */
function isRare(rows: (string[] | null)[]): boolean {
  const given = rows.filter((row) => row !== null && row.join('').trim() !== '');
  return given.length > 0 && given.length * 2 < rows.length;
}

/** Words that come and go, with the white space before them; null where the same ones stand at more places than none. */
function sometimesThere(rows: (string[] | null)[], before: string): PartHole | null {
  if (!SAFE.test(before)) return null;
  const text = onlyText(rows);
  if (text !== null) return flagHole(rows, before + text);
  const texts = rows.map(textOrNull);
  const count = (text: string | null) => texts.filter((each) => each === text).length;
  // what may be left out has no default
  return texts.some((each) => count(each) > count(null)) ? null : valueHole(texts, before);
}

function textOrNull(row: string[] | null): string | null {
  return row === null || row.length === 0 ? null : row.join('');
}

/** The one text that all rows have which have any, if that may stand in a placeholder; null otherwise. */
function onlyText(rows: (string[] | null)[]): string | null {
  const [text, ...others] = rows.flatMap((row) => textOrNull(row) ?? []);
  return text !== undefined && others.every((each) => each === text) && SAFE.test(text) ? text : null;
}

/** @param rows the words of each, none where they are not, or null where the element is not */
function flagHole(rows: (string[] | null)[], before: string): PartHole {
  return { kind: 'word', part: null, values: rows.map((row) => row && row.length > 0), before };
}

/** @param texts null where there are none */
function valueHole(texts: (string | null)[], before: string): PartHole {
  const given = texts.filter((text) => text !== null);
  const stem = given.some((text) => /\S\s+\S/.test(text)) ? '' : commonStem(given);
  const values = texts.map((text) => (text === null ? null : spelled(text.slice(stem.length))));
  return { kind: 'word', part: null, values, before: before + stem };
}
