/** What all commands that write share: the static pages that must stay, the patch of a dry run, and the proof from disk. */
import { expandPage } from '../core/component/expand.js';
import type { Registry } from '../core/component/model.js';
import { readComponents } from '../core/component/read.js';
import { Problem } from '../core/errors.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { comparePages, parsedAs, type Shown } from '../core/page/same.js';
import { withoutStyle } from '../core/style/text.js';
import { digest, readBack, type SourceFile } from '../workspace/files.js';
import { Journal } from '../workspace/journal.js';
import { type Project, storiesOf } from '../workspace/project.js';
import type { PlannedFile } from '../workspace/transaction.js';

/**
 * The static page that each page must expand to: the one of its first lift as long as it does, else what it gives now,
 * for then it was edited since.
 */
export function originsOf(project: Project, pages: Page[], shown: Shown): Map<string, string> {
  const stories = storiesOf(project.entries);
  const journal = new Journal(project.root);
  return new Map(
    pages.map((page) => {
      const now = expandPage(page, project.registry).text;
      const digest = stories.get(page.path)?.origin ?? null;
      const first = digest === null ? now : journal.read(digest).toString('utf8');
      return [page.path, comparePages(page.path, parsedAs(page, first), now, shown).same === 'different' ? now : first];
    }),
  );
}

/** Of pages that are not rewritten, but are made of what is: those that were edited since. From now on they must stay as they are. */
export function retold(
  { entries }: Project,
  paths: string[],
  origins: ReadonlyMap<string, string>,
  files: ReadonlyMap<string, SourceFile>,
): PlannedFile[] {
  const stories = storiesOf(entries);
  return paths.flatMap((path): PlannedFile[] => {
    const origin = Buffer.from(origins.get(path)!);
    const file = files.get(path)!;
    const known = stories.get(path)?.origin === digest(origin);
    return known ? [] : [{ path, before: file.bytes, after: file.bytes, origin, read: file }];
  });
}

/** A page that must come to its static original, as it is read from disk. */
export interface ProvenPage {
  path: string;
  origin: string;
  file: SourceFile;
  /** as it was before it was written */
  page: Page;
}

/** Pages that were proven to come to their origins while they were planned. */
export interface Planned {
  /** the components that they were proven with */
  registry: Registry;
  /** their texts by path */
  texts: ReadonlyMap<string, string>;
}

/**
 * Reads back what was written and proves it. What comes back from disk as it was planned, components and all, is proven by
 * the plan, which expands and parses in the same way.
 * @returns the components as they are on disk
 * @throws Problem (exit 1), upon which all is taken back
 */
export function proveFromDisk(
  project: Project,
  files: PlannedFile[],
  proven: ProvenPage[],
  { shown, planned }: { shown?: Shown; planned?: Planned },
): Registry {
  const { root } = project;
  const registry = registryAfter(project, files, (path) => readBack(root, path));
  const known = planned !== undefined && areAlike(planned.registry, registry) ? planned.texts : NONE;
  for (const { path, origin, file, page } of proven) {
    const written = readBack(root, path, file.encoding);
    if (known.get(path) === written) continue;
    const { text } = expandPage(parsePage(path, written), registry);
    const { same, first } = comparePages(path, parsedAs(page, origin), text, shown);
    if (same === 'different')
      throw new Problem(`read back, this page is not the same: ${first!.what}`, {
        exit: 1,
        place: { path, line: first!.line, column: first!.column },
        hint: 'all is as it was',
      });
  }
  return registry;
}

const NONE: ReadonlyMap<string, string> = new Map();

/** True where two registries were read from the same files, but for styles, which no page expands to. */
function areAlike(one: Registry, other: Registry): boolean {
  const [files, others] = [filesOf(one), filesOf(other)];
  return files.size === others.size && [...files].every(([path, text]) => others.get(path) === text);
}

/** The texts of components, without the styles in them, and of data files by path. */
function filesOf(registry: Registry): ReadonlyMap<string, string> {
  const components = [...registry.values()].map((component) => [component.path, withoutStyle(component)] as const);
  return new Map([...components, ...(registry.data ?? [])]);
}

/**
 * All components once what is planned is written.
 * @param read text of a component or data file as it is then
 */
export function registryAfter(project: Project, planned: PlannedFile[], read: (path: string) => string): Registry {
  const components = new Set(project.componentFiles.map(({ path }) => path));
  const data = new Map(project.data);
  for (const { path, origin } of planned) {
    if (origin !== null) continue;
    if (path.endsWith('.json')) data.set(path, read(path));
    else if (path.endsWith('.html')) components.add(path);
  }
  return readComponents(
    [...components].map((path) => ({ path, source: read(path) })),
    { data, maxPageSize: project.config.maxPageSize },
  );
}
