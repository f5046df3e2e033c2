/** Writes a change of components and their uses that leaves every page as it is: planned, proven, and proven from disk. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expandPage } from '../core/component/expand.js';
import type { Registry } from '../core/component/model.js';
import { readComponents } from '../core/component/read.js';
import { Problem } from '../core/errors.js';
import type { Change } from '../core/library/change.js';
import type { Site } from '../core/library/uses.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { comparePages } from '../core/page/same.js';
import { expandAll, filledReader } from '../core/style/plan.js';
import { count } from '../terminal/style.js';
import { findProject } from '../workspace/config.js';
import { encode } from '../workspace/encoding.js';
import { readSource, type SourceFile, type Unreadable } from '../workspace/files.js';
import type { Renamed } from '../workspace/journal.js';
import { locked } from '../workspace/lock.js';
import { journaledOriginals } from '../workspace/originals.js';
import { type LoadedPages, loadPages, openProject, type Project, spaceShown } from '../workspace/project.js';
import { loadStylesheets, type Stylesheets } from '../workspace/stylesheets.js';
import { type PlannedFile, writeAll } from '../workspace/transaction.js';
import { editedFiles } from './edited.js';
import { originOf } from './moving.js';
import { tellNotices } from './notices.js';
import { originsOf, retold } from './proving.js';

export interface Changed {
  /** what is written, or would be */
  files: PlannedFile[];
  moved: { from: string; to: string }[];
  written: boolean;
  /** how many pages are the same */
  pages: number;
  /** `3 pages, 2 components and 1 stylesheet changed` */
  tally: string;
  unreadable: Unreadable[];
}

/** A project with all that a change may be in. */
export interface OpenedSite {
  project: Project;
  loaded: LoadedPages;
  site: Site;
}

export async function openSite(cwd: string): Promise<OpenedSite> {
  const project = await openProject(cwd);
  tellNotices(project);
  const loaded = await loadPages(project, project.root, []);
  const { sources } = await loadStylesheets(project);
  const { registry, data } = project;
  return { project, loaded, site: { pages: loaded.pages, registry, sheets: sources, data } };
}

/** Runs what changes a project, one at a time; what is only planned needs not wait. */
export async function oneAtATime<T>(cwd: string, isPlan: boolean, run: () => Promise<T>): Promise<T> {
  return isPlan ? run() : locked((await findProject(cwd)).root, run);
}

/**
 * Writes a change, unless it is only planned.
 * @throws Problem (exit 1) where a page, or a stylesheet with the styles of components, would not be the same to the byte
 */
export async function changeProject(
  { project, loaded }: Pick<OpenedSite, 'project' | 'loaded'>,
  change: Change,
  { command, write }: { command: string; write: boolean },
): Promise<Changed> {
  const { root, componentFiles, data, config } = project;
  const sheets = await loadStylesheets(project);
  const { fillMarkers } = await import('../core/style/fill.js');
  const filledBy = (texts: ReadonlyMap<string, string>, registry: Registry) =>
    new Map([...sheets.sources.keys()].map((path) => [path, fillMarkers(path, texts.get(path)!, registry).text]));
  const textOf = (path: string, before: string) => change.texts.get(path) ?? before;
  const placeOf = (path: string) => change.moved.get(path) ?? path;
  const isKept = (path: string) => !change.removed.has(path);
  const after = readComponents(
    componentFiles
      .filter(({ path }) => isKept(path))
      .map(({ path, source }) => ({ path: placeOf(path), source: textOf(path, source) })),
    {
      data: new Map(
        [...data].filter(([path]) => isKept(path)).map(([path, text]) => [placeOf(path), textOf(path, text)]),
      ),
      maxPageSize: config.maxPageSize,
    },
  );
  const sheetTexts = new Map([...sheets.sources].map(([path, text]) => [path, textOf(path, text)]));
  const before = filledBy(sheets.sources, project.registry);
  const expanded = expandedAlike(loaded.pages, project.registry, change, after);
  refuseFilled(before, filledBy(sheetTexts, after));
  const kept = await keptOf(project, loaded, sheets, expanded);
  const files = plannedFiles(project, loaded, change, kept);
  for (const path of change.texts.keys()) refuseFixed(path, sheets.fixed);
  const moved = [...change.moved].map(([from, to]) => ({ from, to }));
  if (write) {
    const renamed = renamedBy(project.registry, change, after);
    await writeAll(root, { command, files, renamed }, () => refuseOtherBytes(root, files));
  }
  const { unreadable, pages } = loaded;
  return { files, moved, written: write, pages: pages.length, tally: tallyOf(change, project), unreadable };
}

