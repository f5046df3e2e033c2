/** Source with placeholders, as stretches of it and expressions. */
import { Problem, shownValue } from '../errors.js';
import { type Page, placeAt } from '../page/parse.js';
import { decodeAttribute, decodeText } from '../page/spelling.js';
import type { Attr } from '../page/tree.js';
import { type Expression, parseExpression } from './expression.js';

/** An expression as it stands in a file; the offset is in UTF-16 units. */
export type Placed = Expression & { offset: number };

/** A stretch of an attribute value: raw source, or an expression. */
export type Segment = string | Placed;

/** Where source stands that is read. */
export interface Reading {
  page: Pick<Page, 'path' | 'source'>;
  /** true in a component's template: placeholders mean something */
  template: boolean;
}

export function expressionOf(attr: Attr, reading: Reading): Placed {
  return parseAt(attr.value, attr.start, reading);
}

function parseAt(source: string, offset: number, reading: Reading): Placed {
  try {
    return { ...parseExpression(source), offset };
  } catch (error) {
    throw new Problem(`the expression "${shownValue(source.trim())}" cannot be read: ${(error as Error).message}`, {
      place: placeAt(reading.page, offset),
      hint: 'an expression may hold names, a.b, "text", true, false, null, ===, !==, ?? and ?:',
    });
  }
}

/** A placeholder with its expression; quotes may hold braces. */
export const PLACEHOLDER = /\{\{((?:"[^"]*"|'[^']*'|(?!\}\})[^"'])*)\}\}/g;

export function segmentsOf(raw: string, offset: number, kind: 'text' | 'attribute', reading: Reading): Segment[] {
  if (!reading.template || !raw.includes('{{')) return [raw];
  const segments: Segment[] = [];
  let at = 0;
  const literal = (to: number) => {
    const text = raw.slice(at, to);
    const open = text.indexOf('{{');
    if (open >= 0)
      throw new Problem('a placeholder is not closed', {
        place: placeAt(reading.page, offset + at + open),
        hint: `close it with }}, or write a literal {{ as {{"{{"}}`,
      });
    if (text !== '') segments.push(text);
  };
  for (const match of raw.matchAll(PLACEHOLDER)) {
    literal(match.index);
    const code = kind === 'text' ? decodeText(match[1]!) : decodeAttribute(match[1]!);
    segments.push(parseAt(code, offset + match.index, reading));
    at = match.index + match[0].length;
  }
  literal(raw.length);
  return segments;
}

/** True when what follows segment `i` could be taken for the rest of a character reference. */
export function joinsAfter(segments: Segment[], i: number): boolean {
  const next = segments[i + 1];
  return next !== undefined && (typeof next !== 'string' || /^[\w#;=]/.test(next));
}
