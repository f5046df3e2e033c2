/** The site as it would be with findings lifted, in memory; nothing is written. */
import { type LiftPlan, planLift } from '../core/lift/plan.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { expandAll, type ExpandedPage } from '../core/style/plan.js';
import type { Finding } from '../core/survey/types.js';
import { type LoadedPages, type Project, surveyedPages } from '../workspace/project.js';

export interface PlannedSite {
  plan: LiftPlan;
  /** the pages as they would stand on disk, in the order of those that were read */
  pages: Page[];
  /** what they would expand to */
  expanded: ExpandedPage[];
  /** data files as they would be, by path */
  data: ReadonlyMap<string, string>;
}

/** Plans to lift findings. @throws Problem where one cannot be */
export function plannedSite(
  { project, pages, templates }: Pick<LoadedPages, 'pages' | 'templates'> & { project: Project },
  findings: Finding[],
): PlannedSite {
  const { componentFiles, config, data } = project;
  const plan = planLift({
    pages: surveyedPages({ pages, templates }),
    components: componentFiles,
    findings,
    componentFolder: config.components,
    data: { folder: config.data, limit: config.inlineList, files: data },
    maxPageSize: config.maxPageSize,
  });
  const after = new Map(plan.pages.map(({ path, after: text }) => [path, text]));
  const planned = pages.map((page) => {
    const text = after.get(page.path);
    return text === undefined ? page : parsePage(page.path, text, page.encoding);
  });
  return {
    plan,
    pages: planned,
    expanded: expandAll(planned, plan.registry),
    data: new Map([...data, ...plan.data.map(({ path, text }) => [path, text] as const)]),
  };
}
