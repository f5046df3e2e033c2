/**
 * Aligns a fragment with a template, child by child: an automaton runs over the children of each element, whose states
 * are the places in the template, and which takes the first way in the order of preference that leads to the end. No
 * state is entered twice at one child, so the work is linear in the children, and no block is tried with and without.
 * What names hold is no concern here: see `match/solve`.
 */
import type { Component } from '../component/model.js';
import { contentEnd } from '../component/parts.js';
import { valueOf } from '../page/attribute.js';
import { foldIndentation } from '../page/same.js';
import { spacesAround } from '../page/space.js';
import type { Child, Element, Text } from '../page/tree.js';
import { folderOf, moveUrls, templateUrls, turnedAs } from '../page/url.js';
import { isUse } from '../template/form.js';
import type { Occurrence } from '../fragments/occurrence.js';
import {
  type AttrItem,
  type BlockItem,
  type EachItem,
  type ElementItem,
  type Item,
  type NodeItem,
  rangeOf,
  type SlotItem,
  solid,
  type TextItem,
  type UseItem,
} from './items.js';
import type { Difference } from './difference.js';
import { couldBe } from './segments.js';

/** What an attribute with placeholders stands for: its raw source, null where it is not there. */
export interface AttrFound {
  item: AttrItem;
  raw: string | null;
}

/** How a fragment goes with a template, one step after the other; `poured` to `unpoured`, `use` to `used` and `list` to `listed` enclose others. */
export type Step =
  | { kind: 'element'; item: ElementItem; attrs: AttrFound[]; steps: Step[] }
  | { kind: 'text'; item: TextItem; raw: string }
  | { kind: 'block'; item: BlockItem; taken: boolean }
  | { kind: 'list'; item: EachItem }
  | { kind: 'record'; item: EachItem }
  | { kind: 'listed' }
  | { kind: 'use'; item: UseItem }
  | { kind: 'used' }
  | { kind: 'poured' }
  | { kind: 'unpoured' }
  | { kind: 'slot'; item: SlotItem; around: Element; start: number; end: number }
  /** a use that stands in the page already */
  | { kind: 'given'; item: UseItem; element: Element }
  | { kind: 'differs'; difference: Difference };

/** Where items stand: in the component's own template, or in that of one that it uses. */
interface Context {
  component: Component;
  /** what is poured into its slots; null in the component itself, where the fragment's nodes are */
  poured: ReadonlyMap<string, { items: Item[]; context: Context }> | null;
  /** the automaton of the children of each element */
  starts: Map<ElementItem, State>;
}

interface State {
  number: number;
  isEnd: boolean;
  /** where in which template it is: what is more than that would stand there */
  component: Component;
  offset: number;
  /** worked out when the state is first entered, best first */
  moves: () => Move[];
}

/** To another state: by itself, with a node that an item stands for, with a use in the page, or with a node that is poured in. */
type Move =
  | { kind: 'free'; to: State; step: Step | null }
  | { kind: 'node'; to: State; item: NodeItem; context: Context }
  | { kind: 'given'; to: State; item: UseItem }
  | { kind: 'slot'; to: State; item: SlotItem }
  | { kind: 'any'; to: State }
  | { kind: 'slotted'; to: State; item: SlotItem }
  /** what differs: a node that is more, or an item that is missing */
  | { kind: 'more'; to: State }
  | { kind: 'missing'; to: State; item: NodeItem; context: Context };

/** The way so far, its last step first. */
type Way = { before: Way; step: Step } | null;

/** What is aligned: the nodes of one parent. */
interface Row {
  nodes: Child[];
  /** the first that is aligned */
  first: number;
  parent: Element;
  /** the nodes may go on after the items end */
  goesOn: boolean;
  /** how many differences are allowed */
  allowed: number;
}

/** How far a way has come. */
interface Place {
  at: number;
  way: Way;
  /** the first node of the slot that is open */
  slotFrom: number;
  /** how many differences are still allowed */
  left: number;
}

/** How one node goes with an item. */
interface Compared {
  steps: Step[];
  left: number;
}

