/** `survey`: ranks the findings over all pages; writes nothing. */
import type { Command } from 'commander';
import { Problem } from '../core/errors.js';
import { lineCount, placeAt } from '../core/page/parse.js';
import { elementsOf } from '../core/page/tree.js';
import type { Finding, Offer } from '../core/survey/types.js';
import { type Surveyed, surveyProject } from '../operations/survey.js';
import type { ThresholdOptions } from '../operations/thresholds.js';
import { driftJson } from './drift.js';
import { formatOf, type FormatOptions, surveySarif, withFormats } from './formats.js';
import { atLeast, withThresholds } from './options.js';
import { plain } from './plain.js';
import { print, printJson, tellUnreadable } from './printing.js';
import { printSurvey, wordTable } from './surveyed.js';

interface Options extends ThresholdOptions, FormatOptions {
  all?: boolean;
  regions?: boolean;
  words?: boolean;
  top: number;
}

/** So many findings are printed where nobody says otherwise. */
const TOP = 30;

export function define(program: Command): void {
  const survey = program
    .command('survey')
    .argument('[paths...]', 'pages, folders or globs (default: all pages below here)');
  withFormats(withThresholds(survey))
    .description('rank what repeats over all pages; writes nothing')
    .option('--all', 'list also what costs more than it saves')
    .option('--regions', 'list also what stands apart once')
    .option('--words', 'list the class words instead, and what each is there for')
    .option('--top <n>', 'print so many, the best ones; --json and --all give all', atLeast(1), TOP)
    .addHelpText('after', '\nExample:\n  estrade survey boats "harbours/*.html"')
    .action(async (paths: string[], options: Options) => {
      const surveyed = await surveyProject(process.cwd(), paths, options);
      const listed = [
        ...surveyed.findings,
        ...(options.all === true ? made(surveyed.others()) : []),
        ...(options.regions === true ? made(surveyed.regions()) : []),
      ];
      const format = formatOf(options);
      if (options.words === true) tellWords(surveyed, options);
      else if (format === 'json') printJson(toJson(surveyed, listed));
      else if (format === 'sarif') printJson(surveySarif(surveyed));
      else printSurvey(surveyed, listed, options.all === true ? Infinity : options.top);
      if (tellUnreadable(surveyed.unreadable)) process.exitCode = 2;
    });
}

function tellWords({ vocabulary }: Surveyed, options: Options): void {
  const { all, top } = options;
  const format = formatOf(options);
  if (format === 'sarif')
    throw new Problem('--words has no SARIF', { hint: 'give --words without --format, or with --format json' });
  const words = [...vocabulary.values()].sort((a, b) => b.places - a.places || (a.word < b.word ? -1 : 1));
  if (format === 'json') printJson({ format: 1, words });
  else print(wordTable(words, all === true ? Infinity : top));
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
    slots: finding.slots.map(({ name }) => ({ name })),
    saved: finding.saved,
    terms: finding.terms,
    drift: finding.recommended ? driftJson(finding) : [],
  };
}
