/**
 * Components within components: where every copy of a place in a template is an occurrence of one other component, the
 * template uses that. What the uses there are given varies or not, like any other value.
 */
import { workingOn } from '../errors.js';
import type { Element } from '../page/tree.js';
import { type Interfacing, interfaceOf } from './interface.js';
import { namesStaying } from './passed.js';
import { sharedUrl } from './urls.js';
import { canPass, isPassed, saidIn } from './placeholders.js';
import type { Occurrence } from '../fragments/occurrence.js';
import {
  type ElementPattern,
  firstOf,
  type General,
  type Hole,
  type Inner,
  type InnerUse,
  isText,
  keyOf,
  type Pattern,
  type Poured,
  patternsIn,
  rangeAt,
  rawOf,
  type Row,
  type Value,
} from './pattern.js';
import { decodeAttribute, spelledAttribute } from '../page/spelling.js';

/** What composing needs beside what is composed. */
export type Composing = Omit<Interfacing, 'vocabulary'>;

/** The component that an element is an occurrence of, and which one. */
export type InnerAt = (element: Element) => { inner: Inner; index: number } | null;

/**
 * The group with uses of other components in its template; the group itself where there are none, or where that would
 * take more props.
 */
export function compose(general: General, innerAt: InnerAt, options: Composing): General {
  const uses = new Map<Pattern, InnerUse>();
  const root = withUses(general.root, true, general, innerAt, options, uses);
  if (uses.size === 0) return general;
  const composed = interfaceOf(general.occurrences, root, { ...options, vocabulary: general.vocabulary });
  if (composed === null) return general;
  // a list that is passed on is the inner component's
  for (const { list, holes } of composed.props) if (list !== undefined && holes.length === 0) list.items.uses = uses;
  return { ...composed, uses };
}

/** A finding as far as composing is concerned. */
export interface Part {
  name: string;
  occurrences: Occurrence[];
  /** null for a component that is there already; then `props` are its own */
  general: General | null;
  props: Inner['props'];
  /** of a component that is there already */
  slots?: Poured[];
  /** what props are called instead */
  renames?: ReadonlyMap<string, string>;
}

/** Composes all parts with each other, but those `apart`. */
export function composeAll<T extends Part>(
  parts: T[],
  options: Composing,
  apart: ReadonlySet<T> = new Set(),
): Map<T, General> {
  const roots = new Map<Element, { part: T; index: number }>();
  for (const part of parts) part.occurrences.forEach(({ element }, index) => roots.set(element, { part, index }));
  const composed = new Map<T, General>();
  const inners = new Map<T, Inner>();
  const innerOf = (part: T): Inner => {
    let inner = inners.get(part);
    if (inner === undefined) {
      const general = part.general === null ? null : composedOf(part, part.general);
      inner = { name: part.name, props: general?.props ?? part.props, slots: general?.slots ?? part.slots ?? [] };
      inners.set(part, inner);
    }
    return inner;
  };
  // parts whose templates are being made: none of them can be used in one that it uses
  const open = new Set<T>();
  const composedOf = (part: T, general: General): General => {
    let made = composed.get(part);
    if (made === undefined) {
      const innerAt = (element: Element) => {
        const found = roots.get(element);
        return found === undefined || open.has(found.part) ? null : { inner: innerOf(found.part), index: found.index };
      };
      open.add(part);
      made = apart.has(part) ? general : workingOn(part.name, () => compose(general, innerAt, options));
      open.delete(part);
      if (made !== general) for (const prop of made.props) prop.name = part.renames?.get(prop.name) ?? prop.name;
      composed.set(part, made);
    }
    return made;
  };
  for (const part of parts) if (part.general !== null) composedOf(part, part.general);
  return composed;
}

