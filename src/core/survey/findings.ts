/** From what the survey chose to findings: names, composed components, what they save, and why the rest is not recommended. */
import { composeAll } from '../template/compose.js';
import { needsTemplateForm } from '../template/form.js';
import { type General, type Generalising, giveNames } from '../template/generalise.js';
import { nameComponent } from '../template/component-names.js';
import { type Occurrence, RUN, type Value } from '../template/pattern.js';
import { componentFile } from '../template/write.js';
import { useText, valuesAt } from '../template/use.js';
import { eolOf, indentAt } from '../page/parse.js';
import { type Amount, type Candidate, type Choice, type Choices, order } from './choose.js';
import { byteLength, measure, usesOf } from './cost.js';
import type { Group, Spot } from './groups.js';
import type { Pattern } from './match.js';
import type { Finding, FindingKind, FindingProp } from './types.js';

/** More uses of a component that is there already. */
export interface Known {
  pattern: Pattern;
  rows: Map<string, Value>[];
}

export type Payload = Known | null;

/** So many places tell how a component is called. */
const TELLING = 40;

/** Names what was chosen and what was not, and composes what was. @param taken names that are none to be given */
export function toFindings(
  { choices, savedBy }: Choices<Payload>,
  hopeless: Group[],
  taken: Set<string>,
  at: (spot: Spot) => Occurrence,
  generalising: Generalising,
): Finding[] {
  const names = new Map<Candidate<Payload>, string>();
  const ranked = [...choices].sort(
    (a, b) => Number(b.chosen) - Number(a.chosen) || b.saved.bytes - a.saved.bytes || order(a.candidate, b.candidate),
  );
  for (const { candidate } of ranked) {
    const name =
      candidate.payload?.pattern.component.name ?? nameComponent(candidate.spots.slice(0, TELLING).map(at), taken);
    taken.add(name);
    names.set(candidate, name);
  }
  const parts = ranked.map((choice) => {
    const { general, payload, spots } = choice.candidate;
    const occurrences = general?.occurrences ?? spots.map(at);
    const props = payload === null ? [] : knownProps(payload);
    return { name: names.get(choice.candidate)!, occurrences, general, props, choice };
  });
  const composed = composeAll(
    parts.filter(({ choice }) => choice.chosen),
    generalising,
  );
  const findings = parts.map((part): Finding => {
    const { name, occurrences, choice } = part;
    const { general, payload } = choice.candidate;
    const kind = (general?.slots.length ?? 0) > 0 ? 'frame' : kindOf(occurrences);
    const by = choice.blockedBy === null ? null : names.get(choice.blockedBy)!;
    const reason = by === null ? choice.reason : `${standsIn(choice)} ${by}`;
    const common = { name, kind, blocked: null, occurrences, recommended: choice.chosen, reason } as const;
    if (general === null) return { ...common, ...knownFinding(payload!, part.props, occurrences) };
    const whole = composed.get(part) ?? giveNames(general);
    if (choice.chosen) Object.assign(choice.candidate, measure(name, general, componentFile(name, general)));
    const saved = choice.chosen ? savedBy(choice.candidate) : choice.saved;
    const known = { ...common, props: whole.props, general, component: null, saved };
    // what is not recommended is seldom asked for, so its files are written when they are
    return withLater(known, { file: () => componentFile(name, whole), uses: () => usesOf(name, whole) });
  });
  const poor = [...hopeless].sort((a, b) => b.hopeless!.worth - a.hopeless!.worth);
  for (const group of poor) {
    const name = nameComponent(group.spots.slice(0, TELLING).map(at), taken);
    taken.add(name);
    findings.push(poorFinding(name, group));
  }
  return findings.sort(
    (a, b) =>
      Number(b.recommended) - Number(a.recommended) || b.saved.bytes - a.saved.bytes || (a.name < b.name ? -1 : 1),
  );
}

/** A finding of one group by itself, that someone asks for. */
export function findingFor(name: string, general: General): Finding {
  const file = componentFile(name, general);
  const { gains, cost } = measure(name, general, file);
  const saved = gains.reduce((sum, { bytes, lines }) => ({ bytes: sum.bytes + bytes, lines: sum.lines + lines }), {
    bytes: -cost.bytes,
    lines: -cost.lines,
  });
  const { occurrences, props, slots } = general;
  const kind: FindingKind = occurrences.length === 1 ? 'region' : slots.length > 0 ? 'frame' : kindOf(occurrences);
  const common = { name, kind, recommended: false, reason: null, blocked: null, component: null };
  return { ...common, occurrences, props, saved, file, uses: usesOf(name, general), general };
}

