/** `show`: one finding, as it stands and as it would be written. */
import type { Command } from 'commander';
import { Problem } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import { echoesIn } from '../core/survey/echoes.js';
import type { Cut, Finding } from '../core/survey/types.js';
import { pick } from '../operations/pick.js';
import { pointAt, type PointingOptions, toldOptions, wishedFindings } from '../operations/pointing.js';
import { type Surveyed, surveyProject } from '../operations/survey.js';
import { type ThresholdOptions, thresholdsOf } from '../operations/thresholds.js';
import { savedText } from '../terminal/saved.js';
import { bold, count, dim, green, number, terminalWidth, yellow } from '../terminal/style.js';
import { type Column, cut, oneLine, table } from '../terminal/table.js';
import { driftTable } from './drift.js';
import { withPointing, withThresholds } from './options.js';
import { tellFixed, tellPointed } from './pointed.js';
import { hint, print, printJson, tellUnreadable } from './printing.js';
import type { FindingStyles } from './styles.js';
import { findingJson } from './survey.js';
import { linesIn } from './surveyed.js';

interface Options extends ThresholdOptions, PointingOptions {
  json?: boolean;
  all?: boolean;
  styles?: boolean;
}

const ROWS = 12;

/** With fewer columns of values than this, places are written out in full. */
const FEW = 8;

export function define(program: Command): void {
  withThresholds(withPointing(program.command('show').argument('[name]', 'a finding of the survey, or a component')))
    .description('show one finding, as it stands and would be written, or a component that is there')
    .option('--all', `list every place, not only the first ${ROWS}`)
    .option('--styles', 'count the rules that dress it, and tell which depend on where it stands')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExamples:\n  estrade show sailing-row\n  estrade show --select ".sailing"')
    .action(async (name: string | undefined, options: Options) => {
      const pointed = await pointAt(process.cwd(), name === undefined ? [] : [name], options);
      if (name === undefined && pointed === null)
        throw new Problem('nothing is named to be shown', {
          hint: 'name a finding of the survey, or point with --at, --lines or --select',
        });
      const surveyed = pointed?.surveyed ?? (await surveyProject(process.cwd(), [], options));
      const { unreadable } = surveyed;
      const known = name === undefined ? undefined : surveyed.project.registry.get(name);
      if (known !== undefined && !surveyed.findings.some((each) => each.name === name)) {
        const { showComponent } = await import('./show-component.js');
        await showComponent(surveyed, known, options);
        if (tellUnreadable(unreadable)) process.exitCode = 2;
        return;
      }
      const wished = pointed ?? wishedFindings(surveyed, [pick(surveyed, name!)], options);
      const finding = 'finding' in wished ? wished.finding : wished.findings[0]!;
      const lines = linesIn(surveyed);
      const cuts = countedCuts(surveyed, finding);
      const styles = options.styles === true ? await stylesOf(surveyed, finding) : null;
      if (options.json === true)
        printJson({
          format: 1,
          ...findingJson(finding),
          ...(options.styles === true ? { styles } : {}),
          file: finding.file,
          uses: finding.uses,
          echoes: echoesIn(finding),
          cuts: cuts.map(cutJson),
        });
      else
        printFinding({
          finding,
          cuts,
          surveyed,
          lines,
          all: options.all === true,
          again: pointed?.again ?? [name, toldOptions(options)].join(' ').trim(),
          styles,
          minWorth: thresholdsOf(surveyed.project, options).minWorth,
        });
      if (pointed !== null && options.json !== true) tellPointed(pointed);
      if (pointed === null && options.json !== true) tellFixed(wished.leftOut);
      if (tellUnreadable(unreadable)) process.exitCode = 2;
    });
}

async function stylesOf(surveyed: Surveyed, finding: Finding): Promise<FindingStyles | null> {
  const { findingStyles } = await import('./styles.js');
  return findingStyles(surveyed, finding);
}

/** A way to cut, and how long the site would be after it alone. */
type Counted = Cut & { linesAfter: number };

interface Shown {
  finding: Finding;
  cuts: Counted[];
  surveyed: Surveyed;
  /** lines of the whole site */
  lines: number;
  all: boolean;
  /** what names it on the command line */
  again: string;
  styles: FindingStyles | null;
  /** the least worth of what is recommended, in bytes */
  minWorth: number;
}

/** The ways to cut a finding, the finding itself first. */
export function countedCuts(surveyed: Surveyed, finding: Finding): Counted[] {
  const lines = linesIn(surveyed);
  return surveyed.cutsOf(finding).map((cut) => ({ ...cut, linesAfter: lines - cut.alone.saved.lines }));
}

