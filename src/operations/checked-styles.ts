/** What `check` says of styles: stylesheets proven again, markers, and rules that depend on where components stand. */
import type { Registry } from '../core/component/model.js';
import { placeAt } from '../core/page/parse.js';
import type { Difference } from '../core/page/same.js';
import type { Bond } from '../core/style/belongs.js';
import type { Filled } from '../core/style/fill.js';
import { PageMatcher } from '../core/style/match.js';
import { type ExpandedPage, filledReader } from '../core/style/plan.js';
import { type Styling, stylingReader } from '../core/style/styling.js';
import { count } from '../terminal/style.js';
import type { Originals } from '../workspace/originals.js';
import type { Project } from '../workspace/project.js';
import type { Stylesheets } from '../workspace/stylesheets.js';
import type { CheckProblem } from '../workspace/wrong-uses.js';
import { dressingComparer } from './moving.js';

export interface CheckedSheet {
  path: string;
  /** `cascade`: the same declarations win on every page */
  same: 'bytes' | 'cascade' | 'different';
  first: Difference | null;
  /** what the user changed since the last write that this sheet is made of */
  edited: string[];
}

interface CheckedStyles {
  project: Project;
  sheets: Stylesheets;
  originals: Originals;
  /** what the user changed since the last write */
  changed: ReadonlySet<string>;
}

/** A stylesheet that was written. */
interface WrittenSheet extends Pick<CheckedSheet, 'path' | 'edited'> {
  /** tells what differs first on a page; null where the sheet is what it was to the byte */
  differenceOn: ReturnType<typeof dressingComparer> | null;
}

/** Checks styles on pages, one after the other: of none anything is held. */
export interface StyleChecker {
  look: (page: ExpandedPage) => void;
  /** what was found on all pages that were looked at */
  checked: () => { sheets: CheckedSheet[]; problems: CheckProblem[] };
}

/**
 * Checks the stylesheets that were written, and the styles of components.
 * @param advice also tells which rules depend on where components stand
 */
export function styleChecker({ project, sheets, originals, changed }: CheckedStyles, advice: boolean): StyleChecker {
  const { registry } = project;
  const { read, filled } = filledReader(sheets.sources, registry);
  const problems = [...filled.values()].flatMap((each) => each.problems.map(wrongMarker));
  const written: WrittenSheet[] = [];
  for (const [path, { text, ranges }] of filled) {
    const original = originals.of(path);
    if (original === null) continue;
    if ('lost' in original) {
      const message = `it cannot be proven: ${original.lost}`;
      problems.push({ kind: 'original-lost', message, severity: 'error', path, line: 1, column: 1 });
      continue;
    }
    const parts = [path, ...ranges.map(({ component }) => registry.get(component)!.path)];
    const differenceOn = original.text === text ? null : dressingComparer(path, original.text, read);
    written.push({ path, edited: parts.filter((each) => changed.has(each)), differenceOn });
  }
  problems.push(...unplacedStyles(registry, [...filled.values()]));
  const matcher = new PageMatcher(read);
  const styling = advice ? stylingReader(matcher, registry.keys()) : null;
  const different = new Map<string, Difference>();
  const look = (expanded: ExpandedPage): void => {
    styling?.look(expanded);
    const open = written.filter(({ path, differenceOn }) => differenceOn !== null && !different.has(path));
    if (open.length === 0) return;
    const matched = matcher.match(expanded.page);
    for (const { path, differenceOn } of open) {
      const first = differenceOn!(matched);
      if (first !== null) different.set(path, first);
    }
  };
  const checked = () => ({
    sheets: written.map(({ path, edited, differenceOn }): CheckedSheet => {
      const first = different.get(path) ?? null;
      return { path, same: differenceOn === null ? 'bytes' : first === null ? 'cascade' : 'different', first, edited };
    }),
    problems: styling === null ? problems : [...problems, ...dependingRules(registry, styling.styling())],
  });
  return { look, checked };
}

function wrongMarker({ message, place }: Filled['problems'][number]): CheckProblem {
  return { kind: 'wrong-marker', message, severity: 'error', ...place };
}

function unplacedStyles(registry: Registry, filled: Filled[]): CheckProblem[] {
  const placed = new Set(filled.flatMap(({ ranges }) => ranges.map(({ component }) => component)));
  return [...registry.values()].flatMap((component): CheckProblem[] => {
    if (component.style === null || placed.has(component.name)) return [];
    const message = `no stylesheet has a marker @component ${component.name}; for these styles`;
    return [{ kind: 'unplaced-styles', message, severity: 'error', ...placeAt(component, component.style.start) }];
  });
}

/** Components with rules that depend on where they stand, or that dress more than them. */
function dependingRules(registry: Registry, { bonds }: Styling): CheckProblem[] {
  return [...registry.values()].flatMap((component): CheckProblem[] => {
    const warning = warningOf(bonds.get(component.name)!);
    if (warning === null) return [];
    const message = `${warning}: estrade styles ${component.name}`;
    return [{ kind: 'styles', message, severity: 'warning', ...placeAt(component, component.template.start) }];
  });
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
