/** Class words as BEM has them: `block__part--modifier`. */

/** What stands before the part; null for a word without one. */
export function blockOf(word: string): string | null {
  return /^(.+?)__/.exec(word)?.[1] ?? null;
}

/** The part, without a modifier; null for a word without one. */
export function partOf(word: string): string | null {
  return /^.+?__(.+?)(?:--.*)?$/.exec(word)?.[1] ?? null;
}

/** The word without what says how it differs. */
export function withoutModifier(word: string): string {
  return word.replace(/--.*$/, '');
}

/** What comes after the block and the part, or the whole word where nothing does. */
export function modifierOf(word: string): string {
  return word.replace(/^.*--/, '');
}
