/** The module that all elements share, as text: for modules, and for the one classic script of all. */

/** Comments and an attribute by which an element that was written into the page beforehand knows its parts again. */
export const PRERENDERED = 'data-prerendered';
/** Names that the shared class has, which no property of an element may take. */
export const OWN_MEMBERS = ['render', 'rootAttributes'];
/** Names that modules import. */
export const BASE_NAMES = [
  'attribute',
  'define',
  'flagOf',
  'changeList',
  'listOf',
  'markup',
  'numberOf',
  'records',
  'reflect',
  'relativeUrl',
  'SiteElement',
];

/** Its script lies in a folder of the site's root. */
export function baseModule(): string {
  return `const root = new URL('..', import.meta.url).href;

/** Markup as text, in which values are escaped. */
class Markup {
  constructor(text) {
    this.text = text;
  }
}

function textOf(value) {
  if (value instanceof Markup) return value.text;
  if (Array.isArray(value)) return value.map(textOf).join('');
  if (value === null || value === undefined) return '';
  return String(value).replace(/[&<>"\\r]/g, (char) => \`&#\${char.charCodeAt(0)};\`);
}

/** Markup from a template literal: a value in it is text, unless it is markup itself. */
export function markup(strings, ...values) {
  return new Markup(strings.map((part, i) => (i === 0 ? part : textOf(values[i - 1]) + part)).join(''));
}

/** An attribute, left out when the value is null or false, and without a value when it is true. */
export function attribute(name, value) {
  if (value === null || value === undefined || value === false) return '';
  return new Markup(value === true ? \` \${name}\` : \` \${name}="\${textOf(value)}"\`);
}

/** A list for an element in the markup. */
export function records(name, list) {
  if (list === null || list === undefined) return '';
  const json = JSON.stringify(list).replaceAll('<', '\\\\u003c');
  return new Markup(\`<script type="application/json" slot="\${textOf(name)}">\${json}</script>\`);
}

/**
 * A path from the site's root, as a URL that is relative to this page: a dot before it is kept where it does not climb, and
 * one within is where the URL turns that climbs further than it has to.
 */
export function relativeUrl(target) {
  const page = document.baseURI.replace(/[?#].*$/s, '');
  if (!page.startsWith(root)) return new URL(target, root).href;
  const end = target.search(/[?#]/);
  const turn = target.slice(0, end < 0 ? undefined : end).indexOf('/./');
  if (turn > 0) return relativeUrl(target.slice(0, turn + 1)).replace(/^\\.\\/$/, '') + target.slice(turn + 3);
  const isDotted = target.startsWith('./');
  const path = target.slice(isDotted ? 2 : 0, end < 0 ? undefined : end);
  const from = page.slice(root.length).split('/').slice(0, -1).map(decodeURIComponent);
  const to = path.split('/');
  const file = to.pop();
  let common = 0;
  while (common < from.length && common < to.length && from[common] === to[common]) common++;
  const url = [...from.slice(common).map(() => '..'), ...to.slice(common), file].join('/');
  const isPlain = url !== '' && !/^[a-z][a-z0-9+.-]*:/i.test(url) && (!isDotted || url.startsWith('../'));
  return (isPlain ? url : \`./\${url}\`) + (end < 0 ? '' : target.slice(end));
}

/** Sets an attribute, or takes it away for null. */
export function reflect(element, name, value) {
  if (value === null || value === undefined) element.removeAttribute(name);
  else element.setAttribute(name, String(value));
}

export function flagOf(element, name) {
  return element.hasAttribute(name) && element.getAttribute(name) !== 'false';
}

export function numberOf(element, name, standard = null) {
  const text = element.getAttribute(name);
  return text === null ? standard : Number(text);
}

const states = new WeakMap();

export function listOf(element, name) {
  return states.get(element)?.lists[name] ?? null;
}

export function changeList(element, name, list) {
  const state = states.get(element);
  state.lists[name] = list;
  state.draw();
}

export function define(name, element) {
  if (customElements.get(name) === undefined) customElements.define(name, element);
}

/** An element whose content stands in the page itself, drawn from its attributes, its lists and what is poured in. */
export class SiteElement extends HTMLElement {
  constructor() {
    super();
    states.set(this, { slots: null, lists: {}, dress: {}, waits: false, draw: () => this.attributeChangedCallback() });
  }

  connectedCallback() {
    // one that is moved has what it needs
    if (states.get(this).slots !== null) return;
    if (isParsed(this)) start(this);
    else document.addEventListener('DOMContentLoaded', () => this.isConnected && start(this), { once: true });
  }

  attributeChangedCallback() {
    const state = states.get(this);
    if (state.slots === null || state.waits) return;
    state.waits = true;
    queueMicrotask(() => {
      state.waits = false;
      draw(this);
    });
  }
}

/** True when the parser has read all that stands in the element. */
function isParsed(element) {
  if (document.readyState !== 'loading') return true;
  for (let node = element; node !== null; node = node.parentNode) if (node.nextSibling !== null) return true;
  return false;
}

function start(element) {
  const state = states.get(element);
  if (state.slots !== null) return;
  state.slots = {};
  const number = element.getAttribute('${PRERENDERED}');
  // properties that were set before the element was defined
  const early = Object.entries(Object.getOwnPropertyDescriptors(Object.getPrototypeOf(element)))
    .filter(([name, { set }]) => set !== undefined && Object.hasOwn(element, name))
    .map(([name]) => {
      const value = element[name];
      delete element[name];
      return [name, value];
    });
  if (number === null) {
    collect(element, state);
    for (const [name, value] of early) element[name] = value;
    draw(element);
    return;
  }
  adopt(element, state, number);
  element.removeAttribute('${PRERENDERED}');
  state.dress = element.rootAttributes?.() ?? {};
  for (const [name, value] of early) element[name] = value;
}

/** Reads what stands between the tags: lists, parts for named slots, and the rest. */
function collect(element, state) {
  const rest = [];
  let named = false;
  for (const child of [...element.childNodes]) {
    const slot = child instanceof Element ? child.getAttribute('slot') : null;
    if (slot !== null && child instanceof HTMLTemplateElement) state.slots[slot || 'default'] = [...child.content.childNodes];
    else if (slot !== null && child instanceof HTMLScriptElement) state.lists[slot] = listFrom(child.textContent, element);
    else {
      rest.push(child);
      continue;
    }
    named = true;
  }
  const isBlank = rest.every((node) => node instanceof Text && node.data.trim() === '');
  if (rest.length > 0 && !(isBlank && named)) state.slots.default = rest;
}

function listFrom(json, element) {
  try {
    return JSON.parse(json, (key, value) => (isRecord(value) ? camelCased(value) : value));
  } catch (error) {
    console.error(element, error);
    return [];
  }
}

function isRecord(value) {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function camelCased(record) {
  const camel = (key) => key.replace(/-([a-z0-9])/g, (_, char) => char.toUpperCase());
  return Object.fromEntries(Object.entries(record).map(([key, value]) => [camel(key), value]));
}

/** Takes over what was written into the page beforehand: comments say where the parts are. */
function adopt(element, state, number) {
  const comments = [];
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_COMMENT);
  while (walker.nextNode()) comments.push(walker.currentNode);
  for (const comment of comments) {
    const [, kind, of, name, json] = /^(slot|list) (\\d+) (\\S*)(?: ([^]*))?$/.exec(comment.data) ?? [];
    if (of !== number) continue;
    const key = decodeURIComponent(name);
    if (kind === 'list') state.lists[key] = listFrom(json, element);
    else {
      const nodes = [];
      let node = comment.nextSibling;
      for (; node !== null && node.data !== \`/slot \${number}\`; node = node.nextSibling) nodes.push(node);
      node?.remove();
      state.slots[key || 'default'] ??= nodes;
    }
    comment.remove();
  }
  for (const child of [...element.children])
    if (child instanceof HTMLTemplateElement && child.hasAttribute('slot')) {
      state.slots[child.getAttribute('slot') || 'default'] ??= [...child.content.childNodes];
      child.remove();
    }
}

/** Draws the content anew; what is poured in is moved, not made again. */
function draw(element) {
  const { slots } = states.get(element);
  const places = Object.keys(slots).map((name) => {
    return [name, new Markup(\`<template data-pour="\${textOf(name)}"></template>\`)];
  });
  const holder = document.createElement('template');
  holder.innerHTML = textOf(element.render(Object.fromEntries(places)));
  pour(holder.content, slots, new Set());
  element.replaceChildren(holder.content);
  dress(element);
}

function pour(within, slots, used) {
  for (const place of within.querySelectorAll('template')) {
    const name = place.getAttribute('data-pour');
    if (name === null) pour(place.content, slots, used);
    // a part that stands in two places is there once itself
    else place.replaceWith(...slots[name].map((node) => (used.has(name) ? node.cloneNode(true) : node)));
    if (name !== null) used.add(name);
  }
}

/** Puts the attributes of the root on an element that takes its place. */
function dress(element) {
  if (element.rootAttributes === undefined) return;
  const state = states.get(element);
  const before = state.dress;
  const now = element.rootAttributes();
  const words = (text) => (text ?? '').split(/\\s+/).filter((word) => word !== '');
  for (const name of new Set([...Object.keys(before), ...Object.keys(now)])) {
    const value = now[name] ?? null;
    if (element.getAttribute(name) === value) continue;
    if (name === 'class' && element.hasAttribute('class')) {
      element.classList.remove(...words(before.class));
      element.classList.add(...words(value));
    } else if (value === null || value === false) element.removeAttribute(name);
    else element.setAttribute(name, value === true ? '' : value);
  }
  state.dress = now;
}
`;
}
