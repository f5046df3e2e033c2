/** `show` of a component that is there: its file, its interface, its uses, what stands in it, and its styles. */
import { expandPage } from '../core/component/expand.js';
import type { Component, Prop } from '../core/component/model.js';
import { usesIn } from '../core/component/read.js';
import { type RosterEntry, rosterOf, useTable } from '../core/library/roster.js';
import type { Surveyed } from '../operations/survey.js';
import { bold, count, dim, terminalWidth, yellow } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { print, printJson } from './printing.js';
import { tableOfUses, usesJson } from './roster-table.js';
import { componentStyles, type FindingStyles } from './styles.js';

/** So many uses are shown, where nobody asks for all. */
const ROWS = 12;

export async function showComponent(
  surveyed: Surveyed,
  component: Component,
  options: { json?: boolean; all?: boolean; styles?: boolean },
): Promise<void> {
  const { project, pages } = surveyed;
  const { registry, data } = project;
  const site = { pages, registry, data };
  const entry = rosterOf(site, (page) => expandPage(page, registry).components).find(
    (each) => each.component === component,
  )!;
  const inside = usesIn(component, registry).sort();
  const isStyled = options.styles === true;
  const styles = isStyled ? await componentStyles(surveyed, component.name) : null;
  const uses = useTable(site, component);
  if (options.json === true) {
    const { name, path, about, props, slots } = component;
    const told = props.map((prop) => ({ ...prop, default: prop.default?.value ?? null }));
    const { pages: on, usedIn, lines } = entry;
    printJson({
      format: 1,
      ...{ name, path, about, props: told, slots: [...slots], lines, pages: on, usedIn, inside },
      ...(isStyled ? { styles } : {}),
      file: component.source,
      ...usesJson(uses, uses.rows),
    });
    return;
  }
  printHead(component, entry, inside);
  if (styles !== null) print(stylesText(component, styles));
  const rows = options.all === true ? uses.rows : uses.rows.slice(0, ROWS);
  if (rows.length > 0) print(`\n${table(...tableOfUses(uses, rows), terminalWidth())}`);
  if (rows.length < uses.rows.length)
    print(dim(`… and ${count(uses.rows.length - rows.length, 'more use')}: estrade roster ${component.name}`));
  print(`\n${dim('Its file:')}\n${component.source.trimEnd().replace(/^(?=.)/gm, '  ')}`);
}

function printHead(component: Component, { uses, pages, usedIn, lines }: RosterEntry, inside: string[]): void {
  const { name, path, about, props, slots } = component;
  print(`${bold(name)}  a component, in ${path}, ${count(lines, 'line')}`);
  print(`${count(uses.inPages, 'use')} in pages; takes part in ${count(pages.length, 'page')}`);
  if (about !== null) print(about);
  if (usedIn.length > 0) print(`Used in ${usedIn.join(', ')}`);
  if (inside.length > 0) print(`Made of ${inside.join(', ')}`);
  const rows = props.map((prop) => [prop.name, prop.type, necessityOf(prop), prop.choices.join(' ')]);
  const columns = [
    { title: 'prop', fixed: true },
    { title: 'type', fixed: true },
    { title: 'given' },
    { title: 'choices' },
  ];
  const used = rows.some(([, , , choices]) => choices !== '') ? 4 : 3;
  if (rows.length > 0)
    print(
      `\n${table(
        columns.slice(0, used),
        rows.map((row) => row.slice(0, used)),
        terminalWidth(),
      )}`,
    );
  const named = [...slots].map((slot) => (slot === '' ? 'its content' : slot));
  if (named.length > 0) print(`\n${count(named.length, 'slot')}: ${named.join(', ')}`);
}

/** Whether a prop must be given, or what stands for it. */
export function necessityOf({
  type,
  optional,
  default: standard,
}: Pick<Prop, 'type' | 'optional' | 'default'>): string {
  return standard !== null ? `default "${standard.value}"` : optional || type === 'flag' ? 'optional' : 'required';
}

function stylesText({ name, style }: Component, { own, shared, warning }: FindingStyles): string {
  const where = style === null ? '' : ', styles in its file';
  const more = warning === null ? '' : `; ${yellow(warning)}`;
  const text = `${own === 0 ? 'no rule' : count(own, 'rule')} of its own, ${shared} shared${where}${more}`;
  return `\n${dim('Styles:')} ${text}: estrade styles ${name}`;
}
