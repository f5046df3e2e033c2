/** Filling in: what `@component` markers in a stylesheet stand for. The one piece of code behind `expand` and the proof. */
import type { Registry } from '../component/model.js';
import { type Place } from '../errors.js';
import { placeAt } from '../page/parse.js';
import { markersIn } from './sheet.js';
import { atHome, componentStyle, leadAt } from './text.js';

export interface Filled {
  text: string;
  /** where styles were filled in: ranges of the text, and the marker that stood there */
  ranges: { component: string; start: number; end: number; marker: string }[];
  problems: { message: string; place: Place }[];
}

/** Fills the styles of components in where their markers stand; all else stays to the byte. */
export function fillMarkers(path: string, source: string, registry: Registry): Filled {
  const filled: Filled = { text: source, ranges: [], problems: [] };
  const sheet = { path, source };
  let text = '';
  let at = 0;
  for (const { name, start, end } of markersIn(source)) {
    const component = registry.get(name);
    const why =
      component === undefined
        ? `there is no component ${name}`
        : component.style === null
          ? `the component ${name} has no styles`
          : filled.ranges.some((each) => each.component === name)
            ? `the styles of ${name} are filled in twice`
            : null;
    if (why !== null) filled.problems.push({ message: why, place: placeAt(sheet, start) });
    if (component === undefined || component.style === null) continue;
    const styles = componentStyle(component.source, component.style);
    text += source.slice(at, start);
    const from = text.length;
    text += atHome(styles, sheet, start, component.path);
    filled.ranges.push({ component: name, start: from, end: text.length, marker: source.slice(start, end) });
    at = end;
  }
  filled.text = text + source.slice(at);
  return filled;
}

/** An offset into a filled text, outside of what was filled in, as one into the text with the markers. */
export function placeInSource({ ranges }: Pick<Filled, 'ranges'>, offset: number): number {
  const before = ranges.filter(({ end }) => end <= offset);
  return before.reduce((place, { start, end, marker }) => place - (end - start) + marker.length, offset);
}

/**
 * Where an offset into a filled text stands on disk: in the sheet around the markers, or in a component file.
 * @param sheet as it is on disk; where its lines begin is kept for it and for `filled`, so that both are made once
 */
export function placeOnDisk(
  sheet: { path: string; source: string },
  filled: { path: string; source: string; ranges: Filled['ranges'] },
  registry: Registry,
  offset: number,
): Place {
  const { ranges } = filled;
  const inside = ranges.find(({ start, end }) => start <= offset && offset < end);
  if (inside !== undefined) {
    const { component: name, start } = inside;
    const component = registry.get(name)!;
    const { line, column } = placeAt(filled, offset);
    const style = component.source.slice(component.style!.start, component.style!.end);
    const first = component.style!.start + /^\s*/.exec(style)![0].length;
    const top = placeAt(component, first);
    const indent = top.column - 1 - (leadAt(filled.source, start)?.length ?? 0);
    const lines = line - placeAt(filled, start).line;
    return { path: component.path, line: top.line + lines, column: Math.max(1, column + indent) };
  }
  return placeAt(sheet, placeInSource({ ranges }, offset));
}
