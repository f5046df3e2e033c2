/**
 * One linear pass over a page: bottom-up shape hashes of every element, its size, and whether it can be lifted.
 *
 * The shape is what generalising keeps constant: tags, attribute names, the number of class words, nesting, comments,
 * raw text, and where white space stands (none, a run with a line break, or exactly which other run). Text and attribute
 * values are left out. Two 32-bit lanes make one key of 53 bits, so that a chance meeting is caught by the lockstep
 * comparison that follows (`infer/columns.ts`) and otherwise never seen.
 */
import { IMPLIED } from '../page/liftable.js';
import type { Page } from '../page/parse.js';
import { showsSpace } from '../page/same.js';
import { type Child, type Element, HTML, PREFORMATTED, type Parent, RAW_TEXT, type Text } from '../page/tree.js';

/** `yes`; `unsure`: something in it leaves a gap in the source, ask the parser; the others are reasons, `whole` that a component holds nothing else. */
export const Lift = {
  yes: 0,
  unsure: 1,
  frame: 2,
  foreign: 3,
  sourceless: 4,
  misnested: 5,
  reserved: 6,
  whole: 7,
} as const;
type LiftState = (typeof Lift)[keyof typeof Lift];

/** Per element, in document order (an element's descendants follow it: `i + 1` to `i + size[i] - 1`). */
export interface Profile {
  page: Page;
  elements: Element[];
  shape: Float64Array;
  size: Uint32Array;
  /** index of the parent element, -1 at the top */
  parent: Int32Array;
  lift: Uint8Array;
}

const BOOLEAN = new Set(
  'allowfullscreen async autoplay checked controls default defer disabled formnovalidate hidden inert itemscope loop multiple muted nomodule novalidate open readonly required reversed selected'.split(
    ' ',
  ),
);

/** True for a boolean attribute that is merely present: it may come and go within one shape. */
export function isFlag(name: string, value: string): boolean {
  return value === '' && BOOLEAN.has(name);
}

const FRAME = new Set(['html', 'head', 'body', 'frameset']);
const words = new Map<string, number>();

function hashText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash;
}

function hashWord(word: string): number {
  let hash = words.get(word);
  if (hash === undefined) words.set(word, (hash = hashText(word)));
  return hash;
}

function mix(hash: number, value: number): number {
  const mixed = Math.imul(hash ^ value, 0x9e3779b1);
  return mixed ^ (mixed >>> 15);
}

const LINE_BREAK = hashText('a line break');
const VALUE = hashText('a value');
const WHOLE = hashText('a value with its white space');

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
  const first = new Int32Array(count);
  const second = new Int32Array(count);
  const shape = new Float64Array(count);
  const size = new Uint32Array(count);
  const lift = new Uint8Array(count);
  const verbatim = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    const element = elements[i]!;
    const inherited = parents[i]! >= 0 && verbatim[parents[i]!] === 1;
    verbatim[i] = inherited || PREFORMATTED.has(element.tag) || showsSpace(element) ? 1 : 0;
  }

  // children come after their parents, so going backwards meets every child before its parent
  for (let i = count - 1; i >= 0; i--) {
    const element = elements[i]!;
    let one = mix(hashWord(element.tag), element.ns === HTML ? 1 : 2);
    let two = mix(one, 0x5bd1e995);
    let names = 0;
    for (const attr of element.attrs) {
      if (isFlag(attr.name, attr.value)) continue;
      names += mix(hashWord(attr.name), attr.name === 'class' ? wordCount(attr.value) : 7);
    }
    one = mix(one, names);
    two = mix(two, names ^ 0x27d4eb2f);
    let total = 1;
    let next = i + 1;
    for (const child of element.children) {
      let a: number;
      let b: number;
      if (child.kind === 'element') {
        a = first[next]!;
        b = second[next]!;
        total += size[next]!;
        next += size[next]!;
      } else {
        a =
          child.kind === 'text'
            ? textHash(child, element, verbatim[i] === 1)
            : ~hashText(child.kind === 'comment' ? child.value : '');
        b = mix(a, 0x165667b1);
      }
      one = mix(one, a);
      two = mix(two, b);
    }
    one = mix(one, element.children.length);
    first[i] = one;
    second[i] = mix(two, total);
    size[i] = total;
    shape[i] = (one >>> 0) * 0x200000 + (second[i]! >>> 11);
    lift[i] = liftOf(element, i, lift, size, page.component !== undefined);
  }
  if (page.component !== undefined && page.root.children.every(isElementOrSpace) && size[0] === count)
    lift[0] = Lift.whole;
  return { page, elements, shape, size, parent: Int32Array.from(parents), lift };
}

function textHash(text: Text, parent: Element, verbatim: boolean): number {
  if (RAW_TEXT.has(parent.tag)) return hashText(text.value);
  if (verbatim) return WHOLE;
  const { value } = text;
  const [lead, trail] = trimmed(value);
  if (lead === value.length) return spaceHash(value);
  return mix(mix(VALUE, spaceHash(value.slice(0, lead))), spaceHash(value.slice(value.length - trail)));
}

function spaceHash(space: string): number {
  return space.includes('\n') ? LINE_BREAK : hashWord(space);
}

/** True for the code of a character of HTML white space. */
export function isSpace(code: number): boolean {
  return code === 32 || (code >= 9 && code <= 13 && code !== 11);
}

/** How many characters of HTML white space stand before and after the rest. */
export function trimmed(value: string): [lead: number, trail: number] {
  let lead = 0;
  while (lead < value.length && isSpace(value.charCodeAt(lead))) lead++;
  let trail = 0;
  while (trail < value.length - lead && isSpace(value.charCodeAt(value.length - 1 - trail))) trail++;
  return [lead, trail];
}

function wordCount(value: string): number {
  let count = 0;
  let inside = false;
  for (let i = 0; i < value.length; i++) {
    const code = value.charCodeAt(i);
    const space = isSpace(code);
    if (!space && !inside) count++;
    inside = !space;
  }
  return count;
}

/** The key under which alike roots meet: the shape, and the first class word of the root. */
export function groupKey(shape: number, element: Element): number {
  const value = element.attrs.find((attr) => attr.name === 'class')?.value ?? '';
  const word = /[^\t\n\f\r ]+/.exec(value)?.[0] ?? '';
  return shape + hashWord(word) * 0x100000;
}

function isElementOrSpace(node: Child): boolean {
  return node.kind === 'element' || (node.kind === 'text' && node.value.trim() === '');
}

/** @param own in a component's template, whose blocks and slots are Estrade's own */
function liftOf(element: Element, i: number, lift: Uint8Array, size: Uint32Array, own: boolean): LiftState {
  if (FRAME.has(element.tag)) return Lift.frame;
  if (element.ns !== HTML) {
    // the content of svg and math goes with its owner
    if (element.parent?.kind === 'element' && element.parent.ns !== HTML) return Lift.foreign;
  } else if (element.parent?.kind === 'element' && element.parent.ns !== HTML) return Lift.foreign;
  if (element.start < 0) return Lift.sourceless;
  const contentEnd = element.closeStart >= 0 ? element.closeStart : element.end;
  const tiled = tiles(element, element.openEnd, contentEnd);
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
    if (below === Lift.unsure || below === Lift.misnested) state = Lift.unsure;
    // an element without source of its own has been looked through by `tiles`, its children have not
    next += below === Lift.sourceless || below === Lift.foreign || below === Lift.reserved ? 1 : size[next]!;
  }
  return state;
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
