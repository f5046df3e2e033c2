/** What editors complete tags and attributes from: the open Custom Elements Manifest, schema 2.1.0. */
import type { EmitComponent } from '../model.js';
import { type Job, propertyOf, typeName } from './module.js';

/** @param pathOf the module of a component, relative to the manifest */
export function manifestOf(components: EmitComponent[], job: Job, pathOf: (component: string) => string): string {
  const modules = components.map((component) => {
    const { name } = component;
    const path = pathOf(name);
    const className = job.classes.get(name)!;
    return {
      kind: 'javascript-module',
      path,
      declarations: [declarationOf(component, className, job, pathOf)],
      exports: [
        { kind: 'js', name: className, declaration: { name: className, module: path } },
        { kind: 'custom-element-definition', name, declaration: { name: className, module: path } },
      ],
    };
  });
  return `${JSON.stringify({ schemaVersion: '2.1.0', readme: '', modules }, null, 2)}\n`;
}

function declarationOf(component: EmitComponent, className: string, job: Job, pathOf: (name: string) => string) {
  const { name, about, props, slots } = component;
  const types = job.types.props.get(name)!;
  const described = (text: string | null) => (text === null ? {} : { description: text });
  const standard = (value: string | null, isNumber: boolean) =>
    value === null ? {} : { default: isNumber ? value : `'${value.replace(/[\\']/g, '\\$&')}'` };
  const typed = props.map((prop) => {
    const type = types.get(prop.name)!;
    const common = { type: { text: typeName(prop, type) }, ...standard(prop.default, type.kind === 'number') };
    return { prop, isList: type.kind === 'list', common: { ...common, ...described(prop.about) } };
  });
  return {
    kind: 'class',
    name: className,
    ...described(about),
    customElement: true,
    tagName: name,
    superclass: { name: 'SiteElement', module: pathOf('base') },
    attributes: typed.flatMap(({ prop, isList, common }) =>
      isList ? [] : [{ name: prop.name, ...common, fieldName: propertyOf(prop.name) }],
    ),
    members: typed.map(({ prop, isList, common }) => ({
      kind: 'field',
      name: propertyOf(prop.name),
      ...common,
      ...(isList ? {} : { attribute: prop.name, reflects: true }),
    })),
    slots: slots.map((slot) => ({ name: slot })),
  };
}