/**
 * What the pages expand to, before and after, by path.
 * @throws Problem (exit 1) naming the first page that would not expand to what it does now
 */
function expandedAlike(
  pages: Page[],
  registry: Registry,
  { texts }: Pick<Change, 'texts'>,
  after: Registry,
): Map<string, string> {
  const expanded = new Map<string, string>();
  for (const page of pages) {
    const text = texts.get(page.path);
    const then = text === undefined ? page : parsePage(page.path, text, page.encoding);
    const [now, made] = [expandPage(page, registry).text, expandPage(then, after).text];
    expanded.set(page.path, now);
    if (now === made) continue;
    const { first } = comparePages(page.path, now, made);
    throw new Problem(`this cannot be followed everywhere: ${first?.what ?? 'white space would change'}`, {
      exit: 1,
      place: { path: page.path, line: first?.line ?? 1, column: first?.column ?? 1 },
      hint: 'nothing was written; the place is that of the expanded page',
    });
  }
  return expanded;
}

/** @throws Problem (exit 1) naming the first page that would not expand to what it does now with other components */
export function refuseOtherPages(pages: Page[], registry: Registry, after: Registry): void {
  expandedAlike(pages, registry, { texts: new Map() }, after);
}

/** @throws Problem (exit 1) naming the first stylesheet that would not come out as it does now */
function refuseFilled(before: ReadonlyMap<string, string>, after: ReadonlyMap<string, string>): void {
  const found = [...before].find(([path, text]) => after.get(path) !== text);
  if (found !== undefined)
    throw new Problem(`${found[0]} would not have the same styles of components`, {
      exit: 1,
      hint: 'nothing was written',
    });
}

/** What is on disk is what was proven, to the byte. @throws Problem (exit 1), upon which all is taken back */
function refuseOtherBytes(root: string, files: PlannedFile[]): void {
  for (const { path, after } of files) {
    const bytes = existsSync(join(root, path)) ? readFileSync(join(root, path)) : null;
    const isSame = bytes === null || after === null ? bytes === after : bytes.equals(after);
    if (!isSame) throw new Problem(`read back, ${path} is not what was written`, { exit: 1, hint: 'all is as it was' });
  }
}

function refuseFixed(path: string, fixed: ReadonlyMap<string, string>): void {
  const why = fixed.get(path);
  if (why !== undefined) throw new Problem(`${why}: it is not written`, { exit: 1, hint: 'nothing was written' });
}

/** What pages and stylesheets must come to from now on. */
interface Kept {
  /** static pages, by path */
  origins: ReadonlyMap<string, string>;
  /** of a stylesheet */
  originOfSheet: (path: string) => string;
  /** pages that are to be recorded although they are not rewritten */
  retold: PlannedFile[];
  sheets: Stylesheets;
}

/** The originals stay, unless something was edited since: then it counts as it is now. */
async function keptOf(
  project: Project,
  { pages, files }: LoadedPages,
  sheets: Stylesheets,
  expanded: ReadonlyMap<string, string>,
): Promise<Kept> {
  const originals = journaledOriginals(project);
  const { changed } = editedFiles(project, files, sheets.files);
  const textOf = (path: string): string | null => {
    const found = originals.of(path);
    return found === null || 'lost' in found ? null : found.text;
  };
  const { read, filled } = filledReader(sheets.sources, project.registry);
  const nowOf = (path: string): string => filled.get(path)!.text;
  if (changed.size === 0)
    return {
      origins: new Map([...expanded].map(([path, now]) => [path, textOf(path) ?? now])),
      originOfSheet: (path) => textOf(path) ?? nowOf(path),
      retold: [],
      sheets,
    };
  const origins = originsOf(project, pages, await spaceShown(project, pages));
  const told = [...origins.keys()].filter((path) => textOf(path) !== null);
  const all = expandAll(pages, project.registry);
  return {
    origins,
    originOfSheet: (path) => originOf(project, all, path, nowOf(path), read),
    retold: retold(project, told, origins, files),
    sheets,
  };
}