function printFinding({ finding, cuts, surveyed, lines, all, again, styles, minWorth }: Shown): void {
  const { name, kind, occurrences, props, saved, component } = finding;
  const on = new Set(occurrences.map(({ page }) => page)).size;
  print(`${bold(name)}  ${kind}, ${count(occurrences.length, 'place')} on ${count(on, 'page')}`);
  const reason = finding.reason === null ? 'pointed at' : `not recommended: ${finding.reason}`;
  print(`${finding.recommended ? green('recommended') : reason}; ${savedText(saved)}\n`);

  if (finding.terms.length > 0) print(`${termTable(finding, minWorth)}\n`);

  const shown = all ? occurrences.length : Math.min(ROWS, occurrences.length);
  const rows = occurrences.slice(0, shown).map(({ page, element }, i) => {
    const { path, line, column } = placeAt(page, element.start);
    return [`${path}:${line}:${column}`, ...props.map((prop) => cell(prop, i))];
  });
  print(
    table(
      [{ title: 'place', fixed: finding.props.length < FEW }, ...props.map((prop) => ({ title: prop.name }))],
      rows,
      terminalWidth(),
    ),
  );
  if (shown < occurrences.length) print(dim(`… and ${count(occurrences.length - shown, 'more place')}: --all`));

  const drifted = driftTable([finding], surveyed);
  if (drifted !== null)
    print(
      `\n${yellow('Drift:')} most pages agree, these differ; estrade lift ${name} --unify all makes them one\n${drifted}`,
    );
  if (styles !== null) {
    const { own, shared, warning } = styles;
    const more = warning === null ? '' : `; ${yellow(warning)}: estrade styles ${name}`;
    print(`\n${dim('Styles:')} ${own === 0 ? 'no rule' : count(own, 'rule')} of its own, ${shared} shared${more}`);
  }
  for (const { prop, of, form } of echoesIn(finding)) print(`${prop} is ${of} in ${form}; it stays a prop of its own`);

  print(`\n${dim(component === null ? 'The component file:' : `The component is there already: ${component.path}`)}`);
  if (component === null) print(indent(finding.file.trimEnd()));
  print(`\n${dim('A use:')}`);
  print(indent(dedent(finding.uses[0]!)));
  if (cuts.length > 1)
    print(
      `\n${dim(`Ways to cut it; the site has ${count(lines, 'line')}, and after each by itself:`)}\n${cutTable(cuts)}`,
    );
  if (cuts.length > 1) hint(`\nAnother one: estrade lift ${again} --cut 2`);
  if (component === null || finding.recommended) hint(`\nNext: estrade lift ${again} --dry-run`);
}

/** What it is worth, term by term: why it is recommended or not. */
function termTable({ terms }: Finding, minWorth: number): string {
  const sum = terms.reduce((total, { bytes }) => total + bytes, 0);
  const columns: Column[] = [
    { title: 'worth', fixed: true },
    { title: 'bytes', align: 'right', fixed: true },
  ];
  const rows = [...terms, { what: 'together', bytes: sum }, { what: 'least that is recommended', bytes: minWorth }];
  return table(
    columns,
    rows.map(({ what, bytes }) => [what, number(bytes)]),
    terminalWidth(),
  );
}

function cutTable(cuts: Counted[]): string {
  const columns: Column[] = [
    { title: '', align: 'right', fixed: true },
    { title: 'way' },
    { title: 'component' },
    { title: 'lines', align: 'right', fixed: true },
    { title: 'files', align: 'right', fixed: true },
    { title: 'props', align: 'right', fixed: true },
    { title: 'slots', align: 'right', fixed: true },
    { title: 'uses', align: 'right', fixed: true },
    { title: 'to change', align: 'right', fixed: true },
  ];
  const rows = cuts.map(({ what, alone, places, linesAfter }, i) => [
    String(i + 1),
    what,
    alone.name,
    number(linesAfter),
    '1',
    number(alone.props.length),
    number(alone.slots.length),
    number(alone.occurrences.length),
    count(places, 'place'),
  ]);
  return table(columns, rows, terminalWidth());
}

function cutJson({ what, alone, places, linesAfter }: Counted) {
  const { name, props, slots, occurrences } = alone;
  return {
    what,
    name,
    linesAfter,
    files: 1,
    props: props.length,
    slots: slots.length,
    uses: occurrences.length,
    places,
  };
}

/** What an occurrence gives a prop, in a few words; quiet where it gives nothing of its own. */
export function givenAt(prop: Finding['props'][number], i: number): { text: string; isQuiet: boolean } {
  const value = prop.values[i] ?? null;
  const quiet = (text: string) => ({ text, isQuiet: true });
  if (value === null) return quiet(prop.default === null ? '(none)' : '(default)');
  if (value === false) return quiet('no');
  if (value === true) return { text: 'yes', isQuiet: false };
  if (Array.isArray(value)) return { text: count(value.length, 'record'), isQuiet: false };
  return value.value === '' ? quiet('(empty)') : { text: cut(oneLine(value.value), 40), isQuiet: false };
}

function cell(prop: Finding['props'][number], i: number): string {
  const { text, isQuiet } = givenAt(prop, i);
  return isQuiet ? dim(text) : text;
}

export function indent(text: string): string {
  return text.replace(/^(?=.)/gm, '  ');
}

/** Takes off the indentation that the later lines of a use have in its page. */
export function dedent(text: string): string {
  const spaces = [...text.matchAll(/\n([ \t]*)/g)].map((match) => match[1]!);
  const least = spaces.reduce((a, b) => (b.length < a.length ? b : a), spaces[0] ?? '');
  const unit = least.startsWith('\t') ? '\t' : '  ';
  return least === '' ? text : text.replaceAll(`\n${least}`, `\n${unit}`);
}
