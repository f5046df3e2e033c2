/** The stylesheets of a project: read as text in their encoding, and what may be written back. */
import { Problem } from '../core/errors.js';
import { readSource, realPlace, type SourceFile, type Unreadable } from './files.js';
import { findFiles, type Searched } from './find.js';

export interface Stylesheets {
  /** text by path */
  sources: Map<string, string>;
  files: Map<string, SourceFile>;
  /** those that are read and never written, with the reason */
  fixed: Map<string, string>;
  unreadable: Unreadable[];
}

/** A project as far as its stylesheets are looked for. */
type Searchable = Pick<Searched, 'root' | 'unseen'>;

const loaded = new WeakMap<object, Promise<Stylesheets>>();

/** The stylesheets of a project that is open, read once. */
export function loadStylesheets(project: Searchable): Promise<Stylesheets> {
  let sheets = loaded.get(project);
  if (sheets === undefined) loaded.set(project, (sheets = readAll(project)));
  return sheets;
}

/** Why a stylesheet is a link, and to what; null for a file of its own. */
function whyLinked(root: string, path: string): string | null {
  try {
    const own = realPlace(root, path).path;
    return own === path ? null : `${path} is a link to ${own}`;
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    return `${path} is a link that leads out of the project`;
  }
}

/** Reads every `*.css` below the root, what tools and Estrade keep left out. */
async function readAll({ root, unseen }: Searchable): Promise<Stylesheets> {
  const { paths, unreadable } = await findFiles(root, ['**/*.css'], { ignore: unseen });
  const sheets: Stylesheets = { sources: new Map(), files: new Map(), fixed: new Map(), unreadable };
  for (const path of paths) {
    const file = readSource(root, path);
    if ('why' in file) {
      sheets.unreadable.push(file);
      continue;
    }
    sheets.sources.set(path, file.text);
    sheets.files.set(path, file);
    const why = whyLinked(root, path);
    if (why !== null) sheets.fixed.set(path, why);
    if (!file.exact) sheets.fixed.set(path, `the bytes of ${path} are not all ${file.encoding}`);
  }
  return sheets;
}
