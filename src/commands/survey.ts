/** `survey`: ranks the findings over all pages; writes nothing. */
import type { Command } from 'commander';
import { lineCount, placeAt } from '../core/page/parse.js';
import { elementsOf } from '../core/page/tree.js';
import { linesOf } from '../core/survey/regions.js';
import { survey } from '../core/survey/survey.js';
import { Problem } from '../core/errors.js';
import type { Finding, Offer, Survey } from '../core/survey/types.js';
import { count, dim, green, number, size, terminalWidth, yellow } from '../terminal/style.js';
import { progress } from '../terminal/progress.js';
import { type Column, table } from '../terminal/table.js';
import { type LoadedPages, loadPages, openProject, type Project, surveyedPages } from '../workspace/project.js';
import { driftJson, driftPlaces, driftTable } from './drift.js';
import { plain } from './plain.js';
import {
  print,
  printJson,
  tellNotices,
  tellUnreadable,
  type ThresholdOptions,
  thresholdsOf,
  withThresholds,
} from './context.js';

export interface Surveyed extends Survey, LoadedPages {
  project: Project;
}

/** Opens the project, reads the pages and surveys them. */
export async function surveyProject(cwd: string, paths: string[], options: ThresholdOptions): Promise<Surveyed> {
  const project = await openProject(cwd);
  tellNotices(project);
  const reading = progress('reading page');
  const loaded = await loadPages(project, cwd, paths, reading.tick);
  reading.end();
  return surveyLoaded(project, loaded, options);
}

/** Surveys pages that have been read. */
export function surveyLoaded(project: Project, loaded: LoadedPages, options: ThresholdOptions): Surveyed {
  const surveying = progress('surveying');
  const found = survey(surveyedPages(loaded), project.registry, {
    onProgress: surveying.tick,
    thresholds: thresholdsOf(project, options),
    stylesheets: loaded.stylesheets,
    words: new Map(Object.entries(project.config.words)),
    componentFolder: project.config.components,
  });
  surveying.end();
  const unreadable = loaded.unreadable.map(({ path, why }) => ({
    kind: 'unreadable' as const,
    message: `${path}: ${why}`,
    places: [{ path, line: 1, column: 1 }],
  }));
  return { project, ...loaded, ...found, remarks: [...unreadable, ...found.remarks] };
}

/** The finding, or what is only offered, of that name. @throws Problem that names the nearest ones */
export function pick(
  { findings, others, regions }: Pick<Survey, 'findings' | 'others' | 'regions'>,
  name: string,
): Finding {
  const found = findings.find((finding) => finding.name === name);
  if (found !== undefined) return found;
  const offers = [...others(), ...regions];
  const offer = offers.find((each) => each.name === name);
  if (offer !== undefined) return offer.finding();
  const names = [...findings, ...offers].map((each) => each.name);
  const near = names.filter((each) => each.includes(name) || name.includes(each)).slice(0, 5);
  throw new Problem(`the survey has no finding "${name}"`, {
    hint: near.length > 0 ? `did you mean ${near.join(', ')}?` : 'estrade survey --all lists all names',
  });
}

interface Options extends ThresholdOptions {
  json?: boolean;
  all?: boolean;
  regions?: boolean;
}

export function define(program: Command): void {
  withThresholds(
    program.command('survey').argument('[paths...]', 'pages, folders or globs (default: all pages below here)'),
  )
    .description('rank what repeats over all pages; writes nothing')
    .option('--all', 'list also what costs more than it saves')
    .option('--regions', 'list also what stands apart once')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade survey boats "harbours/*.html"')
    .action(async (paths: string[], options: Options) => {
      const surveyed = await surveyProject(process.cwd(), paths, options);
      const listed = [
        ...surveyed.findings,
        ...(options.all === true ? made(surveyed.others()) : []),
        ...(options.regions === true ? made(surveyed.regions) : []),
      ];
      if (options.json === true) printJson(toJson(surveyed, listed));
      else printSurvey(surveyed, listed);
      if (tellUnreadable(surveyed.unreadable)) process.exitCode = 2;
    });
}

/** What is only offered, made; without what no one component can be written for. */
function made(offers: Offer[]): Finding[] {
  return offers.flatMap((offer) => {
    try {
      return [offer.finding()];
    } catch (error) {
      if (error instanceof Problem) return [];
      throw error;
    }
  });
}

