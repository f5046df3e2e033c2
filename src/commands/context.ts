/** What all commands share: where they run, how they answer, how errors are told. */
import { readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { type Command, InvalidArgumentError } from 'commander';
import { Fault, placeText, Problem } from '../core/errors.js';
import type { Thresholds } from '../core/survey/types.js';
import type { Project } from '../workspace/project.js';
import { reasonOf, type Unreadable } from '../workspace/files.js';
import { bold, count, dim, red, yellow } from '../terminal/style.js';
import { isQuiet, isVerbose } from '../terminal/voice.js';

export function print(text: string): void {
  process.stdout.write(`${text}\n`);
}

/** Prints what was done, where that is to be told. */
export function tell(text: string): void {
  if (!isQuiet()) print(text);
}

/** Prints what could be done next, or what else there is to know. */
export function hint(text: string): void {
  tell(dim(text));
}

/**
 * Prints lines, the first of them where there are many and `--verbose` does not ask for all.
 * @param most of them that are printed
 * @param what one of them is called
 */
export function printFirst(lines: string[], most: number, what: string): void {
  const shown = isVerbose() ? lines : lines.slice(0, most);
  for (const line of shown) print(line);
  const left = lines.length - shown.length;
  if (left > 0) print(dim(`… and ${count(left, `more ${what}`)}: --verbose lists all`));
}

export function printJson(value: unknown): void {
  print(JSON.stringify(value, null, 2));
}

/** The version of this program. */
export function ownVersion(): string {
  const file = readFileSync(new URL('../../package.json', import.meta.url), 'utf8');
  return (JSON.parse(file) as { version: string }).version;
}

/** Tells on stderr what the user should know beside the answer. */
export function notice(text: string): void {
  process.stderr.write(`${yellow('estrade:')} ${text}\n`);
}

/** Tells on stderr where the project is, and what was put in order. */
export function tellLocated(notices: string[]): void {
  if (!isQuiet()) notices.forEach(notice);
}

/** Tells on stderr what opening the project put in order. */
export function tellNotices(project: Project): void {
  tellLocated(project.notices);
  if (!isVerbose()) return;
  const { root, configFile, registry, entries } = project;
  const from = configFile ?? 'no configuration';
  notice(
    `project ${root}, ${from}; ${count(registry.size, 'component')}, ${count(entries.length, 'change')} that can be undone`,
  );
}

/** Names what could not be read, on stderr; true when the answer lacks something because of it. */
export function tellUnreadable(unreadable: Unreadable[]): boolean {
  for (const { path, why, harmless } of unreadable)
    if (harmless === true) notice(`${path}: ${why}, and stays as it is`);
    else process.stderr.write(`${red('estrade:')} ${path}: ${why}; the rest is read\n`);
  return unreadable.some(({ harmless }) => harmless !== true);
}

/** Prints an error as what, where and what to do; gives back the exit status. */
export function tellError(error: unknown, debug: boolean): number {
  const write = (text: string) => process.stderr.write(`${text}\n`);
  if (!(error instanceof Problem)) {
    const at = error instanceof Fault ? `, at ${error.at.join(', ')}` : '';
    const { message, code, path, stack } = (error instanceof Fault ? error.cause : error) as NodeJS.ErrnoException;
    const told = path === undefined ? reasonOf(error) : `${relative(process.cwd(), path) || '.'}: ${reasonOf(error)}`;
    write(`${red('estrade:')} ${code === undefined ? `something went wrong that should not${at}: ${message}` : told}`);
    write(debug ? (stack ?? '') : dim('  --debug shows where'));
    return 2;
  }
  write(`${red('estrade:')} ${error.place ? `${bold(placeText(error.place))}: ` : ''}${error.message}`);
  for (const detail of error.details) write(`  ${detail}`);
  if (error.hint !== undefined) write(dim(`  ${error.hint}`));
  if (debug) write(error.stack ?? '');
  return error.exit;
}

/** An error for machines, beside what is told on stderr. */
export function errorJson(error: unknown, status: number) {
  const { message, place = null, hint = null, details = [] } = error as Partial<Problem> & Error;
  return { message: message.replace(/^error: /, ''), status, place, hint, details };
}

function whole(value: string): number {
  if (!/^-?\d+$/.test(value)) throw new InvalidArgumentError('it must be a whole number.');
  return Number(value);
}

export function atLeast(least: number) {
  return (value: string): number => {
    const parsed = whole(value);
    if (parsed < least) throw new InvalidArgumentError(`it must be at least ${least}.`);
    return parsed;
  };
}

export function wholeBetween(least: number, most: number) {
  return (value: string): number => {
    const parsed = whole(value);
    if (parsed < least || parsed > most) throw new InvalidArgumentError(`it must be from ${least} to ${most}.`);
    return parsed;
  };
}

export type ThresholdOptions = Partial<Thresholds>;

/** Adds the survey's thresholds to a command. */
export function withThresholds(command: Command): Command {
  return command
    .option('--min-occurrences <n>', 'least number of places (default: 2)', atLeast(2))
    .option('--min-elements <n>', 'least number of elements in a fragment (default: 2)', atLeast(1))
    .option('--min-worth <bytes>', 'least number of bytes a recommended finding is worth (default: 145)', whole)
    .option('--max-props <n>', 'most props of one component (default: 8)', atLeast(0))
    .option('--min-lines <n>', 'least number of lines of a named block that is a region (default: 5)', atLeast(1))
    .option('--large-lines <n>', 'so many lines make a region of a part without a name (default: 40)', atLeast(1));
}

/** The configured thresholds, those of the command line before them. */
export function thresholdsOf(project: Project, options: ThresholdOptions): Thresholds {
  const given = Object.entries(options).filter(([key]) => key in project.config.survey);
  return { ...project.config.survey, ...Object.fromEntries(given) };
}
