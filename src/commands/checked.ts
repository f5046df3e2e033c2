/** What `check` found, and how it is printed. */
import { placeText } from '../core/errors.js';
import type { Advice } from '../core/lift/advice.js';
import type { Checked, CheckedPage } from '../operations/check.js';
import type { CheckedSheet } from '../operations/checked-styles.js';
import { count, cyan, dim, green, red, terminalWidth, yellow } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { isVerbose } from '../terminal/voice.js';
import type { CheckProblem } from '../workspace/wrong-uses.js';
import { unifiedText } from './lifted.js';
import { printPictured } from './picture-lines.js';
import { FEW_NAMED, hint, print, printFirst, tell } from './printing.js';
import { samenessText } from './sameness.js';

/** So many pages that are not as they were, and notes, are printed. */
const MOST_PAGES = 20;

const MOST_NOTES = 8;

/** Prints it for people: what is not as it was, what is wrong, and a sentence about all the rest. */
export function printCheck(checked: Checked): void {
  const { pages, stylesheets, problems, unified, unproven } = checked;
  if (pages.length === 0 && unproven.length === 0) tell('No page here has been lifted, so there is nothing to prove.');
  printDifferent([...pages, ...stylesheets]);
  for (const each of unified) print(`${dim('unified')}  ${unifiedText(each)}`);
  // what cannot be read is told on stderr
  const shown = problems.filter(({ kind }) => kind !== 'unreadable-file');
  const wrong = shown.filter(({ severity }) => severity === 'error');
  const notes = shown.filter(({ severity }) => severity !== 'error');
  const line = (mark: string) => (problem: CheckProblem) => `${mark}  ${placeText(problem)}: ${problem.message}`;
  for (const text of wrong.map(line(red('wrong')))) print(text);
  printFirst(notes.map(line(yellow('note'))), MOST_NOTES, 'note');
  printVerdict(checked, wrong.length);
  if (checked.pictured !== null) printPictured(checked.pictured);
  if (checked.advice !== null) printAdvice(checked.advice);
}

/** The sentence about all pages and stylesheets. @param wrong how many problems were printed */
function printVerdict(checked: Checked, wrong: number): void {
  const { against, pages, stylesheets, unified, unproven, pictured, passed } = checked;
  const isOwn = ({ same, edited }: CheckedPage | CheckedSheet) => same === 'different' && edited.length > 0;
  const proven = pages.filter((page) => !isOwn(page));
  const own = [...pages, ...stylesheets].filter(isOwn).length;
  const than = against === null ? '' : ` against ${against}`;
  const why = wrong === 0 ? '' : `${count(wrong, 'problem')} above; `;
  const drawn = pictured === null || pictured.isSame ? '' : 'not every page was drawn the same, see below; ';
  const but = unified.length > 0 ? ', and for what was unified' : '';
  const text = `${why}${drawn}${samenessText(proven.map(({ same }) => same))}${sheetsText(stylesheets)}${but}.`;
  if (proven.length > 0 && passed) tell(`${green(`Passed${than}:`)} ${text}`);
  else if (proven.length > 0) print(`${red(`Failed${than}:`)} ${text}`);
  else if (wrong > 0) print(`${red('Failed:')} ${count(wrong, 'problem')} above.`);
  if (new Set(proven.map(({ same }) => same)).size > 1 && !isVerbose()) hint(whichText(proven));
  if (own > 0)
    hint(
      `${count(own, 'file')} ${own === 1 ? 'is' : 'are'} made of what you edited since: what differs there is yours.`,
    );
  if (unproven.length > 0) hint(unprovenText(unproven, against));
}

/** Which pages are not the same to the byte, or where that is told. */
function whichText(proven: CheckedPage[]): string {
  const alike = proven.filter(({ same }) => same === 'markup').map(({ path }) => path);
  return alike.length > 0 && alike.length <= FEW_NAMED
    ? `Not to the byte: ${alike.join(', ')}.`
    : '--verbose tells which.';
}

function printAdvice(advice: Advice[]): void {
  print(
    advice.length === 0
      ? '\nNothing could be said with less.'
      : `\n${count(advice.length, 'thing')} could be said with less:`,
  );
  for (const { place, message, commands } of advice)
    print(`${cyan('advice')}  ${placeText(place)}: ${message}\n        ${dim(commands.join(' && '))}`);
}

/** Files that are not as they were, a line each; every file where that is asked for. */
function printDifferent(files: (CheckedPage | CheckedSheet)[]): void {
  const listed = isVerbose() ? files : files.filter(({ same }) => same === 'different');
  if (listed.length === 0) return;
  const shown = isVerbose() ? listed : listed.slice(0, MOST_PAGES);
  const rows = shown.map(({ path, same, first, edited }) => [
    path,
    same === 'different' ? (edited.length > 0 ? yellow('edited') : red('different')) : green(same),
    same === 'different' ? `${first!.line}:${first!.column} ${first!.what}` : '',
    same !== 'different' ? '' : edited.join(', '),
  ]);
  const columns = [
    { title: 'file' },
    { title: 'same', fixed: true },
    { title: 'first difference to what it was' },
    { title: 'you edited' },
  ];
  const isKept = columns.map((_, i) => i < 2 || rows.some((row) => row[i] !== ''));
  const kept = <T>(cells: T[]) => cells.filter((_, i) => isKept[i]);
  print(table(kept(columns), rows.map(kept), terminalWidth()));
  const more = listed.length - shown.length;
  print(more === 0 ? '' : dim(`… and ${count(more, 'more file')}: --verbose lists all\n`));
}

function unprovenText([first, ...more]: string[], against: string | null): string {
  const them = more.length === 0 ? first! : `${first!} and ${count(more.length, 'more page')}`;
  return against === null
    ? `Compared with nothing, for nothing says what was there before components were used: ${them}.`
    : `Compared with nothing, for ${against} does not have it: ${them}.`;
}

/** `, and 1 stylesheet comes out exactly as it was`, of those that were not edited. */
function sheetsText(sheets: CheckedSheet[]): string {
  const of = (same: CheckedSheet['same']) =>
    sheets.filter((each) => each.same === same && (same !== 'different' || each.edited.length === 0)).length;
  const parts = [
    [of('bytes'), (one: boolean) => `${one ? 'comes' : 'come'} out exactly as ${one ? 'it was' : 'they were'}`],
    [of('cascade'), (one: boolean) => `${one ? 'lets' : 'let'} the same declarations win`],
    [of('different'), (one: boolean) => `${one ? 'does' : 'do'} not`],
  ] as const;
  return parts
    .flatMap(([many, does]) => (many === 0 ? [] : [`; ${count(many, 'stylesheet')} ${does(many === 1)}`]))
    .join('');
}
