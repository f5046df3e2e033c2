/**
 * The structure of a stylesheet: rules, at-rules and declarations with their ranges, by the parsing algorithms of CSS
 * Syntax Level 3 ("consume a block's contents", nesting included) over css-tree's tokens. What a browser drops is
 * dropped here too, and told. Preludes and values stay text; who needs more of them parses them.
 */
import { tokenize, tokenTypes as token } from 'css-tree/tokenizer';

/** Ranges are UTF-16 offsets into the source. */
interface Ranged {
  start: number;
  end: number;
}

export interface Declaration extends Ranged {
  kind: 'declaration';
  /** lower-case, but for custom properties */
  property: string;
  /** as it is spelled, without `!important` and white space around it */
  value: string;
  important: boolean;
}

/** A rule (`name` is null) or an at-rule; `children` is null for one that ends with a semicolon. */
export interface Rule extends Ranged {
  kind: 'rule';
  name: string | null;
  prelude: string;
  preludeStart: number;
  children: (Rule | Declaration)[] | null;
  /** range between the braces */
  bodyStart: number;
  bodyEnd: number;
}

export interface Dropped extends Ranged {
  message: string;
}

export interface Syntax {
  rules: Rule[];
  errors: Dropped[];
}

const OPENS: Partial<Record<number, number>> = {
  [token.LeftCurlyBracket]: token.RightCurlyBracket,
  [token.LeftParenthesis]: token.RightParenthesis,
  [token.Function]: token.RightParenthesis,
  [token.LeftSquareBracket]: token.RightSquareBracket,
};
const GROUPING = new Set(['media', 'supports', 'layer', 'container', 'scope', 'starting-style', 'document']);

/** True for an at-rule that holds rules of the context around it. */
export function isGrouping(name: string | null): boolean {
  return name !== null && GROUPING.has(name);
}

/** Deeper than anybody nests rules, and as deep as plain recursion over them is safe. */
const MOST_DEPTH = 200;

class Reader {
  private readonly types: Uint8Array;
  private readonly starts: Uint32Array;
  private readonly count: number;
  private at = 0;
  private depth = 0;
  readonly errors: Dropped[] = [];

  constructor(private readonly source: string) {
    // there are no more tokens than characters
    const types = new Uint8Array(source.length);
    const starts = new Uint32Array(source.length + 1);
    let count = 0;
    tokenize(source, (type, start) => {
      types[count] = type;
      starts[count++] = start;
    });
    starts.fill(source.length, count);
    [this.types, this.starts, this.count] = [types, starts, count];
  }

  private get type(): number {
    return this.at < this.count ? this.types[this.at]! : token.EOF;
  }

  private get offset(): number {
    return this.starts[this.at]!;
  }

  private endBefore(at: number): number {
    // white space and comments at the end belong to nobody
    while (at > 0 && this.isBlank(this.types[at - 1]!)) at--;
    return this.starts[at]!;
  }

  private isBlank(type: number): boolean {
    return type === token.WhiteSpace || type === token.Comment;
  }

  private skipBlank(): void {
    while (this.isBlank(this.type)) this.at++;
  }

  private tell(message: string, start: number, end: number): void {
    this.errors.push({ message, start, end });
  }

  /** Passes over one component value, brackets with all that is in them. */
  private skipValue(): void {
    if (OPENS[this.type] === undefined) {
      this.at++;
      return;
    }
    const start = this.offset;
    const closing: number[] = [];
    do {
      const close = OPENS[this.type];
      if (close !== undefined) closing.push(close);
      else if (this.type === closing.at(-1)) closing.pop();
      this.at++;
    } while (closing.length > 0 && this.type !== token.EOF);
    if (closing.length > 0 && !this.errors.some((each) => each.start === start))
      this.tell('this bracket is not closed', start, start + 1);
  }

  /** The rules of a stylesheet, or of a grouping at-rule outside any style rule. */
  rules(top: boolean): Rule[] {
    const found: Rule[] = [];
    for (;;) {
      this.skipBlank();
      if (this.type === token.EOF || (!top && this.type === token.RightCurlyBracket)) return found;
      if (this.type === token.CDO || this.type === token.CDC) this.at++;
      else {
        const rule = this.type === token.AtKeyword ? this.atRule(false) : this.rule(false);
        if (rule !== null) found.push(rule);
      }
    }
  }

  /** What stands between the braces of a style rule: declarations, rules, at-rules. */
  contents(): (Rule | Declaration)[] {
    const found: (Rule | Declaration)[] = [];
    for (;;) {
      this.skipBlank();
      if (this.type === token.EOF || this.type === token.RightCurlyBracket) return found;
      if (this.type === token.Semicolon) this.at++;
      else {
        const node = this.type === token.AtKeyword ? this.atRule(true) : (this.declaration() ?? this.rule(true));
        if (node !== null) found.push(node);
      }
    }
  }

  private block(start: number, parse: () => (Rule | Declaration)[]): Pick<Rule, 'children' | 'bodyStart' | 'bodyEnd'> {
    this.at++;
    const bodyStart = this.offset;
    this.depth++;
    const children = this.depth > MOST_DEPTH ? this.dropped(start) : parse();
    this.depth--;
    const bodyEnd = this.offset;
    if (this.type === token.EOF) this.tell('this block is not closed', start, start + 1);
    else this.at++;
    return { children, bodyStart, bodyEnd };
  }

  /** Passes over a block that stands too deep. */
  private dropped(start: number): [] {
    while (this.type !== token.EOF && this.type !== token.RightCurlyBracket) this.skipValue();
    this.tell(`blocks are nested more than ${MOST_DEPTH} deep: what is in this one is dropped`, start, start + 1);
    return [];
  }

