/**
 * All elements of all pages in one row, interned from the leaves up (hash consing: Ershov, "On programming of arithmetic
 * operations", 1958): elements of equal markup share an `exact` number, elements of equal structure a `shape`. What is
 * asked of a fragment is asked of its number, once.
 */
import { attrOf, classWords, type Element, RAW_TEXT } from '../page/tree.js';
import { nameIn, type Vocabulary } from '../words/vocabulary.js';
import type { Profile } from './profile.js';
import { proseIn } from './prose.js';

/** Elements are numbered over all pages, in document order: those below `i` are `i + 1` to `i + size[i] - 1`. */
export interface Site {
  profiles: Profile[];
  vocabulary: Vocabulary;
  elements: Element[];
  /** number of an element's page */
  page: Int32Array;
  /** number of the first element of each page */
  first: Int32Array;
  /** the element around each, -1 at the top of a page */
  parent: Int32Array;
  size: Int32Array;
  /** how many levels of elements there are in it, itself among them */
  levels: Int32Array;
  /** equal for equal start tags and contents, indentation aside */
  exact: Int32Array;
  /** equal for equal tags, names and nesting, whatever the texts and other attributes are */
  shape: Int32Array;
  /** equal for equal tags and names */
  label: Int32Array;
  /** how many of the elements under the same parent have the same label, itself among them */
  alike: Int32Array;
  /** 1 for what has no class, id or role, and holds nothing that has */
  bare: Uint8Array;
  /** 1 for running text */
  prose: Uint8Array;
  /** 1 for what stands inside an element whose equal stood on the site before */
  copied: Uint8Array;
  /** what the element is called by its own words: a block or a part of one, '' for none */
  name: string[];
  /** its class words, one list for all of one tag that have the same */
  words: (readonly string[])[];
}

/** A set of places of one tag. */
export interface Candidate {
  /** numbers of elements, in document order; of a run that of its first */
  places: number[];
  /** how many siblings each place of a run has; null for elements */
  spans: ReadonlyMap<number, number> | null;
  /** the developer asked for it: chosen before all others */
  isTaken?: true;
}

/** The elements that a place is made of: one, or the siblings of a run. */
export function rootsAt({ spans }: Candidate, i: number, { size }: Site): number[] {
  const roots = [i];
  for (let at = i, left = spans?.get(i) ?? 1; left > 1; left--) roots.push((at += size[at]!));
  return roots;
}

/** Interns all elements. Linear in the size of the pages. */
export function readSite(profiles: Profile[], vocabulary: Vocabulary): Site {
  const count = profiles.reduce((sum, { elements }) => sum + elements.length, 0);
  const site: Interned = {
    profiles,
    vocabulary,
    elements: [],
    page: new Int32Array(count),
    first: new Int32Array(profiles.length),
    parent: new Int32Array(count),
    size: new Int32Array(count),
    levels: new Int32Array(count).fill(1),
    exact: new Int32Array(count),
    shape: new Int32Array(count),
    label: new Int32Array(count),
    alike: new Int32Array(count),
    bare: new Uint8Array(count),
    copied: new Uint8Array(count),
    name: [],
    words: [],
  };
  const numbers: Numbers = { exact: new Map(), shape: new Map(), label: new Map() };
  // words say less on what holds no element
  const [namingOfLeaf, namingOfHolder] = [
    namingReader(vocabulary, numbers.label),
    namingReader(vocabulary, numbers.label),
  ];
  profiles.forEach((profile, page) => {
    const base = site.elements.length;
    site.first[page] = base;
    for (const [at, element] of profile.elements.entries()) {
      const parent = profile.parent[at]!;
      const i = base + at;
      const size = profile.size[at]!;
      site.elements.push(element);
      site.page[i] = page;
      site.parent[i] = parent < 0 ? -1 : base + parent;
      site.size[i] = size;
      const naming = size === 1 ? namingOfLeaf(element) : namingOfHolder(element);
      site.name.push(naming.name);
      site.words.push(naming.words);
      site.label[i] = naming.label;
    }
    for (let i = site.elements.length - 1; i >= base; i--) {
      intern(i, profile.page.source, site, numbers);
      const around = site.parent[i]!;
      if (around >= 0) site.levels[around] = Math.max(site.levels[around]!, site.levels[i]! + 1);
    }
  });
  markCopies(site);
  countAlike(site);
  return { ...site, prose: proseIn(site) };
}

