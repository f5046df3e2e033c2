/** Pages with elements: as their sources have them, as they are once the elements are drawn, or drawn beforehand. */
import { type Datum, isSpelled } from '../../component/expression.js';
import {
  attributesText,
  attributeText,
  attributesOf,
  type Drawn,
  type Frame,
  drawn,
  type Given,
  givenTo,
  htmlOf,
  htmlText,
  type Writing,
  written,
} from '../html.js';
import type { ElementNode, EmitNode, EmitPage, EmitSite, Json, UseNode } from '../model.js';
import { PRERENDERED } from './base.js';
import { rootOf, standsAsElement, type Standing } from './module.js';

/**
 * - `plain`: an element as its use stands in the source; scripts draw its content
 * - `prerendered`: with its content, and comments that say where the parts are that were poured in
 * - `upgraded`: as the page is once the elements are drawn
 */
export type Mode = 'plain' | 'prerendered' | 'upgraded';

/** The page, in HTML; stretches of its source that no use covers are copied. */
export function pageText(
  page: EmitPage,
  site: Pick<EmitSite, 'components'>,
  standing: ReadonlyMap<string, Standing>,
  mode: Mode,
): string {
  const { shell, range, body } = page;
  const writing = hostWriting(page, site, standing, mode);
  const inner = range === null ? htmlOf(body, writing) : copied(body, range, page.source, writing);
  return shell.before + inner + shell.after;
}

/** The source with its outermost uses written anew. */
function copied(
  nodes: EmitNode[],
  { start, end }: { start: number; end: number },
  source: string,
  writing: HostWriting,
): string {
  let text = '';
  let at = start;
  for (const use of outermost(nodes)) {
    text += source.slice(at, use.range!.start) + useText(use, source, writing);
    at = use.range!.end;
  }
  return text + source.slice(at, end);
}

function outermost(nodes: EmitNode[]): UseNode[] {
  return nodes.flatMap((node) => (node.kind === 'use' ? [node] : 'children' in node ? outermost(node.children) : []));
}

interface HostWriting extends Writing {
  mode: Mode;
  isHost: (use: UseNode) => boolean;
  /** the attributes of the root that the element of a use takes the place of; '' where it takes none */
  dressOf: (given: Given) => string;
}

/** A use of the page itself: as its source has it, with the attributes of the root whose place it takes. */
function useText(use: UseNode, source: string, writing: HostWriting): string {
  if (writing.mode !== 'plain' || !writing.isHost(use)) return htmlOf([use], writing);
  const { start, openEnd, end } = use.range!;
  const dress = writing.dressOf(givenTo(use, writing));
  const inner = use.slots.flatMap(({ children }) => outermost(children));
  const parts = [
    ...(dress === '' ? [] : [{ range: { start: openEnd - 1, end: openEnd - 1 }, text: () => dress }]),
    ...inner.map((each) => ({ range: each.range!, text: () => useText(each, source, writing) })),
    ...use.lists.flatMap(({ name, records, file }) =>
      file === null ? [] : [{ range: file, text: () => listText(name, records) }],
    ),
  ].sort((a, b) => a.range.start - b.range.start);
  let text = '';
  let at = start;
  for (const { range, text: make } of parts) {
    text += source.slice(at, range.start) + make();
    at = range.end;
  }
  return text + source.slice(at, end);
}

function hostWriting(
  page: EmitPage,
  { components }: Pick<EmitSite, 'components'>,
  standing: ReadonlyMap<string, Standing>,
  mode: Mode,
): HostWriting {
  let count = 0;
  const writing: HostWriting = {
    components: new Map(components.map((component) => [component.name, component])),
    pageFolder: page.folder,
    mode,
    isHost: (use) => standsAsElement(use, standing),
    dressOf: ({ component, scope, slots }) => {
      const place = standing.get(component.name)!;
      return place.kind === 'root' ? rootAttributes(rootOf(component.nodes)!, place, writing, { scope, slots }) : '';
    },
    use: (given) => {
      const { component, scope, slots, use } = given;
      if (!writing.isHost(use)) return drawn(component.nodes, writing, { scope, slots });
      const values = given.values.map(({ name, value }) => (Array.isArray(value) ? '' : attribute(name, value)));
      const open = `${component.name}${values.join('')}${writing.dressOf(given)}`;
      const host = (html: string): Drawn[] => [{ kind: 'markup', html: `<${html}</${component.name}>` }];
      if (mode === 'plain') return host(`${open}>${givenInside(given)}`);
      const number = mode === 'prerendered' ? String(++count) : null;
      const shown = new Set<string>();
      const marked = new Map(
        [...slots].map(([name, make]) => {
          const mark = (content: Drawn[]) => (number === null ? content : marking(number, name, content));
          return [name, () => (shown.add(name), mark(make()))] as const;
        }),
      );
      const frame = { scope, slots: marked };
      const root = standing.get(component.name)!.kind === 'root' ? rootOf(component.nodes)! : null;
      const lists =
        number === null ? '' : given.values.map(({ name, value }) => listComment(number, name, value)).join('');
      const content = htmlText(drawn(root?.children ?? component.nodes, writing, frame));
      const hidden = number === null ? '' : partsText([...slots].filter(([name]) => !shown.has(name)));
      const mark = number === null ? '' : ` ${PRERENDERED}="${number}"`;
      return host(`${open}${mark}>${lists}${content}${hidden}`);
    },
  };
  return writing;
}

function attribute(name: string, value: Datum): string {
  return value === true ? ` ${name}` : attributeText(name, written(value));
}

function rootAttributes(root: ElementNode, place: Standing, writing: Writing, frame: Frame): string {
  return (
    attributesText(attributesOf(root, writing, frame)) +
    (place.kind === 'root' && place.role !== null ? ` role="${place.role}"` : '')
  );
}

/** Lists and parts that an element draws its content from. */
function givenInside({ values, slots }: Given): string {
  const lists = values.map(({ name, value }) => (Array.isArray(value) ? listText(name, jsonOf(value)) : ''));
  const poured = htmlText(slots.get('')?.() ?? []);
  return [...lists, partsText([...slots].filter(([name]) => name !== '')), poured].join('');
}

function partsText(slots: [name: string, make: () => Drawn[]][]): string {
  return slots.map(([name, make]) => `<template${attributeText('slot', name)}>${htmlText(make())}</template>`).join('');
}

function listText(name: string, records: Json): string {
  return `<script type="application/json"${attributeText('slot', name)}>${JSON.stringify(records).replaceAll('<', '\\u003c')}</script>`;
}

function jsonOf(value: Datum): Json {
  if (value instanceof Map) return Object.fromEntries([...value].map(([name, each]) => [name, jsonOf(each)]));
  if (Array.isArray(value)) return value.map(jsonOf);
  return isSpelled(value) ? value.value : value;
}

function marking(number: string, name: string, content: Drawn[]): Drawn[] {
  const comment = (value: string): Drawn => ({ kind: 'comment', value });
  return [comment(`slot ${number} ${encodeURIComponent(name)}`), ...content, comment(`/slot ${number}`)];
}

/** A list in a comment: an element more would count for some selectors. */
function listComment(number: string, name: string, value: Datum): string {
  if (!Array.isArray(value)) return '';
  const json = JSON.stringify(jsonOf(value)).replace(
    /[<>]|-(?=-)/g,
    (char) => `\\u00${char.charCodeAt(0).toString(16)}`,
  );
  return `<!--list ${number} ${encodeURIComponent(name)} ${json}-->`;
}