  private atRule(nested: boolean): Rule {
    const start = this.offset;
    this.at++;
    const name = this.source.slice(start + 1, this.offset).toLowerCase();
    this.skipBlank();
    const first = this.at;
    while (
      this.type !== token.EOF &&
      this.type !== token.Semicolon &&
      this.type !== token.LeftCurlyBracket &&
      !(nested && this.type === token.RightCurlyBracket)
    )
      this.skipValue();
    const prelude = this.between(first);
    const rule = { kind: 'rule' as const, name, prelude, preludeStart: this.starts[first]!, start };
    if (this.type === token.LeftCurlyBracket) {
      const holdsRules = (isGrouping(name) && !nested) || name.endsWith('keyframes');
      const body = this.block(start, () => (holdsRules ? this.rules(false) : this.contents()));
      return { ...rule, ...body, end: this.offset };
    }
    if (this.type === token.Semicolon) this.at++;
    const end = this.offset;
    return { ...rule, children: null, bodyStart: end, bodyEnd: end, end };
  }

  private between(first: number): string {
    const start = this.starts[first]!;
    return this.source.slice(start, Math.max(start, this.endBefore(this.at)));
  }

  private rule(nested: boolean): Rule | null {
    const start = this.offset;
    const first = this.at;
    while (
      this.type !== token.EOF &&
      this.type !== token.LeftCurlyBracket &&
      !(nested && (this.type === token.Semicolon || this.type === token.RightCurlyBracket))
    )
      this.skipValue();
    const prelude = this.between(first);
    if (this.type !== token.LeftCurlyBracket) {
      const what = nested ? 'this is neither a declaration nor a rule' : 'this rule has no block';
      this.tell(`${what}, and is dropped`, start, this.offset);
      return null;
    }
    const body = this.block(start, () => this.contents());
    return { kind: 'rule', name: null, prelude, preludeStart: start, start, end: this.offset, ...body };
  }

  /** Null, with nothing consumed, where no declaration stands. */
  private declaration(): Declaration | null {
    const first = this.at;
    const start = this.offset;
    // `*zoom` was an old way to hide a declaration from browsers: they drop it
    const hack = this.type === token.Delim && this.types[this.at + 1] === token.Ident;
    if (hack) this.at++;
    if (this.type !== token.Ident) return this.back(first);
    const spelled = this.source.slice(this.offset, this.starts[this.at + 1]);
    const property = spelled.startsWith('--') ? spelled : spelled.toLowerCase();
    this.at++;
    this.skipBlank();
    if (this.type !== token.Colon) return this.back(first);
    this.at++;
    this.skipBlank();
    const from = this.at;
    let braces = 0;
    while (this.type !== token.EOF && this.type !== token.Semicolon && this.type !== token.RightCurlyBracket) {
      if (this.type === token.LeftCurlyBracket) braces++;
      this.skipValue();
    }
    if (braces > 0 && !property.startsWith('--')) return this.back(first);
    const whole = this.between(from);
    const end = this.endBefore(this.at);
    if (this.type === token.Semicolon) this.at++;
    if (hack) {
      this.tell(`"${this.source.slice(start, end)}" is no declaration, and is dropped`, start, end);
      return { kind: 'declaration', property: '', value: '', important: false, start, end };
    }
    const value = whole.includes('!') ? whole.replace(/\s*!\s*important$/i, '') : whole;
    return { kind: 'declaration', property, value, important: value !== whole, start, end };
  }

  private back(first: number): null {
    this.at = first;
    return null;
  }
}

/**
 * Reads a stylesheet. Never throws: what cannot be read is dropped as a browser does, and told with its range.
 */
export function readSyntax(source: string): Syntax {
  const reader = new Reader(source);
  const rules = reader.rules(true);
  return { rules, errors: reader.errors };
}

/** Reads the declarations of a `style` attribute. */
export function readDeclarations(source: string): Declaration[] {
  const found = new Reader(source).contents();
  return found.filter((node): node is Declaration => node.kind === 'declaration' && node.property !== '');
}

/** A comment, a string, or a whole rule in which neither they nor escapes can be: its selectors, and what it holds. */
const STRETCH =
  /\/\*[^]*?(?:\*\/|$)|"(?:[^"\\\n\r\f]|\\[^])*"?|'(?:[^'\\\n\r\f]|\\[^])*'?|(?<![^{};/])([^{}"'\\/@;]+)\{([^{}"'\\/]*)\}/g;

/**
 * A stylesheet with white space for the rules that nobody asks for, most of a large one: they are read as rules without
 * selectors. All else stands where it stood.
 * @param isAsked told the selectors of a rule and what stands between its braces; rules of which these cannot be told
 * without reading stay in any case
 */
export function blankedRules(source: string, isAsked: (selectors: string, body: string) => boolean): string {
  return source.replace(STRETCH, (stretch, selectors: string | undefined, body: string) =>
    selectors === undefined || isAsked(selectors, body) || !isBalanced(selectors) || !isBalanced(body)
      ? stretch
      : `${blank(selectors)}{${blank(body)}}`,
  );
}

/** White space as long, with the same line breaks. */
function blank(text: string): string {
  return text.replace(/[^\n\r\f]+/g, (line) => ' '.repeat(line.length));
}

/** True for text in which every round or square bracket is closed. */
function isBalanced(text: string): boolean {
  const closing: string[] = [];
  for (const [bracket] of text.matchAll(/[()[\]]/g))
    if (bracket === '(' || bracket === '[') closing.push(bracket === '(' ? ')' : ']');
    else if (closing.pop() !== bracket) return false;
  return closing.length === 0;
}
