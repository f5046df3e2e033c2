/** Which class words are utilities: told by their rules, and where no stylesheet is at hand by how they are written and used. */
import { addTo } from '../groups.js';
import type { WordRules } from './rules.js';
import { add, stemsOf, type Usage } from './usage.js';

/** A class word with where it stands, and what stylesheets say of it. */
export interface UsedWord {
  word: string;
  usage: Usage;
  rules: WordRules;
}

/** So many words of one start that is no block make a family, as `mb-1`, `mb-2`, `mb-3`. */
export const FAMILY = 3;

/** Nearly always, and in most cases. */
export const ALWAYS = 0.9;
export const MOSTLY = 0.6;

/**
 * Words of a few declarations that dress whatever carries them.
 * @param styled stylesheets are at hand
 */
export function utilitiesAmong(evidence: UsedWord[], styled: boolean): Set<string> {
  const members = new Map<string, number>();
  const slight = evidence.filter(({ rules }) => isSlight(rules));
  const slightWords = new Set(slight.map(({ word }) => word));
  for (const word of slightWords) for (const stem of stemsOf(word)) add(members, stem);
  const utilities = new Set(styled ? evidence.map(({ word }) => word).filter(isWithSign) : utilitiesByUse(evidence));
  for (const { word, usage, rules } of slight) {
    if ([...usage.derived.keys()].some((inner) => !slightWords.has(inner))) continue;
    const stems = stemsOf(word);
    const related = stems.some((stem) => utilities.has(stem) || members.get(stem)! >= FAMILY);
    if (related || (isAnywhere(usage, rules) && !leadsAndDressesInside(usage, rules))) utilities.add(word);
  }
  return utilities;
}

/** True for a word with a sign that selectors have to escape, as `lg:flex`, `w-1/2`, `mt-[3px]`: nobody names things so. */
export function isWithSign(word: string): boolean {
  return /[:/[\]!@]|\d\.\d/.test(word);
}

/** The same of words that no stylesheet knows, where these are not at hand: by how they are written and used. */
function utilitiesByUse(evidence: UsedWord[]): string[] {
  const signed = evidence.filter(({ word }) => isWithSign(word)).map(({ word }) => word);
  // `lg:flex-row` says that `flex` and what starts with it are some
  const bases = signed.map((word) => word.slice(word.lastIndexOf(':') + 1));
  const starts = new Set(bases.flatMap((base) => [base, ...stemsOf(base)]));
  const unknown = evidence.filter(({ word, rules }) => rules.rules + rules.ancestor === 0 && !isWithSign(word));
  const families = new Map<string, Usage[]>();
  for (const { word, usage } of unknown)
    if (!isMadeOfAnother(usage)) for (const stem of stemsOf(word)) addTo(families, stem, usage);
  const familyStarts = new Set<string>();
  for (const [start, members] of families)
    if (members.length >= FAMILY && isBesideAnything(members)) familyStarts.add(start);
  const like = unknown.filter(({ word, usage }) => {
    const stems = stemsOf(word);
    if (starts.has(word) || stems.some((stem) => starts.has(stem) || familyStarts.has(stem))) return true;
    return !isMadeOfAnother(usage) && isBesideAnything([usage]);
  });
  return [...signed, ...like.map(({ word }) => word)];
}

/** True where a word stands mostly beside or inside one that it starts with, or others that start with it inside of it. */
function isMadeOfAnother({ places, derived, beside, below }: Usage): boolean {
  return derived.size > 0 || [...beside, ...below].some(([, count]) => count >= places * MOSTLY);
}

/** Seldom first, and beside anything or on anything. */
function isBesideAnything(members: Usage[]): boolean {
  const sum = (read: (usage: Usage) => number) => members.reduce((all, usage) => all + read(usage), 0);
  const count = (read: (usage: Usage) => Set<string>) => new Set(members.flatMap((usage) => [...read(usage)])).size;
  if (sum(({ leads }) => leads) > sum(({ places }) => places) / 2) return false;
  return count(({ company }) => company) >= 4 || count(({ tags }) => tags) >= 3;
}

/** A few declarations of its own in each rule, and hardly a rule for what is inside of it. */
function isSlight({ alone, scoped, declarations, important, ancestor }: WordRules): boolean {
  const own = alone - scoped;
  if (own === 0) return false;
  return important >= declarations / 2 || (declarations <= own * 3 && ancestor === 0 && scoped <= own);
}

/** The first of several words, with more rules for what is inside of it than of its own. */
function leadsAndDressesInside({ places, leads, company }: Usage, { ancestor, alone }: WordRules): boolean {
  return ancestor > alone && company.size > 0 && leads >= places * ALWAYS;
}

/** On anything, beside anything, and seldom as the first word. */
function isAnywhere({ company, tags, places, leads }: Usage, { declarations, important }: WordRules): boolean {
  if (important >= declarations / 2) return true;
  return company.size >= 4 || tags.size >= 3 || leads < places * ALWAYS;
}
