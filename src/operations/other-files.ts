/** What belongs to the site besides its pages. */
import { encode } from '../workspace/encoding.js';
import type { Project } from '../workspace/project.js';
import { type BuiltPages, type SiteFiles, siteFiles } from '../workspace/site-files.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { asError, type CheckProblem } from '../workspace/wrong-uses.js';

export interface OtherFiles extends SiteFiles {
  /** bytes of stylesheets in which styles of components are filled in, by path */
  filled: Map<string, Buffer>;
  /** markers in stylesheets that are wrong, and what pages refer to but is left out */
  problems: CheckProblem[];
}

/**
 * All files of the site but its pages.
 * @param pages as they are built
 * @param data paths of the data files that lists were read from
 */
export async function otherFiles(
  project: Project,
  pages: BuiltPages['pages'],
  data: ReadonlySet<string>,
): Promise<OtherFiles> {
  const { sources, files } = await loadStylesheets(project);
  const styles = new Map(sources);
  const filled = new Map<string, Buffer>();
  const problems: CheckProblem[] = [];
  for (const [path, text] of sources) {
    if (!/@component\s/i.test(text)) continue;
    const { fillMarkers } = await import('../core/style/fill.js');
    const made = fillMarkers(path, text, project.registry);
    styles.set(path, made.text);
    filled.set(path, encode(made.text, files.get(path)!));
    problems.push(...made.problems.map(({ message, place }) => asError({ kind: 'wrong-marker', message, place })));
  }
  const own = new Set([...[...pages, ...project.componentFiles].map(({ path }) => path), ...data]);
  const found = await siteFiles(project, { pages, styles, own });
  for (const { path, why } of found.missed)
    problems.push({
      kind: 'left-out',
      message: `a page or stylesheet refers to it, and it is left out of the site: ${why}`,
      severity: 'warning',
      path,
      line: 1,
      column: 1,
    });
  return { ...found, filled, problems };
}
