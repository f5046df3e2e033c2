/**
 * Names from the markup: what a developer would call a value or a part. Words come from `itemprop`, class words,
 * the element's role, column headings, labels; never a number where a word can be had.
 */
import { once } from '../once.js';
import { asName, isSayable, isTelling } from '../words/names.js';
import { nameIn as nameOfElement, type Role, type Vocabulary } from '../words/vocabulary.js';
import { attrOf, type Child, classWords, type Element, elementsOf, type Parent, textOf } from '../page/tree.js';
import { GLOBAL_ATTRIBUTES, INSTEAD } from '../page/prop.js';
import { LEAST_MARKED } from './markers.js';
import { fileStem } from '../page/url.js';
import { type Hole, isFlagHole, isText } from './pattern.js';
import { nameIn } from './placeholders.js';
import { elementOf, EVENT, type Varying } from './props.js';
import { effectOfHole } from './hole-effect.js';
import { modifierOf, partOf, withoutModifier } from '../words/bem.js';

const HEADINGS = { h1: 'heading', h2: 'heading', h3: 'heading', h4: 'heading', h5: 'heading', h6: 'heading' };

export const TEXT_ROLE: ReadonlyMap<string, string> = new Map(
  Object.entries({
    ...HEADINGS,
    a: 'label',
    button: 'label',
    label: 'label',
    legend: 'legend',
    option: 'label',
    summary: 'summary-text',
    caption: 'caption',
    figcaption: 'caption',
    p: 'text',
    time: 'time',
    dt: 'term',
    dd: 'detail',
    li: 'item',
    th: 'heading',
    td: 'cell',
    strong: 'strong',
    em: 'emphasis',
    small: 'remark',
    cite: 'source',
    q: 'quote',
    blockquote: 'quote',
    address: 'address',
    code: 'code',
    title: 'page-title',
    textarea: 'content',
  }),
);

/** What an element is called in the name of what varies in it, where its tag alone would say nothing. */
const TAG_ROLE: ReadonlyMap<string, string> = new Map(
  Object.entries({
    a: 'link',
    p: 'paragraph',
    li: 'item',
    ul: 'list',
    ol: 'list',
    tr: 'row',
    td: 'cell',
    th: 'heading',
    i: 'icon',
    b: 'strong',
    svg: 'icon',
    img: 'picture',
    div: 'section',
    span: 'detail',
    body: 'page',
    tbody: 'rows',
    thead: 'headings',
    dl: 'details',
    input: 'field',
    ...HEADINGS,
  }),
);

/** An element in a word. */
export function tagRole(tag: string): string {
  return TAG_ROLE.get(tag) ?? TEXT_ROLE.get(tag) ?? asName(tag) ?? 'section';
}

const NAMING = new Set<Role>(['block', 'part', 'hook', 'modifier']);

/** True for a class word that says what something is, on this site and by itself. */
function isNaming(word: string, vocabulary: Vocabulary): boolean {
  const entry = vocabulary.get(word);
  return isTelling(word) && (entry === undefined || NAMING.has(entry.role));
}

/** The first class word that names a thing, without the name of the block that it belongs to. */
export function classWord(element: Element, block: string | null, vocabulary: Vocabulary): string | null {
  return wordAmong(classWords(element), block, vocabulary);
}

function wordAmong(words: readonly string[], block: string | null, vocabulary: Vocabulary): string | null {
  for (const word of words) {
    const part = partOf(word);
    if (part !== null) return partName(part);
    const of = vocabulary.get(word)?.role === 'part' ? vocabulary.get(word)!.of : null;
    const owner = [block, of].find((each) => each && word.startsWith(`${each}-`) && !word.startsWith(`${each}--`));
    if (owner) return partName(word.slice(owner.length + 1));
    if (isNaming(word, vocabulary)) return partName(withoutModifier(word));
  }
  return null;
}

/** A part's word as a name; one that is an element's is said in another way. */
function partName(word: string): string | null {
  const name = asName(word);
  if (name === null || !isSayable(name)) return null;
  const [first, ...rest] = name.split('-');
  // the body of a part is what it holds
  return [first === 'body' ? 'content' : (TAG_ROLE.get(first!) ?? first!), ...rest].join('-');
}

/** Class word of the root that names the whole block. */
function blockOf(root: Element, vocabulary: Vocabulary): string | null {
  return nameOfElement(root, vocabulary).replace(/(__|--).*$/, '') || null;
}

