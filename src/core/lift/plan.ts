/**
 * Plans a lift in memory: component files, and pages in which uses stand for exactly the fragments' source ranges.
 * A use that would not parse as one element with its own range takes the template form; an occurrence that the
 * component does not give back, or that would change what stands around it, stays as it is and is told. Nothing is
 * written here.
 */
import type { Registry } from '../component/model.js';
import { type ComponentSource, readComponents, urlKindIn, usesIn } from '../component/read.js';
import { expandPage, type UseRange } from '../component/expand.js';
import { Problem, workingOn } from '../errors.js';
import { once } from '../once.js';
import { composeAll } from '../template/compose.js';
import type { Keeping } from '../template/use.js';
import { componentFile } from '../template/write.js';
import type { UseVerdict } from '../match/prove.js';
import { type Page, parsePage, placeAt } from '../page/parse.js';
import { comparePages, parsedAs, type Sameness, type Shown, sourceOf } from '../page/same.js';
import { type Element, elementsOf, openBefore } from '../page/tree.js';
import { spotsOf } from '../survey/nesting.js';
import type { Finding } from '../survey/types.js';
import { type PlannedTemplate, planTemplates } from './templates.js';
import { compareAlone, formAt, type Lifted, type Replacement, rewrite } from './rewrite.js';

export interface PlannedPage {
  path: string;
  before: string;
  after: string;
  uses: number;
  same: Exclude<Sameness, 'different'>;
  /** what `after` expands to */
  expanded: { text: string; extents: UseRange[] };
}

export interface LeftOut {
  finding: string;
  path: string;
  line: number;
  column: number;
  why: string;
}

export interface LiftPlan {
  components: ComponentSource[];
  /** data files to be written, with the lists that are too long for a page */
  data: { path: string; text: string }[];
  pages: PlannedPage[];
  /** components whose templates use others now */
  templates: PlannedTemplate[];
  /** pages made of these, proven though they are not rewritten themselves */
  proven: { path: string; same: Sameness }[];
  /** uses written, by finding */
  uses: Map<string, number>;
  leftOut: LeftOut[];
  /** all components after the lift */
  registry: Registry;
}

export interface PlanInput {
  /** pages, templates of components among them */
  pages: Page[];
  /** component files that are there */
  components: ComponentSource[];
  findings: Finding[];
  componentFolder: string;
  /** where long lists go; none does when this is left out */
  data?: { folder: string; limit: number; files: ReadonlyMap<string, string> };
  /** the static page that each page must expand to, by path; the page's own expansion where there is none */
  origins?: ReadonlyMap<string, string>;
  /** where stylesheets make white space show */
  shown?: Shown;
  /** most UTF-16 units that a page may become */
  maxPageSize?: number;
}

/** What pages are planned with. */
interface Planning {
  before: Registry;
  plan: LiftPlan;
  shown: Shown | undefined;
  /** findings that hold others and, so written, do not give their fragments back: asked when a page comes out different */
  wrong: () => Finding[];
}

/**
 * Plans and proves: every planned page expands to its origin, to the byte or as markup. A finding that holds others and does
 * not give its fragments back is written without them.
 */
export function planLift(input: PlanInput): LiftPlan {
  const { folder = '', limit = Infinity, files = new Map<string, string>() } = input.data ?? {};
  const keeping: Keeping = { folder, limit, files: new Map(files) };
  const before = readComponents(input.components, { data: keeping.files, maxPageSize: input.maxPageSize });
  const apart = new Set<Finding>();
  for (;;) {
    const { plan, wrong } = planWith(input, before, keeping, apart);
    if (wrong.length === 0) {
      // a list that was tried and then left out keeps no file
      const named = (path: string) =>
        [...plan.pages, ...plan.templates].some((each) => each.after.includes(`${path.replace(/^.*\//, '')}"`));
      for (const [path, text] of keeping.files) if (!files.has(path) && named(path)) plan.data.push({ path, text });
      return plan;
    }
    for (const finding of wrong) apart.add(finding);
  }
}

