/** `show`: one finding, as it stands and as it would be written. */
import type { Command } from 'commander';
import { Problem } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import type { Finding } from '../core/survey/types.js';
import { bold, count, dim, green, size, terminalWidth } from '../terminal/style.js';
import { cut, oneLine, table } from '../terminal/table.js';
import { print, printJson, tellUnreadable, type ThresholdOptions, withThresholds } from './context.js';
import { findingJson, surveyProject } from './survey.js';

interface Options extends ThresholdOptions {
  json?: boolean;
  all?: boolean;
}

const ROWS = 12;

export function define(program: Command): void {
  withThresholds(program.command('show').argument('<name>', 'a finding of the survey'))
    .description('show one finding: where it stands, what varies, what would be written')
    .option('--all', `list every place, not only the first ${ROWS}`)
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade show sailing-row')
    .action(async (name: string, options: Options) => {
      const { findings, unreadable } = await surveyProject(process.cwd(), [], options);
      const finding = pick(findings, name);
      if (options.json === true)
        printJson({ format: 1, ...findingJson(finding), file: finding.file, uses: finding.uses });
      else printFinding(finding, options.all === true);
      if (tellUnreadable(unreadable)) process.exitCode = 2;
    });
}

/** The finding of that name. @throws Problem that names the nearest ones */
export function pick(findings: Finding[], name: string): Finding {
  const found = findings.find((finding) => finding.name === name);
  if (found !== undefined) return found;
  const names = findings.map((finding) => finding.name);
  const near = names.filter((each) => each.includes(name) || name.includes(each)).slice(0, 5);
  throw new Problem(`the survey has no finding "${name}"`, {
    hint: near.length > 0 ? `did you mean ${near.join(', ')}?` : 'estrade survey --all lists all names',
  });
}

function printFinding(finding: Finding, all: boolean): void {
  const { name, kind, occurrences, props, saved, component } = finding;
  const pages = new Set(occurrences.map(({ page }) => page)).size;
  print(`${bold(name)}  ${kind}, ${count(occurrences.length, 'place')} on ${count(pages, 'page')}`);
  const verdict = finding.recommended ? green('recommended') : `not recommended: ${finding.reason ?? ''}`;
  print(`${verdict}; saves ${count(saved.lines, 'line')}, ${size(saved.bytes)}\n`);

  const shown = all ? occurrences.length : Math.min(ROWS, occurrences.length);
  const rows = occurrences.slice(0, shown).map(({ page, element }, i) => {
    const { path, line, column } = placeAt(page, element.start);
    return [`${path}:${line}:${column}`, ...props.map((prop) => cell(prop, i))];
  });
  print(table([{ title: 'place' }, ...props.map((prop) => ({ title: prop.name }))], rows, terminalWidth()));
  if (shown < occurrences.length) print(dim(`… and ${count(occurrences.length - shown, 'more place')}: --all`));

  print(`\n${dim(component === null ? 'The component file:' : `The component is there already: ${component.path}`)}`);
  if (component === null) print(indent(finding.file.trimEnd()));
  print(`\n${dim('A use:')}`);
  print(indent(dedent(finding.uses[0]!)));
  if (component === null || finding.recommended) print(dim(`\nNext: estrade lift ${name} --dry-run`));
}

function cell(prop: Finding['props'][number], i: number): string {
  const value = prop.values[i] ?? null;
  if (value === null) return dim(prop.default === null ? '(none)' : '(default)');
  if (typeof value === 'boolean') return value ? 'yes' : dim('no');
  if (Array.isArray(value)) return count(value.length, 'record');
  return value.value === '' ? dim('(empty)') : cut(oneLine(value.value), 40);
}

function indent(text: string): string {
  return text.replace(/^(?=.)/gm, '  ');
}

/** Takes off the indentation that the later lines of a use have in its page. */
function dedent(text: string): string {
  const spaces = [...text.matchAll(/\n([ \t]*)/g)].map((match) => match[1]!);
  const least = spaces.reduce((a, b) => (b.length < a.length ? b : a), spaces[0] ?? '');
  const unit = least.startsWith('\t') ? '\t' : '  ';
  return least === '' ? text : text.replaceAll(`\n${least}`, `\n${unit}`);
}
