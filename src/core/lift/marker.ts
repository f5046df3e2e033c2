/** Markers of which one at most is set: `current === 'fares' ? ' active' : ''` in one of several places that are alike. */
import { camelName, type Expression, isSpelled } from '../component/expression.js';
import type { Component } from '../component/model.js';
import { segmentsOf } from '../component/segments.js';
import { valueOf } from '../page/attribute.js';
import { attrOf, type Element, elementsOf, textOf } from '../page/tree.js';

export interface Marker {
  /** what is asked for in the new place */
  test: string;
  choices: { prop: string; more: string[] };
}

/** What a marker does: it changes a class list or an attribute from one text to another, or is given to a component within. */
export type Marking = { yes: string; no: string | null } | { given: string };

/**
 * The marker that the template has in other places for the same, with a choice for one more: named after what the element
 * says; null where there is none, or nothing to name the choice after.
 */
export function markerLike(component: Component, element: Element, marking: Marking): Marker | null {
  const choice = choiceFor(element, component);
  if (choice === null) return null;
  for (const other of elementsOf(component.template)) {
    if (other === element || other.tag !== element.tag) continue;
    for (const attr of other.attrs) {
      if (attr.start < 0 || ('given' in marking && attr.name !== marking.given)) continue;
      const { raw, start } = valueOf(component.source, attr);
      const context = { page: component, template: true, isComponent: () => false };
      for (const segment of segmentsOf(raw, start, 'attribute', context)) {
        const name = typeof segment === 'string' ? null : markerIn(segment, marking);
        const prop = component.props.find(({ type, name: each }) => type === 'choice' && camelName(each) === name);
        if (prop?.default !== null || prop.choices.includes(choice)) continue;
        return { test: `${name!} === '${choice}'`, choices: { prop: prop.name, more: [choice] } };
      }
    }
  }
  return null;
}

/** The name that a marker asks for; null for an expression that is none, or does something else. */
function markerIn(expression: Expression, marking: Marking): string | null {
  const test = 'given' in marking ? expression : expression.kind === 'choose' ? expression.test : null;
  if (test?.kind !== 'equal' || test.negated || test.left.kind !== 'name' || test.right.kind !== 'literal') return null;
  if (test.left.path.length !== 1 || !isSpelled(test.right.value)) return null;
  if (!('given' in marking) && expression.kind === 'choose')
    if (textIn(expression.yes) !== marking.yes || textIn(expression.no) !== marking.no) return null;
  return test.left.path[0]!;
}

function textIn(expression: Expression): string | null | undefined {
  if (expression.kind !== 'literal') return undefined;
  return isSpelled(expression.value) ? expression.value.value : null;
}

/** A choice named after what an element says, or what a use of a component is given to say; a default where a prop says it. */
function choiceFor(element: Element, { props }: Component): string | null {
  const plain = (text: string) =>
    text.replace(/^\{\{\s*(\w+)\s*\}\}$/, (whole, name: string) => {
      const prop = props.find((each) => camelName(each.name) === name);
      return prop?.default?.value ?? whole;
    });
  const said = ['label', 'heading', 'text', 'name'].flatMap((name) => attrOf(element, name) ?? []).map(plain);
  const text = [...said, plain(textOf(element))].find((each) => !each.includes('{{')) ?? '';
  const word = text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
  return word === '' || word.length > 40 ? null : word;
}
