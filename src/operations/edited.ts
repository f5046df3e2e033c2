/** What the user changed since the last write. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { digest, type SourceFile } from '../workspace/files.js';
import { type Project, storiesOf } from '../workspace/project.js';

export interface Edited {
  /** files that are not as the last write left them */
  changed: Set<string>;
  /** component files that were written and are gone */
  gone: string[];
}

/** @param files pages, components and stylesheets as they were read, by path */
export function editedFiles(project: Project, ...files: ReadonlyMap<string, SourceFile>[]): Edited {
  const edited: Edited = { changed: new Set(), gone: [] };
  for (const [path, { after, origin }] of storiesOf(project.entries)) {
    // data files and what else was written
    const other = () => readFileSync(join(project.root, path));
    const [read] = files.flatMap((each) => each.get(path) ?? []);
    const bytes = read?.bytes ?? (existsSync(join(project.root, path)) ? other() : undefined);
    if (bytes === undefined || digest(bytes) !== after) edited.changed.add(path);
    if (origin === null && bytes === undefined) edited.gone.push(path);
  }
  return edited;
}
