/**
 * Who matches whom: the rules of a page's sheets, looked up by the rightmost compound of their selectors, so that each
 * element is tried against the few that can mean it; and once for all elements that are called alike, as all around them
 * are, where names decide.
 */
import { matcherOf } from '../page/select.js';
import type { Page } from '../page/parse.js';
import { attrOf, classWords, type Element, elementsOf } from '../page/tree.js';
import { type Cascade, cascadeOf, type SheetReader, type SheetUse } from './cascade.js';
import { type AttributeTest, meets } from './compound.js';
import type { Selector } from './selector.js';
import type { Sheet, StyleRule } from './sheet.js';

/** One selector of one rule, at its place in the cascade. */
export interface Candidate {
  use: SheetUse;
  rule: StyleRule;
  selector: Selector;
  /** number among all candidates of the cascade */
  id: number;
}

/** A selector that is read when an element has its key. */
interface Unread extends Omit<Candidate, 'selector'> {
  /** its number among those of the rule */
  at: number;
}

/** The rules of a cascade. What is looked up in it is kept, for it is asked again on other pages. */
export interface RuleIndex {
  /** by key: those that were asked for are read */
  byKey: Map<string, { unread: Unread[]; read: Candidate[] }>;
  /** those attributes among the keys, by name */
  attributes: ReadonlySet<string>;
  any: readonly Candidate[];
  /** some selector has `:has()`, and so looks at what is below */
  looksDown: boolean;
  /** by what elements are called, what may match them */
  byNames: Map<string, Named>;
  byChain: Map<string, Chain>;
}

/** Elements of one tag, with the same classes and id, and the same of those attributes that selectors ask for. */
interface Named {
  /** number among all of the index */
  number: number;
  tag: string;
  /** `.class` and `#id` */
  names: readonly string[];
  /** what matches wherever the element stands, in order */
  anywhere: readonly Candidate[];
  /** what matches depending on more than its own names, in order */
  somewhere: readonly Candidate[];
}

/** Elements that are called alike, and stand in elements that are. */
interface Chain {
  /** number among all of the index */
  number: number;
  named: Named;
  /** classes and ids of the element and of all around it */
  names: ReadonlySet<string>;
  /** those that match, as names decide, in order */
  matched: readonly Candidate[];
  /** those that may match, as more than names decides */
  others: Candidate[];
  /** those that may match and depend on where an element stands, or what is around it so many levels up or more */
  positional: (level: number) => readonly Candidate[];
}

/** The index as one page needs it. */
export interface PageIndex {
  index: RuleIndex;
  /** all elements of the page */
  chains: ReadonlyMap<Element, Chain>;
}

/** The indexes of cascades: pages with the same sheets share one. */
export class RuleIndexes {
  private readonly indexes = new Map<string, RuleIndex>();
  private readonly numbers = new Map<Sheet, number>();

  /** The index for a page of these elements, which come in document order. */
  pageIndexOf(cascade: Cascade, elements: Element[]): PageIndex {
    const index = this.indexOf(cascade);
    const chains = new Map<Element, Chain>();
    for (const element of elements) {
      const around = element.parent?.kind === 'element' ? chains.get(element.parent) : undefined;
      chains.set(element, chainOf(element, around, index));
    }
    return { index, chains };
  }

  private indexOf({ uses }: Cascade): RuleIndex {
    const key = uses
      .map(({ sheet, conditions, layers }) => JSON.stringify([this.numberOf(sheet), conditions, layers]))
      .join();
    let index = this.indexes.get(key);
    if (index === undefined) this.indexes.set(key, (index = build(uses)));
    return index;
  }

  private numberOf(sheet: Sheet): number {
    const number = this.numbers.get(sheet) ?? this.numbers.size;
    this.numbers.set(sheet, number);
    return number;
  }
}

function build(uses: SheetUse[]): RuleIndex {
  const byKey: RuleIndex['byKey'] = new Map();
  const under = (key: string) => {
    let entry = byKey.get(key);
    if (entry === undefined) byKey.set(key, (entry = { unread: [], read: [] }));
    return entry;
  };
  const any: Candidate[] = [];
  let looksDown = false;
  let id = 0;
  for (const use of uses)
    for (const rule of use.sheet.rules) {
      rule.keys?.forEach((key, at) => under(key).unread.push({ use, rule, at, id: id++ }));
      for (const selector of rule.keys === null ? rule.selectors : []) {
        if (selector.still === null) continue;
        const candidate = { use, rule, selector, id: id++ };
        looksDown ||= selector.still.includes(':has(');
        if (selector.keys === null) any.push(candidate);
        for (const key of new Set(selector.keys)) under(key).read.push(candidate);
      }
    }
  const attributes = new Set([...byKey.keys()].flatMap((key) => /^\[(.*)\]$/.exec(key)?.[1] ?? []));
  return { byKey, attributes, any, looksDown, byNames: new Map(), byChain: new Map() };
}

