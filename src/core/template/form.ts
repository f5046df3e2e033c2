/** Which of its two forms a use takes in a place. */
import { attrOf, type Element, type Parent } from '../page/tree.js';
import type { SlotPattern } from './pattern.js';

/** Where the parser would throw an unknown tag out, or the content model has no room for one. */
const TEMPLATE_FORM = new Set(
  'table thead tbody tfoot tr colgroup select optgroup datalist ul ol menu dl head picture video audio ruby frameset'.split(
    ' ',
  ),
);

/** True when a use in place of `element` takes the `template` form; so does one whose slots hold what only such parents take. */
export function needsTemplateForm(element: Element, slots: SlotPattern[] = []): boolean {
  const bound = (parent: Parent | null) => parent?.kind === 'element' && TEMPLATE_FORM.has(parent.tag);
  return (
    bound(element.parent) || slots.some(({ around, nodes }) => bound(nodes.includes(around) ? around.parent : around))
  );
}

/** True for an element that is a use already. */
export function isUse(element: Element, isComponent: (name: string) => boolean): boolean {
  return isComponent(element.tag) || (element.tag === 'template' && attrOf(element, 'use') !== undefined);
}
