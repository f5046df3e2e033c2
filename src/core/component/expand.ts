/**
 * Expanding: from pages with uses to the static site. The one piece of code behind `expand`, `check` and every proof.
 * What no use covers is copied to the byte; a template's own lines are indented to the use's place and take the page's
 * line ends; values keep their spelling; the lines of what a use holds are indented to the slot's place.
 */
import { Problem, shownValue, workingOn } from '../errors.js';
import { movedIndent, movedLines } from '../page/indent.js';
import { eolOf, type Page, placeAt } from '../page/parse.js';
import { quoteAttribute, decodeAttribute, spell, type Target } from '../page/spelling.js';
import { attrOf, elementsOf } from '../page/tree.js';
import { baseFolder, folderOf, markedText, moveUrls, partsOfMarked, resolve } from '../page/url.js';
import { camelName, type Datum, evaluate, isSpelled, isTruthy } from './expression.js';
import type { Component, Registry } from './model.js';
import { compile, type Content, type Part, type SlotPart, type UseAttribute, type UsePart } from './parts.js';
import { joinsAfter } from './segments.js';
import { suggestion, type UseProblem } from './problems.js';
import { Writer } from './writer.js';
import { fromJson, wrongRecords } from './records.js';
import { heldBack, type Move, moveLater, NO_MOVE } from './staying.js';

/** The range of the expanded text that one use became, those in templates included, and the parts of it that were poured in. */
export interface UseRange {
  component: string;
  start: number;
  end: number;
  poured: { slot: string; start: number; end: number }[];
}

/** What one use became, and of what. */
export interface Extent extends UseRange {
  /** where the use stands: in the page, or in the template of a component */
  use: { path: string; start: number };
  /** what its props hold, by camelCase name */
  values: ReadonlyMap<string, Datum>;
}

export interface Expanded {
  text: string;
  /** all uses, outer ones before those in them */
  extents: Extent[];
  /** the outermost uses that stand in the page itself, in document order, with the UTF-16 units that each expands to */
  uses: { component: string; start: number; end: number; expandedLength: number }[];
  /** names of all components that took part */
  components: Set<string>;
  /** paths of the data files that lists were read from */
  data: Set<string>;
  problems: UseProblem[];
}

/** Where parts are rendered: what their names mean, and how their lines are laid out. */
interface Frame {
  scope: ReadonlyMap<string, Datum>;
  slots: ReadonlyMap<string, Content & { frame: Frame }>;
  /** of the use that this is the template of; null in the page itself */
  extent: Extent | null;
  holder: { path: string; source: string };
  /** indentation of the lines of the template, or of what a use holds, in their file, and of the place where they are put */
  base: string;
  indent: string;
  /** folder that the template's URLs are relative to */
  folder: string;
  /** false in the page itself */
  template: boolean;
  /** what is poured in stands where white space shows, whatever component it is poured on into */
  shows: boolean;
  /** how lines are moved that stand in uses which stay, once these are expanded too */
  later: Move;
}

interface State {
  registry: Registry;
  out: Writer;
  eol: string;
  pageFolder: string | null;
  result: Expanded;
  /** uses and list items so far */
  parts: number;
}

/** UTF-16 units that a page may become where nothing else is said. */
export const MAX_PAGE_SIZE = 32_000_000;

/** As many of these a use or a list item counts as at least. */
const PART_SIZE = 128;

/**
 * Counts a use or a list item.
 * @throws Problem where a page grows beyond all that is a page: components that hold each other several times, or lists of lists
 */
function countPart(state: State, { holder }: Frame, offset: number): void {
  state.parts++;
  const most = state.registry.maxPageSize ?? MAX_PAGE_SIZE;
  const mostParts = Math.floor(most / PART_SIZE);
  if (state.out.length <= most && state.parts <= mostParts) return;
  throw new Problem(
    `the page becomes too large here: more than ${most} characters, or ${mostParts} uses and list items`,
    {
      place: placeAt(holder, offset),
      hint: 'components that hold others several times, each of which does so again, are multiplied; "maxPageSize" in the configuration allows more',
    },
  );
}

