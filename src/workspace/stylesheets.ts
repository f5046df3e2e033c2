/** The stylesheets of a project: read as text in their encoding, and what may be written back. */
import { glob } from 'tinyglobby';
import { escapePath } from 'tinyglobby';
import {
  ALWAYS_IGNORED,
  byPath,
  outputFolders,
  readSource,
  realPlace,
  type SourceFile,
  toPosix,
  type Unreadable,
} from './files.js';

export interface Stylesheets {
  /** text by path */
  sources: Map<string, string>;
  files: Map<string, SourceFile>;
  /** those that are read and never written, with the reason */
  fixed: Map<string, string>;
  unreadable: Unreadable[];
}

const loaded = new WeakMap<object, Promise<Stylesheets>>();

/** The stylesheets of a project that is open, read once. */
export function loadStylesheets(project: { root: string }): Promise<Stylesheets> {
  let sheets = loaded.get(project);
  if (sheets === undefined) loaded.set(project, (sheets = readAll(project)));
  return sheets;
}

/** Reads every `*.css` below the root, what tools and Estrade keep left out. */
async function readAll({ root }: { root: string }): Promise<Stylesheets> {
  const outputs = (await outputFolders(root)).map((folder) => `${escapePath(folder)}/**`);
  const found = await glob(['**/*.css'], {
    cwd: root,
    ignore: [...ALWAYS_IGNORED, ...outputs],
    expandDirectories: false,
  });
  const sheets: Stylesheets = { sources: new Map(), files: new Map(), fixed: new Map(), unreadable: [] };
  for (const path of found.map(toPosix).sort(byPath)) {
    const file = readSource(root, path);
    if ('why' in file) {
      sheets.unreadable.push(file);
      continue;
    }
    sheets.sources.set(path, file.text);
    sheets.files.set(path, file);
    const own = realPlace(root, path).path;
    if (own !== path) sheets.fixed.set(path, `${path} is a link to ${own}`);
    if (!file.exact) sheets.fixed.set(path, `the bytes of ${path} are not all ${file.encoding}`);
  }
  return sheets;
}
