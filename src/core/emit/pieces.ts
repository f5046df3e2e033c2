/** Pieces of attribute values. */
import type { Piece } from './model.js';

/** The value, where nothing in it varies; else null. */
export function plainText(pieces: Piece[]): string | null {
  return pieces.every((piece) => typeof piece === 'string') ? pieces.join('') : null;
}

/** An attribute that JSX runtimes keep to themselves: of some elements `value` is what the user changes, and no attribute. */
export function isKept(tag: string, name: string): boolean {
  return /^(key|ref|children)$/.test(name) || (name === 'value' && /^(textarea|select)$/.test(tag));
}

/** A name that no runtime and no browser sets: it holds white space, quotes or the like. */
export function isUnsafe(name: string): boolean {
  // eslint-disable-next-line no-control-regex
  return /[\s/='"<>\u0000-\u001f]/.test(name);
}
