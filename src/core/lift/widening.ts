/**
 * What a template says instead where fragments differ from it in one thing: a prop, a choice or a part more. One kind of
 * difference, one function; null where no template can say it.
 */
import { camelName } from '../component/expression.js';
import type { Component } from '../component/model.js';
import { PLACEHOLDER } from '../component/segments.js';
import type { Difference } from '../match/difference.js';
import { valueOf } from '../page/attribute.js';
import type { Edit } from '../page/edits.js';
import { eolOf, indentAt, type Page } from '../page/parse.js';
import { GLOBAL_ATTRIBUTES, INSTEAD, type Prop, type PropType } from '../page/prop.js';
import { type Spelled, spelledAttribute, spelledText } from '../page/spelling.js';
import { type Attr, attrOf, classWords, type Element, elementsOf, RAW_TEXT } from '../page/tree.js';
import { relativeUrls, urlKind } from '../page/url.js';
import { markerLike } from './marker.js';

/** One thing that a component is widened by. */
export interface Widening {
  /** edits of the template's markup */
  edits: Edit[];
  /** a prop that it has from now on */
  prop: NewProp | null;
  /** choices that a prop has from now on besides */
  choices: { prop: string; more: string[] } | null;
  /** `flag "wide"`: what uses may say now */
  what: string;
}

export type NewProp = Pick<Prop, 'name' | 'type' | 'choices' | 'default' | 'optional'>;

/** Where a template is widened, and by what. */
interface Spot {
  component: Component;
  /** the innermost element of the template there */
  element: Element;
  difference: Difference;
  /** what the fragments say there, each once; null for nothing */
  found: (string | null)[];
  page: Page;
  taken: ReadonlySet<string>;
}

/**
 * Works out what a template would say.
 * @param places fragments that differ from it in the same place
 * @param taken names that a prop cannot have
 */
export function wideningFor(
  component: Component,
  places: { difference: Difference; occurrence: { page: Page } }[],
  taken: ReadonlySet<string>,
): Widening | null {
  const [{ difference, occurrence }] = places as [(typeof places)[number]];
  const found = [...new Set(places.map((each) => each.difference.found))];
  const element = innermostAt(component, difference);
  if (element === null) return null;
  return WIDENINGS[difference.kind]({ component, element, difference, found, page: occurrence.page, taken });
}

const WIDENINGS: Record<Difference['kind'], (spot: Spot) => Widening | null> = {
  text: widenText,
  attribute: widenAttribute,
  'more-attribute': addAttribute,
  more: addPart,
  missing: wrapPart,
  choice: addChoice,
  given: giveInner,
};

function innermostAt({ template }: Component, { start, end }: Difference): Element | null {
  return elementsOf(template).findLast((each) => each.start <= start && end <= each.end) ?? null;
}

function widenText({ component, element, difference, found, taken }: Spot): Widening | null {
  const { start, end } = difference;
  if (RAW_TEXT.has(element.tag) || found.includes(null)) return null;
  const wanted = component.source.slice(start, end);
  const name = freshName(nameOfText(element), taken);
  return replaced({ start, end }, wanted, { name, type: 'text' }, spelledText);
}

function widenAttribute(spot: Spot): Widening | null {
  const { component, difference, found, taken } = spot;
  const owner = elementsOf(component.template).find(({ attrs }) =>
    attrs.some((each) => each.start === difference.start),
  );
  const attr = owner?.attrs.find((each) => each.start === difference.start);
  if (owner === undefined || attr === undefined) return null;
  const { raw, start, end, quote } = valueOf(component.source, attr);
  const texts = found.filter((each) => each !== null);
  if (texts.length === 0) return leftOut(spot, attr, raw);
  if (texts.length < found.length || quote === '') return null;
  if (attr.name === 'class' && !raw.includes('{{')) return widenWords(spot, owner, { raw, start, end });
  const kind = urlKind(owner, attr.name);
  // a relative URL as a default would mean something else in each folder
  if (kind !== null && relativeUrls(raw, kind).length > 0 && !raw.includes('{{')) return null;
  const name = freshName(attr.name, taken);
  return replaced({ start, end }, raw, { name, type: typeOf(attr.name, kind !== null) }, spelledAttribute);
}

/** A prop in the place of a constant, which is its default; or before what an expression says. */
function replaced(
  { start, end }: { start: number; end: number },
  wanted: string,
  { name, type }: { name: string; type: PropType },
  read: (raw: string) => Spelled,
): Widening | null {
  const prop = { name, type, choices: [], default: null, optional: true };
  const what = `${type} "${name}"`;
  const variable = camelName(name);
  if (!wanted.includes('{{')) {
    const edits = [{ start, end, text: `{{${variable}}}` }];
    return { edits, prop: { ...prop, default: read(wanted), optional: false }, choices: null, what };
  }
  const [whole] = [...wanted.matchAll(PLACEHOLDER)];
  if (whole?.[0].length !== wanted.length) return null;
  return { edits: [{ start, end, text: `{{${variable} ?? (${whole[1]!.trim()})}}` }], prop, choices: null, what };
}

