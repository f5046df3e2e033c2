/** Expressions of templates as JavaScript: what is absent is `undefined` there, or `null`. */
import { camelName, type Expression, isSpelled } from '../../component/expression.js';
import type { Piece } from '../model.js';
import { inTemplate, jsString } from './strings.js';
import { type Scope, type Type, typeOf } from './types.js';

/** What an expression is written against. */
export interface Writing {
  scope: Scope;
  /** the JavaScript of a name */
  nameOf: (name: string) => string;
  /** a URL that is relative to the site's root, given its pieces */
  url: (pieces: Piece[]) => string;
  /** what stands for what is absent */
  none: 'undefined' | 'null';
}

/** The expression; its type is that of `typeOf`, with `none` for what is absent. */
export function js(expression: Expression, writing: Writing): string {
  switch (expression.kind) {
    case 'literal':
      if (isSpelled(expression.value)) return jsString(expression.value.value);
      return typeof expression.value === 'boolean' ? String(expression.value) : writing.none;
    case 'name': {
      if (typeOf(expression, writing.scope).kind === 'nothing') return writing.none;
      const [name, ...fields] = expression.path;
      return [writing.nameOf(camelName(name!)), ...fields.map(camelName)].join('.');
    }
    case 'equal': {
      const { left, right, negated } = expression;
      // what a record lacks is `undefined`, whatever else is absent is
      const isLoose = writing.none === 'null' && [left, right].some(isNothing);
      return `${operand(left, writing)} ${negated ? '!=' : '=='}${isLoose ? '' : '='} ${operand(right, writing)}`;
    }
    case 'nullish':
      return typeOf(expression.left, writing.scope).absent
        ? `${operand(expression.left, writing)} ?? ${operand(expression.right, writing)}`
        : js(expression.left, writing);
    case 'choose':
      return `${test(expression.test, false, writing)} ? ${js(expression.yes, writing)} : ${js(expression.no, writing)}`;
  }
}

function isNothing(expression: Expression): boolean {
  return expression.kind === 'literal' && expression.value === null;
}

function operand(expression: Expression, writing: Writing): string {
  const code = js(expression, writing);
  return expression.kind === 'name' || expression.kind === 'literal' ? code : `(${code})`;
}

/** The expression as a condition; a number counts as its text does. */
export function test(expression: Expression, negated: boolean, writing: Writing): string {
  const { kind, absent } = typeOf(expression, writing.scope);
  const code = operand(expression, writing);
  if (expression.kind === 'equal')
    return negated ? js({ ...expression, negated: !expression.negated }, writing) : js(expression, writing);
  if (kind === 'list') {
    const some = `${code}${absent ? '?.' : '.'}length`;
    return negated
      ? absent
        ? `!${some}`
        : `${some} === 0`
      : absent
        ? `${some} !== undefined && ${some} > 0`
        : `${some} > 0`;
  }
  if (kind === 'number') {
    if (!absent) return String(!negated);
    const [is, not] = writing.none === 'null' ? ['==', '!='] : ['===', '!=='];
    return `${code} ${negated ? is : not} ${writing.none}`;
  }
  return (negated ? '!' : '') + code;
}

/** True where `test` gives a boolean, so that it may stand before `&&` in markup. */
export function isBoolean(expression: Expression, { scope }: Writing): boolean {
  const { kind } = typeOf(expression, scope);
  return expression.kind === 'equal' || kind === 'flag' || kind === 'list' || kind === 'number';
}

/** The pieces of an attribute's value as one string expression. */
export function jsPieces(pieces: Piece[], writing: Writing): string {
  if (pieces.every((piece) => typeof piece === 'string')) return jsString(pieces.join(''));
  const [only] = pieces;
  if (pieces.length === 1 && typeof only === 'object' && only.kind === 'url') return writing.url(only.pieces);
  if (pieces.length === 1 && typeof only === 'object' && only.kind === 'value') return asText(only.expression, writing);
  const parts = pieces.map((piece) => {
    if (typeof piece === 'string') return inTemplate(piece);
    const code = piece.kind === 'url' ? writing.url(piece.pieces) : asText(piece.expression, writing);
    const literal = /^`([^]*)`$/.exec(code);
    return literal !== null && piece.kind === 'url' ? literal[1]! : `\${${code}}`;
  });
  return `\`${parts.join('')}\``;
}

/** The expression as a child of an element, where nothing stands for what is absent. */
export function asChild(expression: Expression, writing: Writing): string {
  const { kind } = typeOf(expression, writing.scope);
  return kind === 'flag' || kind === 'mixed' ? asText(expression, writing) : js(expression, writing);
}

/** The expression as text: '' for what is absent, and `true` and `false` spelled out. */
export function asText(expression: Expression, writing: Writing): string {
  const found: Type = typeOf(expression, writing.scope);
  const code = js(expression, writing);
  const safe = expression.kind === 'name' || expression.kind === 'literal' ? code : `(${code})`;
  if (found.kind === 'nothing') return "''";
  const text = found.absent ? `${safe} ?? ''` : code;
  return found.kind === 'flag' || found.kind === 'mixed' ? `String(${text})` : text;
}
