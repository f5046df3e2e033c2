/** What `survey` prints: the findings, what they come to, and what looks like a slip. */
import { type Place, placeText } from '../core/errors.js';
import { lineCount } from '../core/page/parse.js';
import { differenceText, nearGroups } from '../core/survey/near.js';
import { linesOf } from '../core/survey/regions.js';
import type { Finding, Offer, Remark, Survey } from '../core/survey/types.js';
import type { Word } from '../core/words/vocabulary.js';
import type { Surveyed } from '../operations/survey.js';
import { savedText } from '../terminal/saved.js';
import { count, dim, green, number, size, terminalWidth, yellow } from '../terminal/style.js';
import { type Column, table, wrapped } from '../terminal/table.js';
import { type LoadedPages, surveyedPages } from '../workspace/project.js';
import { driftPlaces, driftTable } from './drift.js';
import { firstOf, hint, print, printFirst } from './printing.js';

/** So many slips, and remarks of another kind, are printed. */
const SHOWN_REMARKS = 8;

const SHOWN_REGIONS = 3;

/** What is told of a site without findings. */
export const NOTHING = 'Nothing repeats that would be worth a component.';

/** What each kind of finding is, in the order in which they are told. */
export const KINDS = {
  shared: 'on several pages, once on each',
  series: 'several in a row',
  repeat: 'several times, here and there',
  frame: 'what stands in it differs, and is poured in',
  region: 'stands apart once',
  known: 'more uses of a component that is there',
} satisfies Record<Finding['kind'] | 'known', string>;

/** The kind of a finding, as it is told. */
function shownKind({ component, kind }: Finding): keyof typeof KINDS {
  return component === null ? kind : 'known';
}

/** Lines of all pages and components. */
export function linesIn(surveyed: Pick<LoadedPages, 'pages' | 'templates'>): number {
  return surveyedPages(surveyed).reduce((sum, page) => sum + lineCount(page), 0);
}

/** @param top how many findings are listed at most */
export function printSurvey(surveyed: Surveyed, listed: Finding[], top: number): void {
  const { pages, templates, otherCount, findings } = surveyed;
  const lines = linesIn(surveyed);
  const components = templates.length === 0 ? '' : `, ${count(templates.length, 'component')}`;
  print(`${count(pages.length, 'page')}${components}, ${count(lines, 'line')}\n`);
  if (listed.length === 0) print(NOTHING);
  else
    print(`${findingTable(listed.slice(0, top))}\n\n${dim(wrapped(kindsOf(listed.slice(0, top)), terminalWidth()))}`);
  if (listed.length > top) print(dim(`… and ${count(listed.length - top, 'more finding')}: --top ${listed.length}`));
  const recommended = listed.filter((finding) => finding.recommended);
  const hidden = listed.length > findings.length ? 0 : otherCount;
  print('');
  if (recommended.length > 0) print(`${green('*')} ${recommendedText(recommended, lines)}`);
  if (recommended.some(({ saved }) => saved.lines < 0))
    hint(
      'What saves no lines is still one place to change instead of several: estrade show <finding> says what it is worth.',
    );
  if (hidden > 0)
    hint(
      `${count(hidden, 'more finding')} ${hidden === 1 ? 'is' : 'are'} worth too little, or stand where another one is better: estrade survey --all`,
    );
  const drifted = driftTable(recommended, surveyed);
  if (drifted !== null)
    print(
      `\n${yellow('Drift:')} where most pages that share a part agree, these differ; they keep their own text.\n${drifted}\n`,
    );
  const regions = surveyed.regions();
  if (regions.length > 0) hint(largest(regions));
  printNear(surveyed.near);
  printRemarks(surveyed.remarks, new Set(recommended.flatMap(driftPlaces)));
  if (recommended.length > 0) hint(`Next: estrade show ${recommended[0]!.name}, estrade lift --recommended`);
}

/** A finding's kind, its places and what it saves, in a line. */
export function findingText({ kind, occurrences, saved }: Finding): string {
  const on = new Set(occurrences.map(({ page }) => page)).size;
  return `${kind}, ${count(occurrences.length, 'place')} on ${count(on, 'page')}; ${savedText(saved)}`;
}

/** What is recommended, in a sentence. @param lines of all pages and components */
export function recommendedText(recommended: Finding[], lines: number): string {
  const saved = recommended.reduce((sum, finding) => sum + finding.saved.lines, 0);
  return `${count(recommended.length, 'finding')} recommended; lifting them saves ${count(saved, 'line')} of ${number(lines)}.`;
}

