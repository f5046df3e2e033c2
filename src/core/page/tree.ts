/**
 * The compact tree that every room works on: what the HTML parser saw, with the exact source range of each node.
 *
 * All offsets are UTF-16 offsets into the decoded source; `start` is -1 on a node that has no source of its own
 * (an implied `html`, `tbody`, …). A `template` holds its content as its own children.
 */

export interface Attr {
  /** lower-case name as the parser gives it, with its prefix (`xlink:href`) */
  name: string;
  value: string;
  /** range of the whole attribute, name to closing quote */
  start: number;
  end: number;
}

interface Ranged {
  parent: Parent | null;
  start: number;
  end: number;
}

export interface Element extends Ranged {
  kind: 'element';
  tag: string;
  ns: string;
  attrs: Attr[];
  children: Child[];
  /** end of the start tag */
  openEnd: number;
  /** start of the end tag, or -1 where it is implied or the element is void */
  closeStart: number;
  /** its number among the page's elements, once the page has been profiled */
  at: number;
}

/** An element that stands nowhere and holds nothing. */
export function newElement(tag: string, ns: string, attrs: Attr[] = []): Element {
  return {
    kind: 'element',
    tag,
    ns,
    attrs,
    children: [],
    parent: null,
    start: -1,
    end: -1,
    openEnd: -1,
    closeStart: -1,
    at: -1,
  };
}

export interface Text extends Ranged {
  kind: 'text';
  value: string;
}

export interface Comment extends Ranged {
  kind: 'comment';
  value: string;
}

export interface Doctype extends Ranged {
  kind: 'doctype';
  name: string;
  publicId: string;
  systemId: string;
}

export interface Root {
  kind: 'root';
  mode: string;
  children: Child[];
  parent: null;
  start: number;
  end: number;
}

export type Child = Element | Text | Comment | Doctype;
export type Parent = Element | Root;
export type Node = Child | Root;

export const HTML = 'http://www.w3.org/1999/xhtml';

/** Elements whose content the tokenizer takes as raw text: never interpolated, compared to the byte. */
export const RAW_TEXT = new Set(['script', 'style', 'iframe', 'noembed', 'noframes', 'noscript', 'xmp', 'plaintext']);

/** Elements in which white space shows, so that it is never re-indented. */
export const PREFORMATTED = new Set(['pre', 'textarea', 'listing', ...RAW_TEXT]);

/** Elements that hold nothing (HTML standard, "void elements", and those that parsers treat like them). */
export const VOID = new Set(
  'area base basefont bgsound br col embed frame hr img input keygen link meta param source track wbr image'.split(' '),
);

/** Elements whose end tag may be left out (HTML standard, "optional tags"). */
export const OPTIONAL_END = new Set(
  'html head body li dt dd p rt rp optgroup option caption colgroup thead tbody tfoot tr td th'.split(' '),
);

/** True for an element whose end tag is missing by mistake, so that something else closes it. */
export function lacksEndTag({ tag, ns, start, closeStart }: Element): boolean {
  return ns === HTML && start >= 0 && closeStart < 0 && !VOID.has(tag) && !OPTIONAL_END.has(tag);
}

/**
 * The sibling before an element that lacks its end tag by mistake, so that nothing but the start tag of this one closes
 * it; null for none.
 */
export function openBefore(element: Element): Element | null {
  const siblings = element.parent!.children;
  const before = siblings[siblings.indexOf(element) - 1];
  return before?.kind === 'element' && lacksEndTag(before) ? before : null;
}

export function attrOf(element: Element, name: string): string | undefined {
  for (const attr of element.attrs) if (attr.name === name) return attr.value;
  return undefined;
}

/** Calls `visit` for `node` and all that is below it, in document order; a visit that returns false skips the children. */
export function walk(node: Node, visit: (node: Node) => boolean | void): void {
  if (visit(node) === false) return;
  if (node.kind === 'element' || node.kind === 'root') for (const child of node.children) walk(child, visit);
}

/** All elements below `node` (itself included when it is one), in document order. */
export function elementsOf(node: Node): Element[] {
  const found: Element[] = [];
  collectElements(node, found);
  return found;
}

function collectElements(node: Node, found: Element[]): void {
  if (node.kind === 'element') found.push(node);
  if (node.kind === 'element' || node.kind === 'root')
    for (const child of node.children) if (child.kind === 'element') collectElements(child, found);
}

/** Deeper than anybody nests elements in a component, and as deep as plain recursion over patterns of them is safe. */
export const MOST_LEVELS = 128;

/** True where elements are nested more levels deep than these in one, itself among them. */
export function isDeeperThan(element: Element, levels: number): boolean {
  if (levels === 0) return true;
  return element.children.some((child) => child.kind === 'element' && isDeeperThan(child, levels - 1));
}

/** The element's class words in source order. */
export function classWords(element: Element): string[] {
  const value = attrOf(element, 'class');
  if (value === undefined) return [];
  // placeholders of templates are no words
  const text = value.includes('{{') ? value.replace(/\{\{[^]*?\}\}/g, '') : value;
  // nearly all lists are words with one space between them, and those are split faster
  if (!UNEVEN.test(text)) return text.split(' ');
  return text.split(/[\t\n\f\r ]+/).filter((word) => word !== '');
}

const UNEVEN = /^$|^ | $| {2}|[\t\n\f\r]/;

/** Text below `node`, white space folded. */
export function textOf(node: Node): string {
  let text = '';
  walk(node, (each) => {
    if (each.kind === 'text') text += each.value;
    return !(each.kind === 'element' && RAW_TEXT.has(each.tag));
  });
  return text.replace(/\s+/g, ' ').trim();
}

/**
 * The first text that a node holds, without the white space around it; '' for none.
 * @param isEntered false for elements of which nothing counts, as of an icon whose text names the picture
 */
export function firstTextIn(node: Node, isEntered: (element: Element) => boolean = () => true): string {
  let found = '';
  walk(node, (each) => {
    if (found === '' && each.kind === 'text') found = each.value.trim();
    return found === '' && (each.kind !== 'element' || isEntered(each));
  });
  return found;
}
