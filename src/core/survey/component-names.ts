/**
 * Names for components: what a developer would call a block. The author's own words come first: a comment before it, the
 * block word; then what it holds or is, told apart by modifiers, labels, what is around it and the page that it is on.
 * Never an ordinal, a number or a word that only says how something looks or is laid out.
 */
import pluralize from 'pluralize';
import type { Registry } from '../component/model.js';
import { type Occurrence, RUN } from '../fragments/occurrence.js';
import { isSpaceText } from '../page/space.js';
import { isComponentName } from '../component/names.js';
import { attrOf, classWords, type Element, firstTextIn, textOf, walk } from '../page/tree.js';
import { fileStem } from '../page/url.js';
import { asName, isSayable, isTelling } from '../words/names.js';
import { nameIn, type Role, type Vocabulary, type Word } from '../words/vocabulary.js';
import { gridNounOf, isNoun, isToldByTag, nounOf, nounOfContent, VAGUE } from './nouns.js';
import { blockOf, withoutModifier } from '../words/bem.js';
import { LANDMARKS } from './landmarks.js';

/**
 * Names that no new component may have: those of components, and of custom elements.
 * @param pages all elements of each page
 */
export function takenNames(registry: Registry, pages: Element[][]): Set<string> {
  const taken = new Set(registry.keys());
  for (const elements of pages) for (const { tag } of elements) if (tag.includes('-')) taken.add(tag);
  return taken;
}

/** Short forms that the trade writes for longer words. */
const SHORT = new Map(Object.entries({ btn: 'button', img: 'picture', col: 'column', msg: 'message' }));

/**
 * A valid custom-element name for what stands at `occurrences`, not among `taken`; `taken` is left as it is.
 * @returns undefined where no words tell it from what has those names
 */
export function nameComponent(
  occurrences: Occurrence[],
  taken: ReadonlySet<string>,
  vocabulary: Vocabulary,
): string | undefined {
  for (const name of namesFor(occurrences, vocabulary)) if (!taken.has(name) && isComponentName(name)) return name;
  return undefined;
}

/** Names that say what stands there, the best one first; each is worked out when it is asked for. */
function* namesFor(occurrences: Occurrence[], vocabulary: Vocabulary): Generator<string> {
  const roots = occurrences.map(({ element }) => element);
  const first = roots[0]!;
  const kind = nounOf(first);
  const isVague = kind === VAGUE;
  const noun = isVague ? (gridNounOf(roots, vocabulary) ?? VAGUE) : kind;
  const told = headOf(roots, kind, vocabulary);
  const head = told === VAGUE ? noun : told;
  if (head.includes('-')) yield head;
  if (head !== noun && isToldByTag(first)) yield* joined(head, noun);
  const qualifiers = new Set<string>();
  const qualified = function* (words: (string | null)[]) {
    for (const word of words) {
      if (word === null || word === '' || !isTelling(word) || qualifiers.has(word)) continue;
      qualifiers.add(word);
      yield* joined(word, head);
    }
  };
  // two of them, but for pairs of the first ones
  const qualifiedTwice = function* (had: number) {
    const words = [...qualifiers].map((word) => word.split('-'));
    for (const [i, word] of words.entries()) {
      const after = [...word, ...head.split('-')];
      for (const [k, other] of words.entries()) if (i !== k && (i >= had || k >= had)) yield* joinedWords(other, after);
    }
  };
  for (const words of qualifiersOf(occurrences, roots, vocabulary)) yield* qualified(words);
  const ofItsKind = head === noun ? [] : joined(head, noun);
  const onItsPage = joined('page', head);
  // a picture-card is more than a card-block, and a boat-block than a picture-boat
  if (noun !== VAGUE || !isNoun(head)) yield* ofItsKind;
  yield* qualifiedTwice(0);
  const had = qualifiers.size;
  if (!isVague) yield* onItsPage;
  // what it is made of says less than where it stands, and more than that it is a block, or is on a page
  yield* qualified(contentNouns(first));
  yield* [...ofItsKind, ...onItsPage];
  yield* qualifiedTwice(had);
  // where all that is taken
  yield* qualified([...loadedWords(roots), leadWord(roots), ...folderWords(occurrences)]);
}

/** What a block starts with, pictures and the like first, since they are seen first. */
function contentNouns(root: Element): string[] {
  const nouns = new Set(firstElements(root).map(nounOf));
  return [...SEEN.filter((noun) => nouns.has(noun)), ...nouns];
}

