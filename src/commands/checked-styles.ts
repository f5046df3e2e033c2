/** What `check` says of styles: stylesheets proven again, markers, and rules that depend on where components stand. */
import { placeAt } from '../core/page/parse.js';
import type { Page } from '../core/page/parse.js';
import type { Difference } from '../core/page/same.js';
import { type Bond, bondsOf } from '../core/style/belongs.js';
import { dress } from '../core/style/dress.js';
import { expandAll, filledReader } from '../core/style/plan.js';
import { count } from '../terminal/style.js';
import type { Originals } from '../workspace/originals.js';
import type { Project } from '../workspace/project.js';
import type { Stylesheets } from '../workspace/stylesheets.js';
import { dressesOtherwise } from './moving.js';
import type { CheckProblem } from '../workspace/wrong-uses.js';

export interface CheckedSheet {
  path: string;
  /** `cascade`: the same declarations win on every page */
  same: 'bytes' | 'cascade' | 'different';
  first: Difference | null;
  /** what the user changed since the last write that this sheet is made of */
  edited: string[];
}

/** Checks the stylesheets that were written, and the styles of components. */
export function checkStyles(
  project: Project,
  pages: Page[],
  { sources }: Stylesheets,
  originals: Originals,
  changed: ReadonlySet<string>,
): { sheets: CheckedSheet[]; problems: CheckProblem[] } {
  const { registry } = project;
  const problems: CheckProblem[] = [];
  const tell = (
    kind: string,
    severity: CheckProblem['severity'],
    holder: { path: string; source: string },
    start: number,
    message: string,
  ) => problems.push({ kind, message, severity, ...placeAt(holder, start) });
  const expanded = expandAll(pages, registry);
  const { read, filled } = filledReader(sources, registry);
  const dressed = dress(expanded, read);
  for (const path of sources.keys()) read(path);
  const sheets: CheckedSheet[] = [];
  for (const [path, { text, ranges, problems: wrong }] of filled) {
    for (const { message, place } of wrong)
      problems.push({ kind: 'wrong-marker', message, severity: 'error', ...place });
    const original = originals.of(path);
    if (original === null) continue;
    if ('lost' in original) {
      tell('original-lost', 'error', { path, source: '' }, 0, `it cannot be proven: ${original.lost}`);
      continue;
    }
    const first = original.text;
    const parts = [path, ...ranges.map(({ component }) => registry.get(component)!.path)];
    const otherwise = first === text ? null : dressesOtherwise(expanded, path, first, read);
    sheets.push({
      path,
      same: first === text ? 'bytes' : otherwise === null ? 'cascade' : 'different',
      first: otherwise,
      edited: parts.filter((each) => changed.has(each)),
    });
  }
  const placed = new Set([...filled.values()].flatMap(({ ranges }) => ranges.map(({ component }) => component)));
  for (const component of registry.values()) {
    if (component.style !== null && !placed.has(component.name))
      tell(
        'unplaced-styles',
        'error',
        component,
        component.style.start,
        `no stylesheet has a marker @component ${component.name}; for these styles`,
      );
    const warning = warningOf(bondsOf(dressed, component.name));
    if (warning !== null)
      tell('styles', 'warning', component, component.template.start, `${warning}: estrade styles ${component.name}`);
  }
  return { sheets, problems };
}

/** What to know before a component is wrapped or moved, in a few words; null when nothing is. */
export function warningOf(bonds: Bond[]): string | null {
  const number = (which: (bond: Bond) => boolean) => bonds.filter(which).length;
  const facts = [
    [number(({ wrapper, neighbours }) => wrapper || neighbours), 'depends', 'depend', 'on where it stands'],
    [number(({ reachesOut }) => reachesOut), 'dresses', 'dress', 'something else through it'],
    [number(({ throughSlot }) => throughSlot), 'dresses', 'dress', 'what is poured into it'],
  ] as const;
  const told = facts
    .filter(([many]) => many > 0)
    .map(([many, one, more, what]) => `${count(many, 'rule')} ${many === 1 ? one : more} ${what}`);
  return told.length === 0 ? null : told.join(', ');
}