function tableHeading(cell: Element): string | null {
  const row = cell.parent as Element | null;
  if (row?.tag !== 'tr') return null;
  let table: Parent | null = row.parent;
  while (table?.kind === 'element' && table.tag !== 'table') table = table.parent;
  if (table?.kind !== 'element') return null;
  const cells = (tr: Element) => tr.children.filter((child): child is Element => child.kind === 'element');
  const headings = elementsOf(table).find(
    (each) => each.tag === 'tr' && each !== row && cells(each).every(({ tag }) => tag === 'th'),
  );
  const heading = headings && cells(headings)[cells(row).indexOf(cell)];
  return heading ? asName(textOf(heading)) : null;
}

function present(hole: Hole): Child[] {
  const nodes: (Child | null)[] = hole.pattern.nodes;
  return nodes.filter((node) => node !== null);
}

/** A node that is an element, or the element that a text stands in. */
function elementAt(node: Child): Element {
  return node.kind === 'element' ? node : (node.parent as Element);
}

/** The root of the occurrence that `element` stands in. */
function topOf(element: Element, roots: ReadonlySet<Element>): Element {
  let at = element;
  while (!roots.has(at) && at.parent?.kind === 'element') at = at.parent;
  return at;
}

/** Attributes that say what their element is for. */
const TELLING = ['name', 'aria-label', 'id'];

/** The value that an attribute has at every occurrence of the hole's element, as a name; null when it varies. */
function constant(hole: Hole, attr: string): string | null {
  let first: string | undefined;
  for (const node of hole.pattern.nodes) {
    if (node === null) continue;
    const value = attrOf(elementAt(node), attr);
    if (value === undefined || value !== (first ??= value)) return null;
  }
  return first === undefined ? null : asName(first);
}

/** The term that a `dd` describes, as a name, when it is the same at every occurrence. */
function termOf(hole: Hole): string | null {
  const terms = present(hole).map((node) => {
    const detail = node.parent as Element;
    const before = (detail.parent as Element).children.filter((each) => each.kind === 'element');
    const term = before[before.indexOf(detail) - 1];
    return term?.tag === 'dt' ? textOf(term) : '';
  });
  return terms.every((term) => term === terms[0]) ? asName(terms[0]!) : null;
}

/** Elements whose text is what they are called, where that is no more than so many words. */
const LABELLED = new Set(['a', 'button']);
const MOST_WORDS = 3;

/** What says something of an element by its text, as a name, when that is the same few words at every occurrence. */
function labelOf(hole: Hole): string | null {
  // of several that may be marked, none gives its name to which one it is
  if (hole.attr === null || hole.equals !== undefined) return null;
  // a link may be a use of another component
  if (hole.attr !== 'href' && !LABELLED.has(elementOf(hole).tag)) return null;
  const [text, ...others] = present(hole).map((node) => textOf(node).trim());
  const isCalled = text!.split(/\s+/).length <= MOST_WORDS && others.every((other) => other === text);
  return isCalled ? asName(text!) : null;
}

/** The file that a hole points at, without its ending, as a name, when it is called the same in every folder. */
function fileOf({ attr, values }: Hole): string | null {
  if (attr !== 'href' && attr !== 'src') return null;
  const [file, ...others] = values.flatMap((value) => (isText(value) ? [fileStem(value.value)] : []));
  const isOne = file !== undefined && others.every((other) => other === file);
  return isOne ? asName(file.replaceAll('.', '-')) : null;
}

/** What a hole could be called, best first, and what one of these becomes with more words before it. */
interface Named {
  words: string[];
  /** what it shows is called by more than that it is text */
  saysText: boolean;
  /** they say only that something looks otherwise */
  isUnsaid: boolean;
  /** what its values decide on, where that is one thing; null for others */
  effect: string | null;
  before: (word: string) => string[];
}

/** The class words that a hole's element has at every occurrence. */
function sharedWords(hole: Hole): string[] {
  const distinct = new Map(
    present(hole)
      .map(elementAt)
      .map((element) => [attrOf(element, 'class'), element]),
  );
  const [first, ...others] = Array.from(distinct.values(), classWords);
  return first!.filter((word) => others.every((words) => words.includes(word)));
}

