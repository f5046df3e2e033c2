/**
 * Writes the component file of a generalised group. The template is the source of one occurrence, the one whose layout
 * most others share, with its varying places replaced: quotes, attribute order and spelling stay as they were. Parts
 * that this occurrence lacks come from the first one that has them.
 */
import { camelName } from '../component/expression.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Prop } from '../component/model.js';
import { beginsWithBreak, columnsOf, holderIndent, stepOf } from '../page/indent.js';
import { eolOf, indentAt } from '../page/parse.js';
import { droppedBreak } from '../page/space.js';
import { quoteAttribute, type Spelled } from '../page/spelling.js';
import { type Element, RAW_TEXT } from '../page/tree.js';
import { useText, WIDTH } from './use.js';
import { isHole } from './compose.js';
import { byTidiness, exemplarOf, ownLists } from './exemplar.js';
import { escapeBraces, placeholder, tested, whether } from './expressions.js';
import { needsTemplateForm } from './form.js';
import {
  BASE,
  BREAKS_AROUND,
  FIRST_LINE,
  laidOut,
  LAST_LINE,
  LINE_START,
  ONLY_LINE,
  relative,
  under,
  UNIT,
} from './layout.js';
import { holeRange } from './holes.js';
import { type Told, writeTag } from './start-tag.js';
import { RUN } from '../fragments/occurrence.js';
import {
  type ElementPattern,
  type Hole,
  type ListPattern,
  type Pattern,
  rangeAt,
  type Row,
  type SlotPattern,
  type TextPattern,
  type Block,
  type General,
  type InferredProp,
  type List,
  type InnerUse,
} from './pattern.js';
import { addTo } from '../groups.js';

interface Writing {
  general: General;
  /** occurrences in the order in which their source is preferred */
  order: number[];
  indents: string[];
  holes: Map<Pattern, Told[]>;
  blocks: Map<Pattern, Block>;
  lists: Map<Pattern, List>;
}

/** The text of the component file, its template made from the occurrence `at` where that has the part. */
export function componentFile(name: string, general: General, at = exemplarOf(general)): string {
  const eol = eolOf(general.occurrences[at]!.page.source);
  const writing = writingOf(general, at);
  const body = writeElement(general.root, writing);
  const step = stepOf(general.occurrences[at]!.page);
  const lines = [`<template component="${name}">`, ...interfaceLines(general).map((parts) => metaText(parts, step))];
  if (lines.length > 1) lines.push('');
  return [...lines, laidOut(body, step), '</template>', ''].join('\n').replace(/\r?\n/g, eol);
}

function writingOf(general: General, at: number): Writing {
  const { occurrences } = general;
  const holes: Writing['holes'] = new Map();
  const note = (hole: Hole, prop: InferredProp | null) => addTo(holes, hole.pattern, { hole, prop });
  for (const prop of general.props) for (const hole of prop.holes) if (hole.kind !== 'name') note(hole, prop);
  for (const hole of general.literals) note(hole, null);
  const blocks = new Map(general.blocks.flatMap((block) => block.patterns.map((pattern) => [pattern, block] as const)));
  const lists = new Map(ownLists(general).map((list) => [list.pattern, list] as const));
  const indents = occurrences.map(indentOf);
  const parted = general.blocks.length + lists.size > 0;
  const order = [at, ...(parted ? byTidiness(occurrences, indents) : occurrences.keys())];
  return { general, order, indents, holes, blocks, lists };
}

/**
 * The indentation that lines of an occurrence are measured by: that of its start, or of its end where what it holds is mostly
 * less deep than where it starts.
 */
function indentOf({ page, element, end }: Occurrence): string {
  const [own, last] = [indentAt(page, element.start), indentAt(page, end - 1)];
  if (last.length >= own.length) return own;
  const lines = page.source.slice(element.start, end).split('\n').slice(1);
  const depths = lines.filter((line) => line.trim() !== '').map((line) => line.search(/[^ \t]/));
  return depths.filter((depth) => depth < own.length).length > depths.length / 2 ? last : own;
}

/** One prop, a step deep; a long line goes on in the next, before an attribute. */
function metaText(parts: string[], step: string): string {
  const lines = [`${step}<meta`];
  for (const part of parts) {
    const line = `${lines.at(-1)!} ${part}`;
    if (columnsOf(step) + line.length < WIDTH) lines[lines.length - 1] = line;
    else lines.push(step.repeat(2) + part);
  }
  return `${lines.join('\n')}>`;
}

