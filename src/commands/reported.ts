/** Gathers what a report tells: the same numbers that the commands print. */
import { basename } from 'node:path';
import { usesIn } from '../core/component/read.js';
import { extentsIn } from '../core/component/respaced.js';
import type { Place } from '../core/errors.js';
import { addTo } from '../core/groups.js';
import { sourceLines, staticLines } from '../core/library/line-shares.js';
import { type RosterEntry, rosterOf, useTable, type UseTable } from '../core/library/roster.js';
import { type Use, usesOf } from '../core/library/uses.js';
import { placeAt } from '../core/page/parse.js';
import { sheetName, sheetPlace } from '../core/style/places.js';
import { expandAll, type ExpandedPage } from '../core/style/plan.js';
import { totalsOf } from '../core/style/totals.js';
import { echoesIn } from '../core/survey/echoes.js';
import { differenceText, nearGroups } from '../core/survey/near.js';
import { linesOf } from '../core/survey/regions.js';
import type { Finding, Offer } from '../core/survey/types.js';
import { type PlannedSite, plannedSite } from '../operations/planned.js';
import type { Surveyed } from '../operations/survey.js';
import type { Entry, Left, PlaceTable, Report, RuleCounts, SheetRow, Told } from '../report/model.js';
import { count } from '../terminal/style.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { driftPlaces, driftRows } from './drift.js';
import { columnsOf, givenText } from './roster-table.js';
import { necessityOf } from './show-component.js';
import { countedCuts, dedent, givenAt } from './show.js';
import { type Subject, tally } from './styled.js';
import { componentStyling, findingStyling } from './styles.js';
import { findingText, KINDS, linesIn, NOTHING, recommendedText, slipsAmong } from './surveyed.js';

/** So many places are told with what each gives; the others by place. */
const ROWS = 12;

/** So many places of a part are told at all: a large site may have thousands. */
const MOST_PLACES = 200;

/** So many of each kind of what is left are told. */
const MOST_LEFT = 40;

/** A report, and the site that it is about with what it recommends lifted. */
export interface Reported {
  report: Report;
  planned: PlannedSite;
}

/** @throws Problem where the site cannot be read */
export async function reportOn(surveyed: Surveyed): Promise<Reported> {
  const { project, pages } = surveyed;
  const { registry } = project;
  const recommended = surveyed.findings.filter((finding) => finding.recommended && finding.blocked === null);
  const planned = plannedSite(surveyed, recommended);
  const loaded = { ...surveyed, sheets: await loadStylesheets(project) };
  const fresh = recommended.filter(({ component }) => component === null);
  const subjects = [
    ...(registry.size > 0 ? [componentStyling(loaded, registry.keys())] : []),
    ...(fresh.length > 0 ? [findingStyling(loaded, fresh, planned)] : []),
  ];
  const { expanded } = planned;
  const standing = standingOn(expanded);
  const gathered = { surveyed, subjects, standing };
  const drift = driftRows(recommended, surveyed);
  const told = new Set(recommended.flatMap(driftPlaces));
  const [subject] = subjects;
  const report: Report = {
    name: basename(project.root),
    summary: summaryOf(surveyed, recommended),
    lines: {
      before: staticLines(
        expandAll(pages, registry).map(({ page }, i) => ({ page, extents: extentsIn(page, expanded[i]!) })),
      ),
      after: sourceLines({ pages: planned.pages, registry: planned.plan.registry, data: planned.data }),
    },
    isLifted: registry.size > 0,
    isPlanned: recommended.length > 0,
    pages: pages.map(({ path }) => path),
    entries: [...componentEntries(gathered), ...fresh.map((finding) => findingEntry(finding, gathered))],
    drift,
    slips: slipsAmong(surveyed.remarks, told),
    near: nearGroups(surveyed.near).map(({ component, difference, places }) => ({
      places,
      component: component.name,
      difference: differenceText(difference),
    })),
    sheets: subject === undefined ? [] : sheetRows(subject),
    left: leftOf(surveyed, planned),
  };
  return { report, planned };
}

