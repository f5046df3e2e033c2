/** Writes uses: the tag that stands for a component in a page. */
import { quoteAttribute, type Spelled } from '../page/spelling.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { beginsWithBreak, columnsOf, hasOwnLines, holderIndent, movedSource, stepOf } from '../page/indent.js';
import { eolOf, indentAt } from '../page/parse.js';
import { folderOf, moveUrls } from '../page/url.js';
import type { Row, Poured, Value } from './pattern.js';

/** Columns that a line of a use may take; what is longer goes on in the next line, unless it replaces a line as long as that. */
export const WIDTH = 100;

export interface UseProp {
  name: string;
  default: Spelled | null;
}

/** What a use says: one value a prop, and what is poured into its slots. */
export interface UseContent {
  values: (Spelled | boolean | Row[])[];
  slots: PouredText[];
}

export interface PouredText {
  /** '' is the default slot */
  name: string;
  /** something else would stand there if nothing were poured in, so that nothing has to be said */
  hasFallback: boolean;
  /** its source within a tag that is indented so */
  content: (indent: string) => string;
}

/** Where a use is written. */
export interface UsePlace {
  /** indentation of its line, and one step of indentation */
  indent: string;
  /** columns that this counts for where lines are measured: those of the place that it replaces, wherever it comes to stand */
  columns: number;
  /** length of what it replaces where that is in one line, 0 where it is not: UTF-16 units */
  replaced: number;
  step: string;
  eol: string;
  keep?: Keep;
}

/** Where lists go that are too long for a page. */
export interface Keeping {
  /** relative to the root */
  folder: string;
  /** most characters of a list in a page */
  limit: number;
  /** data files by path, those that are there and those that are to be */
  files: Map<string, string>;
}

/** Keeps long lists of one page in data files named after it. */
export function keepFor({ page, folder: base }: Occurrence, { folder, limit, files }: Keeping): Keep {
  return (prop, json) => {
    const own = folderOf(page.path);
    if (json.length <= limit || base !== own) return null;
    const stem = `${folder}/${page.path.replace(/\.[^./]*$/, '').replace(/[^\w.-]+/g, '-')}-${prop}`;
    let path = `${stem}.json`;
    for (let i = 2; (files.get(path) ?? json) !== json; i++) path = `${stem}-${i}.json`;
    files.set(path, json);
    return moveUrls(path, 'url', '', own);
  };
}

/**
 * The source of one use; a value equal to the prop's default is left out.
 */
export function useText(
  component: string,
  props: UseProp[],
  { values, slots }: UseContent,
  form: 'tag' | 'template',
  { indent, columns, replaced, step, eol, keep }: UsePlace,
): string {
  const attributes: string[] = form === 'template' ? [`use="${component}"`] : [];
  const newline = eol + indent;
  const blocks: string[] = [];
  props.forEach((prop, i) => {
    const value = values[i]!;
    if (typeof value === 'boolean') {
      if (value) attributes.push(prop.name);
    } else if (Array.isArray(value)) {
      if (value.length > 0) blocks.push(listText(prop.name, value, { indent: indent + step, step, eol, keep }));
    } else if (prop.default?.value !== value.value || prop.default.raw !== value.raw)
      attributes.push(`${prop.name}=${quoteAttribute(value)}`);
  });
  const poured = slots.find(({ name }) => name === '')?.content(indent) ?? '';
  // blocks stand on lines of their own before content that does so, and in the line after other content
  const areLines = poured === '' || beginsWithBreak(poured);
  for (const { name, content, hasFallback } of slots) {
    if (name === '') continue;
    const inner = content(areLines ? indent + step : indent);
    if (inner !== '' || hasFallback) blocks.push(`<template slot="${name}">${inner}</template>`);
  }
  const between = areLines ? newline + step : '';
  const content = blocks.map((block) => between + block).join('') + (blocks.length > 0 && poured === '' ? newline : '');
  const tag = form === 'template' ? 'template' : component;
  const close = `>${areLines ? content + poured : poured + content}</${tag}>`;
  const closeWidth = content + poured === '' ? close.length : 1;
  const line = [`<${tag}`, ...attributes].join(' ');
  if (line.length + closeWidth <= replaced) return line + close;
  const lines = [`<${tag}`];
  for (const [i, attribute] of attributes.entries()) {
    const last = i === attributes.length - 1;
    const line = `${lines.at(-1)!} ${attribute}`;
    const width = columns + line.length + (last ? closeWidth : 0);
    if (width <= WIDTH || i === 0) lines[lines.length - 1] = line;
    else lines.push(`${step}${attribute}`);
  }
  return lines.join(newline) + close;
}

