/** Class words that come and go, or exclude each other, as holes of a class attribute. */
import { END, mergeRows } from './merge.js';
import { firstOf, isFlagHole, type PartHole, spelled, type Value } from './pattern.js';
import { addTo } from '../groups.js';
import { isSayable } from '../words/names.js';
import { isState } from '../words/vocabulary.js';

/** How many class words may come and go by themselves, and how many words one place may choose from. */
const MAX_FLAGS = 3;
const MAX_CHOICE = 8;

/** What stands between class words, or around them. */
export const SPACES = /([\t\n\f\r ]+)/;
/** What may stand in a text within a placeholder. */
export const SAFE = /^[ \w:/.%#!@[\]()-]*$/;

/**
 * Class words as a set that is written in one order: those that come and go become flags, those of one stem that exclude
 * each other a choice, and others that belong together a text. Null when the words do not fit into one order.
 */
export function wordHoles(raws: (string | null)[]): PartHole[] | null {
  // how often a list stands there does not matter
  const distinct = [...new Set(raws)];
  const numbers = new Map(distinct.map((raw, number) => [raw, number]));
  const holes = holesOfDistinct(distinct);
  return holes?.map((hole) => ({ ...hole, values: raws.map((raw) => hole.values[numbers.get(raw)!]!) })) ?? null;
}

function holesOfDistinct(raws: (string | null)[]): PartHole[] | null {
  const rows = unitsOf(raws);
  const columns = mergeRows(rows.map((row) => row?.map((unit) => unit + END).join('') ?? null));
  if (columns === null) return null;
  const order = columns.map((column) => {
    const row = column.findIndex((i) => i !== -1);
    return rows[row]![column[row]!]!;
  });
  const optional = order.filter((unit) => !rows.every((row) => row?.includes(unit) ?? true));
  const isOnce = new Set(order.map((unit) => unit.trim())).size === order.length;
  if (optional.length === 0 || !isOnce || !optional.every(isSpaced)) return null;
  if (optional[0] === order[0] && optional[0]!.trim() === '') return null;
  if (!optional.every((unit) => SAFE.test(unit)) || order.some((unit) => unit.includes('{{'))) return null;
  const choices = choicesAmong(optional, rows);
  // white space behind words would be a part of what is said
  const isAlways = (choice: string[]) => rows.every((row) => row?.some((unit) => choice.includes(unit)) ?? true);
  if (choices.some((choice) => choice.some((unit) => unit.endsWith(' ')) && !isAlways(choice))) return null;
  const rest = optional.filter((unit) => !choices.flat().includes(unit));
  const sets = setsAmong(rest, order, rows);
  for (const groups of [[...choices, ...sets], choices, choices.slice(0, 1)]) {
    const holes = holesOf({ rows, order, optional }, groups);
    if (holes !== null) return holes;
  }
  return null;
}

/** Class lists as units, all units in one order, and those of them that come and go. */
interface Units {
  rows: (string[] | null)[];
  order: string[];
  optional: string[];
}

/** @param groups units that one hole tells each; null when they do not stand side by side, or there are too many flags */
function holesOf({ rows, order, optional }: Units, groups: string[][]): PartHole[] | null {
  const groupOf = new Map(groups.flatMap((group) => group.map((unit) => [unit, group] as const)));
  const units = order.filter((unit) => (groupOf.get(unit)?.[0] ?? unit) === unit);
  const given = (row: string[], unit: string) => (groupOf.get(unit) ?? [unit]).filter((each) => row.includes(each));
  if (rows.some((row) => row !== null && units.flatMap((unit) => given(row, unit)).join('') !== row.join('')))
    return null;
  const parts: (PartHole | string)[] = [];
  for (const unit of units) {
    const group = groupOf.get(unit);
    if (group !== undefined) {
      parts.push(...groupParts(group, rows));
      continue;
    }
    if (!optional.includes(unit)) {
      parts.push(unit);
      continue;
    }
    const values = rows.map((row) => row?.includes(unit) ?? null);
    const last = parts.at(-1);
    const flag = typeof last === 'object' && isFlagHole(last) ? last : null;
    // words that come together are one flag, and those that stand in their place its other side
    if (flag !== null && sameAs(flag.values, values) && flag.otherwise === undefined) flag.before += unit;
    else if (flag !== null && isOpposite(flag.values, values)) flag.otherwise = (flag.otherwise ?? '') + unit;
    else parts.push({ kind: 'word', part: null, values, before: unit });
  }
  const holes = holesAmong(parts);
  return holes.filter(isFlagHole).length > MAX_FLAGS ? null : holes;
}

/** The holes of a class attribute that is made of these parts, in order. */
export function holesAmong(parts: (PartHole | string)[]): PartHole[] {
  const words = parts.map((part) => (typeof part === 'string' ? part : null));
  return parts.flatMap((part, at) => (typeof part === 'string' ? [] : [{ ...part, part: at, words }]));
}

/** What one hole says of some units, with the white space that is always behind it. */
function groupParts(group: string[], rows: (string[] | null)[]): (PartHole | string)[] {
  const texts = rows.map((row) => row && group.filter((unit) => row.includes(unit)).join(''));
  const isBefore = group.every((unit) => unit.endsWith(' '));
  const isOne = rows.every((row) => row === null || group.filter((unit) => row.includes(unit)).length <= 1);
  const stem = (isOne && commonStem(group)) || (group.every((unit) => unit.startsWith(' ')) ? ' ' : '');
  const values = texts.map((text) =>
    text === null || text === '' ? null : spelled(text.slice(stem.length, isBefore ? -1 : undefined)),
  );
  return [{ kind: 'word', part: null, values, before: stem }, ...(isBefore ? [' '] : [])];
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

/** True for words that come with the white space which sets them off. */
function isSpaced(unit: string): boolean {
  return /^ | $/.test(unit);
}

function sameAs(values: Value[], others: Value[]): boolean {
  return values.every((value, i) => value === others[i]);
}

function isOpposite(values: Value[], others: Value[]): boolean {
  return values.every((value, i) => value === null || (typeof value === 'boolean' && value !== others[i]));
}

/** Words of one stem that exclude each other, as many such choices as there are. */
function choicesAmong(optional: string[], rows: (string[] | null)[]): string[][] {
  const choices: string[][] = [];
  for (let left = optional; ;) {
    const choice = choiceOf(left, rows);
    if (choice.length === 0) return choices;
    choices.push(choice);
    left = left.filter((unit) => !choice.includes(unit));
  }
}

/** The most words of one stem of which each row has exactly one, or else at most one; none when there are not two. */
function choiceOf(optional: string[], rows: (string[] | null)[]): string[] {
  const there = rows.filter((row) => row !== null);
  const stems = new Map<string, string[]>();
  for (const word of optional)
    for (let end = word.length - 1; end > 0; end--)
      if (/[-_]/.test(word[end - 1]!)) addTo(stems, word.slice(0, end), word);
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

/** So many words that exclude each other are told as one, whatever they start with. */
const LEAST_EXCLUSIVE = 3;

/** Words that are told together though they have no stem: those that exclude each other, and those that move a box in one way. */
function setsAmong(rest: string[], order: string[], rows: (string[] | null)[]): string[][] {
  const words = rest.filter((unit) => unit.startsWith(' ') && unit.trim() !== '' && !isState(unit.trim()));
  const isExclusive = rows.every((row) => row === null || words.filter((word) => row.includes(word)).length <= 1);
  if (isExclusive && words.length >= LEAST_EXCLUSIVE) return [words];
  const families = new Map<string, string[]>();
  // how many others are before a word is the same for those that stand side by side
  const others = (word: string) => order.indexOf(word) - rest.indexOf(word);
  for (const word of words)
    if (!isSayable(word.trim())) addTo(families, `${word.split('-')[0]!} ${others(word)}`, word);
  const seen = (word: string) => rows.map((row) => row?.includes(word) ?? false).join();
  return [...families.values()].filter((family) => new Set(family.map(seen)).size > 1);
}

/** The longest common start that ends in a hyphen or underscore and leaves something of every word. */
export function commonStem(column: string[]): string {
  if (column.some((word) => word.includes('{{'))) return '';
  let stem = column[0] ?? '';
  for (const word of column) while (!word.startsWith(stem)) stem = stem.slice(0, -1);
  stem = /^.*[-_]/.exec(stem)?.[0] ?? '';
  return column.some((word) => word === stem) ? '' : stem;
}
