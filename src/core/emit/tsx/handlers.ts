/**
 * Code that stands in event handler attributes, as functions of a module of its own. The body is what it was, but for
 * `this`, which is the element, and `return false`, which takes back what the browser would do (HTML standard, "the
 * event handler processing algorithm"). Values in its strings, and numbers, are parameters.
 */
import { type AnyNode, parse } from 'acorn';
import { camelCase } from 'change-case';
import { inTemplate, isReserved, unique } from './strings.js';

/** A value within a handler's code. */
export interface Argument {
  /** what the function may call it */
  name: string;
  /** JavaScript that gives it as text, and as a number where it is one */
  text: string;
  number: string | null;
}

/** A function, and what it is given besides the event. */
export interface HandlerCall {
  name: string;
  given: string[];
}

export interface Handlers {
  /** the function for a handler's code; null when that cannot be read, or a value is neither in a string nor a number */
  callOf: (code: readonly (string | Argument)[], wanted: string) => HandlerCall | null;
  /** the module's functions, in order of their names; '' when there are none, unless `always` */
  text: (always: boolean) => string;
}

/** What a function takes besides the event. */
interface Parameter {
  name: string;
  type: 'string' | 'number';
}

/** Collects handlers; the same code is one function, and none is called like what is in `taken`. */
export function collectHandlers(typed: boolean, taken: Set<string>): Handlers {
  const found = new Map<string, { name: string; parameters: Parameter[]; body: string }>();
  return {
    callOf(code, wanted) {
      const made = functionOf(code);
      if (made === null) return null;
      const { body, parameters, given, names } = made;
      const key = JSON.stringify([body, parameters]);
      const known = found.get(key);
      if (known !== undefined) return { name: known.name, given };
      const stem = camelCase(wanted.replaceAll(/[^A-Za-z0-9]+/g, ' ')).replace(/^(?=\d|$)/, 'on');
      let name = stem;
      for (let n = 2; taken.has(name) || isReserved(name) || names.has(name); n++) name = `${stem}${n}`;
      taken.add(name);
      found.set(key, { name, parameters, body });
      return { name, given };
    },
    text(always) {
      const all = [...found.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
      if (all.length === 0 && !always) return '';
      const about = '/** What an event handler attribute of the pages did; the code is its own. */';
      const functions = all.map(({ name, parameters, body }) => {
        const list = [{ name: 'event', type: 'HandledEvent' }, ...parameters].map((each) =>
          typed ? `${each.name}: ${each.type}` : each.name,
        );
        return `${about}\nexport function ${name}(${list.join(', ')}) {\n${body}\n}`;
      });
      return [...(typed ? [HEAD] : []), ...functions].join('\n\n');
    },
  };
}

const HEAD = `// @ts-nocheck: the code was not written for a type checker, and names what the scripts of the pages define

/** What a handler needs of an event, of whichever kind. */
export interface HandledEvent {
  readonly currentTarget: EventTarget | null;
  preventDefault: () => void;
}

export type Handler = (event: HandledEvent) => void;`;

interface Edit {
  start: number;
  end: number;
  text: string;
}

const BEFORE = 'function handler(event) {\n';

/** The function's body, its parameters and what they are given, and all names in it; null for what is no such JavaScript. */
function functionOf(
  code: readonly (string | Argument)[],
): { body: string; parameters: Parameter[]; given: string[]; names: Set<string> } | null {
  const marks = marksIn(code);
  const source = `${BEFORE}${code.map((part, i) => (typeof part === 'string' ? part : marks.nameOf(i))).join('')}\n}`;
  const handler = handlerIn(source);
  if (handler === null) return null;
  const names = namesIn(handler, marks.isOne);
  const parameters = new Parameters(marks, new Set([...names, 'event']));
  const edits: Edit[] = [];
  const returns: Return[] = [];
  const visit = (node: AnyNode, around: AnyNode, own: boolean): void => {
    const text = parameters.inPlaceOf(node, around);
    if (text !== null) edits.push({ start: node.start, end: node.end, text });
    if (node.type === 'ThisExpression' && own) edits.push({ ...node, text: 'event.currentTarget' });
    if (node.type === 'ReturnStatement' && own) returns.push({ ...node, argument: node.argument ?? null });
    const inner = own && !(/^(FunctionExpression|FunctionDeclaration|ClassBody)$/.test(node.type) && node !== handler);
    // an arrow function has the same `this`, but returns of its own
    const before = returns.length;
    for (const child of childrenOf(node)) visit(child, node, inner);
    if (node.type === 'ArrowFunctionExpression') returns.length = before;
  };
  visit(handler, handler, true);
  if (parameters.placed < code.filter((part) => typeof part !== 'string').length) return null;
  return {
    body: bodyOf(handler, returns, { source, edits }),
    parameters: parameters.all.map(({ name, type }) => ({ name, type })),
    given: parameters.all.map(({ given }) => given),
    names,
  };
}

/** Names that stand for the values in code, and that nothing else there has. */
interface Marks {
  /** @param i number of the part that the value is */
  nameOf: (i: number) => string;
  isOne: (name: string) => boolean;
  /** texts and values in turn: a text comes first and last */
  split: (text: string) => (string | Argument)[];
}

function marksIn(code: readonly (string | Argument)[]): Marks {
  const texts = code.filter((part) => typeof part === 'string').join('\n');
  let stem = 'value';
  while (texts.includes(stem)) stem += '_';
  const mark = new RegExp(`${stem}(\\d+)\\$`);
  return {
    nameOf: (i) => `${stem}${i}$`,
    isOne: (name) => mark.test(name),
    split: (text) => text.split(mark).map((part, i) => (i % 2 === 0 ? part : (code[Number(part)] as Argument))),
  };
}

/** What a function takes, found as its code is gone through. */
class Parameters {
  readonly all: (Parameter & { given: string })[] = [];
  /** how many values have found their place */
  placed = 0;

  constructor(
    private readonly marks: Marks,
    private readonly taken: Set<string>,
  ) {}

  /** The code in place of a node that holds values; null for one that does not, or that cannot take them. */
  inPlaceOf(node: AnyNode, around: AnyNode): string | null {
    if (node.type === 'Identifier') {
      const argument = this.onlyIn(node.name);
      return argument?.number != null && isOperand(node, around) ? this.named(argument, 'number') : null;
    }
    if (node.type === 'TemplateElement')
      return this.marks.isOne(node.value.raw) ? this.template(node.value.raw, String) : null;
    if (node.type !== 'Literal' || typeof node.value !== 'string' || isKey(node, around)) return null;
    const only = this.onlyIn(node.value);
    if (only !== null) return this.named(only, 'string');
    return this.marks.isOne(node.value) ? `\`${this.template(node.value, inTemplate)}\`` : null;
  }

  /** The value that is all of a text; null for none. */
  private onlyIn(text: string): Argument | null {
    const [before, argument, after, ...more] = this.marks.split(text);
    const isAll = before === '' && after === '' && more.length === 0;
    return isAll ? (argument as Argument) : null;
  }

  private template(text: string, spelled: (part: string) => string): string {
    const parts = this.marks.split(text);
    return parts
      .map((part) => (typeof part === 'string' ? spelled(part) : `\${${this.named(part, 'string')}}`))
      .join('');
  }

  private named(argument: Argument, type: Parameter['type']): string {
    const given = type === 'number' ? argument.number! : argument.text;
    this.placed++;
    const known = this.all.find((each) => each.given === given && each.type === type);
    if (known !== undefined) return known.name;
    const name = unique(argument.name, this.taken);
    this.all.push({ name, type, given });
    return name;
  }
}

type HandlerNode = Extract<AnyNode, { type: 'FunctionDeclaration' }>;

/** A place where code returns, and what. */
interface Return {
  start: number;
  end: number;
  argument: AnyNode | null;
}

/** The function that a source is; null where that is no JavaScript, or more than one. */
function handlerIn(source: string): HandlerNode | null {
  let program: AnyNode;
  try {
    program = parse(source, { ecmaVersion: 'latest' });
  } catch {
    return null;
  }
  const [handler, more] = (program as unknown as { body: AnyNode[] }).body;
  // code that closes the function itself is no body of one
  return handler?.type !== 'FunctionDeclaration' || more !== undefined ? null : handler;
}

function childrenOf(node: AnyNode): AnyNode[] {
  const values = Object.values(node).flatMap((value: unknown) => value);
  return values.filter((child): child is AnyNode => typeof child === 'object' && child !== null && 'type' in child);
}

/** All names that stand in code, but for those that stand for values. */
function namesIn(node: AnyNode, isMark: (name: string) => boolean): Set<string> {
  const names = new Set<string>();
  const visit = (each: AnyNode): void => {
    if (each.type === 'Identifier' && !isMark(each.name)) names.add(each.name);
    childrenOf(each).forEach(visit);
  };
  visit(node);
  return names;
}

/** True for a name of a property, in an object or after a dot. */
function isKey(node: AnyNode, around: AnyNode): boolean {
  return (
    (around.type === 'Property' && around.key === node && !around.computed) || around.type === 'PropertyDefinition'
  );
}

/** True where a number may stand in place of a name. */
function isOperand(node: AnyNode, around: AnyNode): boolean {
  switch (around.type) {
    case 'CallExpression':
    case 'NewExpression':
      return around.callee !== node;
    case 'AssignmentExpression':
      return around.right === node;
    case 'MemberExpression':
      return around.computed && around.property === node;
    default:
      return /^(BinaryExpression|LogicalExpression|ConditionalExpression|ArrayExpression)$/.test(around.type);
  }
}

/** What a function does that returns nothing: what the code returns decides what the browser does. */
function bodyOf(
  { body }: HandlerNode,
  returns: readonly Return[],
  { source, edits }: { source: string; edits: readonly Edit[] },
): string {
  const last = body.body.at(-1);
  const [only] = returns;
  const text = (from: number, to: number) =>
    edits
      .filter(({ start, end }) => start >= from && end <= to)
      .sort((a, b) => b.start - a.start)
      .reduce(
        (all, edit) => all.slice(0, edit.start - from) + edit.text + all.slice(edit.end - from),
        source.slice(from, to),
      );
  const [start, end] = [BEFORE.length, source.length - '\n}'.length];
  if (returns.length === 0) return text(start, end);
  if (returns.length === 1 && only!.start === last?.start) {
    const { argument } = only!;
    const rest = text(start, only!.start);
    if (argument === null) return rest;
    if (argument.type === 'Literal') return argument.value === false ? `${rest}event.preventDefault();` : rest;
    return `${rest}if ((${text(argument.start, argument.end)}) === false) event.preventDefault();`;
  }
  return `const result = (() => {\n${text(start, end)}\n})();\nif (result === false) event.preventDefault();`;
}
