/** The lines that declare a component's interface. */
import type { Component } from '../component/model.js';
import { suggestion } from '../component/problems.js';
import { Problem } from '../errors.js';
import { attrOf, type Element } from '../page/tree.js';

/** The `meta` that declares a prop. @throws Problem (exit 2) that names the near one */
export function metaOf(component: Component, name: string): Element {
  const found = component.template.children.find(
    (child): child is Element => child.kind === 'element' && child.tag === 'meta' && attrOf(child, 'prop') === name,
  );
  if (found !== undefined) return found;
  throw new Problem(`${component.name} has no prop ${name}`, {
    hint: suggestion(
      name,
      component.props.map((each) => each.name),
      'its props',
    ),
  });
}
