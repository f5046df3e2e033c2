/** The survey: all pages in, findings out, best first. Writes nothing. */
import { once } from '../once.js';
import { workingOn, placeText } from '../errors.js';
import { folderOfPage } from '../component/expand.js';
import type { Registry } from '../component/model.js';
import { urlKindIn } from '../component/read.js';
import { findCandidates } from '../fragments/candidates.js';
import { type Candidate, readSite, type Site } from '../fragments/site.js';
import { type Occurrence, occurrenceOf, runFrom } from '../fragments/occurrence.js';
import { Lift, profile, type Profile } from '../fragments/profile.js';
import { isLiftable } from '../page/liftable.js';
import { type Page, placeAt } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import { takenNames } from './component-names.js';
import { isUse } from '../template/form.js';
import type { NameOf } from '../template/align.js';
import { generalise, type Generalising } from '../template/generalise.js';
import type { General } from '../template/pattern.js';
import type { Keeping } from '../template/use.js';
import { nameReader, readVocabulary, type Role, type Vocabulary } from '../words/vocabulary.js';
import type { Choice, Generalised } from './choice.js';
import { choose } from './choose.js';
import { candidatesTaken, elementsLeft, isLeft, notTaken, strayNotes } from './asked.js';
import { cutsOf } from './cuts.js';
import { knownFinding, savedAlone } from './findings.js';
import { kindsIn } from './kinds.js';
import { layoutOf } from './layout.js';
import { nearRemarks } from './near.js';
import { recognise } from './known.js';
import { otherFinding, recommend } from './recommend.js';
import { regionFindings } from './regions.js';
import { slipsIn } from './slips.js';
import type { Offer, Remark, Survey, Thresholds } from './types.js';

export interface SurveyOptions {
  thresholds: Thresholds;
  /** folder of the component files, relative to the root */
  componentFolder: string;
  /** texts of all stylesheets */
  stylesheets?: Iterable<string>;
  /** roles that the developer gives to class words */
  words?: ReadonlyMap<string, Role>;
  /** selectors of what is left alone, and of what is a finding whatever it is worth */
  leave?: readonly string[];
  take?: readonly string[];
  /** where lists go that are too long for a page; without it all stay */
  keeping?: Keeping;
  /** told as pages are done, for a survey that takes a while */
  onProgress?: (done: number, all: number) => void;
}

/** Surveys the pages, templates of components among them. The same pages and components give the same answer, whatever their order. */
export function survey(files: Page[], registry: Registry, options: SurveyOptions): Survey {
  const { thresholds, componentFolder } = options;
  const pages = [...files].sort((a, b) => (a.path < b.path ? -1 : 1));
  const profiles = pages.map((page, i) => {
    options.onProgress?.(i, pages.length);
    return workingOn(page.path, () => profile(page));
  });
  const site = siteIn(profiles, options);
  const { vocabulary } = site;
  const folders = pages.map(folderOfPage);
  const isComponent = (element: Element) => isUse(element, (name) => registry.has(name));
  const generalising = generalisingOf(vocabulary, registry, {
    componentFolder,
    maxProps: thresholds.maxProps,
    ...(options.keeping === undefined ? {} : { keeping: options.keeping }),
  });
  const left = elementsLeft(pages, options.leave ?? []);
  const take = options.take ?? [];
  const { uses, covered, near } = recognise({ site, registry, folders, left: left.all });
  const candidates = findCandidates(site, {
    minOccurrences: thresholds.minOccurrences,
    minElements: thresholds.minElements,
    isSettled: (element) => isComponent(element) || left.roots.has(element),
    covered,
  });
  const taken = takenNames(
    registry,
    profiles.map(({ elements }) => elements),
  );
  const known = uses.map(knownFinding);
  const choosable = [...candidatesTaken(site, take), ...candidates];
  const { chosen, others } = chooseAlike(choosable, site, thresholds, (choices) => {
    const options = apart(generalising, choices, site);
    return (choice) => {
      const occurrences = occurrencesOf(choice, site, folders);
      const { page, element } = occurrences[0]!;
      return workingOn(placeText(placeAt(page, element.start)), () => generalise(occurrences, options));
    };
  });
  const recommended = recommend(chosen, taken, generalising, { ...thresholds, isFirst: registry.size === 0 });
  const findings = [...known, ...recommended.findings];
  for (const { name } of findings) taken.add(name);
  const rest = [...recommended.dropped, ...others];
  const at = (element: Element, page: number) => occurrenceOf(pages[page]!, element, folders[page]!);
  const regionsNamed = once((): Offer[] => {
    const used = new Set(taken);
    const regions = regionFindings(profiles, findings, isComponent, thresholds, used, at, generalising);
    const layoutName = ['page-layout', 'site-layout', 'whole-page'].find((name) => !used.has(name));
    const layout = layoutName && layoutOf(pages, layoutName, thresholds.minOccurrences, generalising);
    const offered = layout ? [layout, ...regions] : regions;
    return offered.filter(({ occurrences }) => !occurrences.some((each) => isLeft(each, left)));
  });
  const othersNamed = (): Offer[] => {
    const used = new Set([...taken, ...regionsNamed().map(({ name }) => name)]);
    return rest.flatMap((choice) => otherFinding(choice, occurrencesOf(choice, site, folders), used, generalising));
  };
  return {
    findings,
    otherCount: rest.length,
    others: othersNamed,
    regions: regionsNamed,
    remarks: [
      ...remarksOn(pagesAmong(profiles)),
      ...slipsIn(pagesAmong(profiles), findings),
      ...nearRemarks(near),
      ...strayNotes(pages),
      ...notTaken(pages, take, findings),
    ],
    near,
    vocabulary,
    cutsOf: (finding) => cutsOf(finding, findings, generalising),
  };
}