function plannedFiles(
  project: Project,
  { pages, files }: LoadedPages,
  change: Change,
  { origins, originOfSheet, retold: told, sheets }: Kept,
): PlannedFile[] {
  const { texts, moved, removed } = change;
  const own = project.componentFiles.map(({ path, file }) => ({ path, file }));
  const lists = [...project.data.keys()]
    .filter((path) => moved.has(path) || texts.has(path) || removed.has(path))
    .flatMap((path) => {
      const file = readSource(project.root, path);
      return 'why' in file ? [] : [{ path, file }];
    });
  const ours = movedFiles(project.root, [...own, ...lists], change);
  const rewritten = pages.flatMap(({ path }): PlannedFile[] => {
    const text = texts.get(path);
    const file = files.get(path)!;
    const origin = Buffer.from(origins.get(path)!);
    return text === undefined ? [] : [{ path, before: file.bytes, after: encode(text, file), origin, read: file }];
  });
  const others = [...texts].flatMap(([path, text]): PlannedFile[] => {
    const sheet = sheets.files.get(path);
    if (sheet === undefined) return [];
    return [{ path, before: sheet.bytes, after: encode(text, sheet), origin: Buffer.from(originOfSheet(path)) }];
  });
  return [...ours, ...rewritten, ...others, ...told.filter(({ path }) => !texts.has(path))];
}

/**
 * Component files and data files that are changed, moved or taken away; one may come to where another was.
 * @throws Problem (exit 1) where something else stands in the place of one
 */
function movedFiles(
  root: string,
  files: { path: string; file: SourceFile }[],
  { texts, moved, removed }: Change,
): PlannedFile[] {
  const before = new Map(files.map(({ path, file }) => [path, file.bytes]));
  const after = new Map<string, Buffer | null>();
  for (const { path, file } of files) {
    const text = texts.get(path);
    const to = moved.get(path) ?? path;
    if (to !== path && !before.has(to) && existsSync(join(root, to)))
      throw new Problem(`${to} is there already, and ${path} cannot be put there`, {
        exit: 1,
        hint: 'give that file another name or place; nothing was written',
      });
    const goes = to !== path || removed.has(path);
    if (goes && !after.has(path)) after.set(path, null);
    if (removed.has(path)) continue;
    if (to !== path || text !== undefined) after.set(to, text === undefined ? file.bytes : encode(text, file));
  }
  // what goes is taken away last, for a folder that is emptied goes with it
  return [...after]
    .map(([path, bytes]) => ({ path, before: before.get(path) ?? null, after: bytes, origin: null }))
    .sort((a, b) => Number(a.after === null) - Number(b.after === null));
}

/** The components that have another name or place. */
function renamedBy(registry: Registry, { moved }: Change, after: Registry): Renamed[] {
  return [...registry.values()].flatMap(({ name, path }) => {
    const to = [...after.values()].find((each) => each.path === (moved.get(path) ?? path));
    if (to === undefined) return [];
    if (to.name === name && to.path === path) return [];
    return [{ from: { component: name, path }, to: { component: to.name, path: to.path } }];
  });
}

function tallyOf({ texts, moved, removed }: Change, { componentFiles, data }: Project): string {
  const paths = new Set([...texts.keys(), ...moved.keys(), ...removed]);
  const components = componentFiles.filter(({ path }) => paths.has(path)).length;
  const lists = [...data.keys()].filter((path) => paths.has(path)).length;
  const sheets = [...paths].filter((path) => path.endsWith('.css')).length;
  const told = [
    [paths.size - components - lists - sheets, 'page'],
    [components, 'component'],
    [sheets, 'stylesheet'],
    [lists, 'data file'],
  ] as const;
  const parts = told.filter(([many]) => many > 0).map(([many, what]) => count(many, what));
  return `${parts.join(', ').replace(/, ([^,]*)$/, ' and $1')} changed`;
}
