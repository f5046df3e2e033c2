/** What components there are, where they are used, and what each use was given. */
import type { Component, Prop } from '../component/model.js';
import { contentEnd } from '../component/parts.js';
import { valueOf } from '../page/attribute.js';
import { lineCount, type Page, placeAt } from '../page/parse.js';
import { decodeAttribute } from '../page/spelling.js';
import { attrOf, type Element, elementsOf } from '../page/tree.js';
import type { Place } from '../errors.js';
import { addTo } from '../groups.js';
import { majorityOf } from '../majority.js';
import { eachUse, jsonOf, listsIn, type PagesInTurn, type Site, type Use, usesInPage, usesInTemplate } from './uses.js';
import { fillingOf } from '../component/use.js';

/** A component and how much it is used. */
export interface RosterEntry {
  component: Component;
  /** uses that stand in pages, and those in the templates of others */
  uses: { inPages: number; inComponents: number };
  /** paths of the pages that it takes part in, through others too */
  pages: string[];
  /** names of the components whose templates use it */
  usedIn: string[];
  /** lines of its file */
  lines: number;
}

/** What a use gives a prop or a slot. */
export type Given =
  | { kind: 'value'; text: string }
  /** a list in the page or in a data file; null where it cannot be read */
  | { kind: 'records'; count: number | null }
  | { kind: 'flag'; value: boolean }
  /** markup that is poured in */
  | { kind: 'markup'; text: string }
  /** nothing, and the default stands for it */
  | { kind: 'default'; text: string }
  | { kind: 'none' };

/** One use, with what it gives each prop and slot, in the order of the columns. */
export interface UseRow {
  place: Place;
  /** the component in whose template it stands, null in a page */
  within: string | null;
  given: Given[];
  /** for each column, whether most uses are given something else */
  odd: boolean[];
}

export interface Column {
  name: string;
  kind: 'prop' | 'slot';
}

export interface UseTable {
  columns: Column[];
  /** uses in pages first, in the order of paths and places */
  rows: UseRow[];
}

/**
 * All components by name.
 * @param partsOf names of the components that take part in a page
 */
export function rosterOf(
  { pages, registry }: PagesInTurn,
  partsOf: (page: Page) => ReadonlySet<string>,
): RosterEntry[] {
  const inPages = new Map<string, number>();
  const pathsOf = new Map<string, string[]>();
  for (const page of pages) {
    for (const name of partsOf(page)) addTo(pathsOf, name, page.path);
    for (const { name } of usesInPage(page, registry)) inPages.set(name, (inPages.get(name) ?? 0) + 1);
  }
  /** for each component the names of those whose templates use it, once a use */
  const usersOf = new Map<string, string[]>();
  for (const user of registry.values())
    for (const { name } of usesInTemplate(user, registry)) addTo(usersOf, name, user.name);
  return [...registry.values()]
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .map((component) => {
      const users = usersOf.get(component.name) ?? [];
      return {
        component,
        uses: { inPages: inPages.get(component.name) ?? 0, inComponents: users.length },
        pages: pathsOf.get(component.name) ?? [],
        usedIn: [...new Set(users)].sort(),
        lines: lineCount(component),
      };
    });
}

/**
 * The uses of a component side by side.
 * @param uses its own among them; all of the site, unless they are known already
 */
export function useTable(
  site: PagesInTurn & Pick<Site, 'data'>,
  component: Component,
  uses: Iterable<Use> = eachUse(site),
): UseTable {
  const props = [...component.ownProps.values()];
  const columns: Column[] = [
    ...props.map(({ name }): Column => ({ name, kind: 'prop' })),
    ...[...component.slots].map((name): Column => ({ name, kind: 'slot' })),
  ];
  const fallbacks = fallbacksOf(component);
  const rowOf = (use: Use): Omit<UseRow, 'odd'> => ({
    place: placeAt(use.holder, use.element.start),
    within: use.holder.component?.name ?? null,
    given: [
      ...props.map((prop) => givenTo(use, prop, site)),
      ...[...component.slots].map((slot) => pouredInto(use, slot, fallbacks.get(slot) ?? '')),
    ],
  });
  const rows: Omit<UseRow, 'odd'>[] = [];
  for (const use of uses) if (use.name === component.name) rows.push(rowOf(use));
  const usual = columns.map((_, i) => majorityOf(rows.map(({ given }) => keyOf(given[i]!)))?.text);
  return {
    columns,
    rows: rows.map((row) => ({
      ...row,
      odd: row.given.map((each, i) => usual[i] !== undefined && keyOf(each) !== usual[i]),
    })),
  };
}

/** A value as one text, to be compared. */
export function keyOf(given: Given): string {
  switch (given.kind) {
    case 'value':
    case 'default':
      return given.text;
    case 'records':
      return `${given.count ?? '?'} records`;
    case 'flag':
      return given.value ? 'yes' : 'no';
    case 'markup':
      return given.text === '' ? 'none' : 'markup';
    case 'none':
      return 'none';
  }
}

function givenTo(use: Use, prop: Prop, { data }: Pick<Site, 'data'>): Given {
  const { holder, element } = use;
  const attr = element.attrs.find(({ name, start }) => name === prop.name && start >= 0);
  const text = attr === undefined ? null : decodeAttribute(valueOf(holder.source, attr).raw);
  if (prop.type === 'flag' && !text?.includes('{{')) return { kind: 'flag', value: text !== null && text !== 'false' };
  if (text !== null) return { kind: 'value', text };
  const [list] = prop.type === 'list' ? listsIn(use, prop.name) : [];
  if (list !== undefined) return { kind: 'records', count: recordsIn(jsonOf(use, list, data)?.json ?? '') };
  return prop.default === null ? { kind: 'none' } : { kind: 'default', text: prop.default.value };
}

function recordsIn(json: string): number | null {
  try {
    const records = JSON.parse(json) as unknown;
    return Array.isArray(records) ? records.length : null;
  } catch {
    return null;
  }
}

/** What stands in each slot where nothing is poured in. */
function fallbacksOf({ template, source }: Component): Map<string, string> {
  const slots = elementsOf(template).filter(({ tag }) => tag === 'slot');
  const textOf = (slot: Element) => source.slice(slot.openEnd, contentEnd(slot)).trim();
  return new Map(slots.map((slot) => [attrOf(slot, 'name') ?? '', textOf(slot)]));
}

/** What a use pours into a slot, as it stands there; `fallback` stands there otherwise. */
function pouredInto({ holder, element }: Use, slot: string, fallback: string): Given {
  const { source } = holder;
  const given = element.children.flatMap((child) => fillingOf(child) ?? []);
  const named = given.find(({ name, isList }) => !isList && name === slot)?.element;
  const rest = element.children.filter((child) => fillingOf(child) === null);
  const text =
    slot === ''
      ? rest.map(({ start, end }) => source.slice(start, end)).join('')
      : named === undefined
        ? ''
        : source.slice(named.openEnd, contentEnd(named));
  if (text.trim() !== '') return { kind: 'markup', text: text.trim() };
  // white space beside what fills other slots is nothing
  const isGiven = slot === '' ? text !== '' && given.length === 0 : named !== undefined;
  return isGiven || fallback === '' ? { kind: 'none' } : { kind: 'default', text: fallback };
}
