/** `roster`: every component with where it is used; of one, its uses with what each was given. */
import type { Command } from 'commander';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import { expandPage } from '../core/component/expand.js';
import type { Component } from '../core/component/model.js';
import { suggestion } from '../core/component/problems.js';
import { placeText, Problem, shownValue } from '../core/errors.js';
import { keyOf, type RosterEntry, rosterOf, type UseRow, useTable, type UseTable } from '../core/library/roster.js';
import type { PagesInTurn, Site } from '../core/library/uses.js';
import { readSheet } from '../core/style/sheet.js';
import { tellNotices } from '../operations/notices.js';
import { componentNamed } from '../operations/problems.js';
import { count, dim, number, terminalWidth } from '../terminal/style.js';
import { type Column, table } from '../terminal/table.js';
import { eachPage, openProject, type Project, readPages } from '../workspace/project.js';
import { print, printJson, tellUnreadable } from './printing.js';
import { columnsOf, labelOf, plainText, tableOfUses, usesJson } from './roster-table.js';

interface Options {
  where?: string[];
  unused?: boolean;
  csv?: boolean;
  json?: boolean;
}

type Listed = PagesInTurn & Pick<Site, 'data'>;

const collected = (value: string, before: string[] | undefined) => [...(before ?? []), value];

export function define(program: Command): void {
  program
    .command('roster')
    .argument('[component]', 'one of them: its uses, with what each was given')
    .description('list the components, where they are used and with what')
    .option('--where <prop=value>', 'of one component: uses that are given this (may be repeated)', collected)
    .option('--unused', 'components that nothing uses')
    .option('--csv', 'answer as comma-separated values')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExamples:\n  estrade roster\n  estrade roster boat-card --where heading="MV Tern"')
    .action(async (name: string | undefined, options: Options) => {
      if (options.where !== undefined && name === undefined)
        throw new Problem('--where goes with a component', { hint: 'estrade roster boat-card --where heading=Tern' });
      if (options.unused === true && name !== undefined) throw new Problem('--unused goes without a component');
      const project = await openProject(process.cwd());
      tellNotices(project);
      const loaded = await readPages(project, project.root, []);
      const site = { pages: eachPage(loaded), registry: project.registry, data: project.data };
      if (name === undefined) tellRoster(project, site, options);
      else tellUses(site, componentNamed(project, name), options);
      if (tellUnreadable(loaded.unreadable)) process.exitCode = 2;
    });
}

/** What a component takes, in a few words. */
function interfaceText({ ownProps, slots }: Component): string {
  const lists = [...ownProps.values()].filter(({ type }) => type === 'list').length;
  const parts = [
    [ownProps.size - lists, 'prop'],
    [lists, 'list'],
    [slots.size, 'slot'],
  ] as const;
  return parts.flatMap(([many, what]) => (many === 0 ? [] : [count(many, what)])).join(', ') || 'nothing';
}

function tellRoster(project: Project, site: Listed, options: Options): void {
  const all = rosterOf(site, (page) => expandPage(page, site.registry).components);
  const entries = options.unused === true ? all.filter(({ uses }) => uses.inPages + uses.inComponents === 0) : all;
  const told = entries.map((entry) => ({ ...entry, ...fileOf(project, entry.component) }));
  if (options.json === true) {
    printJson({
      format: 1,
      components: told.map(({ component, uses, pages, usedIn, lines, rules, changed }) => ({
        name: component.name,
        path: component.path,
        props: component.props.map(({ name, type, optional, default: standard, choices }) => ({
          name,
          type,
          optional,
          default: standard?.value ?? null,
          choices,
        })),
        slots: [...component.slots],
        uses: uses.inPages,
        inComponents: uses.inComponents,
        pages,
        usedIn,
        lines,
        rules,
        changed,
      })),
    });
    return;
  }
  const columns: Column[] = [
    { title: 'component', fixed: true },
    { title: 'takes', fixed: true },
    { title: 'uses', align: 'right', fixed: true },
    { title: 'pages', align: 'right', fixed: true },
    { title: 'lines', align: 'right', fixed: true },
    { title: 'rules in it', align: 'right', fixed: true },
    { title: 'changed', fixed: true },
    { title: 'used in' },
  ];
  const rows = told.map(({ component, uses, pages, usedIn, lines, rules, changed }) => [
    component.name,
    interfaceText(component),
    number(uses.inPages),
    number(pages.length),
    number(lines),
    number(rules),
    changed.slice(0, 10),
    usedIn.join(', '),
  ]);
  if (options.csv === true) printCsv(columns, rows);
  else if (rows.length === 0)
    print(all.length === 0 ? 'There is no component here yet: estrade lift --recommended' : 'Every component is used.');
  else {
    print(table(columns, rows, terminalWidth()));
    print(dim(`\n${summaryOf(all)}\nNext: estrade roster ${rows[0]![0]!}`));
  }
}

