/**
 * What belongs to whom: for a component, the rules that dress it, and how each depends on what stands around it. Decided
 * by matching the changed tree: the fragment by itself, an element without a name in its place, a wrapper around it,
 * its neighbours gone.
 */
import { type Child, type Element, type Parent, newElement } from '../page/tree.js';
import { type Dressed, type DressedPage, type Instance, instancesOf, type Reached, unitsOf } from './dress.js';
import { type Candidate, matches, positionalFor } from './match.js';
import type { Selector } from './selector.js';
import type { Unit } from './sheet.js';
import { addTo } from '../groups.js';

/** How a rule stands to a component. */
export interface Bond {
  unit: Unit;
  /** matches nothing outside the component's places on any page */
  own: boolean;
  /** dresses the component depending on what is around it */
  reachesIn: boolean;
  /** dresses something outside through it */
  reachesOut: boolean;
  /** dresses what is poured in through the component */
  throughSlot: boolean;
  /** a wrapper around the component would change whom it matches */
  wrapper: boolean;
  /** neighbours that come or go would */
  neighbours: boolean;
}

/** What of a component's places its rules reach. */
interface Reach {
  /** units that dress something of the component's own */
  inside: Set<Unit>;
  /** elements that are part of it, or poured in, by unit */
  within: Map<Unit, number>;
}

const noReach = (): Reach => ({ inside: new Set(), within: new Map() });

/** Adds what the rules of a page reach of a component's places on it. */
function addReach(on: DressedPage, places: Instance[], { inside, within }: Reach): void {
  const poured = new Set(places.flatMap((each) => [...each.poured]));
  for (const element of new Set(places.flatMap((each) => [...each.members])))
    for (const unit of unitsOf(on.matched.get(element)!)) {
      within.set(unit, (within.get(unit) ?? 0) + 1);
      if (!poured.has(element)) inside.add(unit);
    }
}

/** The rules that are a component's own, by sheet and source order: those of its bonds that are, without the others. */
export function ownUnits(dressed: Dressed, component: string): Unit[] {
  const reach = noReach();
  for (const on of dressed.pages) addReach(on, on.instances.get(component) ?? [], reach);
  const { inside, within } = reach;
  const alone = [...within].filter(([unit, count]) => dressed.reach.get(unit) === count).map(([unit]) => unit);
  const throughSlot = new Set<Unit>();
  if (alone.some((unit) => !inside.has(unit)))
    for (const instance of instancesOf(dressed, component)) unpoured(instance, throughSlot);
  const own = new Set(alone.filter((unit) => inside.has(unit) || throughSlot.has(unit)));
  return dressed.sheets.flatMap(({ units }) => units.filter((unit) => own.has(unit)));
}

/** The bonds of a component, by sheet and source order. Rules that only concern what is poured in, for itself, are none. */
export function bondsOf(dressed: Dressed, component: string): Bond[] {
  const { look, bonds } = bondReader(component);
  dressed.pages.forEach(look);
  return bonds(dressed);
}

/** Looks at the places of a component on pages, one after the other; and tells its bonds from all that were looked at. */
export function bondReader(component: string): {
  look: (on: DressedPage) => void;
  bonds: (reached: Reached) => Bond[];
} {
  const reach = noReach();
  const found = {
    reachesIn: new Set<Unit>(),
    reachesOut: new Set<Unit>(),
    throughSlot: new Set<Unit>(),
    wrapper: new Set<Unit>(),
    neighbours: new Set<Unit>(),
  };
  const look = (on: DressedPage): void => {
    const places = on.instances.get(component) ?? [];
    if (places.length === 0) return;
    addReach(on, places, reach);
    wrap(on, places, component, found.wrapper);
    nameless(on, places, found.reachesOut);
    // one may dress the next: every second one at once, for there may be hundreds
    for (const half of halvesOf(places)) nameless(on, half, found.reachesOut);
    for (const [, beside] of byParent(places)) for (const half of halvesOf(beside)) gone(half, found.neighbours);
    for (const instance of places) {
      alone(instance, found.reachesIn);
      unpoured(instance, found.throughSlot);
      without(instance, found.neighbours);
    }
  };
  return { look, bonds: (reached) => bondsFrom(found, reach, reached) };
}

