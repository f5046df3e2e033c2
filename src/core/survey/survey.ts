/** The survey: all pages in, findings out, best first. Writes nothing. */
import { isLiftable } from '../page/liftable.js';
import { eolOf, indentAt, type Page, placeAt } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import type { Registry } from '../component/model.js';
import { folderOfPage } from '../component/expand.js';
import { urlKindIn } from '../component/read.js';
import { composeAll } from '../infer/compose.js';
import { generalise, type Generalising, giveNames } from '../infer/generalise.js';
import type { Occurrence, Value } from '../infer/pattern.js';
import { nameComponent } from '../infer/names.js';
import { isUse, needsTemplateForm } from '../infer/form.js';
import { componentFile } from '../infer/template.js';
import { useText, valuesAt } from '../lift/use.js';
import { type Amount, type Candidate, type Choice, type Choices, choose, order } from './choose.js';
import { burden, byteLength, estimate, measure, usesOf } from './cost.js';
import { findGroups, occurrenceAt, type Spot } from './groups.js';
import { match, type Pattern, patternKey, patternsOf } from './match.js';
import { Lift, profile, type Profile } from './profile.js';
import type { General } from '../infer/generalise.js';
import type { Finding, FindingKind, FindingProp, Remark, Survey, Thresholds } from './types.js';

export interface SurveyOptions {
  thresholds: Thresholds;
  /** folder of the component files, relative to the root */
  componentFolder: string;
  /** told as pages and groups are done, for a survey that takes a while */
  onProgress?: (done: number, all: number) => void;
}

/** Bytes by which the estimate may be off. */
const ROUGH = 400;

interface Known {
  pattern: Pattern;
  rows: Map<string, Value>[];
}

type Payload = Known | null;

/** Surveys the pages. The same pages and components give the same answer, in the same order. */
export function survey(pages: Page[], registry: Registry, options: SurveyOptions): Survey {
  const { thresholds, componentFolder } = options;
  const profiles = pages.map((page, i) => {
    options.onProgress?.(i, pages.length);
    return profile(page);
  });
  const folders = pages.map(folderOfPage);
  const at = (spot: Spot) => occurrenceAt(profiles, folders, spot);
  const isComponent = (name: string) => registry.has(name);
  const generalising = { componentFolder, maxProps: thresholds.maxProps, urlKindOf: urlKindIn(registry) };
  const make = (spots: Spot[], exact: boolean) => generalise(spots.map(at), exact, generalising);

  const known = knownUses(profiles, registry, at);
  const groups = findGroups(profiles, {
    minOccurrences: thresholds.minOccurrences,
    minElements: thresholds.minElements,
    isUse: (element) => isUse(element, isComponent),
    generalise: make,
    worth: estimate,
    ...(options.onProgress ? { onProgress: options.onProgress } : {}),
  });
  const candidate = (spots: Spot[], general: General): Candidate<Payload> => {
    const rough = estimate(general);
    const common = { spots, general, payload: null };
    const nothing = { lines: 0, bytes: 0 };
    // lengths alone tell what is hopeless; what is not is written out and counted
    if (rough < -ROUGH) return { ...common, gains: spots.map(() => nothing), cost: { lines: 0, bytes: -rough } };
    const name = nameComponent(general.occurrences[0]!.element, new Set());
    const { gains, cost } = measure(name, giveNames(general));
    return { ...common, gains, cost: { ...cost, bytes: cost.bytes + burden(general) } };
  };
  const chosen = choose<Payload>(
    [...known, ...groups.map(({ spots, general }) => candidate(spots, general))],
    profiles,
    (whole, kept) => {
      const spots = kept.map((i) => whole.spots[i]!);
      if (whole.payload !== null) {
        const payload = { ...whole.payload, rows: kept.map((i) => whole.payload!.rows[i]!) };
        return { ...whole, spots, gains: kept.map((i) => whole.gains[i]!), payload };
      }
      const smaller = spots.length < thresholds.minOccurrences ? null : make(spots, false);
      return smaller === null ? null : candidate(spots, smaller);
    },
    ({ general }, saved) =>
      general !== null && (saved.bytes < thresholds.minSaving || saved.lines < 1) ? poorReason(saved) : null,
  );
  return { findings: toFindings(chosen, at, registry, profiles, generalising), remarks: remarksOn(profiles) };
}

