/**
 * What alike subtrees have in common: one pattern a place, with the node that each occurrence has there, the holes where
 * values vary, slots where what stands there does not align, and lists where it repeats.
 */
import type { Prop, PropType } from '../component/model.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { decodeAttribute, type Spelled } from '../page/spelling.js';
import type { Child, Comment, Element, Text } from '../page/tree.js';
import type { UrlKind } from '../page/url.js';
import type { Vocabulary } from '../words/vocabulary.js';

/** One record of a list, by field. */
export type Row = Record<string, Spelled | boolean | null>;

/** What a prop holds at one occurrence: a value, whether a flag is there, a list, or null where its place is not. */
export type Value = Spelled | boolean | null | Row[];

/**
 * A place in the pattern whose value varies.
 * - `text`: a text node without the white space around it
 * - `attr`: an attribute value, or one part of it (a class word, one side of a style declaration)
 * - `flag`: a boolean attribute that is there or not
 * - `given`: an attribute with one value that is there or not
 * - `word`: class words that come and go
 * - `literal`: a URL that means the same everywhere but must be written for the component's folder
 * - `test`: what a block or a placeholder in a template asks for, with the rest of that in `before` and `otherwise`
 * - `name`: a name that constant placeholders in a template say, to be passed on as it is
 */
export interface Hole {
  kind: 'text' | 'attr' | 'flag' | 'given' | 'word' | 'literal' | 'test' | 'name';
  pattern: Pattern;
  attr: string | null;
  /** index into the parts of the attribute's value, or null for the whole */
  part: number | null;
  values: Value[];
  /** of a part of a style attribute: the property whose value it stands in, and whether it is a URL */
  declared?: { property: string; isUrl: boolean };
  /** constant source text before the value, within the hole's range; of `given` and `word` what is given */
  before: string;
  /** what stands around its prop's value where that is only a part of this one's */
  ends?: [before: string, after: string];
  /** of `word`: the attribute's words in order, with the white space before them, null where they come and go */
  words?: (string | null)[];
  /** of `word`: what stands there instead */
  otherwise?: string;
  /** set where the hole is there when its prop has this value */
  equals?: string;
  /** there when its prop is not, or does not have that value */
  negated?: true;
  /** what stands here when that holds, and when it does not: of one with two values that follow another prop */
  either?: [yes: string, no: string];
  /** of what a component within is given: its name, the type of its prop, what a list holds, and whether it tells a class */
  component?: string;
  type?: PropType;
  list?: List;
  inClass?: true;
  /** of `name`: the props that it means in the templates around, each with its fields when it is a list */
  outer?: Prop[][];
}

/** One part of an attribute's value that varies. */
export type PartHole = Pick<Hole, 'part' | 'values' | 'before'> &
  Partial<Pick<Hole, 'kind' | 'words' | 'otherwise' | 'declared'>>;

interface Aligned<T extends Child> {
  /** one an occurrence, null where it has no such node */
  nodes: (T | null)[];
  holes: Hole[];
}

export interface ElementPattern extends Aligned<Element> {
  kind: 'element';
  children: Pattern[];
}

export interface TextPattern extends Aligned<Text> {
  kind: 'text';
  /** its white space shows */
  verbatim: boolean;
}

export interface CommentPattern extends Aligned<Comment> {
  kind: 'comment';
}

/** Poured-in markup: whatever stands in the range. */
export interface SlotPattern extends Aligned<Child> {
  kind: 'slot';
  /** source range, one an occurrence, null where the place is not there, or nothing is poured in */
  ranges: ([start: number, end: number] | null)[];
  /** the element that holds it, or that it replaces */
  around: Element;
  /** nothing but white space is poured in */
  blank: boolean;
  /** it has its line to itself in the template: what is poured in has lines of its own */
  isOnLine: boolean;
  /** '' is the default slot */
  name: string;
  /** what stands there where nothing is poured in; none where something always is */
  fallback: Pattern[];
  /** there is such */
  hasFallback: boolean;
}

/** A child that repeats in varying number; each item with the white space before it. */
export interface ListPattern extends Aligned<Child> {
  kind: 'list';
  /** the white space before an item */
  lead: Text | null;
  root: ElementPattern;
  /** all items of all occurrences */
  items: Occurrence[];
  /** the occurrence that an item stands in */
  owners: number[];
  /** where its source ends, one an occurrence */
  ends: (number | null)[];
}

/** What is poured into a slot, one range an occurrence, as far as uses are concerned. */
export type Poured = Pick<SlotPattern, 'name' | 'ranges' | 'around' | 'nodes' | 'isOnLine' | 'hasFallback'>;

export type Pattern = ElementPattern | TextPattern | CommentPattern | SlotPattern | ListPattern;

/** Adjacent children that come and go together. */
export interface Run {
  patterns: Pattern[];
  /** whether it is there, one an occurrence */
  presence: boolean[];
}

export interface InferredProp {
  name: string;
  type: PropType;
  optional: boolean;
  choices: string[];
  default: Spelled | null;
  /** one an occurrence */
  values: Value[];
  holes: Hole[];
  /** of a list: what its records are made of; a component within may define that */
  list?: List;
  /** of a field: the name that the template gives the record */
  scope?: string;
  /** of a list that a template around passes on: what its records hold */
  fields?: Prop[];
}