function summaryOf(all: RosterEntry[]): string {
  const uses = all.reduce((sum, each) => sum + each.uses.inPages, 0);
  const unused = all.filter((each) => each.uses.inPages + each.uses.inComponents === 0).length;
  return `${count(all.length, 'component')}, ${count(uses, 'use')} in pages${unused > 0 ? `, ${number(unused)} used nowhere: estrade roster --unused` : ''}`;
}

/** How many rules stand in a component's file, and when that was changed, as an ISO date. */
function fileOf({ root }: Project, { path, source, style }: Component): { rules: number; changed: string } {
  const rules = style === null ? 0 : readSheet(path, source.slice(style.start, style.end)).rules.length;
  return { rules, changed: statSync(join(root, path)).mtime.toISOString() };
}

function tellUses(site: Listed, component: Component, options: Options): void {
  const uses = useTable(site, component);
  const kept = uses.rows.filter(matching(uses, component, options.where ?? []));
  if (options.json === true) printJson({ format: 1, component: component.name, ...usesJson(uses, kept) });
  else if (options.csv === true)
    printCsv(
      columnsOf(uses),
      kept.map(({ place, given }) => [placeText(place), ...given.map(plainText)]),
    );
  else {
    const some = kept.length < uses.rows.length ? `, ${number(kept.length)} of them` : '';
    print(`${component.name}  ${count(uses.rows.length, 'use')}${some}, ${component.path}\n`);
    if (kept.length > 0) print(table(...tableOfUses(uses, kept), terminalWidth()));
    if (kept.some(({ odd }) => odd.some(Boolean))) print(dim('\nMarked with *: most uses are given something else.'));
  }
}

/** Which uses are given what is asked for. @throws Problem (exit 2) for a prop that there is not */
function matching({ columns }: UseTable, component: Component, where: string[]): (row: UseRow) => boolean {
  const asked = where.map((each) => {
    const [, name = '', value = ''] = /^([^=]*)=(.*)$/s.exec(each) ?? [each, each];
    const at = columns.findIndex((column) => labelOf(column) === name);
    if (at < 0 || !each.includes('='))
      throw new Problem(
        at < 0 ? `${component.name} has no prop ${shownValue(name)}` : `--where ${each} asks for no value`,
        {
          hint:
            at < 0
              ? suggestion(name, columns.map(labelOf), 'its props and slots')
              : `write --where ${name}=value, or ${name}= for those without`,
        },
      );
    return { at, value };
  });
  return ({ given }) =>
    asked.every(({ at, value }) => {
      const each = given[at]!;
      return value === '' ? each.kind === 'none' || keyOf(each) === '' : each.kind !== 'none' && keyOf(each) === value;
    });
}

/** As RFC 4180 has it, with line feeds. */
function printCsv(columns: Column[], rows: string[][]): void {
  const field = (text: string) => (/[",\n\r]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
  for (const row of [columns.map(({ title }) => title), ...rows]) print(row.map(field).join(','));
}
