/** The file of a new component, written after the team's own starter or a plain one. */
import { withName } from '../component/file-names.js';
import type { Registry } from '../component/model.js';
import { type ComponentSource, readComponents } from '../component/read.js';
import { Problem } from '../errors.js';
import { withEdits } from '../page/edits.js';
import { attrOf, elementsOf } from '../page/tree.js';
import { parseFragment } from '../page/parse.js';
import type { Edits } from './change.js';
import { noteMoves } from './move.js';

/** Holds what a block commonly has: a root that is called like it, and room for what is poured in. */
const PLAIN: ComponentSource = {
  path: 'plain-component.html',
  source: `<template component="plain-component" about="">
  <div class="plain-component">
    <slot></slot>
  </div>
</template>
`,
};

/**
 * Writes the file of a component that holds nothing yet.
 * @param path where it is to stand, relative to the root
 * @param starter whose wrapper, comments, interface and styles it has, with its own name for that of the starter
 * @param registry the components that are there
 * @returns its text, and all components with it
 * @throws Problem where the starter is no component file
 */
export function newComponent(
  { name, path }: { name: string; path: string },
  starter: ComponentSource | null,
  registry: Registry,
): { source: string; registry: Registry } {
  const model = starter ?? PLAIN;
  const own = nameOf(model);
  const there = [...registry.values()];
  const others = there.filter((each) => each.name !== own);
  const edits: Edits = new Map();
  const site = {
    pages: [],
    registry: readComponents([...others, model], registry),
    sheets: new Map(),
    data: registry.data ?? new Map<string, string>(),
  };
  noteMoves(edits, site, new Map([[model.path, path]]));
  const source = withName(withEdits(model.source, edits.get(model.path)?.edits ?? []), own, name);
  return { source, registry: readComponents([...there, { path, source }], registry) };
}

/** @throws Problem where the file holds no component */
function nameOf(model: ComponentSource): string {
  const template = parseFragment(model.source)
    .children.flatMap(elementsOf)
    .find(({ tag }) => tag === 'template');
  const name = template === undefined ? undefined : attrOf(template, 'component');
  if (name !== undefined) return name;
  throw new Problem('a starter is a component file, and this is none', {
    place: { path: model.path, line: 1, column: 1 },
    hint: 'it holds one <template component="some-name">; docs/starters.md has an example',
  });
}
