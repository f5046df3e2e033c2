/**
 * Compiles markup into parts: source text that is copied as it stands, and the few places where something happens.
 * Pages and templates go through the same code; in pages only uses are of interest.
 */
import { Problem } from '../errors.js';
import { beginsWithBreak } from '../page/indent.js';
import { indentAt, placeAt } from '../page/parse.js';
import { isPreformatted } from '../page/same.js';
import type { Target } from '../page/spelling.js';
import { type Attr, attrOf, type Child, type Element, RAW_TEXT } from '../page/tree.js';
import { markedText, relativeUrls, urlKind, type UrlKind } from '../page/url.js';
import { valueOf } from '../page/attribute.js';
import { expressionOf, joinsAfter, type Placed, type Reading, type Segment, segmentsOf } from './segments.js';
import type { Staying, Within } from './staying.js';
import { fillingOf, usedComponent } from './use.js';

export interface UseAttribute {
  name: string;
  segments: Segment[];
  offset: number;
}

export interface UsePart {
  kind: 'use';
  component: string;
  element: Element;
  attributes: UseAttribute[];
  /** '' is the default slot */
  slots: Map<string, Content>;
  /** lists passed as JSON blocks: name → source and its offset */
  lists: Map<string, { json: string; src: string | undefined; offset: number }>;
  /** uses around it that stay, the outermost first */
  within: readonly Within[];
}

/** What a use pours into a slot. */
export interface Content {
  parts: Part[];
  /** the same without the indentation of the tag that closes it, where it has lines of its own between the tags; else null */
  lines: Part[] | null;
  offset: number;
  /** the indentation of the tag that holds it */
  base: string;
}

export type SlotPart = Extract<Part, { kind: 'slot' }>;

export type Part =
  | { kind: 'text'; text: string; verbatim: boolean; /** what follows starts a line of its own */ ends?: true }
  | { kind: 'value'; expression: Placed; target: Target; joins: boolean; within: readonly Within[] }
  | {
      kind: 'attribute';
      /** white space before the name; goes with the attribute when that is left out */
      space: string;
      name: string;
      quote: '"' | "'" | '';
      segments: Segment[];
      url: UrlKind | null;
      /** it gives a prop of a use that stays: a value has the quotes that keep its spelling */
      given: boolean;
    }
  | { kind: 'when'; test: Placed; negated: boolean; parts: Part[] }
  | { kind: 'each'; item: string; of: Placed; parts: Part[] }
  | {
      kind: 'slot';
      name: string;
      parts: Part[];
      offset: number;
      /** white space shows where it stands */
      shows: boolean;
      /** indentation of the element that it stands in */
      base: string;
      /** the line break and indentation before it, where it has its line to itself */
      line: Part[];
    }
  | UsePart;

/** What is compiled: in a component's template blocks and slots mean something too, and text is re-indented. */
export interface Compiling extends Reading {
  /** true in what a use holds: it is re-indented to the place of the slot */
  poured?: boolean | undefined;
  isComponent: (name: string) => boolean;
  /** components whose uses are left as they are */
  staying?: Staying | undefined;
  /** those around what is compiled, the outermost first */
  within?: readonly Within[];
  /** indentation of what holds that which is compiled */
  base?: string;
  /** white space shows around what is compiled, so that nothing is re-indented */
  shows?: boolean;
  /** how much deeper than the block that holds them its lines are indented in the file: they come out as deep as it */
  deeper?: string | undefined;
}

