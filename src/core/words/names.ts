/** Names from words: kebab-case, of letters and digits, as attributes and files have them. */
import { kebabCase } from 'change-case';

/** One small letter before a capital is part of the word, as in the names of products. */
const SMALL_FIRST = /\b([a-z])([A-Z])(?=[a-z])/g;

/** A kebab-case word of letters and digits that starts with a letter, or null. */
export function asName(text: string): string | null {
  const plain = text.normalize('NFKD').replace(/[^\w\s-]/g, '');
  const words = plain.replace(SMALL_FIRST, (_, small: string, capital: string) => small + capital.toLowerCase());
  const name = kebabCase(words).replace(/^[^a-z]+/, '');
  return /^[a-z][a-z0-9]*(-[a-z0-9]+)*$/.test(name) && name.length <= 32 ? name : null;
}

/** Words that say how a thing looks, how it is laid out or where it stands in a row, not what it is. */
const LOOKS = new Set(
  `col row container wrapper inner outer flex grid d m mt mb mx my ml mr ms me p pt pb px py pl pr ps pe text bg font float
  w h min max border rounded shadow align justify items self order position absolute relative fixed sticky static clearfix
  js sm md lg xl xs xxl no opacity overflow visible hidden block inline fluid full auto left right center middle
  start end small large big tiny plain simple lead display fs fw lh z g gx gy gap space unstyled white black light dark
  transparent primary secondary success danger warning info muted first second third fourth fifth sixth seventh eighth
  ninth tenth other another more even odd mask animated blur fade sr fa fas fab far ni bi`.split(/\s+/),
);

/** Words that only move or size boxes, even within the name of a part. */
const BOXES =
  /^([mp][trblxyse]?|d|col|row|float|align|justify|items|flex|fw|w|h|rounded|shadow|border|whitespace)(-|$)/;

/** True for a word that may be part of a name: no spacing, and no number. */
export function isSayable(word: string): boolean {
  return !BOXES.test(word) && !/\d/.test(word);
}

/** How wide a screen is to be for something to look so, or how large that is. */
const SIZE = /[-_](xs|sm|md|lg|xl|xxl)$/i;

/** True for a class word or an id that says what a thing is. */
export function isTelling(word: string): boolean {
  return !LOOKS.has(word.split(/[-_:]/)[0]!.toLowerCase()) && !SIZE.test(word) && !/\d/.test(word);
}
