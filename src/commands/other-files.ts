/** What a built site holds beside its pages, for the commands that build one, and what is told of the rest. */
import { count, terminalWidth, number } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { encode } from '../workspace/encoding.js';
import type { Project } from '../workspace/project.js';
import { type BuiltPages, type LeftOut, type SiteFiles, siteFiles } from '../workspace/site-files.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { print, hint } from './context.js';
import { asError, type CheckProblem } from '../workspace/wrong-uses.js';
import type { Output } from '../workspace/output.js';
import { isVerbose } from '../terminal/voice.js';

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

/** What was written into a folder: `12 files written, 3 as they should be, 1 old one removed.` */
export function writtenText({ written, unchanged, removed }: Output): string {
  const parts = [
    `${count(written, 'file')} written`,
    ...(unchanged > 0 ? [`${number(unchanged)} as they should be already`] : []),
    ...(removed.length > 0 ? [`${count(removed.length, 'old one')} removed`] : []),
  ];
  return `${parts.join(', ')}.`;
}

/** Counts what is left out of a site, or lists it. */
export function tellLeftOut(left: LeftOut[]): void {
  if (left.length === 0) return;
  hint(
    `${count(left.length, 'file')} left out${isVerbose() ? ':' : `; --verbose lists ${left.length === 1 ? 'it' : 'them'} and why`}`,
  );
  if (!isVerbose()) return;
  const columns = [{ title: 'left out', fixed: true }, { title: 'why' }];
  print(
    table(
      columns,
      left.map(({ path, why }) => [path, why]),
      terminalWidth(),
    ),
  );
}
