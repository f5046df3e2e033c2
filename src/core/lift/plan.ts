/**
 * Plans a lift in memory: component files, and pages in which uses stand for exactly the fragments' source ranges.
 * A use that would not parse as one element with its own range takes the template form; an occurrence that the
 * component does not give back stays as it is. Nothing is written here.
 */
import type { Registry } from '../component/model.js';
import { type ComponentSource, readComponents } from '../component/read.js';
import { expandPage } from '../component/expand.js';
import { Problem } from '../errors.js';
import { eolOf, indentAt, type Page, parseFragment, parsePage, placeAt } from '../page/parse.js';
import { comparePages, firstDifference, type Sameness } from '../page/same.js';
import type { Element } from '../page/tree.js';
import type { Finding } from '../survey/types.js';
import { useText, valuesAt } from './use.js';

/** One fragment to be replaced. */
interface Replacement {
  finding: Finding;
  index: number;
  element: Element;
  /** where the replaced source ends */
  end: number;
  text: string;
}

export interface PlannedPage {
  path: string;
  before: string;
  after: string;
  uses: number;
  same: Sameness;
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
  pages: PlannedPage[];
  /** uses written, by finding */
  uses: Map<string, number>;
  leftOut: LeftOut[];
  /** all components after the lift */
  registry: Registry;
}

export interface PlanInput {
  pages: Page[];
  /** component files that are there */
  components: ComponentSource[];
  findings: Finding[];
  componentFolder: string;
  /** the static page that each page must expand to, by path; the page's own expansion where there is none */
  origins?: ReadonlyMap<string, string>;
}

/**
 * Plans and proves.
 * @throws Problem (exit 1) when a page would not be the same, naming the first difference
 * @throws Problem (exit 2) when two findings want the same place
 */
export function planLift(input: PlanInput): LiftPlan {
  const { pages, findings, componentFolder } = input;
  const fresh = findings.filter((finding) => finding.component === null);
  const components = fresh.map(({ name, file }) => ({ path: `${componentFolder}/${name}.html`, source: file }));
  const registry = readComponents([...input.components, ...components]);
  const before = readComponents(input.components);
  const byPage = new Map<Page, Replacement[]>();
  for (const finding of findings)
    finding.occurrences.forEach(({ page, element, end }, index) => {
      const list = byPage.get(page) ?? [];
      list.push({ finding, index, element, end, text: finding.uses[index]! });
      byPage.set(page, list);
    });
  const plan: LiftPlan = { components: [], pages: [], uses: new Map(), leftOut: [], registry };
  for (const page of pages) {
    const replacements = byPage.get(page);
    if (replacements === undefined) continue;
    const origin = input.origins?.get(page.path) ?? expandPage(page, before).text;
    planPage(page, inOrder(page, replacements), origin, registry, plan);
  }
  plan.components = components.filter(({ path }) =>
    fresh.some(({ name }) => path === `${componentFolder}/${name}.html` && (plan.uses.get(name) ?? 0) > 0),
  );
  return plan;
}

function inOrder(page: Page, replacements: Replacement[]): Replacement[] {
  const sorted = replacements.sort((a, b) => a.element.start - b.element.start);
  sorted.forEach((each, i) => {
    const next = sorted[i + 1];
    if (next === undefined || next.element.start >= each.end) return;
    throw new Problem(`${next.finding.name} stands inside ${each.finding.name}`, {
      place: placeAt(page, next.element.start),
      hint: 'lift one of the two, survey again, and lift what is left',
    });
  });
  return sorted;
}

function planPage(page: Page, replacements: Replacement[], origin: string, registry: Registry, plan: LiftPlan): void {
  const leave = (each: Replacement, why: string) => {
    const { line, column } = placeAt(page, each.element.start);
    plan.leftOut.push({ finding: each.finding.name, path: page.path, line, column, why });
  };
  let current = replacements;
  // each round leaves at least one replacement out or changes its form, so this ends
  for (;;) {
    const { text, ranges } = rewrite(page, current);
    if (current.length === 0) return;
    const expanded = expandPage(parsePage(page.path, text), registry);
    const found = new Set(expanded.uses.map(({ start, end }) => `${start} ${end}`));
    const broken = current.filter((_, i) => !found.has(`${ranges[i]!.start} ${ranges[i]!.end}`));
    if (broken.length > 0) {
      const [first] = broken;
      const templated = asTemplate(first!);
      if (templated === null) leave(first!, 'a use would not parse as one element here');
      current = current.flatMap((each) => (each !== first ? [each] : templated === null ? [] : [templated]));
      continue;
    }
    const outputs = new Map(expanded.uses.map((use) => [`${use.start} ${use.end}`, use.output]));
    const verdicts = current.map((each, i) => ({
      each,
      ...compareFragment(page, each, outputs.get(`${ranges[i]!.start} ${ranges[i]!.end}`)!),
    }));
    const wrong = verdicts.filter(({ same }) => same === 'different');
    for (const { each, why } of wrong) leave(each, why);
    if (wrong.length > 0) {
      const out = new Set(wrong.map(({ each }) => each));
      current = current.filter((each) => !out.has(each));
      continue;
    }
    const { same, first } = comparePages(page.path, origin, expanded.text);
    // a fragment that is the same by itself may still change what follows it, when its tags are not all closed
    const inexact = verdicts.filter((verdict) => verdict.same !== 'bytes');
    if (same === 'different' && inexact.length > 0) {
      const place = (each: Replacement) => placeAt(page, each.element.start).line;
      const guilty = (inexact.findLast(({ each }) => place(each) <= first!.line) ?? inexact[0]!).each;
      leave(guilty, `its markup is not closed, and what follows would change: ${first!.what}`);
      current = current.filter((each) => each !== guilty);
      continue;
    }
    if (same === 'different')
      throw new Problem(`the lift would change this page: ${first!.what}`, {
        exit: 1,
        place: { path: page.path, line: first!.line, column: first!.column },
        hint: 'nothing was written; leave this page or this finding out',
      });
    plan.pages.push({ path: page.path, before: page.source, after: text, uses: current.length, same });
    for (const { finding } of current) plan.uses.set(finding.name, (plan.uses.get(finding.name) ?? 0) + 1);
    return;
  }
}

function rewrite(page: Page, replacements: Replacement[]): { text: string; ranges: { start: number; end: number }[] } {
  let text = '';
  let at = 0;
  const ranges = replacements.map((each) => {
    text += page.source.slice(at, each.element.start);
    const start = text.length;
    text += each.text;
    at = each.end;
    return { start, end: text.length };
  });
  return { text: text + page.source.slice(at), ranges };
}

function asTemplate(each: Replacement): Replacement | null {
  if (each.text.startsWith('<template')) return null;
  const { finding, index } = each;
  const { page, element } = finding.occurrences[index]!;
  const place = { indent: indentAt(page.source, element.start), eol: eolOf(page.source) };
  return { ...each, text: useText(finding.name, finding.props, valuesAt(finding.props, index), 'template', place) };
}

/** Compares a fragment with what its use expands to, both by themselves. */
function compareFragment(page: Page, { element, end }: Replacement, output: string): { same: Sameness; why: string } {
  const source = page.source.slice(element.start, end);
  if (source === output) return { same: 'bytes', why: '' };
  const context = element.parent?.kind === 'element' ? element.parent : null;
  const found = firstDifference(parseFragment(source, context), parseFragment(output, context), false);
  return found === null ? { same: 'markup', why: '' } : { same: 'different', why: found.what };
}