function withUses(
  pattern: ElementPattern,
  isRoot: boolean,
  general: Pick<General, 'occurrences'>,
  innerAt: InnerAt,
  options: Composing,
  uses: Map<Pattern, InnerUse>,
): ElementPattern {
  const within = (child: Pattern): Pattern => {
    if (child.kind === 'element') return withUses(child, false, general, innerAt, options, uses);
    if (child.kind === 'text') {
      const text: Pattern = { ...child, holes: [] };
      text.holes = child.holes.map((hole) => ({ ...hole, pattern: text }));
      return text;
    }
    if (child.kind === 'slot') return { ...child, fallback: child.fallback.map(within) };
    if (child.kind !== 'list') return { ...child };
    // a record holds values, no lists and no markup
    const plainAt: InnerAt = (element) => {
      const found = innerAt(element);
      const isPlain = found?.inner.slots.length === 0 && found.inner.props.every(({ type }) => type !== 'list');
      return isPlain ? found : null;
    };
    return { ...child, root: withUses(child.root, false, { occurrences: child.items }, plainAt, options, uses) };
  };
  const made = isRoot ? null : useAt(pattern, general, innerAt, options);
  const copy: ElementPattern = { ...pattern, holes: [], children: [] };
  if (made === null) {
    copy.children = pattern.children.map(within);
    copy.holes = pattern.holes.map((hole) => ({ ...hole, pattern: copy }));
    return copy;
  }
  // what is poured in stays the template's own
  const poured = made.poured.map(({ name, patterns }) => ({ name, patterns: patterns.map(within) }));
  copy.children = poured.flatMap(({ patterns }) => patterns);
  const given = made.given.map((each) => (isHole(each) ? { ...each, pattern: copy } : each));
  copy.holes = [...given.filter((each) => isHole(each)), ...made.names.map((each) => ({ ...each, pattern: copy }))];
  uses.set(copy, { ...made, poured, given });
  return copy;
}

export function isHole(given: Value | Hole): given is Hole {
  return typeof given === 'object' && given !== null && 'pattern' in given;
}

function isInClass({ attr, type, inClass }: Hole): boolean {
  return inClass === true || (attr === 'class' && type === undefined);
}

/** What stands at a place as a use, when it is the same component at all occurrences. */
function useAt(
  pattern: ElementPattern,
  { occurrences }: Pick<General, 'occurrences'>,
  innerAt: InnerAt,
  { componentFolder }: Composing,
): (InnerUse & { names: Hole[] }) | null {
  const found = pattern.nodes.map((node) => node && innerAt(node));
  const first = found.find((each) => each !== null);
  if (first === undefined || found.some((each, i) => each?.inner !== first.inner && pattern.nodes[i] !== null))
    return null;
  const element = firstOf(pattern.nodes);
  if (element.closeStart < 0) return null;
  const { inner } = first;
  const given: (Value | Hole)[] = [];
  // names that constant values say, passed on
  const names: Hole[] = [];
  for (const prop of inner.props) {
    const values = found.map((each) => (each === null ? null : (prop.values[each.index] ?? prop.default)));
    const here = values.filter((_, i) => pattern.nodes[i] !== null);
    // records of a use are as they are spelled; those whose URLs mean the same from every page are better left in the template
    const lists = values.map((each) => (Array.isArray(each) ? each : null));
    if (prop.type === 'list' && differInUrlsOnly(lists, occurrences, componentFolder)) return null;
    const same = here.every((value) => keyOf(value) === keyOf(here[0]!) && rawOf(value) === rawOf(here[0]!));
    // null where none of them is given it
    let value: Value | undefined = same ? here[0]! : undefined;
    if (prop.type === 'url' && here.every(isText)) {
      const raws = values.map((each) => (isText(each) ? each.raw : null));
      const literal = sharedUrl(raws, 'url', occurrences, componentFolder);
      value = literal === null ? undefined : spelledAttribute(literal);
    }
    const passed = values.map((each, i) => (isPassed(each, occurrences[i]!) ? each.raw : null));
    if (passed.some((raw) => raw !== null)) {
      const said = passed.map((raw, i) =>
        raw === null ? null : saidIn(pattern.nodes[i]!, raw, decodeAttribute, occurrences[i]!),
      );
      const staying = value === undefined ? null : namesStaying(said, pattern, prop.name);
      if (staying !== null) names.push(...staying);
      else {
        if (!said.every((each) => each === null || canPass(each))) return null;
        value = undefined;
      }
    }
    // braces would mean something in a template
    else if (value !== undefined && JSON.stringify(value).includes('{{')) return null;
    const hole: Hole = { kind: 'attr', pattern, attr: prop.name, part: null, values, before: '' };
    const varies = {
      ...hole,
      component: inner.name,
      type: prop.type,
      ...(prop.list === undefined ? {} : { list: prop.list }),
      ...(prop.type === 'text' && prop.holes?.every(isInClass) === true ? { inClass: true as const } : {}),
    };
    // what the records of a component hold that is there already is told by no pattern
    if (value === undefined && prop.type === 'list' && prop.list === undefined) return null;
    if (value === undefined) given.push(varies);
    else given.push(value);
  }
  const poured: InnerUse['poured'] = [];
  for (const { name, ranges, hasFallback } of inner.slots) {
    const areGiven = new Set(found.flatMap((each) => (each === null ? [] : [ranges[each.index] !== null])));
    // what stands there anyway is not poured in at one place and left out at another
    if (hasFallback && areGiven.size > 1) return null;
    if (hasFallback && areGiven.has(false)) continue;
    const wanted = found.map((each) => (each === null ? null : (ranges[each.index] ?? null)));
    const patterns = patternsWithin(pattern, wanted);
    if (patterns === null || patterns.some(showsLines)) return null;
    poured.push({ name, patterns });
  }
  return { inner, element, given, poured, names, indices: found.map((each) => each?.index ?? -1) };
}

