/**
 * Aligns a fragment with a template, child by child: an automaton runs over the children of each element, whose states
 * are the places in the template, and which takes the first way in the order of preference that leads to the end. No
 * state is entered twice at one child, so the work is linear in the children, and no block is tried with and without.
 * What names hold is no concern here: see `match/solve`.
 */
import type { Component } from '../component/model.js';
import { valueOf } from '../page/attribute.js';
import { foldIndentation } from '../page/same.js';
import { spacesAround } from '../page/space.js';
import type { Child, Element, Text } from '../page/tree.js';
import { folderOf, moveUrls } from '../page/url.js';
import { isUse } from '../template/form.js';
import type { Occurrence } from '../fragments/occurrence.js';
import {
  type AttrItem,
  type BlockItem,
  type EachItem,
  type ElementItem,
  type Item,
  type NodeItem,
  type SlotItem,
  solid,
  type TextItem,
  type UseItem,
} from './items.js';
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
  | { kind: 'given'; item: UseItem; element: Element };

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
  | { kind: 'slotted'; to: State; item: SlotItem };

/** The way so far, its last step first. */
type Way = { before: Way; step: Step } | null;

/** What is aligned, and the nodes of one parent at a time. */
interface Row {
  nodes: Child[];
  parent: Element;
  /** the nodes may go on after the items end */
  goesOn: boolean;
}

export interface Alignment {
  steps: Step[];
  /** how many of the nodes it takes */
  taken: number;
}

/** Aligns fragments with the templates of components. */
export class Aligner {
  private states = 0;
  private readonly end: State = this.state(() => []);

  constructor(
    private readonly itemsOf: (component: Component) => Item[],
    private readonly occurrence: Occurrence,
    private readonly isComponent: (name: string) => boolean,
  ) {}

  /**
   * Aligns siblings from one of them on, the fragment's root or the first of a run, with a component's template.
   * @param nodes without white space that may be indentation
   * @returns null where they do not go together
   */
  align(component: Component, nodes: Child[], at: number): Alignment | null {
    const context: Context = { component, poured: null, starts: new Map() };
    const start = this.chain(this.itemsOf(component), context, this.end);
    return this.run(start, { nodes, parent: nodes[at]!.parent as Element, goesOn: true }, at);
  }

  private state(moves: () => Move[]): State {
    let known: Move[] | null = null;
    return { number: this.states++, moves: () => (known ??= moves()) };
  }

  /** The states of items one after the other. */
  private chain(items: Item[], context: Context, to: State): State {
    return items.reduceRight((next, item) => this.stateOf(item, context, next), to);
  }

  private stateOf(item: Item, context: Context, to: State): State {
    const free = (step: Step | null, next: State): Move => ({ kind: 'free', to: next, step });
    switch (item.kind) {
      case 'block':
        return this.state(() => [
          free({ kind: 'block', item, taken: true }, this.chain(item.children, context, to)),
          free({ kind: 'block', item, taken: false }, to),
        ]);
      case 'each': {
        const loop: State = this.state(() => [
          free({ kind: 'record', item }, this.chain(item.children, context, loop)),
          free({ kind: 'listed' }, to),
        ]);
        return this.state(() => [free({ kind: 'list', item }, loop)]);
      }
      case 'slot': {
        if (context.poured === null) {
          // as little as leaves the rest to the rest
          const inside: State = this.state(() => [
            { kind: 'slotted', to, item },
            { kind: 'any', to: inside },
          ]);
          return this.state(() => [{ kind: 'slot', to: inside, item }]);
        }
        const poured = context.poured.get(item.name);
        if (poured === undefined) return this.chain(item.children, context, to);
        const after = this.state(() => [free({ kind: 'unpoured' }, to)]);
        return this.state(() => [free({ kind: 'poured' }, this.chain(poured.items, poured.context, after))]);
      }
      case 'use': {
        const { component, slots } = item;
        const after = this.state(() => [free({ kind: 'used' }, to)]);
        const poured = new Map([...slots].map(([name, items]) => [name, { items, context }]));
        const within = () => this.chain(this.itemsOf(component), { component, poured, starts: new Map() }, after);
        return this.state(() => [{ kind: 'given', to, item }, free({ kind: 'use', item }, within())]);
      }
      default:
        return this.state(() => [{ kind: 'node', to, item, context }]);
    }
  }

