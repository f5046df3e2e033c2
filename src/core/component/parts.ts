/**
 * Compiles markup into parts: source text that is copied as it stands, and the few places where something happens.
 * Pages and templates go through the same code; in pages only uses are of interest.
 */
import { Problem, shownValue } from '../errors.js';
import { indentAt, type Page, placeAt } from '../page/parse.js';
import { showsSpace } from '../page/same.js';
import { decodeAttribute, decodeText, type Target } from '../page/spelling.js';
import { type Attr, attrOf, type Child, type Element, HTML, PREFORMATTED, RAW_TEXT } from '../page/tree.js';
import { MARK, relativeUrls, urlKind, type UrlKind } from '../page/url.js';
import { valueOf } from '../page/attribute.js';
import { type Expression, parseExpression } from './expression.js';

/** An expression as it stands in a file; the offset is in UTF-16 units. */
export type Placed = Expression & { offset: number };

/** A stretch of an attribute value: raw source, or an expression. */
export type Segment = string | Placed;

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
  slots: Map<string, { parts: Part[]; offset: number }>;
  /** lists passed as JSON blocks: name → source and its offset */
  lists: Map<string, { json: string; src: string | undefined; offset: number }>;
}

export type Part =
  | { kind: 'text'; text: string; verbatim: boolean; /** what follows starts a line of its own */ ends?: true }
  | { kind: 'value'; expression: Placed; target: Target; joins: boolean }
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
  | { kind: 'slot'; name: string; parts: Part[]; offset: number }
  | UsePart;

/** Components whose uses stay uses while others are expanded. */
export interface Staying {
  isUse: (element: Element) => boolean;
  /** how an attribute holds URLs, that of a use among them */
  urlKindOf: (element: Element, name: string) => UrlKind | null;
}

export interface Compiling {
  page: Pick<Page, 'path' | 'source'>;
  /** true in a component's template: placeholders, blocks and slots mean something, text is re-indented */
  template: boolean;
  isComponent: (name: string) => boolean;
  /** components whose uses are left as they are */
  staying?: Staying;
  /** white space shows around what is compiled, so that nothing is re-indented */
  shows?: boolean;
  /** how much deeper than the block that holds them its lines are indented in the file: they come out as deep as it */
  deeper?: string;
}

/** The component that an element is a use of, or null. */
export function usedComponent(element: Element, isComponent: (name: string) => boolean): string | null {
  const name = element.tag === 'template' ? attrOf(element, 'use') : element.tag;
  return name !== undefined && element.ns === HTML && isComponent(name) ? name : null;
}