/** The site in sentences that the survey and the roster print too. */
function summaryOf(surveyed: Surveyed, recommended: Finding[]): string[] {
  const { pages, project } = surveyed;
  const lines = linesIn(surveyed);
  const { registry } = project;
  const uses = usesOf({ pages, registry }).filter(({ holder }) => holder.component === undefined).length;
  const components =
    registry.size === 0 ? '' : `, ${count(registry.size, 'component')} with ${count(uses, 'use')} in pages`;
  return [
    `${count(pages.length, 'page')}${components}, ${count(lines, 'line')}.`,
    ...(recommended.length > 0 ? [recommendedText(recommended, lines)] : []),
    ...(recommended.length + registry.size === 0 ? [NOTHING] : []),
  ];
}

/** Where a component stands, inside others too. */
interface Standing {
  /** how often on each page, in the order of the pages */
  byPage: number[];
  /** the markup of the first place */
  markup: string;
}

function standingOn(expanded: readonly ExpandedPage[]): ReadonlyMap<string, Standing> {
  const standing = new Map<string, Standing>();
  expanded.forEach(({ page, extents }, i) => {
    for (const { component, start, end } of extents) {
      const own = standing.get(component) ?? {
        byPage: expanded.map(() => 0),
        markup: dedent(page.source.slice(start, end)),
      };
      own.byPage[i]!++;
      standing.set(component, own);
    }
  });
  return standing;
}

/** What entries are made from. */
interface Gathered {
  surveyed: Surveyed;
  subjects: Subject[];
  standing: ReadonlyMap<string, Standing>;
}

/** What an entry tells of where it stands. */
function standingOf(name: string, { surveyed, standing }: Gathered): Pick<Entry, 'byPage' | 'markup'> {
  const { byPage, markup } = standing.get(name) ?? { byPage: surveyed.pages.map(() => 0), markup: null };
  return { byPage, markup };
}

function rulesOf(name: string, { subjects }: Gathered): RuleCounts | null {
  const subject = subjects.find(({ bonds }) => bonds.has(name));
  if (subject === undefined || subject.sheets.length === 0) return null;
  return { ...tally(subject.bonds.get(name)!), inside: subject.inside.get(name) ?? 0 };
}

/** The finding as `show` tells it. */
function findingEntry(finding: Finding, gathered: Gathered): Entry {
  const { surveyed } = gathered;
  const { name, kind, occurrences, props, slots, file, uses } = finding;
  const placeOf = ({ page, element }: Finding['occurrences'][number]) => placeAt(page, element.start);
  const places: PlaceTable = {
    columns: props.map((prop) => prop.name),
    rows: occurrences.slice(0, ROWS).map((occurrence, i) => ({
      place: placeOf(occurrence),
      cells: props.map((prop) => {
        const { text, isQuiet } = givenAt(prop, i);
        return { text, kind: isQuiet ? 'quiet' : 'value' };
      }),
    })),
    ...moreOf(occurrences.map(placeOf)),
  };
  return {
    name,
    isComponent: false,
    told: findingText(finding),
    notes: [
      sentence(KINDS[kind]),
      ...echoesIn(finding).map(({ prop, of, form }) =>
        sentence(`${prop} is ${of} in ${form}; it stays a prop of its own`),
      ),
    ],
    ...standingOf(name, gathered),
    props: props.map((prop) => ({ ...prop, given: necessityOf(prop) })),
    slots: slots.map((slot) => slot.name),
    places,
    path: `${surveyed.project.config.components}/${name}.html`,
    file,
    use: dedent(uses[0]!),
    cuts: countedCuts(surveyed, finding).map(({ what, alone: other, places: changed, linesAfter }) => ({
      ...{ what, name: other.name, linesAfter, places: changed },
      ...{ props: other.props.length, slots: other.slots.length, uses: other.occurrences.length },
    })),
    rules: rulesOf(name, gathered),
    picture: null,
  };
}

function sentence(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}

