/** Where aligned nodes differ: the holes of a text or of an element's attributes. What is equal everywhere makes none. */
import { valueOf } from '../page/attribute.js';
import { decodeAttribute, decodeText, type Spelled } from '../page/spelling.js';
import { canPass, saidIn } from './placeholders.js';
import { foldIndentation } from '../page/same.js';
import { type Element, RAW_TEXT, type Text } from '../page/tree.js';
import { relativeUrls, type UrlKind } from '../page/url.js';
import { isFlag, trimmed } from '../page/space.js';
import { partHoles, partsOf, urlHoles } from './parts.js';
import { passedAttribute, stays } from './passed.js';
import { sharedUrl } from './urls.js';
import type { Occurrence } from '../fragments/occurrence.js';
import {
  allEqual,
  type ElementPattern,
  firstOf,
  type Hole,
  spelled,
  type TextPattern,
  type UrlKindOf,
} from './pattern.js';

/** What may stand between quotes in a placeholder as it is. */
const LITERAL = /^[^'"\\{}]+$/;

/** What is aligned. */
export interface Aligning {
  occurrences: Occurrence[];
  /** some stand in the templates of components */
  templated: boolean;
}

/** Notes where a text varies; false when it varies in a way that no value can say. */
export function textHole(pattern: TextPattern, { occurrences, templated }: Aligning): boolean {
  const { nodes, verbatim } = pattern;
  if (nodes.some((node, i) => node !== null && hidesBraces(node, occurrences[i]!.page.source))) return false;
  const said = !templated
    ? []
    : nodes.map((node, i) => {
        const { source } = occurrences[i]!.page;
        return node && saidIn(node, source.slice(node.start, node.end), decodeText, occurrences[i]!);
      });
  const equal = allEqual(nodes, (text) => text.value);
  const passes = said.some((each) => each !== null);
  const isAlike = () => equal || (!verbatim && allEqual(nodes, (text) => foldIndentation(trim(text.value))));
  if (passes && isAlike() && stays(said, pattern)) return true;
  if (passes && !said.every((each) => each === null || canPass(each))) return false;
  if (equal && !passes) return true;
  if (RAW_TEXT.has((firstOf(nodes).parent as Element).tag)) return false;
  const values = nodes.map((node, i): Spelled | null => {
    if (node === null) return null;
    const raw = occurrences[i]!.page.source.slice(node.start, node.end);
    if (verbatim) return { value: node.value, raw };
    const value = trim(node.value);
    return { value, raw: raw === node.value ? value : trim(raw) };
  });
  // only the indentation differs
  if (!passes && allEqual(values, ({ value }) => (verbatim ? value : foldIndentation(value)))) return true;
  // a stray tag within the text would be lost with it
  if (values.some((each) => each !== null && each.raw !== each.value && decodeText(each.raw) !== each.value))
    return false;
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

/** Notes where the attributes of an element vary; false where they vary in a way that no value can say. */
export function attributeHoles(
  pattern: ElementPattern,
  { occurrences, templated }: Aligning,
  componentFolder: string,
  urlKindOf: UrlKindOf,
): boolean {
  const { nodes } = pattern;
  const add = (hole: Hole) => void pattern.holes.push(hole);
  const isSame = !templated && haveSameTag(nodes, occurrences);
  for (const name of namesOf(isSame ? [firstOf(nodes)] : nodes)) {
    const kind = urlKindAmong(nodes, name, urlKindOf);
    // start tags that are spelled alike differ at most in what their URLs mean
    if (isSame && kind === null) continue;
    // undefined: the element is there without the attribute
    const attrs = nodes.map((element) => (element === null ? null : element.attrs.find((attr) => attr.name === name)));
    const present = attrs.map((attr) => attr ?? null);
    const hole: Hole = { kind: 'attr', pattern, attr: name, part: null, values: [], before: '' };
    const equal = allEqual(present, (attr) => attr.value);
    const raws = present.map((attr, i) => (attr === null ? null : valueOf(occurrences[i]!.page.source, attr).raw));
    const passed = templated
      ? passedAttribute(hole, { attrs, raws, equal, kind }, pattern, occurrences, componentFolder)
      : null;
    if (passed === false) return false;
    if (passed === true) continue;
    if (attrs.includes(undefined)) {
      const flags = attrs.map((attr) => (attr === null ? null : attr !== undefined));
      const given = raws.find((raw) => raw !== null)!;
      if (present.every((attr) => attr === null || isFlag(attr.name, attr.value)))
        add({ ...hole, kind: 'flag', values: flags });
      else if (equal && LITERAL.test(given) && LITERAL.test(decodeAttribute(given)))
        add({ ...hole, kind: 'given', values: flags, before: given });
      else add({ ...hole, values: raws.map(spelled) });
      continue;
    }
    const moves = kind !== null && raws.some((raw) => raw !== null && relativeUrls(raw, kind).length > 0);
    if (equal && !moves) continue;
    if (kind !== null && (moves || kind === 'url' || kind === 'srcset')) {
      const literal = sharedUrl(raws, kind, occurrences, componentFolder);
      if (literal === null) for (const each of urlHoles(name, raws, kind)) add({ ...hole, ...each });
      else if (raws.some((raw) => raw !== null && raw !== literal)) add({ ...hole, kind: 'literal', before: literal });
      continue;
    }
    for (const each of partHoles(name, raws)) add({ ...hole, ...each });
  }
  return true;
}

/** The names of the attributes that any of the elements has. */
function namesOf(nodes: (Element | null)[]): Set<string> {
  const names = new Set<string>();
  for (const element of nodes) for (const attr of element?.attrs ?? []) names.add(attr.name);
  return names;
}

/** True for elements whose start tags are spelled alike. */
function haveSameTag(nodes: (Element | null)[], occurrences: Occurrence[]): boolean {
  let first: string | null = null;
  return nodes.every((node, i) => {
    if (node === null) return true;
    const { source } = occurrences[i]!.page;
    first ??= source.slice(node.start, node.openEnd);
    return node.start >= 0 && node.openEnd - node.start === first.length && source.startsWith(first, node.start);
  });
}

function urlKindAmong(nodes: (Element | null)[], name: string, urlKindOf: UrlKindOf): UrlKind | null {
  for (const node of nodes) {
    const kind = node && urlKindOf(node, name);
    if (kind !== null) return kind;
  }
  return null;
}

/**
 * The range of a hole, its constant ends included, in the source of occurrence `i`; null where it is absent. That of a
 * `word` is the whole value, or the value's part when the words stand alone.
 */
export function holeRange(hole: Hole, i: number, occurrence: Occurrence): [start: number, end: number] | null {
  const node = hole.pattern.nodes[i];
  if (node === null || node === undefined || hole.kind === 'name') return null;
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
  const parts = partsOf(hole.attr!, raw);
  const offset = start + parts.slice(0, hole.part).join('').length;
  return [offset, offset + parts[hole.part]!.length];
}