/** Compiles the source from `start` to `end`, which holds exactly `nodes`. Throws a Problem with the place. */
export function compile(nodes: Child[], start: number, end: number, context: Compiling): Part[] {
  const parts: Part[] = [];
  const { source } = context.page;
  let cursor = start;
  let verbatim = !context.template || context.shows === true;

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

  const visitAttribute = (attr: Attr, element: Element) => {
    if (attr.start < 0) return;
    const { raw, start: from, quote } = valueOf(source, attr);
    const segments = segmentsOf(raw, from, 'attribute', context);
    const [first] = segments;
    const kind = (context.staying?.urlKindOf ?? urlKind)(element, attr.name);
    const marked = segments.map((segment) => (typeof segment === 'string' ? segment : MARK)).join('');
    const within = kind === 'css' || kind === 'refresh';
    const literalUrl = kind !== null && (within || typeof first === 'string') && relativeUrls(marked, kind).length > 0;
    if (segments.some((segment) => typeof segment !== 'string') || literalUrl || raw.includes('{{')) {
      let space = attr.start;
      while (/\s/.test(source[space - 1] ?? '')) space--;
      copyTo(space);
      const name = source.slice(attr.start, attr.start + attr.name.length);
      const url = literalUrl ? kind : null;
      const shown = shallower(source.slice(space, attr.start), context);
      const given = context.staying?.isUse(element) === true;
      parts.push({ kind: 'attribute', space: shown, name, quote, segments, url, given });
      cursor = attr.end;
    } else if (/[\n\r]/.test(raw)) copyVerbatim(from, from + raw.length);
  };

  const visit = (node: Child): void => {
    if (node.kind === 'comment' && /[\n\r]/.test(node.value)) return copyVerbatim(node.start, node.end);
    if (node.kind === 'text') {
      if (!context.template || node.start < 0) return;
      // text of an element that is left open goes on past the end of the template's markup
      const stop = Math.min(node.end, end);
      const raw = source.slice(node.start, stop);
      if (!raw.includes('{{')) return;
      copyTo(node.start);
      segmentsOf(raw, node.start, 'text', context).forEach((segment, i, all) => {
        if (typeof segment === 'string') parts.push(textPart(segment));
        else parts.push({ kind: 'value', expression: segment, target: 'text', joins: joinsAfter(all, i) });
      });
      cursor = stop;
      return;
    }
    if (node.kind !== 'element') return;
    const name = usedComponent(node, context.isComponent);
    if (name !== null) return replace(node, compileUse(node, name, context));
    const special = context.template ? blockOf(node, verbatim ? { ...context, shows: true } : context) : null;
    if (special !== null) {
      const line = special.kind === 'slot' || verbatim ? null : ownLine(node, source, start, end);
      if (line === null) return replace(node, special);
      // the block's line comes and goes with what it yields
      copyTo(node.start - line.length);
      const before = parts.at(-1);
      if (before?.kind === 'text') before.ends = true;
      special.parts.unshift(textPart(line));
      cursor = node.end;
      parts.push(special);
      return;
    }
    if (context.template) for (const attr of node.attrs) visitAttribute(attr, node);
    if (RAW_TEXT.has(node.tag)) return copyVerbatim(node.openEnd, contentEnd(node));
    const shows = !verbatim && (PREFORMATTED.has(node.tag) || showsSpace(node));
    if (shows) {
      copyTo(node.openEnd);
      verbatim = true;
    }
    node.children.forEach(visit);
    if (shows) {
      copyTo(contentEnd(node));
      verbatim = false;
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
  const inside = () => compile(element.children, element.openEnd, contentEnd(element), context);
  const insideBlock = () => compileLines(element, context);
  if (element.tag === 'slot') {
    return { kind: 'slot', name: attrOf(element, 'name') ?? '', parts: inside(), offset: element.start };
  }
  if (element.tag !== 'template') return null;
  for (const name of ['when', 'unless', 'each'] as const) {
    const attr = element.attrs.find((each) => each.name === name);
    if (attr === undefined) continue;
    if (name !== 'each') {
      return { kind: 'when', test: expressionOf(attr, context), negated: name === 'unless', parts: insideBlock() };
    }
    const of = element.attrs.find((each) => each.name === 'of');
    if (of === undefined || !/^[a-z][\w-]*$/i.test(attr.value))
      throw new Problem('a block over a list needs a name and a list', {
        place: placeAt(context.page, element.start),
        hint: 'write it as <template each="stop" of="stops">',
      });
    return { kind: 'each', item: attr.value, of: expressionOf(of, context), parts: insideBlock() };
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

export function expressionOf(attr: Attr, context: Compiling): Placed {
  return parseAt(attr.value, attr.start, context);
}

function parseAt(source: string, offset: number, context: Compiling): Placed {
  try {
    return { ...parseExpression(source), offset };
  } catch (error) {
    throw new Problem(`the expression "${shownValue(source.trim())}" cannot be read: ${(error as Error).message}`, {
      place: placeAt(context.page, offset),
      hint: 'an expression may hold names, a.b, "text", true, false, null, ===, !==, ?? and ?:',
    });
  }
}

/** A placeholder with its expression; quotes may hold braces. */
export const PLACEHOLDER = /\{\{((?:"[^"]*"|'[^']*'|(?!\}\})[^"'])*)\}\}/g;

export function segmentsOf(raw: string, offset: number, kind: 'text' | 'attribute', context: Compiling): Segment[] {
  if (!context.template || !raw.includes('{{')) return [raw];
  const segments: Segment[] = [];
  let at = 0;
  const literal = (to: number) => {
    const text = raw.slice(at, to);
    const open = text.indexOf('{{');
    if (open >= 0)
      throw new Problem('a placeholder is not closed', {
        place: placeAt(context.page, offset + at + open),
        hint: `close it with }}, or write a literal {{ as {{"{{"}}`,
      });
    if (text !== '') segments.push(text);
  };
  for (const match of raw.matchAll(PLACEHOLDER)) {
    literal(match.index);
    const code = kind === 'text' ? decodeText(match[1]!) : decodeAttribute(match[1]!);
    segments.push(parseAt(code, offset + match.index, context));
    at = match.index + match[0].length;
  }
  literal(raw.length);
  return segments;
}

/** True when what follows segment `i` could be taken for the rest of a character reference. */
export function joinsAfter(segments: Segment[], i: number): boolean {
  const next = segments[i + 1];
  return next !== undefined && (typeof next !== 'string' || /^[\w#;=]/.test(next));
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
  const restTo = (offset: number) => {
    rest.push(...compile(nodes, cursor, offset, context));
    nodes = [];
  };
  for (const child of element.children) {
    const slot = child.kind === 'element' ? attrOf(child, 'slot') : undefined;
    if (child.kind === 'element' && slot !== undefined && (child.tag === 'template' || isJson(child))) {
      restTo(child.start);
      cursor = child.end;
      if (child.tag === 'template') {
        const parts = compile(child.children, child.openEnd, contentEnd(child), context);
        slots.set(slot, { parts, offset: child.start });
      } else
        lists.set(slot, {
          json: page.source.slice(child.openEnd, contentEnd(child)),
          src: attrOf(child, 'src'),
          offset: child.openEnd,
        });
    } else nodes.push(child);
  }
  restTo(close);
  const nothing = rest.every((part) => part.kind === 'text' && part.text.trim() === '');
  if (rest.length > 0 && !(nothing && slots.size + lists.size > 0)) {
    slots.set('', { parts: rest, offset: element.openEnd });
  }
  return { kind: 'use', component, element, attributes, slots, lists };
}

export function isJson(element: Element): boolean {
  return element.tag === 'script' && attrOf(element, 'type') === 'application/json';
}