/** Which units show each kind of bond. */
type Found = Record<Exclude<keyof Bond, 'unit' | 'own'>, Set<Unit>>;

function bondsFrom(found: Found, { inside, within }: Reach, { sheets, reach }: Reached): Bond[] {
  const all = new Set([...inside, ...Object.values(found).flatMap((units) => [...units])]);
  return sheets.flatMap(({ units }) =>
    units
      .filter((unit) => all.has(unit))
      .map((unit) => ({
        unit,
        own: reach.get(unit) === within.get(unit) && (inside.has(unit) || found.throughSlot.has(unit)),
        reachesIn: found.reachesIn.has(unit),
        reachesOut: found.reachesOut.has(unit),
        throughSlot: found.throughSlot.has(unit),
        wrapper: found.wrapper.has(unit),
        neighbours: found.neighbours.has(unit),
      })),
  );
}

/** An element that nothing names. */
function anonymous(parent: Parent | null, children: Child[], tag = 'x'): Element {
  return { ...newElement(tag, ''), children, parent };
}

/** Other children of a parent, and those nodes that stand below another parent with that. */
interface Change {
  parent: Parent;
  children: Child[];
  moved: [node: Child, to: Parent][];
}

/** Runs `look` with all changes made, and puts everything back. No parent and no node is in two of them. */
function changed(changes: Change[], look: () => void): void {
  const children = changes.map(({ parent }) => [parent, parent.children] as const);
  const homes = changes.flatMap(({ moved }) => moved.map(([node]) => [node, node.parent] as const));
  for (const change of changes) {
    change.parent.children = change.children;
    for (const [node, to] of change.moved) node.parent = to;
  }
  try {
    look();
  } finally {
    for (const [parent, before] of children) parent.children = before;
    for (const [node, home] of homes) node.parent = home;
  }
}

/** Marks the units of those matches that do not hold now. */
function lost(
  elements: Iterable<Element>,
  on: DressedPage,
  which: (candidate: Candidate) => boolean,
  units: Set<Unit>,
): void {
  for (const element of elements)
    for (const candidate of on.matched.get(element)!)
      if (which(candidate) && !units.has(candidate.rule.unit) && !matches(candidate.selector, element))
        units.add(candidate.rule.unit);
}

/**
 * Marks the units of those that match otherwise now, more or less.
 * @param elements with how many levels each stands below what changed its place
 * @param isAsked false for selectors that cannot match otherwise now
 */
export function otherwise(
  elements: Iterable<readonly [Element, number]>,
  on: DressedPage,
  units: Set<Unit>,
  isAsked: (selector: Selector) => boolean = () => true,
): void {
  for (const [element, level] of elements)
    for (const candidate of positionalFor(on.index, element, level)) {
      const { unit } = candidate.rule;
      if (units.has(unit) || !isAsked(candidate.selector)) continue;
      if (on.matched.get(element)!.includes(candidate) !== matches(candidate.selector, element)) units.add(unit);
    }
}

const isRelative = ({ selector }: Candidate) => selector.relative;

function alone({ on, roots, members, poured }: Instance, units: Set<Unit>): void {
  const home = anonymous(null, roots);
  const own = [...members].filter((element) => !poured.has(element));
  changed([{ parent: home, children: roots, moved: roots.map((root) => [root, home]) }], () =>
    lost(own, on, isRelative, units),
  );
}

/** An element that nothing names in the place of each instance, and what is outside them looked at. */
function nameless(on: DressedPage, instances: Instance[], units: Set<Unit>): void {
  const members = new Set(instances.flatMap((each) => [...each.members]));
  const others = on.sideways.filter((element) => !members.has(element));
  if (others.length === 0) return;
  const changes = byParent(instances).map(([parent, here]): Change => {
    const roots = new Set<Child>(here.flatMap((each) => each.roots));
    const children = parent.children.map((child) => (roots.has(child) ? anonymous(parent, []) : child));
    return { parent, children, moved: [] };
  });
  changed(changes, () => lost(others, on, ({ selector }) => selector.sideways, units));
}

