/**
 * White space that shows and white space that does not: beside a block, at the edges of one and next to a line break a
 * run collapses to nothing, elsewhere to one space, and under `white-space: pre` it stays (CSS Text 3, "The White Space
 * Processing Rules"). Decided carefully: where a stylesheet might make an element other than a browser's own styles do,
 * the space stays.
 */
import type { Sheet } from '../style/sheet.js';
import { type Expression, isSpelled } from '../component/expression.js';
import type { ElementNode, EmitNode, EmitSite, Piece } from './model.js';

/** Keys of elements as selectors have them (`tag`, `.class`, `#id`), for which a stylesheet says something. */
interface Keys {
  any: boolean;
  keys: Set<string>;
}

export interface SpaceRules {
  /** made inline, or without a box of their own */
  inline: Keys;
  /** taken out of the flow of blocks, one way or another */
  moved: Keys;
  /** their white space shows */
  shown: Keys;
}

/** What stylesheets say that bears on white space; whether another rule wins is not asked. */
export function spaceRules(sheets: Iterable<Sheet>): SpaceRules {
  const none = (): Keys => ({ any: false, keys: new Set() });
  const rules: SpaceRules = { inline: none(), moved: none(), shown: none() };
  for (const { rules: all } of sheets)
    for (const { selectors, declarations } of all)
      for (const { property, value } of declarations) {
        const kind = kindOf(property, value.toLowerCase());
        if (kind === null) continue;
        for (const { keys, pseudo } of selectors)
          if (pseudo !== '') continue;
          else if (keys === null) rules[kind].any = true;
          else for (const key of keys) rules[kind].keys.add(key);
      }
  return rules;
}

function kindOf(property: string, value: string): keyof SpaceRules | null {
  if (/^white-space(-collapse)?$/.test(property)) return /\b(pre|break|preserve)/.test(value) ? 'shown' : null;
  if (property === 'display') {
    if (/^(inline|contents|ruby)\b(?!-)/.test(value)) return 'inline';
    return /^(block|flex|grid|table|list-item|flow-root)\b/.test(value) ? null : 'moved';
  }
  if (property === 'float') return value.startsWith('none') ? null : 'moved';
  return property === 'position' && /^(absolute|fixed)/.test(value) ? 'moved' : null;
}

const words = (text: string) => new Set(text.split(/\s+/));
const TABLE = 'caption col colgroup tbody td tfoot th thead tr';
/** Blocks by the HTML standard's rendering section; `option` and its kin lay out no text around them. */
const BLOCK = words(
  `address article aside blockquote body center dd details dialog dir div dl dt fieldset figcaption figure footer form
  h1 h2 h3 h4 h5 h6 header hgroup hr html legend li listing main menu nav ol optgroup option p plaintext pre search
  section summary table ul xmp head title ${TABLE}`,
);
/** Inside them lines begin and end, whatever they are to their neighbours. */
const CONTAINER = words('button select datalist textarea marquee');
const HIDDEN = words('script style template link meta');
const SVG_TEXT = words('text tspan textPath foreignObject title desc a');

function isIn({ any, keys }: Keys, node: ElementNode): boolean {
  if (any || keys.has(node.tag)) return true;
  if (keys.size === 0) return false;
  return node.attrs.some(({ name, pieces }) => {
    if (name !== 'class' && name !== 'id') return false;
    const mark = name === 'id' ? '#' : '.';
    return wordsIn(pieces).some((word) => hasKey(keys, mark, word));
  });
}

/** Stands in a word for what only a use says. */
const OPEN = '\u0003';

/** The words that a value may hold. */
function wordsIn(pieces: Piece[]): string[] {
  let texts = [''];
  for (const piece of pieces) {
    const said = typeof piece === 'string' ? [piece] : piece.kind === 'value' ? textsOf(piece.expression) : [OPEN];
    texts = texts.flatMap((text) => said.map((each) => text + each));
    if (texts.length > 64) return [OPEN];
  }
  return [...new Set(texts.flatMap((text) => text.split(/\s+/)))].filter((word) => word !== '');
}

function textsOf(expression: Expression): string[] {
  if (expression.kind === 'choose') return [...textsOf(expression.yes), ...textsOf(expression.no)];
  if (expression.kind !== 'literal') return [OPEN];
  return [isSpelled(expression.value) ? expression.value.value : ''];
}

function hasKey(keys: ReadonlySet<string>, mark: string, word: string): boolean {
  if (!word.includes(OPEN)) return keys.has(mark + word);
  const [start, end] = [mark + word.slice(0, word.indexOf(OPEN)), word.slice(word.lastIndexOf(OPEN) + 1)];
  return [...keys].some((key) => key.startsWith(start) && key.endsWith(end));
}

