/** What rules use by name: keyframes, fonts and custom properties, and which rules do. */
import type { Sheet, Unit } from './sheet.js';
import { addTo } from '../groups.js';

export interface Named {
  kind: 'keyframes' | 'font' | 'property';
  name: string;
  sheet: Sheet;
  /** offset of where it is defined */
  start: number;
  /** units that use it */
  users: Set<Unit>;
}

/** All that sheets define by name, with its users in any of them; prefixed keyframes count as the plain ones. */
export function namedIn(sheets: readonly Sheet[]): Named[] {
  const named: Named[] = [];
  const known = new Map<string, Named[]>();
  const define = (kind: Named['kind'], name: string, sheet: Sheet, start: number) => {
    const each: Named = { kind, name, sheet, start, users: new Set() };
    const key = `${kind} ${kind === 'font' ? name.toLowerCase() : name}`;
    named.push(each);
    addTo(known, key, each);
  };
  for (const sheet of sheets) {
    for (const { kind, name, node } of sheet.units)
      if (kind === 'keyframes') define('keyframes', name, sheet, node.start);
    for (const { name, start } of sheet.fonts) define('font', name, sheet, start);
    for (const { declarations } of sheet.rules)
      for (const { property, start } of declarations)
        if (property.startsWith('--')) define('property', property, sheet, start);
  }
  const use = (key: string, unit: Unit) => known.get(key)?.forEach(({ users }) => users.add(unit));
  for (const { rules } of sheets)
    for (const { declarations, unit } of rules)
      for (const { property, value } of declarations) {
        for (const [, name] of value.matchAll(/var\(\s*(--[^\s,)]+)/g)) use(`property ${name!}`, unit);
        if (/^(-[a-z]+-)?animation(-name)?$/.test(property))
          for (const word of value.split(/[\s,]+/)) use(`keyframes ${word.replace(/^["']|["']$/g, '')}`, unit);
        if (property === 'font-family' || property === 'font')
          for (const family of value.split(','))
            // in `font`, the first family follows the size
            for (const name of families(family)) use(`font ${name}`, unit);
      }
  return named;
}

function families(text: string): string[] {
  const quoted = /["']([^"']+)["']\s*$/.exec(text)?.[1];
  if (quoted !== undefined) return [quoted.toLowerCase()];
  const words = text.trim().toLowerCase().split(/\s+/);
  return words.map((_, i) => words.slice(i).join(' '));
}

/** The keyframes that only these units use and that one rule defines, so that they may stand anywhere. */
export function keyframesOf(named: readonly Named[], units: readonly Unit[]): Unit[] {
  const own = new Set(units);
  const frames = named.filter(({ kind }) => kind === 'keyframes');
  return frames.flatMap(({ name, sheet, start, users }) => {
    const twins = frames.filter((each) => each.name === name).length > 1;
    if (twins || users.size === 0 || ![...users].every((each) => own.has(each))) return [];
    return sheet.units.find((each) => each.kind === 'keyframes' && each.node.start === start) ?? [];
  });
}
