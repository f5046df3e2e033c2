/**
 * Who matches whom: the rules of a page's sheets, looked up by the rightmost compound of their selectors, so that each
 * element is tried against the few that can mean it; and once for all elements that are called alike, as all around them
 * are, where names decide.
 */
import { matcherOf } from '../page/select.js';
import { attrOf, classWords, type Element, type Parent } from '../page/tree.js';
import type { Cascade, SheetUse } from './cascade.js';
import type { Selector } from './selector.js';
import type { StyleRule } from './sheet.js';
import { addTo } from '../groups.js';

/** One selector of one rule, at its place in the cascade. */
export interface Candidate {
  use: SheetUse;
  rule: StyleRule;
  selector: Selector;
  /** number among all candidates of the cascade */
  id: number;
}

/** The rules of a cascade. What is looked up in it is kept, for it is asked again on other pages. */
export interface RuleIndex {
  byKey: ReadonlyMap<string, Candidate[]>;
  any: readonly Candidate[];
  /** some selector has `:has()`, and so looks at what is below */
  looksDown: boolean;
  /** by what elements are called, what may match them */
  byNames: Map<string, Named>;
  /** by what elements and all around them are called, what matches them for that */
  byChain: Map<string, Chain>;
}

/** Elements of one tag, with the same classes and id. */
interface Named {
  /** number among all of the index */
  number: number;
  tag: string;
  names: readonly string[];
  /** what may match, in order */
  all: Candidate[];
}

/** Elements that are called alike, and stand in elements that are. */
interface Chain {
  /** number among all of the index */
  number: number;
  /** those that names decide, in order */
  matched: Candidate[];
}

/** What may match an element on a page, in order. */
interface Candidates {
  named: Named;
  all: Candidate[];
  /** those that depend on where it stands */
  positional: Candidate[];
  /** those that names do not decide */
  others: Candidate[];
}

/** The index as one page needs it: without what cannot match there. */
export interface PageIndex {
  index: RuleIndex;
  words: ReadonlySet<string>;
  /** what may match each element of the page */
  byElement: ReadonlyMap<Element, Candidates>;
}

const indexes = new Map<string, RuleIndex>();
const numbers = new WeakMap<object, number>();
let count = 0;

function numberOf(value: object): number {
  let number = numbers.get(value);
  if (number === undefined) numbers.set(value, (number = count++));
  return number;
}

/** The index of a cascade; pages with the same sheets share one. */
function indexOf({ uses }: Cascade): RuleIndex {
  const key = uses.map(({ sheet, conditions, layers }) => JSON.stringify([numberOf(sheet), conditions, layers])).join();
  let index = indexes.get(key);
  if (index === undefined) indexes.set(key, (index = build(uses)));
  return index;
}

function build(uses: SheetUse[]): RuleIndex {
  const byKey = new Map<string, Candidate[]>();
  const any: Candidate[] = [];
  let looksDown = false;
  let id = 0;
  for (const use of uses)
    for (const rule of use.sheet.rules)
      for (const selector of rule.selectors) {
        if (selector.still === null) continue;
        const candidate = { use, rule, selector, id: id++ };
        looksDown ||= selector.still.includes(':has(');
        if (selector.keys === null) any.push(candidate);
        for (const key of new Set(selector.keys)) addTo(byKey, key, candidate);
      }
  return { byKey, any, looksDown, byNames: new Map(), byChain: new Map() };
}

const matchers = new WeakMap<Selector, (element: Element) => boolean>();

/** True when the still part of a selector matches an element, on the tree as it is now. */
export function matches(selector: Selector, element: Element): boolean {
  let matcher = matchers.get(selector);
  if (matcher === undefined) {
    try {
      matcher = selector.still === null ? () => false : matcherOf(selector.still);
    } catch {
      matcher = () => false;
    }
    matchers.set(selector, matcher);
  }
  return matcher(element);
}

/** The names that an element answers to: `tag`, `.class`, `#id`. */
function namesOf(element: Element): string[] {
  const id = attrOf(element, 'id');
  const names = [element.tag.toLowerCase(), ...new Set(classWords(element).map((word) => `.${word}`))];
  if (id !== undefined) names.push(`#${id}`);
  return names;
}

/** Elements that are called like this one. */
function namedLike(element: Element, { byNames, byKey, any }: RuleIndex): Named {
  const key = [element.tag, attrOf(element, 'id'), attrOf(element, 'class')].join('\0');
  let found = byNames.get(key);
  if (found === undefined) {
    const names = namesOf(element);
    const keyed = new Set([...any, ...names.flatMap((name) => byKey.get(name) ?? [])]);
    const all = [...keyed].sort((a, b) => a.id - b.id);
    byNames.set(key, (found = { number: byNames.size, tag: element.tag, names, all }));
  }
  return found;
}

/** The index for a page of these elements. */
export function pageIndexOf(cascade: Cascade, elements: Element[]): PageIndex {
  const index = indexOf(cascade);
  const named = elements.map((element) => namedLike(element, index));
  const alike = new Set(named);
  const words = new Set([...alike].flatMap(({ names }) => names));
  const found = new Map([...alike].map((each) => [each, candidatesOf(each, words)]));
  return { index, words, byElement: new Map(elements.map((element, i) => [element, found.get(named[i]!)!])) };
}

/** @param words what elements of the page are called */
function candidatesOf(named: Named, words: ReadonlySet<string>): Candidates {
  const all = named.all.filter(
    ({ selector: { needs } }) => needs.length === 0 || needs.every((name) => words.has(name)),
  );
  return {
    named,
    all,
    positional: all.filter(({ selector }) => selector.positional),
    others: all.filter(({ selector }) => !selector.byNames),
  };
}

function candidatesFor({ index, words, byElement }: PageIndex, element: Element): Candidates {
  const known = byElement.get(element);
  // while a change is tried, an element may have another tag
  return known?.named.tag === element.tag ? known : candidatesOf(namedLike(element, index), words);
}

/** What may match an element depending on where it stands, in order. */
export function positionalFor(on: PageIndex, element: Element): Candidate[] {
  return candidatesFor(on, element).positional;
}

/** All candidates that match an element, in order, on the tree as it is now. */
export function matching(on: PageIndex, element: Element): Candidate[] {
  return candidatesFor(on, element).all.filter(({ selector }) => matches(selector, element));
}

export type Matches = ReadonlyMap<Element, readonly Candidate[]>;

/** The matches of all elements of a page, which come in document order. */
export function matchAll(on: PageIndex, elements: Element[]): Matches {
  const { byChain } = on.index;
  const chains = new Map<Parent | null, Chain>();
  const found = new Map<Element, readonly Candidate[]>();
  for (const element of elements) {
    const { named, all, others } = candidatesFor(on, element);
    const key = `${chains.get(element.parent)?.number ?? ''} ${named.number}`;
    let chain = byChain.get(key);
    if (chain === undefined) {
      const matched = all.filter(({ selector }) => selector.byNames && matches(selector, element));
      byChain.set(key, (chain = { number: byChain.size, matched }));
    }
    chains.set(element, chain);
    const more = others.filter(({ selector }) => matches(selector, element));
    found.set(element, more.length === 0 ? chain.matched : inOrder(chain.matched, more));
  }
  return found;
}

function inOrder(some: readonly Candidate[], others: readonly Candidate[]): Candidate[] {
  return [...some, ...others].sort((a, b) => a.id - b.id);
}