/** Compiles the source from `start` to `end`, which holds exactly `nodes`. Throws a Problem with the place. */
export function compile(nodes: Child[], start: number, end: number, context: Compiling): Part[] {
  const parts: Part[] = [];
  const { page, template, isComponent, staying, poured, deeper } = context;
  const { source } = page;
  let cursor = start;
  const isMoved = template || poured === true;
  let shows = context.shows === true;
  let { base = '', within = [] } = context;
  let verbatim = !isMoved || shows;

  const copyTo = (offset: number) => {
    if (offset > cursor) parts.push(textPart(source.slice(cursor, offset)));
    cursor = Math.max(cursor, offset);
  };
  const textPart = (text: string): Part => ({
    kind: 'text',
    text: verbatim ? text : shallower(text, context),
    verbatim,
  });
  const copyVerbatim = (from: number, to: number) => {
    copyTo(from);
    const before = verbatim;
    verbatim = true;
    copyTo(to);
    verbatim = before;
  };
  const replace = (element: Element, part: Part) => {
    copyTo(element.start);
    parts.push(part);
    cursor = element.end;
  };

  /** Visits what stands in a range, in which white space shows or does not. */
  const showing = (isShown: boolean, [from, to]: [number, number], work: () => void) => {
    if (!isShown || shows) {
      work();
      return;
    }
    copyTo(from);
    [shows, verbatim] = [true, true];
    work();
    copyTo(to);
    [shows, verbatim] = [false, !isMoved];
  };

  const visitAttribute = (attr: Attr, element: Element) => {
    if (attr.start < 0) return;
    const { raw, start: from, quote } = valueOf(source, attr);
    if (!template) {
      if (/[\n\r]/.test(raw)) copyVerbatim(from, from + raw.length);
      return;
    }
    const segments = segmentsOf(raw, from, 'attribute', context);
    const [first] = segments;
    const kind = (staying?.urlKindOf ?? urlKind)(element, attr.name);
    const within = kind === 'css' || kind === 'refresh';
    const literalUrl =
      kind !== null && (within || typeof first === 'string') && relativeUrls(markedText(segments), kind).length > 0;
    if (segments.some((segment) => typeof segment !== 'string') || literalUrl || raw.includes('{{')) {
      let space = attr.start;
      while (/\s/.test(source[space - 1] ?? '')) space--;
      copyTo(space);
      const name = source.slice(attr.start, attr.start + attr.name.length);
      const url = literalUrl ? kind : null;
      const shown = shallower(source.slice(space, attr.start), context);
      const given = staying?.isUse(element) === true;
      parts.push({ kind: 'attribute', space: shown, name, quote, segments, url, given });
      cursor = attr.end;
    } else if (/[\n\r]/.test(raw)) copyVerbatim(from, from + raw.length);
  };

  /** Where the node stands that is being visited; all of one shape, as many as there are. */
  const here = (): Compiling => ({ page, template, isComponent, staying, poured, deeper, base, shows, within });

  const visit = (node: Child): void => {
    if (node.kind === 'comment' && /[\n\r]/.test(node.value)) return copyVerbatim(node.start, node.end);
    if (node.kind === 'text') {
      if (!template || node.start < 0) return;
      // text of an element that is left open goes on past the end of the template's markup
      const whole = source.slice(node.start, Math.min(node.end, end));
      if (!whole.includes('{{')) return;
      // a line break at its end may be that of a block which has its line to itself
      const raw = whole.replace(/(\r\n|\n|\r)[ \t]*$/, '');
      copyTo(node.start);
      segmentsOf(raw, node.start, 'text', context).forEach((segment, i, all) => {
        if (typeof segment === 'string') parts.push(textPart(segment));
        else parts.push({ kind: 'value', expression: segment, target: 'text', joins: joinsAfter(all, i), within });
      });
      cursor = node.start + raw.length;
      return;
    }
    if (node.kind !== 'element') return;
    const name = usedComponent(node, isComponent);
    if (name !== null) return replace(node, compileUse(node, name, here()));
    const special = template ? blockOf(node, here()) : null;
    if (special !== null) {
      const line = verbatim ? null : ownLine(node, source, start, end);
      if (line === null) return replace(node, special);
      // the block's line comes and goes with what it yields
      copyTo(node.start - line.length);
      const before = parts.at(-1);
      if (before?.kind === 'text') before.ends = true;
      (special.kind === 'slot' ? special.line : special.parts).unshift(textPart(line));
      cursor = node.end;
      parts.push(special);
      return;
    }
    if (isMoved) for (const attr of node.attrs) visitAttribute(attr, node);
    if (RAW_TEXT.has(node.tag)) return copyVerbatim(node.openEnd, contentEnd(node));
    const outer = base;
    if (template && node.start >= 0) base = indentOf(node, context);
    showing(isPreformatted(node), [node.openEnd, contentEnd(node)], () => visitChildren(node));
    base = outer;
  };

  /** Visits children; of a use that stays, as its component has them. */
  const visitChildren = (node: Element) => {
    for (const child of node.children) {
      if (staying?.isUse(node) !== true) {
        visit(child);
        continue;
      }
      const filling = fillingOf(child);
      const holder = filling?.element ?? node;
      const range: [number, number] =
        filling === null ? [child.start, child.end] : [holder.openEnd, contentEnd(holder)];
      const slot = staying.slotOf(node, filling?.name ?? '');
      const outer = within;
      if (slot !== null)
        within = [...within, { ...slot, use: indentOf(node, context), tag: indentOf(holder, context) }];
      showing(slot?.shows === true, range, () => visit(child));
      within = outer;
    }
  };

  nodes.forEach(visit);
  copyTo(end);
  return parts;
}