function knownUses(profiles: Profile[], registry: Registry, at: (spot: Spot) => Occurrence): Candidate<Payload>[] {
  const patterns = patternsOf(registry);
  const found = new Map<Pattern, { spots: Spot[]; rows: Map<string, Value>[] }>();
  if (patterns.size === 0) return [];
  profiles.forEach(({ elements, lift }, page) => {
    for (let i = 0; i < elements.length; i++) {
      if (lift[i] !== Lift.yes) continue;
      const spot = { page, at: i };
      for (const pattern of patterns.get(patternKey(elements[i]!)) ?? []) {
        const row = match(pattern, at(spot), registry);
        if (row === null) continue;
        const entry = found.get(pattern) ?? { spots: [], rows: [] };
        entry.spots.push(spot);
        entry.rows.push(row);
        found.set(pattern, entry);
        break;
      }
    }
  });
  const nothing = { lines: 0, bytes: 0 };
  // what a known component covers is settled, whatever else could be made of it
  return [...found].map(([pattern, { spots, rows }]) => ({
    spots,
    gains: spots.map(() => nothing),
    cost: nothing,
    general: null,
    payload: { pattern, rows },
  }));
}

function toFindings(
  { choices, savedBy }: Choices<Payload>,
  at: (spot: Spot) => Occurrence,
  registry: Registry,
  profiles: Profile[],
  generalising: Generalising,
): Finding[] {
  const taken = new Set(registry.keys());
  for (const { elements } of profiles) for (const { tag } of elements) if (tag.includes('-')) taken.add(tag);
  const names = new Map<Candidate<Payload>, string>();
  const ranked = [...choices].sort(
    (a, b) => Number(b.chosen) - Number(a.chosen) || b.saved.bytes - a.saved.bytes || order(a.candidate, b.candidate),
  );
  for (const { candidate } of ranked) {
    const name = candidate.payload?.pattern.component.name ?? nameComponent(at(candidate.spots[0]!).element, taken);
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
    // what is not recommended is seldom asked for, so its files are written when they are
    const file = once(() => componentFile(name, whole));
    const uses = once(() => usesOf(name, whole));
    if (choice.chosen) Object.assign(choice.candidate, measure(name, general, componentFile(name, general)));
    return {
      ...common,
      props: whole.props,
      general,
      component: null,
      saved: choice.chosen ? savedBy(choice.candidate) : choice.saved,
      get file() {
        return file();
      },
      get uses() {
        return uses();
      },
    };
  });
  return findings.sort(
    (a, b) =>
      Number(b.recommended) - Number(a.recommended) || b.saved.bytes - a.saved.bytes || (a.name < b.name ? -1 : 1),
  );
}

function once<T>(make: () => T): () => T {
  let made: T | undefined;
  return () => (made ??= make());
}

/** Whether a candidate stands inside of the one in its way, or holds it. */
function standsIn({ candidate, blockedBy }: Choice<Payload>): string {
  const inside = candidate.spots.some((spot) =>
    blockedBy!.spots.some(({ page, at }) => page === spot.page && at < spot.at),
  );
  return inside ? 'stands inside' : 'holds';
}

function poorReason({ lines, bytes }: Amount): string {
  if (bytes < 0) return `costs ${-bytes} bytes more than it saves`;
  if (lines < 1) return lines === 0 ? 'saves no line' : `adds ${-lines} ${lines === -1 ? 'line' : 'lines'}`;
  return `saves only ${bytes} bytes`;
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
    const between = siblings.slice(siblings.indexOf(element) + 1, siblings.indexOf(next));
    return between.every((node) => node.kind === 'comment' || (node.kind === 'text' && node.value.trim() === ''));
  });
  return adjacent ? 'series' : 'repeat';
}

const SHOWN_PLACES = 5;

/** What stays where it is, and why; a remark a page and reason. */
function remarksOn(profiles: Profile[]): Remark[] {
  const remarks: Remark[] = [];
  for (const { page, elements, lift } of profiles) {
    const tell = (what: string, told: Element[]) => {
      const places = told.slice(0, SHOWN_PLACES).map((element) => placeAt(page, element.start));
      if (places.length > 0) remarks.push({ kind: 'not-liftable', message: `${page.path}: ${what}`, places });
    };
    const innermost = (...states: number[]) => {
      const odd = elements.filter((_, i) => states.includes(lift[i]!));
      const holders = new Set(odd.map((element) => element.parent));
      return odd.filter((element) => !holders.has(element));
    };
    const mended = innermost(Lift.misnested, Lift.unsure).slice(0, SHOWN_PLACES);
    tell(
      'markup that the parser mends (misnested or stray tags) stays as it is',
      mended.filter((element) => !isLiftable(page, element)),
    );
    tell(
      'what holds a slot, or a template with when, unless or each, would be read as a component’s',
      innermost(Lift.reserved),
    );
  }
  return remarks;
}
