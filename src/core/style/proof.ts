/**
 * Proves that two sets of stylesheets dress the same pages alike: every winner of every element is the same, and a
 * sheet holds the same rules as before, in the same order where that matters to what scripts may do.
 */
import type { Page } from '../page/parse.js';
import { attrOf, type Element } from '../page/tree.js';
import type { Candidate, MatchedPage } from './match.js';
import { addTo } from '../groups.js';
import { firstNotBefore } from '../search.js';
import { contestsOf, type Declared, reordered } from './order.js';
import { fold, type Sheet, type Unit } from './sheet.js';
import { applyingTo, difference, type Entry, winnersOf } from './winners.js';

export interface CascadeDifference {
  page: Page;
  element: Element;
  /** `::before color`, a longhand with its pseudo-element in front */
  property: string;
  before: Entry | null;
  after: Entry | null;
}

/**
 * The first place where what wins differs, or null. Elements that the same rules match are looked at once.
 * @param seen which these are, over all pages that are compared
 */
export function compareCascades(before: MatchedPage, after: MatchedPage, seen: Set<string>): CascadeDifference | null {
  const { page, elements } = before;
  const indexes = `${before.index.index.number} ${after.index.index.number}`;
  for (const element of elements) {
    const one = before.matched.get(element)!;
    const two = after.matched.get(element)!;
    const key = `${indexes} ${signature(one)} ${signature(two)} ${attrOf(element, 'style') ?? ''}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const first = applyingTo(element, one, before.cascade);
    const second = applyingTo(element, two, after.cascade);
    for (const property of new Set([...first.keys(), ...second.keys()])) {
      const found = difference(winnersOf(first.get(property) ?? []), winnersOf(second.get(property) ?? []));
      if (found !== null) return { page, element, property, before: found[0], after: found[1] };
    }
  }
  return null;
}

const signatures = new WeakMap<readonly Candidate[], string>();

/** Names the rules that match an element. */
function signature(matched: readonly Candidate[]): string {
  let known = signatures.get(matched);
  if (known === undefined) signatures.set(matched, (known = matched.map(({ id }) => id).join()));
  return known;
}

/** What keeps a sheet from being the same as before: rules that are not there again, or two that changed their order. */
export type SheetDifference = { lost: Unit[] } | { added: Unit } | { reordered: [Declared, Declared] };

/** The units of one sheet that say what those of another do, wherever they stand; of equal ones, each has its own. */
export function counterparts(sheet: Sheet, other: Sheet): Map<Unit, Unit> {
  const there = new Map<string, Unit[]>();
  for (const unit of [...other.units].reverse()) addTo(there, identityOf(unit), unit);
  return new Map(
    sheet.units.flatMap((unit) => {
      const found = there.get(identityOf(unit))?.pop();
      return found === undefined ? [] : [[unit, found] as const];
    }),
  );
}

/** Compares the rules of a sheet with those that it has when it is read again, wherever these stand; null when alike. */
export function compareSheets(before: Sheet, after: Sheet): SheetDifference | null {
  const was = counterparts(after, before);
  const found = new Set(was.values());
  const lost = before.units.filter((unit) => !found.has(unit));
  if (lost.length > 0) return { lost };
  const added = after.units.find((unit) => !was.has(unit));
  if (added !== undefined) return { added };
  const order = after.units.map((unit) => was.get(unit)!);
  const [pair] = reordered(contestsOf(before), movedIn(order)).values();
  return pair === undefined ? null : { reordered: pair };
}

/** A unit as all that it says, without how it is laid out. */
function identityOf({ kind, name, around, node, rules, sheet }: Unit): string {
  const conditions = around.map((each) => [each.name, fold(each.prelude)]);
  const inside =
    kind === 'keyframes'
      ? fold(sheet.source.slice(node.start, node.end))
      : rules.map((rule) => [
          rule.conditions,
          rule.selectors.map(({ text }) => fold(text)),
          rule.declarations.map(({ property, value, important }) => [property, fold(value), important]),
        ]);
  return JSON.stringify([kind, name, conditions, inside]);
}

/** The units that stand elsewhere in a new order, with their places among those that need not have moved. */
function movedIn(order: readonly Unit[]): Map<Unit, number> {
  const staying = longestRising(order);
  const positions = new Map<Unit, number>();
  let last = -1;
  order.forEach((unit, i) => {
    if (staying.has(unit)) last = unit.at;
    else positions.set(unit, last + 0.5 + i / (2 * order.length + 2));
  });
  return positions;
}

/** As many units as there can be of which each stands behind the one before it, as it did. */
function longestRising(order: readonly Unit[]): ReadonlySet<Unit> {
  /** by length, the unit that ends the run of that length which ends soonest */
  const ends: Unit[] = [];
  const previous = new Map<Unit, Unit | undefined>();
  for (const unit of order) {
    const at = firstNotBefore(ends, (end) => end.at < unit.at);
    previous.set(unit, ends[at - 1]);
    ends[at] = unit;
  }
  const run = new Set<Unit>();
  for (let unit = ends.at(-1); unit !== undefined; unit = previous.get(unit)) run.add(unit);
  return run;
}
