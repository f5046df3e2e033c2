/** The parts of an attribute's value: class words, and the sides of style declarations. */
import { allEqual, type PartHole, spelled } from './pattern.js';
import { commonStem, wordHoles } from './class-words.js';

/** What stands between the parts of a value; placeholders are not taken apart. */
export const PARTS: Record<string, RegExp> = {
  class: /([\t\n\f\r ]+)(?![^{}]*\}\})/,
  style: /([:;][\t\n\f\r ]*)(?![^{}]*\}\})/,
};

/** Splits a class or style value into parts where all occurrences have the same parts but for some; else the whole. */
export function partHoles(name: string, raws: (string | null)[]): PartHole[] {
  const whole: PartHole[] = [{ part: null, values: raws.map(spelled), before: '' }];
  const pattern = PARTS[name];
  if (pattern === undefined) return whole;
  const rows = raws.map((raw) => raw?.split(pattern) ?? null);
  const first = rows.find((row) => row !== null)!;
  const alike = (row: string[] | null) =>
    row === null || (row.length === first.length && row.every((part, i) => i % 2 === 0 || part === first[i]));
  if (!rows.every(alike)) return name === 'class' ? (wordHoles(raws) ?? whole) : whole;
  // words that stand elsewhere in another list are the same words, moved by those that come and go
  const moved = name === 'class' && haveMoved(rows, first.length) ? wordHoles(raws) : null;
  if (moved !== null) return moved;
  const holes: PartHole[] = [];
  for (let part = 0; part < first.length; part += 2) {
    const column = rows.map((row) => row?.[part] ?? null);
    if (allEqual(column, (each) => each)) continue;
    if (name === 'style' && part % 4 === 0) return whole;
    const before = name === 'class' ? commonStem(column.filter((each) => each !== null)) : '';
    holes.push({
      part,
      values: column.map((each) => (each === null ? null : spelled(each.slice(before.length)))),
      before,
    });
  }
  return holes;
}

/** True where a word of one row stands at another place in a second one, which has something else at its place. */
function haveMoved(rows: (string[] | null)[], length: number): boolean {
  const placeOf = new Map<string, number>();
  const varying = Array.from({ length: Math.ceil(length / 2) }, (_, i) => i * 2).filter(
    (part) =>
      !allEqual(
        rows.map((row) => row?.[part] ?? null),
        (each) => each,
      ),
  );
  for (const row of rows)
    for (const part of row === null ? [] : varying) {
      const place = placeOf.get(row![part]!) ?? part;
      if (place !== part) return true;
      placeOf.set(row![part]!, part);
    }
  return false;
}
