/**
 * Renaming a component, a prop or a slot wherever it is spoken of: in the component file, in uses on pages and in templates,
 * in lists, and in the markers of stylesheets. All else stays to the byte, and so does all that the pages expand to.
 */
import { type Node, parseTree } from 'jsonc-parser';
import { camelName } from '../component/expression.js';
import type { Component } from '../component/model.js';
import { suggestion } from '../component/problems.js';
import { impossiblePropName, refuseComponentName, sameInCode } from '../component/names.js';
import { fileNameOf, inFileCase, namingOf } from '../component/file-names.js';
import { bodyOf } from '../component/read.js';
import { Problem } from '../errors.js';
import { GLOBAL_ATTRIBUTES } from '../page/prop.js';
import { type Attr, attrOf, type Element, elementsOf } from '../page/tree.js';
import { markersIn } from '../style/sheet.js';
import { type Change, changeOf, type Edits, note, valueEdit } from './change.js';
import { noteMoves } from './move.js';
import { metaOf } from './meta.js';
import { propName, renamedInTemplate } from './names.js';
import { jsonOf, listsIn, type Site, type Use, usesOf } from './uses.js';
import { fillingOf } from '../component/use.js';

/**
 * @param taken names that no component may have
 * @throws Problem (exit 2) where the name cannot be had
 */
export function renameComponent(site: Site, component: Component, to: string, taken: ReadonlySet<string>): Change {
  const { name: from } = component;
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
  const moved = renamedFiles(site, component, to);
  noteMoves(edits, site, moved);
  return changeOf(edits, moved);
}

/** Files that have a component's name, or stand in a folder that has it, by the path before. */
function renamedFiles({ registry, data }: Site, { name, path }: Component, to: string): Map<string, string> {
  const naming = namingOf(path, name);
  const [folder, fresh] = [name, to].map((each) => inFileCase(each, naming.fileCase));
  const inFolders = (each: string) =>
    each.replace(/[^/]*\//g, (segment) => (segment === `${folder!}/` ? `${fresh!}/` : segment));
  const paths = [...[...registry.values()].map((each) => each.path), ...data.keys()];
  const moved = new Map(paths.map((each) => [each, inFolders(each)]));
  moved.set(path, moved.get(path)!.replace(/[^/]*$/, fileNameOf(to, naming)));
  return new Map([...moved].filter(([before, after]) => before !== after));
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
    for (const child of name === component.name ? element.children : []) {
      const given = fillingOf(child);
      if (given?.isList === false && given.name === from)
        note(edits, holder, valueEdit(holder.source, given.element, 'slot', to));
    }
  return changeOf(edits);
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
