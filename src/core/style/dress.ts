/** Pages as they are dressed: their elements, what each of them is matched by, and where components stand. */
import { workingOn } from '../errors.js';
import { firstNotBefore } from '../search.js';
import type { UseRange } from '../component/expand.js';
import type { Page } from '../page/parse.js';
import type { Element, Parent } from '../page/tree.js';
import type { Candidate, MatchedPage, PageMatcher } from './match.js';
import type { Sheet, Unit } from './sheet.js';

/** One place where a component stands on a page that is expanded. */
export interface Instance {
  on: DressedPage;
  /** the outermost elements, in document order */
  roots: Element[];
  members: Set<Element>;
  /** those of the members that a page poured in */
  poured: Set<Element>;
}

export interface DressedPage extends MatchedPage {
  instances: Map<string, Instance[]>;
  /** elements that a rule dresses through one that is not around them */
  sideways: Element[];
}

/** What the rules of all pages dress. */
export interface Reached {
  /** all sheets that pages use, by path, those of `style` elements last */
  sheets: Sheet[];
  /** how many elements each unit matches, over all pages */
  reach: ReadonlyMap<Unit, number>;
}

export interface Dressed extends Reached {
  pages: DressedPage[];
}

/** A page that is expanded, and where the uses stand on it. */
export interface ExtendedPage {
  page: Page;
  extents: readonly UseRange[];
}

/** Matches all rules against all pages. */
export function dress(
  pages: readonly ExtendedPage[],
  matcher: PageMatcher,
  tick?: (done: number, all: number) => void,
): Dressed {
  const { dressPage, reached } = dresser(matcher);
  const dressed = pages.map((each, i) => {
    tick?.(i, pages.length);
    return dressPage(each);
  });
  return { pages: dressed, ...reached() };
}

/** Matches all rules against pages, one after the other; and tells what was reached on all that were dressed. */
export function dresser(matcher: PageMatcher): {
  dressPage: (page: ExtendedPage) => DressedPage;
  reached: () => Reached;
} {
  const sheets = new Set<Sheet>();
  const reach = new Map<Unit, number>();
  const dressOne = ({ page, extents }: ExtendedPage): DressedPage => {
    const made = matcher.match(page);
    const { elements, matched } = made;
    for (const { sheet } of made.cascade.uses) sheets.add(sheet);
    const sideways = elements.filter((element) => matched.get(element)!.some(({ selector }) => selector.sideways));
    for (const list of matched.values()) for (const unit of unitsOf(list)) reach.set(unit, (reach.get(unit) ?? 0) + 1);
    const on: DressedPage = { ...made, instances: new Map(), sideways };
    const standing = bySource(elements);
    for (const extent of extents) {
      const list = on.instances.get(extent.component) ?? [];
      on.instances.set(extent.component, list);
      const instance = instanceOf(on, standing, extent);
      if (instance.roots.length > 0) list.push(instance);
    }
    return on;
  };
  return {
    dressPage: (each) => workingOn(each.page.path, () => dressOne(each)),
    reached: () => ({
      sheets: [...sheets].sort((a, b) => a.element - b.element || (a.path < b.path ? -1 : 1)),
      reach,
    }),
  };
}

/** An element, the offset that it counts as standing at, and its number in document order. */
interface Standing {
  element: Element;
  start: number;
  at: number;
}

/** Elements by where they start in the source; what the parser added counts as standing where its parent does. */
function bySource(elements: Element[]): Standing[] {
  const starts = new Map<Parent | null, number>();
  return elements
    .map((element, at) => {
      const start = element.start < 0 ? (starts.get(element.parent) ?? -1) : element.start;
      starts.set(element, start);
      return { element, start, at };
    })
    .sort((a, b) => a.start - b.start || a.at - b.at);
}

/** The elements that stand in a range of the source, in document order. */
function elementsIn(all: readonly Standing[], { start, end }: { start: number; end: number }): Element[] {
  const first = (offset: number) => firstNotBefore(all, (each) => each.start < offset);
  return all
    .slice(first(start), first(end))
    .sort((a, b) => a.at - b.at)
    .map(({ element }) => element);
}

function instanceOf(on: DressedPage, standing: readonly Standing[], { start, end, poured }: UseRange): Instance {
  const members = elementsIn(standing, { start, end });
  const inside = new Set(members);
  return {
    on,
    roots: members.filter(({ parent }) => !inside.has(parent as Element)),
    members: inside,
    poured: new Set(poured.flatMap((part) => elementsIn(standing, part))),
  };
}

/** All places where a component stands. */
export function instancesOf({ pages }: Dressed, component: string): Instance[] {
  return pages.flatMap(({ instances }) => instances.get(component) ?? []);
}

const units = new WeakMap<readonly Candidate[], ReadonlySet<Unit>>();

/** The units of some matches, each once; many elements share theirs. */
export function unitsOf(matched: readonly Candidate[]): ReadonlySet<Unit> {
  let known = units.get(matched);
  if (known === undefined) units.set(matched, (known = new Set(matched.map(({ rule }) => rule.unit))));
  return known;
}
