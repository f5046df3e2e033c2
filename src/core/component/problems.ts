/** What is wrong with templates and uses: names that mean nothing, content that has no place, values that cannot be. */
import { closest, distance } from 'fastest-levenshtein';
import { type Place, shownValue, workingOn } from '../errors.js';
import { placeAt } from '../page/parse.js';
import { camelName, type Expression, namesIn } from './expression.js';
import type { Component, Prop, Registry } from './model.js';
import type { Part } from './parts.js';
import type { Placed, Segment } from './segments.js';

export interface UseProblem {
  kind:
    'missing-prop' | 'unknown-prop' | 'unknown-choice' | 'unknown-slot' | 'unknown-name' | 'unknown-field' | 'bad-list';
  message: string;
  place: Place;
}

/** How many letters a misspelt name may be off. */
const NEAR = 2;

/** The name that was probably meant; null where none is near. */
export function nearestName(name: string, names: Iterable<string>): string | null {
  const all = [...names];
  if (all.length === 0) return null;
  const near = closest(name, all);
  return distance(name, near) <= Math.min(NEAR, Math.ceil(near.length / 3)) ? near : null;
}

/** What to do about a name that is none: the near one, or those that there are. */
export function suggestion(name: string, names: Iterable<string>, what: string): string {
  const known = [...names];
  const near = nearestName(name, known);
  if (near !== null) return `did you mean ${near}?`;
  const all = known.join(', ');
  return all === '' ? 'it has none' : `${what} are ${shownValue(all)}`;
}

/** The names of the slots that a template has, '' for the default one. */
export function slotNames(parts: readonly Part[]): Set<string> {
  return new Set(
    parts.flatMap((part): string[] => {
      switch (part.kind) {
        case 'slot':
          return [part.name, ...slotNames(part.parts)];
        case 'when':
        case 'each':
          return [...slotNames(part.parts)];
        case 'use':
          return [...part.slots.values()].flatMap((slot) => [...slotNames(slot.parts)]);
        default:
          return [];
      }
    }),
  );
}

/** The fields of a list by its prop's name: what `stops.place` declares of `stops`, camelCase. */
export function fieldsOf(list: Prop, props: readonly Prop[]): Set<string> {
  const start = `${list.name}.`;
  return new Set(
    props.filter(({ name }) => name.startsWith(start)).map(({ name }) => camelName(name.slice(start.length))),
  );
}

/** What a name means in a template: a value, a list of records, a record, or something that nothing is known of. */
type Meaning = { is: 'value' | 'anything' } | { is: 'list' | 'record'; fields: ReadonlySet<string> };

type Scope = ReadonlyMap<string, Meaning>;

/** The names in templates that mean nothing, and slots that no use can fill; in the order of the components. */
export function templateProblems(registry: Registry): UseProblem[] {
  return [...registry.values()].flatMap((component) => {
    const { ownProps, props } = component;
    const scope = new Map(Array.from(ownProps, ([variable, prop]) => [variable, meaningOf(prop, props)]));
    return workingOn(component.path, () => problemsIn(component.parts, scope, component));
  });
}

function meaningOf(prop: Prop, props: readonly Prop[]): Meaning {
  return prop.type === 'list' ? { is: 'list', fields: fieldsOf(prop, props) } : { is: 'value' };
}

function problemsIn(parts: readonly Part[], scope: Scope, component: Component): UseProblem[] {
  const inside = (more: readonly Part[], names: Scope = scope) => problemsIn(more, names, component);
  const named = (each: Placed) => unknownNames(each, scope, component);
  const inSegments = (segments: readonly Segment[]) =>
    segments.flatMap((segment) => (typeof segment === 'string' ? [] : named(segment)));
  return parts.flatMap((part): UseProblem[] => {
    switch (part.kind) {
      case 'text':
        return [];
      case 'value':
        return named(part.expression);
      case 'attribute':
        return inSegments(part.segments);
      case 'when':
        return [...named(part.test), ...inside(part.parts)];
      case 'each': {
        const item = itemOf(part.of, scope);
        const wrong = item === null ? [notAList(part.of, component)] : named(part.of);
        return [...wrong, ...inside(part.parts, new Map([...scope, [camelName(part.item), item ?? ANYTHING]]))];
      }
      case 'slot':
        return [
          ...(part.name.includes('{{') ? [unfillable(part.name, part.offset, component)] : []),
          ...inside(part.parts),
        ];
      case 'use':
        return [
          ...part.attributes.flatMap(({ segments }) => inSegments(segments)),
          ...[...part.slots.values()].flatMap((slot) => inside(slot.parts)),
        ];
    }
  });
}

const ANYTHING: Meaning = { is: 'anything' };

/** What an item of a list is; null for what is no list. */
function itemOf(of: Expression, scope: Scope): Meaning | null {
  if (of.kind !== 'name' || of.path.length > 1) return ANYTHING;
  const meaning = scope.get(of.path[0]!) ?? ANYTHING;
  if (meaning.is === 'list') return meaning.fields.size === 0 ? ANYTHING : { is: 'record', fields: meaning.fields };
  return meaning.is === 'anything' ? ANYTHING : null;
}

function notAList(of: Placed, component: Component): UseProblem {
  const name = of.kind === 'name' ? of.path.join('.') : '';
  return {
    kind: 'unknown-name',
    message: `${shownValue(name)} is no list: declare it with type="list", or use when`,
    place: placeAt(component, of.offset),
  };
}

function unfillable(name: string, offset: number, component: Component): UseProblem {
  return {
    kind: 'unknown-slot',
    message: `no use can fill the slot "${shownValue(name)}": a slot's name stands for itself, without placeholders`,
    place: placeAt(component, offset),
  };
}

function unknownNames(expression: Placed, scope: Scope, component: Component): UseProblem[] {
  return namesIn(expression).flatMap((path): UseProblem[] => {
    const [name, ...fields] = path;
    const meaning = scope.get(name!);
    const tell = (kind: UseProblem['kind'], message: string): UseProblem[] => [
      { kind, message, place: placeAt(component, expression.offset) },
    ];
    if (meaning === undefined)
      return tell(
        'unknown-name',
        `${shownValue(name!)} is no prop of ${component.name}: ${suggestion(name!, scope.keys(), 'its props')}`,
      );
    const [field] = fields;
    if (field === undefined || meaning.is === 'anything') return [];
    if (meaning.is !== 'record') return tell('unknown-field', `${name!} has no fields, such as ${shownValue(field)}`);
    if (meaning.fields.has(field)) return [];
    return tell(
      'unknown-field',
      `${shownValue(field)} is no field of ${name!}: ${suggestion(field, meaning.fields, 'its fields')}`,
    );
  });
}
