/** What a change of components and of what speaks of them comes to. */
import { valueOf } from '../page/attribute.js';
import { type Edit, withEdits } from '../page/edits.js';
import type { Element } from '../page/tree.js';

/** What changes: new texts by path, and files that get another path. */
export interface Change {
  /** by the path before */
  texts: ReadonlyMap<string, string>;
  /** component files and data files, by the path before */
  moved: ReadonlyMap<string, string>;
  /** component files and data files that go */
  removed: ReadonlySet<string>;
}

/** Edits by path, with the text that they are made in. */
export type Edits = Map<string, { source: string; edits: Edit[] }>;

export function changeOf(edits: Edits, moved: Change['moved'] = new Map()): Change {
  const texts = new Map([...edits].map(([path, each]) => [path, withEdits(each.source, each.edits)]));
  return { texts, moved, removed: new Set() };
}

export function note(edits: Edits, { path, source }: { path: string; source: string }, ...more: Edit[]): void {
  if (more.length === 0) return;
  const each = edits.get(path) ?? { source, edits: [] };
  each.edits.push(...more);
  edits.set(path, each);
}

/** Another value for an attribute that is there, with the quotes that it has. */
export function valueEdit(source: string, element: Element, name: string, text: string): Edit {
  const { start, end } = valueOf(
    source,
    element.attrs.find((attr) => attr.name === name)!,
  );
  return { start, end, text };
}
