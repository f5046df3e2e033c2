/**
 * Renaming a component, a prop or a slot wherever it is spoken of: in the component file, in uses on pages and in templates,
 * in lists, and in the markers of stylesheets. All else stays to the byte, and so does all that the pages expand to.
 */
import { type Node, parseTree } from 'jsonc-parser';
import { camelName } from '../component/expression.js';
import type { Component } from '../component/model.js';
import { isJson } from '../component/parts.js';
import { suggestion } from '../component/problems.js';
import { impossiblePropName, refuseComponentName, sameInCode } from '../component/names.js';
import { bodyOf } from '../component/read.js';
import { Problem } from '../errors.js';
import { valueOf } from '../page/attribute.js';
import { type Edit, withEdits } from '../page/edits.js';
import { placeAt } from '../page/parse.js';
import { GLOBAL_ATTRIBUTES } from '../page/prop.js';
import { type Attr, attrOf, type Element, elementsOf } from '../page/tree.js';
import { markersIn } from '../style/sheet.js';
import { propName, renamedInTemplate } from './names.js';
import { jsonOf, listsIn, type Site, type Use, usesOf } from './uses.js';

/** What changes: new texts by path, and files that get another path. */
export interface Change {
  texts: ReadonlyMap<string, string>;
  /** by the path before */
  moved: ReadonlyMap<string, string>;
}

/** Edits by path, with the text that they are made in. */
type Edits = Map<string, { source: string; edits: Edit[] }>;

function changeOf(edits: Edits, moved: Change['moved'] = new Map()): Change {
  return { texts: new Map([...edits].map(([path, each]) => [path, withEdits(each.source, each.edits)])), moved };
}

function note(edits: Edits, { path, source }: { path: string; source: string }, ...more: Edit[]): void {
  if (more.length === 0) return;
  const each = edits.get(path) ?? { source, edits: [] };
  each.edits.push(...more);
  edits.set(path, each);
}

/**
 * @param taken names that no component may have
 * @throws Problem (exit 2) where the name cannot be had
 */
export function renameComponent(site: Site, component: Component, to: string, taken: ReadonlySet<string>): Change {
  const { name: from, path } = component;
  refuseComponentName(to, taken, 'choose another one');
  const edits: Edits = new Map();
  note(edits, component, valueEdit(component.source, component.template, 'component', to));
  for (const { holder, element, name } of usesOf(site)) {
    if (name !== from) continue;
    if (element.tag === 'template') {
      note(edits, holder, valueEdit(holder.source, element, 'use', to));
      continue;
    }
    const tags = [element.start + 1, ...(element.closeStart < 0 ? [] : [element.closeStart + 2])];
    note(edits, holder, ...tags.map((start) => ({ start, end: start + from.length, text: to })));
  }
  for (const [sheet, source] of site.sheets)
    for (const marker of markersIn(source)) {
      const start = source.indexOf(from, marker.start + '@component'.length);
      if (marker.name === from) note(edits, { path: sheet, source }, { start, end: start + from.length, text: to });
    }
  return changeOf(edits, new Map([[path, path.replace(/[^/]*$/, `${to}.html`)]]));
}

/**
 * @param from as it is declared: the name of a prop, or `list.field`
 * @param to the name alone
 * @throws Problem (exit 2) where there is none, or the name cannot be had
 */
export function renameProp(site: Site, component: Component, from: string, to: string): Change {
  const { prop, field } = propName(from);
  const edits: Edits = new Map();
  const uses = usesOf(site);
  if (field === null) renameOwn(edits, uses, component, prop, to);
  // records that are passed on have the same fields in all components that they come through
  else
    for (const list of sameLists(site, uses, { component, prop }))
      renameField(edits, site, uses, list, { from: field, to });
  return changeOf(edits);
}

