/** Lists as JSON: their records as templates have them, and what is wrong with them. */
import { shownValue } from '../errors.js';
import { spelledValue } from '../page/spelling.js';
import { camelName, type Datum } from './expression.js';
import type { Prop } from './model.js';
import { fieldsOf, suggestion } from './problems.js';

/** A parsed JSON value as templates have it. */
export function fromJson(json: unknown): Datum {
  if (typeof json === 'string' || typeof json === 'number') return spelledValue(String(json));
  if (typeof json === 'boolean') return json;
  if (Array.isArray(json)) return json.map(fromJson);
  if (typeof json !== 'object' || json === null) return null;
  return new Map(Object.entries(json).map(([key, value]) => [camelName(key), fromJson(value)]));
}

/** What is wrong with a list: that it is none, or fields that its records have or lack. */
export function wrongRecords(value: Datum, list: Prop, props: readonly Prop[]): string[] {
  if (!Array.isArray(value)) return [`the list ${list.name} is no array`];
  const fields = fieldsOf(list, props);
  if (fields.size === 0) return [];
  const needed = props
    .filter(
      ({ name, optional, type, default: standard }) =>
        name.startsWith(`${list.name}.`) && !optional && standard === null && type !== 'flag',
    )
    .map(({ name }) => camelName(name.slice(list.name.length + 1)));
  const told = value.flatMap((record, i) => {
    const at = `record ${i + 1} of the list ${list.name}`;
    if (!(record instanceof Map)) return [`${at} is no object`];
    const unknown = [...record.keys()].filter((key) => !fields.has(key));
    const missing = needed.filter((name) => (record.get(name) ?? null) === null);
    return [
      ...unknown.map((key) => `${at} has no field ${shownValue(key)}: ${suggestion(key, fields, 'its fields')}`),
      ...missing.map((name) => `${at} lacks ${name}`),
    ];
  });
  return told.length > MOST_TOLD
    ? [...told.slice(0, MOST_TOLD), `${told.length - MOST_TOLD} more in the list ${list.name}`]
    : told;
}

/** So many problems are told of one list. */
const MOST_TOLD = 5;
