/**
 * How the elements stand on pages so that the cascade stays what it was: around their markup, or in the place of its root.
 * Decided by matching the changed trees of all pages; where neither is the same, pages have the component expanded.
 */
import { parsePage } from '../../page/parse.js';
import type { Element, Parent } from '../../page/tree.js';
import { placeText } from '../../errors.js';
import { nearTo, otherwise, wrapped } from '../../style/belongs.js';
import { dress, type Dressed, type DressedPage, type Instance, instancesOf } from '../../style/dress.js';
import { matches, matching, PageMatcher } from '../../style/match.js';
import { sheetPlace } from '../../style/places.js';
import type { Unit } from '../../style/sheet.js';
import { CascadeComparer } from '../../style/proof.js';
import type { ElementNode, EmitComponent, EmitRemark, EmitSite, UseNode } from '../model.js';
import { find } from '../read.js';
import { isProgram, poursProgram, rootOf, type Standing } from './module.js';
import { pageText } from './pages.js';
import { addTo } from '../../groups.js';

export interface Standings {
  standing: Map<string, Standing>;
  remarks: EmitRemark[];
}

/** Elements without a look of their own but that they are blocks, and the role that each has. */
const ROLES = new Map<string, string | null>(
  Object.entries({
    div: null,
    section: null,
    hgroup: null,
    article: 'article',
    aside: 'complementary',
    main: 'main',
    nav: 'navigation',
    search: 'search',
    header: 'banner',
    footer: 'contentinfo',
  }),
);
const SECTIONING = /^(article|aside|main|nav|section)$/;

/** Chooses for each component. */
export function standings(site: EmitSite): Standings {
  const pages = site.pages.map(({ document, extents }) => ({ page: document, extents }));
  const matcher = new PageMatcher(site.read);
  const dressed = dress(pages, matcher);
  const found: Standings = { standing: new Map(), remarks: [] };
  const bodies = [...site.pages.map(({ body }) => body), ...site.components.map(({ nodes }) => nodes)];
  const uses = new Map<string, UseNode[]>();
  for (const use of bodies.flatMap((nodes) => find(nodes, 'use'))) addTo(uses, use.component, use);
  for (const component of site.components) {
    const { name } = component;
    found.standing.set(name, choose({ component, uses: uses.get(name) ?? [], site, dressed }, found.remarks));
  }
  proveTogether(site, dressed, matcher, found);
  return found;
}

interface Choosing {
  component: EmitComponent;
  uses: UseNode[];
  site: EmitSite;
  dressed: Dressed;
}

function choose({ component, uses, site, dressed }: Choosing, remarks: EmitRemark[]): Standing {
  const { name } = component;
  const tell = (message: string) => remarks.push({ kind: 'decided', message, place: null });
  if (uses.length === 0) {
    if (site.pages.some(({ elsewhere }) => elsewhere.includes(name)))
      tell(`${name} stands only where no custom element can, such as in the head: pages have it written out`);
    return { kind: 'expanded' };
  }
  const scripts = find(component.nodes, 'element').filter(isProgram);
  if (scripts.length > 0) {
    tell(`${name} is left expanded: it holds a script, which runs otherwise when it is drawn later`);
    return { kind: 'expanded' };
  }
  const templates = uses.filter(({ template }) => template).length;
  const running = uses.filter((use) => !use.template && poursProgram(use)).length;
  const places = (count: number) =>
    count === uses.length ? 'all its places' : count === 1 ? 'one place' : `${count} places`;
  if (templates > 0) tell(`${name} is left expanded in ${places(templates)}: an unknown tag cannot stand there`);
  if (running > 0)
    tell(`${name} is left expanded in ${places(running)}: a script is poured in, which runs where it stands`);
  if (templates + running === uses.length) return { kind: 'expanded' };
  const root = rootOf(component.nodes);
  const role = root === null ? undefined : roleOf(root, component, dressed);
  const inPlace = role === undefined ? null : { kind: 'root' as const, role };
  const instances = instancesOf(dressed, name);
  const around = changedAround(instances, name);
  // a div says nothing that another tag would not say: the tree stays as deep as it was
  const plain = root !== null && root.tag === 'div';
  const renamed = inPlace === null || (around.size === 0 && !plain) ? null : changedInPlace(instances, name);
  if (renamed !== null && renamed.size === 0) {
    if (around.size > 0)
      tell(`${name} takes the place of its ${root!.tag}: around it, ${ruleNames(around)} would dress otherwise`);
    return inPlace!;
  }
  if (around.size === 0) return { kind: 'around' };
  const other = renamed === null ? '' : `, in the place of its ${root!.tag}, ${ruleNames(renamed)}`;
  tell(`${name} is left expanded: with an element around it, ${ruleNames(around)} would dress otherwise${other}`);
  return { kind: 'expanded' };
}

