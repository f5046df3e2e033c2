/** Nodes as JSX. What it says is on one line where white space would count; formatting breaks the lines. */
import { camelCase, pascalCase } from 'change-case';
import { camelName } from '../../component/expression.js';
import type { ElementNode, EmitAttr, EmitNode, Json, ListData, UseNode } from '../model.js';
import { isUnsafe, plainText } from '../pieces.js';
import { find } from '../read.js';
import { attributesOf, handlerText, styleText } from './attribute.js';
import { isKnown } from './attributes.js';
import { asChild, asText, isBoolean, js, jsPieces, test } from './expression.js';
import { braced, isReserved, jsKey, jsString, jsText, jsxText, jsxValue, unique } from './strings.js';
import { isNumber, namesAmong, scopeOfItem, type Type, typeOf } from './types.js';
import { propName, slotProp } from './prop-names.js';
import { FOLDER, unsayable, type Writer, writerFor } from './writer.js';

/** Elements whose content is raw text, which a runtime would escape. */
const RAW = /^(script|style|iframe|noembed|noframes|noscript|xmp|plaintext)$/;
const VOID = /^(area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr)$/;

/** What stands between tags. */
function childrenText(nodes: EmitNode[], writer: Writer): string {
  return nodes.map((node, i) => childText(node, nodes, i, writer)).join('');
}

/** One expression for nodes: an element, a text, several in a fragment; `key` goes on what is repeated. */
export function expressionOf(nodes: EmitNode[], writer: Writer, key?: string): string {
  const comments = nodes.flatMap((node) => (node.kind === 'comment' ? [`/* ${commentText(node.value)} */ `] : []));
  const rest = nodes.filter(({ kind }) => kind !== 'comment');
  const [node] = rest;
  if (node === undefined) return `${comments.join('')}null`;
  if (rest.length > 1) return `<>${childrenText(nodes, writer)}</>`;
  return comments.join('') + single(node, writer, key);
}

/** The expression of one node, `undefined` alternatives as null. */
function single(node: EmitNode, writer: Writer, key?: string): string {
  switch (node.kind) {
    case 'text':
      return node.exact === true ? jsText(node.value) : jsString(node.value);
    case 'comment':
      return 'null';
    case 'value':
      return asChild(node.expression, writer);
    case 'element':
      return elementText(node, writer, key);
    case 'use':
      return useOf(node, writer, key);
    case 'slot': {
      const name = slotProp(writer.module.component!, node.name);
      return node.children.length === 0 ? name : `${name} ?? (${expressionOf(node.children, writer)})`;
    }
    case 'when': {
      const yes = expressionOf(node.children, writer, key);
      const condition = test(node.test, node.negated, writer);
      const plain = node.negated || isBoolean(node.test, writer) || node.test.kind === 'name';
      return plain ? `${condition} && (${yes})` : `(${condition}) ? (${yes}) : null`;
    }
    case 'each':
      return eachText(node, writer);
  }
}

function childText(node: EmitNode, list: EmitNode[], i: number, writer: Writer): string {
  if (node.kind === 'text') return node.exact === true ? exactText(node.value) : jsxText(node.value);
  if (node.kind === 'comment') return `{/* ${commentText(node.value)} */}`;
  if (node.kind === 'element' || node.kind === 'use') return single(node, writer);
  if (node.kind === 'when') {
    // two blocks that ask for opposite things are one choice
    const [before, next] = [list[i - 1], list[i + 1]];
    if (before?.kind === 'when' && opposite(before, node, writer) && !isSecond(list, i - 1, writer)) return '';
    if (next?.kind === 'when' && opposite(node, next, writer) && !isSecond(list, i, writer)) {
      const condition = test(node.test, node.negated, writer);
      return `{${condition} ? (${expressionOf(node.children, writer)}) : (${expressionOf(next.children, writer)})}`;
    }
  }
  return `{${single(node, writer)}}`;
}

