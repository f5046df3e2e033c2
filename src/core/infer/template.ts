/**
 * Writes the component file of a generalised group. The template is the source of one occurrence, the one whose layout
 * most others share, with its varying places replaced: quotes, attribute order and spelling stay as they were. Parts
 * that this occurrence lacks come from the first one that has them.
 */
import { camelName } from '../component/expression.js';
import { valueOf } from '../page/attribute.js';
import { eolOf, indentAt } from '../page/parse.js';
import { spell } from '../page/spelling.js';
import { attrOf, type Element, RAW_TEXT } from '../page/tree.js';
import type { ElementPattern, Pattern, TextPattern } from './align.js';
import { type Hole, holeRange, type Occurrence } from './columns.js';
import type { Block, General, InferredProp } from './generalise.js';

interface Edit {
  start: number;
  end: number;
  text: string;
}

/** Stands for the template's own indentation while it is not known, and for each column less than that. */
// eslint-disable-next-line no-control-regex -- the marks are chosen for standing in no page
const LESS_RUN = /\u0002+/g;
// eslint-disable-next-line no-control-regex
const BASE_RUN = /\u0001(\u0002*)/g;
// eslint-disable-next-line no-control-regex
const LINE_START = /\n\u0001\u0002*/g;
// eslint-disable-next-line no-control-regex
const ONLY_LINE = /^\s*\n[\s\u0001\u0002]*$/;
const BASE = '\u0001';
const LESS = '\u0002';

interface Writing {
  general: General;
  /** occurrences in the order in which their source is preferred */
  order: number[];
  indents: string[];
  holes: Map<Pattern, { hole: Hole; prop: InferredProp | null }[]>;
  blocks: Map<Pattern, Block>;
}

/** The text of the component file, its template made from the occurrence `at` where that has the part. */
export function componentFile(name: string, general: General, at = exemplarOf(general)): string {
  const { occurrences } = general;
  const { page } = occurrences[at]!;
  const eol = eolOf(page.source);
  const holes: Writing['holes'] = new Map();
  const note = (hole: Hole, prop: InferredProp | null) =>
    holes.set(hole.pattern, [...(holes.get(hole.pattern) ?? []), { hole, prop }]);
  for (const prop of general.props) for (const hole of prop.holes) note(hole, prop);
  for (const hole of general.literals) note(hole, null);
  const blocks = new Map(general.blocks.flatMap((block) => block.patterns.map((pattern) => [pattern, block] as const)));
  const indents = occurrences.map((each) => indentAt(each.page.source, each.element.start));
  const others = general.blocks.length === 0 ? [...occurrences.keys()] : byTidiness(occurrences, indents);
  const order = [at, ...others];
  const body = writeElement(general.root, { general, order, indents, holes, blocks });
  const unit = body.includes(`\n${BASE}\t`) || indents[at]!.startsWith('\t') ? '\t' : '  ';
  const deepest = Math.max(0, ...[...body.matchAll(LESS_RUN)].map(([each]) => each.length));
  const base = unit.repeat(Math.max(1, Math.ceil(deepest / unit.length)));
  const lines = [`<template component="${name}">`, ...interfaceLines(general).map((line) => unit + line)];
  if (lines.length > 1) lines.push('');
  const moved = body
    .replace(BASE_RUN, (_, less: string) => base.slice(0, base.length - less.length))
    .replaceAll('\u0003', unit);
  return [...lines, base + moved, '</template>', ''].join('\n').replace(/\r?\n/g, eol);
}

function interfaceLines(general: General): string[] {
  return general.props.map((prop) => {
    const parts = [`prop="${prop.name}"`, `type="${prop.type}"`];
    if (prop.type === 'choice') parts.push(`choices="${prop.choices.join(' ')}"`);
    if (prop.optional) parts.push('optional');
    if (prop.default !== null) parts.push(`default="${spell(prop.default, '"')}"`);
    return `<meta ${parts.join(' ')}>`;
  });
}

/** The first occurrence of the layout that most occurrences have, among those that lack the least. */
function exemplarOf(general: General): number {
  const { occurrences } = general;
  const counts = new Map<string, { first: number; count: number; missing: number }>();
  const holes = general.props.flatMap((prop) => prop.holes);
  occurrences.forEach((occurrence, i) => {
    const away = (hole: Hole) => hole.values[i] === false || hole.values[i] === null;
    const missing = holes.filter(away).length + general.blocks.filter(({ presence }) => presence[i] === false).length;
    const key = layoutOf(general, occurrence, i);
    const entry = counts.get(key);
    if (entry) entry.count++;
    else counts.set(key, { first: i, count: 1, missing });
  });
  const [best] = [...counts].sort(
    ([a, one], [b, two]) => one.missing - two.missing || two.count - one.count || (a < b ? -1 : 1),
  );
  return best![1].first;
}