export interface List {
  pattern: ListPattern;
  items: General;
  /** what the template calls one record */
  item: string;
}

/** A part that comes and goes, and the prop that says so. */
export interface Block extends Run {
  prop: InferredProp;
  /** there when the prop is not */
  negated: boolean;
  /** set where it is there when the prop has this value */
  equals?: string;
}

/** A group of alike occurrences, generalised: all that is needed to write the component and its uses. */
export interface General {
  occurrences: Occurrence[];
  root: ElementPattern;
  props: InferredProp[];
  /** constant URLs that the template writes for its own folder */
  literals: Hole[];
  blocks: Block[];
  slots: SlotPattern[];
  vocabulary: Vocabulary;
  /** other components in its template */
  uses?: ReadonlyMap<Pattern, InnerUse>;
}

/** A component that may stand in another's template. */
export interface Inner {
  name: string;
  /** with what says them in its places, where it is made of these */
  props: { name: string; type: PropType; default: Spelled | null; values: Value[]; list?: List; holes?: Hole[] }[];
  slots: Poured[];
}

/** A use of a component in a template. */
export interface InnerUse {
  inner: Inner;
  element: Element;
  /** what it is given: the same everywhere, or what a hole says */
  given: (Value | Hole)[];
  /** what is poured into its slots */
  poured: { name: string; patterns: Pattern[] }[];
  /** which of the component's places stands here, one an occurrence, -1 where none does */
  indices: number[];
}

/** How an attribute of an element holds URLs. */
export type UrlKindOf = (element: Element, name: string) => UrlKind | null;

/** A pattern and all below it, in document order; what is inside of a list is the list's own. */
export function patternsIn(pattern: Pattern): Pattern[] {
  const found: Pattern[] = [];
  const collect = (each: Pattern) => {
    found.push(each);
    if (each.kind === 'element') each.children.forEach(collect);
    if (each.kind === 'slot') each.fallback.forEach(collect);
  };
  collect(pattern);
  return found;
}

/** A copy with other children. */
export function withChildren(pattern: ElementPattern, children: Pattern[]): ElementPattern {
  const copy: ElementPattern = { ...pattern, children };
  copy.holes = pattern.holes.map((hole) => ({ ...hole, pattern: copy }));
  return copy;
}

/** The runs of children that come and go; slots and lists may be empty instead. */
export function runsOf({ nodes, children }: ElementPattern): Run[] {
  const runs: Run[] = [];
  let key = '';
  for (const child of children) {
    const settled = child.kind === 'slot' || child.kind === 'list';
    if (settled || !child.nodes.some((node, i) => node === null && nodes[i] !== null)) {
      key = '';
      continue;
    }
    const presence = child.nodes.map((node) => node !== null);
    const mine = presence.map(Number).join('');
    if (mine === key) runs.at(-1)!.patterns.push(child);
    else runs.push({ patterns: [child], presence });
    key = mine;
  }
  return runs;
}

/** The tag of what stands at a pattern's place; undefined where that is no element. */
export function tagOf({ nodes }: Pattern): string | undefined {
  const elements: (Child | null)[] = nodes;
  return elements.find((node): node is Element => node?.kind === 'element')?.tag;
}

/** The source range of what stands at a pattern's place; null where there is nothing. */
export function rangeAt(pattern: Pattern, i: number): [start: number, end: number] | null {
  if (pattern.kind === 'slot') return pattern.ranges[i] ?? rangeOfAll(pattern.fallback, i);
  const node = pattern.nodes[i] ?? null;
  return node === null ? null : [node.start, pattern.kind === 'list' ? pattern.ends[i]! : node.end];
}

/** The source range of what stands at the places of siblings; null where there is nothing. */
function rangeOfAll(patterns: Pattern[], i: number): [start: number, end: number] | null {
  const ranges = patterns.flatMap((pattern) => [rangeAt(pattern, i) ?? []].flat());
  return ranges.length === 0 ? null : [ranges[0]!, ranges.at(-1)!];
}

/** The source text of a value that is spelled; '' for others. */
export function rawOf(value: Value): string {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? value.raw : '';
}

/** True for a hole that says whether something is there. */
export function isFlagHole({ values }: Pick<Hole, 'values'>): boolean {
  return typeof values.find((value) => value !== null) === 'boolean';
}

/** True for a value with a spelling. */
export function isText(value: Value): value is Spelled {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** What two values must share to be the same. */
export function keyOf(value: Value): string {
  if (value === null) return '\u0004';
  if (Array.isArray(value)) return JSON.stringify(value);
  return typeof value === 'boolean' ? (value ? '\u0001' : '\u0000') : value.value;
}

/** The first that is there; one must be. */
export function firstOf<T>(items: (T | null)[]): T {
  return items.find((item) => item !== null)!;
}

/** True when `read` gives the same for all that are there. */
export function allEqual<T>(items: (T | null)[], read: (item: T) => string | undefined): boolean {
  const wanted = read(firstOf(items));
  return items.every((item) => item === null || read(item) === wanted);
}

/** A raw attribute value as it is spelled; null where there is none. */
export function spelled(raw: string | null): Spelled | null {
  return raw === null ? null : { value: decodeAttribute(raw), raw };
}