/** Plans with findings that are not `apart` written with each other; as far as one of them turns out `wrong`. */
function planWith(
  input: PlanInput,
  before: Registry,
  keeping: Keeping,
  apart: ReadonlySet<Finding>,
): { plan: LiftPlan; wrong: Finding[] } {
  const { pages, componentFolder, shown } = input;
  const { lifted, unreadable, registry } = readableOnes(input, before, keeping, apart);
  const fresh = lifted.filter(({ finding }) => finding.component === null);
  const components = fresh.map(({ finding: { name }, file }) => ({
    path: `${componentFolder}/${name}.html`,
    source: file,
  }));
  const plan: LiftPlan = {
    components: [],
    data: [],
    pages: [],
    templates: [],
    proven: [],
    uses: new Map(),
    leftOut: unreadable,
    registry,
  };
  const originOf = (page: Page) => parsedAs(page, input.origins?.get(page.path) ?? expandPage(page, before).text);
  const byPage = replacementsOf(lifted, plan);
  const byTemplate = new Map([...byPage].filter(([page]) => page.component !== undefined));
  const templated = planTemplates({
    pages,
    byTemplate,
    before,
    sources: [...input.components, ...components],
    registry,
    originOf,
    shown,
  });
  Object.assign(plan, { templates: templated.templates, registry: templated.registry });
  for (const { each, why } of templated.leftOut) leave(each, why, pageOf(each), plan);
  for (const each of templated.kept) count(each.lifted, plan);
  const wrong = once(() => wronglyComposed(lifted, before, plan.registry));
  for (const page of pages) {
    const replacements = page.component === undefined ? byPage.get(page) : undefined;
    if (replacements === undefined) continue;
    const planning = { before, plan, shown, wrong };
    const found = workingOn(page.path, () => planPage(page, replacements, originOf(page), planning));
    if (found.length > 0) return { plan, wrong: found };
  }
  plan.proven = templated.proven.filter(({ path }) => !plan.pages.some((page) => page.path === path));
  const used = usedNames(plan);
  plan.components = components.filter((_, i) => used.has(fresh[i]!.finding.name));
  return { plan, wrong: [] };
}

/** Findings that hold others, and do not give one of their fragments back by itself. */
function wronglyComposed(lifted: Lifted[], before: Registry, after: Registry): Finding[] {
  const wrong = lifted.filter(
    (each) =>
      each.covered.size > 0 &&
      each.finding.occurrences.some(
        ({ page }, i) => page.component === undefined && compareAlone(each, i, before, after).same === 'different',
      ),
  );
  return wrong.map(({ finding }) => finding);
}

/** The components that the pages use, and those that these use. */
function usedNames({ uses, registry }: LiftPlan): Set<string> {
  const used = new Set<string>();
  const visit = (name: string) => {
    if (used.has(name)) return;
    used.add(name);
    for (const inner of usesIn(registry.get(name)!, registry)) visit(inner);
  };
  for (const [name, count] of uses) if (count > 0) visit(name);
  return used;
}

/**
 * Composes the findings and leaves out those whose component file could not be read back: then its markup says what a
 * template cannot.
 * @param apart those that are written without the others
 */
function readableOnes(
  { findings, components, componentFolder }: PlanInput,
  before: Registry,
  keeping: Keeping,
  apart: ReadonlySet<Finding>,
): { lifted: Lifted[]; unreadable: LeftOut[]; registry: Registry } {
  const unreadable: LeftOut[] = [];
  const options = { componentFolder, maxProps: Infinity, urlKindOf: urlKindIn(before) };
  const compose = (some: Finding[]): Lifted[] => {
    const composed = composeAll(some, options, apart);
    return some.map((finding) => {
      const general = composed.get(finding);
      const nodes = [...(general?.uses?.keys() ?? [])].flatMap((pattern) => pattern.nodes);
      return {
        finding,
        file: general === undefined ? finding.file : componentFile(finding.name, general),
        props: general?.props ?? finding.props,
        slots: general?.slots ?? finding.slots,
        covered: new Set(nodes.filter((node): node is Element => node?.kind === 'element')),
        keeping,
        verdicts: new Map(),
      };
    });
  };
  const path = ({ name }: Finding) => `${componentFolder}/${name}.html`;
  let kept = findings;
  for (;;) {
    const lifted = compose(kept);
    const sources = lifted
      .filter(({ finding }) => finding.component === null)
      .map(({ finding, file }) => ({ path: path(finding), source: file }));
    try {
      return { lifted, unreadable, registry: readComponents([...components, ...sources], before) };
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      const guilty = lifted.find(({ finding }) => path(finding) === error.place?.path)?.finding;
      if (guilty === undefined) throw error;
      const { page, element } = guilty.occurrences[0]!;
      const { path: at, line, column } = placeAt(page, element.start);
      const why = `no template can be written for it: ${error.message}`;
      unreadable.push({ finding: guilty.name, path: at, line, column, why });
      kept = kept.filter((finding) => finding !== guilty);
    }
  }
}

/** What is written into each page and template: places in templates that use them are not, and others are told. */
function replacementsOf(lifted: Lifted[], plan: LiftPlan): Map<Page, Replacement[]> {
  const nested = lifted.map((each) => {
    const { finding, slots, covered } = each;
    return { each, name: finding.name, occurrences: finding.occurrences, slots, covered };
  });
  const spots = spotsOf(nested);
  const byPage = new Map<Page, Replacement[]>();
  for (const part of nested)
    part.occurrences.forEach(({ page, element, end }, index) => {
      const spot = spots.get(part)![index]!;
      const replacement = { lifted: part.each, index, element, end, form: formAt(part.each, index) };
      if (spot.at === 'nowhere') leave(replacement, spot.why, page, plan);
      if (spot.at !== 'page' && spot.at !== 'slot') return;
      const list = byPage.get(page) ?? [];
      byPage.set(page, list);
      list.push(replacement);
    });
  for (const [page, list] of byPage)
    byPage.set(
      page,
      closedBefore(list, (each, why) => leave(each, why, page, plan)),
    );
  return byPage;
}

