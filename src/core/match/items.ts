/** A component's template as a tree of what fragments are compared with. */
import { type Expression, isSpelled } from '../component/expression.js';
import type { Component, Registry } from '../component/model.js';
import { ownLine } from '../component/parts.js';
import { expressionOf, type Segment, segmentsOf } from '../component/segments.js';
import { usedComponent, fillingOf } from '../component/use.js';
import { bodyOf } from '../component/read.js';
import { valueOf } from '../page/attribute.js';
import { isPreformatted } from '../page/same.js';
import { isSpaceText, spacesAround } from '../page/space.js';
import { decodeAttribute, decodeText } from '../page/spelling.js';
import { type Attr, attrOf, type Child, type Element, type Parent, RAW_TEXT } from '../page/tree.js';
import { markedText, relativeUrls, urlKind, type UrlKind } from '../page/url.js';

export interface AttrItem {
  attr: Attr;
  name: string;
  segments: Segment[];
  /** its value where no placeholder stands in it, else null */
  constant: string | null;
  /** set where it holds relative URLs of the template's own */
  url: UrlKind | null;
}

export interface ElementItem {
  kind: 'element';
  element: Element;
  attrs: AttrItem[];
  /** white space shows in it: nothing is indentation */
  shows: boolean;
  children: Item[];
}

export interface TextItem {
  kind: 'text';
  /** the text without the white space around it */
  start: number;
  end: number;
  /** the kinds of white space around it; null where white space shows and is part of the text */
  around: string | null;
  segments: Segment[];
  /** the text where no placeholder stands in it, else null */
  constant: string | null;
}

export interface CommentItem {
  kind: 'comment';
  start: number;
  end: number;
  value: string;
}

/** A part that is there when `test` is true, or when it is not. */
export interface BlockItem {
  kind: 'block';
  element: Element;
  test: Expression;
  negated: boolean;
  children: Item[];
}

export interface EachItem {
  kind: 'each';
  element: Element;
  item: string;
  of: Expression;
  children: Item[];
}

export interface SlotItem {
  kind: 'slot';
  element: Element;
  name: string;
  /** it has its line to itself: what is poured in has lines of its own */
  isOnLine: boolean;
  /** white space with a line break stands before and after it in the template otherwise */
  lead: boolean;
  trail: boolean;
  /** what stands there when nothing is poured in */
  children: Item[];
}

export interface UseItem {
  kind: 'use';
  element: Element;
  component: Component;
  attrs: AttrItem[];
  /** names of the lists that stand in it as data */
  lists: ReadonlySet<string>;
  slots: ReadonlyMap<string, Item[]>;
}

/** What stands for one node of a fragment. */
export type NodeItem = ElementItem | TextItem | CommentItem;
export type Item = NodeItem | BlockItem | EachItem | SlotItem | UseItem;

/** Gives the items of each component of a registry, worked out when they are first asked for. */
export function itemsReader(registry: Registry): (component: Component) => Item[] {
  const known = new Map<string, Item[]>();
  return (component) => {
    const nodes = bodyOf(component).filter((node) => !isMadeUp(node, component));
    const items = known.get(component.name) ?? readItems(nodes, { component, registry, shows: false });
    known.set(component.name, items);
    return items;
  };
}

/** True for an empty element without a tag of its own, which the parser makes for one that was not closed before. */
function isMadeUp(node: Child, { source }: Component): boolean {
  return (
    node.kind === 'element' &&
    !/^<[a-z]/i.test(source.slice(node.start, node.start + 2)) &&
    solid(node.children).length === 0
  );
}

interface Reading {
  component: Component;
  registry: Registry;
  /** white space shows */
  shows: boolean;
}

function readItems(nodes: Child[], reading: Reading): Item[] {
  return (reading.shows ? nodes : solid(nodes)).flatMap((node): Item[] => {
    if (node.kind === 'comment') return [{ kind: 'comment', start: node.start, end: node.end, value: node.value }];
    if (node.kind === 'text') return [readText(node, reading)].filter((item) => item !== null);
    return node.kind === 'element' ? [readElement(node, nodes, reading)] : [];
  });
}

/** Nodes without the white space that may be indentation. */
export function solid(nodes: Child[]): Child[] {
  return nodes.filter((node) => node.kind !== 'text' || !isIndentation(node));
}

function isIndentation(node: Child | undefined): boolean {
  return node?.kind === 'text' && node.value.includes('\n') && isSpaceText(node);
}