/** The role that an element must have to stand for the root; undefined where none can. */
function roleOf(root: ElementNode, { name, props }: EmitComponent, dressed: Dressed): string | null | undefined {
  if (root.space !== 'html' || !ROLES.has(root.tag)) return undefined;
  // an attribute of the element is a prop already
  if (root.attrs.some((attr) => props.some((prop) => prop.name === attr.name) || attr.name === 'slot'))
    return undefined;
  const has = (attribute: string) => root.attrs.some((attr) => attr.name === attribute);
  if (has('role')) return null;
  // headings in these may look smaller
  if (/^(article|aside|nav|section)$/.test(root.tag) && find(root.children, 'element').some(({ tag }) => tag === 'h1'))
    return undefined;
  if (root.tag === 'section' && (has('aria-label') || has('aria-labelledby'))) return 'region';
  if (!/^(header|footer)$/.test(root.tag)) return ROLES.get(root.tag)!;
  const inside = instancesOf(dressed, name).map(({ roots }) => isInSection(roots[0]!));
  if (inside.every((each) => each)) return null;
  return inside.some((each) => each) ? undefined : ROLES.get(root.tag)!;
}

function isInSection(element: Element): boolean {
  for (let at: Parent | null = element.parent; at?.kind === 'element'; at = at.parent)
    if (SECTIONING.test(at.tag)) return true;
  return false;
}

function byPage(instances: Instance[]): Map<DressedPage, Instance[]> {
  const pages = new Map<DressedPage, Instance[]>();
  for (const instance of instances) addTo(pages, instance.on, instance);
  return pages;
}

/** Rules that an element around each instance would make or unmake match, or that would dress that element itself. */
function changedAround(instances: Instance[], tag: string): Set<Unit> {
  const units = new Set<Unit>();
  for (const [on, places] of byPage(instances)) {
    const near = nearTo(on, places);
    const tellHost = (host: Element, roots: Element[]) => {
      for (const unit of dressingHost(on, host, roots)) units.add(unit);
    };
    wrapped(places, tag, tellHost, () => otherwise(near, on, units));
  }
  return units;
}

/** Rules that show on an element that has no box: those that give it one, and what its content inherits from it alone. */
function dressingHost(on: DressedPage, host: Element, roots: Element[]): Unit[] {
  return matching(on.index, host).flatMap(({ rule, selector }) => {
    const shows = rule.declarations.some(({ property }) => showsWithoutBox(property, selector.pseudo));
    const isShared = roots.every((root) => on.matched.get(root)!.some((each) => each.selector === selector));
    return shows || !isShared ? [rule.unit] : [];
  });
}

/** True for what shows on an element without a box: that gives it one, or content before or after it, which are its only parts. */
function showsWithoutBox(property: string, pseudo: string): boolean {
  if (property === 'display' || property === 'all') return /^(::before|::after)?$/.test(pseudo);
  return property === 'content' && /^::(before|after)$/.test(pseudo);
}

/** Rules that would dress otherwise when the roots had another tag. */
function changedInPlace(instances: Instance[], tag: string): Set<Unit> {
  const units = new Set<Unit>();
  for (const [on, places] of byPage(instances)) {
    const roots = places.map((place) => place.roots[0]!);
    const tags = roots.map((root) => root.tag);
    for (const root of roots) root.tag = tag;
    try {
      // the tag of what is around an element tells from any level above it
      const near = Array.from(
        nearTo(on, places),
        ([element, level]) => [element, level === Infinity ? level : 0] as const,
      );
      for (const [element, level] of near)
        for (const { rule, selector } of on.matched.get(element)!)
          if (selector.byTag && selector.levels >= level && !units.has(rule.unit) && !matches(selector, element))
            units.add(rule.unit);
      otherwise(near, on, units, ({ byTag }) => byTag);
    } finally {
      roots.forEach((root, i) => (root.tag = tags[i]!));
    }
  }
  return units;
}

