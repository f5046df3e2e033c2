/** Class words that come and go, or exclude each other, as holes of a class attribute. */
import { END, mergeRows } from './merge.js';
import { allEqual, firstOf, type PartHole, spelled, type Value } from './pattern.js';
import { addTo } from '../groups.js';

/** How many class words may come and go by themselves, and how many words one place may choose from. */
const MAX_FLAGS = 3;
const MAX_CHOICE = 8;

/** What stands between class words, or around them. */
const SPACES = /([\t\n\f\r ]+)/;
/** What may stand in a text within a placeholder. */
const SAFE = /^[ \w:/.%#!@[\]()-]*$/;

/**
 * Class words as a set that is written in one order: those that come and go become flags, and those of one stem that
 * exclude each other a choice. Null when the words do not fit into one order.
 */
export function wordHoles(raws: (string | null)[]): PartHole[] | null {
  const rows = unitsOf(raws);
  const columns = mergeRows(rows.map((row) => row?.map((unit) => unit + END).join('') ?? null));
  if (columns === null) return null;
  const order = columns.map((column) => {
    const row = column.findIndex((i) => i !== -1);
    return rows[row]![column[row]!]!;
  });
  const has = (row: string[] | null, unit: string) => row === null || row.includes(unit);
  const optional = order.filter((unit) => !rows.every((row) => has(row, unit)));
  const isOnce = new Set(order.map((unit) => unit.trim())).size === order.length;
  if (optional.length === 0 || !isOnce || !optional.every(isSpaced)) return null;
  if (optional[0] === order[0] && optional[0]!.trim() === '') return null;
  if (!optional.every((unit) => SAFE.test(unit)) || order.some((unit) => unit.includes('{{'))) return null;
  const choice = choiceOf(optional, rows);
  const units = order.filter((unit) => !choice.includes(unit) || unit === choice[0]);
  const ordered = (row: string[]) =>
    units.flatMap((unit) => (unit === choice[0] ? choice : [unit]).filter((each) => row.includes(each)));
  if (rows.some((row) => row !== null && ordered(row).join('') !== row.join(''))) return null;
  const stem = commonStem(choice);
  const parts: (PartHole | string)[] = [];
  for (const unit of units) {
    if (!optional.includes(unit)) {
      parts.push(unit);
      continue;
    }
    if (unit === choice[0]) {
      const values = rows.map((row) => row?.find((each) => choice.includes(each))?.slice(stem.length) ?? null);
      parts.push({ kind: 'word', part: null, values: values.map(spelled), before: stem });
      continue;
    }
    const values = rows.map((row) => row?.includes(unit) ?? null);
    const last = parts.at(-1);
    const flag = typeof last === 'object' && typeof isThere(last) === 'boolean' ? last : null;
    // words that come together are one flag, and those that stand in their place its other side
    if (flag !== null && sameAs(flag.values, values) && flag.otherwise === undefined) flag.before += unit;
    else if (flag !== null && isOpposite(flag.values, values)) flag.otherwise = (flag.otherwise ?? '') + unit;
    else parts.push({ kind: 'word', part: null, values, before: unit });
  }
  const words = parts.map((part) => (typeof part === 'string' ? part : null));
  const holes = parts.flatMap((part, at) => (typeof part === 'string' ? [] : [{ ...part, part: at, words }]));
  return holes.filter((hole) => typeof isThere(hole) === 'boolean').length > MAX_FLAGS ? null : holes;
}

/**
 * Class lists as units: the first word that all have, words behind it with the white space before them, and words before it
 * with that after them.
 */
function unitsOf(raws: (string | null)[]): (string[] | null)[] {
  const lists = raws.map((raw) => raw?.split(SPACES) ?? null);
  const isCommon = (word: string) => lists.every((list) => list?.includes(word) ?? true);
  const constant = firstOf(lists).find((word, i) => i % 2 === 0 && word !== '' && isCommon(word));
  return lists.map((list) => {
    if (list === null) return null;
    const at = constant === undefined ? 0 : list.indexOf(constant);
    const units: string[] = [];
    for (let i = 0; i < list.length; i += 2) {
      const [before, word, after] = [list[i - 1] ?? '', list[i]!, list[i + 1] ?? ''];
      units.push(i < at ? word + after : i === at && at > 0 ? word : before + word);
    }
    return units.filter((unit) => unit !== '');
  });
}

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
    const row = lists.findIndex((list) => list !== null);
    if (at < common.length) parts.push(lists[row]![common[at]![row]!]!);
  }
  const words = parts.map((part) => (typeof part === 'string' ? part : null));
  const holes = parts.flatMap((part, at) => (typeof part === 'string' ? [] : [{ ...part, part: at, words }]));
  // flags that exclude each other are one choice
  const most = holes.every((hole) => typeof isThere(hole) === 'boolean') ? holes.length + 1 : holes.length;
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
    return text === null ? null : [flagHole(rows, text + after[0]!)];
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
  if (more !== null && (typeof isThere(more) === 'boolean' || isOfStem(first))) return [valueHole(first, ''), more];
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

/** True for words that come with the white space which sets them off. */
function isSpaced(unit: string): boolean {
  return /^ | $/.test(unit);
}

function isThere({ values }: PartHole): Value {
  return values.find((value) => value !== null)!;
}

function sameAs(values: Value[], others: Value[]): boolean {
  return values.every((value, i) => value === others[i]);
}

function isOpposite(values: Value[], others: Value[]): boolean {
  return values.every((value, i) => value === null || (typeof value === 'boolean' && value !== others[i]));
}

/** The most words of one stem of which each row has exactly one, or else at most one; none when there are not two. */
function choiceOf(optional: string[], rows: (string[] | null)[]): string[] {
  const there = rows.filter((row) => row !== null);
  const stems = new Map<string, string[]>();
  for (const word of optional) {
    const stem = /^.*[-_]/.exec(word)?.[0] ?? '';
    if (stem !== '') addTo(stems, stem, word);
  }
  let best: string[] = [];
  for (const words of stems.values()) {
    if (words.length < 2 || words.length > MAX_CHOICE) continue;
    const count = (set: string[]) => there.map((row) => set.filter((word) => row.includes(word)).length);
    const sets = Array.from({ length: 1 << words.length }, (_, bits) => words.filter((_, i) => (bits >> i) & 1));
    const exact = sets.filter((set) => set.length > 1 && count(set).every((each) => each === 1));
    const loose = count(words).every((each) => each <= 1) ? [words] : [];
    for (const set of [...exact, ...loose]) if (set.length > best.length) best = set;
  }
  return best;
}

/** The longest common start that ends in a hyphen or underscore and leaves something of every word. */
export function commonStem(column: string[]): string {
  if (column.some((word) => word.includes('{{'))) return '';
  let stem = column[0] ?? '';
  for (const word of column) while (!word.startsWith(stem)) stem = stem.slice(0, -1);
  stem = /^.*[-_]/.exec(stem)?.[0] ?? '';
  return column.some((word) => word === stem) ? '' : stem;
}
