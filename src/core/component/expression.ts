/**
 * What may stand in `{{ … }}`: names, `a.b`, string literals, `true false null`, `===`, `!==`, `??`, `?:` and
 * parentheses, with the meaning that ECMAScript gives them.
 */
import type { Spelled } from '../page/spelling.js';
import { spelledValue } from '../page/spelling.js';

/** A value at run time: what a prop, an item of a list or an expression holds. */
export type Datum = null | boolean | Spelled | Datum[] | Map<string, Datum>;

export type Expression =
  | { kind: 'literal'; value: Datum }
  | { kind: 'name'; path: string[] }
  | { kind: 'equal'; negated: boolean; left: Expression; right: Expression }
  | { kind: 'nullish'; left: Expression; right: Expression }
  | { kind: 'choose'; test: Expression; yes: Expression; no: Expression };

const TOKEN = /\s*(?:([A-Za-z_$][\w$]*)|("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')|(===|!==|\?\?|[?:().]))/y;

/** Parses an expression; throws an Error whose message says what is wrong. */
export function parseExpression(source: string): Expression {
  const tokens: string[] = [];
  TOKEN.lastIndex = 0;
  const text = source.trimEnd();
  while (TOKEN.lastIndex < text.length) {
    const at = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (match === null) throw new Error(`"${text.slice(at).trim().slice(0, 12)}" cannot stand in an expression`);
    tokens.push(match[1] ?? match[2] ?? match[3]!);
  }
  let at = 0;
  const take = (token: string) => (tokens[at] === token ? (at++, true) : false);
  const expect = (token: string) => {
    if (!take(token))
      throw new Error(`"${token}" is missing${tokens[at] === undefined ? '' : ` before "${tokens[at]}"`}`);
  };
  const choose = (): Expression => {
    const test = nullish();
    if (!take('?')) return test;
    const yes = choose();
    expect(':');
    return { kind: 'choose', test, yes, no: choose() };
  };
  const nullish = (): Expression => {
    let left = equal();
    while (take('??')) left = { kind: 'nullish', left, right: equal() };
    return left;
  };
  const equal = (): Expression => {
    let left = primary();
    for (;;) {
      const negated = tokens[at] === '!==';
      if (!take('===') && !take('!==')) return left;
      left = { kind: 'equal', negated, left, right: primary() };
    }
  };
  const primary = (): Expression => {
    const token = tokens[at++];
    if (token === undefined) throw new Error('a name or a value is missing');
    if (token === '(') {
      const inner = choose();
      expect(')');
      return inner;
    }
    if (/^["']/.test(token)) return { kind: 'literal', value: spelledValue(unquote(token)) };
    if (token === 'true' || token === 'false') return { kind: 'literal', value: token === 'true' };
    if (token === 'null') return { kind: 'literal', value: null };
    if (!/^[\w$]/.test(token)) throw new Error(`"${token}" stands where a name or a value is expected`);
    const path = [token];
    while (take('.')) {
      const field = tokens[at++];
      if (field === undefined || !/^[A-Za-z_$]/.test(field)) throw new Error('a name is missing after "."');
      path.push(field);
    }
    return { kind: 'name', path };
  };
  const whole = choose();
  if (at < tokens.length) throw new Error(`"${tokens[at]!}" is one too many`);
  return whole;
}

function unquote(token: string): string {
  return token.slice(1, -1).replace(/\\(.)/g, (_, char: string) => (char === 'n' ? '\n' : char === 't' ? '\t' : char));
}

/** The paths of all names in an expression: `a.b` is [a, b]. */
export function namesIn(expression: Expression): string[][] {
  switch (expression.kind) {
    case 'literal':
      return [];
    case 'name':
      return [expression.path];
    case 'equal':
    case 'nullish':
      return [...namesIn(expression.left), ...namesIn(expression.right)];
    case 'choose':
      return [expression.test, expression.yes, expression.no].flatMap(namesIn);
  }
}

/** Evaluates against `scope`, whose keys are camelCase names; an unknown name is null. */
export function evaluate(expression: Expression, scope: ReadonlyMap<string, Datum>): Datum {
  switch (expression.kind) {
    case 'literal':
      return expression.value;
    case 'name': {
      let value: Datum = scope.get(expression.path[0]!) ?? null;
      for (const field of expression.path.slice(1)) value = value instanceof Map ? (value.get(field) ?? null) : null;
      return value;
    }
    case 'equal': {
      const same = comparable(evaluate(expression.left, scope)) === comparable(evaluate(expression.right, scope));
      return same !== expression.negated;
    }
    case 'nullish':
      return evaluate(expression.left, scope) ?? evaluate(expression.right, scope);
    case 'choose':
      return evaluate(isTruthy(evaluate(expression.test, scope)) ? expression.yes : expression.no, scope);
  }
}

function comparable(value: Datum): unknown {
  return isSpelled(value) ? value.value : value;
}

export function isSpelled(value: Datum): value is Spelled {
  return typeof value === 'object' && value !== null && !Array.isArray(value) && !(value instanceof Map);
}

/** Truth as ECMAScript has it, but for an empty list, which is false: `when` asks whether there is anything. */
export function isTruthy(value: Datum): boolean {
  if (isSpelled(value)) return value.value !== '';
  return Array.isArray(value) ? value.length > 0 : value !== null && value !== false;
}

/** `sailing-time` → `sailingTime`: from markup to interface. */
export function camelName(name: string): string {
  return name.replace(/-([a-z0-9])/g, (_, char: string) => char.toUpperCase());
}
