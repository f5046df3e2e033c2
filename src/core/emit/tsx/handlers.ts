/**
 * Code that stands in event handler attributes, as functions of a module of its own. The body is what it was, but for
 * `this`, which is the element, and `return false`, which takes back what the browser would do (HTML standard, "the
 * event handler processing algorithm").
 */
import { type AnyNode, parse } from 'acorn';
import { camelCase } from 'change-case';
import { isReserved } from './strings.js';

export interface Handlers {
  /** the name of the function for a handler's code; null when the code cannot be read */
  nameOf: (code: string, wanted: string) => string | null;
  /** the module's functions, in order of their names; '' when there are none, unless `always` */
  text: (always: boolean) => string;
}

/** Collects handlers; the same code is one function, and none is called like what is in `taken`. */
export function collectHandlers(typed: boolean, taken: Set<string>): Handlers {
  const found = new Map<string, { name: string; body: string }>();
  return {
    nameOf(code, wanted) {
      const known = found.get(code);
      if (known !== undefined) return known.name;
      const made = bodyOf(code);
      if (made === null) return null;
      const stem = camelCase(wanted.replaceAll(/[^A-Za-z0-9]+/g, ' ')).replace(/^(?=\d|$)/, 'on');
      let name = stem;
      for (let n = 2; taken.has(name) || isReserved(name) || made.names.has(name); n++) name = `${stem}${n}`;
      taken.add(name);
      found.set(code, { name, body: made.body });
      return name;
    },
    text(always) {
      const all = [...found.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
      if (all.length === 0 && !always) return '';
      const parameter = typed ? 'event: HandledEvent' : 'event';
      const about = '/** What an event handler attribute of the pages did; the code is its own. */';
      const functions = all.map(({ name, body }) => `${about}\nexport function ${name}(${parameter}) {\n${body}\n}`);
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

/** The function's body, and all names that stand in it; null for what is no JavaScript. */
function bodyOf(code: string): { body: string; names: Set<string> } | null {
  const before = 'function handler(event) {\n';
  let program: AnyNode;
  try {
    program = parse(`${before}${code}\n}`, { ecmaVersion: 'latest' });
  } catch {
    return null;
  }
  const [handler, more] = (program as unknown as { body: AnyNode[] }).body;
  // code that closes the function itself is no body of one
  if (handler?.type !== 'FunctionDeclaration' || more !== undefined) return null;
  const names = new Set<string>();
  const edits: { start: number; end: number; text: string }[] = [];
  const returns: { start: number; end: number; argument: AnyNode | null }[] = [];
  const visit = (node: AnyNode, own: boolean): void => {
    if (node.type === 'Identifier') names.add(node.name);
    if (node.type === 'ThisExpression' && own) edits.push({ ...node, text: 'event.currentTarget' });
    if (node.type === 'ReturnStatement' && own) returns.push({ ...node, argument: node.argument ?? null });
    const inner = own && !(/^(FunctionExpression|FunctionDeclaration|ClassBody)$/.test(node.type) && node !== handler);
    // an arrow function has the same `this`, but returns of its own
    const before = returns.length;
    for (const value of Object.values(node) as unknown[])
      for (const child of Array.isArray(value) ? (value as unknown[]) : [value])
        if (typeof child === 'object' && child !== null && 'type' in child) visit(child as AnyNode, inner);
    if (node.type === 'ArrowFunctionExpression') returns.length = before;
  };
  visit(handler, true);
  const { body } = handler;
  const last = body.body.at(-1);
  const [only] = returns;
  const source = `${before}${code}\n}`;
  const text = (from: number, to: number) =>
    edits
      .filter(({ start, end }) => start >= from && end <= to)
      .sort((a, b) => b.start - a.start)
      .reduce(
        (all, edit) => all.slice(0, edit.start - from) + edit.text + all.slice(edit.end - from),
        source.slice(from, to),
      );
  const start = before.length;
  const end = start + code.length;
  if (returns.length === 0) return { body: text(start, end), names };
  if (returns.length === 1 && only!.start === last?.start) {
    const { argument } = only!;
    const rest = text(start, only!.start);
    if (argument === null) return { body: rest, names };
    if (argument.type === 'Literal')
      return { body: argument.value === false ? `${rest}event.preventDefault();` : rest, names };
    return { body: `${rest}if ((${text(argument.start, argument.end)}) === false) event.preventDefault();`, names };
  }
  return {
    body: `const result = (() => {\n${text(start, end)}\n})();\nif (result === false) event.preventDefault();`,
    names,
  };
}
