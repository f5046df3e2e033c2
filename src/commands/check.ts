/** `check`: proves the promise again from the files on disk, and finds uses that are wrong. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Command } from 'commander';
import { expandPage, folderOfPage } from '../core/component/expand.js';
import { templateProblems } from '../core/component/problems.js';
import { urlKindIn, usesIn } from '../core/component/read.js';
import { type Place, placeText, Problem, shownValue } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import { linksIn } from '../core/page/links.js';
import { folderOf } from '../core/page/url.js';
import { type Page, placeAt } from '../core/page/parse.js';
import { comparePages, type Difference, type Sameness } from '../core/page/same.js';
import { count, dim, green, red, terminalWidth, yellow } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { digest, type SourceFile } from '../workspace/files.js';
import { Journal } from '../workspace/journal.js';
import {
  loadPages,
  openProject,
  type Project,
  storiesOf,
  type Story,
  spaceShown,
  whileSettled,
} from '../workspace/project.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import type { CheckedSheet } from './checked-styles.js';
import { asError, type CheckProblem, eachOnce, unknownUses, writtenNames } from './problems.js';
import { print, printJson, tellNotices, tellUnreadable } from './context.js';
import { tallyOf, unifiedText } from './lifted.js';
import type { Unreadable } from '../workspace/files.js';

export interface CheckedPage {
  path: string;
  same: Sameness;
  first: Difference | null;
  /** what the user changed since the last lift that this page is made of */
  edited: string[];
}

export interface Checked {
  pages: CheckedPage[];
  stylesheets: CheckedSheet[];
  problems: CheckProblem[];
  /** what pages say otherwise than they did, because it was asked for */
  unified: Unified[];
  unreadable: Unreadable[];
  /** false when the promise is broken or a use is wrong */
  passed: boolean;
}

/** Checks all pages and components on disk. */
export async function checkProject(cwd: string): Promise<Checked> {
  const project = await openProject(cwd);
  return whileSettled(project, () => checkOpened(project));
}

async function checkOpened(project: Project): Promise<Checked> {
  tellNotices(project);
  const { pages, files, unreadable } = await loadPages(project, project.root, []);
  const shown = await spaceShown(project, pages);
  const stories = storiesOf(project.entries);
  const journal = new Journal(project.root);
  const sheets = project.registry.size > 0 || stories.size > 0 ? await loadStylesheets(project) : null;
  const edited = editedFiles(project, (path) => (files.get(path) ?? sheets?.files.get(path))?.bytes);
  const unified = project.entries.flatMap((entry) => entry.unified ?? []);
  const checked: Checked = { pages: [], stylesheets: [], problems: [], unified, unreadable, passed: true };
  const used = new Set<string>();
  const names = writtenNames(stories);
  checked.problems.push(...templateProblems(project.registry).map(asError));
  for (const page of pages) {
    const story = stories.get(page.path);
    const origin = story?.origin ? journal.textOf(story.origin) : null;
    try {
      const expanded = expandPage(page, project.registry);
      for (const name of expanded.components) used.add(name);
      checked.problems.push(...expanded.problems.map(asError));
      if (origin !== null) {
        const made = [...expanded.components].map((name) => project.registry.get(name)!.path);
        const parts = [page.path, ...made, ...edited.gone];
        if ('lost' in origin) checked.problems.push(originalLost(page.path, origin.lost));
        else
          checked.pages.push({
            path: page.path,
            ...(writtenOtherwise(files.get(page.path)!, story!) ??
              comparePages(page.path, origin.text, expanded.text, shown)),
            edited: parts.filter((path) => edited.changed.has(path)),
          });
      }
    } catch (error) {
      if (!(error instanceof Problem) || error.place === undefined) throw error;
      checked.problems.push({ kind: 'unreadable-use', message: error.message, severity: 'error', ...error.place });
    }
    const original = origin !== null && 'text' in origin ? origin.text : null;
    checked.problems.push(...unknownUses(page, project.registry, names, () => original));
  }
  for (const [path, story] of stories)
    if (story.origin !== null && !pages.some((page) => page.path === path) && sheets?.files.has(path) !== true)
      checked.problems.push({
        kind: path.endsWith('.css') ? 'stylesheet-gone' : 'page-gone',
        message: `this ${path.endsWith('.css') ? 'stylesheet' : 'page'} was lifted and is gone`,
        severity: 'warning',
        path,
        line: 1,
        column: 1,
      });
  for (const component of project.registry.values()) {
    for (const name of usesIn(component, project.registry)) if (used.has(component.name)) used.add(name);
    if (!used.has(component.name))
      checked.problems.push({
        kind: 'unused-component',
        message: `${component.name} is used nowhere`,
        severity: 'warning',
        ...placeAt(component, component.template.start),
      });
  }
  checked.problems.push(...missingFiles(pages, project));
  if (sheets !== null && sheets.sources.size > 0 && !checked.problems.some(({ kind }) => kind === 'unreadable-use')) {
    const { checkStyles } = await import('./checked-styles.js');
    const styles = checkStyles(project, pages, sheets, stories, edited.changed);
    checked.stylesheets = styles.sheets;
    checked.problems.push(...styles.problems);
  }
  checked.problems = eachOnce(checked.problems);
  checked.passed =
    [...checked.pages, ...checked.stylesheets].every(
      ({ same, edited: mine }) => same !== 'different' || mine.length > 0,
    ) && checked.problems.every(({ severity }) => severity === 'warning');
  return checked;
}

