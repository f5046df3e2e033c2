/** Uses of components that are there already: fragments that a component gives back, proven by expanding it. */
import type { Component, Registry } from '../component/model.js';
import { usesIn } from '../component/read.js';
import { type Occurrence, occurrenceOf, runOf } from '../fragments/occurrence.js';
import { addTo } from '../groups.js';
import type { Page } from '../page/parse.js';
import { type Child, classWords, type Element, type Parent } from '../page/tree.js';
import { needsTemplateForm } from '../template/form.js';
import type { Poured, Value } from '../template/pattern.js';
import { placeOfUse, pouredAt, useText, valuesAt } from '../template/use.js';
import { Aligner, type Step } from './align.js';
import type { Difference } from './difference.js';
import { isTelling, type KnownClasses, knownClasses } from './evidence.js';
import { type ElementItem, type Item, itemsReader, solid } from './items.js';
import { compareUse } from './prove.js';
import { optionsOf, NOTHING_KNOWN } from './segments.js';
import { solve } from './solve.js';

/** One fragment that a component gives back. */
export interface KnownUse {
  component: Component;
  occurrence: Occurrence;
  /** by prop; a prop that is not in it is not given */
  values: ReadonlyMap<string, Value>;
  slots: Poured[];
  /** its source as it would be written */
  text: string;
}

/** A fragment that a component would give back but for one difference. */
export interface NearUse {
  component: Component;
  occurrence: Occurrence;
  difference: Difference;
}

/** Where a fragment may begin. */
export interface Start {
  page: Page;
  element: Element;
  folder: string | null;
}

/** Tells what components that are there have to do with fragments. */
export class Recogniser {
  private readonly itemsOf: (component: Component) => Item[];
  private readonly classes: KnownClasses;
  private readonly byKey = new Map<string, Component[]>();
  private readonly siblings = new Map<Parent, { nodes: Child[]; at: ReadonlyMap<Child, number> }>();
  private readonly within: (name: string) => ReadonlySet<string>;

  /** @param elements of all pages and templates */
  constructor(
    private readonly registry: Registry,
    elements: Iterable<Element>,
  ) {
    this.itemsOf = itemsReader(registry);
    this.classes = knownClasses(registry, this.itemsOf, elements);
    this.within = holdersOf(registry);
    for (const component of registry.values())
      for (const key of new Set(firstsOf(this.itemsOf(component), this.itemsOf)?.map(keyOfItem)))
        addTo(this.byKey, key, component);
  }

  /**
   * The use that gives back the fragment that begins at a place, proven; null where no component does.
   * @param leastSaving characters that the use must save at least; -Infinity where it may cost any
   */
  useAt(start: Start, leastSaving: number): KnownUse | null {
    const found = this.candidatesAt(start).flatMap((component): KnownUse[] => {
      const aligned = this.align(component, start, 0);
      const solution = aligned && solve(component, aligned.steps, aligned.occurrence, 0);
      if (solution === null) return [];
      const { occurrence } = aligned!;
      const slots = solution.slots.map(({ range, ...slot }) => ({ ...slot, ranges: [range], nodes: [] }));
      const use = { component, occurrence, values: solution.values, slots };
      const text = textOf(use);
      if (occurrence.end - occurrence.element.start - text.length < leastSaving) return [];
      // where the parser would not close the tag, a use takes the form of a template
      const isProvenAs = (each: string) =>
        compareUse(occurrence, each, this.registry, this.registry).same !== 'different';
      const isProven = isProvenAs(text) || isProvenAs(textOf(use, 'template'));
      return isProven ? [{ ...use, text }] : [];
    });
    // what is said in the fewest letters fits best
    return found.reduce<KnownUse | null>(
      (best, each) => (best !== null && best.text.length <= each.text.length ? best : each),
      null,
    );
  }

  /** The component that would give back the fragment that begins at a place but for one difference; null where none would. */
  nearUseAt(start: Start): NearUse | null {
    for (const component of this.candidatesAt(start)) {
      const aligned = this.align(component, start, 1);
      const solution = aligned && solve(component, aligned.steps, aligned.occurrence, 1);
      const [difference] = solution?.differences ?? [];
      if (difference !== undefined) return { component, occurrence: aligned!.occurrence, difference };
    }
    return null;
  }

  private candidatesAt({ page, element }: Start): Component[] {
    const own = page.component?.name;
    return (
      keysOfElement(element)
        .flatMap((key) => this.byKey.get(key) ?? [])
        // a component is not made of what it is part of
        .filter(({ name }) => own === undefined || !this.within(name).has(own))
    );
  }

