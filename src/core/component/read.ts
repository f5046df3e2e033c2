/** Reads component files: one `template` with its interface on top, and styles. */
import { Problem, workingOn } from '../errors.js';
import { indentAt, type Page, parseFragment, placeAt, refuseDepth } from '../page/parse.js';
import { spelledAttribute } from '../page/spelling.js';
import { valueOf } from '../page/attribute.js';
import { attrOf, type Child, type Element, elementsOf } from '../page/tree.js';
import { type Component, type Prop, PROP_TYPES, type PropType, type Registry, type Surroundings } from './model.js';
import { urlKind, type UrlKind } from '../page/url.js';
import { baseOf, inFileCase, isNamedAfter } from './file-names.js';
import { RESERVED_ELEMENTS, sameInCode } from './names.js';
import { camelName } from './expression.js';
import { slotNames } from './problems.js';
import { compile } from './parts.js';
import type { Staying } from './staying.js';
import { usedComponent } from './use.js';
import { GLOBAL_ATTRIBUTES, INSTEAD } from '../page/prop.js';

const NAME = /^[a-z][a-z0-9._]*-[a-z0-9._-]*$/;

/** A component file as it was read from disk. */
export interface ComponentSource {
  path: string;
  source: string;
}

/**
 * Reads all component files of a project, with the data files that lists are kept in, and compiles their templates against each other.
 * @param around what pages are expanded with; of components that were read before, those whose files are the same are not
 * parsed again
 * @param staying components whose uses are left as they are, whether they are among these or not
 * @throws Problem with the place of the first thing that is wrong
 */
export function readComponents(
  files: ComponentSource[],
  around: Surroundings | Registry = {},
  staying?: Staying,
): Registry {
  const { data, maxPageSize } = around;
  const before = 'values' in around ? new Map(Array.from(around.values(), (each) => [each.path, each])) : null;
  const registry = new Map<string, Component>();
  for (const file of files) {
    const known = before?.get(file.path);
    const component = known?.source === file.source ? { ...known } : workingOn(file.path, () => readInterface(file));
    const twin = registry.get(component.name);
    if (twin !== undefined)
      throw new Problem(`two files define the component ${component.name}`, {
        place: placeAt(file, component.template.start),
        hint: `rename one of them; the other is ${twin.path}`,
      });
    registry.set(component.name, component);
  }
  const isComponent = (name: string) => registry.has(name);
  for (const component of registry.values()) {
    const { path, start, end } = component;
    component.parts = workingOn(path, () =>
      compile(bodyOf(component), start, end, {
        page: component,
        base: component.base,
        template: true,
        isComponent,
        ...(staying === undefined ? {} : { staying }),
      }),
    );
    component.slots = slotNames(component.parts);
  }
  refuseCycles(registry);
  return Object.assign(registry, { data, maxPageSize, ...(staying === undefined ? {} : { staying }) });
}

function readInterface(file: ComponentSource): Component {
  const root = parseFragment(file.source);
  refuseDepth({ ...file, root });
  const templates = root.children.filter(
    (child): child is Element => child.kind === 'element' && child.tag === 'template',
  );
  const [template] = templates;
  if (template === undefined || templates.length > 1)
    throw new Problem(
      template === undefined ? 'this is no component file: it holds no template' : 'this file holds two templates',
      {
        place: placeAt(file, templates[1]?.start ?? 0),
        hint: 'a component file holds one <template component="some-name"> and its <style>',
      },
    );
  const name = attrOf(template, 'component');
  if (name === undefined || !NAME.test(name) || !isNamedAfter(file.path, name))
    throw new Problem(
      name === undefined ? 'the template has no component name' : `"${name}" is not the name of this component`,
      {
        place: placeAt(file, template.start),
        hint: `write component="${inFileCase(baseOf(file.path), 'kebab')}": the name is the file's, in lower case, with a hyphen`,
      },
    );
  if (template.closeStart < 0)
    throw new Problem('the template is not closed', {
      place: placeAt(file, template.start),
      hint: 'write </template> at its end',
    });
  if (RESERVED_ELEMENTS.has(name))
    throw new Problem(`a component cannot be called ${name}: SVG or MathML has an element of that name`, {
      place: placeAt(file, template.start),
      hint: 'rename it and its file',
    });
  const props: Prop[] = [];
  let start = template.openEnd;
  for (const child of template.children) {
    if (child.kind === 'text' && child.value.trim() === '') continue;
    const prop = child.kind === 'element' && child.tag === 'meta' ? attrOf(child, 'prop') : undefined;
    if (prop === undefined) break;
    props.push(readProp(file, child as Element, prop, props));
    start = child.end;
  }
  const content = file.source.slice(start, template.closeStart);
  start += /^\s*/.exec(content)![0].length;
  const end = Math.max(start, template.closeStart - /\s*$/.exec(content)![0].length);
  const about = attrOf(template, 'about') ?? null;
  const base = indentAt(file, start);
  return {
    name,
    about,
    ...file,
    props,
    ownProps: new Map(props.flatMap((prop) => (prop.name.includes('.') ? [] : [[camelName(prop.name), prop]]))),
    template,
    start,
    end,
    base,
    style: readStyle(file, root.children),
    parts: [],
    slots: new Set(),
  };
}

