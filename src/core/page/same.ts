/**
 * Sameness of two pages, as the promise defines it: `bytes`, `markup` (equal trees, only indentation differs) or
 * `different`, with the first place that differs.
 */
import { type Place, workingOn } from '../errors.js';
import { type Page, parsePage, placeAt } from './parse.js';
import { mayShowSpace } from './space.js';
import { type Child, type Element, type Node, PREFORMATTED } from './tree.js';

export type Sameness = 'bytes' | 'markup' | 'different';

export interface Difference {
  line: number;
  column: number;
  what: string;
}

export interface Verdict {
  same: Sameness;
  first: Difference | null;
}

/** The elements of a page in which stylesheets make white space show. */
export type Shown = (page: Page) => ReadonlySet<Element>;

/** Compares two sources of one page; the place of the first difference is in `original`. */
export function comparePages(path: string, original: string, other: string, shown?: Shown): Verdict {
  if (original === other) return { same: 'bytes', first: null };
  const page = parsePage(path, original);
  const changed = parsePage(path, other);
  let found = workingOn(path, () => firstDifference(page.root, changed.root, false));
  // where indentation is all that differs, it must not show
  if (found === null && shown !== undefined) found = firstDifference(page.root, changed.root, false, shown(page));
  return found === null
    ? { same: 'markup', first: null }
    : { same: 'different', first: { ...lineColumn(page, found.offset), what: found.what } };
}

function lineColumn(page: Page, offset: number): { line: number; column: number } {
  const { line, column }: Place = placeAt(page, Math.max(0, offset));
  return { line, column };
}

/**
 * Folds what may differ: a white-space run that holds a line break. A run without one stays as it is.
 * CR is no concern here, the parser has made LF of it.
 */
export function foldIndentation(text: string): string {
  return text.replace(/[\t\f\r ]*\n[\t\n\f\r ]*/g, '\n');
}

/** The first place where two trees differ, or null; `verbatim` inside elements whose white space shows. */
export function firstDifference(
  a: Node,
  b: Node,
  verbatim: boolean,
  shown?: ReadonlySet<Element>,
): { offset: number; what: string } | null {
  if (a.kind !== b.kind) return { offset: a.start, what: `${nodeName(a)} became ${nodeName(b)}` };
  switch (a.kind) {
    case 'text': {
      const value = (b as typeof a).value;
      if (a.value === value || (!verbatim && foldIndentation(a.value) === foldIndentation(value))) return null;
      return { offset: a.start, what: `text ${quote(a.value)} became ${quote(value)}` };
    }
    case 'comment':
      if (a.value === (b as typeof a).value) return null;
      return { offset: a.start, what: `comment ${quote(a.value)} became ${quote((b as typeof a).value)}` };
    case 'doctype': {
      const { name, publicId, systemId } = b as typeof a;
      if (a.name === name && a.publicId === publicId && a.systemId === systemId) return null;
      return { offset: a.start, what: 'the doctype changed' };
    }
    case 'element': {
      const other = b as Element;
      if (a.tag !== other.tag || a.ns !== other.ns)
        return { offset: a.start, what: `${nodeName(a)} became ${nodeName(other)}` };
      const attribute = attributeDifference(a, other);
      if (attribute !== null) return { offset: a.start, what: attribute };
      return childDifference(
        a,
        other,
        verbatim || PREFORMATTED.has(a.tag) || showsSpace(a) || shown?.has(a) === true,
        shown,
      );
    }
    case 'root':
      if (a.mode !== (b as typeof a).mode)
        return { offset: 0, what: `the rendering mode ${a.mode} became ${(b as typeof a).mode}` };
      return childDifference(a, b as typeof a, verbatim, shown);
  }
}

/** True where the element's own attributes may make white space show. */
export function showsSpace(element: Element): boolean {
  return element.attrs.some(({ name, value }) => {
    if (name === 'style') return styleShowsSpace(value);
    // SVG has the property as an attribute, and XML one of its own
    return name === 'white-space' ? mayShowSpace(name, value) : name === 'xml:space' && value === 'preserve';
  });
}

function styleShowsSpace(style: string): boolean {
  // a name may be spelled with escapes: then it may be this one
  if (style.includes('\\')) return true;
  if (!/white-space/i.test(style)) return false;
  const declarations = style.replace(/\/\*.*?\*\//gs, '').split(';');
  return declarations.some((each) => {
    const colon = each.indexOf(':');
    return (
      colon >= 0 && mayShowSpace(each.slice(0, colon).trim(), each.slice(colon + 1).replace(/!\s*important\s*$/i, ''))
    );
  });
}

function childDifference(
  a: { children: Child[]; start: number; end: number },
  b: { children: Child[] },
  verbatim: boolean,
  shown?: ReadonlySet<Element>,
) {
  for (let i = 0; i < a.children.length || i < b.children.length; i++) {
    const mine = a.children[i];
    const other = b.children[i];
    if (mine === undefined) return { offset: Math.max(a.start, a.end), what: `${nodeName(other!)} was added` };
    if (other === undefined) return { offset: mine.start, what: `${nodeName(mine)} is gone` };
    const found = firstDifference(mine, other, verbatim, shown);
    if (found !== null) return found;
  }
  return null;
}

function attributeDifference(a: Element, b: Element): string | null {
  const values = new Map(b.attrs.map((attr) => [attr.name, attr.value]));
  for (const { name, value } of a.attrs) {
    const other = values.get(name);
    if (other === undefined) return `${nodeName(a)} lost its attribute ${name}`;
    if (other !== value) return `${nodeName(a)}: ${name}=${quote(value)} became ${quote(other)}`;
    values.delete(name);
  }
  const [extra] = values.keys();
  return extra === undefined ? null : `${nodeName(a)} gained the attribute ${extra}`;
}

function nodeName(node: Node): string {
  if (node.kind === 'element') return `<${node.tag}>`;
  if (node.kind === 'text') return `text ${quote(node.value)}`;
  return node.kind === 'comment' ? `comment ${quote(node.value)}` : `a ${node.kind}`;
}

function quote(text: string): string {
  const short = text.length > 40 ? `${text.slice(0, 39)}…` : text;
  return JSON.stringify(short);
}