function renameOwn(edits: Edits, uses: Use[], component: Component, from: string, to: string): void {
  const { source, template } = component;
  refusePropName(component, from, to);
  note(edits, component, valueEdit(source, metaOf(component, from), 'prop', to));
  for (const meta of template.children) {
    const name = meta.kind === 'element' && meta.tag === 'meta' ? attrOf(meta, 'prop') : undefined;
    if (name?.startsWith(`${from}.`) === true)
      note(edits, component, valueEdit(source, meta as Element, 'prop', `${to}${name.slice(from.length)}`));
  }
  note(edits, component, ...renamedInTemplate(component, { prop: from, field: null }, to));
  for (const use of uses.filter(({ name }) => name === component.name)) {
    const given = givenIn(use, from);
    if (given !== undefined) note(edits, use.holder, { start: given.start, end: given.start + from.length, text: to });
    for (const list of listsIn(use, from)) note(edits, use.holder, valueEdit(use.holder.source, list, 'slot', to));
  }
}

/** A list prop of a component. */
interface ListProp {
  component: Component;
  prop: string;
}

function renameField(
  edits: Edits,
  site: Site,
  uses: Use[],
  { component, prop }: ListProp,
  { from, to }: { from: string; to: string },
): void {
  refusePropName(component, `${prop}.${from}`, `${prop}.${to}`);
  note(edits, component, valueEdit(component.source, metaOf(component, `${prop}.${from}`), 'prop', `${prop}.${to}`));
  note(edits, component, ...renamedInTemplate(component, { prop, field: from }, to));
  for (const use of uses.filter(({ name }) => name === component.name))
    for (const list of listsIn(use, prop)) renameKeys(edits, site, use, list, { from, to });
}

/** The list, and those of other components that it is passed on to or comes from. */
function sameLists({ registry }: Site, uses: Use[], list: ListProp): ListProp[] {
  const found: ListProp[] = [list];
  const add = (more: ListProp) => {
    if (!found.some((each) => each.component === more.component && each.prop === more.prop)) found.push(more);
  };
  const passed = uses.flatMap(({ holder, element, name }) =>
    element.attrs.flatMap((attr) => {
      const [, given] = /^\{\{\s*(\w+)\s*\}\}$/.exec(attr.value) ?? [];
      const from = holder.component?.props.find((prop) => camelName(prop.name) === given && prop.type === 'list');
      return from === undefined
        ? []
        : [
            {
              from: { component: holder.component!, prop: from.name },
              to: { component: registry.get(name)!, prop: attr.name },
            },
          ];
    }),
  );
  // grows while it is gone through
  for (const { component, prop } of found)
    for (const { from, to } of passed) {
      if (from.component === component && from.prop === prop) add(to);
      if (to.component === component && to.prop === prop) add(from);
    }
  return found;
}

function givenIn({ element }: Use, prop: string): Attr | undefined {
  return element.attrs.find(({ name, start }) => name === prop && start >= 0);
}

/** @throws Problem (exit 2) where there is no such slot, or the name cannot be had */
export function renameSlot(site: Site, component: Component, from: string, to: string): Change {
  const named = [...component.slots].filter((name) => name !== '');
  if (from === '' || !component.slots.has(from))
    throw new Problem(
      from === '' ? 'the default slot has no name to change' : `${component.name} has no slot ${from}`,
      { hint: suggestion(from, named, 'its slots') },
    );
  if (!/^[a-z][a-z0-9]*(-[a-z0-9]+)*$/.test(to))
    throw new Problem(`"${to}" cannot be the name of a slot`, {
      hint: 'small letters and digits, with hyphens between',
    });
  const twin = component.props.find(({ name, type }) => name === to && type === 'list');
  if (component.slots.has(to) || twin !== undefined)
    throw new Problem(`${component.name} has a ${twin === undefined ? 'slot' : 'list'} ${to} already`, {
      hint: 'choose another name',
    });
  const edits: Edits = new Map();
  for (const slot of bodyOf(component).flatMap(elementsOf))
    if (slot.tag === 'slot' && attrOf(slot, 'name') === from)
      note(edits, component, valueEdit(component.source, slot, 'name', to));
  for (const { holder, element, name } of usesOf(site))
    for (const child of name === component.name ? element.children : [])
      if (child.kind === 'element' && child.tag === 'template' && attrOf(child, 'slot') === from)
        note(edits, holder, valueEdit(holder.source, child, 'slot', to));
  return changeOf(edits);
}