/** The line break and indentation before a block that has its line, or lines, to itself; else null. */
export function ownLine(element: Element, source: string, start: number, end: number): string | null {
  const before = /(\r\n|\n|\r)[ \t]*$/.exec(source.slice(start, element.start));
  const after = /^[ \t]*(\r|\n|$)/.exec(source.slice(element.end, end));
  return before === null || after === null ? null : before[0];
}

function shallower(text: string, { deeper }: Compiling): string {
  return deeper === undefined ? text : text.replaceAll(new RegExp(`(\\r\\n|\\n|\\r)${deeper}`, 'g'), '$1');
}

export function contentEnd(element: Element): number {
  return element.closeStart >= 0 ? element.closeStart : element.end;
}

/** `when`, `unless`, `each` and `slot`; null for any other element, the user's own templates among them. */
export function blockOf(
  element: Element,
  context: Compiling,
): Extract<Part, { kind: 'when' | 'each' | 'slot' }> | null {
  const inside = () => compileLines(element, context);
  if (element.tag === 'slot') {
    const { shows = false, base = '' } = context;
    const name = attrOf(element, 'name') ?? '';
    return { kind: 'slot', name, parts: inside(), offset: element.start, shows, base, line: [] };
  }
  if (element.tag !== 'template') return null;
  for (const name of ['when', 'unless', 'each'] as const) {
    const attr = element.attrs.find((each) => each.name === name);
    if (attr === undefined) continue;
    if (name !== 'each') {
      return { kind: 'when', test: expressionOf(attr, context), negated: name === 'unless', parts: inside() };
    }
    const of = element.attrs.find((each) => each.name === 'of');
    if (of === undefined || !/^[a-z][\w-]*$/i.test(attr.value))
      throw new Problem('a block over a list needs a name and a list', {
        place: placeAt(context.page, element.start),
        hint: 'write it as <template each="stop" of="stops">',
      });
    return { kind: 'each', item: attr.value, of: expressionOf(of, context), parts: inside() };
  }
  return null;
}

/** The range of a block's content: the breaks around lines of its own between the tags are left out. */
export function linesOf(element: Element, source: string): { start: number; end: number; own: boolean } {
  const end = contentEnd(element);
  const content = source.slice(element.openEnd, end);
  const lead = /^[ \t]*(\r\n|\n|\r)\s*/.exec(content)?.[0];
  const trail = /(\r\n|\n|\r)[ \t]*$/.exec(content)?.[0];
  if (lead === undefined || trail === undefined || lead.length >= content.length)
    return { start: element.openEnd, end, own: false };
  return { start: element.openEnd + lead.length, end: end - trail.length, own: true };
}

