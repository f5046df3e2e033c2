/**
 * Nodes as HTML again, with their values worked out: what a browser would be given. Text and attributes are escaped, so
 * that they come out of the parser as they are here (HTML standard, "Serializing HTML fragments").
 */
import { fromJson } from '../component/records.js';
import { camelName, type Datum, evaluate, isSpelled, isTruthy } from '../component/expression.js';
import { spelledValue } from '../page/spelling.js';
import { RAW_TEXT, VOID } from '../page/tree.js';
import { fromRoot } from '../page/url.js';
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

/** What a node comes to once values are known; `markup` is HTML that is written already. */
export type Drawn =
  | { kind: 'element'; node: ElementNode; attrs: DrawnAttribute[]; children: Drawn[] }
  | { kind: 'text'; value: string }
  | { kind: 'comment'; value: string }
  | { kind: 'markup'; html: string };

/** A use whose values are known. */
export interface Given {
  component: EmitComponent;
  /** by camelCase name, defaults filled in: what the names in the template mean */
  scope: ReadonlyMap<string, Datum>;
  /** what was given, in the order of the component's props */
  values: { name: string; value: Datum }[];
  /** what is poured in */
  slots: ReadonlyMap<string, () => Drawn[]>;
  use: UseNode;
}

/** How uses are drawn, and where. */
export interface Writing {
  components: ReadonlyMap<string, EmitComponent>;
  /** that of the page, which relative URLs are written from; null when it is elsewhere */
  pageFolder: string | null;
  use: (given: Given) => Drawn[];
}

/** Where nodes are drawn: what names mean, and what is poured in. */
export interface Frame {
  scope: ReadonlyMap<string, Datum>;
  slots: ReadonlyMap<string, () => Drawn[]>;
}

export const PAGE: Frame = { scope: new Map(), slots: new Map() };

/** Nodes as HTML; of a component's template, for a use of it. */
export function htmlOf(nodes: EmitNode[], writing: Writing, frame: Frame = PAGE): string {
  return htmlText(drawn(nodes, writing, frame));
}

/** Nodes with their values worked out; of a component's template, for a use of it. */
export function drawn(nodes: EmitNode[], writing: Writing, frame: Frame = PAGE): Drawn[] {
  return nodes.flatMap((node): Drawn | Drawn[] => {
    switch (node.kind) {
      case 'text':
      case 'comment':
        return node;
      case 'value':
        return { kind: 'text', value: written(evaluate(node.expression, frame.scope)) };
      case 'element':
        return drawnElement(node, writing, frame);
      case 'when':
        return isTruthy(evaluate(node.test, frame.scope)) !== node.negated ? drawn(node.children, writing, frame) : [];
      case 'each': {
        const list = evaluate(node.of, frame.scope);
        const each = (item: Datum) => ({ ...frame, scope: new Map([...frame.scope, [camelName(node.item), item]]) });
        return Array.isArray(list) ? list.flatMap((item) => drawn(node.children, writing, each(item))) : [];
      }
      case 'slot':
        return frame.slots.get(node.name)?.() ?? drawn(node.children, writing, frame);
      case 'use':
        return writing.use(givenTo(node, writing, frame));
    }
  });
}

function drawnElement(node: ElementNode, writing: Writing, frame: Frame): Drawn {
  const children = isRawText(node)
    ? node.children.flatMap((child) => (child.kind === 'text' ? child : []))
    : drawn(node.children, writing, frame);
  return { kind: 'element', node, attrs: attributesOf(node, writing, frame), children };
}

/** An attribute whose value is worked out; true for one without a value. */
interface DrawnAttribute {
  name: string;
  value: string | true;
}

/** The attributes of an element; without those that are left out. */
export function attributesOf({ attrs }: ElementNode, writing: Writing, frame: Frame): DrawnAttribute[] {
  return attrs.flatMap((attr) => {
    const value = valueOf(attr, writing, frame);
    if (value === null || value === false) return [];
    return { name: attr.name, value: value === true ? value : written(value) };
  });
}

/** Drawn nodes as HTML. */
export function htmlText(nodes: readonly Drawn[]): string {
  return nodes.map(nodeText).join('');
}

function nodeText(drawn: Drawn): string {
  if (drawn.kind === 'text') return escapeText(drawn.value);
  if (drawn.kind === 'comment') return `<!--${drawn.value}-->`;
  if (drawn.kind === 'markup') return drawn.html;
  const { node, attrs, children } = drawn;
  const open = `<${node.tag}${attributesText(attrs)}>`;
  if (isVoid(node)) return open;
  const inner = isRawText(node)
    ? children.map((child) => (child.kind === 'text' ? child.value : '')).join('')
    : htmlText(children);
  return `${open}${dropsBreak(node) && inner.startsWith('\n') ? '\n' : ''}${inner}</${node.tag}>`;
}

/** Attributes as they stand in a start tag, a space before each. */
export function attributesText(attrs: readonly DrawnAttribute[]): string {
  return attrs.map(({ name, value }) => (value === true ? ` ${name}` : attributeText(name, value))).join('');
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
        return writing.pageFolder === null ? target : fromRoot(target, writing.pageFolder);
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
  const slots = new Map(use.slots.map(({ name, children }) => [name, () => drawn(children, writing, frame)] as const));
  return { component, scope, values, slots, use };
}
