/** How commands print: answers, what could be done next, long lists, and what is wrong. */
import { relative } from 'node:path';
import { Fault, placeText, Problem } from '../core/errors.js';
import { notice } from '../operations/notices.js';
import { bold, count, dim, red } from '../terminal/style.js';
import { isQuiet, isVerbose } from '../terminal/voice.js';
import { reasonOf, type Unreadable } from '../workspace/files.js';

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

/** So few of a kind are named where others are only counted. */
export const FEW_NAMED = 3;

/**
 * The first of what is listed, all of it where `--verbose` asks for that.
 * @param most how many are listed at most
 * @param what one of them is called
 * @returns those, and a line that tells how many more there are, or none
 */
export function firstOf<T>(all: T[], most: number, what: string): { shown: T[]; more: string[] } {
  const shown = isVerbose() ? all : all.slice(0, most);
  const left = all.length - shown.length;
  return { shown, more: left === 0 ? [] : [dim(`… and ${count(left, `more ${what}`)}: --verbose lists all`)] };
}

/** Prints lines, the first of them where there are many: see `firstOf`. */
export function printFirst(lines: string[], most: number, what: string): void {
  const { shown, more } = firstOf(lines, most, what);
  for (const line of [...shown, ...more]) print(line);
}

export function printJson(value: unknown): void {
  print(JSON.stringify(value, null, 2));
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