/** At most two rules by name, with their places. */
function ruleNames(units: Set<Unit>): string {
  const all = [...units];
  const named = all.slice(0, 2).map(({ name, sheet, node }) => `${name} (${placeText(sheetPlace(sheet, node.start))})`);
  return named.join(', ') + (all.length > 2 ? ` and ${all.length - 2} more` : '');
}

/** Compares every winner of every page with all elements at once; those near a difference are left expanded. */
function proveTogether(site: EmitSite, dressed: Dressed, matcher: PageMatcher, found: Standings): void {
  const { standing, remarks } = found;
  const comparing = { matcher, comparer: new CascadeComparer() };
  /** what was proven, by number of the page */
  const proven: string[] = [];
  for (let at = 0; at < site.pages.length;) {
    const html = pageText(site.pages[at]!, site, standing, 'upgraded');
    const first = html === proven[at] ? null : firstDifference(html, dressed.pages[at]!, standing, comparing);
    const elements = (names: Iterable<string>) => [...names].filter((name) => standing.get(name)!.kind !== 'expanded');
    const names = first && [elements(first.near), elements(standing.keys())].find((each) => each.length > 0);
    // where no element is left that could be why, the page is what it is
    if (first === null || !names) {
      proven[at++] = html;
      continue;
    }
    for (const name of names) standing.set(name, { kind: 'expanded' });
    remarks.push({ kind: 'decided', message: `left expanded: ${names.join(', ')}, for ${first.what}`, place: null });
    // pages that were proven with them are proven again
    at = 0;
  }
}

/** What pages are compared with; what it knows of one page it knows of the next. */
interface Comparing {
  matcher: PageMatcher;
  comparer: CascadeComparer;
}

/** Where the page with elements is dressed otherwise than the page without, and the components that may be why. */
function firstDifference(
  html: string,
  on: DressedPage,
  standing: ReadonlyMap<string, Standing>,
  { matcher, comparer }: Comparing,
): { near: string[]; what: string } | null {
  const page = parsePage(on.page.path, html);
  const isHost = ({ tag }: Element) => (standing.get(tag)?.kind ?? 'expanded') !== 'expanded';
  const { elements: all, cascade, matched } = matcher.match(page);
  // what a tag in an element closes around it would stay open: nothing is parsed when it is drawn
  const cut = all.find((element) => isHost(element) && element.closeStart < 0);
  if (cut !== undefined)
    return { near: [cut.tag], what: `a tag in it closes what is open around it on ${on.page.path}` };
  const elements = all.filter((element) => standing.get(element.tag)?.kind !== 'around');
  for (let i = 0; i < Math.max(elements.length, on.elements.length); i++) {
    const [one, two] = [on.elements[i], elements[i]];
    if (one === undefined || two === undefined || (one.tag !== two.tag && !isHost(two)))
      return { near: near(two ?? elements.at(-1)!, isHost), what: `${on.page.path} would have another tree` };
    const found = comparer.compareElements(
      { element: one, matched: on.matched.get(one)!, cascade: on.cascade },
      { element: two, matched: matched.get(two)!, cascade },
    );
    if (found === null) continue;
    const rule = (found.before ?? found.after)!.candidate;
    const said = rule === null ? 'a style attribute' : ruleNames(new Set([rule.rule.unit]));
    return {
      near: near(two, isHost),
      what: `${found.property.trim()} of a ${one.tag} on ${on.page.path} would come out otherwise, by ${said}`,
    };
  }
  return null;
}

/** The element's own component, or those beside it, or around it: the nearest. */
function near(element: Element, isHost: (element: Element) => boolean): string[] {
  for (let at: Element | null = element; at !== null;) {
    const parent: Parent | null = at.parent;
    const beside: Element[] = isHost(at) ? [at] : [];
    if (beside.length === 0 && parent !== null)
      beside.push(...parent.children.filter((child): child is Element => child.kind === 'element' && isHost(child)));
    if (beside.length > 0) return [...new Set(beside.map(({ tag }) => tag))].sort();
    at = parent?.kind === 'element' ? parent : null;
  }
  return [];
}
