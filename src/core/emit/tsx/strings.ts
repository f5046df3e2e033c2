/** Text as JavaScript and JSX spell it. */

/** Characters that nobody sees, or that end a line: control and format characters, odd spaces, halves of pairs. */
const UNSEEN = /[\p{Cc}\p{Cf}\p{Cs}\p{Co}\p{Zl}\p{Zp}\u00a0\u1680\u2000-\u200a\u202f\u205f\u3000]/gu;
/** Joins emoji; seen in what it joins. */
const JOINER = '\u200d';

function unicode(char: string): string {
  return [...Array(char.length).keys()].map((i) => `\\u${char.charCodeAt(i).toString(16).padStart(4, '0')}`).join('');
}

/** A string literal; what nobody sees is spelled out. */
export function jsString(text: string): string {
  const escaped = text
    .replace(/[\\']/g, '\\$&')
    .replaceAll('\n', '\\n')
    .replaceAll('\r', '\\r')
    .replaceAll('\t', '\\t')
    .replace(UNSEEN, (char) => (char === JOINER ? char : unicode(char)));
  return `'${escaped}'`;
}

/** Text as it stands in a template literal. */
export function inTemplate(text: string): string {
  return text
    .replace(/[\\`]|\$(?=\{)/g, '\\$&')
    .replaceAll('\r', '\\r')
    .replace(UNSEEN, (char) => (char === JOINER || char === '\n' || char === '\t' ? char : unicode(char)));
}

/** A literal for text of several lines, or a plain string. */
export function jsText(text: string): string {
  return /\n./.test(text) ? `\`${inTemplate(text)}\`` : jsString(text);
}

const NAMED = new Map<string, string>(
  Object.entries({ '<': '&lt;', '>': '&gt;', '&': '&amp;', '\u00a0': '&nbsp;', '\u00ad': '&shy;' }),
);

/** Text between tags, its white space as it is meant: no line break in it. */
export function jsxText(text: string): string {
  return text.replace(/[{}]+|[<>&\u00a0\u00ad]|[^{}<>&\u00a0\u00ad]+/g, (part) => {
    const named = NAMED.get(part);
    if (named !== undefined) return named;
    if (/^[{}]/.test(part)) return `{'${part}'}`;
    return part.replace(UNSEEN, (char) => (char === JOINER ? char : `{'${char === '\n' ? '\\n' : unicode(char)}'}`));
  });
}

/** The value of a JSX attribute, with what stands around it. */
export function jsxValue(text: string): string {
  const plain = !/[&\\\n\r\t]/.test(text) && text.replace(UNSEEN, '') === text;
  if (plain && !text.includes('"')) return `"${text}"`;
  if (plain && !text.includes("'")) return `'${text}'`;
  return `{${jsString(text)}}`;
}

/** An expression as the value of a JSX attribute: plain text needs no braces. */
export function braced(code: string): string {
  const text = /^'([^'"\\&]*)'$/.exec(code)?.[1];
  return text === undefined ? `{${code}}` : `"${text}"`;
}

/** Words of reserved and global names that no variable may be called. */
const RESERVED = new Set(
  `arguments await break case catch class const continue debugger default delete do else enum eval export extends false
  finally for function if implements import in instanceof interface let new null package private protected public return
  static super switch this throw true try typeof undefined var void while with yield`.split(/\s+/),
);

export function isReserved(name: string): boolean {
  return RESERVED.has(name);
}

/** A key of an object literal. */
export function jsKey(name: string): string {
  return /^[A-Za-z_$][\w$]*$/.test(name) ? name : jsString(name);
}

/** A name that `taken` does not hold yet, with a number when needed; it is taken now. */
export function unique(name: string, taken: Set<string>): string {
  let found = name;
  for (let n = 2; taken.has(found) || isReserved(found); n++) found = `${name}${n}`;
  taken.add(found);
  return found;
}