/** The attributes of the `meta` of each prop. */
function interfaceLines(general: General, list?: string): string[][] {
  return general.props.flatMap((prop) => {
    const name = prop.scope === undefined ? prop.name : `${list!}.${prop.name}`;
    const parts = [`prop="${name}"`, `type="${prop.type}"`];
    if (prop.type === 'choice') parts.push(`choices="${prop.choices.join(' ')}"`);
    if (prop.optional) parts.push('optional');
    if (prop.default !== null) parts.push(`default=${quoteAttribute(prop.default)}`);
    const fields =
      prop.list === undefined ? (prop.fields ?? []).map(fieldLine) : interfaceLines(prop.list.items, prop.name);
    return [parts, ...fields];
  });
}

function fieldLine({ name, type, optional, choices }: Prop): string[] {
  const choice = type === 'choice' ? [`choices="${choices.join(' ')}"`] : [];
  return [`prop="${name}"`, `type="${type}"`, ...choice, ...(optional ? ['optional'] : [])];
}

/** The occurrence whose source a pattern is written from. */
function sourceOf(pattern: Pattern, { order }: Writing): number {
  return order.find((i) => pattern.nodes[i] !== null)!;
}

function writePattern(pattern: Pattern, writing: Writing): string {
  if (pattern.kind === 'element') return writeElement(pattern, writing);
  if (pattern.kind === 'slot') return writeSlot(pattern, writing);
  if (pattern.kind === 'list') return writeList(pattern, false, writing);
  const i = sourceOf(pattern, writing);
  const { page, end } = writing.general.occurrences[i]!;
  const node = pattern.nodes[i]!;
  if (pattern.kind === 'comment') return page.source.slice(node.start, node.end);
  return writeText(pattern, i, Math.min(node.end, end), writing);
}

/** A slot, with the lines around it as its first content has them where it has a line to itself. */
function writeSlot(slot: SlotPattern, writing: Writing): string {
  const { name, ranges, isOnLine, fallback } = slot;
  const { general, order, indents } = writing;
  const open = name === '' ? '<slot>' : `<slot name="${name}">`;
  if (fallback.length > 0) return writeFallback(slot, open, writing);
  const tag = `${open}</slot>`;
  if (!isOnLine) return tag;
  const contents = order.flatMap((i) => {
    const range = ranges[i];
    return range ? [{ text: general.occurrences[i]!.page.source.slice(...range), indent: indents[i]! }] : [];
  });
  const { text, indent } = contents.find((content) => /\S/.test(content.text))!;
  const [lead, trail] = [/^\s*[\n\r]([ \t]*)/, /[\n\r]([ \t]*)$/].map((line) => `\n${line.exec(text)![1]!}`);
  return relative(lead!, '<', indent) + tag + relative(trail!, '<', indent);
}

/** A slot with what stands there otherwise, in lines of its own where it has its line to itself. */
function writeFallback({ fallback, isOnLine }: SlotPattern, open: string, writing: Writing): string {
  const { text } = writeChildren(fallback, sourceOf(fallback[0]!, writing), -1, writing);
  if (!isOnLine) return `${open}${text}${BREAKS_AROUND.test(text) ? NOTHING : ''}</slot>`;
  const [lead] = FIRST_LINE.exec(text)!;
  const [trail] = LAST_LINE.exec(text)!;
  const inner = text.slice(lead.length, -trail.length);
  // text goes on to the end of its line
  const isShort = isShortLine(inner) && /^<.*>$/.test(inner);
  return `${lead}${isShort ? `${open}${inner}</slot>` : inLines(open, inner, '</slot>', lead)}${trail}`;
}

function isShortLine(text: string): boolean {
  return !text.includes('\n') && text.length < LONGEST;
}

/** What stands between tags, in lines of its own that are a step deeper. */
function inLines(open: string, inner: string, close: string, lead: string): string {
  const line = lead.slice(lead.lastIndexOf('\n'));
  return `${open}${line}${UNIT}${inner.replace(LINE_START, `$&${UNIT}`)}${line}${close}`;
}

