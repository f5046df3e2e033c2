/** The formats that answers come in beside text: for programs, and for editors and continuous integration. */
import { type Command, Option } from 'commander';
import { placeText, type Problem } from '../core/errors.js';
import { driftIn, driftText } from '../core/survey/drift.js';
import type { Checked } from '../operations/check.js';
import type { DrawnPlace } from '../operations/drawn.js';
import type { Surveyed } from '../operations/survey.js';
import { type Result, type Rule, sarifLog } from '../report/sarif.js';
import { count } from '../terminal/style.js';
import { oneLine } from '../terminal/table.js';
import { ownVersion } from '../workspace/version.js';
import { driftPlaces } from './drift.js';

export const FORMATS = ['text', 'json', 'sarif'] as const;

export type Format = (typeof FORMATS)[number];

export interface FormatOptions {
  json?: boolean;
  format?: Format;
}

/** Adds `--format` and `--json`, which is one of them, to a command. */
export function withFormats(command: Command): Command {
  return command
    .addOption(new Option('--format <format>', 'how to answer: sarif is for editors and CI').choices(FORMATS))
    .option('--json', 'answer as JSON (docs/json.md)');
}

/** The format that is asked for. */
export function formatOf({ json, format }: FormatOptions): Format {
  return format ?? (json === true ? 'json' : 'text');
}

/** What each kind of result is, as editors show it beside the results. */
export const RULES: readonly Rule[] = [
  { id: 'error', text: 'The command could not go on.' },
  { id: 'unreadable', text: 'A page or stylesheet cannot be read.' },
  { id: 'drift', text: 'A part that pages share says something else here than on most of them.' },
  { id: 'slip', text: 'Something was probably forgotten when this was copied.' },
  { id: 'near-use', text: 'A component would give this back but for one thing.' },
  { id: 'not-liftable', text: 'Markup that no component can be made of.' },
  { id: 'note', text: 'A comment or selector for Estrade does not do what it seems to.' },
  { id: 'unstyled', text: 'No stylesheet that was read knows most of the class words.' },
  { id: 'unknown-name', text: 'A placeholder or block names no prop.' },
  { id: 'unknown-field', text: 'A placeholder or block names no field of its list.' },
  { id: 'unknown-slot', text: 'Content is given for a slot that the component does not have.' },
  { id: 'unknown-prop', text: 'A use has an attribute that is no prop of its component.' },
  { id: 'missing-prop', text: 'A use lacks a prop that its component needs.' },
  { id: 'unknown-choice', text: 'A prop has a value that is none of its choices.' },
  { id: 'bad-list', text: 'The list of a use is not what its component takes.' },
  { id: 'unknown-component', text: 'A tag or template names a component that is not there.' },
  { id: 'unreadable-use', text: 'A use cannot be read.' },
  { id: 'wrong-marker', text: 'A marker in a stylesheet stands for no styles.' },
  { id: 'unplaced-styles', text: 'The styles of a component are in no stylesheet.' },
  { id: 'original-lost', text: 'What this file was is lost, so that it cannot be proven.' },
  { id: 'unreadable-file', text: 'A file or folder cannot be read.' },
  { id: 'unused-component', text: 'A component is used nowhere.' },
  { id: 'page-gone', text: 'A page that was there is gone.' },
  { id: 'stylesheet-gone', text: 'A stylesheet that was there is gone.' },
  { id: 'styles', text: 'Rules depend on where a component stands, or dress more than the component.' },
  { id: 'missing-file', text: 'A relative URL points at no file.' },
  { id: 'page-differs', text: 'A page is not what it was.' },
  { id: 'stylesheet-differs', text: 'A stylesheet does not dress the pages as it did.' },
  { id: 'page-unproven', text: 'Nothing says what a page was.' },
  { id: 'drawn-otherwise', text: 'A page does not look as it did.' },
  { id: 'not-drawn', text: 'A page did not load, so that it was not compared.' },
  { id: 'computed-otherwise', text: 'An element does not compute to the styles that it had.' },
  { id: 'same-value', text: 'A prop has the same value in all uses.' },
  { id: 'untaken-default', text: 'A prop has a default that no use takes.' },
  { id: 'could-be-one', text: 'Two components could be one.' },
];