const SEEN = ['picture', 'avatar', 'icon', 'media'];

/** Words that tell one thing from another of its kind, the author's own ones first. */
function* qualifiersOf(
  occurrences: Occurrence[],
  roots: Element[],
  vocabulary: Vocabulary,
): Generator<(string | null)[]> {
  yield toldWords(roots);
  yield ownWords(roots, vocabulary);
  yield [isPartOfPage(occurrences) ? 'page' : null];
  yield heldWords(roots, vocabulary);
  yield [headingWord(roots)];
  yield aroundWords(roots, vocabulary);
  yield pageWords(occurrences);
}

/** What has headers and footers of its own (HTML standard, "sectioning content"). */
const SECTIONING = new Set(['article', 'section', 'nav', 'aside']);

/** True for the one header, navigation or footer of several pages. */
function isPartOfPage(occurrences: Occurrence[]): boolean {
  const isLandmark = ({ element }: Occurrence) => {
    let at = element.parent;
    while (at?.kind === 'element' && !SECTIONING.has(at.tag)) at = at.parent;
    return LANDMARKS.has(element.tag) && at?.kind !== 'element';
  };
  const pages = new Set(occurrences.map(({ page }) => page));
  return pages.size > 1 && pages.size === occurrences.length && occurrences.every(isLandmark);
}

/** What the thing itself is called: its block word, a name of several words, or what it is. */
function headOf(roots: Element[], noun: string, vocabulary: Vocabulary): string {
  const [told] = toldWords(roots);
  if (roots[0]!.tag === RUN) return told === undefined ? noun : (joined(told, noun)[0] ?? told);
  if (told?.includes('-')) return told;
  const word = sharedName(roots, vocabulary);
  if (word !== null) return word;
  const heading = headingWord(roots);
  return noun === VAGUE && heading?.includes('-') ? heading : noun;
}

/** The word that all roots are called by, as a name; null where none is, or one that says nothing by itself. */
function sharedName(roots: Element[], vocabulary: Vocabulary): string | null {
  const [first] = roots;
  if (first!.tag === RUN) return null;
  const word = nameIn(first!, vocabulary);
  if (word === '' || !roots.every((root) => nameIn(root, vocabulary) === word)) return null;
  return wordName(word);
}

/** A class word as a name: `boat__name` is a boat-name, and `btn` a button. */
function wordName(word: string): string | null {
  const name = asName(withoutModifier(word).replace(/__/g, '-'));
  if (name === null || !isTelling(name)) return null;
  return name
    .split('-')
    .map((part) => SHORT.get(part) ?? part)
    .join('-');
}

/** A qualifier before a head; nothing where that would say a word twice, or too many. */
function joined(qualifier: string, head: string): string[] {
  return joinedWords(qualifier.split('-'), head.split('-'));
}

/** The same of their words. */
function joinedWords(before: string[], after: string[]): string[] {
  const [last, next] = [before.at(-1)!, after[0]!];
  const isSame = withoutPlural(last) === withoutPlural(next) || (after.length === 1 && isNavigation(last, next));
  const count = isSame ? before.length - 1 : before.length;
  if (count === 0 || count + after.length > MOST_WORDS) return [];
  const words = [...before.slice(0, count), ...after];
  const singulars = words.map(withoutPlural);
  return singulars.every((word, i) => singulars.indexOf(word) === i) ? [words.join('-')] : [];
}

/** The same for a word and its plural. Many pairs of words are asked for it, so no rule of spelling is. */
function withoutPlural(word: string): string {
  return word.replace(/(?<=[^s])s$/, '');
}

/** True for words of which each says all that both do. */
function isNavigation(...words: string[]): boolean {
  return words.every((word) => /^nav(bar|igation)?$/.test(word));
}

const MOST_WORDS = 5;

/** What all places are told to be: by the comment before, a label, a role or an id. */
function toldWords(roots: Element[]): string[] {
  const told = [
    told1(roots, commentBefore),
    told1(roots, (root) => attrOf(root, 'aria-label') ?? null),
    told1(roots, (root) => attrOf(root, 'itemtype')?.split('/').pop() ?? null),
    told1(roots, (root) => idWords(attrOf(root, 'id'))),
    told1(roots, (root) => idWords(attrOf(root, 'id'))?.split(' ').pop() ?? null),
    told1(roots, (root) => (GENERIC_ROLES.has(attrOf(root, 'role') ?? '') ? null : (attrOf(root, 'role') ?? null))),
  ];
  return told.filter((word) => word !== null);
}