/** The folder that a page's relative URLs resolve against, its `base` element respected; null when it is elsewhere. */
export function folderOfPage(page: Page): string | null {
  const base = elementsOf(page.root).find((each) => each.tag === 'base' && attrOf(each, 'href') !== undefined);
  return baseFolder(page.path, base && attrOf(base, 'href'));
}

/**
 * Expands one page, or a part of one whose relative URLs resolve against `pageFolder`.
 * @throws Problem when a use or a template cannot be read
 */
export function expandPage(page: Page, registry: Registry, pageFolder = folderOfPage(page)): Expanded {
  return workingOn(page.path, () => expanded(page, registry, pageFolder));
}

function expanded(page: Page, registry: Registry, pageFolder: string | null): Expanded {
  const result: Expanded = {
    text: page.source,
    extents: [],
    uses: [],
    components: new Set(),
    data: new Set(),
    problems: [],
  };
  if (registry.size === 0) return result;
  const { staying } = registry;
  const isComponent = (name: string) => (staying === undefined ? registry.has(name) : name === staying.taken);
  const compiling = { page, template: false, isComponent, ...(staying === undefined ? {} : { staying }) };
  const parts = compile(page.root.children, 0, page.source.length, compiling);
  if (!parts.some((part) => part.kind === 'use')) return result;
  const state = { registry, out: new Writer(), eol: eolOf(page.source), pageFolder, result, parts: 0 };
  const frame = {
    scope: new Map(),
    slots: new Map(),
    extent: null,
    holder: page,
    base: '',
    indent: '',
    folder: folderOf(page.path),
    template: false,
    shows: false,
    later: NO_MOVE,
  };
  for (const part of parts) {
    const before = state.out.length;
    render([part], frame, state);
    if (part.kind !== 'use') continue;
    const { start, end } = part.element;
    result.uses.push({ component: part.component, start, end, expandedLength: state.out.length - before });
  }
  result.text = state.out.text();
  return result;
}

function render(parts: Part[], frame: Frame, state: State): void {
  const { out } = state;
  for (const part of parts) {
    switch (part.kind) {
      case 'text':
        out.write(part.verbatim ? part.text : layOut(part.text, frame, state.eol, part.ends));
        break;
      case 'value':
        out.write(heldBack(write(evaluate(part.expression, frame.scope), part.target, part.joins), part.within, frame));
        break;
      case 'attribute':
        renderAttribute(part, frame, state);
        break;
      case 'when':
        if (isTruthy(evaluate(part.test, frame.scope)) !== part.negated) render(part.parts, frame, state);
        break;
      case 'each': {
        const list = evaluate(part.of, frame.scope);
        if (!Array.isArray(list)) break;
        for (const item of list) {
          countPart(state, frame, 0);
          render(part.parts, { ...frame, scope: new Map([...frame.scope, [camelName(part.item), item]]) }, state);
        }
        break;
      }
      case 'slot':
        renderSlot(part, frame, state);
        break;
      case 'use':
        renderUse(part, frame, state);
        break;
    }
  }
}

/** What is poured in, or what the slot has for where nothing is; one on its own line goes with that, as blocks do. */
function renderSlot(part: SlotPart, frame: Frame, state: State): void {
  const { out } = state;
  const { content, through, shows } = contentOf(part, frame);
  const isOnLine = part.line.length > 0;
  const lines = isOnLine && content !== undefined ? content.lines : null;
  if (lines === null && (content?.parts ?? part.parts).length > 0) render(part.line, frame, state);
  if (content === undefined) return render(part.parts, frame, state);
  const start = out.length;
  // where white space shows its lines stay as they are
  const [base, indent] = shows ? ['', ''] : [content.base, movedIndent(part.base, frame.base, frame.indent)];
  render(lines ?? content.parts, { ...content.frame, base, indent, shows }, state);
  for (const { slot, extent } of through) extent?.poured.push({ slot, start, end: out.length });
}

