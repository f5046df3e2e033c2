/** Nodes as the inside of a template literal: markup as it is, and expressions where something varies. */
import { camelCase } from 'change-case';
import { camelName, type Expression } from '../../component/expression.js';
import { attributeText, dropsBreak, escapeText, escapeValue, isRawText, isVoid } from '../html.js';
import type { ElementNode, EmitAttr, EmitComponent, EmitNode, Json, UseNode } from '../model.js';
import { plainText } from '../pieces.js';
import { js, jsPieces, test, type Writing } from '../tsx/expression.js';
import { inTemplate, isReserved, jsKey, jsString } from '../tsx/strings.js';
import { scopeOfItem, type Type, typeOf } from '../tsx/types.js';

/** What a module comes to need while its markup is written, and how components are used. */
export interface Writer extends Writing {
  components: ReadonlyMap<string, EmitComponent>;
  /** types of a component's props, by kebab-case name */
  typesOf: (component: string) => ReadonlyMap<string, Type>;
  /** true where the component is an element of its own */
  isElement: (use: UseNode) => boolean;
  /** name of the function that gives the markup of a component, which is imported now */
  functionOf: (component: string) => string;
  /** says that an element is used, whose module must be there */
  uses: (component: string) => void;
  /** names of the base module that are imported */
  base: Set<string>;
  /** says that what is poured in is asked for */
  takesSlots: () => void;
  /** the name of a prop in JavaScript */
  propName: (name: string) => string;
}

/** The key that a slot has among what is poured in. */
export function slotKey(name: string): string {
  return name === '' ? 'default' : name;
}

/** A template literal of markup. */
export function markupOf(nodes: EmitNode[], writer: Writer): string {
  writer.base.add('markup');
  return `markup\`${inside(nodes, writer)}\``;
}

export function inside(nodes: EmitNode[], writer: Writer): string {
  return nodes.map((node, i) => nodeText(node, nodes, i, writer)).join('');
}

function nodeText(node: EmitNode, list: EmitNode[], i: number, writer: Writer): string {
  switch (node.kind) {
    case 'text':
      return inTemplate(escapeText(node.value));
    case 'comment':
      return inTemplate(`<!--${node.value}-->`);
    case 'value':
      return `\${${js(node.expression, writer)}}`;
    case 'element':
      return elementText(node, writer);
    case 'use':
      return writer.isElement(node) ? useText(node, writer) : `\${${callText(node, writer)}}`;
    case 'when': {
      const [before, next] = [list[i - 1], list[i + 1]];
      if (before?.kind === 'when' && isChoice(before, node, writer) && !isSecond(list, i - 1, writer)) return '';
      const other = next?.kind === 'when' && isChoice(node, next, writer) && !isSecond(list, i, writer) ? next : null;
      const no = other === null ? "''" : markupOf(other.children, writer);
      return `\${${test(node.test, node.negated, writer)} ? ${markupOf(node.children, writer)} : ${no}}`;
    }
    case 'each':
      return eachText(node, writer);
    case 'slot': {
      writer.takesSlots();
      const key = slotKey(node.name);
      const code = /^[A-Za-z_$][\w$]*$/.test(key) ? `slots.${key}` : `slots[${jsString(key)}]`;
      return `\${${node.children.length === 0 ? code : `${code} ?? ${markupOf(node.children, writer)}`}}`;
    }
  }
}

type When = Extract<EmitNode, { kind: 'when' }>;

/** Two blocks that ask for opposite things are one choice. */
function isChoice(a: When, b: When, writer: Writer): boolean {
  return a.negated !== b.negated && js(a.test, writer) === js(b.test, writer);
}

function isSecond(list: EmitNode[], i: number, writer: Writer): boolean {
  const [before, node] = [list[i - 1], list[i] as When];
  return before?.kind === 'when' && isChoice(before, node, writer) && !isSecond(list, i - 1, writer);
}

function elementText(node: ElementNode, writer: Writer): string {
  const open = `<${inTemplate(node.tag)}${node.attrs.map((attr) => attributeOf(attr, writer)).join('')}>`;
  if (isVoid(node)) return open;
  const raw = node.children.map((child) => (child.kind === 'text' ? child.value : '')).join('');
  const inner = isRawText(node) ? inTemplate(raw) : inside(node.children, writer);
  // the parser drops the line break that stands first
  const first = node.children[0];
  const needsBreak = dropsBreak(node) && first !== undefined && !(first.kind === 'text' && /^[^\n]/.test(first.value));
  return `${open}${needsBreak ? '\n' : ''}${inner}</${inTemplate(node.tag)}>`;
}