export interface Alignment {
  steps: Step[];
  /** how many of the nodes it takes */
  taken: number;
  /** how many of the allowed differences it does without */
  left: number;
}

/** Aligns fragments with the templates of components. */
export class Aligner {
  private states = 0;

  constructor(
    private readonly itemsOf: (component: Component) => Item[],
    private readonly occurrence: Occurrence,
    private readonly isComponent: (name: string) => boolean,
  ) {}

  /**
   * Aligns siblings from one of them on, the fragment's root or the first of a run, with a component's template.
   * @param nodes without white space that may be indentation
   * @param allowed how many differences there may be: each is a step then
   * @returns null where they do not go together
   */
  align(component: Component, nodes: Child[], first: number, allowed: number): Alignment | null {
    const context: Context = { component, poured: null, starts: new Map() };
    const end = this.state(component, component.end, () => [], true);
    const start = this.chain(this.itemsOf(component), context, end);
    return this.run(start, { nodes, first, parent: nodes[first]!.parent as Element, goesOn: true, allowed });
  }

  private state(component: Component, offset: number, moves: () => Move[], isEnd = false): State {
    let known: Move[] | null = null;
    return { number: this.states++, isEnd, component, offset, moves: () => (known ??= moves()) };
  }

  /** The states of items one after the other. */
  private chain(items: Item[], context: Context, to: State): State {
    return items.reduceRight((next, item) => this.stateOf(item, context, next), to);
  }

  private stateOf(item: Item, context: Context, to: State): State {
    const free = (step: Step | null, next: State): Move => ({ kind: 'free', to: next, step });
    const state = (moves: () => Move[]) => this.state(context.component, rangeOf(item)[0], moves);
    const after = (moves: () => Move[]) => this.state(context.component, rangeOf(item)[1], moves);
    switch (item.kind) {
      case 'block':
        // white space alone tells nothing here: what is told by other places decides, and the proof
        if (item.children.length === 0) return to;
        return state(() => [
          free({ kind: 'block', item, taken: true }, this.chain(item.children, context, to)),
          free({ kind: 'block', item, taken: false }, to),
        ]);
      case 'each': {
        const loop: State = state(() => [
          free({ kind: 'record', item }, this.chain(item.children, context, loop)),
          free({ kind: 'listed' }, to),
        ]);
        return state(() => [free({ kind: 'list', item }, loop)]);
      }
      case 'slot': {
        if (context.poured === null) {
          // as little as leaves the rest to the rest
          const inside: State = state(() => [
            { kind: 'slotted', to, item },
            { kind: 'any', to: inside },
          ]);
          const open: Move = { kind: 'slot', to: inside, item };
          // what stands there anyway need not be poured in
          return state(() =>
            item.children.length === 0 ? [open] : [free(null, this.chain(item.children, context, to)), open],
          );
        }
        const poured = context.poured.get(item.name);
        if (poured === undefined) return this.chain(item.children, context, to);
        const unpoured = after(() => [free({ kind: 'unpoured' }, to)]);
        return state(() => [free({ kind: 'poured' }, this.chain(poured.items, poured.context, unpoured))]);
      }
      case 'use': {
        const { component, slots } = item;
        const used = after(() => [free({ kind: 'used' }, to)]);
        const poured = new Map([...slots].map(([name, items]) => [name, { items, context }]));
        const within = () => this.chain(this.itemsOf(component), { component, poured, starts: new Map() }, used);
        return state(() => [{ kind: 'given', to, item }, free({ kind: 'use', item }, within())]);
      }
      default:
        return state(() => [{ kind: 'node', to, item, context }]);
    }
  }

