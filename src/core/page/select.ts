/** CSS selectors over our tree: css-select with an adapter. (Selectors Level 4) */
import { compile, type Options } from 'css-select';
import { Problem } from '../errors.js';
import { attrOf, type Child, classWords, type Element, elementsOf, type Node, type Parent, textOf } from './tree.js';

type Adapter = NonNullable<Options<Node, Element>['adapter']>;

function childrenOf(node: Node): Child[] {
  return node.kind === 'element' || node.kind === 'root' ? node.children : [];
}

/** By list of children, the element before each element in it; lists are replaced when a tree changes, never edited. */
const elementsBefore = new WeakMap<readonly Child[], ReadonlyMap<Node, Element | null>>();

function previousElement(node: Node): Element | null {
  if (node.parent === null) return null;
  const { children } = node.parent;
  let known = elementsBefore.get(children);
  if (known === undefined) {
    const elements = children.filter((child): child is Element => child.kind === 'element');
    known = new Map<Node, Element | null>(elements.map((each, i) => [each, elements[i - 1] ?? null]));
    elementsBefore.set(children, known);
  }
  return known.get(node) ?? null;
}

const adapter: Adapter = {
  isTag: (node): node is Element => node.kind === 'element',
  getAttributeValue: (element, name) => {
    const value = attrOf(element, name);
    // what a placeholder adds to a class is not known
    return name === 'class' && value?.includes('{{') ? classWords(element).join(' ') : value;
  },
  hasAttrib: (element, name) => attrOf(element, name) !== undefined,
  getChildren: childrenOf,
  // SVG has names of mixed case
  getName: ({ tag }) => tag.toLowerCase(),
  getParent: ({ parent }) => parent,
  getSiblings: (node) => (node.parent === null ? [node] : childrenOf(node.parent)),
  prevElementSibling: previousElement,
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
 * Decides for one element at a time whether a selector matches it, on the tree as it is when asked.
 * @throws Error for what is no selector
 */
export function matcherOf(selector: string): (element: Element) => boolean {
  return compile<Node, Element>(selector, { adapter, cacheResults: false });
}

/**
 * All elements below `node` that a selector matches, in document order; `:scope` is `node`. What stands in a `template` is
 * among them: blocks of components, and what is poured into uses.
 * @throws Problem (exit 2) for what is no selector
 */
export function selectIn(node: Parent, selector: string): Element[] {
  try {
    if (/[>+~]\s*(,|$)/.test(selector)) throw new Error('something must follow the combinator');
    const matches = compile<Node, Element>(selector, { adapter }, node);
    return elementsOf(node).filter((element) => element !== node && matches(element));
  } catch (error) {
    throw new Problem(`"${selector}" is no CSS selector: ${(error as Error).message}`, {
      hint: 'write it as in a stylesheet, in quotes: --select ".sailing > h3"',
    });
  }
}