type When = Extract<EmitNode, { kind: 'when' }>;

function opposite(a: When, b: When, writer: Writer): boolean {
  return a.negated !== b.negated && js(a.test, writer) === js(b.test, writer);
}

/** True for the second one of two that are written as one choice. */
function isSecond(list: EmitNode[], i: number, writer: Writer): boolean {
  const [before, node] = [list[i - 1], list[i] as When];
  return before?.kind === 'when' && opposite(before, node, writer) && !isSecond(list, i - 1, writer);
}

function exactText(text: string): string {
  return /^[^\s{}<>&]+( [^\s{}<>&]+)*$/.test(text) ? jsxText(text) : `{${jsText(text)}}`;
}

function commentText(text: string): string {
  return text.trim().replaceAll('*/', '* /');
}

function elementText(element: ElementNode, writer: Writer, key?: string): string {
  const { tag, space, children } = element;
  if (isUnsafe(tag) || tag === 'plaintext') {
    unsayable(writer, element, `<${tag}> is no element that a JSX runtime makes; what is in it stands without it`);
    return expressionOf(children, writer, key);
  }
  const name = nameOf(element, writer);
  const attributes = attributesOf(element, writer);
  if (key !== undefined) attributes.unshift(`key={${key}}`);
  const inner = contentOf(element, attributes, writer);
  const open = [name, ...attributes].join(' ');
  if (tag === 'template' && space === 'html' && children.length > 0)
    unsayable(writer, element, 'what a template element holds becomes its children when a browser builds it');
  return inner === '' || (space === 'html' && VOID.test(tag)) ? `<${open} />` : `<${open}>${inner}</${name}>`;
}

/** The content between the tags; what must be an attribute is added to those. */
function contentOf({ tag, space, children, at }: ElementNode, attributes: string[], writer: Writer): string {
  const [first] = children;
  if (space === 'html' && RAW.test(tag)) {
    const text = first?.kind === 'text' ? first.value : '';
    if (text !== '') attributes.push(`dangerouslySetInnerHTML={{ __html: ${jsText(text)} }}`);
    return '';
  }
  if (space !== 'html' || !/^(textarea|pre|listing)$/.test(tag)) return childrenText(children, writer);
  if (first?.kind === 'text' && first.value.startsWith('\n'))
    unsayable(writer, { at }, `the line break that <${tag}> starts with is lost when it is rendered to HTML`);
  if (tag !== 'textarea' || writer.job.names.options.attributes === 'html') return childrenText(children, writer);
  const parts = children.map((child) =>
    child.kind === 'text' ? jsText(child.value) : child.kind === 'value' ? asText(child.expression, writer) : "''",
  );
  if (children.length > 0)
    attributes.push(
      `defaultValue=${braced(parts.length === 1 ? parts[0]! : parts.map((part) => `(${part})`).join(' + '))}`,
    );
  return '';
}

/** The tag, or a constant that stands for a tag which JSX or its types do not know. */
function nameOf(element: ElementNode, { job, module }: Writer): string {
  const { tag } = element;
  const sayable = /^[a-z][a-zA-Z0-9]*(-[a-z0-9-]+)*$/.test(tag);
  if (sayable && (!job.typed || isKnown(element))) return tag;
  const known = module.aliases.get(tag);
  if (known !== undefined) return known;
  const taken = new Set([...module.aliases.values(), ...[...job.names.components.values()].map(({ name }) => name)]);
  const words = pascalCase(tag).replace(/[^\w$]/g, '');
  const alias = unique(/^[A-Z]/.test(words) ? `${words}Tag` : `T${words}`, taken);
  module.aliases.set(tag, alias);
  return alias;
}

