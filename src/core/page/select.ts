/** CSS selectors over our tree: css-select with an adapter. (Selectors Level 4) */
import { type Options, selectAll } from 'css-select';
import { Problem } from '../errors.js';
import { attrOf, type Child, type Element, type Node, type Parent, textOf } from './tree.js';

type Adapter = NonNullable<Options<Node, Element>['adapter']>;

function childrenOf(node: Node): Child[] {
  return node.kind === 'element' || node.kind === 'root' ? node.children : [];
}

const adapter: Adapter = {
  isTag: (node): node is Element => node.kind === 'element',
  getAttributeValue: attrOf,
  hasAttrib: (element, name) => attrOf(element, name) !== undefined,
  getChildren: childrenOf,
  getName: ({ tag }) => tag,
  getParent: ({ parent }) => parent,
  getSiblings: (node) => (node.parent === null ? [node] : childrenOf(node.parent)),
  getText: textOf,
  removeSubsets: (nodes) => {
    const all = new Set(nodes);
    const isBelow = (node: Node) => {
      for (let at = node.parent; at !== null; at = at.parent) if (all.has(at)) return true;
      return false;
    };
    return [...all].filter((node) => !isBelow(node));
  },
};

/**
 * All elements below `node` that a selector matches, in document order; `:scope` is `node`.
 * @throws Problem (exit 2) for what is no selector
 */
export function selectIn(node: Parent, selector: string): Element[] {
  try {
    if (/[>+~]\s*(,|$)/.test(selector)) throw new Error('something must follow the combinator');
    return selectAll<Node, Element>(selector, node.children, { adapter, context: node });
  } catch (error) {
    throw new Problem(`"${selector}" is no CSS selector: ${(error as Error).message}`, {
      hint: 'write it as in a stylesheet, in quotes: --select ".sailing > h3"',
    });
  }
}
