/** Writes a change of components and their uses that leaves every page as it is: planned, proven, and proven from disk. */
import type { Change } from '../core/library/rename.js';
import { expandPage } from '../core/component/expand.js';
import type { Registry } from '../core/component/model.js';
import { readComponents } from '../core/component/read.js';
import { Problem } from '../core/errors.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { comparePages } from '../core/page/same.js';
import { expandAll, filledReader } from '../core/style/plan.js';
import { count } from '../terminal/style.js';
import { encode } from '../workspace/encoding.js';
import { readBack, type Unreadable } from '../workspace/files.js';
import type { Renamed } from '../workspace/journal.js';
import { type LoadedPages, type Project, spaceShown, storiesOf } from '../workspace/project.js';
import { loadStylesheets, type Stylesheets } from '../workspace/stylesheets.js';
import { type PlannedFile, writeAll } from '../workspace/transaction.js';
import { originOf } from './moving.js';
import { originsOf, proveFromDisk, retold } from './proving.js';

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

/**
 * Writes a change, unless it is only planned.
 * @throws Problem (exit 1) where a page, or a stylesheet with the styles of components, would not be the same to the byte
 */
export async function changeProject(
  project: Project,
  loaded: LoadedPages,
  change: Change,
  { command, write }: { command: string; write: boolean },
): Promise<Changed> {
  const { root, componentFiles, data, config } = project;
  const sheets = await loadStylesheets(project);
  const { fillMarkers } = await import('../core/style/fill.js');
  const filledBy = (texts: ReadonlyMap<string, string>, registry: Registry) =>
    new Map([...sheets.sources.keys()].map((path) => [path, fillMarkers(path, texts.get(path)!, registry).text]));
  const textOf = (path: string, before: string) => change.texts.get(path) ?? before;
  const after = readComponents(
    componentFiles.map(({ path, source }) => ({ path: change.moved.get(path) ?? path, source: textOf(path, source) })),
    { data: new Map([...data].map(([path, text]) => [path, textOf(path, text)])), maxPageSize: config.maxPageSize },
  );
  const sheetTexts = new Map([...sheets.sources].map(([path, text]) => [path, textOf(path, text)]));
  const before = filledBy(sheets.sources, project.registry);
  refuseDifferent(loaded.pages, project.registry, change, after);
  refuseFilled(before, filledBy(sheetTexts, after));
  const shown = await spaceShown(project, loaded.pages);
  const origins = originsOf(project, loaded.pages, shown);
  const files = plannedFiles(project, loaded, change, { origins, sheets });
  for (const path of change.texts.keys()) refuseFixed(path, sheets.fixed);
  const moved = [...change.moved].map(([from, to]) => ({ from, to }));
  if (write) {
    const proven = loaded.pages.map(({ path }) => ({
      path,
      origin: origins.get(path)!,
      file: loaded.files.get(path)!,
    }));
    await writeAll(root, { command, files, renamed: renamedBy(project.registry, change, after) }, () => {
      const registry = proveFromDisk(project, files, proven, shown);
      refuseFilled(before, filledBy(new Map([...before.keys()].map((path) => [path, readBack(root, path)])), registry));
    });
  }
  const { unreadable, pages } = loaded;
  return { files, moved, written: write, pages: pages.length, tally: tallyOf(change, project), unreadable };
}

/** @throws Problem (exit 1) naming the first page that would not expand to what it does now */
function refuseDifferent(pages: Page[], registry: Registry, { texts }: Change, after: Registry): void {
  for (const page of pages) {
    const text = texts.get(page.path);
    const then = text === undefined ? page : parsePage(page.path, text, page.encoding);
    const [now, made] = [expandPage(page, registry).text, expandPage(then, after).text];
    if (now === made) continue;
    const { first } = comparePages(page.path, now, made);
    throw new Problem(`this cannot be followed everywhere: ${first?.what ?? 'white space would change'}`, {
      exit: 1,
      place: { path: page.path, line: first?.line ?? 1, column: first?.column ?? 1 },
      hint: 'nothing was written; the place is that of the expanded page',
    });
  }
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

function refuseFixed(path: string, fixed: ReadonlyMap<string, string>): void {
  const why = fixed.get(path);
  if (why !== undefined) throw new Problem(`${why}: it is not written`, { exit: 1, hint: 'nothing was written' });
}

interface Kept {
  /** static pages, by path */
  origins: ReadonlyMap<string, string>;
  sheets: Stylesheets;
}

function plannedFiles(
  project: Project,
  { pages, files }: LoadedPages,
  { texts, moved }: Change,
  { origins, sheets }: Kept,
): PlannedFile[] {
  const components = project.componentFiles.flatMap(({ path, file }): PlannedFile[] => {
    const to = moved.get(path);
    const text = texts.get(path);
    if (to === undefined && text === undefined) return [];
    const bytes = text === undefined ? file.bytes : encode(text, file);
    if (to === undefined || to === path) return [{ path, before: file.bytes, after: bytes, origin: null }];
    return [
      { path: to, before: null, after: bytes, origin: null },
      { path, before: file.bytes, after: null, origin: null },
    ];
  });
  const originOfSheet = (path: string): Buffer => {
    const expanded = expandAll(pages, project.registry);
    const { read, filled } = filledReader(sheets.sources, project.registry);
    read(path);
    return Buffer.from(originOf(project, expanded, path, filled.get(path)!.text, read));
  };
  const rewritten = pages.flatMap(({ path }): PlannedFile[] => {
    const text = texts.get(path);
    const file = files.get(path)!;
    const origin = Buffer.from(origins.get(path)!);
    return text === undefined ? [] : [{ path, before: file.bytes, after: encode(text, file), origin, read: file }];
  });
  const others = [...texts].flatMap(([path, text]): PlannedFile[] => {
    const sheet = sheets.files.get(path);
    if (sheet !== undefined)
      return [{ path, before: sheet.bytes, after: encode(text, sheet), origin: originOfSheet(path) }];
    const json = project.data.get(path);
    return json === undefined ? [] : [{ path, before: Buffer.from(json), after: Buffer.from(text), origin: null }];
  });
  const stories = storiesOf(project.entries);
  const same = pages.map(({ path }) => path).filter((path) => !texts.has(path) && stories.get(path)?.origin != null);
  return [...components, ...rewritten, ...others, ...retold(project, same, origins, files)];
}

/** The components that have another name or place. */
function renamedBy(registry: Registry, { moved }: Change, after: Registry): Renamed[] {
  return [...registry.values()].flatMap(({ name, path }) => {
    const to = [...after.values()].find((each) => each.path === (moved.get(path) ?? path))!;
    if (to.name === name && to.path === path) return [];
    return [{ from: { component: name, path }, to: { component: to.name, path: to.path } }];
  });
}

function tallyOf({ texts, moved }: Change, { componentFiles, data }: Project): string {
  const paths = new Set([...texts.keys(), ...moved.keys()]);
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
