/** Opens a project: its root and configuration, its components and pages; recovers first from a write cut short. */
import { existsSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { Problem } from '../core/errors.js';
import { isReport } from '../core/report-mark.js';
import { nearestName } from '../core/component/problems.js';
import type { Registry } from '../core/component/model.js';
import { type ComponentSource, readComponents, templatesOf } from '../core/component/read.js';
import { type Page, parsedWhenAsked, treeOf } from '../core/page/parse.js';
import type { Shown } from '../core/page/same.js';
import { CONFIG_FILE, findProject, HOLDS_COMPONENT } from './config.js';
import type { Config } from './defaults.js';
import { findFiles, findPages, ignoredBelow } from './find.js';
import { readSource, realPlace, type SourceFile, toPosix, type Unreadable } from './files.js';
import { damageText, type Entry, Journal, REPAIR } from './journal.js';
import { loadStylesheets } from './stylesheets.js';
import { recover, type Recovered } from './transaction.js';

export interface Project {
  root: string;
  config: Config;
  /** absolute path of the configuration; null for none */
  configFile: string | null;
  /** patterns of what is never looked into: what tools keep, and folders that were built */
  unseen: readonly string[];
  componentFiles: (ComponentSource & { file: SourceFile })[];
  /** data files by path */
  data: ReadonlyMap<string, string>;
  registry: Registry;
  entries: Entry[];
  /** tells the journal's state when the project was opened from later ones */
  stamp: string;
  /** what was put in order on opening, for the user to know */
  notices: string[];
}

export interface LoadedPages {
  pages: Page[];
  /** the templates of components, that fragments are found and cut in like in pages */
  templates: Page[];
  files: Map<string, SourceFile>;
  unreadable: Unreadable[];
  /** texts of all stylesheets, in the order of their paths */
  stylesheets: string[];
}

/** Opens the project that `cwd` stands in. @throws Problem when configuration or a component file is wrong */
export async function openProject(cwd: string): Promise<Project> {
  const { root, config, configFile, notices: located } = await findProject(cwd);
  const recovered = await recover(root);
  const journal = new Journal(root);
  const stamp = journal.stamp();
  const { entries, damaged } = await journal.state();
  const notices = [
    ...located,
    ...recoveryNotices(recovered),
    ...damaged.map((damage) => `${damageText(damage)}; ${REPAIR}`),
  ];
  const rest = { configFile, entries, stamp, notices };
  return whileSettled({ root, stamp }, async () => ({ ...(await readProject(root, config)), ...rest }));
}

/** Opens a folder as a project of its own, whatever its journal says: for comparing with it. */
export async function openCopy(root: string, config: Config): Promise<Project> {
  const stamp = new Journal(root).stamp();
  const own = existsSync(join(root, CONFIG_FILE)) ? (await findProject(root)).config : config;
  return { ...(await readProject(root, own)), configFile: null, entries: [], stamp, notices: [] };
}

/** Components and data. */
async function readProject(
  root: string,
  config: Config,
): Promise<Pick<Project, 'root' | 'config' | 'unseen' | 'componentFiles' | 'data' | 'registry'>> {
  const all = await readComponentFiles(root, config.components);
  const componentFiles = all.filter(({ path }) => path !== config.starter);
  const data = await readData(root, config.data);
  const registry = readComponents(componentFiles, { data, maxPageSize: config.maxPageSize });
  return { root, config, unseen: await ignoredBelow(root), componentFiles, data, registry };
}

/** Another process wrote to the project while it was read: what was read is of no one time, and is read again. */
export class WrittenMeanwhile extends Problem {}

/**
 * Reads from a project, all of it before a write or all of it after.
 * @param project with the stamp of the journal as it was before anything else was read
 * @throws WrittenMeanwhile when another process wrote meanwhile, whatever else went wrong because of that
 */
export async function whileSettled<T>(
  { root, stamp }: Pick<Project, 'root' | 'stamp'>,
  read: () => Promise<T>,
): Promise<T> {
  try {
    return await read();
  } finally {
    if (new Journal(root).stamp() !== stamp)
      // eslint-disable-next-line no-unsafe-finally -- what else was thrown comes from reading half of a write
      throw new WrittenMeanwhile('another estrade wrote to this folder while it was read', { hint: 'run this again' });
  }
}

/** What is told of writes that were cut short. */
export function recoveryNotices({ commands, foreign, left }: Recovered): string[] {
  return [
    ...commands.map((command) => `an interrupted "${command}" was taken back: the folder is as it was before`),
    ...foreign,
    ...left,
  ];
}

/** A name before a colon that is spelled with an escape, and may be any. */
const ESCAPED_NAME = /\\[\w-][^;{}"'\\]*:/;

/** Where stylesheets make white space show, if one or a page says so anywhere: for whoever compares pages. */
export async function spaceShown(project: Project, pages: Page[]): Promise<Shown> {
  const { sources } = await loadStylesheets(project);
  const holders = [...pages, ...project.componentFiles].map(({ source }) => source);
  const mayShow = [...sources.values(), ...holders.filter((source) => /<style/i.test(source))].some(
    (text) => /white-space/i.test(text) || ESCAPED_NAME.test(text),
  );
  if (!mayShow) return () => new Set();
  const { shownIn } = await import('../core/style/space.js');
  return shownIn(sources, project.registry);
}

/** @throws Problem when a link makes a folder of the project one outside it */
function folderInside(root: string, folder: string): string {
  realPlace(root, folder);
  return join(root, folder);
}

/** The JSON files of the data folder. */
async function readData(root: string, folder: string): Promise<Map<string, string>> {
  const base = folderInside(root, folder);
  const paths = existsSync(base) ? (await findFiles(base, ['**/*.json'])).paths.map((name) => `${folder}/${name}`) : [];
  const files = paths.map((path) => [path, readSource(root, path)] as const);
  return new Map(files.flatMap(([path, file]) => ('why' in file ? [] : [[path, file.text] as const])));
}

/** The component files: those in the folder that hold a component. Other HTML in it is the user's, and pages. */
async function readComponentFiles(root: string, folder: string): Promise<Project['componentFiles']> {
  const base = folderInside(root, folder);
  if (!existsSync(base)) return [];
  const { paths, unreadable } = await findFiles(base, ['**/*.html']);
  for (const { path, why } of unreadable)
    throw new Problem(`${folder}/${path}: ${why}`, {
      hint: 'nothing was written; it may hold components that pages use',
    });
  return paths.flatMap((name) => {
    const path = `${folder}/${name}`;
    // what a template says of encodings is said of pages
    const file = readUtf8(root, path);
    if ('why' in file)
      throw new Problem(`${path} cannot be read: ${file.why}`, {
        hint: 'nothing was written; what stands in this folder may be a component that pages use',
      });
    if (!HOLDS_COMPONENT.test(file.text)) return [];
    return [{ path, source: file.text, file }];
  });
}

/** Reads a file that is in UTF-8, unless it cannot be. */
function readUtf8(root: string, path: string): SourceFile | Unreadable {
  const file = readSource(root, path, 'UTF-8');
  return 'why' in file || file.exact ? file : readSource(root, path);
}

/** What was read, as far as pages are parsed of it. */
type ReadPages = Pick<LoadedPages, 'pages' | 'files' | 'unreadable'>;

/** Is told how many pages are done. */
type Tick = (done: number, all: number) => void;

/** Reads and parses pages; those that cannot be read come back by name, with the reason. */
export async function loadPages(project: Project, cwd: string, args: string[], tick?: Tick): Promise<LoadedPages> {
  const loaded = await readPages(project, cwd, args);
  return { ...loaded, pages: [...parsedPages(loaded, tick)] };
}

/** Reads pages, whose trees are made where they are asked for; those that cannot be read come back by name, with the reason. */
export async function readPages(project: Project, cwd: string, args: string[]): Promise<LoadedPages> {
  const { root, componentFiles } = project;
  const isNamed = ({ path: own }: Page) =>
    args.length === 0 || args.some((arg) => `${own}/`.startsWith(`${toPosix(relative(root, resolve(cwd, arg)))}/`));
  const templates = templatesOf(project.registry).filter(isNamed);
  const { paths, unreadable } = await findPages(project, cwd, args);
  const loaded: LoadedPages = { pages: [], templates, files: new Map(), unreadable, stylesheets: [] };
  for (const { path, file } of componentFiles) loaded.files.set(path, file);
  const stories = storiesOf(project.entries);
  // a name on the command line may be misspelt
  const isMissing = paths.some((path) => args.length > 0 && !existsSync(join(root, path)));
  const known = isMissing ? (await findPages(project, root, [])).paths : [];
  const read = async () => {
    for (const path of paths) {
      if (loaded.files.has(path)) continue;
      const file = readSource(root, path, stories.get(path)?.encoding);
      if ('why' in file) {
        const near = existsSync(join(root, path)) ? null : nearestName(path, known);
        loaded.unreadable.push(near === null ? file : { ...file, why: `${file.why}: did you mean ${near}?` });
        continue;
      }
      if (isReport(file.text)) continue;
      if (!file.exact) {
        loaded.unreadable.push({ path, why: `its bytes are not all ${file.encoding}` });
        continue;
      }
      loaded.pages.push(parsedWhenAsked(path, file.text, file.encoding));
      loaded.files.set(path, file);
    }
    const sheets = await loadStylesheets(project);
    loaded.stylesheets.push(...sheets.sources.values());
    const named = new Set(unreadable.map(({ path }) => path));
    loaded.unreadable.push(...sheets.unreadable.filter(({ path }) => !named.has(path)));
    return loaded;
  };
  return whileSettled(project, read);
}

/**
 * Parses pages that were read, one after the other, so that each can be let go before the next one is made. Those that cannot be
 * parsed are put among the unreadable ones.
 */
export function* parsedPages({ pages, files, unreadable }: ReadPages, tick?: Tick): Generator<Page> {
  for (const [i, page] of pages.entries()) {
    tick?.(i, pages.length);
    try {
      treeOf(page);
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      const at = error.place === undefined ? '' : `, at ${error.place.line}:${error.place.column}`;
      unreadable.push({ path: page.path, why: `${error.message}${at}` });
      files.delete(page.path);
      continue;
    }
    yield page;
  }
}

/** The same, of which the tree of each is let go when the next one is asked for. */
export function* eachPage(loaded: ReadPages, tick?: Tick): Generator<Page> {
  for (const page of parsedPages(loaded, tick)) {
    yield page;
    page.release?.();
  }
}

/** All that fragments are found and cut in: pages, and the templates of components. */
export function surveyedPages({ pages, templates }: Pick<LoadedPages, 'pages' | 'templates'>): Page[] {
  return [...pages, ...templates];
}

/** What the journal says of a page or component: where its story begins, and what the last write left. */
export interface Story {
  /** digest of the static page that it must expand to */
  origin: string | null;
  /** digest that the last write left */
  after: string;
  /** how its bytes were read at its first lift; undefined for what is no page */
  encoding: string | undefined;
  bom: boolean | undefined;
}

/** The story of every file in the journal that is there after the last write. */
export function storiesOf(entries: Entry[]): Map<string, Story> {
  const stories = new Map<string, Story>();
  for (const { files } of entries)
    for (const { path, origin, after, encoding, bom } of files) {
      const before = stories.get(path);
      if (after === null) stories.delete(path);
      else
        stories.set(path, {
          origin: origin ?? before?.origin ?? null,
          after,
          encoding: before?.encoding ?? encoding,
          bom: before?.bom ?? bom,
        });
    }
  return stories;
}
