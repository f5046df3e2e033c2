/** The components that an expanded page is made of, each with where it came from and what it was given. */
import { type Place } from '../errors.js';
import { firstNotBefore } from '../search.js';
import { parsePage, type Page, placeAt } from '../page/parse.js';
import { type Element, elementsOf } from '../page/tree.js';
import type { PropType } from '../page/prop.js';
import type { Expanded, Extent } from './expand.js';
import { type Datum, isSpelled } from './expression.js';
import type { Component, Registry } from './model.js';

/** One component where it stands in a page, in a template that is used there, or in what is poured into another. */
export interface Instance {
  component: string;
  /** of its template */
  file: Place;
  /** of the use that it came out of */
  use: Place;
  /** number of the instance around it; null where it stands in the page itself */
  within: number | null;
  /** UTF-16 offsets into the expanded page of the start tags of its outermost elements, in order */
  roots: number[];
  props: InstanceProp[];
  slots: InstanceSlot[];
}

export interface InstanceProp {
  name: string;
  type: PropType;
  /** null for none */
  value: string | null;
  /** null for none */
  default: string | null;
}

export interface InstanceSlot {
  /** '' for the default one */
  name: string;
  /** whether the use gives it anything, or its fallback stands there */
  filled: boolean;
}

/**
 * @param page as it stands on disk
 * @param expanded what it expands to
 * @returns all instances, each before those in it
 */
export function instancesOn(
  page: Page,
  { text, extents }: Pick<Expanded, 'text' | 'extents'>,
  registry: Registry,
): Instance[] {
  const holders = new Map<string, { path: string; source: string }>(
    [...registry.values()].map((each) => [each.path, each]),
  );
  holders.set(page.path, page);
  const roots = rootsOf(extents, elementsOf(parsePage(page.path, text).root));
  return extents.map((extent, i) => {
    const component = registry.get(extent.component)!;
    return {
      component: component.name,
      file: placeAt(component, component.template.start),
      use: placeAt(holders.get(extent.use.path)!, extent.use.start),
      within: withinOf(i, extents),
      roots: roots[i]!,
      props: propsOf(component, extent),
      slots: [...component.slots].map((name) => ({
        name,
        filled: extent.poured.some(({ slot, start, end }) => slot === name && start < end),
      })),
    };
  });
}

/** Number of the innermost extent around another, by its number; null where none is. */
function withinOf(own: number, extents: readonly Extent[]): number | null {
  const { start, end } = extents[own]!;
  // those around come first
  for (let i = own - 1; i >= 0; i--) if (extents[i]!.start <= start && end <= extents[i]!.end) return i;
  return null;
}

/** The start tags of the outermost elements in each extent. */
function rootsOf(extents: readonly Extent[], elements: readonly Element[]): number[][] {
  const written = elements.map((element, at) => ({ element, at })).filter(({ element }) => element.start >= 0);
  written.sort((a, b) => a.element.start - b.element.start);
  const first = (offset: number) => firstNotBefore(written, ({ element }) => element.start < offset);
  return extents.map(({ start, end }) => {
    const isInside = (element: Element) => element.start >= start && element.end <= end;
    const roots = written.slice(first(start), first(end)).filter(({ element }) => {
      const { parent } = element;
      return isInside(element) && !(parent?.kind === 'element' && parent.start >= 0 && isInside(parent));
    });
    return roots.sort((a, b) => a.at - b.at).map(({ element }) => element.start);
  });
}

function propsOf(component: Component, { values }: Extent): InstanceProp[] {
  return Array.from(component.ownProps, ([variable, prop]) => ({
    name: prop.name,
    type: prop.type,
    value: textOf(values.get(variable) ?? null),
    default: prop.default?.value ?? null,
  }));
}

/** A value as one text; null for none. */
function textOf(value: Datum): string | null {
  if (value === null) return null;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return `${value.length} ${value.length === 1 ? 'record' : 'records'}`;
  return isSpelled(value) ? value.value : null;
}
