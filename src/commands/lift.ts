/** `lift`: writes components and rewrites the pages to use them; proven before and after it is written. */
import type { Command } from 'commander';
import { Problem } from '../core/errors.js';
import { expandPage } from '../core/component/expand.js';
import { readComponents } from '../core/component/read.js';
import { type LiftPlan, planLift } from '../core/lift/plan.js';
import { lineCount, parsePage } from '../core/page/parse.js';
import { comparePages, type Sameness } from '../core/page/same.js';
import type { Finding } from '../core/survey/types.js';
import { count, dim, green, number, terminalWidth, yellow } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { encode } from '../workspace/encoding.js';
import { readSource, type SourceFile } from '../workspace/files.js';
import { Journal } from '../workspace/journal.js';
import { type Project, storiesOf } from '../workspace/project.js';
import { type PlannedFile, writeAll } from '../workspace/transaction.js';
import { print, printJson, tellUnreadable, type ThresholdOptions, withThresholds } from './context.js';
import { type PointedAt, pointAt, type PointingOptions, tellPointed, withPointing } from './pointing.js';
import { pick } from './show.js';
import { type Surveyed, surveyProject } from './survey.js';

interface Options extends ThresholdOptions, PointingOptions {
  recommended?: boolean;
  dryRun?: boolean;
  force?: boolean;
  json?: boolean;
  cut?: string;
}

export function define(program: Command): void {
  withThresholds(withPointing(program.command('lift').argument('[names...]', 'findings of the survey')))
    .description('write components and rewrite the pages to use them')
    .option('--recommended', 'lift all findings that the survey recommends')
    .option('--cut <number>', 'of one finding, another way to cut it: see estrade show')
    .option('--dry-run', 'print what would change as a patch, write nothing')
    .option('--force', 'overwrite a file that stands where a component goes; the journal keeps it')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade lift boat-card sailing-row --dry-run\n  estrade lift --at index.html:34 --name harbour-panel --alike',
    )
    .action(async (names: string[], options: Options) => {
      const lifted = await liftProject(process.cwd(), names, options);
      if (options.dryRun === true && options.json !== true) await printPatch(lifted);
      else if (options.json === true) printJson(toJson(lifted));
      else printLift(lifted);
      if (lifted.pointed !== null && options.json !== true && options.dryRun !== true) tellPointed(lifted.pointed);
      if (tellUnreadable(lifted.surveyed.unreadable)) process.exitCode = 2;
    });
}

export interface Lifted {
  surveyed: Surveyed;
  findings: Finding[];
  plan: LiftPlan;
  written: boolean;
  /** what was pointed at, instead of named */
  pointed: PointedAt | null;
}

/** Plans and, unless it is a dry run, writes a lift. */
export async function liftProject(cwd: string, names: string[], options: Options): Promise<Lifted> {
  const pointed = await pointAt(cwd, [...names, ...(options.recommended === true ? ['--recommended'] : [])], options);
  if (names.length === 0 && options.recommended !== true && pointed === null)
    throw new Problem('nothing is named to be lifted', {
      hint: 'name findings of the survey, use --recommended, or point with --at, --lines or --select',
    });
  const surveyed = pointed?.surveyed ?? (await surveyProject(cwd, [], options));
  const { project, pages, files } = surveyed;
  const named = pointed === null ? [...new Set(names)].map((name) => pick(surveyed.findings, name)) : [pointed.finding];
  const findings =
    options.cut !== undefined
      ? [pickCut(surveyed, named, options)]
      : options.recommended === true
        ? surveyed.findings.filter((each) => each.recommended || named.includes(each))
        : named;
  if (findings.length === 0)
    throw new Problem('the survey recommends nothing here', {
      exit: 1,
      hint: 'estrade survey --all lists all findings',
    });
  const origins = originsOf(project, surveyed);
  const plan = planLift({
    pages,
    components: project.componentFiles,
    findings,
    componentFolder: project.config.components,
    data: { folder: project.config.data, limit: project.config.inlineList, files: project.data },
    origins,
  });
  if (plan.pages.length === 0)
    throw new Problem('no place can be lifted', {
      exit: 1,
      details: plan.leftOut.map(leftOutText),
      hint: 'nothing was written',
    });
  const components = plan.components.map(({ path, source }) => ({
    path,
    source,
    there: inTheWay(project, path, options),
  }));
  for (const { path } of plan.data) inTheWay(project, path, options);
  const lifted = { surveyed, findings, plan, written: false, pointed };
  if (options.dryRun === true) return lifted;

  const planned: PlannedFile[] = [
    ...components.map(({ path, source, there }) => ({
      path,
      before: there?.bytes ?? null,
      after: Buffer.from(source),
      origin: null,
    })),
    ...plan.data.map(({ path, text }) => ({ path, before: null, after: Buffer.from(text), origin: null })),
    ...plan.pages.map(({ path, after }): PlannedFile => {
      const file = files.get(path)!;
      return { path, before: file.bytes, after: encode(after, file), origin: Buffer.from(origins.get(path)!) };
    }),
  ];
  const flags = [
    ...(options.recommended === true ? ['--recommended'] : []),
    ...(options.cut ? ['--cut', options.cut] : []),
    ...(pointed === null ? [] : [pointed.again]),
  ];
  const command = ['lift', ...flags, ...names].join(' ');
  await writeAll(project.root, command, planned, () => proveFromDisk(project, planned));
  return { ...lifted, written: true };
}

