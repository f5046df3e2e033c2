/**
 * White space that shows and white space that does not: beside a block, at the edges of one and next to a line break a
 * run collapses to nothing, elsewhere to one space, and under `white-space: pre` it stays (CSS Text 3, "The White Space
 * Processing Rules"). Decided carefully: where the stylesheets leave it open what an element is, the space stays.
 */
import type { EmitComponent, Manner, ElementNode, EmitNode, EmitPage, EmitSite, SpaceRules } from './model.js';
import { HIDDEN, mannerOf, SVG_TEXT } from './manner.js';

/** Whether a line surely ends (or begins) where a list of nodes does, on each side. */
interface Around {
  before: () => boolean;
  after: () => boolean;
  /** white space shows */
  exact: boolean;
  /** beside each element a line ends, as among the items of a flex or grid container */
  items: boolean;
  /** white space is no part of it at all, as between the shapes of a drawing */
  bare: boolean;
}

interface Tidying {
  rules: SpaceRules;
  /** nodes of a component */
  nodesOf: (component: string) => EmitNode[];
  /** what is around a slot of a component */
  slotOf: (component: string, name: string) => Around;
}

const NOWHERE: Around = { before: () => false, after: () => false, exact: false, items: false, bare: false };
const EDGE: Around = { before: () => true, after: () => true, exact: false, items: false, bare: false };
const SPACE = /^[\t\n\f\r ]*$/;

/**
 * The site with the white space of its texts as it shows: idle runs gone, others one space, and those that show marked
 * as `exact`.
 */
export function tidySite(site: EmitSite): EmitSite {
  const slots = new Map<string, Around>();
  /** components that stand somewhere where white space shows */
  const shown = new Set<string>();
  const byName = new Map(site.components.map((component) => [component.name, component]));
  const tidying: Tidying = {
    rules: site.space,
    nodesOf: (name) => byName.get(name)!.nodes,
    slotOf: (component, name) => slots.get(`${component} ${name}`) ?? NOWHERE,
  };
  const aroundOf = (component: string) => (shown.has(component) ? { ...NOWHERE, exact: true } : NOWHERE);
  const tellUse = (component: string, { exact }: Around) => exact && shown.add(component);
  const components = usedFirst(site.components);
  for (let size = -1; size !== shown.size;) {
    size = shown.size;
    for (const { name, nodes } of components)
      visit(nodes, aroundOf(name), tidying, (slot, around) => slots.set(`${name} ${slot}`, around), tellUse);
    for (const page of site.pages) visit(page.body, aroundBody(page, tidying), tidying, null, tellUse);
  }
  return {
    ...site,
    components: site.components.map((each) => ({ ...each, nodes: tidy(each.nodes, aroundOf(each.name), tidying) })),
    pages: site.pages.map((page) => ({ ...page, body: tidy(page.body, aroundBody(page, tidying), tidying) })),
  };
}

/** Components, each behind those that its template uses: what is around its slots may be what is around theirs. */
function usedFirst(components: readonly EmitComponent[]): EmitComponent[] {
  const ordered = new Set<EmitComponent>();
  const add = (component: EmitComponent): void => {
    if (ordered.has(component)) return;
    for (const each of components) if (component.uses.includes(each.name)) add(each);
    ordered.add(component);
  };
  components.forEach(add);
  return [...ordered];
}

/** What is around the content of a page's body. */
function aroundBody({ bodyTag }: EmitPage, tidying: Tidying): Around {
  return bodyTag === undefined ? EDGE : inner([bodyTag], 0, EDGE, tidying);
}

/** The nodes of a document by themselves, without components. */
export function tidyNodes(nodes: EmitNode[], rules: SpaceRules): EmitNode[] {
  return tidy(nodes, EDGE, { rules, nodesOf: () => [], slotOf: () => NOWHERE });
}

/** What is around the children of each node of a list. */
function inner(list: EmitNode[], i: number, around: Around, tidying: Tidying): Around {
  const node = list[i]!;
  const out: Around = {
    before: () => surely(list, i - 1, -1, around, tidying),
    after: () => surely(list, i + 1, 1, around, tidying),
    exact: around.exact,
    items: around.items,
    bare: around.bare,
  };
  if (node.kind === 'element') {
    const { inside, shows, starts, ends } = mannerOf(node, tidying.rules);
    const exact = around.exact || shows;
    const bare = node.space === 'svg' && !SVG_TEXT.has(node.tag);
    const isOpen = inside === 'other';
    return {
      before: () => (inside === 'items' || !starts) && (!isOpen || out.before()),
      after: () => (inside === 'items' || !ends) && (!isOpen || out.after()),
      exact,
      items: inside === 'items',
      bare: bare || (isOpen && around.bare && node.space === 'svg'),
    };
  }
  if (node.kind !== 'each') return out;
  // beside an item stands another one
  const { children } = node;
  return {
    ...out,
    before: () => out.before() && surely(children, children.length - 1, -1, { ...EDGE, items: around.items }, tidying),
    after: () => out.after() && surely(children, 0, 1, { ...EDGE, items: around.items }, tidying),
  };
}