/** What differs where a page is not written in the bytes of its first lift; null where it is. */
function writtenOtherwise({ encoding, bom }: SourceFile, story: Story): Pick<CheckedPage, 'same' | 'first'> | null {
  const spelled = (label: string | undefined, mark: boolean | undefined) =>
    `${label ?? encoding}${mark === true ? ' with a byte-order mark' : ''}`;
  const [now, then] = [spelled(encoding, bom), spelled(story.encoding, story.bom ?? bom)];
  if (now === then) return null;
  return { same: 'different', first: { line: 1, column: 1, what: `it is written in ${now}, and was in ${then}` } };
}

/** A page or stylesheet that cannot be proven, for what it was is not there. */
function originalLost(path: string, why: string): CheckProblem {
  return { kind: 'original-lost', message: `it cannot be proven: ${why}`, severity: 'error', path, line: 1, column: 1 };
}

/** Relative URLs that point at no file, in pages and templates; one a target, with its first place. */
function missingFiles(pages: Page[], { root, registry }: Project): CheckProblem[] {
  const urlKindOf = urlKindIn(registry);
  const holders = [
    ...pages.map((page) => ({ holder: page, parent: page.root, folder: folderOfPage(page) })),
    ...[...registry.values()].map((each) => ({ holder: each, parent: each.template, folder: folderOf(each.path) })),
  ];
  const targets = new Map<string, { url: string; place: Place }[]>();
  for (const { holder, parent, folder } of holders)
    for (const { url, target, start } of folder === null ? [] : linksIn(parent, holder.source, folder, urlKindOf)) {
      if (target === null) continue;
      const places = targets.get(target) ?? [];
      targets.set(target, places);
      places.push({ url, place: placeAt(holder, start) });
    }
  return [...targets].flatMap(([target, [first, ...more]]): CheckProblem[] => {
    if (existsSync(join(root, target))) return [];
    const also = more.length === 0 ? '' : `, here and in ${count(more.length, 'other place')}`;
    const message = `${shownValue(first!.url)} points at no file${also}`;
    return [{ kind: 'missing-file', message, severity: 'warning', ...first!.place }];
  });
}

interface Edited {
  /** files that are not as the last write left them */
  changed: Set<string>;
  /** component files that were written and are gone */
  gone: string[];
}

function editedFiles(project: Project, bytesOf: (path: string) => Buffer | undefined): Edited {
  const components = new Map(project.componentFiles.map(({ path, file }) => [path, file.bytes]));
  const edited: Edited = { changed: new Set(), gone: [] };
  for (const [path, { after, origin }] of storiesOf(project.entries)) {
    const bytes = components.get(path) ?? bytesOf(path);
    if (bytes === undefined || digest(bytes) !== after) edited.changed.add(path);
    if (origin === null && bytes === undefined) edited.gone.push(path);
  }
  return edited;
}

export function define(program: Command): void {
  program
    .command('check')
    .description('prove again, from disk, that the pages expand to what they were; find wrong uses')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade check')
    .action(async (options: { json?: boolean }) => {
      const checked = await checkProject(process.cwd());
      if (options.json === true)
        printJson({
          format: 1,
          passed: checked.passed,
          pages: checked.pages,
          stylesheets: checked.stylesheets,
          unified: checked.unified,
          problems: checked.problems,
        });
      else printCheck(checked);
      process.exitCode = tellUnreadable(checked.unreadable) ? 2 : checked.passed ? 0 : 1;
    });
}

function printCheck({ pages, stylesheets, problems, unified, passed }: Checked): void {
  if (pages.length === 0) print('No page here has been lifted, so there is nothing to prove.');
  else {
    const rows = [...pages, ...stylesheets].map(({ path, same, first, edited }) => [
      path,
      same === 'different' ? (edited.length > 0 ? yellow('edited') : red('different')) : green(same),
      same === 'different' ? `${first!.line}:${first!.column} ${first!.what}` : '',
      same !== 'different' ? '' : edited.join(', '),
    ]);
    const columns = [
      { title: stylesheets.length > 0 ? 'file' : 'page' },
      { title: 'same', fixed: true },
      { title: 'first difference to the original' },
      { title: 'you edited' },
    ];
    const plain = rows.every((row) => row[2] === '');
    print(
      table(plain ? columns.slice(0, 2) : columns, plain ? rows.map((row) => row.slice(0, 2)) : rows, terminalWidth()),
    );
    print('');
  }
  for (const each of unified) print(`${dim('unified')}  ${unifiedText(each)}`);
  for (const problem of problems)
    print(`${problem.severity === 'error' ? red('wrong') : yellow('note')}  ${placeText(problem)}: ${problem.message}`);
  const own = [...pages, ...stylesheets].filter(({ same, edited }) => same === 'different' && edited.length > 0).length;
  const proven = pages.filter(({ same, edited }) => same !== 'different' || edited.length === 0);
  if (proven.length > 0)
    print(
      `${passed ? green('Proven:') : red('Not proven:')} ${tallyOf(proven.map(({ same }) => same))}${sheetTally(stylesheets)}${unified.length > 0 ? ', but for what was unified' : ''}.`,
    );
  if (own > 0) print(dim(`${count(own, 'file')} made of what you edited: the difference is yours.`));
}

/** `; the stylesheet to the byte`, of those that were not edited. */
function sheetTally(sheets: CheckedSheet[]): string {
  const of = (same: CheckedSheet['same']) =>
    sheets.filter((each) => each.same === same && (same !== 'different' || each.edited.length === 0)).length;
  const parts = [
    [of('bytes'), 'to the byte'],
    [of('cascade'), 'with the same declarations winning'],
    [of('different'), 'different'],
  ] as const;
  return parts.flatMap(([many, how]) => (many === 0 ? [] : [`, ${count(many, 'stylesheet')} ${how}`])).join('');
}