function readStyle(file: ComponentSource, nodes: Child[]): Component['style'] {
  const [style, twin] = nodes.filter((node): node is Element => node.kind === 'element' && node.tag === 'style');
  const wrong = twin ?? (style !== undefined && style.closeStart < 0 ? style : undefined);
  if (wrong !== undefined)
    throw new Problem(twin === undefined ? 'the style element is not closed' : 'this file holds two style elements', {
      place: placeAt(file, wrong.start),
      hint: twin === undefined ? 'write </style> at its end' : 'put all rules into one of them',
    });
  return style === undefined ? null : { start: style.openEnd, end: style.closeStart };
}

function readProp(file: ComponentSource, meta: Element, name: string, before: Prop[]): Prop {
  const fail = (message: string, hint: string): never => {
    throw new Problem(message, { place: placeAt(file, meta.start), hint });
  };
  if (!/^[a-z][a-z0-9]*(-[a-z0-9]+)*(\.[a-z][a-z0-9]*(-[a-z0-9]+)*)?$/.test(name))
    fail(`"${name}" cannot be a prop's name`, 'use lower-case words with hyphens between them');
  if (GLOBAL_ATTRIBUTES.has(name))
    fail(
      `a prop cannot be called ${name}, which any element may carry or the format uses`,
      `rename it, for instance to ${INSTEAD.get(name) ?? `own-${name}`}, here and in its uses`,
    );
  const twin = before.find((prop) => prop.name !== name && sameInCode(prop.name, name));
  if (twin !== undefined)
    fail(`the props ${twin.name} and ${name} differ in nothing but hyphens`, 'rename one of them');
  if (before.some((prop) => prop.name === name)) fail(`the prop ${name} stands twice`, 'remove one of the two lines');
  const type = attrOf(meta, 'type') ?? 'text';
  if (!PROP_TYPES.includes(type as PropType))
    fail(`"${type}" is no type of prop`, `allowed are ${PROP_TYPES.join(', ')}`);
  const standard = meta.attrs.find((attr) => attr.name === 'default');
  return {
    name,
    type: type as PropType,
    optional: attrOf(meta, 'optional') !== undefined,
    default: standard === undefined ? null : spelledAttribute(valueOf(file.source, standard).raw),
    choices: (attrOf(meta, 'choices') ?? '').split(/\s+/).filter((word) => word !== ''),
    about: attrOf(meta, 'about') ?? null,
  };
}

/** The nodes of the template's markup: its children after the interface. */
export function bodyOf(component: Component): Child[] {
  return component.template.children.filter((child) => child.start >= component.start || child.end > component.start);
}

/** The templates of all components as pages, so that they are surveyed and cut like any other. */
export function templatesOf(registry: Registry): Page[] {
  return [...registry.values()].map((component) => ({
    path: component.path,
    source: component.source,
    component,
    root: {
      kind: 'root',
      mode: 'no-quirks',
      children: bodyOf(component),
      parent: null,
      start: component.start,
      end: component.end,
    },
  }));
}

/** The components that a component's template uses directly. */
export function usesIn(component: Component, registry: Registry): string[] {
  const names = elementsOf(component.template).map((each) => usedComponent(each, (name) => registry.has(name)));
  return [...new Set(names.filter((name): name is string => name !== null))];
}

/** More components than anybody puts into each other, and as many as plain recursion over them is safe. */
const MOST_NESTED = 200;

/** @throws Problem where a component uses itself, or where they stand in each other too deep */
function refuseCycles(registry: Registry): void {
  const depths = new Map<string, number>();
  /** @returns how many components stand in each other, this one the outermost */
  const depthOf = (component: Component, path: string[]): number => {
    const known = depths.get(component.name);
    if (known !== undefined) return known;
    const refuse = (message: string) => {
      const place = placeAt(component, component.template.start);
      throw new Problem(message, { place, hint: 'take one of these uses out of its template' });
    };
    let depth = 1;
    for (const name of usesIn(component, registry)) {
      const chain = [...path, name];
      if (path.includes(name)) refuse(`a component uses itself: ${chain.slice(chain.indexOf(name)).join(' → ')}`);
      if (chain.length <= MOST_NESTED) depth = Math.max(depth, 1 + depthOf(registry.get(name)!, chain));
      if (chain.length > MOST_NESTED || depth > MOST_NESTED)
        refuse(`more than ${MOST_NESTED} components stand in each other, from ${path[0]!} on`);
    }
    depths.set(component.name, depth);
    return depth;
  };
  for (const component of registry.values()) depthOf(component, [component.name]);
}

/** How an attribute holds URLs; that of a use does when its prop is a `url`. */
export function urlKindIn(registry: Registry): (element: Element, name: string) => UrlKind | null {
  return (element, name) => {
    const used = usedComponent(element, (each) => registry.has(each));
    if (used === null) return urlKind(element, name);
    return registry.get(used)!.props.some((prop) => prop.name === name && prop.type === 'url') ? 'url' : null;
  };
}
