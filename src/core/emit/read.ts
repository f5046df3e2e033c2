/** From component files and pages to the trees that targets are given. */
import { folderOfPage } from '../component/expand.js';
import type { ExpandedPage } from '../style/plan.js';
import { type Expression, isSpelled } from '../component/expression.js';
import type { Component, Prop, Registry } from '../component/model.js';
import { blockOf, contentEnd, linesOf, ownLine } from '../component/parts.js';
import { type Placed, segmentsOf, type Segment } from '../component/segments.js';
import { usedComponent, fillingOf } from '../component/use.js';
import { bodyOf } from '../component/read.js';
import { Problem } from '../errors.js';
import { valueOf } from '../page/attribute.js';
import { type Page, placeAt } from '../page/parse.js';
import { isPreformatted } from '../page/same.js';
import { decodeAttribute, decodeText } from '../page/spelling.js';
import { type Attr, attrOf, type Child, type Element, elementsOf, HTML, type Parent, RAW_TEXT } from '../page/tree.js';
import { folderOf, mapUrls, markedText, partsOfMarked, resolve, toRoot, urlKind, type UrlKind } from '../page/url.js';
import type {
  ElementNode,
  EmitAttr,
  EmitComponent,
  EmitNode,
  EmitPage,
  EmitProp,
  Json,
  Piece,
  Range,
  UseNode,
} from './model.js';
import { shellOf } from './shell.js';

/** A page or a component file whose markup is read. */
interface Holder {
  path: string;
  source: string;
  registry: Registry;
  /** true in a component's template */
  template: boolean;
}

/** @throws Problem when a use gives a list that is no list of records */
export function readComponent(component: Component, registry: Registry, componentFolder: string): EmitComponent {
  const { name, about, path, source, start, end, style } = component;
  const holder = { path, source, registry, template: true };
  const nodes = read(bodyOf(component), { start, end }, holder);
  const folder = folderOf(path);
  return {
    name,
    about,
    path,
    folder: folder === componentFolder ? '' : folder.slice(componentFolder.length + 1),
    props: Array.from(component.ownProps.values(), (prop) => readProp(prop, component.props)),
    slots: [...new Set(find(nodes, 'slot').map((slot) => slot.name))].sort(),
    nodes,
    styles: style === null ? null : source.slice(style.start, style.end),
    uses: usesOf(nodes),
  };
}

/** A whole page as nodes, without components: what a browser would see. */
export function readDocument(page: Page): EmitNode[] {
  const { path, source, root } = page;
  const holder = { path, source, registry: new Map(), template: false };
  return read(root.children, { start: 0, end: source.length }, holder);
}

function readProp(prop: Prop, all: Prop[]): EmitProp {
  const prefix = `${prop.name}.`;
  const fields = all.filter((each) => each.name.startsWith(prefix));
  return {
    ...prop,
    default: prop.default?.value ?? null,
    fields: fields.map((field) => ({ ...readProp(field, []), name: field.name.slice(prefix.length) })),
  };
}

/** @throws Problem when a use gives a list that is no list of records */
export function readPage(page: Page, expanded: ExpandedPage, registry: Registry): EmitPage {
  const { path, source } = page;
  const holder = { path, source, registry, template: false };
  const text = expanded.page.source;
  const { body: bodyElement, children, range, shell } = shellOf(page, { ...expanded, text }, registry);
  const whole = { start: 0, end: source.length };
  const body = read(children, whole, holder);
  const empty = bodyElement === undefined ? [] : read([{ ...bodyElement, children: [] }], whole, holder);
  const [bodyTag] = find(empty, 'element');
  const uses = usesOf(body);
  const all = elementsOf(page.root).map((element) => usedComponent(element, (name) => registry.has(name)));
  const others = new Set(all.filter((name): name is string => name !== null && !uses.includes(name)));
  const folder = folderOfPage(page);
  const { extents, page: document } = expanded;
  const elsewhere = [...others].sort();
  const standing = { document, extents, folder, bodyTag, body, range, uses, elsewhere, shell };
  return { path, source, expanded: text, ...standing, flat: null };
}

type Kind = EmitNode['kind'];

/** All nodes of a kind, what is poured into uses included. */
export function find<K extends Kind>(nodes: EmitNode[], kind: K): Extract<EmitNode, { kind: K }>[] {
  const found: Extract<EmitNode, { kind: K }>[] = [];
  const visit = (node: EmitNode) => {
    if (node.kind === kind) found.push(node as Extract<EmitNode, { kind: K }>);
    childrenOf(node).forEach(visit);
  };
  nodes.forEach(visit);
  return found;
}