function attributeOf({ name, pieces }: EmitAttr, writer: Writer): string {
  const text = plainText(pieces);
  if (text !== null) return inTemplate(attributeText(name, text));
  const [first] = pieces;
  if (pieces.length === 1 && typeof first === 'object' && first.kind === 'value')
    return wholeText(name, first.expression, writer);
  return ` ${inTemplate(name)}="${pieces
    .map((piece) => {
      if (typeof piece === 'string') return inTemplate(escapeValue(piece));
      return `\${${piece.kind === 'url' ? jsPieces([piece], writer) : js(piece.expression, writer)}}`;
    })
    .join('')}"`;
}

/** An attribute that is nothing but a value, which may leave it out. */
function wholeText(name: string, expression: Expression, writer: Writer): string {
  const { kind, absent } = typeOf(expression, writer.scope);
  const code = js(expression, writer);
  if (!absent && (kind === 'text' || kind === 'choice' || kind === 'number'))
    return ` ${inTemplate(name)}="\${${code}}"`;
  writer.base.add('attribute');
  return `\${attribute(${jsString(name)}, ${code})}`;
}

/** A use as an element of its own. */
function useText(use: UseNode, writer: Writer): string {
  const component = writer.components.get(use.component)!;
  const types = writer.typesOf(use.component);
  writer.uses(use.component);
  const attributes = use.values.map((attr) => (types.get(attr.name)!.kind === 'list' ? '' : attributeOf(attr, writer)));
  const lists = component.props.flatMap(({ name }) => {
    const data = use.lists.find((list) => list.name === name);
    const value = use.values.find((attr) => attr.name === name);
    if (types.get(name)!.kind !== 'list' || (data === undefined && value === undefined)) return [];
    writer.base.add('records');
    const code = data !== undefined ? recordsOf(data.records) : listGiven(value!, writer);
    return [`\${records(${jsString(name)}, ${code})}`];
  });
  const slots = use.slots.map(({ name, children }) =>
    name === ''
      ? inside(children, writer)
      : `<template slot="${inTemplate(escapeValue(name))}">${inside(children, writer)}</template>`,
  );
  return `<${use.component}${attributes.join('')}>${[...lists, ...slots].join('')}</${use.component}>`;
}

function listGiven({ pieces: [first] }: EmitAttr, writer: Writer): string {
  return typeof first === 'object' && first.kind === 'value' ? js(first.expression, writer) : 'null';
}

/** A use as the call of the function that gives the component's markup. */
function callText(use: UseNode, writer: Writer): string {
  const component = writer.components.get(use.component)!;
  const types = writer.typesOf(use.component);
  const values = component.props.map((prop) => {
    const data = use.lists.find(({ name }) => name === prop.name);
    const attr = use.values.find(({ name }) => name === prop.name);
    const code = data !== undefined ? recordsOf(data.records) : attr && givenText(attr, types.get(prop.name)!, writer);
    const standard =
      prop.default === null ? (types.get(prop.name)!.kind === 'flag' ? 'false' : 'null') : jsString(prop.default);
    const value = code === undefined ? standard : prop.default === null ? code : `(${code}) ?? ${standard}`;
    return `${jsKey(writer.propName(prop.name))}: ${value}`;
  });
  const slots = use.slots.map(({ name, children }) => `${jsKey(slotKey(name))}: ${markupOf(children, writer)}`);
  return `${writer.functionOf(use.component)}({ ${values.join(', ')} }, { ${slots.join(', ')} })`;
}

function givenText({ pieces }: EmitAttr, type: Type, writer: Writer): string {
  const text = plainText(pieces);
  if (text !== null) return type.kind === 'flag' ? String(text !== 'false') : jsString(text);
  const [first] = pieces;
  if (pieces.length > 1 || typeof first !== 'object' || first.kind !== 'value') return jsPieces(pieces, writer);
  const code = js(first.expression, writer);
  return type.kind === 'flag' && typeOf(first.expression, writer.scope).kind !== 'flag' ? `(${code}) != null` : code;
}

function recordsOf(records: Json[]): string {
  const record = (each: Json) => {
    if (typeof each !== 'object' || each === null || Array.isArray(each)) return JSON.stringify(each);
    const fields = Object.entries(each).map(([name, value]) => {
      return `${jsKey(camelName(name))}: ${typeof value === 'string' ? jsString(value) : JSON.stringify(value)}`;
    });
    return `{ ${fields.join(', ')} }`;
  };
  return `[${records.map(record).join(', ')}]`;
}

function eachText(node: Extract<EmitNode, { kind: 'each' }>, writer: Writer): string {
  const { absent } = typeOf(node.of, writer.scope);
  const name = camelCase(node.item);
  const item = isReserved(name) ? `${name}Item` : name;
  const scope = scopeOfItem(node, writer.scope);
  const inner: Writer = {
    ...writer,
    scope,
    nameOf: (each) => (each === camelName(node.item) ? item : writer.nameOf(each)),
  };
  const list = js(node.of, writer);
  return `\${${list}${absent ? '?' : ''}.map((${item}) => ${markupOf(node.children, inner)})}`;
}