/** What fills a slot, and the uses that it is poured through: one that holds nothing but a slot of its own passes on what fills that. */
function contentOf(part: SlotPart, frame: Frame) {
  const through = [{ slot: part.name, extent: frame.extent }];
  let shows = part.shows || frame.shows;
  let content = frame.slots.get(part.name);
  for (;;) {
    const [inner, ...others] = content?.parts ?? [];
    if (content === undefined || inner?.kind !== 'slot' || others.length > 0) return { content, through, shows };
    const next = content.frame.slots.get(inner.name);
    if (next === undefined)
      return { content: inner.parts.length === 0 ? { ...content, parts: [] } : content, through, shows };
    through.push({ slot: inner.name, extent: content.frame.extent });
    shows ||= inner.shows;
    content = next;
  }
}

/** Moves the lines of a template, or of what a use holds, from the indentation of their file to that of the place. */
function layOut(text: string, { base, indent, template }: Frame, eol: string, ends = false): string {
  const moved = movedLines(text, base, indent, ends);
  // the page's own lines keep their line ends
  return template && (eol !== '\n' || moved.includes('\r')) ? moved.replace(/\r\n|\n|\r/g, eol) : moved;
}

function write(value: Datum, target: Target, joins = false): string {
  if (isSpelled(value)) return spell(value, target, joins);
  return typeof value === 'boolean' ? String(value) : '';
}

function renderAttribute(part: Extract<Part, { kind: 'attribute' }>, frame: Frame, state: State): void {
  const { out } = state;
  const [first] = part.segments;
  let { quote } = part;
  if (part.segments.length === 1 && typeof first === 'object') {
    const value = evaluate(first, frame.scope);
    if (value === null || value === false) return;
    out.write(layOut(part.space, frame, state.eol) + part.name);
    if (value === true) return;
    if (part.given && isSpelled(value)) return out.write(`=${quoteAttribute(value)}`);
    if (quote === '' && isSpelled(value) && value.value === '') quote = '"';
    out.write(`=${quote}${write(value, quote)}${quote}`);
    return;
  }
  const values = part.segments.map((segment, i) =>
    typeof segment === 'string' ? segment : write(evaluate(segment, frame.scope), quote, joinsAfter(part.segments, i)),
  );
  const move = (raw: string) =>
    part.url === null || state.pageFolder === null
      ? raw
      : (moveUrls(raw, part.url, frame.folder, state.pageFolder) ?? raw);
  out.write(`${layOut(part.space, frame, state.eol)}${part.name}=${quote}`);
  if (part.url === 'css' || part.url === 'refresh') {
    // what a placeholder starts is taken as the use gives it, beside what the template writes
    const given = values.filter((_, i) => typeof part.segments[i] !== 'string');
    out.write(partsOfMarked(move(markedText(part.segments)), given).join(''));
  } else out.write(move(values.join('')));
  out.write(quote);
}

function renderUse(part: UsePart, frame: Frame, state: State): void {
  const component = state.registry.get(part.component)!;
  countPart(state, frame, part.element.start);
  state.result.components.add(component.name);
  tellLostContent(part, component, frame, state);
  const slots = new Map([...part.slots].map(([name, content]) => [name, { ...content, frame }]));
  const extent: Extent = {
    component: component.name,
    start: state.out.length,
    end: -1,
    poured: [],
    use: { path: frame.holder.path, start: part.element.start },
    values: scopeOf(part, component, frame, state),
  };
  state.result.extents.push(extent);
  const inside: Frame = {
    scope: extent.values,
    slots,
    extent,
    holder: component,
    base: component.base,
    indent: state.out.indent,
    folder: folderOf(component.path),
    template: true,
    shows: frame.shows,
    later: moveLater(part.within, frame),
  };
  workingOn(component.path, () => render(component.parts, inside, state));
  extent.end = state.out.length;
}