const GENERIC_ROLES = new Set(['', 'group', 'presentation', 'none', 'document', 'generic', 'button', 'link']);

/** The heading that all of several places have. */
function headingWord(roots: Element[]): string | null {
  return roots.length > 1 ? told1(roots, headingIn) : null;
}

/** What is read of all roots alike, as a name of a few words; null where they are told nothing, or different things. */
function told1(roots: Element[], read: (root: Element) => string | null): string | null {
  const text = read(roots[0]!);
  if (text === null || !/^[\w\s-]+$/.test(text) || !roots.every((root) => read(root) === text)) return null;
  const name = asName(text);
  return name !== null && name.split('-').length <= MAX_WORDS && !/\d/.test(name) ? name : null;
}

/** An id without its numbers; of one that is more than a word its last one, when that differs from place to place. */
function idWords(id: string | undefined): string | null {
  if (id === undefined) return null;
  const words = id.replace(/[\d_-]+/g, ' ').trim();
  return words === '' ? null : words;
}

const MAX_WORDS = 3;
/** A comment that says where something ends, or what it is an instance of, is no name. */
const NO_NAME = /^(end|close|todo|fixme|start|begin|for|see|note|the|this|here)\b|\bend$/i;

/** The comment on the lines before a block. */
function commentBefore(root: Element): string | null {
  const first = root.tag === RUN ? root.children[0]! : root;
  const siblings = (first as Element).parent!.children;
  let at = siblings.indexOf(first) - 1;
  while (at >= 0 && isSpaceText(siblings[at])) at--;
  const last = siblings[at];
  const text = last?.kind === 'comment' ? last.value.trim() : '';
  return text === '' || NO_NAME.test(text) ? null : text;
}

/** So many elements from its start is a heading that of the block. */
const NEAR = 8;

/** The elements that a block starts with, itself among them. */
function firstElements(root: Element): Element[] {
  const found: Element[] = [];
  walk(root, (node) => {
    if (node.kind === 'element' && found.length < NEAR) found.push(node);
    return found.length < NEAR;
  });
  return found;
}

/** The heading of a block. */
function headingIn(root: Element): string | null {
  const heading = firstElements(root).find(({ tag }) => /^(h[1-6]|legend|caption)$/.test(tag));
  return heading === undefined ? null : textOf(heading);
}

const SPEAKING = new Set<Role>(['block', 'part', 'modifier', 'hook']);

/** Words of the roots themselves that all of them have: parts without their owner, and modifiers without their block. */
function ownWords(roots: Element[], vocabulary: Vocabulary): (string | null)[] {
  const [first] = roots;
  return classWords(first!)
    .filter((word) => roots.every((root) => classWords(root).includes(word)))
    .map((word) => vocabulary.get(word))
    .filter((entry) => entry !== undefined && SPEAKING.has(entry.role))
    .map((entry) => {
      const { word, of } = entry!;
      const rest = of !== null && word.startsWith(of) ? word.slice(of.length).replace(/^[-_]+/, '') : word;
      return wordName(rest) ?? wordName(word);
    });
}

/** What stands in all of them: what their content is, the blocks of the site's words in it, and parts that others lack. */
function heldWords(roots: Element[], vocabulary: Vocabulary): (string | null)[] {
  const first = roots[0]!;
  const content = nounOfContent(first);
  const isShared = content !== null && roots.every((root) => root === first || nounOfContent(root) === content);
  const words = [isShared ? content : null];
  let icon: string | null = null;
  for (const each of firstElements(first).slice(1)) {
    const word = nameIn(each, vocabulary);
    // `boat__name`, `boat__facts` speak of a boat
    const block = blockOf(word);
    if (block !== null) words.push(wordName(block));
    else if (word === '' || !isStrong(vocabulary.get(word)!)) continue;
    else if (isIcon(each, word)) icon = nounOf(each);
    else words.push(wordName(word));
  }
  return [...words, ...partWords(roots, vocabulary), icon];
}

