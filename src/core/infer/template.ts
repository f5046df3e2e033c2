/**
 * Writes the component file of a generalised group. The template is the source of one occurrence, the one whose layout
 * most others share, with its varying places replaced: quotes, attribute order and spelling stay as they were.
 */
import { valueOf } from '../page/attribute.js';
import { eolOf, indentAt } from '../page/parse.js';
import { showsSpace } from '../page/same.js';
import { attrOf, type Attr, type Element, PREFORMATTED, RAW_TEXT, walk } from '../page/tree.js';
import { camelName } from '../component/expression.js';
import { holeRange, type Occurrence } from './columns.js';
import type { General } from './generalise.js';
import { spell } from '../page/spelling.js';

interface Edit {
  start: number;
  end: number;
  text: string;
}

/** The text of the component file, made from the occurrence `at`. */
export function componentFile(name: string, general: General, at = exemplarOf(general)): string {
  const { page, element, end } = general.occurrences[at]!;
  const eol = eolOf(page.source);
  const indent = indentAt(page.source, element.start);
  const holes = [...placeholders(general, at), ...literalBraces(general, at)];
  const breaks = lineBreaks(general.occurrences[at]!, holes);
  const deepest = Math.max(0, ...breaks.map((each) => (each.blank ? 0 : indent.length - each.text.length)));
  const unit = breaks.some((each) => each.text.startsWith('\t')) || indent.startsWith('\t') ? '\t' : '  ';
  const base = unit.repeat(Math.max(1, Math.ceil(deepest / unit.length)));
  const moved = breaks.map((each) => ({ ...each, text: eol + moveIndent(each.text, indent, base, each.blank) }));
  const body = apply(page.source, element.start, end, [...holes, ...moved]);
  const lines = [`<template component="${name}">`, ...interfaceLines(general).map((line) => unit + line)];
  if (lines.length > 1) lines.push('');
  return [...lines, base + body, '</template>', ''].join(eol);
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

/** The first occurrence of the layout that most occurrences have; flags must stand in it as often as can be. */
function exemplarOf(general: General): number {
  const { occurrences } = general;
  const counts = new Map<string, { first: number; count: number }>();
  const flags = general.props.flatMap((prop) => prop.holes).filter((hole) => hole.kind === 'flag');
  occurrences.forEach((occurrence, i) => {
    const missing = flags.filter((hole) => hole.values[i] === false).length;
    const key = `${String(missing).padStart(4, '0')} ${layoutOf(general, occurrence, i)}`;
    const entry = counts.get(key);
    if (entry) entry.count++;
    else counts.set(key, { first: i, count: 1 });
  });
  const fewest = [...counts.keys()].reduce((a, b) => (a.slice(0, 4) <= b.slice(0, 4) ? a : b)).slice(0, 4);
  const [best] = [...counts]
    .filter(([key]) => key.startsWith(fewest))
    .map(([, entry]) => entry)
    .sort((a, b) => b.count - a.count || a.first - b.first);
  return best!.first;
}

function layoutOf(general: General, occurrence: Occurrence, i: number): string {
  const { source } = occurrence.page;
  const { end } = occurrence;
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
    at = to;
  }
  return (text + source.slice(at, end)).replaceAll(`\n${indent}`, '\n');
}

function placeholders(general: General, at: number): Edit[] {
  const occurrence = general.occurrences[at]!;
  const { source } = occurrence.page;
  const edits: Edit[] = [];
  for (const prop of general.props) {
    const code = `{{${camelName(prop.name)}}}`;
    for (const hole of prop.holes) {
      const range = holeRange(hole, at, occurrence);
      const element = hole.nodes[at] as Element;
      if (range === null) {
        const end = element.openEnd - (source[element.openEnd - 2] === '/' ? 2 : 1);
        edits.push({ start: end, end, text: ` ${hole.attr!}="${code}"` });
        continue;
      }
      const [start, end] = range;
      const text = escapeBraces(hole.before) + code + escapeBraces(hole.after);
      if (hole.kind === 'flag') edits.push({ start, end, text: `${hole.attr!}="${code}"` });
      else if (hole.kind === 'attr' && !hasValue(source, element, hole.attr!))
        edits.push({ start, end, text: `="${text}"` });
      else edits.push({ start, end, text });
    }
  }
  for (const hole of general.literals) {
    const [start, end] = holeRange(hole, at, occurrence)!;
    edits.push({ start, end, text: hole.before });
  }
  return edits;
}

