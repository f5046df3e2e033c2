/** Building the static site from pages and components. */
import { expandPage } from '../core/component/expand.js';
import { progress } from '../terminal/progress.js';
import { encode } from '../workspace/encoding.js';
import type { Unreadable } from '../workspace/files.js';
import {
  followingLinks,
  type Output,
  type OutputFile,
  outputFolder,
  readInside,
  refuseForeignFolder,
  refuseSourceFolder,
  writeOutput,
} from '../workspace/output.js';
import { eachPage, openProject, type Project, readPages, whileSettled } from '../workspace/project.js';
import type { BuiltPages, LeftOut } from '../workspace/site-files.js';
import { type CheckProblem, wrongUses } from '../workspace/wrong-uses.js';
import { tellNotices } from './notices.js';
import { otherFiles } from './other-files.js';
import { refuseWrong } from './problems.js';

export interface ExpandedSite extends Output {
  pages: number;
  uses: number;
  copied: number;
  /** files that are no part of the site */
  left: LeftOut[];
  problems: CheckProblem[];
  unreadable: Unreadable[];
}

export interface ExpandOptions {
  /** where the site goes */
  out: string;
  /** overwrite files there that expand did not write */
  force?: boolean;
  /** build all the same where components or uses are wrong */
  lenient?: boolean;
}

/** Expands all pages into `out` and copies everything else there. */
export async function expandProject(cwd: string, options: ExpandOptions): Promise<ExpandedSite> {
  const project = await openProject(cwd);
  return whileSettled(project, () => expandOpened(project, cwd, options));
}

async function expandOpened(
  project: Project,
  cwd: string,
  { out, force = false, lenient = false }: ExpandOptions,
): Promise<ExpandedSite> {
  tellNotices(project);
  const { root } = project;
  const folder = outputFolder(project, cwd, out);
  if (!force) refuseForeignFolder(folder, out);
  const loaded = await readPages(project, root, []);
  const { files, unreadable } = loaded;
  const wrong = wrongUses(project);
  const data = new Set<string>();
  const built: BuiltPages['pages'] = [];
  let uses = 0;
  const expanding = progress('expanding', 'pages');
  const output = Array.from(eachPage(loaded, expanding.tick), (page): OutputFile => {
    const { text, uses: own, data: read, problems } = expandPage(page, project.registry);
    wrong.add(page, problems);
    uses += own.length;
    for (const path of read) data.add(path);
    built.push({ path: page.path, text });
    const file = files.get(page.path)!;
    // a page without uses is copied as it is
    return { path: page.path, read: () => (text === page.source ? file.bytes : encode(text, file)) };
  });
  expanding.end();
  const problems = wrong.errors();
  if (!lenient) refuseWrong(problems, 'mend them, or build all the same with --lenient');
  const others = await otherFiles(project, built, data);
  refuseSourceFolder(root, folder, [...files.keys(), ...others.paths]);
  problems.push(...others.problems);
  for (const path of others.paths) output.push({ path, read: () => others.filled.get(path) ?? readInside(root, path) });
  const written = await writeOutput(folder, followingLinks(root, output), force);
  const copied = others.paths.length;
  return { ...written, pages: built.length, uses, copied, left: others.left, problems, unreadable };
}
