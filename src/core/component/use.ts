/** What a use of a component is, and what stands in it. */
import { attrOf, type Child, type Element, HTML } from '../page/tree.js';

/** The component that an element is a use of, or null. */
export function usedComponent(element: Element, isComponent: (name: string) => boolean): string | null {
  const name = element.tag === 'template' ? attrOf(element, 'use') : element.tag;
  return name !== undefined && element.ns === HTML && isComponent(name) ? name : null;
}

export function isJson(element: Element): boolean {
  return element.tag === 'script' && attrOf(element, 'type') === 'application/json';
}

/** The slot or the list that a child of a use gives, by name, with the element that holds it; null for content of the default slot. */
export function fillingOf(child: Child): { name: string; isList: boolean; element: Element } | null {
  const name = child.kind === 'element' ? attrOf(child, 'slot') : undefined;
  if (child.kind !== 'element' || name === undefined) return null;
  return child.tag === 'template' || isJson(child) ? { name, isList: child.tag !== 'template', element: child } : null;
}
