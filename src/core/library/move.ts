/** Component files and data files in other folders: what is relative in them, and what leads to them, follows. */
import type { Component } from '../component/model.js';
import { PLACEHOLDER } from '../component/segments.js';
import { bodyOf, urlKindIn } from '../component/read.js';
import { Problem } from '../errors.js';
import { valueOf } from '../page/attribute.js';
import type { Edit } from '../page/edits.js';
import { placeAt } from '../page/parse.js';
import { elementsOf } from '../page/tree.js';
import { folderOf, markedText, partsOfMarked, relativise, templateUrls, type UrlKind } from '../page/url.js';
import { type Edits, note, valueEdit } from './change.js';
import { dataPathOf, listsIn, type Site, usesOf } from './uses.js';

/**
 * Notes the edits that files need for standing elsewhere: relative URLs in templates and styles, and the paths of data files.
 * @param moved component files and data files that get another path, by the path before
 * @throws Problem (exit 1) where a URL would mean something else from there
 */
export function noteMoves(edits: Edits, site: Site, moved: ReadonlyMap<string, string>): void {
  const placeOf = (path: string) => moved.get(path) ?? path;
  const { registry } = site;
  const urlKindOf = urlKindIn(registry);
  for (const component of registry.values()) {
    const [from, to] = [folderOf(component.path), folderOf(placeOf(component.path))];
    if (from === to) continue;
    const { source, style } = component;
    const move = (start: number, end: number, kind: UrlKind) =>
      note(edits, component, ...movedUrls(component, { start, end }, kind, { from, to }));
    for (const element of bodyOf(component).flatMap(elementsOf))
      for (const attr of element.attrs) {
        const kind = attr.start < 0 ? null : urlKindOf(element, attr.name);
        if (kind === null) continue;
        const { start, end } = valueOf(source, attr);
        move(start, end, kind);
      }
    if (style !== null) move(style.start, style.end, 'css');
  }
  for (const use of usesOf(site))
    for (const list of listsIn(use)) {
      const data = dataPathOf(use, list);
      if (data === null) continue;
      const { holder } = use;
      const [before, after] = [folderOf(holder.path), folderOf(placeOf(holder.path))];
      // one that climbs out of the project is seen as the URL that it is
      if (placeOf(data) === data && before === after) continue;
      note(edits, holder, valueEdit(holder.source, list, 'src', relativise(placeOf(data), after)));
    }
}

/** The URLs of a stretch of a component file as they are written in another folder; what placeholders start is not the file's. */
function movedUrls(
  component: Component,
  { start, end }: { start: number; end: number },
  kind: UrlKind,
  { from, to }: { from: string; to: string },
): Edit[] {
  const raw = component.source.slice(start, end);
  const placeholders = [...raw.matchAll(PLACEHOLDER)].map(([whole]) => ({ whole }));
  // what is between the braces stands between the strings around them
  const marked = markedText(raw.split(PLACEHOLDER).map((part, i) => (i % 2 === 0 ? part : null)));
  // by way of the root, where a dot at the start is kept
  const rooted = templateUrls(marked, kind, from, '');
  const moved = rooted === null ? null : templateUrls(rooted, kind, '', to);
  if (moved === null) {
    // what leads out of the project is taken as it is wherever it stands
    if (templateUrls(marked, kind, to, '') === null) return [];
    throw new Problem(`"${raw.trim()}" leads out of the project, and would mean something else in ${to}/`, {
      exit: 1,
      place: placeAt(component, start),
      hint: 'write this URL from the root or in full; nothing was written',
    });
  }
  if (moved === marked) return [];
  const parts = partsOfMarked(moved, placeholders).map((part) => (typeof part === 'string' ? part : part.whole));
  return [{ start, end, text: parts.join('') }];
}

/** Data files by the components whose lists alone they hold. */
export function dataOfComponents(site: Site): Map<string, string> {
  const owners = new Map<string, Set<string>>();
  for (const use of usesOf(site))
    for (const list of listsIn(use)) {
      const path = dataPathOf(use, list);
      if (path !== null && site.data.has(path)) owners.set(path, (owners.get(path) ?? new Set()).add(use.name));
    }
  return new Map([...owners].flatMap(([path, names]) => (names.size === 1 ? [[path, [...names][0]!] as const] : [])));
}
