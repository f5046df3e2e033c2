/**
 * The site's vocabulary: what each class word is there for, from all stylesheets and all pages. A word names a block, a
 * part of one, a modifier or a state of one, or it is a utility, a layout cell, or a hook that no stylesheet knows.
 */
import { workingOn } from '../errors.js';
import type { Page } from '../page/parse.js';
import { attrOf, classWords, type Element } from '../page/tree.js';
import { effectOf } from './effect.js';
import { NO_RULES, readWordRules, type WordRules } from './rules.js';
import { listKey, stemsOf, type Usage, UsageReader } from './usage.js';
import { ALWAYS, FAMILY, isWithSign, MOSTLY, type UsedWord, utilitiesAmong } from './utilities.js';
import { addTo } from '../groups.js';

export type Role = 'block' | 'part' | 'modifier' | 'state' | 'utility' | 'layout' | 'hook';
export const ROLES: readonly Role[] = ['block', 'part', 'modifier', 'state', 'utility', 'layout', 'hook'];

export interface Word {
  word: string;
  role: Role;
  /** the block that it is a part, modifier or state of, null for others */
  of: string | null;
  /** the evidence in a few words */
  why: string;
  /** selectors with it as their subject */
  rules: number;
  /** selectors that dress what is inside of it */
  inside: number;
  /** elements that carry it */
  places: number;
  /** how much speaks for a block, at least 0 */
  strength: number;
  /** what all its own rules change, in a word: `color`; null for several things */
  effect: string | null;
}

export type Vocabulary = ReadonlyMap<string, Word>;

/**
 * The role of every class word on the pages.
 * @param sheets texts of all stylesheets
 * @param corrections roles that the developer gives to words, whatever the evidence says
 */
export function readVocabulary(
  pages: Page[],
  sheets: Iterable<string>,
  corrections: ReadonlyMap<string, Role> = new Map(),
): Vocabulary {
  const reader = new UsageReader();
  for (const page of pages) workingOn(page.path, () => reader.read(page.root));
  const rulesOf = readWordRules(sheets, reader.usage);
  // a word may be told by a shorter one that it starts with
  const words = [...reader.usage.keys()].sort((a, b) => a.length - b.length || (a < b ? -1 : 1));
  const evidence = words.map((word): Evidence => {
    return {
      word,
      usage: reader.usage.get(word)!,
      rules: rulesOf.get(word) ?? NO_RULES,
      toggled: 0,
      isAmongBare: reader.amongBare.has(word),
    };
  });
  const styled = isStyled(
    evidence.map(({ usage, rules }) => ({ places: usage.places, rules: rules.rules, inside: rules.ancestor })),
  );
  const utilities = utilitiesAmong(evidence, styled);
  countToggles(evidence, reader.lists, utilities);
  const numbered = numberedAmong(evidence, utilities);
  const shown = shownAmong(evidence);
  const vocabulary = new Map<string, Word>();
  for (const each of evidence) {
    const judged = judge(each, { utilities, numbered, shown, styled }, vocabulary);
    const role = corrections.get(each.word);
    vocabulary.set(each.word, role === undefined ? judged : { ...judged, role, why: 'the configuration says so' });
  }
  return vocabulary;
}

interface Evidence extends UsedWord {
  /** share of its places, by class lists, where the same list without it stands elsewhere */
  toggled: number;
  /** it is all that an element carries beside one of the same tag that carries none */
  isAmongBare: boolean;
}

/** What is told of words by others that are written like them. */
interface Families {
  utilities: ReadonlySet<string>;
  numbered: ReadonlyMap<string, Role>;
  shown: ReadonlySet<string>;
  /** stylesheets are at hand */
  styled: boolean;
}

/** Which words come and go: where the rest of the list stands by itself elsewhere, and is more than utilities. */
function countToggles(
  evidence: Evidence[],
  lists: ReadonlyMap<string, string[]>,
  utilities: ReadonlySet<string>,
): void {
  const counts = new Map<string, { lists: number; toggled: number }>();
  for (const [key, words] of lists) {
    const tag = key.slice(0, key.indexOf(' '));
    for (const word of words) {
      const count = counts.get(word) ?? { lists: 0, toggled: 0 };
      counts.set(word, count);
      count.lists++;
      const rest = words.filter((other) => other !== word);
      if (rest.some((other) => !utilities.has(other)) && lists.has(listKey(tag, rest))) count.toggled++;
    }
  }
  for (const each of evidence) {
    const count = counts.get(each.word);
    each.toggled = count === undefined ? 0 : count.toggled / count.lists;
  }
}