/** What a hole could be called. */
function candidates(hole: Hole, root: ReadonlySet<Element>, vocabulary: Vocabulary): Named {
  const owner = elementOf(hole);
  const block = blockOf(topOf(owner, root), vocabulary);
  const near: string[] = [];
  const top = topOf(owner, root);
  for (let at: Element | null = owner; at !== null; at = at === top ? null : (at.parent as Element)) {
    const itemprop = attrOf(at, 'itemprop');
    const carried = at === owner ? sharedWords(hole) : classWords(at);
    const word = itemprop ? asName(itemprop) : at === top ? null : wordAmong(carried, block, vocabulary);
    const cell = at.tag === 'td' || at.tag === 'th' ? tableHeading(at) : null;
    const attrs = at !== owner ? [] : at.tag === 'link' ? ['rel', ...TELLING] : TELLING;
    const told = attrs.map((name) => constant(hole, name));
    const term = at === owner && at.tag === 'dd' ? termOf(hole) : null;
    for (const each of [cell, term, word, ...told]) if (each !== null) near.push(each);
  }
  const words = own(hole, owner, near);
  const outer = owner.parent?.kind === 'element' && owner !== top ? tagRole(owner.parent.tag) : null;
  // few props need more words than their first
  const telling = once(() => {
    const told = [labelOf(hole), fileOf(hole), ...near, TEXT_ROLE.get(owner.tag), tagRole(owner.tag)];
    const where = [...told, outer, block && asName(block)];
    return [...new Set(where.filter((each): each is string => typeof each === 'string' && isSayable(each)))];
  });
  const before = (word: string) =>
    telling()
      .filter((each) => !saysTwice(each, word))
      .map((each) => `${each}-${word}`);
  const saysText = hole.kind === 'text' && hole.either === undefined && words[0] !== 'text';
  return { words, saysText, isUnsaid: UNSAID.has(words[0]!), effect: effectOfHole(hole, vocabulary), before };
}

/** True where one of the words stands in the other already. */
function saysTwice(a: string, b: string): boolean {
  const words = b.split('-');
  return a.split('-').some((word) => words.includes(word));
}

/** Class words that say what an element is, as its tag does already. */
const ROLE_WORDS = new Set(['link', 'button', 'text', 'label', 'input', 'control', 'cell', 'row']);

