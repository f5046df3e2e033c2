/**
 * Sameness of a page and what a target made of it, when both are HTML again: `markup`, with white space that does not
 * show left out and any run that shows as one space taken for another (see `space.ts`). Comments count no more, since
 * no component writes them; nor does the spelling of boolean attributes, or of the declarations in `style`.
 */
import { type Place } from '../errors.js';
import { infoOf } from './attribute-info.js';
import type { Page } from '../page/parse.js';
import { became, firstDifference as treeDifference, foldIndentation, isPreformatted, quote } from '../page/same.js';
import { attrOf, type Child, type Element, lacksEndTag, PREFORMATTED } from '../page/tree.js';
import { readDeclarations } from '../style/syntax.js';
import type { Drawn } from './html.js';
import type { ElementNode, EmitNode, EmitPage, Range, SpaceRules } from './model.js';
import { isKept, isUnsafe, plainText } from './pieces.js';
import { readDocument, spaceOf } from './read.js';
import { tidyNodes } from './space.js';

export interface RenderedDifference {
  /** in the original */
  place: Place | null;
  what: string;
}

/** The first place where `rendered` differs from the page, or null. Event handlers are functions now, and not compared. */
export function compareRendered(original: Page, rendered: Page, rules: SpaceRules): RenderedDifference | null {
  // where only the indentation differs, and stylesheets make none show, there is no white space to ask about
  if (treeDifference(original.root, rendered.root, showsByStyle(rules)) === null) return null;
  const nodes = (page: Page) => joined(tidyNodes(readDocument(page), rules));
  return firstDifference(nodes(original), nodes(rendered), null);
}

/**
 * True where what components give for the body of a page, one by one, is what stands there on the expanded page, but for
 * indentation; and every tag of that is spelled and closed in its place, so that it is parsed alike however it is written.
 * Where it is false that is not known.
 */
export function isDrawnAlike(body: readonly Drawn[], { range, shell }: EmitPage, expanded: Page): boolean {
  if (range === null) return false;
  const [start, end] = [shell.before.length, expanded.source.length - shell.after.length];
  const html = expanded.root.children.find((child) => child.kind === 'element');
  const own = html?.children.find((child): child is Element => child.kind === 'element' && child.tag === 'body');
  const isBeside = (child: Child) => child.start >= 0 && (child.end <= start || child.start >= end);
  const inside = own?.children.filter((child) => !isBeside(child)) ?? [];
  return areAlike(body, inside, { start, end }, false);
}

/** @param within stretch of the source that the nodes must stand in, one after the other */
function areAlike(drawn: readonly Drawn[], nodes: readonly Child[], within: Range, verbatim: boolean): boolean {
  let at = 0;
  let { start } = within;
  for (const node of nodes) {
    if (node.start < start || node.end > within.end) return false;
    start = node.end;
    if (node.kind === 'text') {
      let value = '';
      for (; drawn[at]?.kind === 'text'; at++) value += (drawn[at] as { value: string }).value;
      if (value !== node.value && (verbatim || foldIndentation(value) !== foldIndentation(node.value))) return false;
      continue;
    }
    while (isNoText(drawn[at])) at++;
    const other = drawn[at++];
    if (other?.kind !== node.kind) return false;
    if (node.kind === 'comment' && node.value !== (other as typeof node).value) return false;
    if (node.kind === 'element' && !isElementAlike(other as DrawnElement, node, verbatim)) return false;
  }
  while (isNoText(drawn[at])) at++;
  return at === drawn.length;
}

type DrawnElement = Extract<Drawn, { kind: 'element' }>;

function isNoText(drawn: Drawn | undefined): boolean {
  return drawn?.kind === 'text' && drawn.value === '';
}

function isElementAlike({ node, attrs, children }: DrawnElement, element: Element, verbatim: boolean): boolean {
  if (node.tag !== element.tag || node.space !== spaceOf(element) || lacksEndTag(element)) return false;
  if (attrs.length !== element.attrs.length) return false;
  for (const { name, value } of attrs) if (attrOf(element, name) !== (value === true ? '' : value)) return false;
  const { openEnd, closeStart, end } = element;
  const within = { start: openEnd, end: closeStart < 0 ? end : closeStart };
  return areAlike(children, element.children, within, verbatim || isPreformatted(element));
}

