/** Findings from groups of places: their kind, what they save, and what they come to as components. */
import { RUN } from '../fragments/occurrence.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { eolOf, indentAt } from '../page/parse.js';
import { byteLength } from '../template/cost.js';
import { needsTemplateForm } from '../template/form.js';
import type { Value, General } from '../template/pattern.js';
import { pouredAt, useText, valuesAt } from '../template/use.js';
import { componentFile } from '../template/write.js';
import type { MatchedUses } from './match.js';
import type { Finding, FindingKind } from './types.js';

/** What is saved, over all files. */
export interface Amount {
  lines: number;
  bytes: number;
}

/** The uses of a generalised group, one an occurrence. */
export function usesOf(name: string, general: General): string[] {
  const { props, slots } = general;
  return general.occurrences.map((occurrence, i) => {
    const { page, element } = occurrence;
    const content = { values: valuesAt(props, i), slots: pouredAt(slots, occurrence, i) };
    const form = needsTemplateForm(element, slots) ? 'template' : 'tag';
    const place = { indent: indentAt(page.source, element.start), eol: eolOf(page.source) };
    return useText(name, props, content, form, place);
  });
}

/** What each place saves: the fragment, less its use. */
export function gainsOf({ occurrences }: Pick<General, 'occurrences'>, uses: string[]): Amount[] {
  return occurrences.map(({ page, element, end }, i) => {
    const fragment = page.source.slice(element.start, end);
    return { lines: breaks(fragment) - breaks(uses[i]!), bytes: byteLength(fragment) - byteLength(uses[i]!) };
  });
}

/** What all places save, less the component file. */
export function savedBy(gains: Amount[], file: string): Amount {
  const cost = { lines: breaks(file) + (file.endsWith('\n') ? 0 : 1), bytes: byteLength(file) };
  return gains.reduce((sum, gain) => ({ lines: sum.lines + gain.lines, bytes: sum.bytes + gain.bytes }), {
    lines: -cost.lines,
    bytes: -cost.bytes,
  });
}

/** A finding of one group by itself. */
export function findingFor(name: string, general: General): Finding {
  const file = componentFile(name, general);
  const uses = usesOf(name, general);
  const { occurrences, props, slots } = general;
  const kind: FindingKind = occurrences.length === 1 ? 'region' : slots.length > 0 ? 'frame' : kindOf(occurrences);
  const common = { name, kind, recommended: false, reason: null, blocked: null, component: null, terms: [] };
  return { ...common, occurrences, props, saved: savedBy(gainsOf(general, uses), file), file, uses, general };
}

/** More uses of a component that is there already. */
export function knownFinding({ component, places, rows }: MatchedUses): Finding {
  const props = component.props.map((prop) => ({
    ...prop,
    values: rows.map((row): Value => row.get(prop.name) ?? null),
  }));
  const uses = places.map(({ page, element }, i) => {
    const form = needsTemplateForm(element) ? 'template' : 'tag';
    const place = { indent: indentAt(page.source, element.start), eol: eolOf(page.source) };
    return useText(component.name, props, { values: valuesAt(props, i), slots: [] }, form, place);
  });
  return {
    name: component.name,
    kind: kindOf(places),
    recommended: true,
    reason: null,
    blocked: null,
    occurrences: places,
    props,
    saved: savedBy(gainsOf({ occurrences: places }, uses), ''),
    file: component.source,
    uses,
    general: null,
    component,
    terms: [],
  };
}

export function kindOf(occurrences: Occurrence[]): FindingKind {
  const pages = new Set(occurrences.map(({ page }) => page));
  if (pages.size > 1 && pages.size === occurrences.length) return 'shared';
  const adjacent = occurrences.every(({ element }, i) => {
    const next = occurrences[i + 1]?.element;
    if (next === undefined) return true;
    const siblings = element.parent!.children;
    if (next.parent !== element.parent) return false;
    const [last, first] = [
      element.tag === RUN ? element.children.at(-1)! : element,
      next.tag === RUN ? next.children[0]! : next,
    ];
    const between = siblings.slice(siblings.indexOf(last) + 1, siblings.indexOf(first));
    return between.every((node) => node.kind === 'comment' || (node.kind === 'text' && node.value.trim() === ''));
  });
  return adjacent ? 'series' : 'repeat';
}

function breaks(text: string): number {
  let count = 0;
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) count++;
  return count;
}