/** True for an icon whose word says no more than that, as that of a font of icons. */
function isIcon({ tag, children }: Element, word: string): boolean {
  return tag === 'i' && /icon/i.test(word) && children.every((child) => child.kind === 'text');
}

/** Elements are more than those of the places where there are so many times as many. */
const MORE = 1.25;

/** Parts of a block that all places have, and hardly any of the others that are called like them. */
function partWords(roots: Element[], vocabulary: Vocabulary): (string | null)[] {
  const [first, ...rest] = roots;
  const kind = nameIn(first!, vocabulary);
  if (kind === '' || vocabulary.get(kind)!.places < MORE * roots.length) return [];
  const partsOf = (root: Element) =>
    firstElements(root).flatMap((each) => {
      const entry = vocabulary.get(nameIn(each, vocabulary));
      return entry?.of === kind && entry.places < MORE * roots.length ? [entry.word] : [];
    });
  return partsOf(first!)
    .filter((part) => rest.every((root) => partsOf(root).includes(part)))
    .map((part) => wordName(part.slice(kind.length).replace(/^[-_]+/, '')));
}

/** Block words of which no part says how something looks. */
function isStrong({ word, role, strength }: Word): boolean {
  return role === 'block' && strength >= 1 && word.split(/[-_]/).every(isTelling);
}

/** What is around all of them, the nearest first. */
function aroundWords(roots: Element[], vocabulary: Vocabulary): (string | null)[] {
  const words: (string | null)[] = [];
  for (let at = roots[0]!.parent; at?.kind === 'element' && at.tag !== 'body'; at = at.parent) {
    const word = nameIn(at, vocabulary);
    const label = attrOf(at, 'aria-label') ?? attrOf(at, 'aria-labelledby') ?? idWords(attrOf(at, 'id')) ?? '';
    words.push(
      word === '' ? null : singular(wordName(word)),
      singular(asName(label)),
      AROUND.has(at.tag) ? at.tag : null,
    );
    if (words.length > MOST_AROUND) break;
  }
  return words;
}

const MOST_AROUND = 12;
const AROUND = new Set(['header', 'footer', 'nav', 'aside', 'form', 'table', 'article', 'dialog']);

function singular(name: string | null): string | null {
  return name === null || name.split('-').length > MAX_WORDS ? null : pluralize.singular(name);
}

/** The page that all occurrences stand on. */
function pageWords(occurrences: Occurrence[]): (string | null)[] {
  const paths = new Set(occurrences.map(({ page }) => page.path));
  if (paths.size > 1) return [];
  const [path] = paths;
  const name = path!
    .split('/')
    .pop()!
    .replace(/\.\w+$/, '');
  return name === 'index' ? [] : [asName(name)];
}

/** The files that all of several runs load, by their names. */
function loadedWords(roots: Element[]): (string | null)[] {
  if (roots[0]!.tag !== RUN) return [];
  const files = roots.map(({ children }) =>
    children.flatMap((child) =>
      child.kind === 'element' ? (attrOf(child, 'src') ?? attrOf(child, 'href') ?? []) : [],
    ),
  );
  const names = files.map((urls) => urls.map((url) => asName(fileStem(url).replaceAll('.', '-'))));
  return names[0]!.filter((name) => names.every((others) => others.includes(name)));
}

/** The folders that all occurrences stand in, the nearest first. */
function folderWords(occurrences: Occurrence[]): (string | null)[] {
  const shared = commonStart(occurrences.map(({ page }) => page.path.split('/').slice(0, -1)));
  return shared.map((folder) => singular(asName(folder))).reverse();
}

/** The first words that are read in all of several places, where no place has more than a heading's. */
function leadWord(roots: Element[]): string | null {
  if (roots.length === 1) return null;
  const rows = roots.map((root) => firstTextIn(root).split(/\s+/));
  const lead = commonStart(rows).join(' ');
  const name = isCode(lead) || rows.some((words) => words.length > MOST_WORDS) ? null : asName(lead);
  return name !== null && isSayable(name) && name.split('-').length <= MAX_WORDS ? name : null;
}

/** True for what is no text, as what a script starts with. */
function isCode(text: string): boolean {
  return /[(){}=;]/.test(text);
}

/** What all rows start with. */
function commonStart([first, ...others]: string[][]): string[] {
  const differs = first!.findIndex((each, i) => others.some((row) => row[i] !== each));
  return differs < 0 ? first! : first!.slice(0, differs);
}