/** What stands in a node, what is poured into a use included. */
export function childrenOf(node: EmitNode): EmitNode[] {
  if (node.kind === 'use') return node.slots.flatMap(({ children }) => children);
  return 'children' in node ? node.children : [];
}

function usesOf(nodes: EmitNode[]): string[] {
  return [...new Set(find(nodes, 'use').map(({ component }) => component))].sort();
}

const SPACES: Record<string, 'svg' | 'math'> = {
  'http://www.w3.org/2000/svg': 'svg',
  'http://www.w3.org/1998/Math/MathML': 'math',
};

/** What an element is part of: HTML, a drawing or a formula. */
export function spaceOf({ ns }: Element): ElementNode['space'] {
  return SPACES[ns] ?? 'html';
}

/** Reads nodes, their text only within the range. */
function read(nodes: Child[], within: Range, holder: Holder, verbatim = false): EmitNode[] {
  const found: EmitNode[] = [];
  const { source, template } = holder;
  const context = {
    page: holder,
    template,
    isComponent: (name: string) => holder.registry.has(name),
  };
  /** where the text before an own line's block ends */
  let cut = within.end;
  const at = (offset: number) => placeAt(holder, Math.max(0, offset));
  const addText = (node: Extract<Child, { kind: 'text' }>, end: number) => {
    // what the parser moved has no stretch of the source to itself; templates are read from their source
    if (!template || node.start < 0) {
      if (node.value !== '') found.push({ kind: 'text', value: node.value, at: at(node.start) });
      return;
    }
    const start = Math.max(node.start, within.start);
    // tags in it are those that the parser passed over
    const raw = source.slice(start, Math.min(node.end, end)).replace(TAG, '');
    for (const segment of segmentsOf(raw, start, 'text', context))
      if (typeof segment !== 'string' && textIn(segment) === null)
        found.push({ kind: 'value', expression: plainExpression(segment), at: at(start) });
      else {
        const value = typeof segment === 'string' ? decodeText(segment) : textIn(segment)!;
        // the parser drops the first line break of a `pre`
        const first = found.length === 0 && isPre(node.parent) ? value.replace(/^\n/, '') : value;
        if (first !== '') found.push({ kind: 'text', value: first, at: at(start) });
      }
  };
  nodes.forEach((node, i) => {
    if (node.kind === 'doctype') return;
    if (node.kind === 'comment') return found.push({ kind: 'comment', value: node.value, at: at(node.start) });
    if (node.kind === 'text') {
      const next = nodes[i + 1];
      const line = next?.kind === 'element' && !verbatim ? lineOf(next) : null;
      cut = line === null ? within.end : (next as Element).start - line.length;
      return addText(node, cut);
    }
    const name = usedComponent(node, context.isComponent);
    if (name !== null) return found.push(readUse(node, name, holder));
    const block = template ? blockOf(node, context) : null;
    if (block !== null) {
      const line = verbatim ? null : lineOf(node);
      const range = linesOf(node, source);
      const children = read(inRange(node.children, range), range, holder, verbatim);
      if (line !== null) children.unshift({ kind: 'text', value: decodeText(line), at: at(node.start) });
      const place = at(node.start);
      if (block.kind === 'slot') return found.push({ kind: 'slot', name: block.name, children, at: place });
      if (block.kind === 'when')
        return found.push({
          kind: 'when',
          test: plainExpression(block.test),
          negated: block.negated,
          children,
          at: place,
        });
      return found.push({ kind: 'each', item: block.item, of: plainExpression(block.of), children, at: place });
    }
    const raw = node.ns === HTML && RAW_TEXT.has(node.tag);
    found.push({
      kind: 'element',
      tag: node.tag,
      space: spaceOf(node),
      attrs: node.attrs.map((attr) => readAttr(attr, holder, urlKind(node, attr.name))),
      children: raw ? readRaw(node, at) : read(node.children, within, holder, verbatim || isPreformatted(node)),
      at: at(node.start),
    });
    return;
  });
  return found;

  function lineOf(element: Element): string | null {
    const block = template && element.tag === 'template' ? blockOf(element, context) : null;
    return block === null || block.kind === 'slot' ? null : ownLine(element, source, within.start, within.end);
  }
}

const TAG = /<\/?[a-z](?:"[^"]*"|'[^']*'|[^'">])*>/gi;

/** An expression without where it stands. */
function plainExpression(placed: Placed): Expression {
  const plain: Partial<Placed> = { ...placed };
  delete plain.offset;
  return plain as Expression;
}

/** What an expression says that is a text by itself, such as two braces. */
function textIn(expression: Expression): string | null {
  return expression.kind === 'literal' && isSpelled(expression.value) ? expression.value.value : null;
}

