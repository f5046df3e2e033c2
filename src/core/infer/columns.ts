/**
 * Walks all occurrences of one shape in lockstep and notes where they differ: a hole a place, with one value an
 * occurrence. What is equal everywhere stays in the template and makes no hole.
 */
import { valueOf } from '../page/attribute.js';
import { type Page } from '../page/parse.js';
import { decodeAttribute, decodeText, type Spelled } from '../page/spelling.js';
import { type Attr, type Element, type Node, PREFORMATTED, RAW_TEXT, type Text } from '../page/tree.js';
import { showsSpace } from '../page/same.js';
import { isRelative, moveUrls, urlKind } from '../page/url.js';
import { isFlag, trimmed } from '../survey/profile.js';

/** One place where a fragment stands; `folder` is what its relative URLs resolve against, null when unknown. */
export interface Occurrence {
  page: Page;
  element: Element;
  /** where its source ends: as the element's, without white space that only stands in it for want of an end tag */
  end: number;
  folder: string | null;
}

/** What a prop holds at one occurrence: a spelled value, or whether a flag is there. */
export type Value = Spelled | boolean;

/**
 * A place in the shape whose value varies.
 * - `text`: a text node without the white space around it
 * - `attr`: an attribute value, or one part of it (a class word, one side of a style declaration)
 * - `flag`: a boolean attribute that is there or not
 * - `literal`: a URL that means the same everywhere but must be written for the component's folder
 */
export interface Hole {
  kind: 'text' | 'attr' | 'flag' | 'literal';
  /** the text node or the attribute's element, one an occurrence */
  nodes: Node[];
  attr: string | null;
  /** index into the parts of the attribute's value, or null for the whole */
  part: number | null;
  values: Value[];
  /** constant source text before and after the value, within the hole's range */
  before: string;
  after: string;
}

const PARTS: Record<string, RegExp> = { class: /([\t\n\f\r ]+)/, style: /([:;][\t\n\f\r ]*)/ };

/**
 * The holes of a group in document order; null when the occurrences are not alike after all (two shapes that met in
 * one hash), or when more than `limit` places vary.
 */
export function findHoles(occurrences: Occurrence[], componentFolder: string, limit: number): Hole[] | null {
  const holes: Hole[] = [];
  let varying = 0;
  const add = (hole: Hole) => {
    holes.push(hole);
    if (hole.kind !== 'literal') varying++;
  };
  const visit = (nodes: Node[], verbatim: boolean): boolean => {
    const first = nodes[0]!;
    if (nodes.some((node) => node.kind !== first.kind)) return false;
    if (first.kind === 'text') {
      if (allEqual(nodes as Text[], (text) => text.value)) return true;
      if (RAW_TEXT.has((first.parent as Element).tag)) return false;
      const hole = textHole(nodes as Text[], occurrences, verbatim);
      // a stray tag within the text would be lost with it
      if (hole?.values.some((each) => decodeText((each as Spelled).raw) !== (each as Spelled).value) === true)
        return false;
      if (hole !== null) add(hole);
      return varying <= limit;
    }
    if (first.kind === 'comment') return allEqual(nodes, (node) => (node as typeof first).value);
    if (first.kind !== 'element') return false;
    const elements = nodes as Element[];
    if (
      elements.some(
        (each) => each.tag !== first.tag || each.ns !== first.ns || each.children.length !== first.children.length,
      )
    )
      return false;
    if (!attributeHoles(elements, occurrences, componentFolder, add)) return false;
    const below = verbatim || PREFORMATTED.has(first.tag) || showsSpace(first);
    for (let i = 0; i < first.children.length && varying <= limit; i++) {
      if (
        !visit(
          elements.map((each) => each.children[i]!),
          below,
        )
      )
        return false;
    }
    return varying <= limit;
  };
  return visit(
    occurrences.map((occurrence) => occurrence.element),
    false,
  )
    ? holes
    : null;
}

function allEqual<T>(items: T[], read: (item: T) => string | undefined): boolean {
  const first = read(items[0]!);
  return items.every((item) => read(item) === first);
}

function textHole(nodes: Text[], occurrences: Occurrence[], verbatim: boolean): Hole | null {
  const values = nodes.map((node, i): Spelled => {
    const raw = occurrences[i]!.page.source.slice(node.start, node.end);
    return verbatim ? { value: node.value, raw } : { value: trim(node.value), raw: trim(raw) };
  });
  // only the indentation differs
  if (allEqual(values, (each) => each.value)) return null;
  return { kind: 'text', nodes, attr: null, part: null, values, before: '', after: '' };
}