/** What costs far more than it saves is seldom asked for, so it is made when it is. */
function poorFinding(name: string, { hopeless }: Group): Finding {
  const { worth, whole } = hopeless!;
  const saved = { lines: 0, bytes: worth };
  let general: General | undefined;
  const made = () => (general ??= giveNames(whole()));
  const known = { name, saved, recommended: false, reason: poorReason(saved, 0), blocked: null, component: null };
  return withLater(known, {
    kind: (): FindingKind => (made().slots.length > 0 ? 'frame' : kindOf(made().occurrences)),
    occurrences: () => made().occurrences,
    ...laterOf(name, made),
  });
}

/** What is only offered: named now, and made when someone asks for it. */
export function offered(
  finding: Pick<Finding, 'name' | 'kind' | 'reason' | 'occurrences'>,
  make: () => General,
): Finding {
  let general: General | undefined;
  const made = () => {
    if (general === undefined) {
      general = make();
      known.occurrences = general.occurrences;
    }
    return general;
  };
  const { name } = finding;
  const known = { ...finding, recommended: false, blocked: null, component: null };
  return withLater(known, { ...laterOf(name, made), saved: () => findingFor(name, made()).saved });
}

/** What a finding has of its general, once that is made. */
function laterOf(name: string, made: () => General) {
  return {
    props: (): FindingProp[] => made().props,
    general: made,
    file: () => componentFile(name, made()),
    uses: () => usesOf(name, made()),
  };
}

/** `known`, and what is made when it is first asked for. */
function withLater<A extends object, B extends object>(known: A, later: { [K in keyof B]: () => B[K] }): A & B {
  for (const key of Object.keys(later) as (keyof B)[]) {
    const get = () => {
      const value = later[key]();
      Object.defineProperty(known, key, { value, enumerable: true });
      return value;
    };
    Object.defineProperty(known, key, { get, enumerable: true, configurable: true });
  }
  return known as A & B;
}

/** Whether a candidate stands inside of the one in its way, or holds it. */
function standsIn({ candidate, blockedBy }: Choice<Payload>): string {
  const first = new Map<number, number>();
  for (const { page, at } of blockedBy!.spots) first.set(page, Math.min(at, first.get(page) ?? at));
  const inside = candidate.spots.some(({ page, at }) => (first.get(page) ?? at) < at);
  return inside ? 'stands inside' : 'holds';
}

/** What saves no line must save so many times the least bytes, and so many bytes for each line that it adds. */
const IN_BYTES = 5;
const A_LINE = 100;

/** Why a saving is not worth a component, null when it is. */
export function poorReason({ lines, bytes }: Amount, minSaving: number): string | null {
  if (bytes < 0) return `costs ${-bytes} bytes more than it saves`;
  if (bytes < minSaving) return `saves only ${bytes} bytes`;
  if (lines >= 1 || (bytes >= minSaving * IN_BYTES && bytes >= -lines * A_LINE)) return null;
  return lines === 0 ? 'saves no line' : `adds ${-lines} ${lines === -1 ? 'line' : 'lines'}`;
}

function knownProps({ pattern, rows }: Known) {
  return pattern.component.props.map((prop) => ({ ...prop, values: rows.map((row) => row.get(prop.name) ?? null) }));
}

function knownFinding({ pattern }: Known, props: FindingProp[], occurrences: Occurrence[]) {
  const { component } = pattern;
  const saved = { lines: 0, bytes: 0 };
  const uses = occurrences.map(({ page, element, end }, i) => {
    const form = needsTemplateForm(element) ? 'template' : 'tag';
    const place = { indent: indentAt(page.source, element.start), eol: eolOf(page.source) };
    const use = useText(component.name, props, { values: valuesAt(props, i), slots: [] }, form, place);
    const fragment = page.source.slice(element.start, end);
    saved.lines += fragment.split('\n').length - use.split('\n').length;
    saved.bytes += byteLength(fragment) - byteLength(use);
    return use;
  });
  return { props, saved, uses, file: component.source, general: null, component };
}

function kindOf(occurrences: Occurrence[]): FindingKind {
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
