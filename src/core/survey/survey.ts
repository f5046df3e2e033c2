/** The survey: all pages in, findings out, best first. Writes nothing. */
import { isLiftable } from '../page/liftable.js';
import { eolOf, indentAt, type Page, placeAt } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import type { Registry } from '../component/model.js';
import { folderOfPage } from '../component/expand.js';
import { urlKindIn } from '../component/read.js';
import { generalise, giveNames } from '../infer/generalise.js';
import type { Occurrence, Value } from '../infer/columns.js';
import { nameComponent } from '../infer/names.js';
import { isUse, needsTemplateForm } from '../infer/template.js';
import { useText, valuesAt } from '../lift/use.js';
import { type Candidate, type Choice, choose } from './choose.js';
import { byteLength, estimate, savedBy, writeAll, type Written } from './cost.js';
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

type Payload = { general: General; saved: Written['saved']; known?: undefined } | { known: Known; general?: undefined };

interface Known {
  pattern: Pattern;
  rows: Map<string, Value>[];
}

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
  const urlKindOf = urlKindIn(registry);
  const make = (spots: Spot[], exact: boolean) =>
    generalise(spots.map(at), componentFolder, thresholds.maxProps, exact, urlKindOf);

  const known = knownUses(profiles, registry, at);
  const groups = findGroups(profiles, {
    minOccurrences: thresholds.minOccurrences,
    minElements: thresholds.minElements,
    isUse: (element) => isUse(element, isComponent),
    generalise: make,
    worth: (general) => estimate(general),
    ...(options.onProgress ? { onProgress: options.onProgress } : {}),
  });
  const candidate = (spots: Spot[], general: General): Candidate<Payload> => {
    const rough = estimate(general);
    // lengths alone tell what is hopeless; what is not is written out and counted
    const saved = rough < -ROUGH ? { lines: 0, bytes: rough } : savedBy(giveNames(general));
    const worth = saved.lines < 1 ? Math.min(saved.bytes, saved.lines) : saved.bytes;
    return { spots, worth, payload: { general, saved } };
  };
  const candidates: Candidate<Payload>[] = [...known, ...groups.map(({ spots, general }) => candidate(spots, general))];
  const choices = choose(
    candidates,
    profiles,
    (whole, spots) => {
      const { known: rows } = whole.payload;
      if (rows !== undefined) {
        const kept = new Set(spots);
        const left = rows.rows.filter((_, i) => kept.has(whole.spots[i]!));
        return { spots, worth: whole.worth, payload: { known: { ...rows, rows: left } } };
      }
      const smaller = spots.length < thresholds.minOccurrences ? null : make(spots, false);
      return smaller === null ? null : candidate(spots, smaller);
    },
    ({ worth, payload }) =>
      payload.known === undefined && worth < thresholds.minSaving ? 'costs more than it saves' : null,
  );
  return { findings: toFindings(choices, at, registry, profiles, thresholds), remarks: remarksOn(profiles) };
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
  // what a known component covers is settled, whatever else could be made of it
  return [...found].map(([pattern, { spots, rows }]) => ({
    spots,
    worth: Number.MAX_SAFE_INTEGER - spots[0]!.page,
    payload: { known: { pattern, rows } },
  }));
}

function toFindings(
  choices: Choice<Payload>[],
  at: (spot: Spot) => Occurrence,
  registry: Registry,
  profiles: Profile[],
  thresholds: Thresholds,
): Finding[] {
  const taken = new Set(registry.keys());
  for (const { elements } of profiles) for (const { tag } of elements) if (tag.includes('-')) taken.add(tag);
  const names = new Map<Candidate<Payload>, string>();
  const ranked = [...choices].sort(
    (a, b) => Number(b.chosen) - Number(a.chosen) || b.candidate.worth - a.candidate.worth,
  );
  for (const { candidate } of ranked) {
    const { known } = candidate.payload;
    const name = known?.pattern.component.name ?? nameComponent(at(candidate.spots[0]!).element, taken);
    taken.add(name);
    names.set(candidate, name);
  }
  const findings = ranked.map((choice): Finding => {
    const { candidate } = choice;
    const name = names.get(candidate)!;
    const occurrences = candidate.spots.map(at);
    const because = choice.blockedBy === null ? choice.reason : `${choice.reason!} ${names.get(choice.blockedBy)!}`;
    const common = { name, kind: kindOf(occurrences), blocked: null, occurrences };
    if (candidate.payload.known !== undefined) {
      const made = knownFinding(candidate.payload.known, occurrences);
      return { ...common, ...made, recommended: choice.chosen, reason: because };
    }
    const { saved } = candidate.payload;
    const general = giveNames(candidate.payload.general);
    const made = { ...common, props: general.props, general, component: null };
    const refused = (why: string | null, counted: Written['saved']): Finding => {
      // what is not recommended is seldom asked for, so its files are written when they are
      let written: Written | null = null;
      const write = () => (written ??= writeAll(name, general));
      return {
        ...made,
        recommended: false,
        reason: why,
        saved: counted,
        get file() {
          return write().file;
        },
        get uses() {
          return write().uses;
        },
      };
    };
    if (choice.blockedBy !== null) return refused(because, saved);
    if (!choice.chosen) return refused(poorReason(saved), saved);
    const written = writeAll(name, general);
    if (written.saved.bytes < thresholds.minSaving || written.saved.lines < 1)
      return refused(poorReason(written.saved), written.saved);
    return { ...made, ...written, recommended: true, reason: null };
  });
  return findings.sort(
    (a, b) =>
      Number(b.recommended) - Number(a.recommended) || b.saved.bytes - a.saved.bytes || (a.name < b.name ? -1 : 1),
  );
}

function poorReason({ lines, bytes }: Written['saved']): string {
  if (bytes < 0) return `costs ${-bytes} bytes more than it saves`;
  if (lines < 1) return lines === 0 ? 'saves no line' : `adds ${-lines} ${lines === -1 ? 'line' : 'lines'}`;
  return `saves only ${bytes} bytes`;
}

function knownFinding({ pattern, rows }: Known, occurrences: Occurrence[]) {
  const { component } = pattern;
  const props = component.props.map((prop): FindingProp => ({
    ...prop,
    values: rows.map((row) => row.get(prop.name) ?? null),
  }));
  const saved = { lines: 0, bytes: 0 };
  const uses = occurrences.map(({ page, element, end }, i) => {
    const form = needsTemplateForm(element) ? 'template' : 'tag';
    const place = { indent: indentAt(page.source, element.start), eol: eolOf(page.source) };
    const use = useText(component.name, props, valuesAt(props, i), form, place);
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
