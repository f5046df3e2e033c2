/**
 * Layout of a template while it is written: line breaks carry marks for the indentation that is known only at the end.
 */

/** Where a line begins that has the template's own indentation. */
// eslint-disable-next-line no-control-regex -- the marks are chosen for standing in no page
export const LINE_START = /\n\u0001\u0002*/g;
// eslint-disable-next-line no-control-regex
export const BREAKS_AROUND = /^[\s\u0001\u0002]*\n[^]*\n[\s\u0001\u0002]*$/;
/** What stands before the first thing in a text, up to a line break before it. */
// eslint-disable-next-line no-control-regex
export const FIRST_LINE = /^\s*\n[\s\u0001\u0002]*/;
/** A line without anything at the end of a text. */
// eslint-disable-next-line no-control-regex
export const LAST_LINE = /\n[ \t\u0001-\u0003]*$/;
// eslint-disable-next-line no-control-regex
export const ONLY_LINE = /^\s*\n[\s\u0001\u0002]*$/;

/** Stands for the template's own indentation while it is not known; `LESS` for each column less than that. */
export const BASE = '\u0001';
const LESS = '\u0002';

/** Stands for one step of indentation. */
export const UNIT = '\u0003';

// eslint-disable-next-line no-control-regex
const LINE_BASE = /\n\u0001/g;
/** What a line with marks begins with. */
// eslint-disable-next-line no-control-regex
const MARKED = /(?<=\n)[ \t]*[\u0001-\u0003][ \t\u0001-\u0003]*/g;

/** Body with the marks replaced, its first line a step deep; what is less deep than that by a step or more begins its line. */
export function laidOut(body: string, unit: string): string {
  return unit + body.replace(MARKED, (marked) => indentOf(marked, unit));
}

/** The indentation that marks stand for. */
function indentOf(marked: string, unit: string): string {
  let indent = '';
  for (const char of marked)
    if (char === LESS) indent = indent.slice(0, -1);
    else indent += char === BASE || char === UNIT ? unit : char;
  return indent;
}

/** Marked text with its lines starting as `line` does. */
export function under(text: string, line: string): string {
  return text.replace(LINE_BASE, line);
}

/** Line breaks with their indentation made relative to that of the place, `next` being the character that follows. */
export function relative(text: string, next: string | undefined, indent: string): string {
  return text.replace(/(?:\r\n|\n|\r)([ \t]*)/g, (whole: string, own: string, at: number) => {
    const following = text[at + whole.length] ?? next ?? '';
    const blank = following === '\n' || following === '\r';
    if (blank && !own.startsWith(indent)) return '\n';
    // where tabs and spaces are mixed, lengths have to tell what is deeper
    if (own.length >= indent.length) return blank && own === '' ? '\n' : `\n${BASE}${own.slice(indent.length)}`;
    return `\n${BASE}${LESS.repeat(indent.length - own.length)}`;
  });
}
