/** A stylesheet as a whole: how many of its rules dress components, pages, or nothing that is there. */
import type { Bond } from './belongs.js';
import type { Reached } from './dress.js';
import type { Sheet, Unit } from './sheet.js';

export interface Totals {
  sheet: Sheet;
  rules: number;
  /** of one component alone */
  own: number;
  /** that dress some component, and more */
  shared: number;
  /** that dress pages only */
  pages: number;
  /** that match nothing on any page; scripts may add what they dress */
  unseen: Unit[];
}

/** Totals of every sheet that pages use. */
export function totalsOf({ sheets, reach }: Reached, bonds: Iterable<Bond[]>): Totals[] {
  const own = new Set<Unit>();
  const some = new Set<Unit>();
  for (const list of bonds)
    for (const bond of list) {
      some.add(bond.unit);
      if (bond.own) own.add(bond.unit);
    }
  return sheets.map((sheet) => {
    const rules = sheet.units.filter(({ kind }) => kind === 'rule');
    const number = (which: (unit: Unit) => boolean) => rules.filter((unit) => reach.has(unit) && which(unit)).length;
    return {
      sheet,
      rules: rules.length,
      own: number((unit) => own.has(unit)),
      shared: number((unit) => some.has(unit) && !own.has(unit)),
      pages: number((unit) => !some.has(unit)),
      unseen: rules.filter((unit) => !reach.has(unit)),
    };
  });
}