function writeText(pattern: TextPattern, i: number, end: number, writing: Writing): string {
  const occurrence = writing.general.occurrences[i]!;
  const { source } = occurrence.page;
  const node = pattern.nodes[i]!;
  const [found] = writing.holes.get(pattern) ?? [];
  if (RAW_TEXT.has((node.parent as Element).tag)) return source.slice(node.start, end);
  const fixed = (from: number, to: number) => {
    const text = source.slice(from, to);
    const laid = pattern.verbatim ? text : relative(text, source[to], writing.indents[i]!);
    // in a template they are placeholders, and stay so
    return occurrence.page.component === undefined ? escapeBraces(laid, '"') : laid;
  };
  if (found === undefined) return fixed(node.start, end);
  const [from, to] = holeRange(found.hole, i, occurrence)!;
  return fixed(node.start, from) + placeholder(found.hole, found.prop!, '"') + fixed(to, Math.max(to, end));
}

function writeElement(pattern: ElementPattern, writing: Writing): string {
  const i = sourceOf(pattern, writing);
  const use = writing.general.uses?.get(pattern);
  if (use !== undefined) return writeUse(use, pattern, i, writing);
  const element = pattern.nodes[i]!;
  const { page, end } = writing.general.occurrences[i]!;
  const { source } = page;
  let text = element.start < 0 || element.tag === RUN ? '' : startTagOf(pattern, i, writing);
  // a line break right behind a start tag is in no node (HTML standard, "pre"), and is none to be indented
  const dropped = text === '' ? '' : droppedBreak(source, element);
  const start = element.start < 0 ? -1 : element.openEnd + dropped.length;
  const inner = writeChildren(pattern.children, i, start, writing);
  text += dropped + inner.text;
  const { at } = inner;
  const close = element.closeStart;
  if (close < 0) return text;
  if (at >= 0 && close > at) text += relative(source.slice(at, close), source[close], writing.indents[i]!);
  // a line may break within the end tag too
  return text + relative(source.slice(close, Math.min(element.end, end)), undefined, writing.indents[i]!);
}

/** The start tag of an element, as occurrence `i` has it. */
function startTagOf(pattern: ElementPattern, i: number, { general, indents, holes }: Writing): string {
  return writeTag(pattern, holes.get(pattern) ?? [], { i, occurrence: general.occurrences[i]!, indent: indents[i]! });
}

/** Children one after the other; `at` is where the source of occurrence `i` has been written to, -1 when unknown. */
function writeChildren(children: Pattern[], i: number, at: number, writing: Writing): { text: string; at: number } {
  const { source } = writing.general.occurrences[i]!.page;
  let text = '';
  // where white space shows, lines of their own would be seen
  const shows = children.some((child) => child.kind === 'text' && child.verbatim);
  const endsLine = (next: number) => !shows && startsLine(children[next], i) && !writing.blocks.has(children[next]!);
  for (const [number, child] of children.entries()) {
    const range = rangeAt(child, i);
    const copied = child.kind === 'slot' || child.kind === 'list' || sourceOf(child, writing) === i;
    // markup without a node of its own, between nodes of the same source, is copied
    if (range !== null && at >= 0 && range[0] > at && copied)
      text += relative(source.slice(at, range[0]), source[range[0]], writing.indents[i]!);
    if (range !== null) [, at] = range;
    const block = writing.blocks.get(child);
    if (child.kind === 'list') text += writeList(child, endsLine(number + 1), writing);
    else if (block === undefined) text += writePattern(child, writing);
    else if (block.patterns[0] === child) {
      const next = number + block.patterns.length;
      text += writeBlock(block, { startsLine: !shows && LAST_LINE.test(text), endsLine: endsLine(next) }, writing);
    }
  }
  return { text, at };
}

