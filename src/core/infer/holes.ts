/** Where aligned nodes differ: the holes of a text or of an element's attributes. What is equal everywhere makes none. */
import { valueOf } from '../page/attribute.js';
import { decodeAttribute, decodeText, type Spelled } from '../page/spelling.js';
import { type Element, RAW_TEXT, type Text } from '../page/tree.js';
import { moveUrls, relativeUrls, type UrlKind } from '../page/url.js';
import { isFlag, trimmed } from '../survey/profile.js';
import { mergeRows } from './align.js';
import type { ElementPattern, Hole, Occurrence, TextPattern, UrlKindOf, Value } from './pattern.js';

const PARTS: Record<string, RegExp> = { class: /([\t\n\f\r ]+)/, style: /([:;][\t\n\f\r ]*)/ };

/** True when `read` gives the same for all that are there. */
export function allEqual<T>(items: (T | null)[], read: (item: T) => string | undefined): boolean {
  const first = items.find((item) => item !== null)!;
  const wanted = read(first);
  return items.every((item) => item === null || read(item) === wanted);
}

/** Notes where a text varies; false when it varies in a way that no value can say. */
export function textHole(pattern: TextPattern, occurrences: Occurrence[]): boolean {
  const { nodes, verbatim } = pattern;
  if (nodes.some((node, i) => node !== null && hidesBraces(node, occurrences[i]!.page.source))) return false;
  if (allEqual(nodes, (text) => text.value)) return true;
  if (RAW_TEXT.has((nodes.find((node) => node !== null)!.parent as Element).tag)) return false;
  const values = nodes.map((node, i): Spelled | null => {
    if (node === null) return null;
    const raw = occurrences[i]!.page.source.slice(node.start, node.end);
    return verbatim ? { value: node.value, raw } : { value: trim(node.value), raw: trim(raw) };
  });
  // only the indentation differs
  if (allEqual(values, (each) => each.value)) return true;
  // a stray tag within the text would be lost with it
  if (values.some((each) => each !== null && decodeText(each.raw) !== each.value)) return false;
  pattern.holes.push({ kind: 'text', pattern, attr: null, part: null, values, before: '' });
  return true;
}

/** True where the source of a text holds a tag that the parser dropped, with braces in it that would mean something. */
function hidesBraces(node: Text, source: string): boolean {
  if (node.end - node.start === node.value.length) return false;
  const raw = source.slice(node.start, node.end);
  return raw.includes('{{') && decodeText(raw) !== node.value;
}

function trim(text: string): string {
  const [lead, trail] = trimmed(text);
  return text.slice(lead, text.length - trail);
}

