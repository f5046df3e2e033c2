/** Proving the promise again from the files on disk, and finding uses that are wrong. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { folderOfPage } from '../core/component/expand.js';
import { templateProblems } from '../core/component/problems.js';
import { urlKindIn, usesIn } from '../core/component/read.js';
import { type Place, Problem, shownValue } from '../core/errors.js';
import type { Advice } from '../core/lift/advice.js';
import type { Unified } from '../core/lift/unify.js';
import { linksIn } from '../core/page/links.js';
import type { Parent } from '../core/page/tree.js';
import { type Page, placeAt } from '../core/page/parse.js';
import { comparePages, type Difference, type Sameness, type Shown, type Verdict } from '../core/page/same.js';
import { folderOf } from '../core/page/url.js';
import { type ExpandedPage, expandedPage } from '../core/style/plan.js';
import { count } from '../terminal/style.js';
import type { LaunchBrowser } from '../verify/browser.js';
import type { SourceFile, Unreadable } from '../workspace/files.js';
import { journaledOriginals, type Original, type Originals, originalsOf } from '../workspace/originals.js';
import {
  type LoadedPages,
  eachPage,
  openProject,
  type Project,
  readPages,
  spaceShown,
  whileSettled,
} from '../workspace/project.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { asError, type CheckProblem, eachOnce, unknownUses } from '../workspace/wrong-uses.js';
import { type CheckedSheet, type StyleChecker, styleChecker } from './checked-styles.js';
import { type Edited, editedFiles } from './edited.js';
import { tellNotices } from './notices.js';
import { launcherFor, type Pictured, type PictureOptions } from './drawn.js';

export interface CheckOptions extends PictureOptions {
  against?: string;
  advice?: boolean;
}

/**
 * Checks all pages and components on disk.
 * @param options against: a folder or git revision that has the pages as they were; by default the journal has them
 */
export async function checkProject(cwd: string, options: CheckOptions = {}): Promise<Checked> {
  const launch = await launcherFor(options);
  const project = await openProject(cwd);
  return whileSettled(project, () => checkOpened(project, cwd, options, launch));
}

async function checkOpened(
  project: Project,
  cwd: string,
  { against, advice, ...looking }: CheckOptions,
  launch: LaunchBrowser | null,
): Promise<Checked> {
  tellNotices(project);
  const loaded = await readPages(project, project.root, []);
  const { files, unreadable } = loaded;
  const originals = against === undefined ? journaledOriginals(project) : await originalsOf(project, cwd, against);
  const sheets = await loadStylesheets(project);
  const edited = against === undefined ? editedFiles(project, files, sheets.files) : null;
  const shown = await spaceShown(project, loaded.pages);
  const changed = edited?.changed ?? new Set<string>();
  const mayHaveStyles = (project.registry.size > 0 || originals.paths.length > 0) && sheets.sources.size > 0;
  const styles = mayHaveStyles ? styleChecker({ project, sheets, originals, changed }, advice === true) : null;
  const proven = provePages({ project, loaded, originals, edited, shown, styles });
  const { parsed: pages } = proven;
  const problems = [
    ...templateProblems(project.registry).map(asError),
    ...proven.problems,
    ...goneFiles(
      originals,
      new Set([...files.keys(), ...sheets.files.keys(), ...unreadable.map(({ path }) => path)]),
      against !== undefined,
    ),
    ...unusedComponents(project, proven.used),
    ...missingFiles(proven.links, project),
  ];
  // where a page cannot be expanded, what dresses it is not known
  const { sheets: stylesheets, problems: ofStyles } =
    styles === null || !proven.isWhole ? { sheets: [], problems: [] } : styles.checked();
  problems.push(...ofStyles);
  const unproven = proven.unproven.filter(({ uses }) => against !== undefined || uses > 0).map(({ path }) => path);
  const isProven = against !== undefined || proven.pages.length > 0 || unproven.length === 0;
  const isSame = [...proven.pages, ...stylesheets].every(
    ({ same, edited: mine }) => same !== 'different' || mine.length > 0,
  );
  problems.push(...[...unreadable, ...originals.unreadable].map(unreadableFile));
  const { picturesOfCheck } = launch === null ? {} : await import('./pictured.js');
  const drawing = { project, pages, files, originals, sheets, changed };
  const pictured = (await picturesOfCheck?.(launch!, drawing, looking)) ?? null;
  return {
    root: project.root,
    pages: proven.pages,
    stylesheets,
    problems: eachOnce(problems),
    unified: originals.unified,
    unproven,
    unreadable: [...unreadable, ...originals.unreadable],
    advice: advice === true ? await adviceOn(project, pages, sheets.sources) : null,
    pictured,
    against: against ?? null,
    passed:
      isProven && isSame && pictured?.isSame !== false && problems.every(({ severity }) => severity === 'warning'),
  };
}