function own(hole: Hole, owner: Element, near: string[]): string[] {
  const { attr } = hole;
  if (hole.kind === 'text') {
    const role = TEXT_ROLE.get(owner.tag);
    const telling = near.filter((word) => word !== owner.tag && !ROLE_WORDS.has(word));
    const names = /^h[1-6]$/.test(owner.tag) ? [role, ...telling] : [...telling, role];
    if (owner.tag === 'a' && owner.parent?.kind === 'element' && /^h[1-6]$/.test(owner.parent.tag))
      names.unshift('heading');
    return [...names.filter((each): each is string => each !== undefined), 'text'];
  }
  if (attr === null) return ['value'];
  if (hole.kind === 'test' && attr === 'class')
    return [asName(/['"]\s*(?:[\w-]*--)?([\w-]+)\s*['"]/.exec(hole.otherwise ?? '')?.[1] ?? '') ?? 'marked'];
  if (hole.kind === 'test' && hole.otherwise === undefined) return ['shown'];
  if (hole.type !== undefined) return [attr];
  if (attr === 'class') {
    const stem = telling(asName(hole.before.trim().replace(/[-_]+$/, '')));
    if (isFlagHole(hole)) return [telling(asName(modifierOf(hole.before.trim().split(' ')[0]!))) ?? 'variant'];
    if (hole.before.endsWith('--')) return ['state', 'variant'];
    return ['variant', ...(stem === null || near[0] === stem ? [] : [`${stem}-variant`])];
  }
  if (attr === 'style') return hole.declared?.isUrl === true ? ['picture', 'look'] : ['look'];
  if (attr === 'id') return [...near.map((each) => `${each}-id`), `${tagRole(owner.tag)}-id`];
  if (attr === 'for') return ['field-id'];
  if (attr === 'content') return [asName(attrOf(owner, 'name') ?? attrOf(owner, 'property') ?? '') ?? 'content'];
  const event = EVENT.exec(attr)?.[1];
  if (event !== undefined) return [`on-${event}`];
  if (attr === 'src' && owner.tag === 'img') return ['picture'];
  const bare = asName(attr.replace(/^(data|aria)-/, '').replace(/^.*:/, ''));
  return [TAG_ROLE.get(bare ?? '') ?? bare ?? 'value'];
}

function telling(name: string | null): string | null {
  return name !== null && isSayable(name) ? name : null;
}

/** Words for what is alike in all but its place, when nothing else tells it apart. */
const FURTHER = ['next', 'further', 'closing', 'extra', 'final', 'added', 'opposite', 'remaining'];

export interface Naming<T> {
  /** elements of the occurrences */
  roots: ReadonlySet<Element>;
  vocabulary: Vocabulary;
  /** what the part is called that comes and goes with a prop, for one that says no more than how things look */
  parts: ReadonlyMap<T, string>;
  /** names that are taken already */
  passed: string[];
}

/** Names for all props of one component, in order; none is a global attribute, none stands twice. */
export function nameProps<T extends Varying>(varying: T[], { roots, vocabulary, parts, passed }: Naming<T>): string[] {
  const taken = new Set<string>(passed);
  const further = new FurtherNames(taken);
  // of several that say which one is marked, that of the most things says which is the current one
  const most = Math.max(...varying.map((each) => markedBy(each).size));
  const options = varying.map((each) => {
    const lists = listsOf(each, roots, vocabulary);
    const { attr, inClass } = each.holes[0]!;
    const isUnsaid = lists[0]!.isUnsaid && attr === 'class';
    const words = lists.flatMap((list) => list.words);
    const marked = markedBy(each).size;
    if ((isUnsaid || inClass === true || attr === 'href') && marked >= LEAST_MARKED)
      words.unshift(...(marked === most ? ['current'] : []), 'marked');
    const part = isUnsaid ? parts.get(each) : undefined;
    const said = new Set(each.values.filter((value) => value !== null).map(nameIn));
    const [outer] = said.size === 1 ? said : [];
    const names = [...(part === undefined ? [] : [part]), ...(outer ? [asName(outer)!] : []), ...words];
    return { names: names.map(instead), lists };
  });
  const wanted = new Map<string, number>();
  for (const { names } of options) wanted.set(names[0]!, (wanted.get(names[0]!) ?? 0) + 1);
  const isFree = (name: string) =>
    !taken.has(name) && !GLOBAL_ATTRIBUTES.has(name) && !/^(aria|data)-/.test(name) && name.length <= LONGEST;
  // a name that two props want goes to neither while something tells them apart
  const isClear = (name: string) => isFree(name) && (wanted.get(name) ?? 0) <= 1;
  return options.map(({ names, lists }) => {
    let name = names.find(isClear);
    let longer = name === undefined ? lists.flatMap(({ words, before }) => words.flatMap(before)) : [];
    for (let length = 1; name === undefined && length <= MOST_QUALIFIERS; length++) {
      name = longer.map(instead).find(isClear);
      if (name === undefined && length < MOST_QUALIFIERS)
        longer = lists.flatMap(({ words, before }) => words.flatMap(before).flatMap(before));
    }
    name ??= names.find(isFree) ?? longer.map(instead).find(isFree) ?? further.after(names[0]!);
    taken.add(name);
    return name;
  });
}

/** What each hole of a prop could call it: what says only that something looks otherwise comes after what its text says. */
function listsOf({ holes }: Varying, roots: ReadonlySet<Element>, vocabulary: Vocabulary): Named[] {
  const lists = [...new Set(holes)].map((hole) => candidates(hole, roots, vocabulary));
  if (!lists[0]!.isUnsaid) return lists;
  const effects = new Set(lists.flatMap(({ isUnsaid, effect }) => (isUnsaid ? [effect] : [])));
  const [effect = null] = effects.size === 1 ? effects : [];
  const told = lists.map((list) => (list.isUnsaid && effect !== null ? { ...list, words: [effect] } : list));
  return [...told.filter(({ saysText }) => saysText), ...told.filter(({ saysText }) => !saysText)];
}

/** The things of which a prop says which one is marked. */
function markedBy({ holes }: Varying): Set<string> {
  return new Set(holes.flatMap(({ equals }) => equals ?? []));
}

/** So many words may stand before one. */
const MOST_QUALIFIERS = 2;

function instead(name: string): string {
  return INSTEAD.get(name) ?? name;
}

const LONGEST = 40;
const UNSAID = new Set(['variant', 'look']);

/** A name like the one that is wanted, not among `taken`. */
export function nextName(name: string, taken: ReadonlySet<string>): string {
  return new FurtherNames(taken).after(name);
}

/** Names like those that are wanted, for a set of names that only grows. */
class FurtherNames {
  /** by name, how many of those that come after it are taken */
  private readonly passed = new Map<string, number>();

  constructor(private readonly taken: ReadonlySet<string>) {}

  /** The first name after one that is taken which is not. */
  after(name: string): string {
    for (let at = this.passed.get(name) ?? 0; ; at++) {
      const stem = `${FURTHER.at(-1)!}-`.repeat(Math.floor(at / FURTHER.length)) + name;
      const found = `${FURTHER[at % FURTHER.length]!}-${stem}`;
      if (this.taken.has(found)) continue;
      this.passed.set(name, at);
      return found;
    }
  }
}
