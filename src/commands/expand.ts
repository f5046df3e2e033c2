/** `expand`: builds the static site from pages and components. */
import type { Command } from 'commander';
import { expandPage } from '../core/component/expand.js';
import type { UseProblem } from '../core/component/problems.js';
import { type Place, placeText } from '../core/errors.js';
import type { Page } from '../core/page/parse.js';
import { count, dim, yellow } from '../terminal/style.js';
import { progress } from '../terminal/progress.js';
import { encode } from '../workspace/encoding.js';
import {
  followingLinks,
  type Output,
  type OutputFile,
  otherFiles,
  outputFolder,
  readInside,
  refuseForeignFolder,
  refuseSourceFolder,
  writeOutput,
} from '../workspace/output.js';
import { loadPages, openProject, type Project, whileSettled } from '../workspace/project.js';
import { readSource, type Unreadable } from '../workspace/files.js';
import { asError, type CheckProblem, refuseWrong, wrongUses } from './problems.js';
import { print, printJson, tellNotices, tellUnreadable } from './context.js';

export interface ExpandedSite extends Output {
  pages: number;
  uses: number;
  copied: number;
  problems: CheckProblem[];
  unreadable: Unreadable[];
}

export interface ExpandOptions {
  /** where the site goes */
  out: string;
  /** overwrite files there that expand did not write */
  force?: boolean;
  /** build all the same where components or uses are wrong */
  lenient?: boolean;
}

/** Expands all pages into `out` and copies everything else there. */
export async function expandProject(cwd: string, options: ExpandOptions): Promise<ExpandedSite> {
  const project = await openProject(cwd);
  return whileSettled(project, () => expandOpened(project, cwd, options));
}

async function expandOpened(
  project: Project,
  cwd: string,
  { out, force = false, lenient = false }: ExpandOptions,
): Promise<ExpandedSite> {
  tellNotices(project);
  const { root } = project;
  const folder = outputFolder(project, cwd, out);
  await refuseSourceFolder(root, folder, { forCode: false, linked: new Set() });
  if (!force) refuseForeignFolder(root, folder);
  const { pages, files, unreadable } = await loadPages(project, root, []);
  const checked: { page: Page; problems: UseProblem[] }[] = [];
  let uses = 0;
  const expanding = progress('expanding page');
  const output = pages.map((page, i): OutputFile => {
    expanding.tick(i, pages.length);
    const expanded = expandPage(page, project.registry);
    checked.push({ page, problems: expanded.problems });
    uses += expanded.uses.length;
    const file = files.get(page.path)!;
    // a page without uses is copied as it is
    return { path: page.path, read: () => (expanded.text === page.source ? file.bytes : encode(expanded.text, file)) };
  });
  expanding.end();
  const problems = wrongUses(project, checked);
  if (!lenient) refuseWrong(problems, 'mend them, or build all the same with --lenient');
  const known = new Set([...pages, ...project.componentFiles].map(({ path }) => path));
  const others = await otherFiles(root, known, folder);
  const styles = await filledStyles(project, others);
  problems.push(...styles.problems.map(({ message, place }) => asError({ kind: 'wrong-marker', message, place })));
  for (const path of others) output.push({ path, read: () => styles.bytes.get(path) ?? readInside(root, path) });
  const written = await writeOutput(folder, followingLinks(root, output), force);
  return { ...written, pages: pages.length, uses, copied: others.length, problems, unreadable };
}

function placeIn({ path, line, column }: Place): Place {
  return { path, line, column };
}

/** The stylesheets among `paths` in which styles of components are filled in. */
export async function filledStyles({ root, registry }: Project, paths: string[]) {
  const filled = { bytes: new Map<string, Buffer>(), problems: [] as Pick<UseProblem, 'message' | 'place'>[] };
  for (const path of paths.filter((each) => each.endsWith('.css'))) {
    const file = readSource(root, path);
    if ('why' in file || !/@component\s/i.test(file.text)) continue;
    const { fillMarkers } = await import('../core/style/fill.js');
    const { text, problems } = fillMarkers(path, file.text, registry);
    filled.bytes.set(path, encode(text, file));
    filled.problems.push(...problems);
  }
  return filled;
}

export function define(program: Command): void {
  program
    .command('expand')
    .description('build the static site from pages and components')
    .requiredOption('--out <folder>', 'where the site goes')
    .option('--force', 'overwrite files there that expand did not write')
    .option('--lenient', 'build all the same where components or uses are wrong, and tell what is')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade expand --out dist')
    .action(async (options: ExpandOptions & { json?: boolean }) => {
      const site = await expandProject(process.cwd(), options);
      if (options.json === true) {
        const { pages, uses, copied, written, unchanged, removed } = site;
        const problems = site.problems.map((each) => ({ ...each, place: placeIn(each) }));
        printJson({ format: 1, out: options.out, pages, uses, copied, written, unchanged, removed, problems });
      } else {
        print(
          `${options.out}: ${count(site.pages, 'page')} with ${count(site.uses, 'use')} expanded, ${count(site.copied, 'other file')} copied.`,
        );
        print(
          dim(
            `${count(site.written, 'file')} written, ${site.unchanged} right already, ${site.removed.length} stale removed.`,
          ),
        );
        for (const problem of site.problems) print(yellow(`${placeText(problem)}: ${problem.message}`));
      }
      if (tellUnreadable(site.unreadable)) process.exitCode = 2;
    });
}
