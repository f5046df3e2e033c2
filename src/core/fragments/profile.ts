/**
 * One linear pass over a page: its elements in document order, the size of each, and whether it can be lifted, that is,
 * whether its source range alone would give exactly its subtree.
 */
import { IMPLIED, isLiftable } from '../page/liftable.js';
import type { Page } from '../page/parse.js';
import { droppedBreak } from '../page/space.js';
import { attrOf, type Child, type Element, HTML, type Parent } from '../page/tree.js';

/** `yes`; `unsure`: something in it leaves a gap in the source, ask the parser; the others are reasons, `whole` that a component holds nothing else, `encoding` that the bytes of the page are read by it. */
export const Lift = {
  yes: 0,
  unsure: 1,
  frame: 2,
  foreign: 3,
  sourceless: 4,
  misnested: 5,
  reserved: 6,
  whole: 7,
  encoding: 8,
} as const;
type LiftState = (typeof Lift)[keyof typeof Lift];

/** Per element, in document order (an element's descendants follow it: `i + 1` to `i + size[i] - 1`). */
export interface Profile {
  page: Page;
  elements: Element[];
  size: Uint32Array;
  /** index of the parent element, -1 at the top */
  parent: Int32Array;
  lift: Uint8Array;
}

const FRAME = new Set(['html', 'head', 'body', 'frameset']);

/** Profiles one page. Linear in its nodes. */
export function profile(page: Page): Profile {
  const elements: Element[] = [];
  const parents: number[] = [];
  const collect = (parent: Parent, at: number) => {
    for (const child of parent.children) {
      if (child.kind !== 'element') continue;
      parents.push(at);
      child.at = elements.length;
      elements.push(child);
      collect(child, elements.length - 1);
    }
  };
  collect(page.root, -1);
  const count = elements.length;
  const size = new Uint32Array(count).fill(1);
  const lift = new Uint8Array(count);
  // children come after their parents, so going backwards meets every child before its parent
  for (let i = count - 1; i >= 0; i--) {
    if (parents[i]! >= 0) size[parents[i]!]! += size[i]!;
    lift[i] = liftOf(i, { page, elements, size, lift });
  }
  if (page.component !== undefined && page.root.children.every(isElementOrSpace) && size[0] === count)
    lift[0] = Lift.whole;
  return { page, elements, size, parent: Int32Array.from(parents), lift };
}

/** True for what can be lifted; where the source alone does not tell, the parser is asked. */
export function isSure(profile: Profile, at: number): boolean {
  if (profile.lift[at] === Lift.unsure)
    profile.lift[at] = isLiftable(profile.page, profile.elements[at]!) ? Lift.yes : Lift.misnested;
  return profile.lift[at] === Lift.yes;
}

function isElementOrSpace(node: Child): boolean {
  return node.kind === 'element' || (node.kind === 'text' && node.value.trim() === '');
}

function liftOf(i: number, { page, elements, size, lift }: Omit<Profile, 'parent'>): LiftState {
  const element = elements[i]!;
  // the blocks and slots in a component's template are Estrade's own
  const own = page.component !== undefined;
  if (FRAME.has(element.tag)) return Lift.frame;
  if (element.ns !== HTML) {
    // the content of svg and math goes with its owner
    if (element.parent?.kind === 'element' && element.parent.ns !== HTML) return Lift.foreign;
  } else if (element.parent?.kind === 'element' && element.parent.ns !== HTML) return Lift.foreign;
  if (element.start < 0) return Lift.sourceless;
  if (page.encoding !== undefined && namesEncoding(element)) return Lift.encoding;
  const contentEnd = element.closeStart >= 0 ? element.closeStart : element.end;
  const tiled = tiles(element, element.openEnd + droppedBreak(page.source, element).length, contentEnd);
  if (element.tag === 'slot' || (element.tag === 'template' && element.attrs.some((attr) => RESERVED.has(attr.name))))
    return own && !tiled ? Lift.misnested : Lift.reserved;
  // in a cell, a select is closed by the next tag of a table; parsed alone it would skip that tag
  const closed = element.tag !== 'select' || element.closeStart >= 0;
  let state: LiftState = tiled && closed ? Lift.yes : Lift.unsure;
  let next = i + 1;
  const stop = i + size[i]!;
  while (next < stop) {
    const below = lift[next]!;
    if (below === Lift.reserved && !own) return Lift.reserved;
    if (below === Lift.encoding) return Lift.encoding;
    if (below === Lift.unsure || below === Lift.misnested) state = Lift.unsure;
    // an element without source of its own has been looked through by `tiles`, its children have not
    next += below === Lift.sourceless || below === Lift.foreign || below === Lift.reserved ? 1 : size[next]!;
  }
  return state;
}

/** True for what says which encoding a page is in (HTML standard, "specifying the document's character encoding"). */
function namesEncoding(element: Element): boolean {
  if (element.tag !== 'meta') return false;
  return attrOf(element, 'charset') !== undefined || attrOf(element, 'http-equiv')?.toLowerCase() === 'content-type';
}

const RESERVED = new Set(['when', 'unless', 'each', 'component']);

/** True when the children's ranges cover the content from `start` to `end` without gap or overlap. */
function tiles(element: Element, start: number, end: number): boolean {
  return coveredTo(element, start) === end;
}

function coveredTo(element: Element, start: number): number {
  let at = start;
  for (const child of element.children) {
    if (child.start < 0 && child.kind === 'element' && IMPLIED.has(child.tag)) {
      at = coveredTo(child, at);
      continue;
    }
    if (child.start !== at) return -1;
    at = child.end;
  }
  return at;
}
