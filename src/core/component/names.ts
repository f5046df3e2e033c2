/** What components and props may be called. */
import { Problem } from '../errors.js';

/** Names with a hyphen that HTML keeps for itself (HTML standard, "valid custom element name"). */
export const RESERVED_ELEMENTS = new Set(
  'annotation-xml color-profile font-face font-face-src font-face-uri font-face-format font-face-name missing-glyph'.split(
    ' ',
  ),
);

/** True for a custom-element name as component files have them (HTML standard, in ASCII). */
export function isComponentName(name: string): boolean {
  return /^[a-z][a-z0-9]*(-[a-z0-9]+)+$/.test(name) && !RESERVED_ELEMENTS.has(name);
}

/**
 * @param taken names of components, and of tags in the pages
 * @param hint what to do where the name is taken
 * @throws Problem (exit 2) where no new component may be called so
 */
export function refuseComponentName(name: string, taken: ReadonlySet<string>, hint: string): void {
  if (!isComponentName(name))
    throw new Problem(`"${name}" cannot be the name of a component`, {
      hint: 'small letters and digits, and one hyphen at least, as in harbour-panel',
    });
  if (taken.has(name))
    throw new Problem(`"${name}" is the name of another component, or of a tag in the pages`, { hint });
}

/** What is told of a name that no prop may have. */
export function impossiblePropName(name: string): Problem {
  return new Problem(`"${name}" cannot be the name of a prop`, {
    hint: 'small letters, digits and hyphens, and no attribute that every element has, such as title or class',
  });
}

/** True for names that code would tell apart by case alone: `sailing-time` and `sailingtime`. */
export function sameInCode(one: string, other: string): boolean {
  return one.replaceAll('-', '') === other.replaceAll('-', '');
}
