/** Findings from groups of places: their kind, what they save, and what they come to as components. */
import { RUN } from '../fragments/occurrence.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { composeAll, type Composing } from '../template/compose.js';
import { byteLength } from '../template/cost.js';
import { needsTemplateForm } from '../template/form.js';
import type { Value, General, Poured } from '../template/pattern.js';
import { keepFor, type Keeping, placeOfUse, pouredAt, useText, valuesAt } from '../template/use.js';
import { componentFile } from '../template/write.js';
import type { KnownUse } from '../match/known.js';
import type { Finding, FindingKind } from './types.js';

/** What is saved, over all files. */
export interface Amount {
  lines: number;
  bytes: number;
}

/** A use, and the list files that come with it. */
export interface Use {
  text: string;
  files: string[];
}

/**
 * The uses of a generalised group, one an occurrence.
 * @param keeping where lists go that are too long for a page; without it all stay
 */
function usesOf(name: string, general: General, keeping?: Keeping): Use[] {
  const { props, slots } = general;
  const files = new Map(keeping?.files);
  return general.occurrences.map((occurrence, i): Use => {
    const { element } = occurrence;
    const content = { values: valuesAt(props, i), slots: pouredAt(slots, occurrence, i) };
    const form = needsTemplateForm(element, slots) ? 'template' : 'tag';
    const before = files.size;
    const keep = keeping && keepFor(occurrence, { ...keeping, files });
    const text = useText(name, props, content, form, {
      ...placeOfUse(occurrence),
      ...(keep ? { keep } : {}),
    });
    return { text, files: [...files.values()].slice(before) };
  });
}

/** What each place saves: the fragment, less its use and what comes with that. */
export function gainsOf({ occurrences }: Pick<General, 'occurrences'>, uses: Use[]): Amount[] {
  return occurrences.map(({ page, element, end }, i) => {
    const fragment = page.source.slice(element.start, end);
    const { text, files } = uses[i]!;
    return files.map(sizeOf).reduce(less, {
      lines: breaks(fragment) - breaks(text),
      bytes: byteLength(fragment) - byteLength(text),
    });
  });
}

/** What all places save, less the component file. */
export function savedBy(gains: Amount[], file: string): Amount {
  const gained = gains.reduce((sum, gain) => ({ lines: sum.lines + gain.lines, bytes: sum.bytes + gain.bytes }), {
    lines: 0,
    bytes: 0,
  });
  return less(gained, sizeOf(file));
}

export function less(amount: Amount, cost: Amount): Amount {
  return { lines: amount.lines - cost.lines, bytes: amount.bytes - cost.bytes };
}

/** Lines and bytes of a file. */
function sizeOf(file: string): Amount {
  return { lines: breaks(file) + (file === '' || file.endsWith('\n') ? 0 : 1), bytes: byteLength(file) };
}

/** A component as it is written, with its uses. */
export interface Written {
  /** source of the component file */
  file: string;
  /** the uses, one an occurrence */
  texts: string[];
  /** what each place saves */
  gains: Amount[];
}

/** @param keeping where lists go that are too long for a page */
export function writtenFor(name: string, general: General, keeping?: Keeping): Written {
  const uses = usesOf(name, general, keeping);
  const texts = uses.map(({ text }) => text);
  return { file: componentFile(name, general), texts, gains: gainsOf(general, uses) };
}

/** How many bytes a component saves that no other one stands in. */
export function savedAlone(general: General): number {
  const { gains, file } = writtenFor('any-name', general);
  return savedBy(gains, file).bytes;
}

/** A finding of one group by itself. @param keeping where lists go that are too long for a page */
export function findingFor(name: string, general: General, keeping?: Keeping): Finding {
  const { file, texts, gains } = writtenFor(name, general, keeping);
  const { occurrences, props, slots } = general;
  const kind: FindingKind = occurrences.length === 1 ? 'region' : slots.length > 0 ? 'frame' : kindOf(occurrences);
  const common = { name, kind, recommended: false, reason: null, blocked: null, component: null, terms: [] };
  return {
    ...common,
    occurrences,
    props,
    slots,
    saved: savedBy(gains, file),
    file,
    uses: texts,
    renames: new Map(),
    general,
  };
}

/** Findings as they are written when all of them are lifted: with each other in their templates. */
export function composedFindings(findings: Finding[], options: Composing, keeping?: Keeping): Finding[] {
  const composed = composeAll(findings, options);
  return findings.map((finding) => {
    const general = composed.get(finding);
    if (general === undefined) return finding;
    const { file, uses, props, slots } = findingFor(finding.name, general, keeping);
    return { ...finding, file, uses, props, slots };
  });
}

/** More uses of a component that is there already. */
export function knownFinding(found: KnownUse[]): Finding {
  const { component } = found[0]!;
  const occurrences = found.map(({ occurrence }) => occurrence);
  const props = Array.from(component.ownProps.values(), (prop) => ({
    ...prop,
    values: found.map(({ values }): Value => values.get(prop.name) ?? null),
  }));
  const slots = [...component.slots].map((name): Poured => {
    const mine = found.map((use) => use.slots.find((slot) => slot.name === name));
    const { around, isOnLine, hasFallback } = mine.find((slot) => slot !== undefined) ?? {
      around: occurrences[0]!.element,
      isOnLine: false,
      hasFallback: false,
    };
    return { name, ranges: mine.map((slot) => slot?.ranges[0] ?? null), around, nodes: [], isOnLine, hasFallback };
  });
  const uses = found.map(({ text }) => ({ text, files: [] }));
  return {
    name: component.name,
    kind: kindOf(occurrences),
    recommended: true,
    reason: null,
    blocked: null,
    occurrences,
    props,
    slots,
    saved: savedBy(gainsOf({ occurrences }, uses), ''),
    file: component.source,
    uses: uses.map(({ text }) => text),
    renames: new Map(),
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
