/** The text of a `style` attribute as the object that JSX runtimes take (CSSOM, "CSS property to IDL attribute"). */
import { readDeclarations } from '../../style/syntax.js';
import { MARK, markedText, partsOfMarked } from '../../page/url.js';
import type { Piece } from '../model.js';
import { jsKey } from './strings.js';

export interface StyleObject {
  /** the object literal */
  code: string;
  /** what an object cannot say, a sentence each */
  lost: string[];
}

/** Null where the pieces are no list of declarations, for a value says more than one of them. */
export function styleObject(pieces: Piece[], valueOf: (pieces: Piece[]) => string): StyleObject | null {
  const values = pieces.filter((piece) => typeof piece !== 'string');
  const marked = markedText(pieces);
  const declarations = readDeclarations(marked);
  const kept = declarations.map(({ property, value }) => `${property}:${value};`).join('');
  const count = (text: string) => text.split(MARK).length;
  if (count(kept) !== count(marked) || declarations.some(({ property }) => property.includes(MARK))) return null;
  const lost: string[] = [];
  const entries = new Map<string, string>();
  for (const { property, value, important } of declarations) {
    const key = jsKey(propertyKey(property));
    const parts = partsOfMarked(value, values);
    if (entries.has(key)) lost.push(`${property} stands twice, and an object holds it once: the last one stays`);
    if (important) lost.push(`${property} is !important, which runtimes leave out when they set it in the browser`);
    entries.delete(key);
    entries.set(key, valueOf(important ? [...parts, ' !important'] : parts));
  }
  return { code: `{ ${[...entries].map(([key, code]) => `${key}: ${code}`).join(', ')} }`, lost };
}

/** `-webkit-box-flex` is `WebkitBoxFlex`, `-ms-flex` is `msFlex`, and a custom property stays as it is. */
function propertyKey(property: string): string {
  if (property.startsWith('--')) return property;
  return property.replace(/^-ms-/, 'ms-').replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
}
