/**
 * Components cut out of the templates of others. A template gives no page by itself: an edit to it is proven by all
 * pages that are made of it, which must expand to what they expanded to before.
 */
import { expandPage } from '../component/expand.js';
import type { Registry } from '../component/model.js';
import { type ComponentSource, readComponents } from '../component/read.js';
import { Problem } from '../errors.js';
import type { Page } from '../page/parse.js';
import { comparePages, type Shown, type Sameness } from '../page/same.js';
import { elementsOf } from '../page/tree.js';
import { type Replacement, rewrite } from './rewrite.js';
import { addTo } from '../groups.js';

export interface PlannedTemplate {
  path: string;
  before: string;
  after: string;
  uses: number;
}

export interface TemplatePlan {
  templates: PlannedTemplate[];
  /** pages made of what was rewritten, with what they compare as */
  proven: { path: string; same: Sameness }[];
  /** replacements written, and those that are not, with the reason */
  kept: Replacement[];
  leftOut: { each: Replacement; why: string }[];
  /** all components after it */
  registry: Registry;
}

interface Input {
  /** pages, templates among them */
  pages: Page[];
  /** replacements by the template that they stand in */
  byTemplate: ReadonlyMap<Page, Replacement[]>;
  before: Registry;
  /** component files, those to be written among them */
  sources: ComponentSource[];
  /** these, read */
  registry: Registry;
  /** parsed already, where it has been */
  originOf: (page: Page) => string | Page;
  shown: Shown | undefined;
}

/** Plans the templates one after the other, each proven on top of those before it. */
export function planTemplates({ pages, byTemplate, before, sources, registry, originOf, shown }: Input): TemplatePlan {
  const files = new Map(sources.map((source) => [source.path, source]));
  const read = () => readComponents([...files.values()], before);
  const plan: TemplatePlan = { templates: [], proven: [], kept: [], leftOut: [], registry };
  if (byTemplate.size === 0) return plan;
  const made = new Map<string, { page: Page; text: string; wrong: number }[]>();
  for (const page of pages) {
    if (page.component !== undefined) continue;
    const { text, components, problems } = expandPage(page, before);
    for (const name of components) {
      addTo(made, name, { page, text, wrong: problems.length });
    }
  }
  for (const [page, replacements] of byTemplate) {
    const mine = made.get(page.component!.name) ?? [];
    const path = page.path;
    const leave = (each: Replacement, why: string) => plan.leftOut.push({ each, why });
    if (mine.length === 0) {
      for (const each of replacements) leave(each, `no page uses ${page.component!.name}, so nothing proves it`);
      continue;
    }
    /** Why the template cannot be written so; null when every page made of it stays the same. */
    const wrongWith = (some: Replacement[]): string | null => {
      const old = files.get(path)!;
      const { text: source, spans } = rewrite(page, some);
      files.set(path, { path, source });
      try {
        const edited = read();
        const whole = elementsOf(edited.get(page.component!.name)!.template);
        if (!spans.every(({ from, to }) => whole.some(({ start, end }) => start === from && end === to)))
          return 'a use would not parse as one element here';
        for (const { page: user, text, wrong } of mine) {
          const expanded = expandPage(user, edited);
          if (expanded.problems.length > wrong) return expanded.problems.at(-1)!.message;
          if (expanded.text === text) continue;
          const { same, first } = comparePages(user.path, originOf(user), expanded.text, shown);
          if (same === 'different') return `${user.path}:${first!.line} would change: ${first!.what}`;
        }
        return null;
      } catch (error) {
        if (error instanceof Problem) return error.message;
        throw error;
      } finally {
        files.set(path, old);
      }
    };
    let current = replacements;
    if (wrongWith(current) !== null) {
      current = [];
      for (const each of replacements) {
        const ways: Replacement[] = [each, { ...each, form: 'template' }];
        const why = ways.map((way) => wrongWith([...current, way]));
        const at = why.indexOf(null);
        if (at < 0) leave(each, why[0]!);
        else current.push(ways[at]!);
      }
    }
    if (current.length === 0) continue;
    const after = rewrite(page, current).text;
    files.set(path, { path, source: after });
    plan.templates.push({ path, before: page.source, after, uses: current.length });
    plan.kept.push(...current);
  }
  plan.registry = read();
  const changed = [...byTemplate.keys()].filter(({ path }) => plan.templates.some((each) => each.path === path));
  for (const page of new Set(changed.flatMap(({ component }) => made.get(component!.name)!.map((each) => each.page)))) {
    const { same } = comparePages(page.path, originOf(page), expandPage(page, plan.registry).text, shown);
    plan.proven.push({ path: page.path, same });
  }
  return plan;
}
