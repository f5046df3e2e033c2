/**
 * Fragments of templates that become components themselves: what their placeholders and blocks name outside of the
 * fragment must be passed in. What is the same at all places is copied, with the names that it says passed on
 * (`current="{{current}}"`); what differs is passed in ready (`note="{{stop.note}}"`).
 */
import { camelName, namesIn, parseExpression } from '../component/expression.js';
import type { Prop } from '../component/model.js';
import { PLACEHOLDER } from '../component/segments.js';
import type { Spelled } from '../page/spelling.js';
import { attrOf, type Child, type Element, RAW_TEXT } from '../page/tree.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { isText, type Value } from './pattern.js';

/** What a name in a placeholder means: a prop around the fragment, an item of a list around it, one within it, or nothing. */
export type Said =
  { from: 'prop'; prop: Prop; fields: Prop[] } | { from: 'item'; field: Prop | null } | { from: 'within' | 'nowhere' };

/** True where some stand in the templates of components. */
export function inTemplates(occurrences: Occurrence[]): boolean {
  return occurrences.some(({ page }) => page.component !== undefined);
}

/** Attributes of a block whose values are expressions. */
const TESTS = new Set(['when', 'unless', 'of']);

/** True for the attribute of a block that says what it asks for. */
export function isTest(element: Element, name: string, { page }: Occurrence): boolean {
  return page.component !== undefined && element.tag === 'template' && TESTS.has(name);
}

/** What the placeholders in a text, or in an attribute of an element, say; null where there are none. */
export function saidIn(
  node: Child,
  raw: string,
  decode: (raw: string) => string,
  occurrence: Occurrence,
  test = false,
): Said[] | null {
  const { component } = occurrence.page;
  if (component === undefined || (node.kind === 'text' && RAW_TEXT.has((node.parent as Element).tag))) return null;
  if (!test && !raw.includes('{{')) return null;
  const sources = test ? [raw] : [...raw.matchAll(PLACEHOLDER)].map((match) => match[1]!);
  const paths = sources.flatMap((source) => namesIn(parseExpression(decode(source))));
  return paths.map((path) => meaningOf(path, node, occurrence));
}

function meaningOf(path: string[], node: Child, { page, element: root, end }: Occurrence): Said {
  const [name] = path;
  const { props } = page.component!;
  const propOf = (wanted: string) => props.find((prop) => camelName(prop.name) === wanted);
  for (let at = node.parent; at?.kind === 'element'; at = at.parent) {
    if (at.tag !== 'template' || camelName(attrOf(at, 'each') ?? '') !== name) continue;
    if (root.start <= at.start && at.end <= end) return { from: 'within' };
    const list = propOf(camelName(attrOf(at, 'of')?.trim() ?? ''));
    return { from: 'item', field: (list && propOf(`${list.name}.${path.slice(1).join('.')}`)) ?? null };
  }
  const prop = propOf(name!);
  if (prop === undefined) return { from: 'nowhere' };
  return { from: 'prop', prop, fields: props.filter((each) => each.name.startsWith(`${prop.name}.`)) };
}

/** True where what is said can stay as it is, its names passed on. */
export function canStay(said: Said[]): boolean {
  return said.every(({ from }) => from === 'prop' || from === 'within');
}

/** True where what is said means something around the fragment. */
export function canPass(said: Said[]): boolean {
  return said.every(({ from }) => from === 'prop' || from === 'item');
}

/** True for a value with placeholders in it, which mean something in the template that passes it. */
export function isPassed(value: Value, { page }: Occurrence): value is Spelled {
  return page.component !== undefined && isText(value) && value.raw.includes('{{');
}

const SINGLE = /^\{\{\s*((?:[A-Za-z_$][\w$]*\.)*)([A-Za-z_$][\w$]*)\s*\}\}$/;

/** The last name that a value which is one placeholder says; null for any other value. */
export function nameIn(value: Value): string | null {
  return isText(value) ? (SINGLE.exec(value.raw)?.[2] ?? null) : null;
}

/** The prop that a value which is one name stands for; null for what is more than that. */
export function passedProp({ raw }: Spelled, node: Child, occurrence: Occurrence): Prop | null {
  const match = SINGLE.exec(raw);
  if (match === null) return null;
  const said = meaningOf(`${match[1]!}${match[2]!}`.split('.'), node, occurrence);
  return said.from === 'prop' ? said.prop : said.from === 'item' ? said.field : null;
}
