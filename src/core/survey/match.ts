/** Finds more uses of components that are there already: fragments that a plain template gives back. */
import type { Component, Registry } from '../component/model.js';
import { bodyOf, isPlain } from '../component/read.js';
import { camelName, type Expression, parseExpression } from '../component/expression.js';
import type { Page } from '../page/parse.js';
import { type Spelled, spelledAttribute, spelledText } from '../page/spelling.js';
import { valueOf } from '../page/attribute.js';
import { type Child, type Element, type Node, RAW_TEXT } from '../page/tree.js';
import { folderOf, isRelative, moveUrls, urlKind } from '../page/url.js';
import type { Occurrence, Value } from '../infer/columns.js';
import { groupKey, profile, trimmed } from './profile.js';

export interface Pattern {
  component: Component;
  root: Element;
}

/** Components that fragments can be matched with, by the key under which alike roots meet. */
export function patternsOf(registry: Registry): Map<number, Pattern[]> {
  const patterns = new Map<number, Pattern[]>();
  for (const component of registry.values()) {
    const nodes = bodyOf(component).filter((node) => node.kind !== 'text');
    const [root] = nodes;
    if (nodes.length !== 1 || root?.kind !== 'element' || !isPlain(component.parts)) continue;
    const page: Page = {
      path: component.path,
      source: component.source,
      root: { kind: 'root', mode: '', children: [root], parent: null, start: 0, end: component.source.length },
    };
    const { shape, elements } = profile(page, true);
    const key = groupKey(shape[0]!, elements[0]!);
    patterns.set(key, [...(patterns.get(key) ?? []), { component, root }]);
  }
  return patterns;
}

/** The values with which `component` gives `occurrence` back, by prop name; null when it does not. */
export function match({ component, root }: Pattern, occurrence: Occurrence): Map<string, Value> | null {
  const values = new Map<string, Value>();
  const byCode = new Map(component.props.map((prop) => [camelName(prop.name), prop.name]));
  const note = (code: string, value: Value): boolean => {
    const name = byCode.get(code);
    if (name === undefined) return false;
    const known = values.get(name);
    values.set(name, known ?? value);
    return known === undefined || text(known) === text(value);
  };
  if (!matchNode(root, occurrence.element, component, occurrence, note)) return null;
  const fits = component.props.every((prop) => {
    const value = values.get(prop.name);
    return typeof value !== 'object' || value === null || prop.type !== 'choice' || prop.choices.includes(value.value);
  });
  return fits ? values : null;
}

function text(value: Value): string | boolean {
  return typeof value === 'object' && value !== null ? value.value : (value ?? false);
}

type Note = (code: string, value: Value) => boolean;

function matchNode(pattern: Node, node: Node, component: Component, occurrence: Occurrence, note: Note): boolean {
  if (pattern.kind !== node.kind) return false;
  if (pattern.kind === 'comment') return pattern.value === (node as typeof pattern).value;
  if (pattern.kind === 'text') {
    const mine = component.source.slice(pattern.start, pattern.end);
    const raw = occurrence.page.source.slice(node.start, node.end);
    if (RAW_TEXT.has((pattern.parent as Element).tag)) return pattern.value === (node as typeof pattern).value;
    if (!mine.includes('{{')) return trim(pattern.value) === trim((node as typeof pattern).value);
    return matchRaw(trim(mine), trim(raw), spelledText, note);
  }
  if (pattern.kind !== 'element') return false;
  const element = node as Element;
  if (pattern.tag !== element.tag || pattern.ns !== element.ns || pattern.children.length !== element.children.length)
    return false;
  return (
    matchAttributes(pattern, element, component, occurrence, note) &&
    pattern.children.every((child: Child, i) => matchNode(child, element.children[i]!, component, occurrence, note))
  );
}

function trim(value: string): string {
  const [lead, trail] = trimmed(value);
  return value.slice(lead, value.length - trail);
}

function matchAttributes(
  pattern: Element,
  element: Element,
  component: Component,
  occurrence: Occurrence,
  note: Note,
): boolean {
  const present = new Map(element.attrs.map((attr) => [attr.name, attr]));
  for (const attr of pattern.attrs) {
    const mine = valueOf(component.source, attr).raw;
    const other = present.get(attr.name);
    present.delete(attr.name);
    const whole = /^\{\{\s*([\w$]+)\s*\}\}$/.exec(mine)?.[1];
    if (other === undefined) {
      if (whole === undefined || !note(whole, false)) return false;
      continue;
    }
    const prop = component.props.find((each) => camelName(each.name) === whole);
    if (prop?.type === 'flag') {
      if (other.value !== '' || !note(whole!, true)) return false;
      continue;
    }
    const raw = valueOf(occurrence.page.source, other).raw;
    const kind = urlKind(pattern.tag, attr.name);
    const literal = kind !== null && !mine.startsWith('{{') && (kind === 'srcset' || isRelative(mine));
    const moved =
      literal && occurrence.folder !== null ? moveUrls(raw, kind, occurrence.folder, folderOf(component.path)) : raw;
    if (moved === null || !matchRaw(mine, moved, spelledAttribute, note)) return false;
  }
  return present.size === 0;
}

/** Matches raw source against raw template source, `{{name}}` standing for any text. */
function matchRaw(pattern: string, raw: string, read: (raw: string) => Spelled, note: Note): boolean {
  if (!pattern.includes('{{')) return read(pattern).value === read(raw).value;
  const names: string[] = [];
  const source = pattern.replace(/\{\{(.*?)\}\}|[\s\S]/g, (char, code: string | undefined) => {
    if (code === undefined) return char.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');
    const expression: Expression = parseExpression(code);
    if (expression.kind === 'literal') return '\\{\\{';
    names.push(expression.kind === 'name' && expression.path.length === 1 ? expression.path[0]! : '');
    return '([\\s\\S]*?)';
  });
  const found = new RegExp(`^${source}$`).exec(raw);
  return found !== null && names.every((name, i) => name !== '' && note(name, read(found[i + 1]!)));
}
