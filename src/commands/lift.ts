/** `lift`: writes components and rewrites the pages to use them; proven before and after it is written. */
import { type Command, Option } from 'commander';
import { Problem } from '../core/errors.js';
import { type LiftPlan, planLift } from '../core/lift/plan.js';
import type { Finding } from '../core/survey/types.js';
import { findProject } from '../workspace/config.js';
import { encode, encodingOf } from '../workspace/encoding.js';
import { readBack, readSource, type SourceFile } from '../workspace/files.js';
import { locked } from '../workspace/lock.js';
import { type Project, spaceShown, surveyedPages } from '../workspace/project.js';
import { type PlannedFile, writeAll } from '../workspace/transaction.js';
import { printJson, tellUnreadable, type ThresholdOptions, withThresholds, hint } from './context.js';
import { alikeLeft, liftJson, printLift, tellJournal, type Lifted } from './lifted.js';
import type { Moving } from './moving.js';
import {
  listed,
  pointAt,
  type PointingOptions,
  tellFixed,
  tellPointed,
  toldOptions,
  wishedFindings,
  withPointing,
} from './pointing.js';
import { pick } from './pick.js';
import { launcherFor, type PictureOptions } from './picture-lines.js';
import { originsOf, type Planned, printPatch, proveFromDisk, type ProvenPage, retold } from './proving.js';
import { surveyProject } from './survey.js';
import type { Surveyed } from './surveyed.js';
import { DRAFT } from '../workspace/draft.js';
import { extended } from './extending.js';
import { keepDecisions } from './keeping.js';
import { acceptedFile, unified, type Unifying } from './unifying.js';

interface Options extends ThresholdOptions, PointingOptions, PictureOptions {
  recommended?: boolean;
  draft?: boolean;
  dryRun?: boolean;
  force?: boolean;
  json?: boolean;
  cut?: string;
  unify?: string[];
  extend?: string;
  styles?: string;
}

export function define(program: Command): void {
  withThresholds(withPointing(program.command('lift').argument('[names...]', 'findings of the survey')))
    .description('write components and rewrite the pages to use them')
    .option('--recommended', 'lift all findings that the survey recommends')
    .option('--draft', `lift what ${DRAFT} takes; so does lift alone, where there is one`)
    .option('--cut <number>', 'of one finding, another way to cut it: see estrade show')
    .option('--unify <prop,…|all>', 'where pages drifted apart, make the odd ones say what most say', listed)
    .option('--extend <component>', 'widen a component for what is nearly a use of it, and lift that')
    .addOption(
      new Option('--styles <what>', 'leave stylesheets alone, or move the rules that are only the component’s')
        .choices(['keep', 'move'])
        .default('keep'),
    )
    .option('--pictures', 'before anything is written, draw every page before and after in Chromium, and compare')
    .option('--computed', 'before anything is written, compare what every element computes to in Chromium')
    .option('--dry-run', 'print what would change as a patch, write nothing')
    .option('--force', 'overwrite a file that stands where a component goes; the journal keeps it')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade lift boat-card sailing-row --dry-run\n  estrade lift --at index.html:34 --name harbour-panel --alike',
    )
    .action(async (names: string[], options: Options) => {
      const lifted = await liftProject(process.cwd(), names, options);
      if (options.dryRun === true && options.json !== true) await printPatch(lifted.files);
      else if (options.json === true) printJson(liftJson(lifted));
      else {
        printLift(lifted);
        if (lifted.surveyed.project.entries.length === 0) await tellJournal(lifted.surveyed.project.root);
        const arrange = lifted.surveyed.project.config.arrange.layout === null ? '' : 'estrade arrange, ';
        hint(`Next: ${arrange}estrade check, estrade expand --out dist; estrade undo takes this back`);
      }
      if (options.json !== true && options.dryRun !== true) tellFixed(lifted.fixed);
      if (lifted.pointed !== null && options.json !== true && options.dryRun !== true) tellPointed(lifted.pointed);
      if (tellUnreadable(lifted.surveyed.unreadable)) process.exitCode = 2;
    });
}

/** Plans and, unless it is a dry run, writes a lift; who writes reads nothing before nobody else can write. */
export async function liftProject(cwd: string, names: string[], options: Options): Promise<Lifted> {
  const lift = () => liftNow(cwd, names, options);
  return options.dryRun === true ? lift() : locked((await findProject(cwd)).root, lift);
}

