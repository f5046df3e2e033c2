/** HTML white space (HTML standard, "ASCII whitespace"). */
import type { Child } from './tree.js';

/** True for the code of a character of HTML white space. */
export function isSpace(code: number): boolean {
  return code === 32 || (code >= 9 && code <= 13 && code !== 11);
}

/** How many characters of HTML white space stand before and after the rest. */
export function trimmed(value: string): [lead: number, trail: number] {
  let lead = 0;
  while (lead < value.length && isSpace(value.charCodeAt(lead))) lead++;
  let trail = 0;
  while (trail < value.length - lead && isSpace(value.charCodeAt(value.length - 1 - trail))) trail++;
  return [lead, trail];
}

/** True for a text node of white space only. */
export function isSpaceText(node: Child | null | undefined): boolean {
  return node?.kind === 'text' && trimmed(node.value)[0] === node.value.length;
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
