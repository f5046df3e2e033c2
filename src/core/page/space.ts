/** HTML white space (HTML standard, "ASCII whitespace"). */
import { type Child, type Element, HTML } from './tree.js';

/** True for the code of a character of HTML white space. */
export function isSpace(code: number): boolean {
  return code === 32 || (code >= 9 && code <= 13 && code !== 11);
}

/** How many characters of HTML white space stand before and after the rest. */
export function trimmed(value: string): [lead: number, trail: number] {
  const lead = afterSpace(value, 0);
  let trail = 0;
  while (trail < value.length - lead && isSpace(value.charCodeAt(value.length - 1 - trail))) trail++;
  return [lead, trail];
}

const DROPS_BREAK = new Set(['pre', 'textarea', 'listing']);

/** The line break right behind a start tag that is in the range of no node (HTML standard, "pre"); '' for none. */
export function droppedBreak(source: string, { tag, ns, openEnd, children }: Element): string {
  if (!DROPS_BREAK.has(tag) || ns !== HTML || children[0]?.start === openEnd) return '';
  return /^\r?\n/.exec(source.slice(openEnd, openEnd + 2))?.[0] ?? '';
}

/** Values of `white-space` and `white-space-collapse` by which indentation does not show (CSS Text Level 4). */
const COLLAPSES = /^(normal|nowrap|collapse|discard|initial)( (wrap|nowrap|auto|balance|stable|pretty))?$/i;

/**
 * True where a declaration may make white space show: every value that is not known to collapse it, such as a variable.
 * @param property its name, escapes read
 */
export function mayShowSpace(property: string, value: string): boolean {
  const plain = value.replace(/\/\*.*?\*\//gs, ' ').trim();
  return /^white-space(-collapse)?$/i.test(property) && !COLLAPSES.test(plain);
}

/** The kinds of white space before and after a text: none, a run with a line break, or exactly which other run. */
export function spacesAround(value: string): string {
  const [lead, trail] = trimmed(value);
  return `${spaceKind(value.slice(0, lead))}|${spaceKind(value.slice(value.length - trail))}`;
}

/** A run with a line break as that alone, any other as it is. */
export function spaceKind(space: string): string {
  return space.includes('\n') ? '\n' : space;
}

/** True for a text node of white space only. */
export function isSpaceText(node: Child | null | undefined): boolean {
  return node?.kind === 'text' && afterSpace(node.value, 0) === node.value.length;
}

const BOOLEAN = new Set(
  'allowfullscreen async autoplay checked controls default defer disabled formnovalidate hidden inert itemscope loop multiple muted nomodule novalidate open readonly required reversed selected'.split(
    ' ',
  ),
);

/** True for a boolean attribute that is merely present: it may come and go within one shape. */
export function isFlag(name: string, value: string): boolean {
  return value === '' && BOOLEAN.has(name);
}

/** True for texts that are equal when runs of white space count as one space, and those at the ends as none. */
export function isSameButForSpace(one: string, other: string): boolean {
  if (one === other) return true;
  let i = afterSpace(one, 0);
  let j = afterSpace(other, 0);
  while (i < one.length && j < other.length) {
    if (isSpace(one.charCodeAt(i)) && isSpace(other.charCodeAt(j))) {
      i = afterSpace(one, i);
      j = afterSpace(other, j);
    } else if (one[i++] !== other[j++]) return false;
  }
  return afterSpace(one, i) === one.length && afterSpace(other, j) === other.length;
}

/** The first offset from `from` on at which no white space stands. */
export function afterSpace(text: string, from: number): number {
  let at = from;
  while (at < text.length && isSpace(text.charCodeAt(at))) at++;
  return at;
}