/** What is poured in, where the component stands, without it. */
function unpoured({ on, roots, poured }: Instance, units: Set<Unit>): void {
  const tops = [...poured].filter(({ parent }) => !poured.has(parent as Element));
  const place = anonymous(roots[0]!.parent, tops);
  if (tops.length > 0)
    changed([{ parent: place, children: tops, moved: tops.map((top) => [top, place]) }], () =>
      lost(poured, on, isRelative, units),
    );
}

/** An instance without what stands beside it. */
function without({ on, roots, members }: Instance, units: Set<Unit>): void {
  const parent = roots[0]!.parent!;
  const isAlone = parent.children.length === roots.length;
  if (!isAlone) changed([{ parent, children: roots, moved: [] }], () => otherwise(atOnce(members), on, units));
}

/** What stands beside some instances of one parent, without these. */
function gone(instances: Instance[], units: Set<Unit>): void {
  const { on, roots } = instances[0]!;
  const parent = roots[0]!.parent!;
  const own = new Set<Child>(instances.flatMap((each) => each.roots));
  const others = parent.children.filter((child) => !own.has(child));
  const elements = others.filter((child) => child.kind === 'element');
  changed([{ parent, children: others, moved: [] }], () => otherwise(atOnce(elements), on, units));
}

/** Every second one, and the others. */
function halvesOf(instances: Instance[]): Instance[][] {
  return [0, 1].map((turn) => instances.filter((_, i) => i % 2 === turn)).filter(({ length }) => length > 0);
}

function byParent(instances: Instance[]): [Parent, Instance[]][] {
  const found = new Map<Parent, Instance[]>();
  for (const instance of instances) addTo(found, instance.roots[0]!.parent!, instance);
  return [...found];
}

function wrap(on: DressedPage, places: Instance[], tag: string, units: Set<Unit>): void {
  const near = nearTo(on, places);
  wrapped(places, tag, null, () => otherwise(near, on, units));
}

/** Elements that are looked at whatever level a rule looks at. */
export function atOnce(elements: Iterable<Element>): [Element, number][] {
  return Array.from(elements, (element) => [element, 0]);
}

/**
 * Elements that may be dressed otherwise when something changes at these places, and how many levels below it they stand:
 * `Infinity` for those that only rules with `:has()` may dress otherwise, which look from anywhere.
 */
export function nearTo(on: DressedPage, places: Instance[]): Iterable<readonly [Element, number]> {
  const levels = new Map<Element, number>();
  const visit = (parent: Parent, level: number): void => {
    for (const child of parent.children)
      if (child.kind === 'element' && level < (levels.get(child) ?? Infinity)) {
        levels.set(child, level);
        visit(child, level + 1);
      }
  };
  for (const parent of new Set(places.map(({ roots }) => roots[0]!.parent!))) {
    if (parent.kind === 'element') levels.set(parent, 0);
    visit(parent, 0);
  }
  if (on.index.index.looksDown)
    for (const element of on.elements) if (!levels.has(element)) levels.set(element, Infinity);
  return levels;
}

/** Runs `look` with an element around each place at once; `each` sees every one of them before. */
export function wrapped(
  places: Instance[],
  tag: string,
  each: ((wrapper: Element, roots: Element[]) => void) | null,
  look: () => void,
): void {
  const wrappers = new Map(places.map(({ roots }) => [roots[0]!, anonymous(roots[0]!.parent, roots, tag)]));
  const changes = byParent(places).map(([parent, here]): Change => {
    const inside = new Set<Child>(here.flatMap(({ roots }) => roots));
    const children = parent.children.flatMap(
      (child) => wrappers.get(child as Element) ?? (inside.has(child) ? [] : [child]),
    );
    const moved = here.flatMap(({ roots }) => roots.map((root) => [root, wrappers.get(roots[0]!)!] as [Child, Parent]));
    return { parent, children, moved };
  });
  changed(changes, () => {
    for (const { roots } of places) each?.(wrappers.get(roots[0]!)!, roots);
    look();
  });
}
