/** What `check` found, and how it is printed. */
import { placeText } from '../core/errors.js';
import type { Advice } from '../core/lift/advice.js';
import type { Unified } from '../core/lift/unify.js';
import type { Difference, Sameness } from '../core/page/same.js';
import { count, cyan, dim, green, red, terminalWidth, yellow } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import type { Unreadable } from '../workspace/files.js';
import type { CheckedSheet } from './checked-styles.js';
import { print } from './context.js';
import { tallyOf, unifiedText } from './lifted.js';
import type { CheckProblem } from '../workspace/wrong-uses.js';
import { type Pictured, printPictured } from './picture-lines.js';

export interface CheckedPage {
  path: string;
  same: Sameness;
  first: Difference | null;
  /** what the user changed since the last lift that this page is made of */
  edited: string[];
}

export interface Checked {
  /** absolute path of the project */
  root: string;
  pages: CheckedPage[];
  stylesheets: CheckedSheet[];
  problems: CheckProblem[];
  /** what pages say otherwise than they did, because it was asked for */
  unified: Unified[];
  /** pages that nothing says of what they were */
  unproven: string[];
  unreadable: Unreadable[];
  /** what could be said with less; null where it was not asked for */
  advice: Advice[] | null;
  /** what the browser saw; null where it was not asked */
  pictured: Pictured | null;
  /** what the pages were compared with: a folder or revision; null for what the journal keeps */
  against: string | null;
  /** false when the promise is broken, a use is wrong, or nothing could be proven */
  passed: boolean;
}

/** Prints it for people. */
export function printCheck(checked: Checked): void {
  const { against, pages, stylesheets, problems, unified, unproven, passed } = checked;
  if (pages.length === 0 && unproven.length === 0) print('No page here has been lifted, so there is nothing to prove.');
  if (pages.length > 0) print(`${provenTable([...pages, ...stylesheets], stylesheets.length > 0 ? 'file' : 'page')}\n`);
  for (const each of unified) print(`${dim('unified')}  ${unifiedText(each)}`);
  // what cannot be read is told on stderr
  const shown = problems.filter(({ kind }) => kind !== 'unreadable-file');
  for (const problem of shown)
    print(`${problem.severity === 'error' ? red('wrong') : yellow('note')}  ${placeText(problem)}: ${problem.message}`);
  const own = [...pages, ...stylesheets].filter(({ same, edited }) => same === 'different' && edited.length > 0).length;
  const proven = pages.filter(({ same, edited }) => same !== 'different' || edited.length === 0);
  const wrong = shown.filter(({ severity }) => severity === 'error').length;
  const why = wrong === 0 ? '' : `${count(wrong, 'problem')} above; `;
  const than = against === null ? '' : ` against ${against}`;
  const but = unified.length > 0 ? ', but for what was unified' : '';
  if (proven.length > 0)
    print(
      `${passed ? green(`Proven${than}:`) : red(`Not proven${than}:`)} ${why}${tallyOf(proven.map(({ same }) => same))}${sheetTally(stylesheets)}${but}.`,
    );
  if (own > 0) print(dim(`${count(own, 'file')} made of what you edited: the difference is yours.`));
  if (unproven.length > 0) print(dim(unprovenText(unproven, against)));
  if (checked.pictured !== null) printPictured(checked.pictured);
  if (checked.advice !== null) printAdvice(checked.advice);
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

/** How files compare, a line each, with columns only where there is something in them. */
function provenTable(files: (CheckedPage | CheckedSheet)[], title: string): string {
  const rows = files.map(({ path, same, first, edited }) => [
    path,
    same === 'different' ? (edited.length > 0 ? yellow('edited') : red('different')) : green(same),
    same === 'different' ? `${first!.line}:${first!.column} ${first!.what}` : '',
    same !== 'different' ? '' : edited.join(', '),
  ]);
  const columns = [
    { title },
    { title: 'same', fixed: true },
    { title: 'first difference to the original' },
    { title: 'you edited' },
  ];
  const used = columns.filter((_, i) => i < 2 || rows.some((row) => row[i] !== ''));
  const kept = columns.map((column) => used.includes(column));
  return table(
    used,
    rows.map((row) => row.filter((_, i) => kept[i])),
    terminalWidth(),
  );
}

function unprovenText([first, ...more]: string[], against: string | null): string {
  const them = more.length === 0 ? first! : `${first!} and ${count(more.length, 'more page')}`;
  return against === null
    ? `${them}: components are used, and nothing says what was there before.`
    : `Not in ${against}, and so compared with nothing: ${them}.`;
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