/** Words that no stylesheet knows, as `post-17` and `post-23`: of one element, or a value; or as `w-7` among utilities. */
function numberedAmong(evidence: Evidence[], utilities: ReadonlySet<string>): Map<string, Role> {
  const patternOf = (word: string) => word.replace(/\d+/g, '0');
  const utilityPatterns = new Set([...utilities].map(patternOf));
  const families = new Map<string, string[]>();
  for (const { word, rules } of evidence) {
    if (rules.rules > 0 || !/\d/.test(word)) continue;
    const pattern = patternOf(word);
    addTo(families, pattern, word);
  }
  const roles = new Map<string, Role>();
  for (const [pattern, words] of families) {
    const role = utilityPatterns.has(pattern) ? 'utility' : words.length >= FAMILY ? 'modifier' : undefined;
    if (role !== undefined) for (const word of words) roles.set(word, role);
  }
  return roles;
}

/**
 * Words of one start, as `icon-boat` and `icon-quay`, for elements in which nothing stands: each says what is shown there.
 * One that stands beside others of them is what they are.
 */
function shownAmong(evidence: Evidence[]): Set<string> {
  const families = new Map<string, string[]>();
  for (const { word, usage } of evidence) {
    if (usage.empty < usage.places) continue;
    const besides = [...usage.company].flatMap((list) => list.split(' ').flatMap(stemsOf));
    for (const stem of stemsOf(word)) if (!besides.includes(stem)) addTo(families, stem, word);
  }
  return new Set([...families.values()].filter(({ length }) => length >= FAMILY).flat());
}

/** Words that say how something is just now, as ARIA and HTML have them too. */
const STATE = /^(is|has)-|^(active|checked|collapsed|current|disabled|expanded|open|pressed|selected|show)$/;

/** True for a class word that says how something is just now. */
export function isState(word: string): boolean {
  return STATE.test(word);
}

function judge(
  { word, usage, rules, toggled, isAmongBare }: Evidence,
  { utilities, numbered, shown, styled }: Families,
  known: Vocabulary,
): Word {
  const { places } = usage;
  const said = (role: Role, of: string | null, why: string, strength = 0): Word => ({
    word,
    role,
    of,
    why,
    rules: rules.rules,
    inside: rules.ancestor,
    places,
    strength,
    // one that is only named beside others may be what tells them apart
    effect: effectOf(rules.alone === 0 ? rules.besides : rules.properties),
  });
  if (isWithSign(word)) return said('utility', null, 'written with a sign that no name has');
  const derived = Math.max(0, ...usage.derived.values());
  const isOwner = (stem: string) => ['block', 'part', 'hook', 'layout'].includes(known.get(stem)?.role ?? '');
  const stemIn = (counts: Map<string, number>, share: number) =>
    [...counts].reverse().find(([stem, count]) => count >= places * share && isOwner(stem))?.[0];
  const besides = stemIn(usage.beside, ALWAYS);
  if (besides !== undefined) return said('modifier', besides, `stands beside ${besides}`);
  const strength = strengthOf(usage, rules, styled);
  const below = stemIn(usage.below, MOSTLY);
  if (below !== undefined) return said('part', below, `stands inside ${below}`, strength);
  const isToggled = isState(word)
    ? derived < places * (1 - MOSTLY) && (toggled > 0 || isAmongBare)
    : derived === 0 && toggled >= ALWAYS && rules.alone === 0;
  if (isToggled) return said('state', null, 'comes and goes among elements that are alike otherwise');
  if (rules.rules > 0 && rules.alone === 0 && rules.ancestor === 0 && derived === 0)
    return said('modifier', null, 'rules name it beside other words only');
  if (utilities.has(word))
    return said('utility', null, rules.rules === 0 ? 'on anything' : `${perRule(rules)}, on anything`);
  if (derived > 0 && derived >= places * (1 - MOSTLY))
    return said('block', null, 'words that start with it stand inside', strength);
  if (shown.has(word)) return said('modifier', null, 'one of several for elements that are empty');
  const role = numbered.get(word);
  if (role !== undefined) return said(role, null, 'one of several that differ in a number only');
  if (rules.rules + rules.ancestor === 0) {
    const holdsAnything = !styled && derived === 0 && usage.contents.size > Math.max(FAMILY, places * MOSTLY);
    return holdsAnything
      ? said('layout', null, 'anything stands in it')
      : said('hook', null, 'no stylesheet knows it', strength);
  }
  if (rules.alone > rules.scoped && rules.layoutOnly && usage.contents.size > Math.max(2, places * (1 - MOSTLY)))
    return said('layout', null, 'its rules only place boxes, and anything stands in it');
  const why = rules.ancestor > 0 ? 'rules dress what is inside of it' : 'rules dress it by itself';
  return said('block', null, why, strength);
}

