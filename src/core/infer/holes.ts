/** Where aligned nodes differ: the holes of a text or of an element's attributes. What is equal everywhere makes none. */
import { valueOf } from '../page/attribute.js';
import { decodeAttribute, decodeText, type Spelled } from '../page/spelling.js';
import { type Element, RAW_TEXT, type Text } from '../page/tree.js';
import { isRelative, moveUrls } from '../page/url.js';
import { isFlag, trimmed } from '../survey/profile.js';
import { mergeRows } from './align.js';
import type { ElementPattern, Hole, Occurrence, TextPattern, UrlKindOf } from './pattern.js';

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
  const first = nodes.find((node) => node !== null)!;
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
    const kind = urlKindOf(first, name);
    const value = present.find((attr) => attr !== null)!.value;
    if (equal && (kind === null || (kind === 'url' && !isRelative(value.trim())))) continue;
    if (kind !== null) {
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
  kind: 'url' | 'srcset',
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

type PartHole = Pick<Hole, 'part' | 'values' | 'before'> & Partial<Pick<Hole, 'kind' | 'words'>>;

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

/** How many class words may come and go. */
const MAX_WORDS = 3;

/**
 * Class words as a set that is written in one order: those that come and go become flags, or one choice when they
 * exclude each other and share a stem. Null when the words do not fit into one order.
 */
function wordHoles(raws: (string | null)[]): PartHole[] | null {
  const rows = raws.map((raw) => raw?.split(' ') ?? null);
  if (rows.some((row) => row !== null && (row.includes('') || row.some((word) => /[^\w-]/.test(word))))) return null;
  const columns = mergeRows(rows.map((row) => row?.map((word) => `${word}\u0000`).join('') ?? null));
  if (columns === null) return null;
  const optional = columns
    .map((column, at) => ({ at, words: column.map((i, row) => (i === -1 ? null : rows[row]![i]!)) }))
    .filter(({ words }) => words.some((word, i) => word === null && rows[i] !== null));
  const first = optional[0];
  // without a constant word before them there is nothing that a space could follow
  if (first === undefined || first.at === 0 || optional.length > MAX_WORDS * 2) return null;
  const words = columns.map((column, at) => {
    const comes = optional.some((each) => each.at === at);
    const row = column.findIndex((i) => i !== -1);
    return comes ? null : rows[row]![column[row]!]!;
  });
  const together = raws.map((raw, i) => (raw === null ? null : optional.flatMap(({ words }) => words[i] ?? [])));
  const single = together.map((words) => words?.[0] ?? null);
  const stem = commonStem(single.filter((word) => word !== null));
  const adjacent = optional.every(({ at }, i) => at === first.at + i);
  if (optional.length > 1 && adjacent && stem !== '' && together.every((words) => words === null || words.length < 2)) {
    const values = single.map((word) => (word === null ? null : spelled(word.slice(stem.length))));
    return [{ kind: 'word', part: first.at, values, before: ` ${stem}`, words }];
  }
  if (optional.length > MAX_WORDS) return null;
  return optional.map(({ at, words: column }) => ({
    kind: 'word' as const,
    part: at,
    values: column.map((word, i) => (raws[i] === null ? null : word !== null)),
    before: ` ${column.find((word) => word !== null)!}`,
    words,
  }));
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