/** A use of another component, with what varies passed on. */
function writeUse({ inner, element, given, poured }: InnerUse, pattern: Pattern, i: number, writing: Writing): string {
  const found = writing.holes.get(pattern) ?? [];
  const { page } = writing.general.occurrences[i]!;
  const indent = relative(`\n${indentAt(page, pattern.nodes[i]!.start)}`, '<', writing.indents[i]!).slice(1);
  const values = given.map((each): Spelled | boolean | Row[] => {
    if (!isHole(each)) return each ?? false;
    const { prop } = found.find(({ hole }) => hole.attr === each.attr)!;
    const raw = each.type === 'flag' ? whether(each, prop!, "'") : placeholder(each, prop!, "'");
    return { value: raw, raw };
  });
  const slots = poured.map(({ name, patterns }) => ({
    name,
    hasFallback: inner.slots.some((slot) => slot.name === name && slot.hasFallback),
    content: (to: string) => {
      const { text } = writeChildren(patterns, i, -1, { ...writing, indents: indentsOf(patterns, writing) });
      const lines = under(text, `\n${to}`);
      const isOnLine = inner.slots.some((slot) => slot.name === name && slot.isOnLine);
      return isOnLine && beginsWithBreak(lines) ? lines.replace(LAST_LINE, `\n${to}`) : lines;
    },
  }));
  const form = needsTemplateForm(element, inner.slots) ? 'template' : 'tag';
  return useText(inner.name, inner.props, { values, slots }, form, {
    indent,
    columns: columnsOf(indent),
    // a template is read more often than a page: its lines are short
    replaced: 0,
    step: UNIT,
    eol: '\n',
  });
}

/** In each occurrence the indentation of what holds some siblings. */
function indentsOf(patterns: Pattern[], { general, indents }: Writing): string[] {
  return general.occurrences.map(({ page, element }, i) => {
    const ranges = patterns.map((pattern) => rangeAt(pattern, i)).filter((range) => range !== null);
    if (ranges.length === 0) return indents[i]!;
    return holderIndent(page, [ranges[0]![0], ranges.at(-1)![1]], element.start);
  });
}

/** True for a text that ends the line before it. */
function startsLine(pattern: Pattern | undefined, i: number): boolean {
  const node = pattern?.kind === 'text' ? (pattern.nodes[i] ?? pattern.nodes.find((each) => each !== null)) : null;
  return node?.kind === 'text' && /^[ \t]*\n/.test(node.value);
}

/** A list, each item in lines of its own where they stand so. */
function writeList(pattern: ListPattern, ownLines: boolean, writing: Writing): string {
  const { items, item } = writing.lists.get(pattern)!;
  const { name } = writing.general.props.find(({ list }) => list?.pattern === pattern)!;
  const body = writeElement(items.root, writingOf(items, exemplarOf(items)));
  const open = `<template each="${item}" of="${camelName(name)}">`;
  const i = writing.order.find((each) => pattern.nodes[each] !== null)!;
  const first = pattern.nodes[i]!;
  const { source } = writing.general.occurrences[i]!.page;
  const lead =
    first.kind === 'text' ? relative(source.slice(first.start, first.end), source[first.end], writing.indents[i]!) : '';
  const line = lead.includes('\n') ? lead.slice(lead.lastIndexOf('\n')) : '';
  const moved = (by: string) => under(body, `${line === '' ? `\n${BASE}` : line}${by}`);
  if (line === '' || !ownLines) return `${open}${lead}${moved('')}</template>`;
  if (!body.includes('\n') && body.length < LONGEST) return `${lead}${open}${body}</template>`;
  return `${lead}${open}${line}${UNIT}${moved(UNIT)}${line}</template>`;
}

const LONGEST = 100;

/** Reads as nothing, and keeps the line break before it. */
const NOTHING = `{{''}}`;

/** Where a block stands: right behind a line break and white space, and with one after it. */
interface Around {
  startsLine: boolean;
  endsLine: boolean;
}

/** A block on lines of its own where white space with a line break leads or ends it, else in the running text. */
function writeBlock(
  { patterns, prop, negated, equals }: Block,
  { startsLine, endsLine }: Around,
  writing: Writing,
): string {
  const parts = patterns.map((pattern) => writePattern(pattern, writing));
  const open = `<template ${negated ? 'unless' : 'when'}="${tested(prop, equals, "'")}">`;
  const close = '</template>';
  const [lead, last] = [parts[0]!, parts.at(-1)!];
  if (parts.length > 1 && ONLY_LINE.test(lead) && endsLine) {
    const inner = parts.slice(1).join('');
    return `${lead}${isShortLine(inner) ? `${open}${inner}${close}` : inLines(open, inner, close, lead)}`;
  }
  // the line break after it goes with it, as the line does that it has to itself
  if (parts.length > 1 && ONLY_LINE.test(last) && !ONLY_LINE.test(lead) && startsLine)
    return `${open}${parts.slice(0, -1).join('')}${close}${last}`;
  const content = parts.join('');
  // breaks at both ends would be read as those around lines of its own
  return `${open}${content}${BREAKS_AROUND.test(content) ? NOTHING : ''}${close}`;
}