/** @param sheets texts of stylesheets, by path */
async function adviceOn(project: Project, pages: Page[], sheets: ReadonlyMap<string, string>): Promise<Advice[]> {
  const { registry, data } = project;
  const { adviceFor } = await import('../core/lift/advice.js');
  return adviceFor({ pages, registry, data, sheets });
}

interface Proving {
  project: Project;
  loaded: LoadedPages;
  originals: Originals;
  /** null where nothing says what was edited */
  edited: Edited | null;
  shown: Shown;
  /** looks at each page that can be expanded; null where there are no styles to check */
  styles: StyleChecker | null;
}

interface Proven {
  /** the pages that could be parsed */
  parsed: Page[];
  pages: CheckedPage[];
  problems: CheckProblem[];
  /** pages that nothing says of what they were, with the uses in them */
  unproven: { path: string; uses: number }[];
  /** names of the components that took part in pages */
  used: Set<string>;
  /** every page can be expanded */
  isWhole: boolean;
  links: LinkTargets;
}

/** The files that relative URLs point at, by path: with the first of these URLs, and how many there are. */
type LinkTargets = Map<string, { url: string; place: Place; count: number }>;

/** Compares what the pages expand to with what they were, one after the other: the trees of each are let go. */
function provePages({ project, loaded, originals, edited, shown, styles }: Proving): Proven {
  const { registry } = project;
  const proven: Proven = {
    parsed: [],
    pages: [],
    problems: [],
    unproven: [],
    used: new Set(),
    isWhole: true,
    links: new Map(),
  };
  const urlKindOf = urlKindIn(registry);
  for (const page of eachPage(loaded)) {
    proven.parsed.push(page);
    const original = originals.of(page.path);
    let expanded: ExpandedPage | null = null;
    try {
      expanded = expandedPage(page, registry);
      for (const name of expanded.components) proven.used.add(name);
      proven.problems.push(...expanded.problems.map(asError));
      const made = [page.path, ...[...expanded.components].map((name) => registry.get(name)!.path)];
      if (original === null) proven.unproven.push({ path: page.path, uses: expanded.uses.length });
      else if ('lost' in original) proven.problems.push(originalLost(page.path, original.lost));
      else
        proven.pages.push({
          path: page.path,
          ...(writtenOtherwise(loaded.files.get(page.path)!, original) ??
            verdictOn(comparePages(page.path, original.text, expanded.page, shown))),
          edited: edited === null ? [] : [...made, ...edited.gone].filter((path) => edited.changed.has(path)),
        });
    } catch (error) {
      if (!(error instanceof Problem) || error.place === undefined) throw error;
      proven.problems.push({ kind: 'unreadable-use', message: error.message, severity: 'error', ...error.place });
    }
    proven.problems.push(...unknownUses(page, registry, originals));
    addLinks({ holder: page, parent: page.root, folder: folderOfPage(page) }, urlKindOf, proven.links);
    if (expanded === null) proven.isWhole = false;
    else styles?.look(expanded);
    expanded?.page.release?.();
  }
  return proven;
}

function verdictOn({ same, first }: Verdict): Pick<CheckedPage, 'same' | 'first'> {
  return { same, first };
}

function unreadableFile({ path, why, harmless }: Unreadable): CheckProblem {
  const severity = harmless === true ? 'warning' : 'error';
  return { kind: 'unreadable-file', message: why, severity, path, line: 1, column: 1 };
}