/** Keeps a list that is too long for a page; gives back the URL of its data file, or null where it stays. */
export type Keep = (prop: string, json: string) => string | null;

/** A list as a JSON block, one record a line, or as the data file that it is kept in. */
function listText(
  name: string,
  rows: Row[],
  { indent, step, eol, keep }: Omit<UsePlace, 'columns' | 'replaced'>,
): string {
  const newline = eol + indent;
  const records = rows.map((row) => {
    const fields = Object.entries(row).filter(([, value]) => value !== null && value !== false);
    const text = fields.map(
      ([key, value]) => `${json(key)}: ${json(typeof value === 'boolean' ? value : value!.value)}`,
    );
    return text.length === 0 ? '{}' : `{ ${text.join(', ')} }`;
  });
  const lines = records.map((record) => newline + step + record).join(',');
  const src = keep?.(name, `[${records.map((record) => `\n  ${record}`).join(',')}\n]\n`) ?? null;
  if (src !== null) return `<script type="application/json" slot="${name}" src="${src}"></script>`;
  return `<script type="application/json" slot="${name}">[${lines}${newline}]</script>`;
}

/** JSON that may stand in a `script` element. */
function json(value: string | boolean): string {
  return JSON.stringify(value).replaceAll('<', '\\u003c');
}

/** The values of one occurrence, a known component's default where the use gives none. */
export function valuesAt(
  props: { values: (Value | null)[]; default: Spelled | null }[],
  index: number,
): (Spelled | boolean | Row[])[] {
  return props.map((prop) => prop.values[index] ?? prop.default ?? false);
}

/**
 * Writes the source of a range of a page.
 * @param from the indentation of what holds the range
 * @param to the indentation that its lines have in place of that
 */
export type WriteRange = (range: [start: number, end: number], from: string, to: string) => string;

/** What occurrence `index` pours into the slots: its source, or what `write` makes of that range. */
export function pouredAt(
  slots: Poured[],
  { page, element }: Occurrence,
  index: number,
  write: WriteRange = (range, from, to) => movedSource(page, range, from, to),
): PouredText[] {
  return slots.flatMap(({ name, ranges, isOnLine, hasFallback }): PouredText[] => {
    const range = ranges[index];
    if (!range) return [];
    const from = holderIndent(page, range, element.start);
    const content = page.source.slice(...range);
    if (!isOnLine || !hasOwnLines(content)) return [{ name, hasFallback, content: (to) => write(range, from, to) }];
    // where the last line begins, which is that of the closing tag, is the template's to say
    const [last] = /(\r\n|\n|\r)[ \t]*$/.exec(content)!;
    const lines: typeof range = [range[0], range[1] - last.length];
    return [{ name, hasFallback, content: (to) => write(lines, from, to) + last.replace(/[ \t]/g, '') + to }];
  });
}

/** Where a use that replaces an occurrence is written, but for what its lists are kept in. */
export function placeOfUse({ page, element, end }: Occurrence): UsePlace {
  const indent = indentAt(page, element.start);
  const fragment = page.source.slice(element.start, end);
  const replaced = /[\n\r]/.test(fragment) ? 0 : fragment.length;
  return { indent, columns: columnsOf(indent), replaced, step: stepOf(page), eol: eolOf(page.source) };
}