function eachText(node: Extract<EmitNode, { kind: 'each' }>, writer: Writer): string {
  const { job, module } = writer;
  const list = js(node.of, writer);
  const scope = scopeOfItem(node, writer.scope);
  if (scope.get(camelName(node.item))!.record === '') return 'null';
  const name = camelCase(node.item);
  const item = isReserved(name) ? `${name}Item` : name;
  const variables = new Map([...writer.variables, [camelName(node.item), item]]);
  const inner = writerFor(job, module, scope, variables);
  const field =
    node.of.kind === 'name' && node.of.path.length === 1
      ? job.keys.get(`${module.component!.name} ${kebabOf(node.of.path[0]!, module.component!)}`)
      : undefined;
  const key = field === undefined ? 'index' : `${item}.${field}`;
  const nodes = node.children.filter((child) => child.kind !== 'comment');
  // an item that says nothing is there all the same
  const isUsed = field !== undefined || namesAmong(node.children).includes(camelName(node.item));
  const parameters = (isKeyed: boolean) => {
    if (isKeyed && field === undefined) return `${isUsed ? item : '_'}, index`;
    return isUsed ? item : '';
  };
  const isKeyed = (child: EmitNode) => child.kind === 'element' || child.kind === 'use' || child.kind === 'when';
  if (nodes.length === 1) {
    const body = expressionOf(node.children, inner, key);
    return `${list}.map((${parameters(isKeyed(nodes[0]!))}) => (${body}))`;
  }
  // several nodes an item: a list of them all, each with a key of its own
  const keyed: EmitNode[] = nodes.filter(isKeyed);
  const keyOf = (child: EmitNode) => (keyed.length < 2 ? key : `\`\${${key}} ${keyed.indexOf(child) + 1}\``);
  const each = nodes.map((child) => single(child, inner, keyOf(child))).join(', ');
  return `${list}.flatMap((${parameters(keyed.length > 0)}) => [${each}])`;
}

function kebabOf(name: string, { props }: { props: { name: string }[] }): string {
  return props.find((prop) => camelName(prop.name) === camelName(name))?.name ?? name;
}

/** A use as an element of JSX. */
function useOf(use: UseNode, writer: Writer, key?: string): string {
  const { job, module } = writer;
  const component = job.components.get(use.component)!;
  const types = job.types.props.get(use.component)!;
  const { name } = job.names.components.get(use.component)!;
  module.imports.add(use.component);
  const props: string[] = key === undefined ? [] : [`key={${key}}`];
  if (job.needFolder.has(use.component)) props.push(folderProp(writer));
  for (const prop of component.props) {
    const type = types.get(prop.name)!;
    const own = propName(prop.name);
    const list = use.lists.find((each) => each.name === prop.name);
    const value = use.values.find((each) => each.name === prop.name);
    if (list !== undefined) props.push(`${own}={${listOf(list, listName(prop.name, use), type, writer)}}`);
    else if (value !== undefined) props.push(...valueOf(own, value, type, writer));
  }
  for (const { name: slot, children } of use.slots) {
    if (slot === '' || !component.slots.includes(slot)) continue;
    const code = expressionOf(children, writer);
    // nothing poured in is not the same as nothing said, where the component has something of its own for that
    const hasOwn = find(component.nodes, 'slot').some((each) => each.name === slot && each.children.length > 0);
    if (code !== 'null') props.push(`${slotProp(component, slot)}=${braced(code)}`);
    else if (hasOwn) props.push(`${slotProp(component, slot)}=""`);
  }
  const poured = component.slots.includes('') ? use.slots.find((slot) => slot.name === '') : undefined;
  const open = [name, ...props].join(' ');
  const inner = poured === undefined ? '' : childrenText(poured.children, writer);
  return inner === '' ? `<${open} />` : `<${open}>${inner}</${name}>`;
}

function folderProp({ job, module }: Writer): string {
  if (module.component !== null) return `${FOLDER}={${FOLDER}}`;
  const page = job.site.pages.find(({ path }) => path === module.owner);
  return `${FOLDER}=${jsxValue(page?.folder ?? '')}`;
}