function perRule({ declarations, alone, scoped }: WordRules): string {
  const each = Math.max(1, Math.round(declarations / Math.max(1, alone - scoped)));
  return `${each} ${each === 1 ? 'declaration' : 'declarations'}`;
}

/** Rules that a stylesheet mostly has for each word that stands inside of a block whose name it starts with. */
const RULES_A_PART = 2;

/**
 * How much speaks for a block: words derived from it, rules that dress what is inside, rules of its own, first place.
 * @param isStyled whether stylesheets are at hand; where not, the derived words say what rules there may be
 */
function strengthOf({ places, derived, leads }: Usage, { ancestor, rules }: WordRules, isStyled: boolean): number {
  const inside = Math.max(0, ...derived.values()) / places > 0.3 ? 2 : 0;
  const dressing = isStyled ? ancestor : Math.max(ancestor, RULES_A_PART * derived.size);
  return (
    inside + Math.min(2, Math.log2(1 + dressing) / 2) + (rules > 0 || !isStyled ? 0.5 : 0) + (0.6 * leads) / places
  );
}

/** So many places of class words are known to stylesheets where these are at hand, and not on another server. */
const STYLED = 0.5;

/** True where stylesheets know most of what is written in class attributes; else nothing can be told from what they lack. */
export function isStyled(words: Iterable<Pick<Word, 'places' | 'rules' | 'inside'>>): boolean {
  let [known, all] = [0, 0];
  for (const word of words) {
    all += word.places;
    if (isDressing(word)) known += word.places;
  }
  return known >= all * STYLED;
}

/** True for a word that stylesheets know: they dress what carries it, or what is inside. */
export function isDressing({ rules, inside }: Pick<Word, 'rules' | 'inside'>): boolean {
  return rules + inside > 0;
}

const NAMING = new Set<Role>(['block', 'part', 'hook']);

/** True for a word that says what something is. */
export function isNaming(word: Word | undefined): word is Word {
  return word !== undefined && NAMING.has(word.role);
}

/** The word that says best what an element is; the first one of equal strength. */
export function nameIn(element: Element, vocabulary: Vocabulary): string {
  let best = '';
  let most = -1;
  for (const word of classWords(element)) {
    const entry = vocabulary.get(word);
    if (!isNaming(entry)) continue;
    // on something small, as an icon, such a word says what is shown
    if (entry.role === 'hook' && !element.children.some((child) => child.kind === 'element')) continue;
    // what no stylesheet knows says less than anything that one knows
    const strength = entry.role === 'hook' ? entry.strength / 10 : 0.1 + entry.strength;
    if (strength > most) [best, most] = [word, strength];
  }
  return best;
}

/** `nameIn`, found once for each class list. */
export function nameReader(vocabulary: Vocabulary): (element: Element) => string {
  const [leaves, holders] = [new Map<string, string>(), new Map<string, string>()];
  return (element) => {
    const list = attrOf(element, 'class');
    if (list === undefined) return '';
    const known = element.children.some(({ kind }) => kind === 'element') ? holders : leaves;
    let name = known.get(list);
    if (name === undefined) known.set(list, (name = nameIn(element, vocabulary)));
    return name;
  };
}
