/** Where components are used, for what changes a component and everything that uses it. */
import type { Component, Registry } from '../component/model.js';
import { usedComponent } from '../component/parts.js';
import type { Page } from '../page/parse.js';
import { type Element, elementsOf } from '../page/tree.js';

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

/** All uses of all components, in pages and then in templates, in document order. */
export function usesOf({ pages, registry }: Pick<Site, 'pages' | 'registry'>): Use[] {
  const holders = [
    ...pages.map((page) => ({ holder: page as Holder, root: page.root })),
    ...[...registry.values()].map((component) => ({
      holder: { path: component.path, source: component.source, component },
      root: component.template,
    })),
  ];
  return holders.flatMap(({ holder, root }) =>
    elementsOf(root).flatMap((element) => {
      const name = usedComponent(element, (each) => registry.has(each));
      return name === null ? [] : [{ holder, element, name }];
    }),
  );
}
