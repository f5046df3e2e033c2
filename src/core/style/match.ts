/**
 * Who matches whom: the rules of a page's sheets, looked up by the rightmost compound of their selectors, so that each
 * element is tried against the few that can mean it.
 */
import { matcherOf } from '../page/select.js';
import { attrOf, classWords, type Element } from '../page/tree.js';
import type { Cascade, SheetUse } from './cascade.js';
import type { Selector } from './selector.js';
import type { StyleRule } from './sheet.js';

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
  all: Candidate[];
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
export function indexOf({ uses }: Cascade): RuleIndex {
  const key = uses.map(({ sheet, conditions, layers }) => JSON.stringify([numberOf(sheet), conditions, layers])).join();
  let index = indexes.get(key);
  if (index === undefined) indexes.set(key, (index = build(uses)));
  return index;
}

function build(uses: SheetUse[]): RuleIndex {
  const index: RuleIndex = { byKey: new Map(), any: [], all: [] };
  for (const use of uses)
    for (const rule of use.sheet.rules)
      for (const selector of rule.selectors) {
        if (selector.still === null) continue;
        const candidate = { use, rule, selector, id: index.all.length };
        index.all.push(candidate);
        if (selector.keys === null) index.any.push(candidate);
        for (const key of new Set(selector.keys)) {
          const list = index.byKey.get(key);
          if (list === undefined) index.byKey.set(key, [candidate]);
          else list.push(candidate);
        }
      }
  return index;
}

const matchers = new Map<string, (element: Element) => boolean>();

/** True when the still part of a selector matches an element, on the tree as it is now. */
export function matches({ still }: Selector, element: Element): boolean {
  if (still === null) return false;
  let matcher = matchers.get(still);
  if (matcher === undefined) {
    try {
      matcher = matcherOf(still);
    } catch {
      matcher = () => false;
    }
    matchers.set(still, matcher);
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

/** All candidates that match an element; `words` are the names on the page, `only` leaves others out. */
export function matching(
  index: RuleIndex,
  element: Element,
  words: ReadonlySet<string>,
  only: (candidate: Candidate) => boolean = () => true,
): Candidate[] {
  const found: Candidate[] = [];
  const seen = new Set<number>();
  const test = (candidate: Candidate) => {
    const { selector, id } = candidate;
    if (seen.has(id) || !only(candidate)) return;
    seen.add(id);
    if (selector.needs.every((name) => words.has(name)) && matches(selector, element)) found.push(candidate);
  };
  for (const name of namesOf(element)) index.byKey.get(name)?.forEach(test);
  index.any.forEach(test);
  return found.sort((a, b) => a.id - b.id);
}

export type Matches = ReadonlyMap<Element, readonly Candidate[]>;

/** The matches of all elements of a page. */
export function matchAll(index: RuleIndex, elements: Element[]): Matches {
  const words = new Set(elements.flatMap(namesOf));
  return new Map(elements.map((element) => [element, matching(index, element, words)]));
}