/** A prop with its value; nothing where the value is what is there without it. */
function valueOf(name: string, value: EmitAttr, type: Type, writer: Writer): string[] {
  const { pieces } = value;
  const [first] = pieces;
  if (type.kind === 'handler') return [`${name}={${handlerText(value, name, writer)}}`];
  const text = plainText(pieces);
  if (text !== null) {
    if (type.kind === 'style') return [`${name}={${styleText(value, writer) ?? '{}'}}`];
    if (type.kind === 'flag') return text === 'false' ? [] : [name];
    if (type.kind === 'list') {
      unsayable(writer, value, `a list is given as text: ${name} is left out`);
      return [];
    }
    return [type.kind === 'number' ? `${name}={${text}}` : `${name}=${jsxValue(text)}`];
  }
  if (pieces.length > 1 || typeof first !== 'object' || first.kind !== 'value')
    return [`${name}=${braced(jsPieces(pieces, writer))}`];
  const given = typeOf(first.expression, writer.scope);
  const code = js(first.expression, writer);
  if (given.kind === 'nothing') return [];
  if (type.kind === 'flag' && given.kind !== 'flag') return [`${name}={(${code}) !== undefined}`];
  if (type.kind !== 'flag' && (given.kind === 'flag' || given.kind === 'mixed')) return [`${name}={String(${code})}`];
  if (type.kind === 'text' && given.kind === 'number') return [`${name}={String(${code})}`];
  return [`${name}={${code}}`];
}

/** What a list of a use is called: after what tells the use apart, an id rather than a heading. */
function listName(prop: string, use: UseNode): string {
  const texts = use.values.flatMap(({ pieces }) => plainText(pieces) ?? []);
  const isId = (text: string) => /^[a-z]{2,}(-[a-z0-9]{3,})+$/.test(text);
  const isShort = (text: string) => /^\p{L}[\p{L}\p{N}' -]{2,30}$/u.test(text);
  const text = texts.find(isId) ?? texts.find(isShort) ?? '';
  return camelCase(`${text} ${prop}`)
    .replace(/[^A-Za-z0-9]/g, '')
    .replace(/^(?=\d|$)/, 'list');
}

/** Records as an array; those of a page are a constant of its module. */
function listOf({ records, at }: ListData, wanted: string, type: Type, writer: Writer): string {
  const { job, module } = writer;
  const code = `[${records.map((record) => recordOf(record, { type, at }, writer)).join(', ')}]`;
  if (records.length === 0) return code;
  const known = module.constants.find((each) => each.code === code && each.type === type.record);
  if (known !== undefined) return known.name;
  const props = module.component?.props.map(({ name }) => camelName(name)) ?? [];
  const handlers = [...module.handlerNames];
  const taken = new Set([
    ...module.constants.map(({ name }) => name),
    ...props,
    ...handlers,
    'relativeUrl',
    'styleObject',
    FOLDER,
  ]);
  const name = unique(wanted, taken);
  module.constants.push({ name, type: job.typed ? type.record : '', code });
  return name;
}

function recordOf(record: Json, { type: { fields }, at }: { type: Type; at: ListData['at'] }, writer: Writer): string {
  const given = typeof record === 'object' && record !== null && !Array.isArray(record) ? Object.entries(record) : [];
  const entries = given.flatMap(([name, value]) => {
    const type = fields.get(camelName(name));
    if (type === undefined || value === null || typeof value === 'object') return [];
    const text = String(value);
    const code = () => {
      if (type.kind === 'flag') return String(value !== false && text !== 'false');
      if (type.kind === 'handler') return handlerText({ name, pieces: [text], at }, name, writer);
      return type.kind === 'number' && isNumber(text) ? text : jsString(text);
    };
    return [`${jsKey(camelName(name))}: ${code()}`];
  });
  return `{ ${entries.join(', ')} }`;
}
