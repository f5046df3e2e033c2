/** The survey: all pages in, findings out, best first. Writes nothing. */
import { isLiftable } from '../page/liftable.js';
import { type Page, placeAt } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import type { Registry } from '../component/model.js';
import { folderOfPage } from '../component/expand.js';
import { urlKindIn } from '../component/read.js';
import { isUse } from '../template/form.js';
import { frameOf, type General, generalise, giveNames } from '../template/generalise.js';
import { nameComponent, takenNames } from '../template/component-names.js';
import type { Occurrence, Value } from '../template/pattern.js';
import { type Candidate, choose } from './choose.js';
import { burden, estimate, measure } from './cost.js';
import type { Likeness } from './cut.js';
import { cutsOf, listedSeries } from './cuts.js';
import { type Payload, poorReason, toFindings } from './findings.js';
import { findGroups, occurrenceAt, type Spot } from './groups.js';
import { layoutOf } from './layout.js';
import { match, type Pattern, patternKey, patternsOf } from './match.js';
import { Lift, profile, type Profile } from '../fragments/profile.js';
import { regionFindings } from './regions.js';
import { slipsIn } from './slips.js';
import type { Remark, Survey, Thresholds } from './types.js';

export interface SurveyOptions {
  thresholds: Thresholds;
  /** folder of the component files, relative to the root */
  componentFolder: string;
  /** told as pages and groups are done, for a survey that takes a while */
  onProgress?: (done: number, all: number) => void;
}

/** Surveys the pages, templates of components among them. The same pages and components give the same answer, in the same order. */
export function survey(pages: Page[], registry: Registry, options: SurveyOptions): Survey {
  const { thresholds, componentFolder } = options;
  const profiles = pages.map((page, i) => {
    options.onProgress?.(i, pages.length);
    return profile(page);
  });
  const folders = pages.map(folderOfPage);
  const at = (spot: Spot) => occurrenceAt(profiles, folders, spot);
  const uses = (element: Element) => isUse(element, (name) => registry.has(name));
  const generalising = { componentFolder, maxProps: thresholds.maxProps, urlKindOf: urlKindIn(registry) };
  const make = (spots: Spot[], as: Likeness) =>
    as === 'frame' ? frameOf(spots.map(at), generalising) : generalise(spots.map(at), as === 'one shape', generalising);

  const known = knownUses(profiles, registry, at);
  const groups = findGroups(profiles, {
    minOccurrences: thresholds.minOccurrences,
    minElements: thresholds.minElements,
    isUse: uses,
    generalise: make,
    worth: estimate,
    ...(options.onProgress ? { onProgress: options.onProgress } : {}),
  });
  const candidate = (spots: Spot[], general: General): Candidate<Payload> => {
    const name = nameComponent(general.occurrences, new Set());
    return { spots, general, payload: null, burden: burden(general), ...measure(name, giveNames(general)) };
  };
  const chosen = choose<Payload>(
    [
      ...known,
      ...groups.flatMap(({ spots, general, hopeless }) => (hopeless === null ? [candidate(spots, general)] : [])),
    ],
    profiles,
    (whole, kept) => {
      const spots = kept.map((i) => whole.spots[i]!);
      if (whole.payload !== null) {
        const payload = { ...whole.payload, rows: kept.map((i) => whole.payload!.rows[i]!) };
        return { ...whole, spots, gains: kept.map((i) => whole.gains[i]!), payload };
      }
      const smaller = spots.length < thresholds.minOccurrences ? null : make(spots, 'alike');
      return smaller === null ? null : candidate(spots, smaller);
    },
    ({ general, burden: more }, saved) => {
      if (general === null || poorReason(saved, thresholds.minSaving) === null) return null;
      const plain = { ...saved, bytes: saved.bytes + more };
      return poorReason(plain, thresholds.minSaving) ?? 'saves little for what comes and goes in it';
    },
  );
  const taken = takenNames(
    registry,
    profiles.map(({ elements }) => elements),
  );
  const hopeless = groups.filter((group) => group.hopeless !== null);
  const findings = listedSeries(toFindings(chosen, hopeless, taken, at, generalising), generalising);
  for (const { name } of findings) taken.add(name);
  const regions = regionFindings(profiles, findings, uses, thresholds, taken, at, generalising);
  const layoutName = ['page-layout', 'site-layout', 'whole-page'].find((name) => !taken.has(name));
  const layout = layoutName && layoutOf(pages, layoutName, thresholds.minOccurrences, generalising);
  return {
    findings,
    regions: layout ? [layout, ...regions] : regions,
    remarks: [...remarksOn(pagesAmong(profiles)), ...slipsIn(pagesAmong(profiles), findings)],
    cutsOf: (finding) => cutsOf(finding, findings, generalising),
  };
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
    burden: 0,
    general: null,
    payload: { pattern, rows },
  }));
}

function pagesAmong(profiles: Profile[]): Profile[] {
  return profiles.filter(({ page }) => page.component === undefined);
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
