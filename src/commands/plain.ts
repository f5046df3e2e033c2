/** Values as JSON has them. */
import type { Finding } from '../core/survey/types.js';

type Value = Finding['props'][number]['values'][number];

/** A value as JSON has it: text without its spelling, lists as records. */
export function plain(value: Value): unknown {
  if (Array.isArray(value))
    return value.map((row) => Object.fromEntries(Object.entries(row).map(([name, field]) => [name, plain(field)])));
  return typeof value === 'object' && value !== null ? value.value : value;
}