async function liftNow(cwd: string, names: string[], options: Options): Promise<Lifted> {
  const launch = await launcherFor(options);
  const others = [
    ...names,
    ...(options.recommended === true ? ['--recommended'] : []),
    ...(options.extend === undefined ? [] : ['--extend']),
  ];
  const pointed = await pointAt(cwd, others, options);
  if (options.extend !== undefined) refuseBeside(options, names);
  if (options.unify !== undefined && (pointed !== null || options.cut !== undefined))
    throw new Problem(`--unify goes with names of findings, without ${pointed === null ? '--cut' : 'pointing'}`);
  const first = pointed?.surveyed ?? (await surveyProject(cwd, [], options));
  const byDraft = draftTaken(first, others.length === 0 && pointed === null && options.cut === undefined, options);
  const extending = options.extend === undefined ? null : extended(first, options.extend, options);
  const { surveyed, changes, otherwise }: Unifying =
    options.unify === undefined
      ? { surveyed: extending?.surveyed ?? first, changes: [], otherwise: [] }
      : unified(first, names, options.unify, options);
  const { project, files } = surveyed;
  const named = pointed === null ? [...new Set(names)].map((name) => pick(surveyed, name)) : [pointed.finding];
  const chosen = (extending && [extending.finding]) ?? byDraft ?? chosenOf(surveyed, named, options);
  const wished = wishedFindings(surveyed, chosen, pointed === null ? options : {});
  const { findings } = wished;
  if (findings.length === 0)
    throw new Problem('the survey recommends nothing here', {
      exit: 1,
      hint: 'estrade survey --all lists all findings',
    });
  const shown = await spaceShown(project, surveyed.pages);
  const origins = originsOf(project, surveyed.pages, shown);
  const pages = surveyedPages(surveyed);
  const plan = planLift({
    pages,
    components: project.componentFiles,
    findings,
    componentFolder: project.config.components,
    data: { folder: project.config.data, limit: project.config.inlineList, files: project.data },
    maxPageSize: project.config.maxPageSize,
    origins,
    shown,
  });
  if (plan.pages.length + plan.templates.length === 0)
    throw new Problem('no place can be lifted', {
      exit: 1,
      details: alikeLeft(plan.leftOut),
      hint: 'nothing was written',
    });
  for (const { path } of changes)
    if (!plan.pages.some((page) => page.path === path))
      throw new Problem(`${path} cannot be unified: the part in it cannot be lifted`, {
        exit: 1,
        details: alikeLeft(plan.leftOut),
        hint: 'nothing was written',
      });
  for (const page of plan.pages) page.before = files.get(page.path)!.text;
  const moving = options.styles === 'move' ? await movingWith(plan, surveyed) : null;
  const planned = plannedFiles({ surveyed, plan, moving, origins }, options);
  if (extending !== null && !planned.some(({ path }) => path === extending.file.path)) planned.push(extending.file);
  if (changes.length > 0) planned.push(await acceptedFile(first, changes, origins));
  const encodings = planned.flatMap(readOtherwise);
  const pageAt = new Map(pages.map((page) => [page.path, page]));
  const proven = [...plan.pages, ...plan.proven].map(({ path }) => ({
    path,
    // as the journal keeps it
    origin: Buffer.from(origins.get(path)!).toString('utf8'),
    file: files.get(path)!,
    page: pageAt.get(path)!,
  }));
  const { picturesOfLift } = launch === null ? {} : await import('./pictured.js');
  const pictured = (await picturesOfLift?.(launch!, { project, planned, pages: proven }, options)) ?? null;
  const lifted = {
    surveyed,
    findings,
    plan,
    written: false,
    files: planned,
    pointed,
    fixed: wished.leftOut,
    unified: changes,
    otherwise,
    encodings,
    moving,
    extended: extending,
    pictured,
  };
  if (options.dryRun === true) return lifted;

  const flags = [
    ...(options.recommended === true ? ['--recommended'] : []),
    ...(options.cut ? ['--cut', options.cut] : []),
    ...(options.unify ? ['--unify', options.unify.join(',')] : []),
    ...(options.extend ? ['--extend', options.extend] : []),
    ...(byDraft === null ? [] : ['--draft']),
    ...(moving === null ? [] : ['--styles', 'move']),
    ...[toldOptions(options)].filter((told) => told !== ''),
  ];
  const command = ['lift', ...flags, ...names].join(' ');
  const write = { command, files: planned, unified: changes, cuts: moving?.plan.cuts };
  await writeAll(project.root, write, () => {
    const registry = proveFromDisk(project, planned, proven, { shown, planned: provenBefore(plan, proven, origins) });
    moving?.prove((path) => readBack(project.root, path), registry);
  });
  if (pointed === null && extending === null) await keepDecisions(first, named.length > 0 ? named : chosen, options);
  return { ...lifted, written: true };
}

/** The pages that the plan proves to come to just what they are to come to on disk. */
function provenBefore(
  { registry, pages }: LiftPlan,
  proven: ProvenPage[],
  origins: ReadonlyMap<string, string>,
): Planned {
  const after = new Map(pages.map((page) => [page.path, page.after]));
  const same = proven.filter(({ path, origin }) => origin === origins.get(path));
  return { registry, texts: new Map(same.map(({ path, page }) => [path, after.get(path) ?? page.source])) };
}

