/**
 * Builds our tree straight from parse5's events through its tree-adapter interface, so that no second tree is made.
 * The content of a `template` is the element itself.
 */
import type { Token, TreeAdapter, TreeAdapterTypeMap } from 'parse5';
import {
  newElement,
  type Attr,
  type Child,
  type Comment,
  type Doctype,
  type Element,
  type Node,
  type Parent,
  type Root,
  type Text,
} from './tree.js';

type Map = TreeAdapterTypeMap<Node, Parent, Child, Root, Root, Element, Comment, Text, Element, Doctype>;

function root(): Root {
  return { kind: 'root', mode: 'no-quirks', children: [], parent: null, start: 0, end: -1 };
}

function insert(parent: Parent, node: Child, before: Child | null): void {
  const siblings = parent.children;
  if (before === null) siblings.push(node);
  else siblings.splice(siblings.lastIndexOf(before), 0, node);
  node.parent = parent;
}

function toAttr(attr: Token.Attribute, once: (word: string) => string): Attr {
  const name = attr.prefix ? `${attr.prefix}:${attr.name}` : attr.name;
  return { name: once(name), value: once(attr.value), start: -1, end: -1 };
}

/** All elements without attributes share one list. */
const NO_ATTRS = Object.freeze<Attr[]>([]) as Attr[];

/** Parts of strings that are shorter are strings of their own in V8. */
const SHORT = 13;

function elementOf(tag: string, ns: string, attrs: Token.Attribute[], once: (word: string) => string): Element {
  const own = attrs.length === 0 ? NO_ATTRS : attrs.map((attr) => toAttr(attr, once));
  return newElement(tag, ns, own);
}

function textNode(value: string): Text {
  return { kind: 'text', value, parent: null, start: -1, end: -1 };
}

/** The adapter for one source: what the source holds as it is, is a part of it, and equal words are one string. */
export function adapterFor(source: string): TreeAdapter<Map> {
  const words = new globalThis.Map<string, string>();
  const once = (word: string) => {
    const known = words.get(word);
    if (known === undefined) words.set(word, word);
    return known ?? word;
  };
  return {
    ...adapter,
    createElement: (tag, ns, attrs) => elementOf(once(tag), ns, attrs, once),
    adoptAttributes(recipient, attrs) {
      const known = new Set(recipient.attrs.map((attr) => attr.name));
      const added = attrs.filter(({ name }) => !known.has(name)).map((attr) => toAttr(attr, once));
      recipient.attrs = [...recipient.attrs, ...added];
    },
    setNodeSourceCodeLocation(node, location) {
      adapter.setNodeSourceCodeLocation(node, location);
      if (node.kind !== 'text' || location === null) return;
      const raw = source.slice(location.startOffset, location.endOffset);
      // what is short would be copied, not be a part of the source
      if (raw === node.value) node.value = raw.length < SHORT ? once(raw) : raw;
    },
  };
}

/** What is the same for every source. */
const adapter: Omit<TreeAdapter<Map>, 'createElement' | 'adoptAttributes'> = {
  createDocument: root,
  createDocumentFragment: root,
  createCommentNode: (value) => ({ kind: 'comment', value, parent: null, start: -1, end: -1 }),
  createTextNode: textNode,
  appendChild: (parent, node) => insert(parent, node, null),
  insertBefore: (parent, node, before) => insert(parent, node, before),
  insertText(parent, value) {
    const last = parent.children.at(-1);
    if (last?.kind === 'text') last.value += value;
    else insert(parent, textNode(value), null);
  },
  insertTextBefore(parent, value, before) {
    const previous = parent.children[parent.children.lastIndexOf(before) - 1];
    if (previous?.kind === 'text') previous.value += value;
    else insert(parent, textNode(value), before);
  },
  setTemplateContent: () => undefined,
  // parse5 does nothing with it but put nodes into it
  getTemplateContent: (template) => template as never,
  setDocumentType(document, name, publicId, systemId) {
    const present = document.children.find((child) => child.kind === 'doctype');
    if (present) Object.assign(present, { name, publicId, systemId });
    else insert(document, { kind: 'doctype', name, publicId, systemId, parent: null, start: -1, end: -1 }, null);
  },
  setDocumentMode(document, mode) {
    document.mode = mode;
  },
  getDocumentMode: (document) => document.mode as never,
  detachNode(node) {
    if (node.parent === null) return;
    const siblings = node.parent.children;
    siblings.splice(siblings.indexOf(node), 1);
    node.parent = null;
  },
  getFirstChild: (node) => node.children[0] ?? null,
  getChildNodes: (node) => node.children,
  getParentNode: (node) => node.parent,
  getAttrList: (element) => element.attrs.map(({ name, value }) => ({ name, value })),
  getTagName: (element) => element.tag,
  getNamespaceURI: (element) => element.ns as never,
  getTextNodeContent: (node) => node.value,
  getCommentNodeContent: (node) => node.value,
  getDocumentTypeNodeName: (node) => node.name,
  getDocumentTypeNodePublicId: (node) => node.publicId,
  getDocumentTypeNodeSystemId: (node) => node.systemId,
  isTextNode: (node): node is Text => node.kind === 'text',
  isCommentNode: (node): node is Comment => node.kind === 'comment',
  isDocumentTypeNode: (node): node is Doctype => node.kind === 'doctype',
  isElementNode: (node): node is Element => node.kind === 'element',
  setNodeSourceCodeLocation(node, location) {
    if (location === null) return;
    node.start = location.startOffset;
    node.end = location.endOffset;
    if (node.kind !== 'element') return;
    node.openEnd = location.startTag?.endOffset ?? location.endOffset;
    const ranges = location.attrs;
    if (ranges === undefined) return;
    for (const attr of node.attrs) {
      // names such as viewBox regain their case after the tokenizer noted the range
      const range = ranges[attr.name] ?? ranges[attr.name.toLowerCase()];
      if (range === undefined) continue;
      attr.start = range.startOffset;
      attr.end = range.endOffset;
    }
  },
  // parse5 asks only whether there is a location, and whether that has an end tag
  getNodeSourceCodeLocation(node) {
    if (node.start < 0) return null;
    return (node.kind === 'element' && node.closeStart >= 0 ? CLOSED : OPEN) as never;
  },
  updateNodeSourceCodeLocation(node, location) {
    if (location.endOffset !== undefined) node.end = location.endOffset;
    if (node.kind !== 'element' || location.endTag === undefined) return;
    node.closeStart = location.endTag.startOffset;
    // what is complete takes no more room than it needs
    node.children = node.children.slice();
  },
};

const OPEN = {};
const CLOSED = { endTag: {} };
