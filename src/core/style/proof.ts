/**
 * Proves that two sets of stylesheets dress the same pages alike: every winner of every element is the same, and a
 * sheet holds the same rules as before, in the same order where that matters to what scripts may do.
 */
import type { Page } from '../page/parse.js';
import { attrOf, type Element } from '../page/tree.js';
import type { Cascade } from './cascade.js';
import type { Candidate, MatchedPage } from './match.js';
import { addTo } from '../groups.js';
import { firstNotBefore } from '../search.js';
import { type ContestReader, type Declared, reordered } from './order.js';
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

/** An element with the rules of a cascade that match it. */
interface MatchedElement {
  element: Element;
  matched: readonly Candidate[];
  cascade: Cascade;
}

/** Compares how two sets of sheets dress pages. Elements that the same rules match are looked at once, over all pages. */
export class CascadeComparer {
  /** what was found to be alike */
  private readonly alike = new Set<string>();
  private readonly sequences = new WeakMap<readonly Candidate[], string>();
  private readonly names = new WeakMap<Candidate, string>();
  /** by what units say, and in which sheet */
  private readonly units = new Map<string, number>();

  /** The first place where what wins differs, or null. */
  compare(before: MatchedPage, after: MatchedPage): CascadeDifference | null {
    for (const element of before.elements) {
      const one = { element, matched: before.matched.get(element)!, cascade: before.cascade };
      const two = { element, matched: after.matched.get(element)!, cascade: after.cascade };
      const found = this.compareElements(one, two);
      if (found !== null) return { page: before.page, element, ...found };
    }
    return null;
  }

  /** The first property for which something else wins for one element than for the other, or null. */
  compareElements(
    one: MatchedElement,
    two: MatchedElement,
  ): Pick<CascadeDifference, 'property' | 'before' | 'after'> | null {
    const [rules, others] = [this.rulesIn(one.matched), this.rulesIn(two.matched)];
    const [style, other] = [one, two].map(({ element }) => attrOf(element, 'style') ?? '');
    // the same rules in the same order leave nothing to be decided
    if (rules === others && style === other && haveEqualLayers(one.cascade, two.cascade)) return null;
    const key = [rules, others, style, other, layersIn(one.cascade), layersIn(two.cascade)].join('\n');
    if (this.alike.has(key)) return null;
    const first = applyingTo(one.element, one.matched, one.cascade);
    const second = applyingTo(two.element, two.matched, two.cascade);
    for (const property of new Set([...first.keys(), ...second.keys()])) {
      const found = difference(winnersOf(first.get(property) ?? []), winnersOf(second.get(property) ?? []));
      if (found !== null) return { property, before: found[0], after: found[1] };
    }
    this.alike.add(key);
    return null;
  }

  /** Names the rules that match an element, in their order, by all that they say. */
  private rulesIn(matched: readonly Candidate[]): string {
    let known = this.sequences.get(matched);
    if (known === undefined) this.sequences.set(matched, (known = matched.map((each) => this.nameOf(each)).join()));
    return known;
  }

  private nameOf(candidate: Candidate): string {
    let known = this.names.get(candidate);
    if (known === undefined) {
      const { rule, selector, use } = candidate;
      const { path, element } = rule.sheet;
      const said = JSON.stringify([path, element, use.conditions, use.layers, rule.layers, identityOf(rule.unit)]);
      const unit = this.units.get(said) ?? this.units.size;
      this.units.set(said, unit);
      known = `${unit}.${rule.unit.rules.indexOf(rule)}.${rule.selectors.indexOf(selector)}`;
      this.names.set(candidate, known);
    }
    return known;
  }
}

/** Whether two cascades have the same layers in one order: that decides what wins once scripts add and remove classes. */
export function haveEqualLayers(one: Cascade, other: Cascade): boolean {
  return layersIn(one) === layersIn(other);
}

/** The order of the layers of a cascade. */
function layersIn({ layers }: Cascade): string {
  return [...layers.keys()].join(';');
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
export function compareSheets(before: Sheet, after: Sheet, contests: ContestReader): SheetDifference | null {
  const was = counterparts(after, before);
  const found = new Set(was.values());
  const lost = before.units.filter((unit) => !found.has(unit));
  if (lost.length > 0) return { lost };
  const added = after.units.find((unit) => !was.has(unit));
  if (added !== undefined) return { added };
  const order = after.units.map((unit) => was.get(unit)!);
  const [pair] = reordered(contests(before), movedIn(order)).values();
  return pair === undefined ? null : { reordered: pair };
}

const identities = new WeakMap<Unit, string>();

/** A unit as all that it says, without how it is laid out. */
function identityOf(unit: Unit): string {
  let known = identities.get(unit);
  if (known === undefined) identities.set(unit, (known = identityAnew(unit)));
  return known;
}

function identityAnew({ kind, name, around, node, rules, sheet }: Unit): string {
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