/** True where constant line breaks show: poured into a use in a template, they would be indented with it. */
function showsLines(pattern: Pattern): boolean {
  if (pattern.kind === 'element') return pattern.children.some(showsLines);
  const { kind, holes, nodes } = pattern;
  return kind === 'text' && pattern.verbatim && holes.length === 0 && nodes.some((node) => node?.value.includes('\n'));
}

/** True for lists of records that differ, and only in how URLs are spelled that mean the same. */
function differInUrlsOnly(lists: (Row[] | null)[], occurrences: Occurrence[], componentFolder: string): boolean {
  const there = lists.filter((list) => list !== null);
  const keyed = there.map((list) => JSON.stringify(list));
  if (new Set(keyed).size < 2 || there.some(({ length }) => length !== there[0]!.length)) return false;
  return there[0]!.every((record, at) =>
    Object.keys(record).every((field) => {
      const values = lists.map((list) => list?.[at]?.[field] ?? null);
      const raws = values.map(rawOf);
      const isSame = values.every((value, i) => lists[i] === null || keyOf(value) === keyOf(record[field]!));
      return (
        isSame ||
        sharedUrl(
          raws.map((raw, i) => (lists[i] === null ? null : raw)),
          'url',
          occurrences,
          componentFolder,
        ) !== null
      );
    }),
  );
}

/** The children of one element below `pattern` that take up exactly the ranges. */
function patternsWithin(pattern: ElementPattern, ranges: ([number, number] | null)[]): Pattern[] | null {
  for (const each of patternsIn(pattern)) {
    if (each.kind !== 'element') continue;
    const inside = each.children.filter((child) =>
      ranges.every((range, i) => {
        const mine = rangeAt(child, i);
        return mine === null || (range !== null && mine[0] >= range[0] && mine[1] <= range[1]);
      }),
    );
    const fills = ranges.every((range, i) => {
      const there = inside.flatMap((child) => rangeAt(child, i) ?? []);
      if (range === null || range[0] === range[1]) return there.every((at) => at === range?.[0]);
      return there[0] === range[0] && there.at(-1) === range[1];
    });
    const at = each.children.indexOf(inside[0]!);
    const adjacent = inside.every((child, i) => each.children[at + i] === child);
    if (inside.length > 0 && fills && adjacent) return inside;
  }
  return ranges.every((range) => range === null || range[0] === range[1]) ? [] : null;
}