function isPre(element: Parent | null): boolean {
  return element?.kind === 'element' && /^(pre|textarea|listing)$/.test(element.tag) && element.ns === HTML;
}

function inRange(nodes: Child[], { start, end }: Range): Child[] {
  return nodes.filter((node) => node.kind !== 'text' || (node.end > start && node.start < end));
}

function readRaw(element: Element, at: (offset: number) => EmitNode['at']): EmitNode[] {
  return element.children.flatMap((child) =>
    child.kind === 'text' ? [{ kind: 'text', value: child.value, at: at(child.start) }] : [],
  );
}

function readUse(element: Element, component: string, holder: Holder): UseNode {
  const { path, source, registry } = holder;
  const { props } = registry.get(component)!;
  const at = placeAt(holder, element.start);
  const use: UseNode = {
    kind: 'use',
    component,
    values: [],
    lists: [],
    slots: [],
    template: element.tag === 'template',
    range: holder.template ? null : { start: element.start, openEnd: element.openEnd, end: element.end },
    at,
  };
  for (const attr of element.attrs) {
    const isUrl = props.some(({ name, type }) => name === attr.name && type === 'url');
    if (attr.start < 0 || attr.name === 'slot' || (use.template && attr.name === 'use')) continue;
    if (props.some(({ name }) => name === attr.name)) use.values.push(readAttr(attr, holder, isUrl ? 'url' : null));
  }
  const rest: Child[] = [];
  for (const child of element.children) {
    const given = fillingOf(child);
    if (given === null) {
      rest.push(child);
      continue;
    }
    const { name: slot, element: block } = given;
    const range = { start: block.openEnd, end: contentEnd(block) };
    if (!given.isList) use.slots.push({ name: slot, children: read(block.children, range, holder) });
    else {
      const src = attrOf(block, 'src');
      const data = src === undefined ? undefined : resolve(src, folderOf(path));
      const json = src === undefined ? source.slice(range.start, range.end) : registry.data?.get(data ?? '');
      const file = src === undefined || holder.template ? null : { start: child.start, end: child.end };
      use.lists.push({ name: slot, records: recordsOf(json, slot, placeAt(holder, child.start)), file, at });
    }
  }
  const empty = rest.every((child) => child.kind === 'text' && child.value.trim() === '');
  if (rest.length > 0 && !(empty && use.slots.length + use.lists.length > 0))
    use.slots.unshift({ name: '', children: read(rest, { start: element.openEnd, end: contentEnd(element) }, holder) });
  return use;
}

function recordsOf(json: string | undefined, name: string, place: EmitNode['at']): Json[] {
  try {
    const records = JSON.parse(json ?? '') as Json;
    if (Array.isArray(records)) return records;
  } catch {
    // told below
  }
  throw new Problem(`the list ${name} is ${json === undefined ? 'not there' : 'no JSON array'}`, {
    place,
    hint: 'estrade check tells more',
  });
}

function readAttr(attr: Attr, holder: Holder, kind: UrlKind | null): EmitAttr {
  const at = placeAt(holder, Math.max(0, attr.start));
  const { name } = attr;
  if (!holder.template || attr.start < 0) return { name, pieces: attr.value === '' ? [] : [attr.value], at };
  const { raw, start } = valueOf(holder.source, attr);
  const segments = segmentsOf(raw, start, 'attribute', { page: holder, template: true });
  return { name, pieces: piecesOf(segments, kind, folderOf(holder.path)), at };
}

/** Pieces of a template's attribute; its own relative URLs, as paths from the site's root. */
function piecesOf(segments: Segment[], kind: UrlKind | null, folder: string): Piece[] {
  const values = segments.filter((segment) => typeof segment !== 'string');
  const marked = markedText(segments);
  const plain = (text: string): Piece[] =>
    partsOfMarked(text, values).map((part) =>
      typeof part === 'string'
        ? decodeAttribute(part)
        : (textIn(part) ?? { kind: 'value', expression: plainExpression(part) }),
    );
  // a value that starts a URL says where it leads
  if (kind === null || ((kind === 'url' || kind === 'srcset') && typeof segments[0] !== 'string')) return plain(marked);
  const parts = mapUrls(marked, kind, (url) => {
    const target = toRoot(url, folder);
    return target === null ? url : URL_MARK + target + URL_MARK;
  }).split(URL_MARK);
  return parts.flatMap((part, i) => (i % 2 === 0 ? plain(part) : [{ kind: 'url' as const, pieces: plain(part) }]));
}

/** Stands around a URL in a raw value. */
const URL_MARK = '\u0002';