/** Occurrences, those first whose lines are all indented at least as deep as where they start. */
function byTidiness(occurrences: Occurrence[], indents: string[]): number[] {
  const untidy = occurrences.map(({ page, element, end }, i) => {
    const lines = page.source.slice(element.start, end).split('\n').slice(1);
    return lines.filter((line) => line.trim() !== '' && !line.startsWith(indents[i]!)).length;
  });
  return [...occurrences.keys()].sort((a, b) => untidy[a]! - untidy[b]! || a - b);
}

function layoutOf(general: General, occurrence: Occurrence, i: number): string {
  const { source } = occurrence.page;
  const { start } = occurrence.element;
  const indent = indentAt(source, start);
  let text = '';
  let at = start;
  const ranges = [...general.props.flatMap((prop) => prop.holes), ...general.literals]
    .map((hole) => holeRange(hole, i, occurrence))
    .filter((range): range is [number, number] => range !== null)
    .sort((a, b) => a[0] - b[0]);
  for (const [from, to] of ranges) {
    text += `${source.slice(at, from)}\u0001`;
    at = Math.max(at, to);
  }
  return (text + source.slice(at, occurrence.end)).replaceAll(`\n${indent}`, '\n');
}

/** The occurrence whose source a pattern is written from. */
function sourceOf(pattern: Pattern, { order }: Writing): number {
  return order.find((i) => pattern.nodes[i] !== null)!;
}

function writePattern(pattern: Pattern, writing: Writing): string {
  if (pattern.kind === 'element') return writeElement(pattern, writing);
  const i = sourceOf(pattern, writing);
  const { page, end } = writing.general.occurrences[i]!;
  const node = pattern.nodes[i]!;
  if (pattern.kind === 'comment') return page.source.slice(node.start, node.end);
  return writeText(pattern, i, Math.min(node.end, end), writing);
}

function writeText(pattern: TextPattern, i: number, end: number, writing: Writing): string {
  const occurrence = writing.general.occurrences[i]!;
  const { source } = occurrence.page;
  const node = pattern.nodes[i]!;
  const [found] = writing.holes.get(pattern) ?? [];
  if (RAW_TEXT.has((node.parent as Element).tag)) return source.slice(node.start, end);
  const fixed = (from: number, to: number) => {
    const text = source.slice(from, to);
    return escapeBraces(pattern.verbatim ? text : relative(text, source[to], writing.indents[i]!), '"');
  };
  if (found === undefined) return fixed(node.start, end);
  const [from, to] = holeRange(found.hole, i, occurrence)!;
  return fixed(node.start, from) + placeholder(found.hole, found.prop!, '"') + fixed(to, Math.max(to, end));
}

function placeholder({ before, after }: Hole, prop: InferredProp, quote: string): string {
  return `${escapeBraces(before, quote)}{{${camelName(prop.name)}}}${escapeBraces(after, quote)}`;
}

function escapeBraces(text: string, quote: string): string {
  return text.replaceAll('{{', `{{${quote}{{${quote}}}`);
}

function writeElement(pattern: ElementPattern, writing: Writing): string {
  const i = sourceOf(pattern, writing);
  const element = pattern.nodes[i]!;
  const { page, end } = writing.general.occurrences[i]!;
  const { source } = page;
  let text = element.start < 0 ? '' : writeTag(pattern, i, writing);
  // markup without a node of its own, between nodes of the same source, is copied
  let at = element.start < 0 ? -1 : element.openEnd;
  for (const child of pattern.children) {
    const node = child.nodes[i] ?? null;
    if (node !== null && at >= 0 && node.start > at && sourceOf(child, writing) === i)
      text += source.slice(at, node.start);
    if (node !== null) at = node.end;
    const block = writing.blocks.get(child);
    if (block === undefined) text += writePattern(child, writing);
    else if (block.patterns[0] === child) text += writeBlock(block, writing);
  }
  const close = element.closeStart;
  if (close < 0) return text;
  if (at >= 0 && close > at) text += source.slice(at, close);
  return text + source.slice(close, Math.min(element.end, end));
}

const LONGEST = 100;

/** A block on lines of its own where white space with a line break leads it, else in the running text. */
function writeBlock({ patterns, prop, negated }: Block, writing: Writing): string {
  const parts = patterns.map((pattern) => writePattern(pattern, writing));
  const open = `<template ${negated ? 'unless' : 'when'}="${camelName(prop.name)}">`;
  const [lead] = parts;
  if (parts.length < 2 || !ONLY_LINE.test(lead!)) return `${open}${parts.join('')}</template>`;
  const inner = parts.slice(1).join('');
  if (!inner.includes('\n') && inner.length < LONGEST) return `${lead!}${open}${inner}</template>`;
  const line = lead!.slice(lead!.lastIndexOf('\n'));
  const deeper = `${line}\u0003${inner.replace(LINE_START, '$&\u0003')}`;
  return `${lead!}${open}${deeper}${line}</template>`;
}