/** True where stylesheets make the white space of some element show that does not do so by itself. */
export function showsByStyle(rules: SpaceRules): boolean {
  return [...rules].some(
    ([tag, kinds]) => !PREFORMATTED.has(tag) && [...kinds.values()].some(({ manner }) => manner.shows),
  );
}

/** Without comments, and the texts beside them as one. */
function joined(nodes: EmitNode[]): EmitNode[] {
  const found: EmitNode[] = [];
  for (const node of nodes) {
    const last = found.at(-1);
    if (node.kind === 'comment') continue;
    if (node.kind === 'text' && last?.kind === 'text') last.value = `${last.value}${node.value}`;
    else found.push(node.kind === 'element' ? { ...node, children: joined(node.children) } : { ...node });
  }
  for (const node of found)
    if (node.kind === 'text' && node.exact !== true) node.value = node.value.replace(/ +/g, ' ');
  return found;
}

function firstDifference(a: EmitNode[], b: EmitNode[], parent: ElementNode | null): RenderedDifference | null {
  for (let i = 0; i < a.length || i < b.length; i++) {
    const [mine, other] = [a[i], b[i]];
    if (mine === undefined)
      return {
        place: parent?.at ?? null,
        what: `${nameOf(other!)} was added at the end of ${parent ? nameOf(parent) : 'the page'}`,
      };
    if (other === undefined) return { place: mine.at, what: `${nameOf(mine)} is gone` };
    if (mine.kind === 'text' && other.kind === 'text') {
      if (mine.value === other.value) continue;
      return { place: mine.at, what: `text ${became(mine.value, other.value)}` };
    }
    if (mine.kind !== 'element' || other.kind !== 'element' || mine.tag !== other.tag || mine.space !== other.space)
      return { place: mine.at, what: `${nameOf(mine)} became ${nameOf(other)}` };
    const found = attributeDifference(mine, other) ?? firstDifference(mine.children, other.children, mine);
    if (found !== null) return found;
  }
  return null;
}

function attributeDifference(a: ElementNode, b: ElementNode): RenderedDifference | null {
  const values = compared(b);
  for (const [name, value] of compared(a)) {
    const other = values.get(name);
    if (other === undefined) return { place: a.at, what: `${nameOf(a)} lost its attribute ${name}` };
    if (other !== value) return { place: a.at, what: `${nameOf(a)}: ${name}=${became(value, other)}` };
    values.delete(name);
  }
  const [extra] = values.keys();
  return extra === undefined ? null : { place: a.at, what: `${nameOf(a)} gained the attribute ${extra}` };
}

/** Attributes as they are compared, by name; without those that no runtime sets. */
function compared({ tag, attrs, space }: ElementNode): Map<string, string> {
  const values = new Map<string, string>();
  for (const { name, pieces } of attrs) {
    const text = plainText(pieces) ?? '';
    if (/^on[a-z]+$/.test(name) || isKept(tag, name) || isUnsafe(name)) continue;
    if (name === 'style') values.set(name, declarationsOf(text));
    // a renderer may leave the names of drawings as JSX spells them
    else if (space === 'svg') values.set(infoOf({ space }, name)?.attribute ?? name, text);
    else values.set(name, infoOf({ space }, name)?.boolean === true ? '' : text);
  }
  if (values.get('style') === '') values.delete('style');
  return values;
}

function declarationsOf(style: string): string {
  const values = new Map<string, string>();
  for (const { property, value, important } of readDeclarations(style)) {
    values.delete(property);
    values.set(property, `${value}${important ? ' !important' : ''}`);
  }
  return [...values].map(([property, value]) => `${property}: ${value}`).join('; ');
}

function nameOf(node: EmitNode): string {
  if (node.kind === 'element') return `<${node.tag}>`;
  return node.kind === 'text' ? `text ${quote(node.value)}` : node.kind;
}