/** The way to cut that was asked for by its number. @throws Problem (exit 2) */
function pickCut({ cutsOf }: Surveyed, named: Finding[], { cut, recommended }: Options): Finding {
  const [finding] = named;
  if (finding === undefined || named.length > 1 || recommended === true)
    throw new Problem('--cut needs exactly one finding', { hint: 'estrade show <name> lists the ways to cut it' });
  const cuts = cutsOf(finding);
  const found = /^\d+$/.test(cut!) ? cuts[Number(cut) - 1] : undefined;
  if (found !== undefined) return found.finding;
  throw new Problem(`"${cut!}" is no way to cut ${finding.name}`, {
    hint:
      cuts.length === 0
        ? 'it is a component already'
        : `give a number from 1 to ${cuts.length}: estrade show ${finding.name}`,
  });
}

/** A file that stands where a component is to go. @throws Problem without `force`: Estrade did not write it */
function inTheWay(project: Project, path: string, options: Options): SourceFile | null {
  const there = readSource(project.root, path);
  if ('why' in there) return null;
  if (options.force !== true)
    throw new Problem(`${path} is there already, and Estrade did not write it`, {
      exit: 1,
      hint: 'move it, or overwrite it with --force (undo brings it back); nothing was written',
    });
  return there;
}

/**
 * The static page that each page must expand to: the one of its first lift as long as it does, else what it gives now,
 * for then it was edited since.
 */
function originsOf(project: Project, { pages }: Surveyed): Map<string, string> {
  const stories = storiesOf(project.entries);
  const journal = new Journal(project.root);
  return new Map(
    pages.map((page) => {
      const now = expandPage(page, project.registry).text;
      const digest = stories.get(page.path)?.origin ?? null;
      const first = digest === null ? now : journal.read(digest).toString('utf8');
      return [page.path, comparePages(page.path, first, now).same === 'different' ? now : first];
    }),
  );
}

/** Reads back what was written and proves it again. @throws Problem (exit 1), upon which all is taken back */
function proveFromDisk(project: Project, planned: PlannedFile[]): void {
  const { root } = project;
  const read = (path: string): string => {
    const file = readSource(root, path);
    if ('why' in file)
      throw new Problem(`${path} cannot be read back: ${file.why}`, { exit: 1, hint: 'all is as it was' });
    return file.text;
  };
  const components = new Map(project.componentFiles.map(({ path }) => [path, read(path)]));
  const data = new Map(project.data);
  for (const { path, origin } of planned)
    if (origin === null) (path.endsWith('.json') ? data : components).set(path, read(path));
  const registry = readComponents(
    [...components].map(([path, source]) => ({ path, source })),
    data,
  );
  for (const { path, origin } of planned) {
    if (origin === null) continue;
    const { text } = expandPage(parsePage(path, read(path)), registry);
    const { same, first } = comparePages(path, origin.toString('utf8'), text);
    if (same === 'different')
      throw new Problem(`read back, this page is not the same: ${first!.what}`, {
        exit: 1,
        place: { path, line: first!.line, column: first!.column },
        hint: 'all is as it was',
      });
  }
}

