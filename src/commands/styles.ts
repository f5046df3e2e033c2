/** `styles`: which rules dress what, which would break, which can move; moves them into a component and back. */
import type { Command } from 'commander';
import { namedIn } from '../core/style/names.js';
import { expandAll, expandEach, type ExpandedPage, filledReader } from '../core/style/plan.js';
import { type Styling, stylingOf } from '../core/style/styling.js';
import { totalsOf } from '../core/style/totals.js';
import type { Finding } from '../core/survey/types.js';
import { warningOf } from '../operations/checked-styles.js';
import { tellNotices } from '../operations/notices.js';
import { pick } from '../operations/pick.js';
import { type PlannedSite, plannedSite } from '../operations/planned.js';
import { type LoadedStyles, moveStyles, type StylesOptions } from '../operations/styles-move.js';
import { surveyLoaded } from '../operations/survey.js';
import { progress } from '../terminal/progress.js';
import { findProject } from '../workspace/config.js';
import { readDraft } from '../workspace/draft.js';
import { locked } from '../workspace/lock.js';
import { eachPage, type LoadedPages, openProject, parsedPages, type Project, readPages } from '../workspace/project.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { withThresholds } from './options.js';
import { printJson, tellUnreadable } from './printing.js';
import { componentJson, printAll, printOne, problemsOf, type Subject, totalsJson } from './styled.js';
import { printMoved } from './styles-move.js';

export function define(program: Command): void {
  withThresholds(program.command('styles').argument('[name]', 'a component, or a finding of the survey'))
    .description('which rules dress what, which would break, which can move')
    .option('--move', 'move the rules that are only this component’s into its file')
    .option('--back', 'put them back where their marker stands')
    .option('--all', 'list every rule, not only the first ones')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade styles\n  estrade styles boat-card\n  estrade styles boat-card --move',
    )
    .action(async (name: string | undefined, options: StylesOptions) => {
      const cwd = process.cwd();
      const isWriting = options.move === true || options.back === true;
      const run = async () => {
        const loaded = await load(cwd);
        if (isWriting) printMoved(await moveStyles(parsed(loaded), name, options), options);
        else await tellStyles(loaded, name, options);
        if (tellUnreadable(loaded.unreadable)) process.exitCode = 2;
      };
      await (isWriting ? locked((await findProject(cwd)).root, run) : run());
    });
}

/** What `styles` works on; pages are not parsed yet. */
async function load(cwd: string): Promise<LoadedStyles> {
  const project = await openProject(cwd);
  tellNotices(project);
  const loaded = await readPages(project, project.root, []);
  const sheets = await loadStylesheets(project);
  return { ...loaded, project, sheets };
}

function parsed(loaded: LoadedStyles): LoadedStyles {
  return { ...loaded, pages: [...parsedPages(loaded)] };
}

async function subjectOf(loaded: LoadedStyles, name: string | undefined, options: StylesOptions): Promise<Subject> {
  const { project } = loaded;
  const { registry } = project;
  if (name === undefined ? registry.size > 0 : registry.has(name)) {
    const names = name === undefined ? registry.keys() : [name];
    return componentStyling(loaded, names, expandEach(eachPage(loaded), registry));
  }
  const pages = parsed(loaded);
  const surveyed = surveyLoaded(project, pages, options, await readDraft(project.root));
  return findingStyling(
    pages,
    name === undefined ? surveyed.findings.filter(({ recommended }) => recommended) : [pick(surveyed, name)],
  );
}

/** How components that are there are dressed. */
export function componentStyling(
  { project, pages, sheets }: LoadedStyles,
  names: Iterable<string>,
  expanded: Iterable<ExpandedPage> = expandAll(pages, project.registry),
): Subject {
  const { read, filled } = filledReader(sheets.sources, project.registry);
  const styling = stylingOf(withProgress(expanded, pages.length), read, names);
  const inside = new Map<string, number>();
  for (const { path, units } of styling.sheets)
    for (const { component, start, end } of filled.get(path)?.ranges ?? [])
      inside.set(component, units.filter(({ node }) => node.start >= start && node.end <= end).length);
  return { ...styling, lifted: true, inside };
}

/** How findings would be dressed as components; nothing is written. */
export function findingStyling(
  loaded: LoadedStyles,
  findings: Finding[],
  { plan, expanded }: PlannedSite = plannedSite(loaded, findings),
): Subject {
  const { read } = filledReader(loaded.sheets.sources, plan.registry);
  const names = findings.map((finding) => finding.name);
  return { ...stylingOf(withProgress(expanded, expanded.length), read, names), lifted: false, inside: new Map() };
}

/** The same pages, with progress as they are taken. */
function* withProgress(pages: Iterable<ExpandedPage>, all: number): Generator<ExpandedPage> {
  const matching = progress('matching rules', 'pages');
  let done = 0;
  for (const page of pages) {
    matching.tick(done++, all);
    yield page;
  }
  matching.end();
}

export interface FindingStyles {
  own: number;
  shared: number;
  /** what to know before it is moved or wrapped */
  warning: string | null;
}

/** What `show` says of the rules that dress a finding; null where there are no stylesheets, or it cannot be lifted. */
export async function findingStyles(
  loaded: LoadedPages & { project: Project },
  finding: Finding,
): Promise<FindingStyles | null> {
  const sheets = await loadStylesheets(loaded.project);
  if (finding.component !== null) return componentStyles(loaded, finding.name);
  if (finding.blocked !== null || sheets.sources.size === 0) return null;
  return stylesIn(findingStyling({ ...loaded, sheets }, [finding]), finding.name);
}

/** The same of a component that is there. */
export async function componentStyles(
  { project, pages }: LoadedPages & { project: Project },
  name: string,
): Promise<FindingStyles | null> {
  const { sources } = await loadStylesheets(project);
  if (sources.size === 0) return null;
  const { read } = filledReader(sources, project.registry);
  return stylesIn(stylingOf(expandAll(pages, project.registry), read, [name]), name);
}

function stylesIn(styling: Styling, name: string): FindingStyles {
  const bonds = styling.bonds.get(name)!;
  const own = bonds.filter((bond) => bond.own).length;
  return { own, shared: bonds.length - own, warning: warningOf(bonds) };
}

async function tellStyles(loaded: LoadedStyles, name: string | undefined, options: StylesOptions): Promise<void> {
  const subject = await subjectOf(loaded, name, options);
  const { bonds } = subject;
  const named = namedIn(subject.sheets);
  const totals = totalsOf(subject, bonds.values());
  if (options.json === true)
    printJson({
      format: 1,
      components: [...bonds].map(([each, list]) => componentJson(each, list, subject, named)),
      ...(name === undefined ? { stylesheets: totals.map(totalsJson), problems: problemsOf(subject) } : {}),
    });
  else if (name === undefined) printAll(subject, totals, named, options.all === true);
  else printOne(name, subject, named, options.all === true);
}
