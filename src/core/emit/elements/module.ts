/** The module of one component: a class for its element, or a function for its markup where it can be no element. */
import { camelName } from '../../component/expression.js';
import type { EmitComponent, EmitNode, EmitProp, ElementNode, UseNode } from '../model.js';
import { plainText } from '../pieces.js';
import { js, jsPieces } from '../tsx/expression.js';
import { jsKey, jsString } from '../tsx/strings.js';
import { type PropTypes, scopeOf, type Type } from '../tsx/types.js';
import { markupOf, type Writer } from './markup.js';
import { isTaken } from './members.js';
import { find } from '../read.js';

/** How a component stands on pages. */
export type Standing =
  /** its element takes the place of its root, whose role it has */
  | { kind: 'root'; role: string | null }
  /** its element stands around its markup */
  | { kind: 'around' }
  /** it is no element: pages have it expanded */
  | { kind: 'expanded' };

/** What all modules of one run share. */
export interface Job {
  components: ReadonlyMap<string, EmitComponent>;
  types: PropTypes;
  /** names of classes, by component */
  classes: ReadonlyMap<string, string>;
  standing: ReadonlyMap<string, Standing>;
}

export interface ElementModule {
  component: EmitComponent;
  /** names of the base module that it imports */
  base: string[];
  /** functions of other modules that it imports, by component */
  functions: [component: string, name: string][];
  /** elements that its markup has */
  elements: string[];
  code: string;
}

/** The property that a prop is. */
export function propertyOf(name: string): string {
  const own = camelName(name);
  return isTaken(own) ? `${own}Value` : own;
}

/** True where markup that is drawn has a component that is no element there. */
export function isCalled(name: string, job: Job, callers: readonly string[] = []): boolean {
  return [...job.components.values()].some((caller) => {
    const calls = find(caller.nodes, 'use').some((use) => use.component === name && !isElement(use, job));
    if (!calls || callers.includes(caller.name)) return false;
    return job.standing.get(caller.name)!.kind !== 'expanded' || isCalled(caller.name, job, [...callers, name]);
  });
}

function isElement(use: UseNode, { standing }: Job): boolean {
  return standsAsElement(use, standing);
}

/** True where a use stands as an element of its own. */
export function standsAsElement(use: UseNode, standing: ReadonlyMap<string, Standing>): boolean {
  return !use.template && standing.get(use.component)!.kind !== 'expanded' && !poursProgram(use);
}

/** True for a script that runs. */
export function isProgram({ tag, space, attrs }: ElementNode): boolean {
  const type = plainText(attrs.find(({ name }) => name === 'type')?.pieces ?? []) ?? '';
  return (
    tag === 'script' &&
    space !== 'math' &&
    /^(|module|(text|application)\/(x-)?(java|ecma)script.*)$/i.test(type.trim())
  );
}

/** True where a script is poured in: it runs where the parser meets it, before there is anything around it. */
export function poursProgram({ slots }: UseNode): boolean {
  return slots.some(({ children }) => find(children, 'element').some(isProgram));
}

function functionName(component: string, job: Job): string {
  const name = job.classes.get(component)!;
  return `${name.charAt(0).toLowerCase()}${name.slice(1)}Markup`;
}

/** The root whose place an element may take: the only node. */
export function rootOf(nodes: EmitNode[]): ElementNode | null {
  const [root, ...more] = nodes.filter((node) => !(node.kind === 'text' && node.value.trim() === ''));
  return root?.kind === 'element' && more.length === 0 ? root : null;
}

/** What a module comes to need while it is written. */
interface Needs {
  base: Set<string>;
  functions: Map<string, string>;
  elements: Set<string>;
  /** properties, and `slots`, that what is written now names */
  named: Set<string>;
}

/** Null for a component that no page and no module needs. */
export function elementModule(component: EmitComponent, job: Job): ElementModule | null {
  const { name, nodes } = component;
  const standing = job.standing.get(name)!;
  const called = isCalled(name, job);
  if (standing.kind === 'expanded' && !called) return null;
  const types = job.types.props.get(name)!;
  const module: Needs = { base: new Set(), functions: new Map(), elements: new Set(), named: new Set() };
  const writer = writerOf(types, module, job);
  const parts: string[] = [];
  const root = standing.kind === 'root' ? rootOf(nodes)! : null;
  if (called) {
    const { code: markup, names } = naming(component, module, () => markupOf(nodes, writer));
    const code = `function ${functionName(name, job)}({ ${names.join(', ')} }, slots) {\nreturn ${markup};\n}`;
    parts.push(`/** The markup of ${name}, where no element of its own can stand. */\nexport ${code}`);
  }
  if (standing.kind !== 'expanded') {
    const { code: markup, names } = naming(component, module, () => markupOf(root?.children ?? nodes, writer));
    const takesSlots = module.named.has('slots');
    const render =
      called && root === null ? `return ${functionName(name, job)}(this, slots);` : `${taking(names)}return ${markup};`;
    const members = component.props.flatMap((prop) => accessors(prop, types.get(prop.name)!, module.base));
    if (root !== null) {
      const dress = naming(component, module, () => rootAttributes(root, standing, writer));
      members.push(
        `/** Attributes of the ${root.tag} whose place it takes. */\nrootAttributes() {\n${taking(dress.names)}return ${dress.code};\n}`,
      );
    }
    members.push(`render(${takesSlots || (called && root === null) ? 'slots' : ''}) {\n${render}\n}`);
    module.base.add('SiteElement').add('define');
    const observed = component.props
      .filter((prop) => types.get(prop.name)!.kind !== 'list')
      .map((prop) => jsString(prop.name));
    const className = job.classes.get(name)!;
    parts.push(
      `${about(component)}export class ${className} extends SiteElement {\nstatic observedAttributes = [${observed.join(', ')}];\n\n${members.join('\n\n')}\n}`,
      `define(${jsString(name)}, ${className});`,
    );
  }
  return {
    component,
    base: [...module.base].sort(),
    functions: [...module.functions].filter(([other]) => other !== name),
    elements: [...module.elements].filter((other) => other !== name).sort(),
    code: parts.join('\n\n'),
  };
}