  private run(start: State, row: Row): Alignment | null {
    const { nodes, goesOn, first } = row;
    const seen = new Set<number>();
    const open: { move: Move; place: Place }[] = [];
    const enter = (state: State, place: Place): Alignment | null => {
      const { at, way, left } = place;
      if (state.isEnd && (goesOn || at === nodes.length)) return { steps: stepsOf(way), taken: at - first, left };
      const key = (state.number * (nodes.length + 1) + at) * (row.allowed + 1) + left;
      if (seen.has(key)) return null;
      seen.add(key);
      // what differs is tried last
      const node = nodes[at];
      if (left > 0 && node !== undefined) open.push({ move: { kind: 'more', to: state }, place });
      for (const move of state.moves().toReversed()) {
        if (left > 0 && move.kind === 'node') open.push({ move: { ...move, kind: 'missing' }, place });
        open.push({ move, place });
      }
      return null;
    };
    let found = enter(start, { at: first, way: null, slotFrom: first, left: row.allowed });
    while (found === null && open.length > 0) {
      const { move, place } = open.pop()!;
      const next = this.take(move, place, row);
      for (const each of next) found ??= enter(move.to, each);
    }
    return found;
  }

  /** Where a move leads from a place: nowhere, or with a node that differs to one more place than without. */
  private take(move: Move, place: Place, row: Row): Place[] {
    const { at, way, slotFrom, left } = place;
    const node = row.nodes[at];
    const and = (step: Step | null): Way => (step === null ? way : { before: way, step });
    switch (move.kind) {
      case 'free':
        return [{ ...place, way: and(move.step) }];
      case 'slot':
        return [{ ...place, slotFrom: at }];
      case 'slotted':
        return [{ ...place, way: and(this.slotStep(move.item, row, slotFrom, at)) }];
      case 'missing': {
        const { component } = move.context;
        const [start, end] = rangeOf(move.item);
        const difference: Difference = { kind: 'missing', component, start, end, found: null };
        return [{ ...place, way: and({ kind: 'differs', difference }), left: left - 1 }];
      }
    }
    if (node === undefined) return [];
    const taken = { ...place, at: at + 1 };
    switch (move.kind) {
      case 'any':
        return [taken];
      case 'more': {
        const { component, offset } = move.to;
        const found = this.occurrence.page.source.slice(node.start, node.end);
        const difference: Difference = { kind: 'more', component, start: offset, end: offset, at: node.start, found };
        return [{ ...taken, way: and({ kind: 'differs', difference }), left: left - 1 }];
      }
      case 'given': {
        const step = this.given(move.item, node);
        return step === null ? [] : [{ ...taken, way: and(step) }];
      }
      case 'node': {
        for (let allowed = 0; allowed <= left; allowed++) {
          const found = this.node(move.item, move.context, node, allowed);
          if (found === null) continue;
          const steps = found.steps.reduce<Way>((before, step) => ({ before, step }), way);
          return [{ ...taken, way: steps, left: left - (allowed - found.left) }];
        }
        return [];
      }
    }
  }

  private node(item: NodeItem, context: Context, node: Child, allowed: number): Compared | null {
    if (item.kind === 'comment')
      return node.kind === 'comment' && node.value === item.value ? { steps: [], left: allowed } : null;
    if (item.kind === 'text') return node.kind === 'text' ? this.text(item, context, node, allowed) : null;
    return node.kind === 'element' ? this.element(item, context, node, allowed) : null;
  }

  private text(item: TextItem, { component }: Context, node: Text, allowed: number): Compared | null {
    if (item.around !== null && item.around !== spacesAround(node.value)) return null;
    const source = this.occurrence.page.source.slice(node.start, node.end);
    const raw = item.around === null ? source : source.trim();
    const plain = (text: string) => (item.around === null ? text : foldIndentation(text.trim()));
    const isSame = item.constant === null ? couldBe(item.segments, raw) : plain(item.constant) === plain(node.value);
    if (isSame) return { steps: [{ kind: 'text', item, raw }], left: allowed };
    if (allowed === 0) return null;
    const { start, end } = item;
    return { steps: [differs({ kind: 'text', component, start, end, found: raw })], left: allowed - 1 };
  }

