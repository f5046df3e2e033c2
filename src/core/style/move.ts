/**
 * Moving styles into components: which units go where, and why others stay. A unit that would change a winner stays,
 * with the two declarations that compete.
 */
import { workingOn } from '../errors.js';
import { once } from '../once.js';
import type { Element } from '../page/tree.js';
import { type Bond, bondsOf } from './belongs.js';
import { positionsAfter, runsOf, type Share } from './cut.js';
import { type Dressed, instancesOf, unitsOf } from './dress.js';
import type { Filled } from './fill.js';
import { keyframesOf, namedIn } from './names.js';
import { type ContestReader, type Contests, type Declared, reordered } from './order.js';
import type { Sheet, Unit } from './sheet.js';
import { addTo } from '../groups.js';

export interface Staying {
  component: string;
  unit: Unit;
  why: string;
  /** its own declaration, and the one that it must not pass */
  competes: [Declared, Declared] | null;
}

export interface MovePlan {
  /** by sheet, what moves into which component */
  shares: Map<Sheet, Share[]>;
  /** own rules that stay */
  staying: Staying[];
}

/** How many ways to place a marker are tried. */
const TRIES = 4;

/**
 * Plans to move the own rules of components into them.
 * @param paths component files by component, of those that are to move
 * @param refuse why a unit cannot move into the component file at a path, null when it can
 * @param sheets where styles of components are filled in, by path: what stands there is a component's already; and what competes
 */
export function planMove(
  dressed: Dressed,
  paths: ReadonlyMap<string, string>,
  bonds: ReadonlyMap<string, Bond[]>,
  refuse: (unit: Unit, path: string) => string | null,
  { filled, contests }: { filled: ReadonlyMap<string, Filled>; contests: ContestReader },
): MovePlan {
  const plan: MovePlan = { shares: new Map(), staying: [] };
  const stay = (component: string, unit: Unit, why: string, competes: Staying['competes'] = null) =>
    plan.staying.push({ component, unit, why, competes });
  const named = namedIn(dressed.sheets);
  for (const [component, own] of homes(dressed, paths, bonds)) {
    const path = paths.get(component)!;
    const able = own.filter((unit) => {
      const ranges = filled.get(unit.sheet.path)?.ranges ?? [];
      if (ranges.some((each) => isIn(unit, each))) return false;
      const why = refuse(unit, path);
      if (why !== null) stay(component, unit, why);
      return why === null;
    });
    const bySheet = new Map<Sheet, Unit[]>();
    for (const unit of able) addTo(bySheet, unit.sheet, unit);
    const [sheet, ...others] = [...bySheet].sort((a, b) => b[1].length - a[1].length).map(([each]) => each);
    for (const other of others)
      for (const unit of bySheet.get(other)!)
        stay(component, unit, `most of its rules stand in ${sheet!.path}, and one marker has one place`);
    if (sheet === undefined) continue;
    const shares = plan.shares.get(sheet) ?? [];
    plan.shares.set(sheet, shares);
    const rules = bySheet.get(sheet)!;
    const frames = keyframesOf(named, rules).filter((unit) => unit.sheet === sheet && refuse(unit, path) === null);
    const units = [...rules, ...frames].sort((a, b) => a.at - b.at);
    shares.push(placed(sheet, { component, path, units, anchor: units[0]! }, contests(sheet)));
  }
  const meeting = once(() => meetingIn(dressed));
  for (const [sheet, shares] of plan.shares)
    resolveConflicts(sheet, shares, contests(sheet), (component, unit, competes) => {
      const [one, other] = competes;
      const where = meeting()(one.rule.unit, other.rule.unit) ? '' : ' where a script adds the class of the other rule';
      stay(component, unit, `moving it would change what wins${where}`, competes);
    });
  for (const [sheet, shares] of plan.shares)
    plan.shares.set(
      sheet,
      shares.filter(({ units }) => units.length > 0),
    );
  return plan;
}