/** What tells words: stylesheets, and what the developer says. */
export type WordSources = Pick<SurveyOptions, 'stylesheets' | 'words'>;

/** All pages as one site, with its vocabulary. */
export function siteOf(pages: Page[], sources: WordSources): Site {
  return siteIn(pages.map(profile), sources);
}

function siteIn(profiles: Profile[], { stylesheets = [], words }: WordSources): Site {
  const pages = profiles.map(({ page }) => page);
  return readSite(profiles, readVocabulary(pages, [...stylesheets, ...profiles.flatMap(styleTexts)], words));
}

/** What generalises the places of a site. */
export function generalisingOf(
  vocabulary: Vocabulary,
  registry: Registry,
  options: Pick<Generalising, 'componentFolder' | 'maxProps' | 'keeping'>,
): Generalising {
  return { ...options, vocabulary, urlKindOf: urlKindIn(registry), nameOf: nameReader(vocabulary) };
}

/** The choice, and how the places of each were generalised; those that turn out not to be alike are not chosen. */
function chooseAlike(
  candidates: Candidate[],
  site: Site,
  thresholds: Thresholds,
  makerFor: (chosen: Choice[]) => (choice: Choice) => General | null,
): { chosen: Generalised[]; others: Choice[] } {
  const made = new Map<Choice, Generalised[]>();
  const choices = choose(candidates, site, thresholds.minWorth, {
    unlikeAmong: (chosen) => {
      const make = makerFor(chosen);
      for (const choice of chosen) {
        // what was chosen before stays as it was made
        if (made.has(choice)) continue;
        const general = make(choice);
        made.set(choice, general === null ? [] : apartByKind({ ...choice, general }, thresholds, make));
      }
      return new Set(chosen.filter((choice) => made.get(choice)!.length === 0));
    },
    isWorthJoining: ({ whole, parts }, chosen) => {
      const general = makerFor([...chosen.filter((choice) => !parts.includes(choice)), whole])(whole);
      const now = parts.flatMap((part) => made.get(part)!).map((each) => savedAlone(each.general));
      return general !== null && savedAlone(general) >= now.reduce((sum, bytes) => sum + bytes, 0);
    },
  });
  return {
    chosen: choices.flatMap((choice) => (choice.chosen ? made.get(choice)! : [])),
    others: choices.filter(({ chosen }) => !chosen),
  };
}

/** A choice, or two where nothing names its places and they are of two kinds; what is left of one kind stays where it is. */
function apartByKind(
  choice: Generalised,
  { minOccurrences }: Thresholds,
  make: (choice: Choice) => General | null,
): Generalised[] {
  const isFirst = choice.name + choice.told === '' ? kindsIn(choice.general) : null;
  if (isFirst === null) return [choice];
  return [true, false].flatMap((kind) => {
    const places = choice.places.filter((_, i) => isFirst[i] === kind);
    const general = places.length < Math.max(2, minOccurrences) ? null : make({ ...choice, places });
    return general === null ? [] : [{ ...choice, places, general }];
  });
}

/** What is chosen keeps to itself: in other templates it meets only what is chosen with it. */
function apart(generalising: Generalising, chosen: Choice[], site: Site): Generalising {
  const numbers = new Map<Element, number>();
  chosen.forEach(({ candidate, places }, number) => {
    if (candidate.spans === null) for (const i of places) numbers.set(site.elements[i]!, number);
  });
  const nameOf: NameOf = (element) => {
    const number = numbers.get(element);
    const name = generalising.nameOf(element);
    return number === undefined ? name : `${name} ${number}`;
  };
  return { ...generalising, nameOf, parts: new Set(numbers.keys()) };
}

function occurrencesOf({ candidate, places }: Choice, site: Site, folders: (string | null)[]): Occurrence[] {
  return places.map((i) => {
    const page = site.page[i]!;
    const first = site.elements[i]!;
    const span = candidate.spans?.get(i);
    const element = span === undefined ? first : runFrom(first, span);
    return occurrenceOf(site.profiles[page]!.page, element, folders[page]!);
  });
}

function styleTexts({ elements }: Profile): string[] {
  return elements
    .filter(({ tag }) => tag === 'style')
    .map(({ children }) => children.map((child) => (child.kind === 'text' ? child.value : '')).join(''));
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