/** What may match elements with a key, in no order. */
function candidatesUnder(key: string, { byKey }: RuleIndex): Candidate[] {
  const entry = byKey.get(key);
  if (entry === undefined) return [];
  for (const { use, rule, at, id } of entry.unread) entry.read.push({ use, rule, selector: rule.selectors[at]!, id });
  entry.unread = [];
  return entry.read;
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

/** What an element answers to besides its tag: `.class`, `#id`. */
function namesOf(element: Element): string[] {
  const id = attrOf(element, 'id');
  const names = [...new Set(classWords(element).map((word) => `.${word}`))];
  if (id !== undefined) names.push(`#${id}`);
  return names;
}

/** Elements that are called like this one. */
function namedLike(element: Element, index: RuleIndex): Named {
  const { byNames, any } = index;
  const { tag } = element;
  const asked = element.attrs.flatMap(({ name }) => (index.attributes.has(name) ? `[${name}]` : []));
  const key = [tag, attrOf(element, 'id'), attrOf(element, 'class'), ...asked].join('\0');
  let found = byNames.get(key);
  if (found === undefined) {
    const names = namesOf(element);
    const keys = [tag.toLowerCase(), ...names, ...asked];
    const keyed = keys.flatMap((name) => candidatesUnder(name, index));
    const all = [...new Set([...any, ...keyed])].sort(inOrder);
    byNames.set(key, (found = { number: byNames.size, tag, names, ...byPlace(all, element, names) }));
  }
  return found;
}

/** What may match elements of these names, by these alone or depending on more. */
function byPlace(
  all: readonly Candidate[],
  element: Element,
  names: readonly string[],
): Pick<Named, 'anywhere' | 'somewhere'> {
  const tag = element.tag.toLowerCase();
  const has = (name: string) => (/^[.#]/.test(name) ? names.includes(name) : name === tag);
  const isMetBy = (test: AttributeTest) => {
    const value = attrOf(element, test.name);
    // what a placeholder adds is not known
    return value?.includes('{{') === true || meets(test, value);
  };
  const able = all.filter(
    ({ selector: { plain, subject } }) => subject.tests.every(isMetBy) && (plain === null || subject.names.every(has)),
  );
  const isAnywhere = ({ selector }: Candidate) => selector.byNames && selector.plain?.within === null;
  return { anywhere: able.filter(isAnywhere), somewhere: able.filter((candidate) => !isAnywhere(candidate)) };
}

function inOrder(a: Candidate, b: Candidate): number {
  return a.id - b.id;
}

function chainOf(element: Element, around: Chain | undefined, index: RuleIndex): Chain {
  const named = namedLike(element, index);
  const key = `${around?.number ?? ''} ${named.number}`;
  let found = index.byChain.get(key);
  if (found === undefined) {
    const isNew = around === undefined || named.names.some((name) => !around.names.has(name));
    const names = isNew ? new Set([...(around?.names ?? []), ...named.names]) : around.names;
    const { anywhere, somewhere } = named;
    const here = somewhere.filter(({ selector }) => selector.above.every((name) => names.has(name)));
    const met = here.filter(({ selector }) => selector.byNames && isMet(selector, element, around));
    found = {
      number: index.byChain.size,
      named,
      names,
      matched: met.length === 0 ? anywhere : [...anywhere, ...met].sort(inOrder),
      others: here.filter(({ selector }) => !selector.byNames),
      positional: byLevel(here.filter(({ selector }) => selector.positional)),
    };
    index.byChain.set(key, found);
  }
  return found;
}

/** Decides of a selector that an element's own names meet, by the names around it where no more is asked for; else on the tree. */
function isMet(selector: Selector, element: Element, around: Chain | undefined): boolean {
  const { plain } = selector;
  if (plain === null) return matches(selector, element);
  return plain.within === null || around?.names.has(plain.within) === true;
}

/** Those of the candidates that depend on places so many levels up or more, looked for once. */
function byLevel(candidates: readonly Candidate[]): Chain['positional'] {
  if (candidates.length === 0) return NOTHING;
  const known = new Map([[0, candidates]]);
  return (level) => {
    let found = known.get(level);
    if (found === undefined) known.set(level, (found = candidates.filter(({ selector }) => selector.levels >= level)));
    return found;
  };
}

const NOTHING = (): readonly Candidate[] => [];

/**
 * What may match an element depending on where it stands, in order; while a change is tried, it may have another tag.
 * @param level how many levels above the element something changes
 */
export function positionalFor({ index, chains }: PageIndex, element: Element, level: number): readonly Candidate[] {
  const chain = chains.get(element);
  if (chain?.named.tag === element.tag) return chain.positional(level);
  return namedLike(element, index).somewhere.filter(
    ({ selector: { positional, levels } }) => positional && levels >= level,
  );
}

/** All candidates that match an element, in order: one of the page as it was read, or one that is tried in it. */
export function matching({ index, chains }: PageIndex, element: Element): readonly Candidate[] {
  const chain = chains.get(element);
  if (chain !== undefined) return withMatching(chain.matched, chain.others, element);
  const { anywhere, somewhere, names } = namedLike(element, index);
  const around = element.parent?.kind === 'element' ? chains.get(element.parent) : undefined;
  if (around === undefined) return withMatching(anywhere, somewhere, element);
  const isNamed = (name: string) => around.names.has(name) || names.includes(name);
  const here = somewhere.filter(({ selector }) => selector.above.every(isNamed));
  return withMatching(anywhere, here, element);
}

/** Candidates that match, with those of others that match this element, in order. */
function withMatching(
  matched: readonly Candidate[],
  others: readonly Candidate[],
  element: Element,
): readonly Candidate[] {
  const met = others.filter(({ selector }) => matches(selector, element));
  return met.length === 0 ? matched : [...matched, ...met].sort(inOrder);
}

export type Matches = ReadonlyMap<Element, readonly Candidate[]>;

/** A page with the rules that match its elements. */
export interface MatchedPage {
  page: Page;
  elements: Element[];
  cascade: Cascade;
  index: PageIndex;
  matched: Matches;
}

/** Matches pages, which come expanded, with all rules of their sheets. */
export class PageMatcher {
  private readonly indexes = new RuleIndexes();

  constructor(private readonly read: SheetReader) {}

  match(page: Page): MatchedPage {
    const elements = elementsOf(page.root);
    const cascade = cascadeOf(page, this.read);
    const index = this.indexes.pageIndexOf(cascade, elements);
    const matched = new Map(elements.map((element) => [element, matching(index, element)]));
    return { page, elements, cascade, index, matched };
  }
}
