/**
 * Whether what a template itself says tells a fragment from others: a `div` with anything in it does not. A class list
 * that uses give as a whole tells as well, where it is one that they give already.
 */
import { camelName } from '../component/expression.js';
import type { Component, Registry } from '../component/model.js';
import type { Segment } from '../component/segments.js';
import { usedComponent } from '../component/use.js';
import type { Element } from '../page/tree.js';
import type { AttrFound, Step } from './align.js';
import type { AttrItem, Item } from './items.js';

/** The class lists that uses give components, by the place in the template where they come to stand. */
export type KnownClasses = ReadonlyMap<AttrItem, ReadonlySet<string>>;

/**
 * Reads the class lists that uses give.
 * @param elements of all pages and templates
 */
export function knownClasses(
  registry: Registry,
  itemsOf: (component: Component) => Item[],
  elements: Iterable<Element>,
): KnownClasses {
  const byProp = new Map<string, AttrItem[]>();
  const known = new Map<AttrItem, Set<string>>();
  for (const component of registry.values())
    for (const { name, item } of classProps(itemsOf(component))) {
      const prop = component.props.find((each) => camelName(each.name) === name);
      known.set(item, new Set(prop?.default == null ? [] : [prop.default.value]));
      const key = `${component.name} ${name}`;
      byProp.set(key, [...(byProp.get(key) ?? []), item]);
    }
  if (byProp.size === 0) return known;
  for (const element of elements) {
    const used = usedComponent(element, (name) => registry.has(name));
    if (used === null) continue;
    for (const { name, value } of element.attrs)
      for (const item of byProp.get(`${used} ${camelName(name)}`) ?? []) known.get(item)!.add(value);
  }
  return known;
}

/** The props that stand for whole class lists in a template, in camelCase. */
function classProps(items: Item[]): { name: string; item: AttrItem }[] {
  return items.flatMap((item) => {
    const within = 'children' in item ? classProps(item.children) : [];
    if (item.kind === 'use') within.push(...[...item.slots.values()].flatMap(classProps));
    const found = item.kind === 'element' ? item.attrs.find(({ name }) => name === 'class') : undefined;
    const [first, ...rest] = found?.segments ?? [];
    if (typeof first !== 'object' || first.kind !== 'name' || rest.length > 0) return within;
    return [{ name: first.path.join('.'), item: found! }, ...within];
  });
}

/** So many elements tell by themselves, where nothing is poured into them and no class list is whatever a use says. */
const TELLING_ELEMENTS = 3;

/** True where an alignment rests on something that the template says, or that uses say already. */
export function isTelling(steps: Step[], known: KnownClasses): boolean {
  const told = { words: 0, elements: 0, isOpen: false };
  tell(steps, known, told);
  return told.words > 0 || (!told.isOpen && told.elements >= TELLING_ELEMENTS);
}

function tell(steps: Step[], known: KnownClasses, told: { words: number; elements: number; isOpen: boolean }): void {
  for (const step of steps) {
    if (step.kind === 'slot') told.isOpen = true;
    if (step.kind === 'text' && holdsWord(step.item.segments)) told.words++;
    if (step.kind !== 'element') continue;
    told.elements++;
    const differing = new Set(step.steps.map((each) => (each.kind === 'differs' ? each.difference.start : -1)));
    for (const { segments, attr, constant } of step.item.attrs)
      if (!differing.has(attr.start) && (constant === '' || holdsWord(segments))) told.words++;
    for (const found of step.attrs) {
      if (isKnownClass(found, known)) told.words++;
      else if (known.has(found.item)) told.isOpen = true;
    }
    tell(step.steps, known, told);
  }
}

function isKnownClass({ item, raw }: AttrFound, known: KnownClasses): boolean {
  return raw !== null && known.get(item)?.has(raw) === true;
}

/** True for what holds a word that is no placeholder's. */
function holdsWord(segments: Segment[]): boolean {
  return segments.some((segment) => typeof segment === 'string' && /\w/.test(segment));
}
