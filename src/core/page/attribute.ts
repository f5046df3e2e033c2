import type { Attr } from './tree.js';

/** The raw value of an attribute, its range in the source, and its quote ('' when unquoted or without a value). */
export function valueOf(
  source: string,
  attr: Attr,
): { raw: string; start: number; end: number; quote: '"' | "'" | '' } {
  const assigned = /^\s*=\s*/.exec(source.slice(attr.start + attr.name.length, attr.end));
  if (assigned === null) return { raw: '', start: attr.end, end: attr.end, quote: '' };
  const start = attr.start + attr.name.length + assigned[0].length;
  const first = source[start];
  if ((first === '"' || first === "'") && start < attr.end)
    return { raw: source.slice(start + 1, attr.end - 1), start: start + 1, end: attr.end - 1, quote: first };
  return { raw: source.slice(start, attr.end), start, end: attr.end, quote: '' };
}
