/**
 * One page as a tree: its regions, what the survey found in it elsewhere too, and the components that are there already.
 */
import { nameComponent } from './component-names.js';
import { nounOf } from './nouns.js';
import { type Page, placeAt } from '../page/parse.js';
import { attrOf, classWords, type Element, type Parent } from '../page/tree.js';
import { type Sizes, standsApart } from './regions.js';
import type { Vocabulary } from '../words/vocabulary.js';
import type { Finding, Offer } from './types.js';
import { occurrenceOf } from '../fragments/occurrence.js';

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
  /** why it is not recommended, null when it is */
  reason: string | null;
  /** the finding that is to be lifted first, when it stands in one */
  inside: string | null;
  regions: Region[];
}

export interface Outlining extends Sizes {
  /** how deep the tree goes */
  depth: number;
  vocabulary: Vocabulary;
}

/**
 * The tree of a page, in document order; names are none of `taken`, and no two the same.
 * @param apart what stands apart once, as the survey has it
 */
export function outline(
  page: Page,
  findings: Finding[],
  apart: Offer[],
  componentOf: (element: Element) => string | null,
  taken: ReadonlySet<string>,
  { depth, vocabulary, ...sizes }: Outlining,
): Region[] {
  const found = new Map<Element, Finding | Offer>();
  const runs = new Map<Element, Finding>();
  for (const finding of [...findings, ...apart]) {
    for (const { page: other, element } of finding.occurrences) {
      if (other !== page) continue;
      const first = element.children.find((child) => child.kind === 'element');
      if (element.at < 0) {
        if (first !== undefined && isRecommended(finding)) runs.set(first, finding);
      }
      // the best ones come first
      else if (!found.has(element)) found.set(element, finding);
    }
  }
  const names = new Set([...taken, ...findings.map(({ name }) => name), ...apart.map(({ name }) => name)]);
  const lines = (element: Element) => {
    const [from, to] = [
      placeAt(page, element.start).line,
      placeAt(page, Math.max(element.start, element.end - 1)).line,
    ];
    return { from, to };
  };
  const regionOf = (element: Element, end: number, what: Told): Region => ({
    element: told(element),
    start: element.start,
    end,
    ...lines({ ...element, end }),
    count: 1,
    ...what,
    inside,
    regions: [],
  });
  let inside: string | null = null;
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
      return inner(
        regionOf(element, element.end, { kind: 'component', name: component, places: 1, pages: 1, reason: null }),
      );
    if (finding !== undefined) {
      const region = regionOf(element, element.end, countsOf(finding));
      const before = inside;
      if (isRecommended(finding)) inside = finding.name;
      inner(region);
      inside = before;
      return [region];
    }
    if (run !== undefined) {
      const mine = run.occurrences.find((each) => each.page === page && each.element.children.includes(element))!;
      const tags = new Set(mine.element.children.flatMap((child) => (child.kind === 'element' ? [child.tag] : [])));
      return [{ ...regionOf(element, mine.end, countsOf(run)), element: [...tags].join(' + ') }];
    }
    // what stands free and apart is a finding, where it can be lifted
    if (inside === null || !standsApart(page, element, sizes)) return within(element, level);
    const name = nameComponent([occurrenceOf(page, element, null)], names, vocabulary) ?? nounOf(element);
    names.add(name);
    return inner(regionOf(element, element.end, { kind: 'region', name, places: 1, pages: 1, reason: null }));
  };
  return within(page.root, 1);
}

type Told = Pick<Region, 'kind' | 'name' | 'places' | 'pages' | 'reason'>;

function isRecommended(finding: Finding | Offer): finding is Finding {
  return 'recommended' in finding && finding.recommended;
}

function countsOf({ kind, name, reason, occurrences }: Finding | Offer): Told {
  return { kind, name, reason, places: occurrences.length, pages: new Set(occurrences.map(({ page }) => page)).size };
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
