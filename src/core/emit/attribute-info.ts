/** What is known of attributes: how they are spelled, and whether they are flags. */
import { find, html, type Info, svg } from 'property-information';
import type { ElementNode } from './model.js';

/**
 * What the tables say of an attribute of an element; of one that they do not know, its name alone.
 * @param name as the attribute is spelled, or as JSX spells it
 * @returns undefined for what every object has by that name
 */
export function infoOf({ space }: Pick<ElementNode, 'space'>, name: string): Info | undefined {
  // the library looks up names such as `constructor` in plain objects
  if (name.toLowerCase() in {}) return undefined;
  return find(space === 'svg' ? svg : html, name);
}