/** The content of a block; lines of its own between the tags lose the depth that they have for being in it. */
function compileLines(element: Element, context: Compiling): Part[] {
  const { source } = context.page;
  const { start, end, own: lines } = linesOf(element, source);
  if (!lines) return compile(element.children, start, end, context);
  const own = indentAt(context.page, element.start);
  const inner = indentAt(context.page, start);
  const deeper = inner.startsWith(own) ? inner.slice(own.length) + (context.deeper ?? '') : context.deeper;
  const nodes = element.children.filter((child) => child.end > start || child.kind !== 'text');
  return compile(nodes, start, end, { ...context, ...(deeper ? { deeper } : {}) });
}

function compileUse(element: Element, component: string, context: Compiling): UsePart {
  const { page } = context;
  const close = element.closeStart;
  if (close < 0)
    throw new Problem(`the use of ${component} is not closed`, {
      place: placeAt(page, element.start),
      hint: `write </${element.tag}> where it ends`,
    });
  const attributes = element.attrs
    .filter((attr) => attr.start >= 0 && !(element.tag === 'template' && attr.name === 'use'))
    .map((attr): UseAttribute => {
      const { raw, start } = valueOf(page.source, attr);
      return { name: attr.name, segments: segmentsOf(raw, start, 'attribute', context), offset: attr.start };
    });
  const slots: UsePart['slots'] = new Map();
  const lists: UsePart['lists'] = new Map();
  const rest: Part[] = [];
  let cursor = element.openEnd;
  let nodes: Child[] = [];
  const base = indentOf(element, context);
  const inside = { ...context, base, poured: true };
  const restTo = (offset: number) => {
    rest.push(...compile(nodes, cursor, offset, inside));
    nodes = [];
  };
  for (const child of element.children) {
    const given = fillingOf(child);
    if (given === null) {
      nodes.push(child);
      continue;
    }
    const isLast = /^[ \t]*$/.test(page.source.slice(child.end, close));
    const line = isLast ? null : ownLine(given.element, page.source, element.openEnd, close);
    // a block that has its line, or lines, to itself is none of the content
    restTo(child.start - (line?.length ?? 0));
    cursor = child.end;
    const [start, end] = [given.element.openEnd, contentEnd(given.element)];
    if (given.isList) {
      const json = page.source.slice(start, end);
      lists.set(given.name, { json, src: attrOf(given.element, 'src'), offset: start });
    } else {
      const own = line === null ? base : indentOf(given.element, context);
      const parts = compile(given.element.children, start, end, { ...inside, base: own });
      slots.set(given.name, { parts, lines: ownLines(parts), offset: child.start, base: own });
    }
  }
  restTo(close);
  const nothing = rest.every((part) => part.kind === 'text' && part.text.trim() === '');
  if (rest.length > 0 && !(nothing && slots.size + lists.size > 0)) {
    slots.set('', { parts: rest, lines: ownLines(rest), offset: element.openEnd, base });
  }
  return { kind: 'use', component, element, attributes, slots, lists, within: context.within ?? [] };
}

const BREAK_LAST = /(\r\n|\n|\r)[ \t]*$/;

/** Content that begins and ends with a line break, without the last one; null for other content. */
function ownLines(parts: Part[]): Part[] | null {
  const last = parts.at(-1);
  if (last?.kind !== 'text' || !BREAK_LAST.test(last.text)) return null;
  const lines = [...parts.slice(0, -1), { ...last, text: last.text.replace(BREAK_LAST, '') }];
  return beginsLine(parts[0]!) ? lines : null;
}

function beginsLine(part: Part): boolean {
  if (part.kind === 'text') return beginsWithBreak(part.text);
  if (part.kind === 'slot') return part.line.length > 0;
  return (part.kind === 'when' || part.kind === 'each') && part.parts[0] !== undefined && beginsLine(part.parts[0]);
}

/** The indentation of the line that an element begins on, as the lines of what is compiled have it. */
function indentOf({ start }: Element, { page, deeper = '' }: Compiling): string {
  const own = indentAt(page, start);
  return own.startsWith(deeper) ? own.slice(deeper.length) : own;
}
