/** The whole site as targets are given it. */
import { workingOn } from '../errors.js';
import type { Registry } from '../component/model.js';
import { type Page, parsePage } from '../page/parse.js';
import { htmlOf, type Writing } from './html.js';
import type { ElementNode, EmitComponent, EmitNode, EmitPage, EmitSite } from './model.js';
import type { ExpandedPage } from '../style/plan.js';
import { readComponent, readDocument, readPage } from './read.js';
import { compareRendered } from './same.js';

/**
 * Reads components and pages.
 * @param expanded the pages expanded, in their order
 * @throws Problem when a use gives a list that is no list of records
 */
export function readSite(
  pages: Page[],
  expanded: ExpandedPage[],
  registry: Registry,
  around: Pick<EmitSite, 'files' | 'sheets' | 'read' | 'space' | 'toRoot'> & { componentFolder: string },
): EmitSite {
  const { componentFolder, ...rest } = around;
  const components = [...registry.values()]
    .map((component) => workingOn(component.path, () => readComponent(component, registry, componentFolder)))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const byName = new Map(components.map((component) => [component.name, component]));
  return {
    components,
    pages: pages.map((page, i) =>
      workingOn(page.path, () => {
        const made = expanded[i]!;
        return wholeOrFlat(readPage(page, made, registry), made.page, byName, rest.space);
      }),
    ),
    ...rest,
  };
}

/**
 * The page, without its components when it is not what they give one by one: a tag that a fragment leaves open, or a
 * formatting element, goes on in what follows it.
 */
function wholeOrFlat(
  page: EmitPage,
  expanded: Page,
  components: ReadonlyMap<string, EmitComponent>,
  space: EmitSite['space'],
): EmitPage {
  const made = page.shell.before + htmlOf(page.body, expanding(components, page.folder)) + page.shell.after;
  const flat = compareRendered(expanded, parsePage(page.path, made), space);
  if (flat === null) return page;
  const elsewhere = [...new Set([...page.uses, ...page.elsewhere])].sort();
  return { ...page, ...written(page, expanded), range: null, uses: [], elsewhere, flat };
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
    use: ({ component, scope, slots }) => htmlOf(component.nodes, writing, { scope, slots }),
  };
  return writing;
}
