/**
 * Putting styles back into the sheets that they were cut out of: to the byte where it is known how they were cut and they
 * were not edited since, else together, where the marker stands.
 */
import { applyPatch, structuredPatch } from 'diff';
import type { Component, Registry } from '../component/model.js';
import type { ComponentSource } from '../component/read.js';
import { Problem } from '../errors.js';
import { placeAt } from '../page/parse.js';
import { cutShares, type Share } from './cut.js';
import { type Filled, fillMarkers, placeInSource } from './fill.js';
import { contestReader } from './order.js';
import { compareSheets, counterparts } from './proof.js';
import { readSheet, type Sheet, type Unit } from './sheet.js';
import { componentStyle, withoutStyle } from './text.js';

/** How styles were cut out of a sheet. Offsets are UTF-16, into `base`. */
export interface SheetCut {
  path: string;
  /** the sheet as it was, with the markers that it had */
  base: string;
  shares: CutShare[];
}

export interface CutShare {
  component: string;
  /** the component file */
  path: string;
  /** where its rules start */
  units: number[];
  /** where the rule starts whose place the marker took */
  anchor: number;
}

export interface BackPlan {
  components: ComponentSource[];
  /** `exact` where the sheet is what it was before the styles were cut out of it */
  sheets: { path: string; before: string; after: string; exact: boolean }[];
}

/**
 * Says how shares were cut out of a sheet, so that they can be put back.
 * @param sheet the sheet as `filled` from `base`, which shares were cut out of, to give `after`
 * @param earlier how styles were cut out of it before; where what stands can be told as one cut with these, it is
 */
export function cutOf(
  { sheet, base, filled, shares }: { sheet: Sheet; base: string; filled: Filled; shares: readonly Share[] },
  after: string,
  earlier: SheetCut | undefined,
): SheetCut {
  const cutFrom = (text: string, all: Share[], placeOf: (unit: Unit) => number): SheetCut => ({
    path: sheet.path,
    base: text,
    shares: all
      .filter(({ units }) => units.length > 0)
      .map(({ component, path, units, anchor }) => ({
        ...{ component, path, units: units.map(placeOf), anchor: placeOf(anchor) },
      })),
  });
  const alone = cutFrom(base, [...shares], ({ node }) => placeInSource(filled, node.start));
  if (earlier === undefined) return alone;
  const first = readSheet(sheet.path, earlier.base);
  const there = counterparts(sheet, first);
  const standing = new Set(filled.ranges.map(({ component }) => component));
  const all = [
    ...sharesIn(first, earlier).filter(({ component }) => standing.has(component)),
    ...shares.flatMap(({ units, anchor, ...share }): Share[] => {
      const at = there.get(anchor);
      return at === undefined ? [] : [{ ...share, units: units.flatMap((unit) => there.get(unit) ?? []), anchor: at }];
    }),
  ];
  return cutShares(first, all, []).text === after ? cutFrom(earlier.base, all, ({ node }) => node.start) : alone;
}

/**
 * Plans to put the styles of a component back.
 * @param sources stylesheets by path
 * @param cuts how styles were cut out of sheets, oldest first
 * @throws Problem when it has none, or no sheet has its marker
 */
export function planBack(
  name: string,
  registry: Registry,
  sources: ReadonlyMap<string, string>,
  cuts: readonly SheetCut[],
): BackPlan {
  const component = registry.get(name)!;
  const { style } = component;
  if (style === null)
    throw new Problem(`${name} has no styles of its own`, { hint: 'estrade styles lists which have' });
  const alone: Registry = new Map([[name, component]]);
  const sheets = [...sources].flatMap(([path, before]) => {
    const { text } = fillMarkers(path, before, alone);
    if (text === before) return [];
    const cut = cuts.findLast((each) => each.path === path && each.shares.some((share) => share.component === name));
    const exact = cut === undefined ? null : uncut(cut, component, before, registry);
    return [{ path, before, after: exact ?? text, exact: exact !== null }];
  });
  if (sheets.length === 0)
    throw new Problem(`no stylesheet has a marker for ${name}`, {
      place: placeAt(component, style.start),
      hint: `write @component ${name}; where its styles belong`,
    });
  return { components: [{ path: component.path, source: withoutStyle(component) }], sheets };
}

/** A sheet with the styles of a component where they were; null where they, or what is around them, are not what they were. */
function uncut(cut: SheetCut, component: Component, source: string, registry: Registry): string | null {
  const { name, style } = component;
  const standing = new Set(readSheet(cut.path, source).markers.map((marker) => marker.name));
  const base = readSheet(cut.path, cut.base);
  const shares = sharesIn(base, cut).filter((share) => standing.has(share.component));
  const { text, styles } = cutShares(base, shares, []);
  if (styles.get(name) !== componentStyle(component.source, style!)) return null;
  const others = shares.filter((share) => share.component !== name);
  const without = cutShares(base, others, []).text;
  const after = text === source ? without : applyPatch(source, structuredPatch('', '', text, without));
  if (after === false) return null;
  const filled = (css: string) => readSheet(cut.path, fillMarkers(cut.path, css, registry).text);
  return compareSheets(filled(source), filled(after), contestReader()) === null ? after : null;
}

/** The shares of a cut in the sheet that they were cut out of; what is not there is left out. */
function sharesIn({ units }: Sheet, { shares }: SheetCut): Share[] {
  const byStart = new Map(units.map((unit) => [unit.node.start, unit]));
  return shares.flatMap(({ component, path, units: starts, anchor: start }): Share[] => {
    const anchor = byStart.get(start);
    const own = starts.flatMap((each) => byStart.get(each) ?? []);
    return anchor === undefined || own.length === 0 ? [] : [{ component, path, units: own, anchor }];
  });
}
