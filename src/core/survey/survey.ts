/** The survey: all pages in, findings out, best first. Writes nothing. */
import { once } from '../once.js';
import { workingOn } from '../errors.js';
import { folderOfPage } from '../component/expand.js';
import { unstyledRemarks } from './unstyled.js';
import type { Registry } from '../component/model.js';
import { urlKindIn } from '../component/read.js';
import { findCandidates } from '../fragments/candidates.js';
import { readSite, type Site } from '../fragments/site.js';
import { occurrenceOf } from '../fragments/occurrence.js';
import { Lift, profile, type Profile } from '../fragments/profile.js';
import { isLiftable } from '../page/liftable.js';
import { type Page, placeAt } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import { takenNames } from './component-names.js';
import { isUse } from '../template/form.js';
import type { Generalising } from '../template/generalise.js';
import type { Keeping } from '../template/use.js';
import { nameReader, readVocabulary, type Role, type Vocabulary } from '../words/vocabulary.js';
import { recommendedAmong } from './second-choice.js';
import { candidatesTaken, elementsLeft, isLeft, notTaken, strayNotes } from './asked.js';
import { cutsOf } from './cuts.js';
import { knownFinding } from './findings.js';
import { chooseAlike, occurrencesOf } from './generalised.js';
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
  const { others, ...recommended } = recommendedAmong(
    chooseAlike(choosable, { site, folders, generalising, thresholds }),
    ({ chosen, among, savedAlone }) =>
      recommend(chosen, taken, generalising, { ...thresholds, isFirst: registry.size === 0, among, savedAlone }),
  );
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
      ...unstyledRemarks(pagesAmong(profiles), vocabulary),
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
