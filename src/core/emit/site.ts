/** The whole site as targets are given it. */
import { workingOn } from '../errors.js';
import type { Registry } from '../component/model.js';
import { hasCopies } from '../page/liftable.js';
import { type Page, parsePage } from '../page/parse.js';
import { elementsOf } from '../page/tree.js';
import { drawn, htmlOf, type Writing } from './html.js';
import type { ElementNode, EmitComponent, EmitNode, EmitPage, EmitSite } from './model.js';
import type { SheetReader } from '../style/cascade.js';
import type { ExpandedPage } from '../style/plan.js';
import { spaceReader } from './manner.js';
import { readComponent, readDocument, readPage } from './read.js';
import { compareRendered, isDrawnAlike, showsByStyle } from './same.js';

/** A page with uses, and what it expands to. */
export interface PageMade {
  page: Page;
  expanded: ExpandedPage;
}

export interface SiteSource {
  registry: Registry;
  componentFolder: string;
  /** gives each stylesheet as it is read */
  read: SheetReader;
  /** keeps the trees of expanded pages, which are else made again where a target asks for them */
  keepsDocuments: boolean;
}

/**
 * Reads components and pages, which are taken one after the other.
 * @throws Problem when a use gives a list that is no list of records
 */
export function readSite(
  pages: Iterable<PageMade>,
  { registry, componentFolder, read, keepsDocuments }: SiteSource,
): Pick<EmitSite, 'components' | 'pages' | 'space'> {
  const components = [...registry.values()]
    .map((component) => workingOn(component.path, () => readComponent(component, registry, componentFolder)))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const byName = new Map(components.map((component) => [component.name, component]));
  const { add, rules: space } = spaceReader(read);
  const made = Array.from(pages, ({ page, expanded }) =>
    workingOn(page.path, () => {
      const own = readPage(page, expanded, registry);
      const { page: document } = expanded;
      add(document);
      const isAlike = isDrawnAlike(drawn(own.body, expanding(byName, own.folder)), own, document);
      if (page !== document) page.release?.();
      if (isAlike && !keepsDocuments) document.release?.();
      return { own, isAlike };
    }),
  );
  // indentation shows where stylesheets say so, which is known once all pages are read
  const isShown = showsByStyle(space);
  return {
    components,
    pages: made.map(({ own, isAlike }) =>
      isAlike && !isShown ? own : workingOn(own.path, () => wholeOrFlat(own, byName, space)),
    ),
    space,
  };
}

/**
 * The page, without its components when it is not what they give one by one: a tag that a fragment leaves open, or a
 * formatting element, goes on in what follows it.
 */
function wholeOrFlat(
  page: EmitPage,
  components: ReadonlyMap<string, EmitComponent>,
  space: EmitSite['space'],
): EmitPage {
  const { document } = page;
  const made = page.shell.before + htmlOf(page.body, expanding(components, page.folder)) + page.shell.after;
  const flat = compareRendered(document, parsePage(page.path, made), space);
  // copied beside uses that are closed, the source would make no such copies
  if (flat === null) return hasCopies(elementsOf(document.root)) ? { ...page, range: null } : page;
  const elsewhere = [...new Set([...page.uses, ...page.elsewhere])].sort();
  const { body, shell } = written(page, document);
  const html = shell.before + htmlOf(body, expanding(new Map(), null)) + shell.after;
  const isWritable = compareRendered(document, parsePage(page.path, html), space) === null;
  return { ...page, body, shell, range: null, uses: [], elsewhere, flat: { ...flat, isWritable } };
}

/** The expanded page from its tree, the document around the body too. */
function written({ body, shell }: EmitPage, page: Page): Pick<EmitPage, 'body' | 'shell'> {
  const nodes = readDocument(page);
  const isTag = (node: EmitNode, tag: string): node is ElementNode => node.kind === 'element' && node.tag === tag;
  const html = nodes.find((node): node is ElementNode => isTag(node, 'html'));
  const own = html?.children.find((node): node is ElementNode => isTag(node, 'body'));
  if (html === undefined || own === undefined) return { body, shell };
  const text = (list: EmitNode[]) => htmlOf(list, expanding(new Map(), null));
  const openTag = (element: ElementNode) => text([{ ...element, children: [] }]).replace(/<\/[^>]*>$/, '');
  const isEnd = (node: EmitNode) =>
    node.kind === 'comment' || isTag(node, 'script') || (node.kind === 'text' && node.value.trim() === '');
  const last = own.children.findLastIndex((node) => !isEnd(node));
  const [doctype = ''] = /^\s*<!doctype[^>]*>/i.exec(page.source) ?? [];
  const head = text(html.children.filter((node) => node !== own));
  return {
    body: own.children.slice(0, last + 1),
    shell: {
      before: `${doctype}${openTag(html)}${head}${openTag(own)}`,
      after: `${text(own.children.slice(last + 1))}</body></html>`,
    },
  };
}

/** Writes what uses stand for in their place. */
export function expanding(components: ReadonlyMap<string, EmitComponent>, pageFolder: string | null): Writing {
  const writing: Writing = {
    components,
    pageFolder,
    use: ({ component, scope, slots }) => drawn(component.nodes, writing, { scope, slots }),
  };
  return writing;
}