/** What the names and options choose: another way to cut one, all that is recommended, or what is named. */
function chosenOf(surveyed: Surveyed, named: Finding[], options: Options): Finding[] {
  if (options.cut !== undefined) return [pickCut(surveyed, named, options)];
  if (options.recommended !== true) return named;
  const recommended = surveyed.findings.filter((finding) => finding.recommended);
  return [...recommended, ...named.filter((finding) => !finding.recommended)];
}

/** What the draft takes, where it is asked for or nothing else is; null where something else is. @throws Problem */
function draftTaken({ draft }: Surveyed, isAlone: boolean, options: Options): Finding[] | null {
  if (options.draft !== true && !isAlone) return null;
  if (!isAlone) throw new Problem('--draft does not go with other findings', { hint: 'lift those by themselves' });
  if (draft === null)
    throw new Problem(options.draft === true ? `there is no ${DRAFT}` : 'nothing is named to be lifted', {
      hint: 'name findings of the survey, use --recommended, point with --at, --lines or --select, or write a draft: estrade draft',
    });
  if (draft.taken.length === 0)
    throw new Problem(`${DRAFT} takes nothing that is there`, { exit: 1, hint: 'nothing was written' });
  return draft.taken;
}

/** @throws Problem for what does not go with `--extend` */
function refuseBeside({ recommended, cut, unify, name, props, slot, fixed }: Options, names: string[]): void {
  const given = { '--recommended': recommended, '--cut': cut, '--unify': unify, '--name': name, '--props': props };
  const all = { ...given, '--slot': slot, '--fixed': fixed };
  const beside = names[0] ?? Object.entries(all).find(([, value]) => value !== undefined)?.[0];
  if (beside !== undefined)
    throw new Problem(`--extend does not go with ${beside}`, { hint: 'lift that by itself, before or after' });
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

/** What a lift writes: components and data, pages and templates that use them, and stylesheets. */
function plannedFiles(
  { surveyed, plan, moving, origins }: Pick<Lifted, 'surveyed' | 'plan' | 'moving'> & { origins: Map<string, string> },
  options: Options,
): PlannedFile[] {
  const { project, files } = surveyed;
  const made = [
    ...plan.components.map(({ path, source }) => ({
      path,
      text: moving?.plan.components.find((each) => each.path === path)?.source ?? source,
    })),
    ...plan.data,
  ];
  return [
    ...made.map(({ path, text }): PlannedFile => {
      const there = inTheWay(project, path, options);
      return { path, before: there?.bytes ?? null, after: Buffer.from(text), origin: null };
    }),
    ...plan.pages.map(({ path, after }): PlannedFile => {
      const file = files.get(path)!;
      const origin = Buffer.from(origins.get(path)!);
      return { path, before: file.bytes, after: encode(after, file), origin, read: file };
    }),
    ...rewritten(plan, moving).map(({ path, after }): PlannedFile => {
      const file = files.get(path)!;
      return { path, before: file.bytes, after: encode(after, file), origin: null };
    }),
    ...retold(
      project,
      plan.proven.map(({ path }) => path),
      origins,
      files,
    ),
    ...(moving?.files ?? []),
  ];
}

/** Whether a page as it is written would be read by itself in another encoding than it is in. */
function readOtherwise({ path, after, read }: PlannedFile): Lifted['encodings'] {
  if (read === undefined || after === null) return [];
  const alone = encodingOf(after);
  return alone === read.encoding ? [] : [{ path, encoding: read.encoding, alone }];
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

/** Component files that are there and change: their templates, their styles, or both. */
function rewritten(plan: LiftPlan, moving: Moving | null): { path: string; after: string }[] {
  const styled = moving?.plan.components ?? [];
  const isNew = (path: string) => plan.components.some((each) => each.path === path);
  const after = new Map(plan.templates.map((each) => [each.path, each.after]));
  for (const { path, source } of styled) if (!isNew(path)) after.set(path, source);
  return [...after].map(([path, text]) => ({ path, after: text }));
}

/** The styles that go with a lift: those of the components that it makes. */
async function movingWith(plan: LiftPlan, { project, pages }: Surveyed): Promise<Moving> {
  const { planMoving } = await import('./moving.js');
  const { expandAll } = await import('../core/style/plan.js');
  const after = new Map(plan.pages.map(({ path, after: text }) => [path, text]));
  const sources = new Map([...plan.registry.values()].map(({ path, source }) => [path, { path, source }]));
  const names = plan.components.map(({ path }) => [...plan.registry.values()].find((each) => each.path === path)!.name);
  return planMoving(project, expandAll(pages, plan.registry, after), [...sources.values()], plan.registry, names);
}