/** An attribute that some lack. */
function leftOut({ difference, taken }: Spot, attr: Attr, raw: string): Widening | null {
  if (!isPlain(raw)) return null;
  const name = freshName(`no-${attr.name}`, taken);
  const text = `${attr.name}="{{${camelName(name)} ? null : '${raw}'}}"`;
  return flagged(name, [{ start: difference.start, end: difference.end, text }]);
}

/** Class words: a flag where one thing is said instead, else one of several choices. */
function widenWords(
  { component, found, taken }: Spot,
  owner: Element,
  { raw, start, end }: { raw: string; start: number; end: number },
): Widening | null {
  const all = [raw, ...found.map((each) => each!)];
  if (!all.every(isPlain)) return null;
  const [prefix, suffix] = aroundWords(all);
  const [own, ...others] = all.map((each) => each.slice(prefix.length, each.length - suffix.length));
  const put = (code: string): Edit[] => [{ start, end, text: `${prefix}{{${code}}}${suffix}` }];
  if (others.length === 1) {
    const [other] = others as [string];
    const marker = markerLike(component, owner, { yes: other, no: own! });
    if (marker !== null)
      return { edits: put(`${marker.test} ? '${other}' : '${own!}'`), prop: null, choices: marker.choices, what: '' };
    const base = other.trim() === '' ? `no-${lastWord(own!)}` : lastWord(other);
    const name = freshName(base, taken);
    return flagged(name, put(`${camelName(name)} ? '${other}' : '${own!}'`));
  }
  const words = [own!, ...others];
  const areWords = words.every((word) => /^[\w-]+$/.test(word));
  const name = freshName(prefix.endsWith('--') ? 'tone' : 'variant', taken);
  const common = { name, default: spelledAttribute(own!), optional: false };
  const prop: NewProp = areWords
    ? { ...common, type: 'choice', choices: [...new Set(words)].sort() }
    : { ...common, type: 'text', choices: [] };
  return { edits: put(camelName(name)), prop, choices: null, what: `${prop.type} "${name}"` };
}

/** What class lists begin and end with alike, in whole words or up to the `--` of a modifier. */
function aroundWords(lists: string[]): [prefix: string, suffix: string] {
  const [first, ...rest] = lists as [string, ...string[]];
  const edge = (list: string, at: number) =>
    at === 0 || at === list.length || list[at] === ' ' || list[at - 1] === ' ' || list.startsWith('--', at - 2);
  let prefix = 0;
  for (let at = 0; at <= first.length && rest.every((each) => each.startsWith(first.slice(0, at))); at++)
    if (lists.every((each) => edge(each, at))) prefix = at;
  let suffix = 0;
  const most = Math.min(...lists.map(({ length }) => length)) - prefix;
  for (let size = 0; size <= most && rest.every((each) => each.endsWith(first.slice(first.length - size))); size++)
    if (lists.every((each) => each[each.length - size] === ' ' || size === 0)) suffix = size;
  return [first.slice(0, prefix), suffix === 0 ? '' : first.slice(first.length - suffix)];
}

function addAttribute(spot: Spot): Widening | null {
  const { component, element, difference, found, taken } = spot;
  if (difference.kind !== 'more-attribute' || found.includes(null)) return null;
  const { name } = difference;
  const open = component.source.slice(element.start, element.openEnd);
  const at = element.openEnd - /\s*\/?>$/.exec(open)![0].length;
  const put = (value: string): Edit[] => [{ start: at, end: at, text: ` ${name}="{{${value}}}"` }];
  const [only] = found as [string];
  const prop = freshName(name, taken);
  const variable = camelName(prop);
  if (found.length > 1 || !(only === '' || isStateAttribute(name) || name === 'class')) {
    const type = typeOf(name, urlKind(element, name) !== null);
    const made = { name: prop, type, choices: [], default: null, optional: true };
    return { edits: put(variable), prop: made, choices: null, what: `${type} "${prop}"` };
  }
  if (!isPlain(only)) return null;
  const marker = markerLike(component, element, { yes: only, no: null });
  if (marker !== null)
    return { edits: put(`${marker.test} ? '${only}' : null`), prop: null, choices: marker.choices, what: '' };
  if (only === '') return flagged(prop, put(variable));
  const flag = name === 'class' ? freshName(lastWord(only), taken) : prop;
  return flagged(flag, put(`${camelName(flag)} ? '${only}' : null`));
}

