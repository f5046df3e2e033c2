/** How styles are told, in a terminal and as JSON: a table of all components and sheets, or the rules of one. */
import { placeText } from '../core/errors.js';
import type { Bond } from '../core/style/belongs.js';
import type { Named } from '../core/style/names.js';
import { sheetName, sheetPlace } from '../core/style/places.js';
import type { Unit } from '../core/style/sheet.js';
import type { Styling } from '../core/style/styling.js';
import type { Totals } from '../core/style/totals.js';
import { bold, count, dim, green, number, terminalWidth, yellow } from '../terminal/style.js';
import { type Column, cut, oneLine, table } from '../terminal/table.js';
import { print } from './printing.js';

/** What is asked about, as it is or as it would be lifted. */
export interface Subject extends Styling {
  /** false for findings, which are not lifted yet */
  lifted: boolean;
  /** rules that stand in a component file, by component */
  inside: Map<string, number>;
}

const marks: readonly [keyof Omit<Bond, 'unit'>, string][] = [
  ['own', 'own'],
  ['reachesIn', 'reaches in'],
  ['reachesOut', 'reaches out'],
  ['throughSlot', 'poured in'],
  ['wrapper', 'wrapper'],
  ['neighbours', 'neighbours'],
];

const isPositional = ({ wrapper, neighbours }: Bond) => wrapper || neighbours;

/** Of the rules that dress something, how many are how. */
export function tally(list: Bond[]) {
  const number = (which: (bond: Bond) => boolean) => list.filter(which).length;
  return {
    own: number(({ own }) => own),
    shared: number(({ own }) => !own),
    reachesIn: number(({ reachesIn }) => reachesIn),
    reachesOut: number(({ reachesOut }) => reachesOut),
    poured: number(({ throughSlot }) => throughSlot),
    positional: number(isPositional),
  };
}

/** How many lines of a list are shown without `--all`. */
const ROWS = 12;

export function printAll(subject: Subject, totals: Totals[], named: Named[], all: boolean): void {
  const { sheets, bonds, places, lifted, inside } = subject;
  if (sheets.length === 0) print('No page has a stylesheet here.');
  const right = (title: string): Column => ({ title, align: 'right', fixed: true });
  if (bonds.size > 0) {
    const columns = [
      { title: lifted ? 'component' : 'finding' },
      ...['places', 'own', 'shared', 'reach in', 'reach out', 'poured in', 'positional'].map(right),
      ...(lifted ? [right('in its file')] : []),
    ];
    const rows = [...bonds].map(([name, list]) => {
      const { own, shared, reachesIn, reachesOut, poured, positional } = tally(list);
      const numbers = [places.get(name) ?? 0, own, shared, reachesIn, reachesOut, poured, positional];
      return [
        name,
        ...[...numbers, ...(lifted ? [inside.get(name) ?? 0] : [])].map((each) =>
          each === 0 ? dim('·') : number(each),
        ),
      ];
    });
    print(`${table(columns, rows, terminalWidth())}\n`);
  }
  if (totals.length > 0) {
    const columns = [{ title: 'stylesheet' }, ...['rules', 'own', 'shared', 'of pages', 'not seen'].map(right)];
    const rows = totals.map(({ sheet, rules, own, shared, pages, unseen }) => [
      sheetName(sheet),
      ...[rules, own, shared, pages, unseen.length].map((each) => (each === 0 ? dim('·') : number(each))),
    ]);
    print(table(columns, rows, terminalWidth()));
  }
  const unseen = totals.flatMap((each) => each.unseen);
  if (unseen.length > 0) {
    print(`\n${yellow('Not seen')} on any page; scripts may add what they dress:`);
    listed(unseen, unitLine, all);
  }
  const idle = named.filter(({ users }) => users.size === 0);
  if (idle.length > 0) {
    print(`\n${yellow('Named and not used')} by any rule:`);
    listed(idle, namedLine, all);
  }
  const problems = problemsOf(subject);
  if (problems.length > 0) {
    print(`\n${yellow('Passed over,')} as a browser would:`);
    listed(problems, ({ message, ...place }) => `${placeText(place)}: ${message}`, all);
  }
  const [next] = bonds.keys();
  if (next !== undefined)
    print(
      dim(
        `\nNext: estrade styles ${next}${lifted ? `, estrade styles ${next} --move` : ', estrade lift --recommended --styles move'}`,
      ),
    );
}

