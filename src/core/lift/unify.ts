/**
 * Unifies what drifted: pages that say otherwise get what most say, as static pages. They are made by the same code as
 * any expansion, from the component with the usual values, so that URLs and indentation are those of the page.
 */
import type { ComponentSource } from '../component/read.js';
import { readComponents } from '../component/read.js';
import type { Registry } from '../component/model.js';
import { Problem } from '../errors.js';
import { isText, spelled, type Value } from '../template/pattern.js';
import { componentFile } from '../template/write.js';
import { type Edit, withEdits } from '../page/edits.js';
import { type Page, parsePage, placeAt } from '../page/parse.js';
import { comparePages } from '../page/same.js';
import type { Element } from '../page/tree.js';
import { moveUrls } from '../page/url.js';
import { type Drift, driftText } from '../survey/drift.js';
import type { Finding } from '../survey/types.js';
import { expandedAt } from '../match/prove.js';
import { formAt, type Lifted, useAt } from './rewrite.js';
import { addTo } from '../groups.js';

/** What a page says otherwise now. */
export interface Unified {
  path: string;
  line: number;
  column: number;
  prop: string;
  was: string;
  now: string;
}

export interface Drifted {
  finding: Finding;
  drifts: Drift[];
}

/**
 * The drifts of a finding that are unified when some of its props are asked for: those, and what moves with them, such
 * as the address of a link whose text is the same number. What else is said otherwise in the same places is left.
 * @param wanted names of props, or `all`
 */
export function unifiedTogether(drifts: Drift[], wanted: string[]): { chosen: Drift[]; left: Drift[] } {
  const asked = drifts.filter(({ prop }) => wanted.includes('all') || wanted.includes(prop));
  const isChosen = (drift: Drift) => asked.includes(drift) || asked.some((each) => saysTheSame(each, drift));
  const chosen = drifts.filter(isChosen);
  const places = new Set(chosen.flatMap((drift) => drift.places.map(({ index }) => index)));
  const left = drifts.flatMap((drift) => {
    const here = isChosen(drift) ? [] : drift.places.filter(({ index }) => places.has(index));
    return here.length === 0 ? [] : [{ ...drift, places: here }];
  });
  return { chosen, left };
}

/** True for two props of which one is said in the other, in most places and in each odd one, whatever is around it. */
function saysTheSame(one: Drift, other: Drift): boolean {
  if (one.places.length !== other.places.length) return false;
  const values = one.places.map(({ index, value }) => [
    value,
    other.places.find((each) => each.index === index)?.value,
  ]);
  return [[one.usual, other.usual], ...values].every(([a, b]) => {
    const [short, long] = [plain(a), plain(b)].sort((x, y) => x.length - y.length) as [string, string];
    return short.length >= LEAST_SAID && long.includes(short);
  });
}

/** So many letters and digits are no chance. */
const LEAST_SAID = 4;

/** The letters and digits of a text, a number without what stands before it in one country; '' for what is no text. */
function plain(value: Value | undefined): string {
  if (value === undefined || !isText(value)) return '';
  return value.value
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '')
    .replace(/^0+/, '');
}

/**
 * The pages on which findings drifted, as they are once they say what most say, by path; and what changes on them.
 * @throws Problem (exit 1) where that cannot be said without changing anything else
 */
export function unify(
  drifted: Drifted[],
  components: ComponentSource[],
  before: Registry,
  componentFolder: string,
): { pages: Map<string, Page>; changes: Unified[] } {
  const edits = new Map<Page, Edit[]>();
  const changes: Unified[] = [];
  for (const { finding, drifts } of drifted) {
    const { props, slots, ...general } = finding.general!;
    const file = componentFile(finding.name, { ...general, props, slots });
    const path = `${componentFolder}/${finding.name}.html`;
    const registry = readComponents([...components, { path, source: file }], before);
    const keeping = { folder: '', limit: Infinity, files: new Map<string, string>() };
    const lifted = {
      finding,
      file,
      props,
      slots,
      covered: new Set<Element>(),
      keeping,
      verdicts: new Map(),
    };
    for (const index of new Set(drifts.flatMap(({ places }) => places.map((place) => place.index)))) {
      const { page, element, end } = finding.occurrences[index]!;
      const mine = drifts.filter(({ places }) => places.some((place) => place.index === index));
      const text = usualText(lifted, index, mine, registry, before);
      addTo(edits, page, { start: element.start, end, text });
      changes.push(...mine.map((drift) => driftAt(index, drift)));
    }
  }
  const pages = new Map(
    [...edits].map(([page, some]) => [page.path, parsePage(page.path, withEdits(page.source, some), page.encoding)]),
  );
  return { pages, changes };
}

/** A fragment with the usual values in the place of its own. */
function usualText(lifted: Lifted, index: number, drifts: Drift[], registry: Registry, before: Registry): string {
  const { name, occurrences } = lifted.finding;
  const occurrence = occurrences[index]!;
  const { page, element, end, folder } = occurrence;
  const written = (some: Lifted) =>
    expandedAt(occurrence, useAt({ lifted: some, index, element, end, form: formAt(some, index) }), registry);
  const whole = (text: string) => page.source.slice(0, element.start) + text + page.source.slice(end);
  const original = whole(expandedAt(occurrence, page.source.slice(element.start, end), before));
  const { same, first } = comparePages(page.path, original, whole(written(lifted)));
  if (same === 'different')
    throw new Problem(`${name} cannot be unified here: ${first!.what}`, {
      exit: 1,
      place: placeAt(page, element.start),
      hint: 'nothing was written; mend this page by hand, or leave it as it is',
    });
  const props = lifted.props.map((prop) => {
    const drift = drifts.find(({ inferred }) => inferred === prop);
    if (drift === undefined) return prop;
    const { usual, usualAt } = drift;
    const from = occurrences[usualAt]!.folder;
    const moves = prop.type === 'url' && isText(usual) && from !== null && folder !== null;
    const raw = moves ? moveUrls(usual.raw, 'url', from, folder) : null;
    return { ...prop, values: prop.values.with(index, raw === null ? usual : spelled(raw)) };
  });
  return written({ ...lifted, props });
}

/** What is said at an occurrence, and what most say. */
export function driftAt(index: number, drift: Drift): Unified {
  const { value, place } = drift.places.find((each) => each.index === index)!;
  return { ...place, prop: drift.prop, was: driftText(value, drift), now: driftText(drift.usual, drift) };
}
