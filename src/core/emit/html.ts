/**
 * Nodes as HTML again, with their values worked out: what a browser would be given. Text and attributes are escaped, so
 * that they come out of the parser as they are here (HTML standard, "Serializing HTML fragments").
 */
import { fromJson } from '../component/records.js';
import { camelName, type Datum, evaluate, isSpelled, isTruthy } from '../component/expression.js';
import { spelledValue } from '../page/spelling.js';
import { RAW_TEXT, VOID } from '../page/tree.js';
import { relativise } from '../page/url.js';
import type { ElementNode, EmitAttr, EmitComponent, EmitNode, Piece, UseNode } from './model.js';

/** Text as it stands between tags. */
export function escapeText(text: string): string {
  return text.replace(/[&<>]/g, (char) => ENTITIES[char]!).replaceAll('\r', '&#13;');
}

/** Text as it stands in an attribute with double quotes. */
export function escapeValue(text: string): string {
  return text.replace(/[&<>"]/g, (char) => ENTITIES[char]!).replaceAll('\r', '&#13;');
}

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

export function isVoid({ tag, space }: ElementNode): boolean {
  return space === 'html' && VOID.has(tag);
}

/** True where what stands in an element is taken as it is spelled. */
export function isRawText({ tag, space }: ElementNode): boolean {
  return space === 'html' && RAW_TEXT.has(tag);
}

/** The parser drops the first line break in these, so that one more is written. */
export function dropsBreak({ tag, space }: ElementNode): boolean {
  return space === 'html' && /^(pre|textarea|listing)$/.test(tag);
}

export function attributeText(name: string, value: string): string {
  return value === '' ? ` ${name}=""` : ` ${name}="${escapeValue(value)}"`;
}

/** A use whose values are known. */
export interface Given {
  component: EmitComponent;
  /** by camelCase name, defaults filled in: what the names in the template mean */
  scope: ReadonlyMap<string, Datum>;
  /** what was given, in the order of the component's props */
  values: { name: string; value: Datum }[];
  /** what is poured in */
  slots: ReadonlyMap<string, () => string>;
  use: UseNode;
}

/** How uses are written, and where. */
export interface Writing {
  components: ReadonlyMap<string, EmitComponent>;
  /** that of the page, which relative URLs are written from; null when it is elsewhere */
  pageFolder: string | null;
  use: (given: Given) => string;
}

interface Frame {
  scope: ReadonlyMap<string, Datum>;
  slots: ReadonlyMap<string, () => string>;
}

export const PAGE: Frame = { scope: new Map(), slots: new Map() };

/** Nodes as HTML; of a component's template, for a use of it. */
export function htmlOf(nodes: EmitNode[], writing: Writing, frame: Frame = PAGE): string {
  return nodes.map((node) => nodeText(node, writing, frame)).join('');
}

function nodeText(node: EmitNode, writing: Writing, frame: Frame): string {
  switch (node.kind) {
    case 'text':
      return escapeText(node.value);
    case 'comment':
      return `<!--${node.value}-->`;
    case 'value':
      return escapeText(written(evaluate(node.expression, frame.scope)));
    case 'element':
      return elementText(node, writing, frame);
    case 'when':
      return isTruthy(evaluate(node.test, frame.scope)) !== node.negated ? htmlOf(node.children, writing, frame) : '';
    case 'each': {
      const list = evaluate(node.of, frame.scope);
      const each = (item: Datum) => ({ ...frame, scope: new Map([...frame.scope, [camelName(node.item), item]]) });
      return Array.isArray(list) ? list.map((item) => htmlOf(node.children, writing, each(item))).join('') : '';
    }
    case 'slot':
      return frame.slots.get(node.name)?.() ?? htmlOf(node.children, writing, frame);
    case 'use':
      return writing.use(givenTo(node, writing, frame));
  }
}

function elementText(node: ElementNode, writing: Writing, frame: Frame): string {
  const attributes = node.attrs.map((attr) => {
    const value = valueOf(attr, writing, frame);
    if (value === null || value === false) return '';
    return value === true ? ` ${attr.name}` : attributeText(attr.name, written(value));
  });
  const open = `<${node.tag}${attributes.join('')}>`;
  if (isVoid(node)) return open;
  const raw = node.children.map((child) => (child.kind === 'text' ? child.value : '')).join('');
  const inner = isRawText(node) ? raw : htmlOf(node.children, writing, frame);
  return `${open}${dropsBreak(node) && inner.startsWith('\n') ? '\n' : ''}${inner}</${node.tag}>`;
}

/** The value of an attribute; null and false leave it out. */
function valueOf({ pieces }: EmitAttr, writing: Writing, { scope }: Frame): Datum {
  const [first] = pieces;
  if (pieces.length === 1 && typeof first === 'object' && first.kind === 'value')
    return evaluate(first.expression, scope);
  const text = (list: Piece[]): string =>
    list
      .map((piece) => {
        if (typeof piece === 'string') return piece;
        if (piece.kind === 'value') return written(evaluate(piece.expression, scope));
        const target = text(piece.pieces);
        return writing.pageFolder === null ? target : relativise(target, writing.pageFolder);
      })
      .join('');
  return spelledValue(text(pieces));
}

export function written(value: Datum): string {
  if (isSpelled(value)) return value.value;
  return typeof value === 'boolean' ? String(value) : '';
}

/** What a use gives its component, as `expand` works it out. */
export function givenTo(use: UseNode, writing: Writing, frame: Frame = PAGE): Given {
  const component = writing.components.get(use.component)!;
  const scope = new Map<string, Datum>();
  const values: Given['values'] = [];
  for (const prop of component.props) {
    const attr = use.values.find(({ name }) => name === prop.name);
    const list = use.lists.find(({ name }) => name === prop.name);
    let value: Datum = null;
    if (prop.type === 'list' && list !== undefined) value = fromJson(list.records);
    else if (attr !== undefined) value = valueOf(attr, writing, frame);
    if (value !== null && value !== false) values.push({ name: prop.name, value });
    if (prop.type === 'flag')
      value = value === null || value === false ? false : !isSpelled(value) || value.value !== 'false';
    else if ((value === null || value === false) && prop.default !== null) value = spelledValue(prop.default);
    scope.set(camelName(prop.name), value);
  }
  const slots = new Map(use.slots.map(({ name, children }) => [name, () => htmlOf(children, writing, frame)] as const));
  return { component, scope, values, slots, use };
}
