/**
 * Who matches whom: the rules of a page's sheets, looked up by the rightmost compound of their selectors, so that each
 * element is tried against the few that can mean it.
 */
import { matcherOf } from '../page/select.js';
import { attrOf, classWords, type Element } from '../page/tree.js';
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

export interface RuleIndex {
  byKey: Map<string, Candidate[]>;
  any: Candidate[];
  /** some selector has `:has()`, and so looks at what is below */
  looksDown: boolean;
}

/** The index as one page needs it: without what cannot match there, looked up once for elements of the same names. */
export interface PageIndex {
  index: RuleIndex;
  words: ReadonlySet<string>;
  /** those without a key that may match here */
  any: Candidate[];
  lists: Map<string, { all: Candidate[]; positional: Candidate[] }>;
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
  const index: RuleIndex = { byKey: new Map(), any: [], looksDown: false };
  let id = 0;
  for (const use of uses)
    for (const rule of use.sheet.rules)
      for (const selector of rule.selectors) {
        if (selector.still === null) continue;
        const candidate = { use, rule, selector, id: id++ };
        index.looksDown ||= selector.still.includes(':has(');
        if (selector.keys === null) index.any.push(candidate);
        for (const key of new Set(selector.keys)) {
          addTo(index.byKey, key, candidate);
        }
      }
  return index;
}

const matchers = new WeakMap<Selector, (element: Element) => boolean>();

/** True for a selector that says no more than the key it is found under. */
function isKey({ still, keys }: Selector): boolean {
  return keys?.length === 1 && keys[0] === still;
}

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
export function namesOf(element: Element): string[] {
  const id = attrOf(element, 'id');
  const names = [element.tag.toLowerCase(), ...new Set(classWords(element).map((word) => `.${word}`))];
  if (id !== undefined) names.push(`#${id}`);
  return names;
}

/** The index for a page of these elements. */
export function pageIndexOf(cascade: Cascade, elements: Element[]): PageIndex {
  const index = indexOf(cascade);
  const words = new Set(elements.flatMap(namesOf));
  return { index, words, any: index.any.filter((each) => mayMatch(each, words)), lists: new Map() };
}

function mayMatch({ selector }: Candidate, words: ReadonlySet<string>): boolean {
  return selector.needs.every((name) => words.has(name));
}

function candidatesFor({ index, words, any, lists }: PageIndex, element: Element) {
  const names = namesOf(element);
  const key = names.join(' ');
  let found = lists.get(key);
  if (found === undefined) {
    const keyed = new Set(names.flatMap((name) => index.byKey.get(name) ?? []));
    const all = [...any, ...[...keyed].filter((each) => mayMatch(each, words))].sort((a, b) => a.id - b.id);
    lists.set(key, (found = { all, positional: all.filter(({ selector }) => selector.positional) }));
  }
  return found;
}

/** All candidates that match an element, or those that depend on where it stands; in order. */
export function matching(on: PageIndex, element: Element, which: 'all' | 'positional' = 'all'): Candidate[] {
  return candidatesFor(on, element)[which].filter(({ selector }) => isKey(selector) || matches(selector, element));
}

export type Matches = ReadonlyMap<Element, readonly Candidate[]>;

/** The matches of all elements of a page. */
export function matchAll(on: PageIndex, elements: Element[]): Matches {
  return new Map(elements.map((element) => [element, matching(on, element)]));
}
