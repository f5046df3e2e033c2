/** What is known of attributes: how they are spelled, and whether they are flags. */
import { find, html, type Info, svg } from 'property-information';
import type { ElementNode } from './model.js';

/**
 * What the tables say of an attribute of an element; nothing of one that is called as JSX calls another, such as `htmlfor`.
 * @param name as the attribute is spelled, or as JSX spells it in a drawing
 */
export function infoOf({ space }: Pick<ElementNode, 'space'>, name: string): Info | undefined {
  // the library would find what every object has, such as `constructor`
  if (name.toLowerCase() in {}) return undefined;
  return find(space === 'svg' ? svg : html, name);
}
