/**
 * Finds more uses of components that are there already: fragments that a template gives back. Matching tries each block
 * with and without, and each choice in a placeholder both ways; indentation is left to the proof of the lift.
 */
import { camelName, type Datum, type Expression, isSpelled, parseExpression } from '../component/expression.js';
import type { Component, Registry } from '../component/model.js';
import { bodyOf, urlKindIn } from '../component/read.js';
import { type Part, PLACEHOLDER } from '../component/parts.js';
import { valueOf } from '../page/attribute.js';
import { foldIndentation } from '../page/same.js';
import { type Spelled, spelledAttribute, spelledText } from '../page/spelling.js';
import { attrOf, type Child, classWords, type Element, RAW_TEXT } from '../page/tree.js';
import { folderOf, MARK, moveUrls, relativeUrls } from '../page/url.js';
import { spacesAround } from '../template/align.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { isText, type UrlKindOf, type Value } from '../template/pattern.js';
import { addTo } from '../groups.js';

/** Fragments that a component gives back. */
export interface MatchedUses {
  component: Component;
  places: Occurrence[];
  /** the values of each place, by prop */
  rows: Map<string, Value>[];
}

export interface Pattern {
  component: Component;
  root: Element;
}

/** Components that fragments can be matched with, by the tag and block of their root. */
export function patternsOf(registry: Registry): Map<string, Pattern[]> {
  const patterns = new Map<string, Pattern[]>();
  for (const component of registry.values()) {
    const nodes = bodyOf(component).filter((node) => node.kind !== 'text');
    const [root] = nodes;
    if (nodes.length !== 1 || root?.kind !== 'element' || !isMatchable(component.parts)) continue;
    const key = patternKey(root);
    addTo(patterns, key, { component, root });
  }
  return patterns;
}

/** Slots, lists and other components pour in what no value can be read from. */
function isMatchable(parts: Part[]): boolean {
  return parts.every((part) => {
    if (part.kind === 'when') return isMatchable(part.parts);
    return part.kind === 'text' || part.kind === 'value' || part.kind === 'attribute';
  });
}