async function printPatch({ plan, surveyed }: Lifted): Promise<void> {
  const { unifiedDiff } = await import('../terminal/diff.js');
  const utf8 = (text: string) => Buffer.from(text);
  for (const { path, text } of plan.data)
    process.stdout.write(unifiedDiff({ path, before: null, after: text, encode: utf8 }));
  for (const { path, source } of plan.components)
    process.stdout.write(unifiedDiff({ path, before: null, after: source, encode: utf8 }));
  for (const { path, before, after } of plan.pages) {
    const file = surveyed.files.get(path)!;
    process.stdout.write(unifiedDiff({ path, before, after, encode: (text) => encode(text, { ...file, bom: false }) }));
  }
}

function printLift({ findings, plan }: Lifted): void {
  const rows = findings.flatMap((finding) => {
    const uses = plan.uses.get(finding.name) ?? 0;
    const path =
      finding.component?.path ?? plan.components.find((each) => each.path.endsWith(`/${finding.name}.html`))?.path;
    // one without uses in pages stands in the templates of others
    return path === undefined || (uses === 0 && finding.component !== null)
      ? []
      : [[finding.name, uses === 0 ? 'in others' : number(uses), path]];
  });
  print(
    table(
      [{ title: 'component' }, { title: 'uses', align: 'right', fixed: true }, { title: 'file' }],
      rows,
      terminalWidth(),
    ),
  );
  const { before, after } = lines(plan);
  const tally = tallyOf(plan.pages.map(({ same }) => same));
  print(
    `\n${count(plan.pages.length, 'page')} rewritten: ${number(before)} lines became ${number(after)}, components included.`,
  );
  if (plan.data.length > 0) print(`Lists too long for a page: ${plan.data.map(({ path }) => path).join(', ')}.`);
  print(`${green('Proven from disk:')} ${tally}.`);
  for (const each of plan.leftOut) print(yellow(`left as it was: ${leftOutText(each)}`));
  print(dim('Next: estrade check, estrade expand --out dist; estrade undo takes this back'));
}

function leftOutText({ finding, path, line, column, why }: LiftPlan['leftOut'][number]): string {
  return `${path}:${line}:${column} (${finding}): ${why}`;
}

function lines(plan: LiftPlan): { before: number; after: number } {
  const sum = (sources: string[]) => sources.reduce((total, source) => total + lineCount({ source }), 0);
  return {
    before: sum(plan.pages.map(({ before }) => before)),
    after: sum([
      ...plan.pages.map(({ after }) => after),
      ...plan.components.map(({ source }) => source),
      ...plan.data.map(({ text }) => text),
    ]),
  };
}

/** `12 pages to the byte, 1 as markup`. */
export function tallyOf(samenesses: Sameness[]): string {
  const of = (same: Sameness) => samenesses.filter((each) => each === same).length;
  const parts = [`${count(of('bytes'), 'page')} the same to the byte`];
  if (of('markup') > 0) parts.push(`${of('markup')} as markup (indentation differs)`);
  if (of('different') > 0) parts.push(`${of('different')} different`);
  return parts.join(', ');
}

function toJson({ findings, plan, written }: Lifted) {
  return {
    format: 1,
    written,
    components: findings
      .filter(
        ({ name }) =>
          (plan.uses.get(name) ?? 0) > 0 || plan.components.some(({ path }) => path.endsWith(`/${name}.html`)),
      )
      .map((finding) => ({
        name: finding.name,
        path: plan.registry.get(finding.name)!.path,
        new: finding.component === null,
        uses: plan.uses.get(finding.name) ?? 0,
      })),
    data: plan.data.map(({ path }) => path),
    pages: plan.pages.map(({ path, uses, same }) => ({ path, uses, same })),
    lines: lines(plan),
    leftOut: plan.leftOut,
  };
}