/** Another value for an attribute that is there, with the quotes that it has. */
function valueEdit(source: string, element: Element, name: string, text: string): Edit {
  const { start, end } = valueOf(
    source,
    element.attrs.find((attr) => attr.name === name)!,
  );
  return { start, end, text };
}

/** The `meta` that declares a prop. @throws Problem (exit 2) that names the near one */
function metaOf(component: Component, name: string): Element {
  const found = component.template.children.find(
    (child): child is Element => child.kind === 'element' && child.tag === 'meta' && attrOf(child, 'prop') === name,
  );
  if (found !== undefined) return found;
  throw new Problem(`${component.name} has no prop ${name}`, {
    hint: suggestion(
      name,
      component.props.map((each) => each.name),
      'its props',
    ),
  });
}

/** @throws Problem (exit 2) where a prop cannot be called so */
function refusePropName({ name, props }: Component, from: string, to: string): void {
  const own = to.replace(/^.*\./, '');
  if (!/^[a-z][a-z0-9]*(-[a-z0-9]+)*$/.test(own) || GLOBAL_ATTRIBUTES.has(own)) throw impossiblePropName(own);
  const twin = props.find((each) => each.name !== from && sameInCode(each.name, to));
  if (twin !== undefined) throw new Problem(`${name} has a prop ${twin.name} already`, { hint: 'choose another name' });
}

/** Renames a field in all records of a list, in the page or in the data file that it is kept in. */
function renameKeys(
  edits: Edits,
  { data }: Site,
  use: Use,
  list: Element,
  { from: field, to }: { from: string; to: string },
): void {
  const found = jsonOf(use, list, data);
  // a file that several uses name is changed once
  if (found === null || (found.file !== use.holder && edits.has(found.file.path))) return;
  const { json, file, start: from } = found;
  const records = parseTree(json)?.children ?? [];
  const keys = records.flatMap((record: Node) => (record.type === 'object' ? (record.children ?? []) : []));
  for (const property of keys) {
    const key = property.children![0]!;
    const written = String(key.value);
    if (camelName(written) !== camelName(field)) continue;
    const start = from + key.offset;
    const text = JSON.stringify(written === field ? to : camelName(to));
    note(edits, file, { start, end: start + key.length, text });
  }
}

/** A place that names a component in a way that cannot be followed. */
export interface Mention {
  path: string;
  line: number;
  column: number;
}

/**
 * Where scripts and stylesheets speak of a tag: by a name that is no class, no id and no part of a longer one.
 * @param texts of scripts and stylesheets, by path
 */
export function mentionsOf(tag: string, site: Site, texts: ReadonlyMap<string, string>): Mention[] {
  const named = new RegExp(`(?<![\\w.#/-])(?<!@component\\s+)${tag.replaceAll('.', '\\.')}(?![\\w-])`, 'g');
  const found = (holder: { path: string; source: string }, from: number, to: number) =>
    [...holder.source.slice(from, to).matchAll(named)].map(({ index }) => placeAt(holder, from + index));
  const inPages = [...site.pages, ...site.registry.values()].flatMap((holder) => {
    const root = 'root' in holder ? holder.root : holder.template;
    const scripts = elementsOf(root).filter((each) => each.tag === 'script' && !isJson(each));
    return scripts.flatMap((script) => found(holder, script.openEnd, script.closeStart));
  });
  return [...inPages, ...[...texts].flatMap(([path, source]) => found({ path, source }, 0, source.length))];
}