/** A text; null for white space that may be indentation, a placeholder that says nothing beside it. */
function readText(node: Extract<Child, { kind: 'text' }>, reading: Reading): TextItem | null {
  const { component } = reading;
  const raw = component.source.slice(node.start, Math.min(node.end, component.end));
  const range = { start: node.start, end: node.start + raw.length };
  if (isRaw(node.parent)) return { kind: 'text', ...range, around: null, segments: [raw], constant: node.value };
  const segments = readSegments(raw, node.start, 'text', reading);
  const constant = constantOf(segments, decodeText);
  if (reading.shows) return { kind: 'text', ...range, around: null, segments, constant };
  if (constant !== null && constant.trim() === '' && /^$|\n/.test(constant)) return null;
  const start = node.start + raw.length - raw.trimStart().length;
  const text = { kind: 'text' as const, start, end: start + raw.trim().length };
  if (constant !== null) return { ...text, around: spacesAround(constant), segments, constant };
  const inside = readSegments(raw.trim(), start, 'text', reading);
  return { ...text, around: spacesAround(node.value), segments: inside, constant };
}

/** Raw source between placeholders, and what these say; a text in quotes is text like any other. */
function readSegments(raw: string, at: number, kind: 'text' | 'attribute', { component }: Reading): Segment[] {
  return segmentsOf(raw, at, kind, { page: component, template: true }).map((segment) =>
    typeof segment === 'object' && segment.kind === 'literal' && isSpelled(segment.value) ? segment.value.raw : segment,
  );
}

function isRaw(parent: Parent | null): boolean {
  return parent?.kind === 'element' && RAW_TEXT.has(parent.tag);
}

function constantOf(segments: Segment[], decode: (raw: string) => string): string | null {
  return segments.every((segment) => typeof segment === 'string') ? decode(segments.join('')) : null;
}

const BLOCKS = new Set(['when', 'unless', 'each']);

function readElement(element: Element, siblings: Child[], reading: Reading): Item {
  const { registry } = reading;
  const used = usedComponent(element, (name) => registry.has(name));
  if (used !== null) return readUse(element, registry.get(used)!, reading);
  const shows = reading.shows || isPreformatted(element);
  const children = readItems(element.children, { ...reading, shows });
  if (element.tag === 'slot') {
    const at = siblings.indexOf(element);
    const [before, after] = [siblings[at - 1], siblings[at + 1]];
    const name = attrOf(element, 'name') ?? '';
    const { source, start, end } = reading.component;
    const isOnLine = !shows && ownLine(element, source, start, end) !== null;
    const [lead, trail] = [before, after].map((text) => isIndentation(text) && !isOnLine) as [boolean, boolean];
    return { kind: 'slot', element, name, isOnLine, lead, trail, children };
  }
  const attr = element.tag === 'template' ? element.attrs.find(({ name }) => BLOCKS.has(name)) : undefined;
  const context = { page: reading.component, template: true };
  if (attr?.name === 'each') {
    const of = element.attrs.find(({ name }) => name === 'of')!;
    return { kind: 'each', element, item: attr.value, of: expressionOf(of, context), children };
  }
  if (attr !== undefined)
    return { kind: 'block', element, test: expressionOf(attr, context), negated: attr.name === 'unless', children };
  const attrs = element.attrs.map((attr) => readAttr(attr, element, reading));
  return { kind: 'element', element, attrs, shows, children };
}

function readAttr(attr: Attr, element: Element, reading: Reading): AttrItem {
  const { raw, start } = valueOf(reading.component.source, attr);
  const segments = readSegments(raw, start, 'attribute', reading);
  const kind = urlKind(element, attr.name);
  // a placeholder that starts a URL says where it leads
  const starts = kind === 'css' || kind === 'refresh' || typeof segments[0] === 'string';
  const url = kind !== null && starts && relativeUrls(markedText(segments), kind).length > 0 ? kind : null;
  return { attr, name: attr.name, segments, constant: constantOf(segments, decodeAttribute), url };
}

function readUse(element: Element, component: Component, reading: Reading): UseItem {
  const slots = new Map<string, Item[]>();
  const lists = new Set<string>();
  const rest = element.children.filter((child) => {
    const given = fillingOf(child);
    if (given?.isList === true) lists.add(given.name);
    else if (given !== null) slots.set(given.name, readItems(given.element.children, reading));
    return given === null;
  });
  const content = readItems(rest, reading);
  if (content.length > 0) slots.set('', content);
  const attrs = element.attrs
    .filter((attr) => attr.start >= 0 && attr.name !== 'slot' && !(element.tag === 'template' && attr.name === 'use'))
    .map((attr) => readAttr(attr, element, reading));
  return { kind: 'use', element, component, attrs, lists, slots };
}

/** Where an item begins and ends in the template's source. */
export function rangeOf(item: Item): [start: number, end: number] {
  return 'element' in item ? [item.element.start, item.element.end] : [item.start, item.end];
}