/** What a fragment's root and a template's have in common; a class that starts with a placeholder tells nothing. */
export function patternKey(root: Element): string {
  const block = classWords(root)[0]?.replace(/(--|\{\{).*$/, '') ?? '';
  return `${root.tag}.${block}`;
}

/** Values so far, by camelCase name; null says that the prop is not given. */
type Known = ReadonlyMap<string, Value>;

interface Matching {
  component: Component;
  occurrence: Occurrence;
  urlKindOf: UrlKindOf;
}

/** The values with which `component` gives `occurrence` back, by prop name; null when it does not. */
export function match(
  { component, root }: Pattern,
  occurrence: Occurrence,
  registry: Registry,
): Map<string, Value> | null {
  const context = { component, occurrence, urlKindOf: urlKindIn(registry) };
  const found = matchElement(root, occurrence.element, new Map(), context);
  if (found === null) return null;
  const values = new Map<string, Value>();
  for (const prop of component.props) {
    const value = found.get(camelName(prop.name));
    if (value === undefined) continue;
    if (prop.type === 'flag' ? typeof value === 'object' && value !== null : typeof value === 'boolean') return null;
    if (prop.type === 'choice' && value !== null && !prop.choices.includes((value as Spelled).value)) return null;
    // what is not given must not be filled in by a default
    if (value === null && (prop.default !== null || !prop.optional)) return null;
    values.set(prop.name, value);
  }
  return values;
}

function note(known: Known, name: string, value: Value): Known | null {
  const before = known.get(name);
  if (before === undefined) return new Map([...known, [name, value]]);
  return textOf(before) === textOf(value) ? known : null;
}

function textOf(value: Value): string | boolean | null {
  return isText(value) ? value.value : (value as boolean | null);
}

function matchElement(pattern: Element, element: Element, known: Known, context: Matching): Known | null {
  if (pattern.tag !== element.tag || pattern.ns !== element.ns) return null;
  for (const attributes of matchAttributes(pattern, element, known, context)) {
    const found = matchChildren(solid(pattern), solid(element), attributes, context);
    if (found !== null) return found;
  }
  return null;
}

/** Children without the white space that may be indentation. */
function solid(element: Element): Child[] {
  return element.children.filter(
    (node) => node.kind !== 'text' || node.value.trim() !== '' || !node.value.includes('\n'),
  );
}

function matchChildren(patterns: Child[], nodes: Child[], known: Known, context: Matching): Known | null {
  const [first, ...rest] = patterns;
  if (first === undefined) return nodes.length === 0 ? known : null;
  const block = first.kind === 'element' && first.tag === 'template' ? blockName(first) : null;
  if (block !== null) {
    const prop = context.component.props.find((each) => camelName(each.name) === block.name);
    if (block.equals !== null) {
      for (const [there, says] of equalities(block.name, block.equals, known)) {
        const inner = there !== block.negated ? solid(first as Element) : [];
        const found = matchChildren([...inner, ...rest], nodes, says, context);
        if (found !== null) return found;
      }
      return null;
    }
    const away = prop?.type === 'flag' ? false : null;
    for (const taken of [true, false]) {
      // a text says by being there that it is true
      const says =
        taken !== block.negated
          ? prop?.type === 'flag'
            ? note(known, block.name, true)
            : known
          : note(known, block.name, away);
      const inner = taken ? solid(first as Element) : [];
      const found = says && matchChildren([...inner, ...rest], nodes, says, context);
      if (found && (taken === block.negated || prop?.type === 'flag' || isGiven(found.get(block.name)))) return found;
    }
    return null;
  }
  const [node, ...others] = nodes;
  if (node === undefined) return null;
  const found = matchNode(first, node, known, context);
  return found && matchChildren(rest, others, found, context);
}

function isGiven(value: Value | undefined): boolean {
  return value !== undefined && isText(value) && value.value !== '';
}

/** What a block asks for, a name or that it equals a text; null for a template of the user's. */
function blockName(element: Element): { name: string; equals: string | null; negated: boolean } | null {
  for (const kind of ['when', 'unless']) {
    const source = attrOf(element, kind);
    if (source === undefined) continue;
    const negated = kind === 'unless';
    const asked = equalityIn(parseExpression(source));
    return asked === null ? { name: source.trim(), equals: null, negated } : { ...asked, negated };
  }
  return null;
}

/** `name === 'text'`; null for any other expression. */
function equalityIn(test: Expression): { name: string; equals: string } | null {
  if (test.kind !== 'equal' || test.negated || test.left.kind !== 'name' || test.right.kind !== 'literal') return null;
  const { value } = test.right;
  return test.left.path.length === 1 && isSpelled(value) ? { name: test.left.path[0]!, equals: value.value } : null;
}

/** Both outcomes of asking whether a name equals a text, as far as they agree with what is known. */
function* equalities(name: string, equals: string, known: Known): Generator<[boolean, Known]> {
  const same = note(known, name, { value: equals, raw: equals });
  if (same !== null) yield [true, same];
  const before = known.get(name);
  if (before === undefined || textOf(before) !== equals) yield [false, known];
}

function matchNode(pattern: Child, node: Child, known: Known, context: Matching): Known | null {
  if (pattern.kind === 'element') return node.kind === 'element' ? matchElement(pattern, node, known, context) : null;
  if (pattern.kind === 'comment') return node.kind === 'comment' && pattern.value === node.value ? known : null;
  if (pattern.kind !== 'text' || node.kind !== 'text') return null;
  if (spacesAround(pattern.value) !== spacesAround(node.value)) return null;
  const mine = context.component.source.slice(pattern.start, pattern.end);
  const raw = context.occurrence.page.source.slice(node.start, node.end);
  if (RAW_TEXT.has((pattern.parent as Element).tag) || !mine.includes('{{'))
    return foldIndentation(pattern.value.trim()) === foldIndentation(node.value.trim()) ? known : null;
  return [...matchRaw(mine.trim(), raw.trim(), spelledText, known)][0] ?? null;
}

function* matchAttributes(
  pattern: Element,
  element: Element,
  known: Known,
  context: Matching,
  at = 0,
): Generator<Known> {
  const attr = pattern.attrs[at];
  if (attr === undefined) {
    if (element.attrs.every(({ name }) => pattern.attrs.some((each) => each.name === name))) yield known;
    return;
  }
  const { component, occurrence } = context;
  const mine = valueOf(component.source, attr).raw;
  const other = element.attrs.find(({ name }) => name === attr.name);
  for (const each of matchAttribute(mine, other && valueOf(occurrence.page.source, other).raw, known))
    yield* matchAttributes(pattern, element, each, context, at + 1);

  function* matchAttribute(template: string, raw: string | undefined, so: Known): Generator<Known> {
    const [whole] = /^\{\{[^]*\}\}$/.test(template) ? splitPlaceholders(template) : [];
    const single = typeof whole === 'object' && splitPlaceholders(template).length === 1 ? whole : null;
    if (single?.kind === 'choose' || single?.kind === 'equal') {
      const either = single.kind === 'choose' ? single : { kind: 'choose' as const, test: single, yes: YES, no: NO };
      for (const [value, constrained] of alternatives(either, so)) {
        if (value === null ? raw === undefined : raw !== undefined && spelledAttribute(raw).value === value)
          yield constrained;
      }
      return;
    }
    const name = single?.kind === 'name' && single.path.length === 1 ? single.path[0]! : null;
    const isFlag = component.props.some((prop) => prop.type === 'flag' && camelName(prop.name) === name);
    if (raw === undefined || isFlag) {
      const found = name === null || (isFlag && raw) ? null : note(so, name, isFlag ? raw !== undefined : null);
      if (found !== null) yield found;
      return;
    }
    const kind = context.urlKindOf(pattern, attr!.name);
    const starts = kind !== null && (kind === 'css' || kind === 'refresh' || !template.startsWith('{{'));
    const literal = starts && relativeUrls(template.replace(PLACEHOLDER, MARK), kind).length > 0;
    const { folder } = occurrence;
    const moved = literal && folder !== null ? moveUrls(raw, kind, folder, folderOf(component.path)) : raw;
    if (moved !== null) yield* matchRaw(template, moved, spelledAttribute, so);
  }
}

const YES: Expression = { kind: 'literal', value: true };
const NO: Expression = { kind: 'literal', value: false };

/** The text that a constant stands for, '' where an attribute is there without a value, null where it is left out. */
function constant(value: Datum): string | null {
  return isSpelled(value) ? value.value : value === true ? '' : null;
}

/** Both outcomes of a choice between constants, each with what it says of the prop; null is a value left out. */
function* alternatives(
  expression: Extract<Expression, { kind: 'choose' }>,
  known: Known,
): Generator<[string | null, Known]> {
  const { test, yes, no } = expression;
  const equality = equalityIn(test);
  if (equality !== null && yes.kind === 'literal' && no.kind === 'literal') {
    for (const [same, says] of equalities(equality.name, equality.equals, known)) {
      yield [constant((same ? yes : no).value), says];
    }
    return;
  }
  const absent = test.kind === 'equal' && test.left.kind === 'name' && isNull(test.right) && !test.negated;
  const asked = absent ? test.left : test;
  if (asked.kind !== 'name' || asked.path.length !== 1 || yes.kind !== 'literal' || no.kind !== 'literal') return;
  const name = asked.path[0]!;
  if (absent) {
    const without = note(known, name, null);
    if (without) yield [constant(yes.value), without];
    if (known.get(name) !== null) yield [constant(no.value), known];
    return;
  }
  for (const flag of [true, false]) {
    const found = note(known, name, flag);
    if (found) yield [constant((flag ? yes : no).value), found];
  }
}

function isNull(expression: Expression): boolean {
  return expression.kind === 'literal' && expression.value === null;
}

function splitPlaceholders(raw: string): (string | Expression)[] {
  const found: (string | Expression)[] = [];
  let at = 0;
  for (const match of raw.matchAll(PLACEHOLDER)) {
    if (match.index > at) found.push(raw.slice(at, match.index));
    found.push(parseExpression(match[1]!));
    at = match.index + match[0].length;
  }
  if (at < raw.length) found.push(raw.slice(at));
  return found;
}

/** Matches raw source against raw template source; a name stands for any text, none when it is known to be absent. */
function* matchRaw(template: string, raw: string, read: (raw: string) => Spelled, known: Known): Generator<Known> {
  if (!template.includes('{{')) {
    if (read(template).value === read(raw).value) yield known;
    return;
  }
  yield* matchSegments(splitPlaceholders(template), '', [], known);

  function* matchSegments(
    segments: (string | Expression)[],
    source: string,
    names: string[],
    so: Known,
  ): Generator<Known> {
    const [segment, ...rest] = segments;
    if (segment === undefined) {
      const found = new RegExp(`^${source}$`).exec(raw);
      let result: Known | null = found === null ? null : so;
      names.forEach((name, i) => (result = result && note(result, name, read(found![i + 1]!))));
      if (result !== null) yield result;
    } else if (typeof segment === 'string') yield* matchSegments(rest, source + escape(segment), names, so);
    else if (segment.kind === 'choose') {
      for (const [value, constrained] of alternatives(segment, so))
        yield* matchSegments(rest, source + escape(value ?? ''), names, constrained);
    } else if (segment.kind === 'name' && segment.path.length === 1) {
      const [name] = segment.path;
      if (so.get(name!) === null) yield* matchSegments(rest, source, names, so);
      else yield* matchSegments(rest, `${source}([\\s\\S]*?)`, [...names, name!], so);
    } else if (segment.kind === 'literal' && isSpelled(segment.value))
      yield* matchSegments(rest, source + escape(segment.value.value), names, so);
  }
}

function escape(text: string): string {
  return text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');
}
