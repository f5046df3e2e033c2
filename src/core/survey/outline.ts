/**
 * One page as a tree of its regions: what stands apart by what it is (landmarks, forms, figures, sections with a
 * heading), by its name, or because the survey found it elsewhere too. What only lays out is passed through.
 */
import { nameComponent } from '../infer/component-names.js';
import { isTelling } from '../infer/names.js';
import { type Page, placeAt } from '../page/parse.js';
import { attrOf, classWords, type Element, elementsOf, type Parent } from '../page/tree.js';
import type { Finding } from './types.js';
import { occurrenceOf } from './groups.js';

export interface Region {
  /** the element, as its start tag says: `nav.menu`, `form#search`; of a run the tags in it */
  element: string;
  /** offsets into the page, and lines from 1 */
  start: number;
  end: number;
  from: number;
  to: number;
  /** how many stand in a row */
  count: number;
  /** what it is or would become, and what that is called */
  kind: Finding['kind'] | 'component';
  name: string;
  /** in how many places and on how many pages it was found; 1 for what stands once */
  places: number;
  pages: number;
  regions: Region[];
}

export interface Outlining {
  /** named blocks of fewer lines are not told, unless they were found elsewhere too */
  minLines: number;
  /** how deep the tree goes */
  depth: number;
}

/** Elements and roles that stand apart by what they are (HTML standard, "sections"; WAI-ARIA, "landmark roles"). */
const APART = new Set('header footer nav main aside article form dialog figure fieldset search table'.split(' '));
const ROLES = new Set(
  'banner complementary contentinfo form main navigation region search dialog alertdialog tablist toolbar menu menubar feed'.split(
    ' ',
  ),
);

/** The regions of a page, in document order; names are none of `taken`, and no two the same. */
export function outline(
  page: Page,
  findings: Finding[],
  componentOf: (element: Element) => string | null,
  taken: ReadonlySet<string>,
  { minLines, depth }: Outlining,
): Region[] {
  const found = new Map<Element, Finding>();
  const runs = new Map<Element, Finding>();
  for (const finding of findings) {
    if (!finding.recommended) continue;
    for (const { page: other, element } of finding.occurrences) {
      if (other !== page) continue;
      const first = element.children.find((child) => child.kind === 'element');
      if (element.at < 0 && first !== undefined) runs.set(first, finding);
      else found.set(element, finding);
    }
  }
  const names = new Set([...taken, ...findings.map(({ name }) => name)]);
  const lines = (element: Element) => {
    const [from, to] = [
      placeAt(page, element.start).line,
      placeAt(page, Math.max(element.start, element.end - 1)).line,
    ];
    return { from, to };
  };
  const regionOf = (
    element: Element,
    end: number,
    what: Pick<Region, 'kind' | 'name' | 'places' | 'pages'>,
  ): Region => ({
    element: told(element),
    start: element.start,
    end,
    ...lines({ ...element, end }),
    count: 1,
    ...what,
    regions: [],
  });
  const within = (parent: Parent, level: number): Region[] => {
    const regions: Region[] = [];
    for (const child of parent.children) {
      if (child.kind !== 'element') continue;
      for (const region of at(child, level)) {
        const last = regions.at(-1);
        if (
          last !== undefined &&
          last.kind !== 'region' &&
          last.name === region.name &&
          last.element === region.element
        ) {
          Object.assign(last, { end: region.end, to: region.to, count: last.count + 1 });
        } else regions.push(region);
      }
    }
    return regions;
  };
  const at = (element: Element, level: number): Region[] => {
    if (element.start < 0) return within(element, level);
    const component = componentOf(element);
    const finding = found.get(element);
    const run = runs.get(element);
    const inner = (region: Region): Region[] => {
      if (level < depth) region.regions = within(element, level + 1);
      return [region];
    };
    if (component !== null)
      return inner(regionOf(element, element.end, { kind: 'component', name: component, places: 1, pages: 1 }));
    if (finding !== undefined) return inner(regionOf(element, element.end, countsOf(finding)));
    if (run !== undefined) {
      const mine = run.occurrences.find((each) => each.page === page && each.element.children.includes(element))!;
      const tags = new Set(mine.element.children.flatMap((child) => (child.kind === 'element' ? [child.tag] : [])));
      return [{ ...regionOf(element, mine.end, countsOf(run)), element: [...tags].join(' + ') }];
    }
    const { from, to } = lines(element);
    if (!standsApart(element, to - from + 1 >= minLines)) return within(element, level);
    const name = nameComponent([occurrenceOf(page, element, null)], names);
    names.add(name);
    return inner(regionOf(element, element.end, { kind: 'region', name, places: 1, pages: 1 }));
  };
  return within(page.root, 1);
}

function countsOf({ kind, name, occurrences }: Finding): Pick<Region, 'kind' | 'name' | 'places' | 'pages'> {
  return { kind, name, places: occurrences.length, pages: new Set(occurrences.map(({ page }) => page)).size };
}

/** True for what is a region by itself. */
function standsApart(element: Element, isLarge: boolean): boolean {
  const { tag } = element;
  if (tag === 'html' || tag === 'head' || tag === 'body') return false;
  if (APART.has(tag) || ROLES.has(attrOf(element, 'role') ?? '')) return true;
  if (!isLarge) return false;
  if (tag === 'section') return hasHeading(element) || isNamed(element);
  return (tag === 'div' || tag === 'ul' || tag === 'ol' || tag === 'dl') && isNamed(element);
}

function hasHeading(element: Element): boolean {
  const label = attrOf(element, 'aria-label') ?? attrOf(element, 'aria-labelledby');
  return label !== undefined || elementsOf(element).some(({ tag }) => /^h[1-6]$/.test(tag));
}

/** A class word or an id that says what it is, not how it is laid out. */
function isNamed(element: Element): boolean {
  const id = attrOf(element, 'id') ?? '';
  return classWords(element).some(isTelling) || (id !== '' && isTelling(id));
}

function told(element: Element): string {
  const [word] = classWords(element);
  const id = attrOf(element, 'id');
  if (id !== undefined && id !== '') return `${element.tag}#${id}`;
  return word === undefined ? element.tag : `${element.tag}.${word}`;
}

/** All regions of a tree, outer ones first. */
export function regionsIn(regions: Region[]): Region[] {
  return regions.flatMap((region) => [region, ...regionsIn(region.regions)]);
}