function writerOf(types: ReadonlyMap<string, Type>, module: Needs, job: Job): Writer {
  const writer: Writer = {
    scope: scopeOf(types),
    nameOf: (name) => {
      const property = propertyOf(name);
      module.named.add(property);
      return property;
    },
    url: (pieces) => {
      module.base.add('relativeUrl');
      return `relativeUrl(${jsPieces(pieces, writer)})`;
    },
    none: 'null',
    components: job.components,
    typesOf: (name) => job.types.props.get(name)!,
    isElement: (use) => isElement(use, job),
    functionOf: (name) => {
      const made = functionName(name, job);
      module.functions.set(name, made);
      return made;
    },
    uses: (name) => module.elements.add(name),
    base: module.base,
    takesSlots: () => module.named.add('slots'),
    propName: propertyOf,
  };
  return writer;
}

/** What is written, and the properties that stand in it. */
function naming({ props }: EmitComponent, module: Needs, write: () => string): { code: string; names: string[] } {
  module.named.clear();
  const code = write();
  return { code, names: props.map(({ name }) => propertyOf(name)).filter((name) => module.named.has(name)) };
}

function taking(names: string[]): string {
  return names.length === 0 ? '' : `const { ${names.join(', ')} } = this;\n`;
}

function about({ name, about: text, slots }: EmitComponent): string {
  const lines = [text ?? `The element <${name}>.`];
  for (const slot of slots)
    lines.push(slot === '' ? 'Its content is poured in.' : `<template slot="${slot}"> in it is poured in.`);
  return lines.length === 1
    ? `/** ${comment(lines[0]!)} */\n`
    : `/**\n${lines.map((line) => ` * ${comment(line)}`).join('\n')}\n */\n`;
}

function comment(text: string): string {
  return text.replaceAll('*/', '* /').replace(/\s+/g, ' ');
}

/** What a prop holds, for editors. */
export function typeName(prop: EmitProp, type: Type): string {
  const none = prop.default === null && type.kind !== 'flag' ? ' | null' : '';
  switch (type.kind) {
    case 'flag':
      return 'boolean';
    case 'number':
      return `number${none}`;
    case 'choice':
      return type.choices.map(jsString).join(' | ') + none;
    case 'list':
      return `{ ${prop.fields.map((field) => `${jsKey(camelName(field.name))}${field.optional || field.type === 'flag' ? '?' : ''}: ${field.type === 'flag' ? 'boolean' : 'string'}`).join(', ')} }[]`;
    default:
      return `string${none}`;
  }
}

function accessors(prop: EmitProp, type: Type, base: Set<string>): string[] {
  const property = propertyOf(prop.name);
  const name = jsString(prop.name);
  const text = prop.about === null ? '' : ` ${comment(prop.about)}`;
  const doc = `/** @type {${typeName(prop, type).replaceAll('*/', '* /')}}${text} */`;
  const standard = prop.default === null ? '' : ` ?? ${jsString(prop.default)}`;
  const take = (helper: string) => {
    base.add(helper);
    return helper;
  };
  const [get, set] = ((): [get: string, set: string] => {
    switch (type.kind) {
      case 'flag':
        return [`${take('flagOf')}(this, ${name})`, `this.toggleAttribute(${name}, value)`];
      case 'list':
        return [`${take('listOf')}(this, ${name}) ?? []`, `${take('changeList')}(this, ${name}, value)`];
      case 'number':
        return [
          `${take('numberOf')}(this, ${name}${prop.default === null ? '' : `, ${prop.default}`})`,
          `${take('reflect')}(this, ${name}, value)`,
        ];
      default:
        return [`this.getAttribute(${name})${standard}`, `${take('reflect')}(this, ${name}, value)`];
    }
  })();
  return [`${doc}\nget ${property}() {\nreturn ${get};\n}`, `set ${property}(value) {\n${set};\n}`];
}

/** The attributes of the root that the element takes the place of. */
function rootAttributes(root: ElementNode, standing: Standing, writer: Writer): string {
  const entries = root.attrs.map(({ name, pieces }) => {
    const [first] = pieces;
    const whole = pieces.length === 1 && typeof first === 'object' && first.kind === 'value';
    return `${jsKey(name)}: ${whole ? js(first.expression, writer) : jsPieces(pieces, writer)}`;
  });
  if (standing.kind === 'root' && standing.role !== null) entries.push(`role: ${jsString(standing.role)}`);
  return `{ ${entries.join(', ')} }`;
}
