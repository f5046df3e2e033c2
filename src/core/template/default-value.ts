/** Which value of a prop is left out of uses. */
import type { Spelled } from '../page/spelling.js';

/** The value that most occurrences have, when it is worth a default; all URLs included that could not be shared. */
export function defaultOf(values: Spelled[]): Spelled | null {
  const counts = new Map<string, number>();
  for (const { value } of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  const [value, count] = [...counts].reduce((best, each) => (each[1] > best[1] ? each : best));
  if (count < values.length && (values.length < 3 || count * 2 <= values.length)) return null;
  return values.find((each) => each.value === value)!;
}
