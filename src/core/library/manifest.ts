/**
 * What editors complete tags, attributes and slots from while uses are typed: the open Custom Elements Manifest, schema
 * 2.1.0. Here for the source format, whose components stand for themselves; `emit/elements` describes its classes with
 * the same pieces.
 */
import type { Registry } from '../component/model.js';
import type { Prop } from '../page/prop.js';

/** A value that an element takes: an attribute, or a field of its class. */
export interface Described {
  name: string;
  type: { text: string };
  default?: string;
  description?: string;
}

/** @param typeText as in TypeScript */
export function described(
  { name, about }: Pick<Prop, 'name' | 'about'>,
  typeText: string,
  standard: string | null,
): Described {
  return {
    name,
    type: { text: typeText },
    ...(standard === null
      ? {}
      : { default: /^-?[\d.]+$/.test(standard) && typeText.startsWith('number') ? standard : quoted(standard) }),
    ...(about === null ? {} : { description: about }),
  };
}

/** A string as JavaScript writes it. */
export function quoted(text: string): string {
  return `'${text.replace(/[\\']/g, '\\$&').replace(/\n/g, '\\n')}'`;
}

/** One element and the module that defines it. */
export interface ElementModule {
  /** of the module, relative to the manifest */
  path: string;
  tag: string;
  className: string;
  about: string | null;
  /** of its declaration, beside what all have */
  details: object;
  slots: readonly { name: string; description?: string }[];
}

/** The manifest of all elements, as text. */
export function manifestText(modules: readonly ElementModule[]): string {
  const written = modules.map(({ path, tag, className, about, details, slots }) => ({
    kind: 'javascript-module',
    path,
    declarations: [
      {
        kind: 'class',
        name: className,
        ...(about === null ? {} : { description: about }),
        customElement: true,
        tagName: tag,
        ...details,
        slots,
      },
    ],
    exports: [
      { kind: 'js', name: className, declaration: { name: className, module: path } },
      { kind: 'custom-element-definition', name: tag, declaration: { name: className, module: path } },
    ],
  }));
  return `${JSON.stringify({ schemaVersion: '2.1.0', readme: '', modules: written }, null, 2)}\n`;
}

/**
 * The manifest of the components of a project as they are used in its pages, by name.
 * @param way from the manifest's folder to the project's root, with `/` at its end; '' where they are one
 */
export function sourceManifest(registry: Registry, way: string): string {
  const components = [...registry.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
  return manifestText(
    components.map(({ name, path, about, props, ownProps, slots }) => ({
      path: way + path,
      tag: name,
      className: name,
      about,
      details: {
        attributes: [...ownProps.values()]
          .filter(({ type }) => type !== 'list')
          .map((prop) => described(prop, typeText(prop), prop.default?.value ?? null)),
      },
      slots: [
        ...[...slots].sort().map((slot) => ({ name: slot })),
        // a list is given as JSON in a place of its own
        ...[...ownProps.values()]
          .filter(({ type }) => type === 'list')
          .map((list) => ({ name: list.name, description: listText(list, props) })),
      ],
    })),
  );
}

function typeText(prop: Prop): string {
  const none = prop.optional && prop.default === null ? ' | null' : '';
  switch (prop.type) {
    case 'flag':
      return 'boolean';
    case 'number':
      return `number${none}`;
    case 'choice':
      return prop.choices.map(quoted).join(' | ') + none;
    default:
      return `string${none}`;
  }
}

/** What the records of a list hold. */
function listText(list: Prop, props: readonly Prop[]): string {
  const fields = props.filter(({ name }) => name.startsWith(`${list.name}.`));
  const told = fields.map(
    ({ name, optional }) => `${name.slice(list.name.length + 1)}${optional ? ' (optional)' : ''}`,
  );
  const about = list.about === null ? '' : `${list.about}: `;
  return `${about}<script type="application/json" slot="${list.name}"> with an array of records${told.length > 0 ? `: ${told.join(', ')}` : ''}`;
}