/** The components that are there, as `show` and `roster` tell them. */
function componentEntries(gathered: Gathered): Entry[] {
  const { surveyed, standing } = gathered;
  const { pages, project } = surveyed;
  const { registry, data } = project;
  const site = { pages, registry, data };
  const uses = new Map<string, Use[]>();
  for (const use of usesOf(site)) addTo(uses, use.name, use);
  const parts = new Map(
    pages.map((page, i) => [
      page,
      new Set([...standing].flatMap(([name, { byPage }]) => (byPage[i]! > 0 ? [name] : []))),
    ]),
  );
  return rosterOf(site, (page) => parts.get(page)!).map((entry) => {
    const { component } = entry;
    const own = uses.get(component.name) ?? [];
    const more = surveyed.findings.find((finding) => finding.component === component);
    return {
      name: component.name,
      isComponent: true,
      told: toldOf(entry),
      notes: notesOf(entry, [...usesIn(component, registry)].sort(), more),
      ...standingOf(component.name, gathered),
      props: component.props.map((prop) => ({ ...prop, given: necessityOf(prop) })),
      slots: [...component.slots],
      places: usePlaces(useTable(site, component, own)),
      path: component.path,
      file: component.source,
      use: own[0] === undefined ? null : useSource(own[0]),
      cuts: [],
      rules: rulesOf(component.name, gathered),
      picture: null,
    };
  });
}

function usePlaces(table: UseTable): PlaceTable {
  const [, ...columns] = columnsOf(table);
  const { rows } = table;
  return {
    columns: columns.map(({ title }) => title),
    rows: rows.slice(0, ROWS).map(({ place, given, odd }) => ({
      place,
      cells: given.map((each, i) => {
        const { text, isQuiet } = givenText(each);
        return { text, kind: odd[i] === true ? 'odd' : isQuiet ? 'quiet' : 'value' };
      }),
    })),
    ...moreOf(rows.map(({ place }) => place)),
  };
}

/** The places after those that have a row. */
function moreOf(places: Place[]): Pick<PlaceTable, 'more' | 'untold'> {
  return { more: places.slice(ROWS, MOST_PLACES), untold: Math.max(0, places.length - MOST_PLACES) };
}

function toldOf({ uses, pages, lines }: RosterEntry): string {
  return `${count(uses.inPages, 'use')} in pages; takes part in ${count(pages.length, 'page')}; ${count(lines, 'line')}`;
}

function notesOf({ component, usedIn }: RosterEntry, inside: string[], more: Finding | undefined): string[] {
  return [
    ...(component.about === null ? [] : [component.about]),
    ...(usedIn.length > 0 ? [`Used in ${usedIn.join(', ')}.`] : []),
    ...(inside.length > 0 ? [`Made of ${inside.join(', ')}.`] : []),
    ...(more === undefined
      ? []
      : [`${count(more.occurrences.length, 'more place')} could use it: estrade lift ${component.name}.`]),
  ];
}

function useSource({ holder, element }: Use): string {
  return dedent(holder.source.slice(element.start, element.end));
}

function sheetRows(subject: Subject): SheetRow[] {
  return totalsOf(subject, subject.bonds.values()).map(({ sheet, rules, own, shared, pages, unseen }) => ({
    ...{ name: sheetName(sheet), rules, own, shared, pages },
    unseen: unseen.map((unit) => ({ message: unit.name, place: sheetPlace(sheet, unit.node.start) })),
  }));
}

/** What is not lifted: what could be a component, what stands apart once, and what has to stay. */
function leftOf(surveyed: Surveyed, { plan }: PlannedSite): Left {
  const offers = surveyed.others();
  const once = surveyed.regions().filter(({ occurrences }) => occurrences.length === 1);
  const lengthOf = ({ occurrences: [first] }: Offer) => linesOf(first!.page, first!.element);
  const regions = [...once].sort((a, b) => lengthOf(b) - lengthOf(a));
  const remarks = surveyed.remarks.flatMap(({ kind, message, places }): Told[] => {
    if (kind === 'slip' || kind === 'near-use' || kind === 'unstyled') return [];
    return places.length === 0 ? [{ place: null, message }] : places.map((place) => ({ place, message }));
  });
  return {
    offers: offers.slice(0, MOST_LEFT).map(({ name, kind, occurrences, reason }) => ({
      ...{ name, kind, reason },
      places: occurrences.length,
    })),
    moreOffers: Math.max(0, offers.length - MOST_LEFT),
    regions: regions.slice(0, MOST_LEFT).map((offer) => {
      const [{ page, element }] = offer.occurrences as [Offer['occurrences'][number]];
      return { name: offer.name, place: placeAt(page, element.start), lines: lengthOf(offer) };
    }),
    moreRegions: Math.max(0, regions.length - MOST_LEFT),
    remarks: [
      ...remarks,
      ...plan.leftOut.map(({ finding, why, ...place }) => ({ place, message: `${finding}: ${why}` })),
    ],
  };
}