function trim(text: string): string {
  const [lead, trail] = trimmed(text);
  return text.slice(lead, text.length - trail);
}

function attributeHoles(
  elements: Element[],
  occurrences: Occurrence[],
  componentFolder: string,
  add: (hole: Hole) => void,
): boolean {
  const names = new Set<string>();
  for (const element of elements) for (const attr of element.attrs) names.add(attr.name);
  for (const name of names) {
    const attrs = elements.map((element) => element.attrs.find((attr) => attr.name === name));
    const hole: Hole = { kind: 'attr', nodes: elements, attr: name, part: null, values: [], before: '', after: '' };
    if (attrs.some((attr) => attr === undefined)) {
      if (!attrs.every((attr) => attr === undefined || isFlag(attr.name, attr.value))) return false;
      add({ ...hole, kind: 'flag', values: attrs.map((attr) => attr !== undefined) });
      continue;
    }
    const present = attrs as Attr[];
    const equal = allEqual(present, (attr) => attr.value);
    const kind = urlKind(elements[0]!.tag, name);
    if (equal && (kind === null || (kind === 'url' && !isRelative(present[0]!.value.trim())))) continue;
    const raws = present.map((attr, i) => valueOf(occurrences[i]!.page.source, attr).raw);
    if (kind !== null) {
      const literal = sharedUrl(raws, kind, occurrences, componentFolder);
      if (literal !== null) {
        if (literal !== raws[0]) add({ ...hole, kind: 'literal', before: literal });
        continue;
      }
      add({ ...hole, values: raws.map(spelled) });
      continue;
    }
    for (const each of partHoles(name, raws)) add({ ...hole, ...each });
  }
  return true;
}

function spelled(raw: string): Spelled {
  return { value: decodeAttribute(raw), raw };
}

/** The URL as a component writes it, when that gives back each occurrence's exact text; else null. */
function sharedUrl(
  raws: string[],
  kind: 'url' | 'srcset',
  occurrences: Occurrence[],
  componentFolder: string,
): string | null {
  const from = occurrences[0]!.folder;
  const literal = from === null ? null : moveUrls(raws[0]!, kind, from, componentFolder);
  if (literal === null) return null;
  const exact = (raw: string, { folder }: Occurrence) =>
    folder !== null && moveUrls(literal, kind, componentFolder, folder) === raw;
  return raws.every((raw, i) => exact(raw, occurrences[i]!)) ? literal : null;
}

type PartHole = Pick<Hole, 'part' | 'values' | 'before'>;

/** Splits a class or style value into parts where all occurrences have the same parts but for some; else the whole. */
function partHoles(name: string, raws: string[]): PartHole[] {
  const whole: PartHole[] = [{ part: null, values: raws.map(spelled), before: '' }];
  const pattern = PARTS[name];
  if (pattern === undefined) return whole;
  const rows = raws.map((raw) => raw.split(pattern));
  const width = rows[0]!.length;
  if (rows.some((row) => row.length !== width || row.some((part, i) => i % 2 === 1 && part !== rows[0]![i])))
    return whole;
  const holes: PartHole[] = [];
  for (let part = 0; part < width; part += 2) {
    const column = rows.map((row) => row[part]!);
    if (allEqual(column, (each) => each)) continue;
    if (name === 'style' && part % 4 === 0) return whole;
    const before = name === 'class' ? commonStem(column) : '';
    holes.push({ part, values: column.map((each) => spelled(each.slice(before.length))), before });
  }
  return holes;
}

/** The longest common start that ends in a hyphen or underscore and leaves something of every word. */
function commonStem(column: string[]): string {
  let stem = column[0]!;
  for (const word of column) while (!word.startsWith(stem)) stem = stem.slice(0, -1);
  stem = /^.*[-_]/.exec(stem)?.[0] ?? '';
  return column.some((word) => word === stem) ? '' : stem;
}

/** The range of a hole, its constant ends included, in the source of occurrence `i`; null where a flag is absent. */
export function holeRange(hole: Hole, i: number, occurrence: Occurrence): [start: number, end: number] | null {
  const node = hole.nodes[i]!;
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
  if (hole.part === null) return [start, end];
  const parts = raw.split(PARTS[hole.attr!]!);
  const offset = start + parts.slice(0, hole.part).join('').length;
  return [offset, offset + parts[hole.part]!.length];
}
