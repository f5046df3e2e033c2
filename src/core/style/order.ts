/**
 * Whose order matters: two rules of one sheet that set the same longhand with the same weight, and that may both match
 * one element once scripts add and remove classes. As long as every such pair keeps its order, the same declarations
 * win whatever classes come and go (CSS Cascading and Inheritance Level 5, order of appearance).
 */
import { addTo } from '../groups.js';
import { onceEach } from '../once.js';
import { firstNotBefore } from '../search.js';
import { longhandsOf } from './properties.js';
import type { Subject } from './compound.js';
import type { Selector } from './selector.js';
import type { Sheet, StyleRule, Unit } from './sheet.js';
import type { Declaration } from './syntax.js';
import { NOT_ALL } from './winners.js';

/** Where units stand, those that are to move at their new places: numbers in source order. */
type Positions = ReadonlyMap<Unit, number>;

export interface Declared {
  rule: StyleRule;
  declaration: Declaration;
}

interface Competitor extends Declared {
  selector: Selector;
}

/** Declarations between which only the order decides, in source order. */
export type Contest = readonly Competitor[];

/** The contests of a sheet. */
export interface Contests {
  all: readonly Contest[];
  /** the numbers of those that a unit takes part in */
  of: ReadonlyMap<Unit, number[]>;
}

/** Gives the contests of each sheet, which are looked for once. */
export type ContestReader = (sheet: Sheet) => Contests;

export function contestReader(): ContestReader {
  return onceEach(contestsOf);
}

function contestsOf({ rules, units }: Sheet): Contests {
  const namesOf = (property: string) => longhandsOf(property).map(({ name }) => name);
  const all = new Set(rules.flatMap(({ declarations }) => declarations.flatMap(({ property }) => namesOf(property))));
  const everything = [...all].filter((name) => !name.startsWith('--') && !NOT_ALL.has(name));
  const contests = new Map<string, Competitor[]>();
  for (const rule of units.flatMap((unit) => unit.rules))
    for (const selector of rule.selectors) {
      const weight = `${rule.layers.join('.')} ${selector.specificity.join()} ${selector.pseudo}`;
      for (const declaration of rule.declarations)
        for (const longhand of declaration.property === 'all' ? everything : namesOf(declaration.property))
          addTo(contests, `${longhand} ${weight} ${declaration.important}`, { rule, declaration, selector });
    }
  const open = [...contests.values()].filter(({ length }) => length > 1);
  const numbers = new Map<Unit, number[]>();
  for (const [number, contest] of open.entries())
    for (const unit of new Set(contest.map(({ rule }) => rule.unit))) addTo(numbers, unit, number);
  return { all: open, of: numbers };
}

/**
 * The moving units whose order with another one is changed, though it matters: with their declaration and the one of
 * the other. Where both move, it is the one that goes further. @param positions those of the moving units
 */
export function reordered({ all, of }: Contests, positions: Positions): Map<Unit, [Declared, Declared]> {
  const found = new Map<Unit, [Declared, Declared]>();
  const placeOf = (unit: Unit) => positions.get(unit) ?? unit.at;
  const wayOf = (unit: Unit) => Math.abs(placeOf(unit) - unit.at);
  const numbers = new Set([...positions.keys()].flatMap((unit) => of.get(unit) ?? []));
  for (const number of [...numbers].sort((a, b) => a - b)) {
    const contest = all[number]!;
    const moving = contest.filter(({ rule }) => positions.has(rule.unit));
    const isInOrder = moving.every(
      (each, i) => i === 0 || placeOf(moving[i - 1]!.rule.unit) <= placeOf(each.rule.unit),
    );
    for (const one of moving) {
      const { unit } = one.rule;
      if (found.has(unit)) continue;
      const isPassed = ({ rule, selector }: Competitor) =>
        rule.unit.at < unit.at !== placeOf(rule.unit) < placeOf(unit) &&
        rule.unit !== unit &&
        wayOf(unit) >= wayOf(rule.unit) &&
        canMeet(one.selector.subject, selector.subject);
      const other =
        passedOver(contest, unit.at, placeOf(unit)).find(isPassed) ?? (isInOrder ? undefined : moving.find(isPassed));
      if (other !== undefined) found.set(unit, [one, other]);
    }
  }
  return found;
}

/** Those of a contest that stand between two places. */
function passedOver(all: Contest, one: number, other: number): Contest {
  const first = (place: number) => firstNotBefore(all, ({ rule }) => rule.unit.at < place);
  return all.slice(first(Math.min(one, other)), first(Math.max(one, other)));
}

/** Whether one element may match both, given the right classes. */
function canMeet(one: Subject, other: Subject): boolean {
  const isOpen = (a: string | null, b: string | null) => a === null || b === null || a === b;
  const isDenied = (a: Subject, b: Subject) => a.denied.some((name) => b.names.includes(name));
  return (
    isOpen(one.tag, other.tag) &&
    isOpen(one.id, other.id) &&
    !isDenied(one, other) &&
    !isDenied(other, one) &&
    one.values.every(([name, value]) => other.values.every(([own, its]) => own !== name || its === value))
  );
}