/** True when a line surely ends next to position `from`, looking that way. */
function surely(list: EmitNode[], from: number, step: 1 | -1, around: Around, tidying: Tidying): boolean {
  for (let at = from; at >= 0 && at < list.length; at += step) {
    const node = list[at]!;
    const beyond = () => surely(list, at + step, step, around, tidying);
    const through = (nodes: EmitNode[]) =>
      surely(nodes, step > 0 ? 0 : nodes.length - 1, step, { ...around, before: beyond, after: beyond }, tidying);
    switch (node.kind) {
      case 'comment':
        continue;
      case 'text':
        if (SPACE.test(node.value)) continue;
        return false;
      case 'value':
      case 'slot':
        return false;
      case 'element':
        if (node.space === 'html' && HIDDEN.has(node.tag)) continue;
        return node.tag === 'br' || breaks(mannerOf(node, tidying.rules), around);
      case 'use':
        return through(tidying.nodesOf(node.component));
      case 'when':
      case 'each':
        return through(node.children) && beyond();
    }
  }
  return step > 0 ? around.after() : around.before();
}

function breaks({ outside }: Manner, { items }: Around): boolean {
  return outside === 'block' || (items && outside === 'inline');
}

type Tell = (name: string, around: Around) => void;

/** Tells what is around each slot and each use. */
function visit(list: EmitNode[], around: Around, tidying: Tidying, tellSlot: Tell | null, tellUse: Tell): void {
  list.forEach((node, i) => {
    const within = inner(list, i, around, tidying);
    if (node.kind === 'slot') tellSlot?.(node.name, within);
    if (node.kind === 'use') {
      tellUse(node.component, within);
      for (const { name, children } of node.slots)
        visit(children, tidying.slotOf(node.component, name), tidying, tellSlot, tellUse);
    } else if ('children' in node) visit(node.children, within, tidying, tellSlot, tellUse);
  });
}

function tidy(list: EmitNode[], around: Around, tidying: Tidying): EmitNode[] {
  return list.flatMap((node, i): EmitNode[] => {
    if (node.kind === 'text') {
      if (around.exact) return [{ ...node, exact: true }];
      const value = collapse(node.value, list, i, around, tidying);
      return value === '' ? [] : [{ ...node, value }];
    }
    if (node.kind === 'use')
      return [
        {
          ...node,
          slots: node.slots.map(({ name, children }) => ({
            name,
            children: tidy(children, tidying.slotOf(node.component, name), tidying),
          })),
        },
      ];
    if (!('children' in node)) return [node];
    if (node.kind === 'element' && isRaw(node)) return [node];
    const children = tidy(node.children, inner(list, i, around, tidying), tidying);
    // a block that gives nothing but white space gives nothing
    return (node.kind === 'when' || node.kind === 'each') && children.length === 0 ? [] : [{ ...node, children }];
  });
}

function isRaw({ space, tag }: ElementNode): boolean {
  return space === 'html' && /^(script|style|iframe|noembed|noframes|noscript|xmp|plaintext)$/.test(tag);
}

function collapse(value: string, list: EmitNode[], i: number, around: Around, tidying: Tidying): string {
  if (SPACE.test(value)) {
    const idle = around.bare || surely(list, i - 1, -1, around, tidying) || surely(list, i + 1, 1, around, tidying);
    // of several runs in a row, with comments between them, the first one is the space
    return idle || followsSpace(list, i) ? '' : ' ';
  }
  let text = value.replace(/[\t\n\f\r ]+/g, ' ');
  if (text.startsWith(' ') && (surely(list, i - 1, -1, around, tidying) || followsSpace(list, i))) text = text.slice(1);
  if (text.endsWith(' ') && surely(list, i + 1, 1, around, tidying)) text = text.slice(0, -1);
  return text;
}

/** True when the text before, with nothing but what does not show between them, ends in white space. */
function followsSpace(list: EmitNode[], i: number): boolean {
  for (let at = i - 1; at >= 0; at--) {
    const node = list[at]!;
    if (node.kind === 'text') return /[\t\n\f\r ]$/.test(node.value);
    if (node.kind !== 'comment' && !(node.kind === 'element' && HIDDEN.has(node.tag))) return false;
  }
  return false;
}