/** Notes where the attributes of an element vary. */
export function attributeHoles(
  pattern: ElementPattern,
  occurrences: Occurrence[],
  componentFolder: string,
  urlKindOf: UrlKindOf,
): void {
  const { nodes } = pattern;
  const add = (hole: Hole) => void pattern.holes.push(hole);
  const names = new Set<string>();
  for (const element of nodes) if (element !== null) for (const attr of element.attrs) names.add(attr.name);
  for (const name of names) {
    // undefined: the element is there without the attribute
    const attrs = nodes.map((element) => (element === null ? null : element.attrs.find((attr) => attr.name === name)));
    const present = attrs.map((attr) => attr ?? null);
    const hole: Hole = { kind: 'attr', pattern, attr: name, part: null, values: [], before: '' };
    const equal = allEqual(present, (attr) => attr.value);
    const raws = present.map((attr, i) => (attr === null ? null : valueOf(occurrences[i]!.page.source, attr).raw));
    if (attrs.includes(undefined)) {
      const flags = attrs.map((attr) => (attr === null ? null : attr !== undefined));
      const given = raws.find((raw) => raw !== null)!;
      if (present.every((attr) => attr === null || isFlag(attr.name, attr.value)))
        add({ ...hole, kind: 'flag', values: flags });
      else if (equal && name !== 'class' && /^[^'"\\{}]+$/.test(given))
        add({ ...hole, kind: 'given', values: flags, before: given });
      else add({ ...hole, values: raws.map(spelled) });
      continue;
    }
    const kind = nodes.map((node) => node && urlKindOf(node, name)).find((each) => each !== null) ?? null;
    const moves = kind !== null && raws.some((raw) => raw !== null && relativeUrls(raw, kind).length > 0);
    if (equal && !moves) continue;
    if (kind !== null && (moves || kind === 'url' || kind === 'srcset')) {
      const literal = sharedUrl(raws, kind, occurrences, componentFolder);
      if (literal === null) add({ ...hole, values: raws.map(spelled) });
      else if (raws.some((raw) => raw !== null && raw !== literal)) add({ ...hole, kind: 'literal', before: literal });
      continue;
    }
    for (const each of partHoles(name, raws)) add({ ...hole, ...each });
  }
}

function spelled(raw: string | null): Spelled | null {
  return raw === null ? null : { value: decodeAttribute(raw), raw };
}

/** The URL as a component writes it, when that gives back each occurrence's exact text; else null. */
export function sharedUrl(
  raws: (string | null)[],
  kind: UrlKind,
  occurrences: Occurrence[],
  componentFolder: string,
): string | null {
  const at = raws.findIndex((raw) => raw !== null);
  const from = occurrences[at]!.folder;
  const literal = from === null ? null : moveUrls(raws[at]!, kind, from, componentFolder);
  if (literal === null) return null;
  const exact = (raw: string | null, { folder }: Occurrence) =>
    raw === null || (folder !== null && moveUrls(literal, kind, componentFolder, folder) === raw);
  return raws.every((raw, i) => exact(raw, occurrences[i]!)) ? literal : null;
}

type PartHole = Pick<Hole, 'part' | 'values' | 'before'> & Partial<Pick<Hole, 'kind' | 'words' | 'otherwise'>>;

/** Splits a class or style value into parts where all occurrences have the same parts but for some; else the whole. */
function partHoles(name: string, raws: (string | null)[]): PartHole[] {
  const whole: PartHole[] = [{ part: null, values: raws.map(spelled), before: '' }];
  const pattern = PARTS[name];
  if (pattern === undefined) return whole;
  const rows = raws.map((raw) => raw?.split(pattern) ?? null);
  const first = rows.find((row) => row !== null)!;
  const alike = (row: string[] | null) =>
    row === null || (row.length === first.length && row.every((part, i) => i % 2 === 0 || part === first[i]));
  if (!rows.every(alike)) return name === 'class' ? (wordHoles(raws) ?? whole) : whole;
  const holes: PartHole[] = [];
  for (let part = 0; part < first.length; part += 2) {
    const column = rows.map((row) => row?.[part] ?? null);
    if (allEqual(column, (each) => each)) continue;
    if (name === 'style' && part % 4 === 0) return whole;
    const before = name === 'class' ? commonStem(column.filter((each) => each !== null)) : '';
    holes.push({
      part,
      values: column.map((each) => (each === null ? null : spelled(each.slice(before.length)))),
      before,
    });
  }
  return holes;
}

/** How many class words may come and go by themselves, and how many words one place may choose from. */
const MAX_FLAGS = 3;
const MAX_CHOICE = 8;

/** A class word with the white space before it, or white space at the end. */
const UNIT = /[\t\n\f\r ]*[^\t\n\f\r ]+|[\t\n\f\r ]+$/g;
/** What may stand in a text within a placeholder. */
const SAFE = /^ *[\w:/.%#!@[\]()-]*$/;

/**
 * Class words as a set that is written in one order: those that come and go become flags, and those of one stem that
 * exclude each other a choice. Null when the words do not fit into one order.
 */
function wordHoles(raws: (string | null)[]): PartHole[] | null {
  const rows = raws.map((raw): string[] | null => (raw === null ? null : (raw.match(UNIT) ?? [])));
  const columns = mergeRows(rows.map((row) => row?.map((unit) => `${unit}\u0000`).join('') ?? null));
  if (columns === null) return null;
  const order = columns.map((column) => {
    const row = column.findIndex((i) => i !== -1);
    return rows[row]![column[row]!]!;
  });
  const has = (row: string[] | null, unit: string) => row === null || row.includes(unit);
  const optional = order.filter((unit) => !rows.every((row) => has(row, unit)));
  // without a constant word before them there is nothing that a space could follow
  if (optional.length === 0 || new Set(order).size < order.length || optional[0] === order[0]) return null;
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
    if (stem !== '') stems.set(stem, [...(stems.get(stem) ?? []), word]);
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
function commonStem(column: string[]): string {
  let stem = column[0] ?? '';
  for (const word of column) while (!word.startsWith(stem)) stem = stem.slice(0, -1);
  stem = /^.*[-_]/.exec(stem)?.[0] ?? '';
  return column.some((word) => word === stem) ? '' : stem;
}

/**
 * The range of a hole, its constant ends included, in the source of occurrence `i`; null where it is absent. That of a
 * `word` is the whole value, or the value's part when the words stand alone.
 */
export function holeRange(hole: Hole, i: number, occurrence: Occurrence): [start: number, end: number] | null {
  const node = hole.pattern.nodes[i];
  if (node === null || node === undefined) return null;
  const { source } = occurrence.page;
  if (hole.kind === 'text') {
    const raw = source.slice(node.start, node.end);
    const [lead, trail] = (hole.values[i] as Spelled).raw === raw ? [0, 0] : trimmed(raw);
    return [node.start + lead, Math.min(node.end - trail, occurrence.end)];
  }
  const attr = (node as Element).attrs.find((each) => each.name === hole.attr);
  if (attr === undefined) return null;
  if (hole.kind === 'flag') return [attr.start, attr.end];
  const { raw, start, end } = valueOf(source, attr);
  if (hole.part === null || hole.kind === 'word') return [start, end];
  const parts = raw.split(PARTS[hole.attr!]!);
  const offset = start + parts.slice(0, hole.part).join('').length;
  return [offset, offset + parts[hole.part]!.length];
}