  private element(item: ElementItem, context: Context, node: Element, allowed: number): Compared | null {
    if (item.element.tag !== node.tag || item.element.ns !== node.ns) return null;
    const attrs = this.attributes(item, context, node, allowed);
    if (attrs === null) return null;
    let start = context.starts.get(item);
    if (start === undefined) {
      const end = this.state(context.component, contentEnd(item.element), () => [], true);
      context.starts.set(item, (start = this.chain(item.children, context, end)));
    }
    const row = {
      nodes: item.shows ? node.children : solid(node.children),
      first: 0,
      parent: node,
      goesOn: false,
      allowed: attrs.left,
    };
    const found = this.run(start, row);
    if (found === null) return null;
    const steps = [...attrs.differences.map(differs), ...found.steps];
    return { steps: [{ kind: 'element', item, attrs: attrs.found, steps }], left: found.left };
  }

  /** The attributes with placeholders; null where more than is allowed differ from the template's. */
  private attributes(
    { attrs, element }: ElementItem,
    { component }: Context,
    node: Element,
    allowed: number,
  ): { found: AttrFound[]; differences: Difference[]; left: number } | null {
    const { page } = this.occurrence;
    const found: AttrFound[] = [];
    const differences: Difference[] = [];
    let there = 0;
    for (const item of attrs) {
      const { name } = item;
      const other = node.attrs.find((attr) => attr.name === name);
      if (other !== undefined) there++;
      const raw = other === undefined ? null : valueOf(page.source, other).raw;
      const moved = this.moved(raw, item, component);
      const isSame =
        item.constant !== null && item.url === null
          ? other?.value === item.constant
          : (moved !== null || raw === null) && couldBe(item.segments, moved);
      if (!isSame) {
        const { start, end } = item.attr;
        differences.push({ kind: 'attribute', name, component, start, end, found: raw });
      } else if (item.constant === null) found.push({ item, raw: moved });
      if (differences.length > allowed) return null;
    }
    if (there < node.attrs.length)
      for (const attr of node.attrs) {
        const { name } = attr;
        if (attrs.some((item) => item.name === name)) continue;
        const { raw } = valueOf(page.source, attr);
        const end = element.openEnd;
        differences.push({ kind: 'more-attribute', name, component, start: end, end, found: raw });
        if (differences.length > allowed) return null;
      }
    return { found, differences, left: allowed - differences.length };
  }

  /** A raw value as the component file would write it; null where it cannot be written there. */
  private moved(raw: string | null, { url, segments: [first] }: AttrItem, { path }: Component): string | null {
    const { folder } = this.occurrence;
    if (raw === null || url === null || folder === null) return raw;
    const moved = templateUrls(raw, url, folder, folderOf(path));
    if (moved === null || typeof first !== 'string') return moved;
    // the dot is left out where the URL climbs, and a turn where it is on the way
    const isDotted = first.startsWith('./../') && raw.startsWith('../');
    const turned = turnedAs(isDotted ? `./${moved}` : moved, first);
    return turned === moved || moveUrls(turned, url, folderOf(path), folder) === raw ? turned : moved;
  }

  private given(item: UseItem, node: Child): Step | null {
    if (node.kind !== 'element' || !isUse(node, this.isComponent)) return null;
    const name = node.tag === 'template' ? node.attrs.find((attr) => attr.name === 'use')?.value : node.tag;
    return name === item.component.name ? { kind: 'given', item, element: node } : null;
  }

  /** What a slot takes of the source: the white space around it too, where the template has none. */
  private slotStep(item: SlotItem, { nodes, parent }: Row, from: number, to: number): Step {
    const { source } = this.occurrence.page;
    let start = from === 0 ? parent.openEnd : nodes[from - 1]!.end;
    let end = to < nodes.length ? nodes[to]!.start : contentEnd(parent);
    const space = source.slice(start, end);
    if (item.lead) start += space.length - space.trimStart().length;
    if (item.trail) end = Math.max(start, end - (space.length - space.trimEnd().length));
    return { kind: 'slot', item, around: parent, start, end };
  }
}

function differs(difference: Difference): Step {
  return { kind: 'differs', difference };
}

function stepsOf(way: Way): Step[] {
  const steps: Step[] = [];
  for (let at = way; at !== null; at = at.before) steps.push(at.step);
  return steps.reverse();
}