export function printOne(name: string, { bonds, places, lifted, inside }: Subject, named: Named[], all: boolean): void {
  const list = bonds.get(name)!;
  const { own, shared } = tally(list);
  print(
    `${bold(name)}  ${count(places.get(name) ?? 0, 'place')}, ${own === 0 ? 'no rule' : count(own, 'rule')} of its own, ${shared} shared${(inside.get(name) ?? 0) > 0 ? `, ${inside.get(name)!} in its file` : ''}`,
  );
  const shown = all ? list : [...list].sort((a, b) => weight(b) - weight(a)).slice(0, Math.max(ROWS, 20));
  const rows = list
    .filter((bond) => shown.includes(bond))
    .map((bond) => [
      placeOf(bond.unit),
      selectorOf(bond.unit),
      bond.own ? green('own') : 'shared',
      marks
        .filter(([key]) => key !== 'own' && bond[key])
        .map(([, told]) => told)
        .join(', '),
    ]);
  if (rows.length > 0)
    print(
      `\n${table([{ title: 'rule', fixed: true }, { title: 'selector' }, { title: 'whose', fixed: true }, { title: 'depends' }], rows, terminalWidth())}`,
    );
  if (shown.length < list.length) print(dim(`… and ${count(list.length - shown.length, 'more rule')}: --all`));
  for (const line of meanings(list)) print(line);
  const units = new Set(list.filter((bond) => bond.own).map(({ unit }) => unit));
  const only = named.filter(({ users }) => users.size > 0 && [...users].every((unit) => units.has(unit)));
  if (only.length > 0) {
    print('\nUsed only here:');
    listed(only, namedLine, all);
  }
  if (own > 0)
    print(
      dim(
        `\nNext: ${!lifted ? `estrade lift ${name} --styles move` : (inside.get(name) ?? 0) > 0 ? `estrade styles ${name} --back` : `estrade styles ${name} --move`}`,
      ),
    );
}

/** What depends on something comes first. */
function weight(bond: Bond): number {
  return marks.filter(([key]) => key !== 'own' && bond[key]).length * 2 + Number(bond.own);
}

function meanings(list: Bond[]): string[] {
  const has = (which: (bond: Bond) => boolean) => list.some(which);
  return [
    has(({ reachesIn }) => reachesIn) ? `${dim('reaches in:')} it dresses this by what is around it` : '',
    has(({ reachesOut }) => reachesOut) ? `${dim('reaches out:')} it dresses something else through this` : '',
    has(({ throughSlot }) => throughSlot) ? `${dim('poured in:')} content that is moved out of this would lose it` : '',
    has(({ wrapper }) => wrapper) ? `${dim('wrapper:')} an element around this would change whom it matches` : '',
    has(({ neighbours }) => neighbours) ? `${dim('neighbours:')} so would siblings that come or go` : '',
  ]
    .filter((line) => line !== '')
    .map((line, i) => (i === 0 ? `\n${line}` : line));
}

function listed<T>(items: T[], lineOf: (item: T) => string, all: boolean): void {
  const shown = all ? items : items.slice(0, ROWS);
  for (const item of shown) print(`  ${lineOf(item)}`);
  if (shown.length < items.length) print(dim(`  … and ${items.length - shown.length} more: --all`));
}

function placeOf({ sheet, node }: Unit): string {
  return placeText(sheetPlace(sheet, node.start));
}

/** The selector, with the at-rules around it. */
function selectorOf({ name, around }: Unit): string {
  const rules = around.map((each) => oneLine(`@${each.name!} ${each.prelude}`)).join(', ');
  return `${cut(oneLine(name), 60)}${rules === '' ? '' : dim(`  ${cut(rules, 40)}`)}`;
}

function unitLine(unit: Unit): string {
  return `${placeOf(unit)}  ${selectorOf(unit)}`;
}

const KINDS = { keyframes: '@keyframes ', font: '@font-face ', property: '' } as const;

function namedLine({ kind, name, sheet, start }: Named): string {
  return `${placeText(sheetPlace(sheet, start))}  ${KINDS[kind]}${name}`;
}

/** What was dropped from sheets, is not there or elsewhere; each once. */
export function problemsOf({ sheets, notes }: Styling) {
  const found = new Map<string, { path: string; line: number; column: number; message: string }>();
  for (const sheet of sheets)
    for (const { message, start } of sheet.problems) {
      const place = sheetPlace(sheet, start);
      found.set(`${placeText(place)} ${message}`, { ...place, message });
    }
  for (const { message, place } of notes) if (!found.has(message)) found.set(message, { ...place, message });
  return [...found.values()];
}

function ruleJson(bond: Bond) {
  const { unit, own, reachesIn, reachesOut, throughSlot, wrapper, neighbours } = bond;
  return {
    selector: unit.name,
    ...sheetPlace(unit.sheet, unit.node.start),
    own,
    reachesIn,
    reachesOut,
    pouredIn: throughSlot,
    wrapper,
    neighbours,
  };
}

export function componentJson(name: string, list: Bond[], { places, lifted, inside }: Subject, named: Named[]) {
  const units = new Set(list.filter((bond) => bond.own).map(({ unit }) => unit));
  const only = named.filter(({ users }) => users.size > 0 && [...users].every((unit) => units.has(unit)));
  return {
    name,
    lifted,
    places: places.get(name) ?? 0,
    inItsFile: inside.get(name) ?? 0,
    rules: list.map(ruleJson),
    usedOnlyHere: only.map(namedJson),
  };
}

function namedJson({ kind, name, sheet, start }: Named) {
  return { kind, name, ...sheetPlace(sheet, start) };
}

export function totalsJson({ sheet, rules, own, shared, pages, unseen }: Totals) {
  const notSeen = unseen.map((unit) => ({ selector: unit.name, ...sheetPlace(sheet, unit.node.start) }));
  return { path: sheet.path, element: sheet.element, rules, own, shared, pages, notSeen };
}