function styleOf(node: ElementNode): string {
  return (node.attrs.find(({ name }) => name === 'style')?.pieces ?? [])
    .map((piece) => (typeof piece === 'string' ? piece : 'display:inline'))
    .join('');
}

/** True when lines of text end at the element and begin anew after it. */
function isBlock(node: ElementNode, { inline, moved }: SpaceRules): boolean {
  if (node.space !== 'html' || !BLOCK.has(node.tag) || isIn(inline, node) || isIn(moved, node)) return false;
  return !/\b(display|float|position)\s*:/i.test(styleOf(node));
}

/** True when lines begin and end at the edges inside the element. */
function holdsLines(node: ElementNode, { inline }: SpaceRules): boolean {
  if (node.space === 'svg') return node.tag === 'foreignObject' || !SVG_TEXT.has(node.tag);
  if (!BLOCK.has(node.tag) && !CONTAINER.has(node.tag)) return false;
  return !isIn(inline, node) && !/\bdisplay\s*:/i.test(styleOf(node));
}

function showsSpace(node: ElementNode, { shown }: SpaceRules): boolean {
  if (node.space !== 'html') return false;
  return (
    /^(pre|textarea|listing)$/.test(node.tag) ||
    isIn(shown, node) ||
    /white-space\S*\s*:\s*(pre|break)/i.test(styleOf(node))
  );
}

/** Whether a line surely ends (or begins) where a list of nodes does, on each side. */
interface Around {
  before: () => boolean;
  after: () => boolean;
  /** white space shows */
  exact: boolean;
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

const NOWHERE: Around = { before: () => false, after: () => false, exact: false, bare: false };
const EDGE: Around = { before: () => true, after: () => true, exact: false, bare: false };
const SPACE = /^[\t\n\f\r ]*$/;

/**
 * The site with the white space of its texts as it shows: idle runs gone, others one space, and those that show marked
 * as `exact`.
 */
export function tidySite(site: EmitSite): EmitSite {
  const slots = new Map<string, Around>();
  const byName = new Map(site.components.map((component) => [component.name, component]));
  const tidying: Tidying = {
    rules: site.space,
    nodesOf: (name) => byName.get(name)!.nodes,
    slotOf: (component, name) => slots.get(`${component} ${name}`) ?? NOWHERE,
  };
  for (const { name, nodes } of site.components)
    visit(nodes, NOWHERE, tidying, (slot, around) => slots.set(`${name} ${slot}`, around));
  return {
    ...site,
    components: site.components.map((each) => ({ ...each, nodes: tidy(each.nodes, NOWHERE, tidying) })),
    pages: site.pages.map((page) => ({ ...page, body: tidy(page.body, EDGE, tidying) })),
  };
}

/** The nodes of a body by themselves, without components. */
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
    bare: around.bare,
  };
  if (node.kind === 'element') {
    const lines = holdsLines(node, tidying.rules);
    const exact = around.exact || showsSpace(node, tidying.rules);
    const bare = node.space === 'svg' && !SVG_TEXT.has(node.tag);
    return lines ? { ...EDGE, exact, bare } : { ...out, exact, bare: bare || (around.bare && node.space === 'svg') };
  }
  if (node.kind !== 'each') return out;
  // beside an item stands another one
  const { children } = node;
  return {
    ...out,
    before: () => out.before() && surely(children, children.length - 1, -1, EDGE, tidying),
    after: () => out.after() && surely(children, 0, 1, EDGE, tidying),
  };
}

/** True when a line surely ends next to position `from`, looking that way. */
function surely(list: EmitNode[], from: number, step: 1 | -1, around: Around, tidying: Tidying): boolean {
  for (let at = from; at >= 0 && at < list.length; at += step) {
    const node = list[at]!;
    const beyond = () => surely(list, at + step, step, around, tidying);
    const through = (nodes: EmitNode[]) =>
      surely(nodes, step > 0 ? 0 : nodes.length - 1, step, { ...NOWHERE, before: beyond, after: beyond }, tidying);
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
        return node.tag === 'br' || isBlock(node, tidying.rules);
      case 'use':
        return through(tidying.nodesOf(node.component));
      case 'when':
      case 'each':
        return through(node.children) && beyond();
    }
  }
  return step > 0 ? around.after() : around.before();
}

/** Tells what is around each slot. */
function visit(list: EmitNode[], around: Around, tidying: Tidying, tell: (slot: string, around: Around) => void): void {
  list.forEach((node, i) => {
    const within = inner(list, i, around, tidying);
    if (node.kind === 'slot') tell(node.name, within);
    if (node.kind === 'use')
      for (const { name, children } of node.slots) visit(children, tidying.slotOf(node.component, name), tidying, tell);
    else if ('children' in node) visit(node.children, within, tidying, tell);
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
    return [{ ...node, children: tidy(node.children, inner(list, i, around, tidying), tidying) }];
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