/** The values that a use gives its component, by camelCase name; what is wrong with them goes to the problems. */
function scopeOf(part: UsePart, component: Component, frame: Frame, state: State): Map<string, Datum> {
  const scope = new Map<string, Datum>();
  const given = new Map(part.attributes.map((attribute) => [attribute.name, attribute]));
  const tell = (kind: UseProblem['kind'], message: string, offset: number) =>
    state.result.problems.push({ kind, message, place: placeAt(frame.holder, offset) });
  for (const [variable, prop] of component.ownProps) {
    const attribute = given.get(prop.name);
    given.delete(prop.name);
    const list = part.lists.get(prop.name);
    let value: Datum = null;
    if (prop.type === 'list' && list !== undefined) {
      const json = list.src === undefined ? list.json : dataAt(list.src, frame, state);
      try {
        if (json === null)
          tell('bad-list', `the data file ${shownValue(list.src!)} of ${prop.name} is not there`, list.offset);
        else {
          value = fromJson(JSON.parse(json));
          for (const message of wrongRecords(value, prop, component.props)) tell('bad-list', message, list.offset);
        }
      } catch (error) {
        tell('bad-list', `the list ${prop.name} is not JSON: ${shownValue((error as Error).message)}`, list.offset);
      }
    } else if (attribute !== undefined) value = attributeValue(attribute, prop.type === 'url', frame, state);
    if (prop.type === 'flag')
      value = value === null || value === false ? false : !isSpelled(value) || value.value !== 'false';
    else if (value === null || value === false) {
      value = prop.default;
      if (value === null && !prop.optional && prop.type !== 'list')
        tell('missing-prop', `${component.name} is used without ${prop.name}`, part.element.start);
    }
    if (prop.type === 'choice' && isSpelled(value) && !prop.choices.includes(value.value))
      tell(
        'unknown-choice',
        `${prop.name}="${shownValue(value.value)}" is no choice: ${suggestion(value.value, prop.choices, 'its choices')}`,
        part.element.start,
      );
    scope.set(variable, value);
  }
  for (const { name, offset } of given.values()) {
    if (name === 'slot') continue;
    const names = [...component.ownProps.values()].map((prop) => prop.name);
    const message = `${component.name} has no prop ${shownValue(name)}: ${suggestion(name, names, 'its props')}`;
    tell('unknown-prop', message, offset);
  }
  return scope;
}

/** Tells of content that has no place in the component. */
function tellLostContent(part: UsePart, component: Component, { holder }: Frame, state: State): void {
  const { slots } = component;
  for (const [name, { parts, offset }] of part.slots) {
    const isBlank = parts.every((each) => each.kind === 'text' && each.text.trim() === '');
    if (slots.has(name) || (name === '' && isBlank)) continue;
    const named = [...slots].filter((each) => each !== '');
    const message =
      name === ''
        ? `${component.name} has no slot for content: it would be lost${named.length > 0 ? `; its slots: ${named.join(', ')}` : ''}`
        : `${component.name} has no slot ${shownValue(name)}: ${suggestion(name, named, 'its slots')}`;
    const blank = /^\s*/.exec(holder.source.slice(offset, part.element.end))![0].length;
    state.result.problems.push({ kind: 'unknown-slot', message, place: placeAt(holder, offset + blank) });
  }
}

/** A data file, by its path as the page or the component file that names it has it; null when there is none. */
function dataAt(src: string, { folder }: Frame, { registry, result }: State): string | null {
  const path = resolve(src, folder);
  if (path === null) return null;
  const json = registry.data?.get(path);
  if (json !== undefined) result.data.add(path);
  return json ?? null;
}

/** A `url` that a template starts is relative to the component file, like any other in it. */
function attributeValue({ segments }: UseAttribute, isUrl: boolean, frame: Frame, state: State): Datum {
  const [first] = segments;
  if (segments.length === 0) return { value: '', raw: '' };
  if (segments.length === 1 && typeof first === 'object') return evaluate(first, frame.scope);
  const raw = segments
    .map((segment, i) =>
      typeof segment === 'string' ? segment : write(evaluate(segment, frame.scope), '"', joinsAfter(segments, i)),
    )
    .join('');
  const own = isUrl && frame.template && typeof first === 'string' && state.pageFolder !== null;
  const moved = own ? (moveUrls(raw, 'url', frame.folder, state.pageFolder!) ?? raw) : raw;
  return { value: decodeAttribute(moved), raw: moved };
}