  private run(start: State, row: Row, first = 0): Alignment | null {
    const { nodes, goesOn } = row;
    const seen = new Set<number>();
    const open: { move: Move; at: number; way: Way; from: number }[] = [];
    const enter = (state: State, at: number, way: Way, from: number): Alignment | null => {
      if (state === this.end && (goesOn || at === nodes.length)) return { steps: stepsOf(way), taken: at - first };
      const key = state.number * (nodes.length + 1) + at;
      if (seen.has(key)) return null;
      seen.add(key);
      for (const move of state.moves().toReversed()) open.push({ move, at, way, from });
      return null;
    };
    let found = enter(start, first, null, first);
    while (found === null && open.length > 0) {
      const { move, at, way, from } = open.pop()!;
      const node = nodes[at];
      const and = (step: Step | null): Way => (step === null ? way : { before: way, step });
      if (move.kind === 'free') found = enter(move.to, at, and(move.step), from);
      else if (move.kind === 'slot') found = enter(move.to, at, way, at);
      else if (move.kind === 'slotted') found = enter(move.to, at, and(this.slotStep(move.item, row, from, at)), from);
      else if (node === undefined) continue;
      else if (move.kind === 'any') found = enter(move.to, at + 1, way, from);
      else {
        const step = move.kind === 'node' ? this.node(move.item, move.context, node) : this.given(move.item, node);
        if (step !== null) found = enter(move.to, at + 1, step.kind === 'comment' ? way : and(step), from);
      }
    }
    return found;
  }

  private node(item: NodeItem, context: Context, node: Child): Step | { kind: 'comment' } | null {
    if (item.kind === 'comment')
      return node.kind === 'comment' && node.value === item.value ? { kind: 'comment' } : null;
    if (item.kind === 'text') return node.kind === 'text' ? this.text(item, node) : null;
    return node.kind === 'element' ? this.element(item, context, node) : null;
  }

  private text(item: TextItem, node: Text): Step | null {
    if (item.around !== spacesAround(node.value)) return null;
    const raw = this.occurrence.page.source.slice(node.start, node.end).trim();
    const isSame =
      item.constant === null
        ? couldBe(item.segments, raw)
        : foldIndentation(item.constant.trim()) === foldIndentation(node.value.trim());
    return isSame ? { kind: 'text', item, raw } : null;
  }

  private element(item: ElementItem, context: Context, node: Element): Step | null {
    if (item.element.tag !== node.tag || item.element.ns !== node.ns) return null;
    const attrs = this.attributes(item, context, node);
    if (attrs === null) return null;
    let start = context.starts.get(item);
    if (start === undefined) context.starts.set(item, (start = this.chain(item.children, context, this.end)));
    const found = this.run(start, { nodes: solid(node.children), parent: node, goesOn: false });
    return found && { kind: 'element', item, attrs, steps: found.steps };
  }

  /** The attributes with placeholders; null where another differs, or an element has more. */
  private attributes({ attrs }: ElementItem, { component }: Context, node: Element): AttrFound[] | null {
    const { page, folder } = this.occurrence;
    const found: AttrFound[] = [];
    let there = 0;
    for (const item of attrs) {
      const other = node.attrs.find(({ name }) => name === item.name);
      if (other !== undefined) there++;
      if (item.constant !== null && item.url === null) {
        if (other?.value !== item.constant) return null;
        continue;
      }
      const raw = other === undefined ? null : valueOf(page.source, other).raw;
      const moves = raw !== null && item.url !== null && folder !== null;
      const moved = moves ? moveUrls(raw, item.url!, folder, folderOf(component.path)) : raw;
      if ((moved === null && raw !== null) || !couldBe(item.segments, moved)) return null;
      found.push({ item, raw: moved });
    }
    return there === node.attrs.length ? found : null;
  }

  private given(item: UseItem, node: Child): Step | null {
    if (node.kind !== 'element' || !isUse(node, this.isComponent)) return null;
    const name = node.tag === 'template' ? node.attrs.find((attr) => attr.name === 'use')?.value : node.tag;
    return name === item.component.name ? { kind: 'given', item, element: node } : null;
  }

  /** What a slot takes of the source: the white space around it too, where the template has none. */
  private slotStep(item: SlotItem, { nodes, parent }: Row, from: number, to: number): Step {
    const { source } = this.occurrence.page;
    const around = parent;
    let start = from === 0 ? parent.openEnd : nodes[from - 1]!.end;
    let end = to < nodes.length ? nodes[to]!.start : parent.closeStart >= 0 ? parent.closeStart : parent.end;
    const space = source.slice(start, end);
    if (item.lead) start += space.length - space.trimStart().length;
    if (item.trail) end = Math.max(start, end - (space.length - space.trimEnd().length));
    return { kind: 'slot', item, around, start, end };
  }
}

function stepsOf(way: Way): Step[] {
  const steps: Step[] = [];
  for (let at = way; at !== null; at = at.before) steps.push(at.step);
  return steps.reverse();
}