/**
 * Those before which all is closed: where only the start tag of a place closes the element before it, the tag of a use
 * would end up in that, unless a use takes its place too.
 */
function closedBefore(list: Replacement[], leaveOut: (each: Replacement, why: string) => void): Replacement[] {
  const ends = new Set<number>();
  return list
    .sort((one, other) => one.element.start - other.element.start)
    .filter((each) => {
      const before = openBefore(each.element);
      const stays = before === null || ends.has(before.end);
      if (stays) ends.add(each.end);
      else leaveOut(each, `nothing but its start tag closes the <${before.tag}> before it`);
      return stays;
    });
}

function count({ finding: { name } }: Lifted, { uses }: LiftPlan): void {
  uses.set(name, (uses.get(name) ?? 0) + 1);
}

function pageOf({ lifted, index }: Replacement): Page {
  return lifted.finding.occurrences[index]!.page;
}

function leave({ element, lifted }: Replacement, why: string, page: Page, plan: LiftPlan): void {
  const { path, line, column } = placeAt(page, element.start);
  plan.leftOut.push({ finding: lifted.finding.name, path, line, column, why });
}

/** Plans a page; where it comes out different because findings are written wrongly, these are the answer. */
function planPage(page: Page, replacements: Replacement[], origin: string | Page, planning: Planning): Finding[] {
  const { before, plan, shown, wrong } = planning;
  const verdictOn = ({ lifted, index, form }: Replacement) => compareAlone(lifted, index, before, plan.registry, form);
  let current = replacements;
  // each round leaves at least one replacement out or changes its form, so this ends
  for (;;) {
    const { text, spans } = rewrite(page, current);
    if (current.length === 0) return [];
    const rewritten = parsePage(page.path, text);
    const closed = elementsOf(rewritten.root).filter(({ closeStart }) => closeStart >= 0);
    const found = new Set(closed.map(({ start, end }) => `${start} ${end}`));
    const broken = spans.find(({ from, to }) => !found.has(`${from} ${to}`))?.each;
    if (broken !== undefined) {
      const templated: Replacement | null = broken.form === 'tag' ? { ...broken, form: 'template' } : null;
      if (templated === null) leave(broken, 'a use would not parse as one element here', page, plan);
      current = current.flatMap((each) => (each !== broken ? [each] : (templated ?? [])));
      continue;
    }
    const compared = comparePlanned(rewritten, origin, plan.registry, shown);
    if (compared.same !== 'different') {
      plan.pages.push({ path: page.path, before: page.source, after: text, uses: current.length, ...compared });
      for (const { lifted } of current) count(lifted, plan);
      return [];
    }
    if (wrong().length > 0) return wrong();
    const different = current.filter((each) => verdictOn(each).same === 'different');
    const guilty = different.length > 0 ? different : [guiltyOf(current, verdictOn, endOfLine(page, compared.line))];
    for (const each of guilty)
      leave(
        each,
        different.length > 0 ? verdictOn(each).why : `what follows would change: ${compared.why}`,
        page,
        plan,
      );
    current = current.filter((each) => !guilty.includes(each));
  }
}

/** Compares a rewritten page with what it must expand to; one that cannot be expanded is different from its end on. */
function comparePlanned(
  page: Page,
  origin: string | Page,
  registry: Registry,
  shown?: Shown,
): Pick<PlannedPage, 'same' | 'expanded'> | { same: 'different'; line: number; why: string } {
  try {
    const { text, extents } = expandPage(page, registry);
    const { same, first } = comparePages(page.path, origin, text, shown);
    if (same === 'different') return { same, line: first?.line ?? 0, why: first?.what ?? '' };
    const ranges = extents.map(({ component, start, end, poured }) => ({ component, start, end, poured }));
    // what is the same is held once
    return { same, expanded: { text: text === sourceOf(origin) ? sourceOf(origin) : text, extents: ranges } };
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    return { same: 'different', line: Infinity, why: error.message };
  }
}

/**
 * The replacement that changed what stands around it: a fragment that is the same by itself may still do that, when
 * its tags are not all closed, or when the parser closed others because of it. The last suspect before the difference.
 */
function guiltyOf(
  replacements: Replacement[],
  verdictOn: (each: Replacement) => UseVerdict,
  before: number,
): Replacement {
  const inexact = replacements.filter((each) => verdictOn(each).same !== 'bytes');
  const suspects = inexact.length > 0 ? inexact : replacements;
  return suspects.findLast(({ element }) => element.start <= before) ?? suspects[0]!;
}

/** Offset of the end of a line, counted from 1. */
function endOfLine(page: Page, line: number): number {
  let at = -1;
  for (let i = 0; i < line; i++) {
    const next = page.source.indexOf('\n', at + 1);
    if (next < 0) return page.source.length;
    at = next;
  }
  return at;
}