  private align(
    component: Component,
    { page, element, folder }: Start,
    allowed: number,
  ): { steps: Step[]; occurrence: Occurrence } | null {
    const isRun = this.itemsOf(component).length > 1;
    // a run in a template is what the lift that made the template left of it
    if (isRun && page.component !== undefined) return null;
    const { nodes, at } = isRun ? this.amongSiblings(element) : { nodes: [element], at: 0 };
    const aligner = new Aligner(this.itemsOf, occurrenceOf(page, element, folder), (name) => this.registry.has(name));
    const alignment = aligner.align(component, nodes, at, allowed);
    if (alignment === null || !isTelling(alignment.steps, this.classes)) return null;
    const root = rootOf(element, nodes.slice(at, at + alignment.taken));
    return root && { steps: alignment.steps, occurrence: occurrenceOf(page, root, folder) };
  }

  /** The siblings of an element without white space that may be indentation, and its number among them. */
  private amongSiblings(element: Element): { nodes: Child[]; at: number } {
    const parent = element.parent!;
    let known = this.siblings.get(parent);
    if (known === undefined) {
      const nodes = solid(parent.children);
      known = { nodes, at: new Map(nodes.map((node, i) => [node, i])) };
      this.siblings.set(parent, known);
    }
    return { nodes: known.nodes, at: known.at.get(element)! };
  }
}

/** A use as it would be written, in the form that its place asks for where none is given. */
function textOf({ component, occurrence, values, slots }: Omit<KnownUse, 'text'>, form?: 'template'): string {
  const props = component.props.map((prop) => ({ ...prop, values: [values.get(prop.name) ?? null] }));
  const content = { values: valuesAt(props, 0), slots: pouredAt(slots, occurrence, 0) };
  const written = form ?? (needsTemplateForm(occurrence.element, slots) ? 'template' : 'tag');
  return useText(component.name, props, content, written, placeOfUse(occurrence));
}

/** An element by itself, or the root of a run; null for a run that does not begin and end with elements. */
function rootOf(element: Element, nodes: Child[]): Element | null {
  if (nodes.length === 1) return element;
  const last = nodes.at(-1);
  if (nodes[0] !== element || last?.kind !== 'element') return null;
  const all = element.parent!.children;
  return runOf(all.slice(all.indexOf(element), all.indexOf(last) + 1), element);
}

/** The names of a component and of all that its template uses, directly or not. */
function holdersOf(registry: Registry): (name: string) => ReadonlySet<string> {
  const known = new Map<string, Set<string>>();
  const namesIn = (name: string): Set<string> => {
    const names = known.get(name) ?? new Set([name]);
    if (known.has(name)) return names;
    known.set(name, names);
    for (const inner of usesIn(registry.get(name)!, registry)) for (const each of namesIn(inner)) names.add(each);
    return names;
  };
  return namesIn;
}

/** The elements that a template may begin with; null where it may begin with something else, or be nothing at all. */
function firstsOf(items: Item[], itemsOf: (component: Component) => Item[]): ElementItem[] | null {
  const found: ElementItem[] = [];
  for (const item of items) {
    if (item.kind === 'element') return [...found, item];
    // what is poured in at the beginning could be anything
    const inner =
      item.kind === 'use'
        ? itemsOf(item.component)
        : item.kind === 'block' || item.kind === 'each'
          ? item.children
          : [];
    const firsts = firstsOf(inner, itemsOf);
    if (firsts === null) return null;
    found.push(...firsts);
    if (item.kind === 'use') return found;
  }
  return null;
}

/** The tag and the first class word of an element; '' for a class that a placeholder may begin. */
function keyOfItem({ element, attrs }: ElementItem): string {
  const [first, next] = attrs.find(({ name }) => name === 'class')?.segments ?? [];
  if (typeof first !== 'string') return `${element.tag}.`;
  const word = /^\s*(\S*)(\s?)/.exec(first)!;
  const isWhole = word[2] !== '' || next === undefined || (typeof next === 'object' && startsWord(next));
  return `${element.tag}.${isWhole ? word[1]! : ''}`;
}

/** True where all that an expression may come to begins a word of its own, or is nothing. */
function startsWord(expression: Parameters<typeof optionsOf>[0]): boolean {
  return optionsOf(expression, NOTHING_KNOWN).every((option) => {
    if ('path' in option) return false;
    const { value } = option;
    return value === null || (typeof value === 'object' && 'raw' in value && /^(\s|$)/.test(value.raw));
  });
}

function keysOfElement(element: Element): string[] {
  const word = classWords(element)[0];
  return word === undefined ? [`${element.tag}.`] : [`${element.tag}.${word}`, `${element.tag}.`];
}
