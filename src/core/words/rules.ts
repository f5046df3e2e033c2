/**
 * What stylesheets say of class words: how many rules have a word as their subject, how much they declare, and in how
 * many it stands left of a combinator, that is, dresses what is inside of it.
 */
import { blankedRules, type Declaration, readSyntax, type Rule } from '../style/syntax.js';

export interface WordRules {
  /** selectors with the word in their subject */
  rules: number;
  /** those whose subject names no other class */
  alone: number;
  /** of these, those that name a class left of it */
  scoped: number;
  /** declarations of the rules whose selector names no other class at all */
  declarations: number;
  /** how many of these are `!important` */
  important: number;
  /** selectors in which it stands left of a combinator */
  ancestor: number;
  /** all declarations of its own rules only place boxes */
  layoutOnly: boolean;
  /** the properties that these declare */
  properties: ReadonlySet<string>;
  /** the properties of rules whose subject names other classes too */
  besides: ReadonlySet<string>;
}

/** What is read of a word, bit by bit. */
type Reading = WordRules & { properties: Set<string>; besides: Set<string> };

/** What is said of a word that no rule names. */
export const NO_RULES: WordRules = {
  rules: 0,
  alone: 0,
  scoped: 0,
  declarations: 0,
  important: 0,
  ancestor: 0,
  layoutOnly: true,
  properties: new Set(),
  besides: new Set(),
};

/** Properties that place boxes and say nothing of how they look (CSS Box Model, Flexbox, Grid, Position). */
const LAYOUT_PROPERTY =
  /^(--.*|display|(row-|column-)?gap|flex.*|grid.*|order|align-.*|justify-.*|place-.*|(min-|max-)?(width|height|inline-size|block-size)|margin.*|padding.*|float|clear|position|inset.*|top|right|bottom|left|box-sizing|overflow.*|z-index|columns?|column-count|vertical-align|container.*)$/;

/** What is asked about a word: whether it is on the pages. */
type Words = Pick<ReadonlyMap<string, unknown>, 'has'>;

/**
 * Reads all stylesheets.
 * @param sheets their texts
 * @param words the words to tell of; what no rule names is not in the answer
 */
export function readWordRules(sheets: Iterable<string>, words: Words): Map<string, WordRules> {
  const found = new Map<string, Reading>();
  for (const source of sheets) {
    const naming = blankedRules(source, (prelude) => mayName(prelude, words));
    readRules(readSyntax(naming).rules, words, found);
  }
  return found;
}

function readRules(rules: Rule[], words: Words, found: Map<string, Reading>): void {
  for (const { name, prelude, children } of rules) {
    if (children === null || name?.endsWith('keyframes')) continue;
    if (name === null && children.length > 0) noteSelectors(prelude, bodyOf(children), words, found);
    const nested = children.filter((child) => child.kind === 'rule');
    if (nested.length > 0) readRules(nested, words, found);
  }
}

type Body = Pick<Reading, 'declarations' | 'important' | 'layoutOnly' | 'properties'>;

function bodyOf(children: (Rule | Declaration)[]): Body {
  const body = { declarations: 0, important: 0, layoutOnly: true, properties: new Set<string>() };
  for (const child of children) {
    if (child.kind === 'rule') continue;
    body.declarations++;
    body.properties.add(child.property);
    if (child.important) body.important++;
    if (body.layoutOnly && !LAYOUT_PROPERTY.test(child.property)) body.layoutOnly = false;
  }
  return body;
}

/** True where selectors name one of the words, or no word at all. */
function mayName(prelude: string, words: Words): boolean {
  const classes = prelude.match(CLASS);
  return classes === null || classes.some((dotted) => words.has(dotted.slice(1)));
}

function noteSelectors(prelude: string, body: Body, words: Words, found: Map<string, Reading>): void {
  for (const compounds of selectorsIn(prelude)) {
    const subject = compounds.at(-1)!;
    const classes = compounds.reduce((sum, named) => sum + named.length, 0);
    for (const named of compounds)
      for (const word of named) {
        if (!words.has(word)) continue;
        let entry = found.get(word);
        if (entry === undefined) found.set(word, (entry = { ...NO_RULES, properties: new Set(), besides: new Set() }));
        if (named !== subject) {
          entry.ancestor++;
          continue;
        }
        entry.rules++;
        if (subject.length > 1) {
          for (const property of body.properties) entry.besides.add(property);
          continue;
        }
        entry.alone++;
        if (classes > 1) {
          entry.scoped++;
          continue;
        }
        entry.declarations += body.declarations;
        entry.important += body.important;
        entry.layoutOnly &&= body.layoutOnly;
        for (const property of body.properties) entry.properties.add(property);
      }
  }
}

const BRACKETS = /\[[^\]]*\]|\([^()]*\)/g;
const CLASS = /\.((?:[\w-]|[^\0-\x7f])+)/g;
/** Escaped characters wait here, in the private use area, while brackets, commas and combinators are looked for. */
const ESCAPED = 0xe000;

/** The class words of each compound of each selector in a list, without what stands in brackets. */
function selectorsIn(prelude: string): string[][][] {
  const escapes = prelude.includes('\\');
  let text = prelude;
  if (escapes)
    text = text.replace(/\\([ -~])/g, (_, char: string) => String.fromCharCode(ESCAPED + char.charCodeAt(0)));
  for (let before = ''; before !== text && /[([]/.test(text);) [before, text] = [text, text.replace(BRACKETS, '*')];
  const spelled = (word: string) =>
    escapes ? word.replace(/[\ue000-\ue07f]/g, (char) => String.fromCharCode(char.charCodeAt(0) - ESCAPED)) : word;
  return text.split(',').map((selector) =>
    selector
      .trim()
      .split(/\s*[>+~]\s*|\s+/)
      .map((compound) => Array.from(compound.matchAll(CLASS), (match) => spelled(match[1]!))),
  );
}
