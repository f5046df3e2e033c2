/** What pages and stylesheets must come to: as the journal has it, or as another folder or a git revision has it. */
import { existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { expandPage } from '../core/component/expand.js';
import { Problem } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import { readAccepted, withAccepted } from './accepted.js';
import { byPath, type Unreadable } from './files.js';
import { Journal } from './journal.js';
import { loadPages, openCopy, type Project, storiesOf } from './project.js';
import { atRevision } from './git.js';
import { loadStylesheets } from './stylesheets.js';

/** A page or stylesheet as it was; static, in its encoding where that is known. */
export interface Original {
  text: string;
  encoding?: string | undefined;
  bom?: boolean | undefined;
}

export interface Originals {
  /** in the order of their code units */
  paths: string[];
  /** what a file was, or why that is lost; null where it was not there, or nothing is known of it */
  of: (path: string) => Original | { lost: string } | null;
  /** what may be otherwise than it was, for it was asked for */
  unified: Unified[];
  /** names of the components that there were */
  components: ReadonlySet<string>;
  unreadable: Unreadable[];
}

/** The originals that the journal keeps, of what was written here. */
export function journaledOriginals({ root, entries }: Project): Originals {
  const journal = new Journal(root);
  const stories = storiesOf(entries);
  const written = entries
    .flatMap(({ files }) => files)
    .filter(({ path, origin }) => origin === null && path.endsWith('.html'));
  return {
    paths: [...stories].flatMap(([path, { origin }]) => (origin === null ? [] : [path])).sort(byPath),
    of: (path) => {
      const story = stories.get(path);
      if (story === undefined || story.origin === null) return null;
      const kept = journal.textOf(story.origin);
      return 'lost' in kept ? kept : { ...kept, encoding: story.encoding, bom: story.bom };
    },
    unified: entries.flatMap((entry) => entry.unified ?? []),
    components: new Set(written.map(({ path }) => path.replace(/^.*\//, '').replace(/\.html$/, ''))),
    unreadable: [],
  };
}

/**
 * The originals of a folder, or of a revision: its pages expanded with its own components, and what was accepted since.
 * @param against a folder, relative to `cwd`, or what git knows for a commit
 * @throws Problem when there is neither
 */
export async function originalsOf(project: Project, cwd: string, against: string): Promise<Originals> {
  const accepted = await readAccepted(project.root);
  const read = async (folder: string) => {
    const copy = await openCopy(folder, project.config);
    const { pages, files, unreadable } = await loadPages(copy, folder, []);
    const unified: Unified[] = [];
    const originals = new Map<string, Original | { lost: string }>();
    for (const page of pages) {
      const { encoding, bom } = files.get(page.path)!;
      try {
        const made = withAccepted(accepted, page.path, expandPage(page, copy.registry).text);
        unified.push(...made.unified);
        originals.set(page.path, { text: made.text, encoding, bom });
      } catch (error) {
        if (!(error instanceof Problem)) throw error;
        originals.set(page.path, { lost: `in ${against}, ${error.message}` });
      }
    }
    const { filledReader } = await import('../core/style/plan.js');
    const { sources } = await loadStylesheets(copy);
    const { filled } = filledReader(sources, copy.registry);
    for (const [path, { text }] of filled) originals.set(path, { text });
    return {
      paths: [...originals.keys()].sort(byPath),
      of: (path: string) => originals.get(path) ?? null,
      unified,
      components: new Set(copy.registry.keys()),
      unreadable: unreadable.map(({ path, ...rest }) => ({ ...rest, path: `${path} in ${against}` })),
    };
  };
  const folder = resolve(cwd, against);
  if (existsSync(folder)) {
    if (!statSync(folder).isDirectory()) throw new Problem(`--against ${against} is a file`, { hint: 'name a folder' });
    return read(folder);
  }
  return atRevision(project.root, against, read);
}
