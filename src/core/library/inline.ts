/** Takes a component back: its uses become what they stand for, and its styles stand in the stylesheet again. */
import { usedComponent } from '../component/use.js';
import { expandPage } from '../component/expand.js';
import type { Component, Registry } from '../component/model.js';
import type { Part } from '../component/parts.js';
import type { StayingSlot } from '../component/staying.js';
import { bodyOf, readComponents, urlKindIn } from '../component/read.js';
import { Problem } from '../errors.js';
import { placeAt } from '../page/parse.js';
import { type Element, elementsOf } from '../page/tree.js';
import { fillMarkers } from '../style/fill.js';
import type { Change } from './change.js';
import { dataOfComponents } from './move.js';
import { type Site, usesOf } from './uses.js';

/**
 * What pages and stylesheets come to without the component; other components in it stay uses.
 * @throws Problem (exit 1) where templates of others use it
 */
export function inlineComponent(site: Site, component: Component): Change {
  const { name, path } = component;
  const uses = usesOf(site).filter((use) => use.name === name);
  const within = uses.find(({ holder }) => holder.component !== undefined);
  if (within !== undefined)
    throw new Problem(`${within.holder.component!.name} uses ${name}: only what stands in pages can be taken back`, {
      exit: 1,
      place: placeAt(within.holder, within.element.start),
      hint: 'nothing was written; take that use out of the template, or take its component back first',
    });
  const alone = registryForInlining(component, site.registry);
  const using = new Set(uses.map(({ holder }) => holder.path));
  const pages = site.pages.filter((page) => using.has(page.path));
  const texts = new Map([
    ...pages.map((page) => [page.path, expandPage(page, alone).text] as const),
    ...[...site.sheets].flatMap(([sheet, text]) => {
      const filled = fillMarkers(sheet, text, alone).text;
      return filled === text ? [] : [[sheet, filled] as const];
    }),
  ]);
  const lists = [...dataOfComponents(site)].filter(([, owner]) => owner === name).map(([file]) => file);
  return { texts, moved: new Map(), removed: new Set([path, ...lists]) };
}

/** What pages are expanded with so that the uses of one component become markup, and others stay uses. */
export function registryForInlining(component: Component, registry: Registry): Registry {
  const { data, maxPageSize } = registry;
  const isUse = (element: Element) => usedComponent(element, (each) => registry.has(each)) !== null;
  const all = withThoseGivenLists(component, registry);
  const slotOf = (element: Element, slot: string) => {
    const used = registry.get(usedComponent(element, (each) => registry.has(each)) ?? '');
    return used === undefined ? null : slotIn(used.parts, slot, { component: used, registry });
  };
  return readComponents(
    all,
    { data, maxPageSize },
    { taken: component.name, isUse, urlKindOf: urlKindIn(registry), slotOf },
  );
}

/** Where a slot stands in a component, or in another one that it is poured on into; null where it is not found. */
function slotIn(
  parts: readonly Part[],
  slot: string,
  { component, registry }: { component: Component; registry: Registry },
): StayingSlot | null {
  for (const part of parts) {
    if (part.kind === 'slot' && part.name === slot) return { base: part.base, from: component.base, shows: part.shows };
    if (part.kind === 'slot' || part.kind === 'when' || part.kind === 'each') {
      const found = slotIn(part.parts, slot, { component, registry });
      if (found !== null) return found;
    }
    if (part.kind !== 'use') continue;
    for (const [inner, content] of part.slots) {
      const found = slotIn(content.parts, slot, { component, registry });
      if (found === null) continue;
      const used = registry.get(part.component)!;
      return slotIn(used.parts, inner, { component: used, registry })?.shows === true
        ? { ...found, shows: true }
        : found;
    }
  }
  return null;
}

/** The component, and those that it passes lists on to: an attribute in a page can hold none. */
function withThoseGivenLists(component: Component, registry: Registry): Component[] {
  const found = new Set([component]);
  // grows while it is gone through
  for (const each of found)
    for (const element of bodyOf(each).flatMap(elementsOf)) {
      const name = usedComponent(element, (other) => registry.has(other));
      const used = name === null ? undefined : registry.get(name)!;
      const lists = new Set(used?.props.filter(({ type }) => type === 'list').map((prop) => prop.name));
      if (used !== undefined && element.attrs.some((attr) => lists.has(attr.name))) found.add(used);
    }
  return [...found];
}