/** Slips that drift does not tell of, with a place each. @param told places that have been told of already */
export function slipsAmong(remarks: Survey['remarks'], told: ReadonlySet<string>): { place: Place; message: string }[] {
  return remarks
    .filter(({ kind }) => kind === 'slip')
    .flatMap(({ message, places }) => places.map((place) => ({ place, message })))
    .filter(({ place }) => !told.has(placeText(place)));
}

/** @param told places that have been told of already */
function printRemarks(remarks: Survey['remarks'], told: ReadonlySet<string>): void {
  const slips = slipsAmong(remarks, told);
  if (slips.length > 0) print(`\n${yellow('Slips:')} what was probably forgotten when something was copied`);
  printFirst(
    slips.map(({ place, message }) => `${placeText(place)}: ${message}`),
    SHOWN_REMARKS,
    'slip',
  );
  if (slips.length > 0) print('');
  const ofKind = (wanted: Remark['kind']) => remarks.filter(({ kind }) => kind === wanted);
  printFirst(
    ofKind('not-liftable').map(({ message, places }) =>
      dim(`${message}: ${places.map(({ line, column }) => `${line}:${column}`).join(', ')}`),
    ),
    SHOWN_REMARKS,
    'remark',
  );
  for (const { message, places } of [...ofKind('note'), ...ofKind('unstyled')]) {
    const told = places.map(placeText).join(', ');
    print(yellow(told === '' ? message : `${told}: ${message}`));
  }
}

/** What is nearly a use, as a table, and what can be done about it. */
function printNear(near: Survey['near']): void {
  const groups = nearGroups(near);
  if (groups.length === 0) return;
  print(`\n${yellow('Nearly:')} what a component that is there would give back but for one thing`);
  const { shown, more } = firstOf(groups, SHOWN_REMARKS, 'difference');
  const rows = shown.map(({ component, difference, places: [first, ...others], isOwn }) => [
    placeText(first!) + (others.length === 0 ? '' : ` and ${others.length} more`),
    component.name,
    `${differenceText(difference)}${isOwn ? '' : `, in ${difference.component.name}`}`,
  ]);
  const columns: Column[] = [{ title: 'place', fixed: true }, { title: 'component', fixed: true }, { title: 'it has' }];
  print([table(columns, rows, terminalWidth()), ...more].join('\n'));
  const wider = [...new Set(groups.filter(({ isOwn }) => isOwn).map(({ component }) => component.name))];
  if (wider.length > 0) print(dim(`A component is widened for what it has: estrade lift --extend ${wider[0]!}`));
  print('');
}

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

function kindsOf(findings: Finding[]): string {
  const there = new Set<string>(findings.map(shownKind));
  const told = Object.entries(KINDS).filter(([kind]) => there.has(kind));
  return told.map(([kind, what]) => `${kind}: ${what}`).join('; ');
}

export function findingTable(findings: Finding[]): string {
  const rows = findings.map((finding) => [
    finding.recommended ? green('*') : ' ',
    finding.name,
    shownKind(finding),
    number(finding.occurrences.length),
    number(new Set(finding.occurrences.map(({ page }) => page)).size),
    number(finding.props.length),
    number(finding.saved.lines),
    size(finding.saved.bytes),
    finding.reason ?? '',
  ]);
  const columns: Column[] = [
    { title: '', fixed: true },
    { title: 'finding', fixed: true },
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

/** The site's class words, and what each is there for. @param top how many are listed at most */
export function wordTable(words: Word[], top: number): string {
  if (words.length === 0) return 'No page has class words.';
  const rows = words
    .slice(0, top)
    .map(({ word, role, of, why, rules, places }) => [
      word,
      of === null ? role : `${role} of ${of}`,
      number(places),
      number(rules),
      why,
    ]);
  const columns: Column[] = [
    { title: 'word', fixed: true },
    { title: 'role', fixed: true },
    { title: 'places', align: 'right', fixed: true },
    { title: 'rules', align: 'right', fixed: true },
    { title: 'why' },
  ];
  const more = words.length > top ? `\n${dim(`… and ${count(words.length - top, 'more word')}: --all`)}` : '';
  const mend = dim('A role that is wrong is put right in estrade.config.json: { "words": { "<word>": "<role>" } }');
  return `${table(columns, rows, terminalWidth())}${more}\n\n${mend}`;
}