function printSurvey(surveyed: Surveyed, listed: Finding[]): void {
  const { pages, templates, otherCount, regions, remarks } = surveyed;
  const lines = surveyedPages(surveyed).reduce((sum, page) => sum + lineCount(page), 0);
  const components = templates.length === 0 ? '' : `, ${count(templates.length, 'component')}`;
  print(`${count(pages.length, 'page')}${components}, ${count(lines, 'line')}\n`);
  if (listed.length === 0) print('Nothing repeats that would be worth a component.');
  else print(findingTable(listed));
  const recommended = listed.filter((finding) => finding.recommended);
  const saved = recommended.reduce((sum, finding) => sum + finding.saved.lines, 0);
  const hidden = listed.length > surveyed.findings.length ? 0 : otherCount;
  print('');
  if (recommended.length > 0)
    print(
      `${green('*')} ${count(recommended.length, 'finding')} recommended; lifting them saves ${count(saved, 'line')} of ${number(lines)}.`,
    );
  if (hidden > 0)
    print(
      dim(
        `${count(hidden, 'more finding')} ${hidden === 1 ? 'is' : 'are'} worth too little, or stand where another one is better: estrade survey --all`,
      ),
    );
  const drifted = driftTable(recommended, surveyed);
  if (drifted !== null)
    print(
      `\n${yellow('Drift:')} where most pages that share a part agree, these differ; they keep their own text.\n${drifted}\n`,
    );
  const told = new Set(recommended.flatMap(driftPlaces));
  if (regions.length > 0) print(dim(largest(regions)));
  for (const { message, places, kind } of remarks)
    if (kind === 'slip')
      for (const { path, line, column } of places) {
        const place = `${path}:${line}:${column}`;
        if (!told.has(place)) print(yellow(`${place}: ${message}`));
      }
    else if (kind !== 'unreadable')
      print(dim(`${message}: ${places.map(({ line, column }) => `${line}:${column}`).join(', ')}`));
  if (recommended.length > 0) print(dim(`Next: estrade show ${recommended[0]!.name}, estrade lift --recommended`));
}

const SHOWN_REGIONS = 3;

/** What stands apart once, in a line: the largest ones. */
function largest(regions: Offer[]): string {
  const once = regions.filter(({ occurrences }) => occurrences.length === 1);
  const length = ({ occurrences: [first] }: Offer) => linesOf(first!.page, first!.element);
  const some = [...once].sort((a, b) => length(b) - length(a)).slice(0, SHOWN_REGIONS);
  const told = some.map((each) => `${each.name} (${count(length(each), 'line')})`).join(', ');
  const stands = once.length === 1 ? 'stands' : 'stand';
  const lines =
    once.length === 0
      ? []
      : [`${count(once.length, 'region')} ${stands} apart once, ${told} first: estrade survey --regions`];
  for (const { name, occurrences } of regions)
    if (occurrences.length > 1)
      lines.push(`${name} would be the frame of ${count(occurrences.length, 'page')}: estrade show ${name}`);
  return lines.join('\n');
}

export function findingTable(findings: Finding[]): string {
  const rows = findings.map((finding) => [
    finding.recommended ? green('*') : ' ',
    finding.name,
    finding.component === null ? finding.kind : `${finding.kind}, known`,
    number(finding.occurrences.length),
    number(new Set(finding.occurrences.map(({ page }) => page)).size),
    number(finding.props.length),
    number(finding.saved.lines),
    size(finding.saved.bytes),
    finding.reason ?? '',
  ]);
  const columns: Column[] = [
    { title: '', fixed: true },
    { title: 'finding' },
    { title: 'kind', fixed: true },
    { title: 'places', align: 'right', fixed: true },
    { title: 'pages', align: 'right', fixed: true },
    { title: 'props', align: 'right', fixed: true },
    { title: 'lines saved', align: 'right', fixed: true },
    { title: 'bytes saved', align: 'right', fixed: true },
  ];
  if (findings.some((finding) => finding.reason !== null)) columns.push({ title: 'why not' });
  return table(columns, rows, terminalWidth());
}

function toJson({ pages, remarks }: Surveyed, listed: Finding[]) {
  return {
    format: 1,
    pages: pages.map((page) => ({ path: page.path, elements: elementsOf(page.root).length, lines: lineCount(page) })),
    findings: listed.map(findingJson),
    remarks,
  };
}

export function findingJson(finding: Finding) {
  return {
    name: finding.name,
    kind: finding.kind,
    recommended: finding.recommended,
    reason: finding.reason,
    blocked: finding.blocked,
    known: finding.component !== null,
    occurrences: finding.occurrences.map(({ page, element, end }) => {
      const { path, line, column } = placeAt(page, element.start);
      return { page: path, start: element.start, end, line, column };
    }),
    props: finding.props.map(({ name, type, optional, default: usual, choices, values }) => ({
      name,
      type,
      optional,
      default: usual?.value ?? null,
      ...(type === 'choice' ? { choices } : {}),
      values: values.map(plain),
    })),
    slots: (finding.general?.slots ?? []).map(({ name }) => ({ name })),
    saved: finding.saved,
    terms: finding.terms,
    drift: finding.recommended ? driftJson(finding) : [],
  };
}
