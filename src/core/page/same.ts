/**
 * Sameness of two pages, as the promise defines it: `bytes`, `markup` (equal trees, only indentation differs) or
 * `different`, with the first place that differs.
 */
import { type Place, workingOn } from '../errors.js';
import { firstNotBefore } from '../search.js';
import { type Page, parsePage, placeAt } from './parse.js';
import { afterSpace, isSpace, mayShowSpace } from './space.js';
import { type Attr, type Element, type Node, type Parent, PREFORMATTED, type Root } from './tree.js';

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

/**
 * Compares two sources of one page; the place of the first difference is in `original`. Where one of them has been
 * parsed already, it is given as the page that it is.
 */
export function comparePages(path: string, original: string | Page, other: string | Page, shown?: Shown): Verdict {
  const [before, after] = [sourceOf(original), sourceOf(other)];
  if (before === after) return { same: 'bytes', first: null };
  const [page, text] = isPage(original) || !isPage(other) ? [pageOf(path, original), after] : [other, before];
  if (isReindented(page, text, shown && (() => shown(page)))) return { same: 'markup', first: null };
  return compareTrees(pageOf(path, original), pageOf(path, other), shown);
}

/** A source of a page, parsed already where it is the very one that this page was read from. */
export function parsedAs(page: Page, source: string): string | Page {
  return page.source === source ? page : source;
}

const isPage = (source: string | Page): source is Page => typeof source !== 'string';

/** The text of what is compared. */
export const sourceOf = (source: string | Page): string => (isPage(source) ? source.source : source);
const pageOf = (path: string, source: string | Page): Page => (isPage(source) ? source : parsePage(path, source));

function compareTrees(page: Page, changed: Page, shown?: Shown): Verdict {
  let found = workingOn(page.path, () => firstDifference(page.root, changed.root, false));
  // where indentation is all that differs, it must not show
  if (found === null && shown !== undefined) found = firstDifference(page.root, changed.root, false, shown(page));
  return found === null
    ? { same: 'markup', first: null }
    : { same: 'different', first: { ...lineColumn(page, found.offset), what: found.what } };
}

/** A run of white space, in UTF-16 offsets. */
interface Run {
  start: number;
  end: number;
  /** it holds a line break, as the other one in its place does */
  breaks: boolean;
}

/**
 * True where a text is the source of a page, or of a part of one, but for white space within tags, and for runs of it with
 * a line break in text where white space does not show: the parser makes the same tree of both, but for these runs.
 * @param shown elements in which stylesheets make white space show; asked where nothing else is in the way
 */
export function isReindented(
  page: { source: string; root: Root },
  text: string,
  shown?: () => ReadonlySet<Element>,
): boolean {
  const runs = differingRuns(page.source, text);
  if (runs === null || runs.length === 0) return runs !== null;
  return areIndentation(page, runs) && (shown === undefined || areIndentation(page, runs, shown()));
}

/** The runs of white space in a source that are others in a text, when all else is alike; null otherwise. */
function differingRuns(source: string, text: string): Run[] | null {
  const runs: Run[] = [];
  let [i, j] = [0, 0];
  for (;;) {
    let same = commonLength(source, i, text, j);
    if (i + same === source.length && j + same === text.length) return runs;
    while (same > 0 && isSpace(source.charCodeAt(i + same - 1))) same--;
    const [start, other] = [i + same, j + same];
    [i, j] = [afterSpace(source, start), afterSpace(text, other)];
    if (i === start || j === other) return null;
    runs.push({ start, end: i, breaks: BREAK.test(source.slice(start, i)) && BREAK.test(text.slice(other, j)) });
  }
}

const BREAK = /[\n\r]/;

/** How many characters are the same from two offsets on. */
function commonLength(one: string, i: number, other: string, j: number): number {
  const most = Math.min(one.length - i, other.length - j);
  let same = 0;
  for (let step = 1024; step > 0;) {
    if (same + step <= most && one.startsWith(other.slice(j + same, j + same + step), i + same)) same += step;
    else step >>= 1;
  }
  return same;
}

/** True where all runs stand between the attributes of tags, or break lines of text whose white space does not show. */
function areIndentation(
  { source, root }: { source: string; root: Root },
  runs: readonly Run[],
  shown?: ReadonlySet<Element>,
): boolean {
  let found = 0;
  const countIn = (start: number, end: number, isFree: (run: Run) => boolean) => {
    for (let i = firstNotBefore(runs, (run) => run.start < start); i < runs.length && runs[i]!.end <= end; i++)
      if (isFree(runs[i]!)) found++;
  };
  const visit = (node: Node, verbatim: boolean): void => {
    if (node.kind === 'element' || node.kind === 'root') {
      const inside = verbatim || (node.kind === 'element' && isVerbatim(node, shown));
      if (node.kind === 'element' && node.start >= 0) {
        countIn(node.start, node.openEnd, (run) => !node.attrs.some((attr) => isIn(attr, run)));
        if (node.closeStart >= 0) countIn(node.closeStart, node.end, () => true);
      }
      for (const child of node.children) visit(child, inside);
      // a text in several parts has markup between them
    } else if (node.kind === 'text' && !verbatim && !source.slice(node.start, node.end).includes('<'))
      countIn(node.start, node.end, ({ breaks }) => breaks);
  };
  visit(root, false);
  return found === runs.length;
}

