/** Where a slot may stand, and which of its two forms a use takes in a place. */
import { RUN } from '../fragments/occurrence.js';
import { attrOf, type Element, HTML, type Parent, RAW_TEXT } from '../page/tree.js';
import type { Poured } from './pattern.js';

/** Where the parser would throw an unknown tag out, or the content model has no room for one. */
const TEMPLATE_FORM = new Set(
  'table thead tbody tfoot tr colgroup select optgroup datalist ul ol menu dl head picture video audio ruby frameset'.split(
    ' ',
  ),
);

/**
 * True when a use in place of `element` takes the `template` form; so does one whose slots hold what only such parents
 * take, or what would close a paragraph that the tag of the use leaves open.
 */
export function needsTemplateForm(element: Element, slots: Poured[] = []): boolean {
  const bound = (parent: Parent | null) => parent?.kind === 'element' && TEMPLATE_FORM.has(parent.tag);
  return (
    bound(element.parent) ||
    slots.some(({ around, nodes }) => bound(nodes.includes(around) ? around.parent : around)) ||
    (slots.length > 0 && followsOpenParagraph(element))
  );
}

/** True where a paragraph before it has no end tag, and may be closed by nothing but tags that uses stand for. */
function followsOpenParagraph(element: Element): boolean {
  const first = element.tag === RUN ? element.children[0] : element;
  for (const node of element.parent!.children) {
    if (node === first) return false;
    if (node.kind === 'element' && node.tag === 'p' && node.start >= 0 && node.closeStart < 0) return true;
  }
  return false;
}

/** True for an element that is a use already. */
export function isUse(element: Element, isComponent: (name: string) => boolean): boolean {
  return isComponent(element.tag) || (element.tag === 'template' && attrOf(element, 'use') !== undefined);
}

/** Where the parser would throw a slot out, or take it as text. */
const NO_SLOT = new Set(
  'table thead tbody tfoot tr colgroup select optgroup option title textarea html head frameset'.split(' '),
);

/** True where a slot may stand among the children of `parent`. */
export function takesSlot(parent: Element): boolean {
  if (parent.tag === RUN) return parent.parent?.kind !== 'element' || takesSlot(parent.parent);
  return parent.ns === HTML && !NO_SLOT.has(parent.tag) && !RAW_TEXT.has(parent.tag);
}