/** A part that the template does not have: itself where it is the same everywhere, else a slot. */
function addPart({ component, difference, found, page, taken }: Spot): Widening | null {
  if (difference.kind !== 'more' || found.includes(null)) return null;
  const { start, at } = difference;
  const [markup] = found as [string];
  const word = /\bclass=["']?([\w-]+)/.exec(markup)?.[1] ?? /^<([a-z][a-z0-9]*)/i.exec(markup)?.[1] ?? 'note';
  const name = freshName(lastWord(word), taken);
  const isLine = /[\r\n][ \t]*$/.test(component.source.slice(0, start));
  const outer = indentAt(component, start);
  const isSame = found.length === 1 && !markup.includes('{{') && !/\b(?:href|src|srcset|action|style)=/i.test(markup);
  const before = indentAt(page, at);
  // at the end of what holds it, the indentation before is that of the end tag
  const above = component.source.slice(0, start).trimEnd();
  const isLast = isLine && isSame && component.source.startsWith('</', start);
  const deeper = isLast ? indentAt(component, above.length) : outer;
  const indent = deeper.startsWith(outer) ? deeper : outer;
  const lines = markup.split(/\r\n|\n|\r/);
  const own = lines.map((line, i) => (i > 0 && line.startsWith(before) ? indent + line.slice(before.length) : line));
  const part = isSame
    ? `<template when="${camelName(name)}">${own.join(eolOf(component.source))}</template>`
    : `<slot name="${name}"></slot>`;
  // a block's line goes with it; a slot takes the break after what is poured in
  const newline = isLine && isSame ? eolOf(component.source) + outer : '';
  const edits = [{ start, end: start, text: indent.slice(outer.length) + part + newline }];
  return isSame ? flagged(name, edits) : { edits, prop: null, choices: null, what: `slot "${name}"` };
}

/** A part that some lack. */
function wrapPart({ component, difference, taken }: Spot): Widening {
  const { start, end } = difference;
  const element = elementsOf(component.template).find((each) => each.start === start);
  const word = element === undefined ? 'text' : (classWords(element)[0] ?? element.tag);
  const name = freshName(`no-${lastWord(word)}`, taken);
  const part = component.source.slice(start, end);
  return flagged(name, [{ start, end, text: `<template unless="${camelName(name)}">${part}</template>` }]);
}

function addChoice({ difference, found }: Spot): Widening | null {
  if (difference.kind !== 'choice') return null;
  const more = found.filter((each) => each !== null && /^[^\s"'&<>]+$/.test(each)) as string[];
  return more.length === 0 ? null : { edits: [], prop: null, choices: { prop: difference.name, more }, what: '' };
}

/** What the use of a component within is not given yet. */
function giveInner({ component, element, difference, found, taken }: Spot): Widening | null {
  if (difference.kind !== 'given' || found.includes(null)) return null;
  const { name } = difference;
  if (attrOf(element, name) !== undefined) return null;
  const at = element.openEnd - 1;
  const put = (code: string): Edit[] => [{ start: at, end: at, text: ` ${name}="{{${code}}}"` }];
  const isFlag = found.every((each) => each === '');
  const marker = isFlag ? markerLike(component, element, { given: name }) : null;
  if (marker !== null) return { edits: put(marker.test), prop: null, choices: marker.choices, what: '' };
  const prop = freshName(name, taken);
  if (isFlag) return flagged(prop, put(camelName(prop)));
  const made: NewProp = { name: prop, type: 'text', choices: [], default: null, optional: true };
  return { edits: put(camelName(prop)), prop: made, choices: null, what: `text "${prop}"` };
}

function flagged(name: string, edits: Edit[]): Widening {
  const prop: NewProp = { name, type: 'flag', choices: [], default: null, optional: false };
  return { edits, prop, choices: null, what: `flag "${name}"` };
}

function typeOf(attribute: string, isUrl: boolean): PropType {
  if (attribute.startsWith('on')) return 'handler';
  return isUrl ? 'url' : 'text';
}

function isStateAttribute(name: string): boolean {
  return name.startsWith('aria-') && name !== 'aria-label' && name !== 'aria-describedby';
}

/** True for what can stand between single quotes in an expression in a double-quoted attribute. */
function isPlain(raw: string): boolean {
  return !/["'&\\{}<>\n\r]/.test(raw);
}

/** `card--wide` → `wide`, `notice__text` → `text`, `mb-4 wide` → `wide`. */
function lastWord(words: string): string {
  const word = words.trim().split(/\s+/).at(-1) ?? '';
  return word.replace(/^.*(?:--|__)/, '');
}

/** What the text of an element is called: the part that its class word names, else by its tag. */
function nameOfText(element: Element): string {
  const word = classWords(element).at(-1);
  if (word !== undefined && /__|--|-/.test(word)) return word.replace(/^.*(?:__|--|-)/, '');
  if (/^h[1-6]$/.test(element.tag)) return 'heading';
  return ['a', 'button', 'label', 'th', 'dt', 'legend'].includes(element.tag) ? 'label' : 'text';
}

/** A prop's name made of a word, that no other has and no attribute of any element. */
function freshName(word: string, taken: ReadonlySet<string>): string {
  const plain = word
    .replace(/([a-z0-9])([A-Z])/g, '$1-$2')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '');
  const base = plain === '' ? 'variant' : plain;
  const allowed = GLOBAL_ATTRIBUTES.has(base) ? (INSTEAD.get(base) ?? `own-${base}`) : base;
  let name = allowed;
  for (let i = 2; taken.has(name); i++) name = `${allowed}-${i}`;
  return name;
}
