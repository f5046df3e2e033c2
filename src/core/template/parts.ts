/** The parts of an attribute's value: class words, and the sides of style declarations. */
import { allEqual, firstOf, type PartHole, spelled } from './pattern.js';
import { commonStem, wordHoles } from './class-words.js';

/** What stands between the parts of a value; placeholders are not taken apart. */
export const PARTS = new Map<string, RegExp>(
  Object.entries({
    class: /([\t\n\f\r ]+)(?![^{}]*\}\})/,
    style: /([:;][\t\n\f\r ]*)(?![^{}]*\}\})/,
  }),
);

/** Splits a class or style value into parts where all occurrences have the same parts but for some; else the whole. */
export function partHoles(name: string, raws: (string | null)[]): PartHole[] {
  const whole: PartHole[] = [{ part: null, values: raws.map(spelled), before: '' }];
  const pattern = PARTS.get(name);
  if (pattern === undefined) return whole;
  const rows = raws.map((raw) => raw?.split(pattern) ?? null);
  const first = firstOf(rows);
  const alike = (row: string[] | null) =>
    row === null || (row.length === first.length && row.every((part, i) => i % 2 === 0 || part === first[i]));
  if (!rows.every(alike)) return name === 'class' ? (wordHoles(raws) ?? whole) : whole;
  const columns = Array.from({ length: Math.ceil(first.length / 2) }, (_, at) => {
    return { part: at * 2, column: rows.map((row) => row?.[at * 2] ?? null) };
  });
  const varying = columns.filter(({ column }) => !allEqual(column, (each) => each));
  // words that stand elsewhere in another list are the same words, moved by those that come and go
  const moved = name === 'class' && haveMoved(varying) ? wordHoles(raws) : null;
  if (moved !== null) return moved;
  if (name === 'style' && varying.some(({ part }) => part % 4 === 0)) return whole;
  return varying.map(({ part, column }) => {
    const before = name === 'class' ? commonStem(column.filter((each) => each !== null)) : '';
    const values = column.map((each) => (each === null ? null : spelled(each.slice(before.length))));
    return { part, values, before };
  });
}

/** True where a word of one row stands at another place in a second one. */
function haveMoved(columns: { part: number; column: (string | null)[] }[]): boolean {
  const placeOf = new Map<string | null, number>();
  return columns.some(({ part, column }) =>
    column.some((word) => {
      const place = placeOf.get(word) ?? part;
      if (word !== null) placeOf.set(word, place);
      return place !== part;
    }),
  );
}
