import { isSpace } from './space.js';
import type { Attr } from './tree.js';

/** The raw value of an attribute, its range in the source, and its quote ('' when unquoted or without a value). */
export function valueOf(
  source: string,
  attr: Attr,
): { raw: string; start: number; end: number; quote: '"' | "'" | '' } {
  let equals = attr.start + attr.name.length;
  while (equals < attr.end && isSpace(source.charCodeAt(equals))) equals++;
  if (equals >= attr.end || source[equals] !== '=') return { raw: '', start: attr.end, end: attr.end, quote: '' };
  let start = equals + 1;
  while (start < attr.end && isSpace(source.charCodeAt(start))) start++;
  const first = source[start];
  if ((first === '"' || first === "'") && start < attr.end)
    return { raw: source.slice(start + 1, attr.end - 1), start: start + 1, end: attr.end - 1, quote: first };
  return { raw: source.slice(start, attr.end), start, end: attr.end, quote: '' };
}
