/** What editors complete the tags and attributes of emitted elements from. */
import { described, manifestText } from '../../library/manifest.js';
import type { EmitComponent } from '../model.js';
import { type Job, propertyOf, typeName } from './module.js';

/** @param pathOf the module of a component, relative to the manifest */
export function manifestOf(components: EmitComponent[], job: Job, pathOf: (component: string) => string): string {
  return manifestText(
    components.map((component) => ({
      path: pathOf(component.name),
      tag: component.name,
      className: job.classes.get(component.name)!,
      about: component.about,
      details: detailsOf(component, job, pathOf),
      slots: component.slots.map((slot) => ({ name: slot })),
    })),
  );
}

/** Its attributes, and the fields of its class. */
function detailsOf({ name, props }: EmitComponent, job: Job, pathOf: (name: string) => string) {
  const types = job.types.props.get(name)!;
  const typed = props.map((prop) => {
    const type = types.get(prop.name)!;
    return { prop, isList: type.kind === 'list', common: described(prop, typeName(prop, type), prop.default) };
  });
  return {
    superclass: { name: 'SiteElement', module: pathOf('base') },
    attributes: typed.flatMap(({ prop, isList, common }) =>
      isList ? [] : [{ ...common, fieldName: propertyOf(prop.name) }],
    ),
    members: typed.map(({ prop, isList, common }) => ({
      kind: 'field',
      ...common,
      name: propertyOf(prop.name),
      ...(isList ? {} : { attribute: prop.name, reflects: true }),
    })),
  };
}