/** Each own unit with the one component that it goes to: one that it does not reach into, the innermost of these. */
function homes(
  dressed: Dressed,
  paths: ReadonlyMap<string, string>,
  bonds: ReadonlyMap<string, Bond[]>,
): Map<string, Unit[]> {
  const sizes = new Map([...paths.keys()].map((name) => [name, sizeOf(dressed, name)]));
  const best = new Map<Unit, { component: string; bond: Bond }>();
  for (const component of paths.keys())
    for (const bond of bonds.get(component) ?? []) {
      if (!bond.own) continue;
      const now = best.get(bond.unit);
      const better =
        now === undefined ||
        Number(bond.reachesIn) - Number(now.bond.reachesIn) < 0 ||
        (bond.reachesIn === now.bond.reachesIn && sizes.get(component)! < sizes.get(now.component)!);
      if (better) best.set(bond.unit, { component, bond });
    }
  const homes = new Map<string, Unit[]>();
  for (const name of paths.keys()) homes.set(name, []);
  for (const { units } of dressed.sheets)
    for (const unit of units) {
      const home = best.get(unit);
      if (home !== undefined) homes.get(home.component)!.push(unit);
    }
  return new Map([...homes].filter(([, units]) => units.length > 0));
}

/** How many elements a component has, on average. */
function sizeOf(dressed: Dressed, name: string): number {
  const all = instancesOf(dressed, name);
  return all.reduce((sum, { members }) => sum + members.size, 0) / Math.max(1, all.length);
}

/** Components whose styles hold own rules of smaller ones that are to move: those are looked through again. */
export function holdersOf(
  dressed: Dressed,
  bonds: ReadonlyMap<string, Bond[]>,
  filled: ReadonlyMap<string, Filled>,
): string[] {
  const holders = new Set<string>();
  for (const [name, list] of bonds)
    for (const { unit, own, reachesIn } of list) {
      if (!own || reachesIn || unit.sheet.element > 0) continue;
      const range = (filled.get(unit.sheet.path)?.ranges ?? []).find((each) => isIn(unit, each));
      if (
        range !== undefined &&
        !bonds.has(range.component) &&
        sizeOf(dressed, name) < sizeOf(dressed, range.component)
      )
        holders.add(range.component);
    }
  return [...holders];
}

function isIn({ node }: Unit, { start, end }: { start: number; end: number }): boolean {
  return node.start >= start && node.end <= end;
}

/** Whether two units match one element on some page; which elements each matches is looked up once. */
function meetingIn({ pages }: Dressed): (one: Unit, other: Unit) => boolean {
  const elements = new Map<Unit, Set<Element>>();
  for (const { matched } of pages)
    for (const [element, list] of matched)
      for (const unit of unitsOf(list)) {
        const known = elements.get(unit);
        if (known === undefined) elements.set(unit, new Set([element]));
        else known.add(element);
      }
  return (one, other) => [...(elements.get(one) ?? [])].some((element) => elements.get(other)?.has(element) === true);
}

/** The share with its marker where the most of it can move. */
function placed(sheet: Sheet, share: Share, contests: Contests): Share {
  const runs = runsOf(sheet, new Set(share.units)).sort((a, b) => b.units.length - a.units.length);
  let best = share;
  let most = 0;
  for (const { units } of runs.slice(0, TRIES)) {
    const tried = { ...share, anchor: units[0]! };
    resolveConflicts(sheet, [tried], contests, () => undefined);
    if (tried.units.length > most) best = { ...share, anchor: units[0]! };
    most = Math.max(most, tried.units.length);
    if (most === share.units.length) break;
  }
  return best;
}

/** Takes units out of shares until every order that matters is as it was. */
function resolveConflicts(
  sheet: Sheet,
  shares: Share[],
  contests: Contests,
  tell: (component: string, unit: Unit, competes: [Declared, Declared]) => void,
): void {
  for (;;) {
    const wrong = reordered(contests, positionsAfter(sheet, shares));
    if (wrong.size === 0) return;
    for (const share of shares) {
      for (const unit of share.units) if (wrong.has(unit)) tell(share.component, unit, wrong.get(unit)!);
      share.units = share.units.filter((unit) => !wrong.has(unit));
    }
  }
}

/** The bonds of several components, by name. */
export function bondsOfAll(dressed: Dressed, components: Iterable<string>): Map<string, Bond[]> {
  return new Map([...components].map((name) => [name, workingOn(name, () => bondsOf(dressed, name))]));
}
