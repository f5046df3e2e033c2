/** Writing components and rewriting the pages to use them; proven before and after it is written. */
import { Problem } from '../core/errors.js';
import type { Occurrence } from '../core/fragments/occurrence.js';
import { addTo } from '../core/groups.js';
import { type LiftPlan, planLift } from '../core/lift/plan.js';
import type { Unified } from '../core/lift/unify.js';
import { pageWithText } from '../core/page/parse.js';
import type { Finding } from '../core/survey/types.js';
import { count } from '../terminal/style.js';
import { findProject } from '../workspace/config.js';
import { DRAFT } from '../workspace/draft.js';
import { encode, encodingOf } from '../workspace/encoding.js';
import { readBack, readSource, type SourceFile } from '../workspace/files.js';
import { locked } from '../workspace/lock.js';
import { type Project, spaceShown, surveyedPages } from '../workspace/project.js';
import { type PlannedFile, writeAll } from '../workspace/transaction.js';
import { extended, type Extending } from './extending.js';
import { keepDecisions } from './keeping.js';
import type { Moving } from './moving.js';
import { pick } from './pick.js';
import { launcherFor, type Pictured, type PictureOptions } from './drawn.js';
import { pointAt, type PointedAt, type PointingOptions, toldOptions, wishedFindings } from './pointing.js';
import { originsOf, type Planned, proveFromDisk, type ProvenPage, retold } from './proving.js';
import { type Surveyed, surveyProject } from './survey.js';
import type { ThresholdOptions } from './thresholds.js';
import { acceptedFile, unified, type Unifying } from './unifying.js';

export interface LiftOptions extends ThresholdOptions, PointingOptions, PictureOptions {
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

/** Plans and, unless it is a dry run, writes a lift; who writes reads nothing before nobody else can write. */
export async function liftProject(cwd: string, names: string[], options: LiftOptions): Promise<Lifted> {
  const lift = () => liftNow(cwd, names, options);
  return options.dryRun === true ? lift() : locked((await findProject(cwd)).root, lift);
}

async function liftNow(cwd: string, names: string[], options: LiftOptions): Promise<Lifted> {
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
function chosenOf(surveyed: Surveyed, named: Finding[], options: LiftOptions): Finding[] {
  if (options.cut !== undefined) return [pickCut(surveyed, named, options)];
  if (options.recommended !== true) return named;
  const recommended = surveyed.findings.filter((finding) => finding.recommended);
  return [...recommended, ...named.filter((finding) => !finding.recommended)];
}

/** What the draft takes, where it is asked for or nothing else is; null where something else is. @throws Problem */
function draftTaken({ draft }: Surveyed, isAlone: boolean, options: LiftOptions): Finding[] | null {
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
function refuseBeside({ recommended, cut, unify, name, props, slot, fixed }: LiftOptions, names: string[]): void {
  const given = { '--recommended': recommended, '--cut': cut, '--unify': unify, '--name': name, '--props': props };
  const all = { ...given, '--slot': slot, '--fixed': fixed };
  const beside = names[0] ?? Object.entries(all).find(([, value]) => value !== undefined)?.[0];
  if (beside !== undefined)
    throw new Problem(`--extend does not go with ${beside}`, { hint: 'lift that by itself, before or after' });
}

/** The way to cut that was asked for by its number. @throws Problem (exit 2) */
function pickCut({ cutsOf }: Surveyed, named: Finding[], { cut, recommended }: LiftOptions): Finding {
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
  options: LiftOptions,
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
function inTheWay(project: Project, path: string, options: LiftOptions): SourceFile | null {
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
  const { expandedPage } = await import('../core/style/plan.js');
  const planned = new Map(plan.pages.map(({ path, expanded }) => [path, expanded]));
  const extended = pages.map((page) => {
    const expanded = planned.get(page.path);
    return expanded === undefined
      ? expandedPage(page, plan.registry)
      : { page: pageWithText(page, expanded.text), extents: expanded.extents };
  });
  const sources = new Map([...plan.registry.values()].map(({ path, source }) => [path, { path, source }]));
  const names = plan.components.map(({ path }) => [...plan.registry.values()].find((each) => each.path === path)!.name);
  return planMoving(project, extended, [...sources.values()], plan.registry, names);
}

export interface Lifted {
  surveyed: Surveyed;
  findings: Finding[];
  plan: LiftPlan;
  written: boolean;
  /** what is written, or would be */
  files: PlannedFile[];
  /** what was pointed at, instead of named */
  pointed: PointedAt | null;
  /** places that a fixed prop of a named finding leaves out */
  fixed: Occurrence[];
  /** what pages say otherwise, because it was asked for */
  unified: Unified[];
  /** what the pages that change still say otherwise, for it was not asked for */
  otherwise: Unified[];
  /** pages that would be read in another encoding without the journal, for what told their own moved or came nearer */
  encodings: { path: string; encoding: string; alone: string }[];
  /** the component that was widened; null for none */
  extended: Extending | null;
  /** what the browser saw before it was written; null where it was not asked */
  pictured: Pictured | null;
  /** styles that go along, null when stylesheets are left alone */
  moving: Moving | null;
}

/** What is left for one reason, by its first place. */
export function alikeLeft(leftOut: LiftPlan['leftOut']): string[] {
  const groups = new Map<string, LiftPlan['leftOut']>();
  for (const each of leftOut) {
    const key = `${each.finding} ${each.why}`;
    addTo(groups, key, each);
  }
  return [...groups.values()].map(([first, ...more]) =>
    more.length === 0 ? leftOutText(first!) : `${leftOutText(first!)} (and ${count(more.length, 'place')} more)`,
  );
}

/** `index.html:3:1 (boat-card): why`. */
function leftOutText({ finding, path, line, column, why }: LiftPlan['leftOut'][number]): string {
  return `${path}:${line}:${column} (${finding}): ${why}`;
}