/** True for a run within an attribute, or where it is not known where that stands. */
function isIn(attr: Attr, { start, end }: Run): boolean {
  return attr.start < 0 || (start < attr.end && end > attr.start);
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
      const [was, is] = verbatim ? [a.value, value] : [foldIndentation(a.value), foldIndentation(value)];
      return { offset: a.start, what: `text ${became(was, is)}` };
    }
    case 'comment':
      if (a.value === (b as typeof a).value) return null;
      return { offset: a.start, what: `comment ${became(a.value, (b as typeof a).value)}` };
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
      return childDifference(a, other, verbatim || isVerbatim(a, shown), shown);
    }
    case 'root':
      if (a.mode !== (b as typeof a).mode)
        return { offset: 0, what: `the rendering mode ${a.mode} became ${(b as typeof a).mode}` };
      return childDifference(a, b as typeof a, verbatim, shown);
  }
}

/** True for an element in which white space may show: of its kind, by its own attributes, or as one of `shown`. */
function isVerbatim(element: Element, shown?: ReadonlySet<Element>): boolean {
  return isPreformatted(element) || shown?.has(element) === true;
}

/** True for an element in which white space shows, by its tag or its own attributes: its lines are never re-indented. */
export function isPreformatted(element: Element): boolean {
  return PREFORMATTED.has(element.tag) || showsSpace(element);
}

/** True where the element's own attributes may make white space show. */
function showsSpace(element: Element): boolean {
  return element.attrs.some(({ name, value }) => {
    if (name === 'style') return styleShowsSpace(value);
    // SVG has the property as an attribute, and XML one of its own
    return name === 'white-space' ? mayShowSpace(name, value) : name === 'xml:space' && value === 'preserve';
  });
}

function styleShowsSpace(style: string): boolean {
  // a name may be spelled with escapes: then it may be this one, where there is one
  if (style.includes('\\')) return style.includes(':');
  if (!/white-space/i.test(style)) return false;
  const declarations = style.replace(/\/\*.*?\*\//gs, '').split(';');
  return declarations.some((each) => {
    const colon = each.indexOf(':');
    return (
      colon >= 0 && mayShowSpace(each.slice(0, colon).trim(), each.slice(colon + 1).replace(/!\s*important\s*$/i, ''))
    );
  });
}

function childDifference(a: Parent, b: Parent, verbatim: boolean, shown?: ReadonlySet<Element>) {
  for (let i = 0; i < a.children.length || i < b.children.length; i++) {
    const mine = a.children[i];
    const other = b.children[i];
    if (mine === undefined)
      return { offset: Math.max(a.start, a.end), what: `${nodeName(other!)} was added at the end of ${nodeName(a)}` };
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
    if (other !== value) return `${nodeName(a)}: ${name}=${became(value, other)}`;
    values.delete(name);
  }
  const [extra] = values.keys();
  return extra === undefined ? null : `${nodeName(a)} gained the attribute ${extra}`;
}

function nodeName(node: Node): string {
  if (node.kind === 'element') return `<${node.tag}>`;
  if (node.kind === 'text') return `text ${quote(node.value)}`;
  if (node.kind === 'comment') return `comment ${quote(node.value)}`;
  return node.kind === 'root' ? 'the page' : `a ${node.kind}`;
}

/** UTF-16 units of a text that are told, and of those how many before what differs. */
const TOLD = 40;
const BEFORE = 12;

/** A text in quotes, cut where it is long. */
export function quote(text: string): string {
  return JSON.stringify(text.length > TOLD ? `${text.slice(0, TOLD - 1)}…` : text);
}

/** `"a" became "b"`: of long texts the stretch where they differ first. */
export function became(was: string, is: string): string {
  return quotedApart(was, is).join(' became ');
}

/** Two texts in quotes: of long ones the stretch where they differ first. */
export function quotedApart(one: string, other: string): [string, string] {
  const same = commonLength(one, 0, other, 0);
  const from = Math.max(one.length, other.length) > TOLD && same > BEFORE ? same - BEFORE : 0;
  const told = (text: string) => quote(from === 0 ? text : `…${text.slice(from)}`);
  return [told(one), told(other)];
}