/** The start tag from the source of occurrence `i`, its varying attributes replaced. */
function writeTag(pattern: ElementPattern, i: number, writing: Writing): string {
  const occurrence = writing.general.occurrences[i]!;
  const { source } = occurrence.page;
  const element = pattern.nodes[i]!;
  const edits: Edit[] = [];
  const found = writing.holes.get(pattern) ?? [];
  for (const attr of element.attrs) {
    if (attr.start < 0) continue;
    const { raw, start, end, quote } = valueOf(source, attr);
    const inner = quote === "'" ? '"' : "'";
    const mine = found.filter(({ hole }) => hole.attr === attr.name);
    const parts = mine.flatMap(({ hole, prop }): Edit[] => {
      const [from, to] = holeRange(hole, i, occurrence)!;
      return hole.kind === 'word' ? [] : [{ start: from, end: to, text: attributeText(hole, prop, inner) }];
    });
    const words = mine.filter(({ hole }) => hole.kind === 'word');
    const bare = !source.slice(attr.start, attr.end).includes('=');
    const value =
      words.length > 0
        ? wordsText(words, inner)
        : apply(source, start, end, parts.length > 0 ? parts : braces(raw, start, inner));
    if (mine.some(({ hole }) => hole.kind === 'flag'))
      edits.push({ start: attr.start, end: attr.end, text: parts[0]!.text });
    else if (mine.length > 0 && (bare || (quote === '' && /\s/.test(value))))
      edits.push({ start, end, text: `${bare ? '=' : ''}"${value}"` });
    else edits.push({ start, end, text: value });
  }
  // attributes that this occurrence lacks go to the end of the tag
  const close = element.openEnd - (source[element.openEnd - 2] === '/' ? 2 : 1);
  for (const { hole, prop } of found) {
    if (element.attrs.some((attr) => attr.name === hole.attr) || hole.attr === null) continue;
    const text = attributeText(hole, prop, "'");
    edits.push({ start: close, end: close, text: hole.kind === 'flag' ? ` ${text}` : ` ${hole.attr}="${text}"` });
  }
  return apply(source, element.start, element.openEnd, edits, (text, next) =>
    relative(text, next, writing.indents[i]!),
  );
}

/** Source text of an attribute's value, or of its whole when it is a flag. */
function attributeText(hole: Hole, prop: InferredProp | null, quote: string): string {
  if (prop === null) return hole.before;
  const name = camelName(prop.name);
  if (hole.kind === 'flag') return `${hole.attr!}="{{${name}}}"`;
  if (hole.kind === 'given') return `{{${name} ? ${quote}${hole.before}${quote} : null}}`;
  return placeholder(hole, prop, quote);
}

/** A class value whose words come and go, each with the space before it. */
function wordsText(found: { hole: Hole; prop: InferredProp | null }[], quote: string): string {
  return found[0]!.hole
    .words!.map((word, at) => {
      if (word !== null) return at === 0 ? word : ` ${word}`;
      const mine = found.find(({ hole }) => hole.part === at);
      if (mine === undefined) return '';
      const name = camelName(mine.prop!.name);
      const given = `${quote}${mine.hole.before}${quote}`;
      return mine.prop!.type === 'flag'
        ? `{{${name} ? ${given} : ${quote}${quote}}}`
        : `{{${name} === null ? ${quote}${quote} : ${given}}}{{${name}}}`;
    })
    .join('');
}

function braces(raw: string, from: number, quote: string): Edit[] {
  return [...raw.matchAll(/\{\{/g)].map(({ index }) => ({
    start: from + index,
    end: from + index + 2,
    text: escapeBraces('{{', quote),
  }));
}

/** Line breaks with their indentation made relative to that of the place, `next` being the character that follows. */
function relative(text: string, next: string | undefined, indent: string): string {
  return text.replace(/(?:\r\n|\n|\r)([ \t]*)/g, (whole: string, own: string, at: number) => {
    const following = text[at + whole.length] ?? next ?? '';
    const blank = following === '\n' || following === '\r';
    if (own.startsWith(indent)) return blank && own === '' ? '\n' : `\n${BASE}${own.slice(indent.length)}`;
    return blank ? '\n' : `\n${BASE}${LESS.repeat(indent.length - own.length)}`;
  });
}

function apply(
  source: string,
  start: number,
  end: number,
  edits: Edit[],
  between: (text: string, next: string | undefined) => string = (text) => text,
): string {
  let text = '';
  let at = start;
  for (const edit of [...edits].sort((a, b) => a.start - b.start || b.end - a.end)) {
    if (edit.start < at) continue;
    text += between(source.slice(at, edit.start), source[edit.start]) + edit.text;
    at = edit.end;
  }
  return text + between(source.slice(at, end), source[end]);
}

/** Where the parser would throw an unknown tag out, or the content model has no room for one. */
const TEMPLATE_FORM = new Set(
  'table thead tbody tfoot tr colgroup select optgroup datalist ul ol menu dl head picture video audio ruby frameset'.split(
    ' ',
  ),
);

/** True when a use in place of `element` takes the `template` form. */
export function needsTemplateForm(element: Element): boolean {
  return element.parent?.kind === 'element' && TEMPLATE_FORM.has(element.parent.tag);
}

/** True for an element that is a use already. */
export function isUse(element: Element, isComponent: (name: string) => boolean): boolean {
  return isComponent(element.tag) || (element.tag === 'template' && attrOf(element, 'use') !== undefined);
}