function hasValue(source: string, element: Element, name: string): boolean {
  const attr = element.attrs.find((each) => each.name === name)!;
  return source.slice(attr.start, attr.end).includes('=');
}

function escapeBraces(text: string, quote = "'"): string {
  return text.replaceAll('{{', `{{${quote}{{${quote}}}`);
}

/** Literal `{{` in what stays, written so that it stays. */
function literalBraces({ occurrences }: General, at: number): Edit[] {
  const { page, element, end } = occurrences[at]!;
  const edits: Edit[] = [];
  const mark = (from: number, raw: string, quote: string) => {
    for (let i = raw.indexOf('{{'); i >= 0; i = raw.indexOf('{{', i + 2))
      edits.push({ start: from + i, end: from + i + 2, text: escapeBraces('{{', quote) });
  };
  if (!page.source.slice(element.start, end).includes('{{')) return edits;
  walk(element, (node) => {
    if (node.kind === 'text' && !RAW_TEXT.has((node.parent as Element).tag))
      mark(node.start, page.source.slice(node.start, node.end), '"');
    if (node.kind === 'element')
      for (const attr of node.attrs) {
        const { raw, start, quote } = valueOf(page.source, attr);
        mark(start, raw, quote === "'" ? '"' : "'");
      }
  });
  return edits;
}

/** The line breaks that may be re-indented, each with the indentation after it as `text`. */
function lineBreaks({ page, element, end: last }: Occurrence, holes: Edit[]): (Edit & { blank: boolean })[] {
  const slice = page.source.slice(element.start, last);
  if (!/[\n\r]/.test(slice)) return [];
  const fixed: [number, number][] = holes.map(({ start, end }) => [start, end]);
  walk(element, (node) => {
    if (node.kind === 'comment') fixed.push([node.start, node.end]);
    if (node.kind !== 'element') return true;
    for (const attr of node.attrs) fixed.push(attrRange(page.source, attr));
    if (!PREFORMATTED.has(node.tag) && !showsSpace(node)) return true;
    fixed.push([node.openEnd, node.closeStart >= 0 ? node.closeStart : node.end]);
    for (const each of node.children) if (each.kind === 'element') fixed.push([each.start, each.end]);
    return false;
  });
  fixed.sort((a, b) => a[0] - b[0]);
  const found: (Edit & { blank: boolean })[] = [];
  let next = 0;
  let reach = 0;
  for (const match of slice.matchAll(/(\r\n|\n|\r)([ \t]*)/g)) {
    const start = element.start + match.index;
    while (next < fixed.length && fixed[next]![0] <= start) reach = Math.max(reach, fixed[next++]![1]);
    if (start < reach) continue;
    const end = start + match[0].length;
    found.push({ start, end, text: match[2]!, blank: /[\n\r]/.test(page.source[end] ?? '') });
  }
  return found;
}

function attrRange(source: string, attr: Attr): [number, number] {
  const { start, end } = valueOf(source, attr);
  return [start, end];
}

function moveIndent(own: string, indent: string, base: string, blank: boolean): string {
  if (own.startsWith(indent)) return blank && own === '' ? '' : base + own.slice(indent.length);
  if (blank) return '';
  return base.slice(0, Math.max(0, base.length - (indent.length - own.length)));
}

function apply(source: string, start: number, end: number, edits: Edit[]): string {
  let text = '';
  let at = start;
  for (const edit of [...edits].sort((a, b) => a.start - b.start || b.end - a.end)) {
    // a brace inside a placeholder's range goes with it
    if (edit.start < at) continue;
    text += source.slice(at, edit.start) + edit.text;
    at = edit.end;
  }
  return text + source.slice(at, end);
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