/** What a survey tells of: drift and slips at their places, and what could not be read. */
export function surveySarif({ findings, remarks, project }: Surveyed): object {
  const recommended = findings.filter((finding) => finding.recommended);
  const drifted = recommended.flatMap((finding) =>
    driftIn(finding).flatMap((drift) =>
      drift.places.map(({ value, place }): Result => {
        const [here, most] = [value, drift.usual].map((each) => oneLine(driftText(each, drift)));
        const message = `${finding.name}: ${drift.prop} is ${here!} here, and ${most!} on ${count(drift.count, 'page')}`;
        return { rule: 'drift', level: 'warning', message, place };
      }),
    ),
  );
  const told = new Set(recommended.flatMap(driftPlaces));
  const remarked = remarks.flatMap(({ kind, message, places }): Result[] => {
    const level = kind === 'unreadable' ? 'error' : kind === 'slip' ? 'warning' : 'note';
    const result = { rule: kind, level, message } as const;
    if (places.length === 0) return [{ ...result, place: null }];
    const left = places.filter((place) => kind !== 'slip' || !told.has(placeText(place)));
    return left.map((place) => ({ ...result, place }));
  });
  return sarifLog({ version: ownVersion(), root: project.root, rules: RULES, results: [...drifted, ...remarked] });
}

/** What a check tells of: what is wrong, what differs, what could be said with less. */
export function checkSarif(checked: Checked): object {
  const { root, pages, stylesheets, problems, unproven, advice, pictured } = checked;
  const differs =
    (rule: string) =>
    (file: Checked['pages'][number] | Checked['stylesheets'][number]): Result[] => {
      const { path, same, first, edited } = file;
      if (same !== 'different') return [];
      const { line, column, what } = first!;
      const mine = edited.length > 0 ? `you edited ${edited.join(', ')}: ` : '';
      const message = `${mine}at ${line}:${column} of what it was, ${what}`;
      return [{ rule, level: edited.length > 0 ? 'note' : 'error', message, place: { path, line: 1, column: 1 } }];
    };
  const level = (edited: string[]) => (edited.length > 0 ? 'note' : 'error');
  const at = ({ path, line, column }: DrawnPlace) => ({ path, line, column });
  const drawn = (pictured?.different ?? []).flatMap(({ width, pixels, places, files, edited }) =>
    places.slice(0, 1).map((place): Result => {
      const message = `${count(pixels, 'pixel')} differ at a width of ${width}, first in ${place.element}: ${files.difference}`;
      return { rule: 'drawn-otherwise', level: level(edited), message, place: at(place) };
    }),
  );
  const unloaded = (pictured?.unloaded ?? []).map(({ path, message }): Result => {
    return { rule: 'not-drawn', level: 'error', message, place: { path, line: 1, column: 1 } };
  });
  const computed = (pictured?.restyled ?? []).map((each): Result => {
    const message = `${each.property} of ${each.element}${each.pseudo} was "${oneLine(each.before)}" and is "${oneLine(each.after)}"`;
    return { rule: 'computed-otherwise', level: level(each.edited), message, place: at(each) };
  });
  const results = [
    ...pages.flatMap(differs('page-differs')),
    ...stylesheets.flatMap(differs('stylesheet-differs')),
    ...problems.map(({ kind, message, severity, path, line, column }): Result => {
      return { rule: kind, level: severity, message, place: { path, line, column } };
    }),
    ...unloaded,
    ...drawn,
    ...computed,
    ...unproven.map((path): Result => {
      const message = 'components are used, and nothing says what was there before';
      return { rule: 'page-unproven', level: 'note', message, place: { path, line: 1, column: 1 } };
    }),
    ...(advice ?? []).map(({ kind, message, commands, place }): Result => {
      return { rule: kind, level: 'note', message: `${message}: ${commands.join(' && ')}`, place };
    }),
  ];
  return sarifLog({ version: ownVersion(), root, rules: RULES, results });
}

/** An error that ended the command, as the one result of its log. @param root absolute path that its place is relative to */
export function errorSarif(error: unknown, root: string): object {
  const { message, place = null } = error as Partial<Problem> & Error;
  const result: Result = { rule: 'error', level: 'error', message: message.replace(/^error: /, ''), place };
  return sarifLog({ version: ownVersion(), root, rules: RULES, results: [result] });
}
