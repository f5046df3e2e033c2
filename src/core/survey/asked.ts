/**
 * What the developer says of places before anything is found: a comment before an element, or selectors of the
 * configuration, keep it out of every finding, or make a finding of what they match.
 */
import { suggestion } from '../component/problems.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Candidate, Site } from '../fragments/site.js';
import { isSure } from '../fragments/profile.js';
import { type Page, placeAt } from '../page/parse.js';
import { selectIn } from '../page/select.js';
import { type Comment, type Element, elementsOf, type Parent, walk } from '../page/tree.js';
import type { Finding, Remark } from './types.js';

/** What a comment for Estrade begins with, and all that it can say. */
const NOTE = /^\s*estrade:\s*(.*?)\s*$/s;
const LEAVE = 'leave';

/**
 * The elements that are left alone, each with what is in it and what it is in: none of them can be a finding.
 * @param selectors of the configuration
 */
export function elementsLeft(pages: Page[], selectors: readonly string[]): { roots: Set<Element>; all: Set<Element> } {
  const roots = new Set<Element>();
  for (const page of pages) {
    const { root } = page;
    for (const note of notesIn(page)) {
      const next = elementAfter(note);
      if (NOTE.exec(note.value)![1] === LEAVE && next !== null) roots.add(next);
    }
    for (const selector of selectors) for (const element of selectIn(root, selector)) roots.add(element);
  }
  const all = new Set<Element>();
  for (const root of roots) {
    for (const element of elementsOf(root)) all.add(element);
    for (let at: Parent | null = root.parent; at?.kind === 'element'; at = at.parent) all.add(at);
  }
  return { roots, all };
}

/** True for an occurrence that is left alone, stands in what is, or holds it. */
export function isLeft({ element }: Occurrence, { all }: { all: ReadonlySet<Element> }): boolean {
  const roots = element.at < 0 ? element.children : [element];
  return roots.some((each) => each.kind === 'element' && all.has(each));
}

/** Comments for Estrade that say nothing that it knows, or stand before nothing. */
export function strayNotes(pages: Page[]): Remark[] {
  return pages.flatMap((page) =>
    notesIn(page).flatMap((note): Remark[] => {
      const said = NOTE.exec(note.value)![1]!;
      if (said === LEAVE && elementAfter(note) !== null) return [];
      const message =
        said === LEAVE
          ? 'the comment "estrade: leave" stands before no element'
          : `the comment "estrade: ${said}" says nothing: ${suggestion(said, [LEAVE], 'it can say')}`;
      return [{ kind: 'note', message, places: [placeAt(page, note.start)] }];
    }),
  );
}

function notesIn({ source, root }: Page): Comment[] {
  const found: Comment[] = [];
  // nearly all pages have none
  if (!source.includes('estrade:')) return found;
  walk(root, (node) => {
    if (node.kind === 'comment' && NOTE.test(node.value)) found.push(node);
  });
  return found;
}

/** The element that follows with nothing but white space and comments between; null for none. */
function elementAfter(note: Comment): Element | null {
  const siblings = note.parent!.children;
  for (const node of siblings.slice(siblings.indexOf(note) + 1)) {
    if (node.kind === 'element') return node;
    if (node.kind === 'text' && node.value.trim() !== '') return null;
  }
  return null;
}

/** What selectors of the configuration match, as candidates that are chosen before all others. */
export function candidatesTaken(site: Site, selectors: readonly string[]): Candidate[] {
  return selectors.flatMap((selector): Candidate[] => {
    const places = site.profiles.flatMap((profile, number) => {
      const found = new Set(selectIn(profile.page.root, selector));
      const isFree = (element: Element) => !isBelow(element, found) && isSure(profile, element.at);
      return [...found].filter(isFree).map((element) => site.first[number]! + element.at);
    });
    return places.length < 2 ? [] : [{ places, spans: null, isTaken: true }];
  });
}

/** True for what stands in another one that is matched. */
function isBelow({ parent }: Element, matched: ReadonlySet<Element>): boolean {
  for (let at = parent; at?.kind === 'element'; at = at.parent) if (matched.has(at)) return true;
  return false;
}

const SHOWN_PLACES = 5;

/** Selectors that match what is in no finding: too few places, or places that no one template can be written for. */
export function notTaken(pages: Page[], selectors: readonly string[], findings: Finding[]): Remark[] {
  const found = new Set(findings.flatMap(({ occurrences }) => occurrences.map(({ element }) => element)));
  return selectors.flatMap((selector): Remark[] => {
    const places = pages.flatMap((page) =>
      selectIn(page.root, selector)
        .filter((element) => element.start >= 0)
        .map((element) => ({ element, place: placeAt(page, element.start) })),
    );
    const left = places.filter(({ element }) => !found.has(element));
    if (left.length === 0 && places.length > 0) return [];
    const why =
      places.length === 0
        ? 'matches nothing'
        : places.length === 1
          ? 'matches one place: estrade lift --select takes it'
          : 'is in no finding here: the places are not alike, or something else takes them';
    const message = `"take" of the configuration: ${selector} ${why}`;
    return [{ kind: 'note', message, places: left.slice(0, SHOWN_PLACES).map(({ place }) => place) }];
  });
}