/** What there was and is not there any more. */
function goneFiles({ paths }: Originals, there: ReadonlySet<string>, isError: boolean): CheckProblem[] {
  return paths
    .filter((path) => !there.has(path))
    .map((path) => {
      const what = path.endsWith('.css') ? 'stylesheet' : 'page';
      return {
        kind: `${what}-gone`,
        message: isError ? `this ${what} was there and is gone` : `this ${what} was lifted and is gone`,
        severity: isError ? 'error' : 'warning',
        path,
        line: 1,
        column: 1,
      };
    });
}

/** @param used names of the components that took part in pages */
function unusedComponents({ registry }: Project, used: ReadonlySet<string>): CheckProblem[] {
  const all = new Set(used);
  return [...registry.values()].flatMap((component): CheckProblem[] => {
    for (const name of usesIn(component, registry)) if (all.has(component.name)) all.add(name);
    if (all.has(component.name)) return [];
    const place = placeAt(component, component.template.start);
    return [{ kind: 'unused-component', message: `${component.name} is used nowhere`, severity: 'warning', ...place }];
  });
}

/** What differs where a page is not written in the bytes of its first lift; null where it is. */
function writtenOtherwise(
  { encoding, bom }: SourceFile,
  original: Original,
): Pick<CheckedPage, 'same' | 'first'> | null {
  const spelled = (label: string | undefined, mark: boolean | undefined) =>
    `${label ?? encoding}${mark === true ? ' with a byte-order mark' : ''}`;
  const [now, then] = [spelled(encoding, bom), spelled(original.encoding, original.bom ?? bom)];
  if (now === then) return null;
  return { same: 'different', first: { line: 1, column: 1, what: `it is written in ${now}, and was in ${then}` } };
}

/** A page or stylesheet that cannot be proven, for what it was is not there. */
function originalLost(path: string, why: string): CheckProblem {
  return { kind: 'original-lost', message: `it cannot be proven: ${why}`, severity: 'error', path, line: 1, column: 1 };
}

interface LinkHolder {
  holder: Pick<Page, 'path' | 'source'>;
  parent: Parent;
  /** that its URLs are relative to; null where that is elsewhere */
  folder: string | null;
}

/** Adds the relative URLs of a page or template. */
function addLinks(
  { holder, parent, folder }: LinkHolder,
  urlKindOf: ReturnType<typeof urlKindIn>,
  targets: LinkTargets,
): void {
  for (const { url, target, start } of folder === null ? [] : linksIn(parent, holder.source, folder, urlKindOf)) {
    if (target === null) continue;
    const known = targets.get(target);
    if (known === undefined) targets.set(target, { url, place: placeAt(holder, start), count: 1 });
    else known.count++;
  }
}

/**
 * Relative URLs that point at no file, in pages and templates; one a target, with its first place.
 * @param targets links of pages; those of templates are added
 */
function missingFiles(targets: LinkTargets, { root, registry }: Project): CheckProblem[] {
  const urlKindOf = urlKindIn(registry);
  for (const each of registry.values())
    addLinks({ holder: each, parent: each.template, folder: folderOf(each.path) }, urlKindOf, targets);
  return [...targets].flatMap(([target, first]): CheckProblem[] => {
    if (existsSync(join(root, target))) return [];
    const also = first.count === 1 ? '' : `, here and in ${count(first.count - 1, 'other place')}`;
    const message = `${shownValue(first.url)} points at no file${also}`;
    return [{ kind: 'missing-file', message, severity: 'warning', ...first.place }];
  });
}

export interface CheckedPage {
  path: string;
  same: Sameness;
  first: Difference | null;
  /** what the user changed since the last lift that this page is made of */
  edited: string[];
}

export interface Checked {
  /** absolute path of the project */
  root: string;
  pages: CheckedPage[];
  stylesheets: CheckedSheet[];
  problems: CheckProblem[];
  /** what pages say otherwise than they did, because it was asked for */
  unified: Unified[];
  /** pages that nothing says of what they were */
  unproven: string[];
  unreadable: Unreadable[];
  /** what could be said with less; null where it was not asked for */
  advice: Advice[] | null;
  /** what the browser saw; null where it was not asked */
  pictured: Pictured | null;
  /** what the pages were compared with: a folder or revision; null for what the journal keeps */
  against: string | null;
  /** false when the promise is broken, a use is wrong, or nothing could be proven */
  passed: boolean;
}
