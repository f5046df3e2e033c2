/** Where components are used, for what changes a component and everything that uses it. */
import type { Component, Registry } from '../component/model.js';
import { usedComponent, fillingOf } from '../component/use.js';
import type { Page } from '../page/parse.js';
import { attrOf, type Element, elementsOf, type Parent } from '../page/tree.js';
import { folderOf, resolve } from '../page/url.js';

/** A project as far as components stand in it. */
export interface Site {
  pages: Page[];
  registry: Registry;
  /** texts of the stylesheets, by path */
  sheets: ReadonlyMap<string, string>;
  /** texts of the data files, by path */
  data: ReadonlyMap<string, string>;
}

/** What uses stand in: a page, or the template of a component. */
export interface Holder {
  path: string;
  source: string;
  /** the component whose template it is, undefined for a page */
  component?: Component;
}

export interface Use {
  holder: Holder;
  element: Element;
  /** name of the component that is used */
  name: string;
}

/** A site whose pages are taken one after the other: each may be let go when the next one is. */
export type PagesInTurn = { pages: Iterable<Page> } & Pick<Site, 'registry'>;

/** All uses of all components, in pages and then in templates, in document order. */
export function usesOf(site: PagesInTurn): Use[] {
  return [...eachUse(site)];
}

/** The same, one after the other. */
export function* eachUse({ pages, registry }: PagesInTurn): Generator<Use> {
  for (const page of pages) yield* usesInPage(page, registry);
  for (const component of registry.values()) yield* usesInTemplate(component, registry);
}

/** The uses that stand in a page, in document order. */
export function usesInPage(page: Page, registry: Registry): Use[] {
  return usesBelow(page.root, page as Holder, registry);
}

/** The uses that stand in a component's template, in document order. */
export function usesInTemplate(component: Component, registry: Registry): Use[] {
  const { path, source, template } = component;
  return usesBelow(template, { path, source, component }, registry);
}

function usesBelow(parent: Parent, holder: Holder, registry: Registry): Use[] {
  return elementsOf(parent).flatMap((element) => {
    const name = usedComponent(element, (each) => registry.has(each));
    return name === null ? [] : [{ holder, element, name }];
  });
}

/** The lists that a use gives as JSON, in the page or in a data file: those of one prop, or all. */
export function listsIn({ element }: Pick<Use, 'element'>, prop?: string): Element[] {
  return element.children.flatMap((child) => {
    const given = fillingOf(child);
    return given?.isList === true && (prop === undefined || given.name === prop) ? [given.element] : [];
  });
}

/** The path of the data file that a list names; null where it names none, or one outside the project. */
export function dataPathOf({ holder }: Pick<Use, 'holder'>, list: Element): string | null {
  const src = attrOf(list, 'src');
  return src === undefined ? null : resolve(src, folderOf(holder.path));
}

/** Where the JSON of a list stands. */
export interface ListJson {
  json: string;
  /** the holder of the use itself, or the data file */
  file: { path: string; source: string };
  /** offset of the JSON in that file */
  start: number;
}

/** The JSON of a list that a use gives; null where its data file is not there. */
export function jsonOf(use: Use, list: Element, data: Site['data']): ListJson | null {
  const { holder } = use;
  if (attrOf(list, 'src') === undefined) {
    const start = list.openEnd;
    return { json: holder.source.slice(start, list.closeStart), file: holder, start };
  }
  const path = dataPathOf(use, list);
  const json = path === null ? undefined : data.get(path);
  return json === undefined ? null : { json, file: { path: path!, source: json }, start: 0 };
}
