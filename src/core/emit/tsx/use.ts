/** Uses of components: values, lists and slots as props. */
import { camelCase } from 'change-case';
import { camelName } from '../../component/expression.js';
import type { EmitAttr, EmitComponent, Json, UseNode } from '../model.js';
import { plainText } from '../pieces.js';
import { js, jsPieces } from './expression.js';
import { childrenText, expressionOf } from './jsx.js';
import { styleObject } from './style.js';
import { find } from '../read.js';
import { braced, jsKey, jsString, jsxValue, unique } from './strings.js';
import { handlerOf } from './attribute.js';
import { isNumber, type Type, typeOf } from './types.js';
import { FOLDER, unsayable, type Writer } from './writer.js';

/** Names that runtimes keep to themselves, or that slots have. */
const KEPT = new Set(['key', 'ref', 'children', FOLDER]);

/** A prop's name in TypeScript. */
export function propName(name: string): string {
  const own = camelName(name);
  return KEPT.has(own) ? `${own}Value` : own;
}

/** The name of the prop that a slot is. */
export function slotProp(component: EmitComponent, name: string): string {
  if (name === '') return 'children';
  const own = camelCase(name).replace(/^(?=\d|$)/, 'slot');
  const taken = component.props.some((prop) => propName(prop.name) === own) || KEPT.has(own);
  return taken ? `${own}Slot` : own;
}

/** A use as an element of JSX. */
export function useOf(use: UseNode, writer: Writer, key?: string): string {
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
    if (list !== undefined) props.push(`${own}={${listOf(list.records, listName(prop.name, use), type, writer)}}`);
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
  if (type.kind === 'handler') {
    const handler = handlerOf(value, name, writer);
    return handler === null ? [] : [`${name}={${handler}}`];
  }
  const text = plainText(pieces);
  if (text !== null) {
    if (type.kind === 'style') {
      const style = styleObject(pieces, (each) => jsPieces(each, writer));
      for (const message of style?.lost ?? []) unsayable(writer, value, `in a style object ${message}`);
      return style === null ? [] : [`${name}={${style.code}}`];
    }
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
function listOf(records: Json[], wanted: string, type: Type, { job, module }: Writer): string {
  const code = `[${records.map((record) => recordOf(record, type)).join(', ')}]`;
  if (records.length === 0) return code;
  const known = module.constants.find((each) => each.code === code && each.type === type.record);
  if (known !== undefined) return known.name;
  const props = module.component?.props.map(({ name }) => camelName(name)) ?? [];
  const handlers = [...module.handlerNames];
  const taken = new Set([...module.constants.map(({ name }) => name), ...props, ...handlers, 'relativeUrl', FOLDER]);
  const name = unique(wanted, taken);
  module.constants.push({ name, type: job.typed ? type.record : '', code });
  return name;
}

function recordOf(record: Json, { fields }: Type): string {
  const given = typeof record === 'object' && record !== null && !Array.isArray(record) ? Object.entries(record) : [];
  const entries = given.flatMap(([name, value]) => {
    const type = fields.get(camelName(name));
    if (type === undefined || value === null || typeof value === 'object') return [];
    const text = String(value);
    const code =
      type.kind === 'flag'
        ? String(value !== false && text !== 'false')
        : type.kind === 'number' && isNumber(text)
          ? text
          : jsString(text);
    return [`${jsKey(camelName(name))}: ${code}`];
  });
  return `{ ${entries.join(', ')} }`;
}