/** What an element is called by its tag and its class words. */
interface Naming {
  name: string;
  words: readonly string[];
  label: number;
}

/** Names elements that all hold another, or of which none does: once for each tag and class list. */
function namingReader(vocabulary: Vocabulary, labels: Map<string, number>): (element: Element) => Naming {
  const known = new Map<string, Map<string, Naming>>();
  return (element) => {
    const { tag } = element;
    let lists = known.get(tag);
    if (lists === undefined) known.set(tag, (lists = new Map<string, Naming>()));
    const list = attrOf(element, 'class') ?? '';
    let naming = lists.get(list);
    if (naming === undefined) {
      const name = nameIn(element, vocabulary);
      naming = { name, words: classWords(element), label: numberOf(labels, `${tag}.${name}`) };
      lists.set(list, naming);
    }
    return naming;
  };
}

/** A site before it is known what is running text. */
type Interned = Omit<Site, 'prose'>;

/** The numbers that were given so far. */
type Numbers = Record<'exact' | 'shape' | 'label', Map<string, number>>;

function intern(
  i: number,
  source: string,
  { elements, exact, shape, size, label, bare }: Interned,
  numbers: Numbers,
): void {
  const element = elements[i]!;
  const { tag } = element;
  let markup = element.start < 0 ? tag : source.slice(element.start, element.openEnd);
  let structure = String(label[i]!);
  const raw = RAW_TEXT.has(tag);
  bare[i] = element.attrs.some((attr) => TELLING_ATTRIBUTES.has(attr.name)) ? 0 : 1;
  let next = i + 1;
  for (const child of element.children) {
    if (child.kind === 'element') {
      markup += `\u0001${exact[next]!}`;
      structure += ` ${shape[next]!}`;
      if (bare[next] === 0) bare[i] = 0;
      next += size[next]!;
    } else if (child.kind === 'text') {
      const text = raw ? child.value : child.value.trim();
      if (text === '') continue;
      markup += `\u0002${text}`;
      if (!raw) structure += ' "';
    } else markup += `\u0003${child.kind === 'comment' ? child.value : ''}`;
  }
  exact[i] = numberOf(numbers.exact, markup);
  shape[i] = numberOf(numbers.shape, structure);
}

/** Attributes that say what an element is. */
const TELLING_ATTRIBUTES = new Set(['class', 'id', 'role']);

/** What a page has one of, and no component has. */
const OF_PAGE = new Set(['html', 'head', 'body']);

/** The number of a key; the next one for a key that has none. */
export function numberOf<K>(numbers: Map<K, number>, key: K): number {
  let number = numbers.get(key);
  if (number === undefined) numbers.set(key, (number = numbers.size));
  return number;
}

function countAlike({ elements, size, label, alike, profiles, first }: Interned): void {
  const counts = new Map<number, number>();
  const count = (from: number, to: number) => {
    const isOnly = from < to && size[from] === to - from;
    if (isOnly) {
      alike[from] = 1;
      return;
    }
    counts.clear();
    for (let i = from; i < to; i += size[i]!) counts.set(label[i]!, (counts.get(label[i]!) ?? 0) + 1);
    for (let i = from; i < to; i += size[i]!) alike[i] = counts.get(label[i]!)!;
  };
  profiles.forEach((profile, page) => count(first[page]!, first[page]! + profile.elements.length));
  for (let i = 0; i < elements.length; i++) if (size[i]! > 1) count(i + 1, i + size[i]!);
}

function markCopies({ elements, exact, size, copied }: Interned): void {
  const seen = new Set<number>();
  for (let i = 0; i < elements.length;) {
    const isCopy = size[i]! > 1 && seen.has(exact[i]!) && !OF_PAGE.has(elements[i]!.tag);
    seen.add(exact[i]!);
    if (isCopy) copied.fill(1, i + 1, i + size[i]!);
    i += isCopy ? size[i]! : 1;
  }
}
