/**
 * Plans a lift in memory: component files, and pages in which uses stand for exactly the fragments' source ranges.
 * A use that would not parse as one element with its own range takes the template form; an occurrence that the
 * component does not give back, or that would change what stands around it, stays as it is and is told. Nothing is
 * written here.
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
 * Plans and proves: every planned page expands to its origin, to the byte or as markup.
 * @throws Problem (exit 2) when two findings want the same place
 */
export function planLift(input: PlanInput): LiftPlan {
  const { pages, componentFolder } = input;
  const { findings, unreadable } = readableOnes(input);
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
  const plan: LiftPlan = { components: [], pages: [], uses: new Map(), leftOut: unreadable, registry };
  for (const page of pages) {
    const replacements = byPage.get(page);
    if (replacements === undefined) continue;
    const origin = input.origins?.get(page.path) ?? expandPage(page, before).text;
    planPage(page, inOrder(page, replacements), origin, before, plan);
  }
  plan.components = components.filter(({ path }) =>
    fresh.some(({ name }) => path === `${componentFolder}/${name}.html` && (plan.uses.get(name) ?? 0) > 0),
  );
  return plan;
}

/** Leaves out findings whose component file could not be read back: then its markup says what a template cannot. */
function readableOnes({ findings, components, componentFolder }: PlanInput): {
  findings: Finding[];
  unreadable: LeftOut[];
} {
  const unreadable: LeftOut[] = [];
  const readable = findings.filter((finding) => {
    if (finding.component !== null) return true;
    try {
      readComponents([...components, { path: `${componentFolder}/${finding.name}.html`, source: finding.file }]);
      return true;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      const { page, element } = finding.occurrences[0]!;
      const { path, line, column } = placeAt(page, element.start);
      unreadable.push({
        finding: finding.name,
        path,
        line,
        column,
        why: `no template can be written for it: ${error.message}`,
      });
      return false;
    }
  });
  return { findings: readable, unreadable };
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

function planPage(page: Page, replacements: Replacement[], origin: string, before: Registry, plan: LiftPlan): void {
  const leave = (each: Replacement, why: string) => {
    const { line, column } = placeAt(page, each.element.start);
    plan.leftOut.push({ finding: each.finding.name, path: page.path, line, column, why });
  };
  let current = replacements;
  // each round leaves at least one replacement out or changes its form, so this ends
  for (;;) {
    const { text, ranges } = rewrite(page, current);
    if (current.length === 0) return;
    const expanded = expandPage(parsePage(page.path, text), plan.registry);
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
      ...compareFragment(page, each, outputs.get(`${ranges[i]!.start} ${ranges[i]!.end}`)!, before),
    }));
    const wrong = verdicts.filter(({ same }) => same === 'different');
    for (const { each, why } of wrong) leave(each, why);
    if (wrong.length > 0) {
      const out = new Set(wrong.map(({ each }) => each));
      current = current.filter((each) => !out.has(each));
      continue;
    }
    const { same, first } = comparePages(page.path, origin, expanded.text);
    if (same === 'different') {
      const guilty = guiltyOf(verdicts, endOfLine(page, first!.line));
      leave(guilty, `what follows would change: ${first!.what}`);
      current = current.filter((each) => each !== guilty);
      continue;
    }
    plan.pages.push({ path: page.path, before: page.source, after: text, uses: current.length, same });
    for (const { finding } of current) plan.uses.set(finding.name, (plan.uses.get(finding.name) ?? 0) + 1);
    return;
  }
}

/**
 * The replacement that changed what stands around it: a fragment that is the same by itself may still do that, when
 * its tags are not all closed, or when the parser closed others because of it. The last suspect before the difference.
 */
function guiltyOf(verdicts: { each: Replacement; same: Sameness }[], before: number): Replacement {
  const inexact = verdicts.filter(({ same }) => same !== 'bytes');
  const suspects = inexact.length > 0 ? inexact : verdicts;
  return (suspects.findLast(({ each }) => each.element.start <= before) ?? suspects[0]!).each;
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

/** Compares a fragment, the uses in it expanded, with what its own use expands to; both by themselves. */
function compareFragment(
  page: Page,
  { element, end }: Replacement,
  output: string,
  registry: Registry,
): { same: Sameness; why: string } {
  const context = element.parent?.kind === 'element' ? element.parent : null;
  const indent = indentAt(page.source, element.start);
  const source = indent + page.source.slice(element.start, end);
  const fragment = { path: page.path, source, root: parseFragment(source, context) };
  const original = expandPage(fragment, registry).text.slice(indent.length);
  if (original === output) return { same: 'bytes', why: '' };
  const found = firstDifference(parseFragment(original, context), parseFragment(output, context), false);
  return found === null ? { same: 'markup', why: '' } : { same: 'different', why: found.what };
}
