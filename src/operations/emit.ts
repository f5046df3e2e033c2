/** Handing the components over to a stack. */
import { join, relative } from 'node:path';
import { checkedFiles, textsOf } from '../core/emit/files.js';
import type { EmitRemark, EmitSite } from '../core/emit/model.js';
import { type PageMade, readSite } from '../core/emit/site.js';
import type { Starter } from '../core/emit/tsx/options.js';
import { placeText, Problem } from '../core/errors.js';
import { expandedPage, filledReader } from '../core/style/plan.js';
import { progress } from '../terminal/progress.js';
import type { WrittenElements } from '../verify/elements.js';
import type { WrittenModules } from '../verify/modules.js';
import type { Verified } from '../verify/verified.js';
import type { EmitConfig } from '../workspace/defaults.js';
import { encode } from '../workspace/encoding.js';
import { toPosix, type Unreadable } from '../workspace/files.js';
import { formatterFor } from '../workspace/format.js';
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
import { openProject, parsedPages, type Project, readPages } from '../workspace/project.js';
import type { LeftOut } from '../workspace/site-files.js';
import { readStarter } from '../workspace/starter.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { findTarget, TARGETS } from '../workspace/targets.js';
import { type CheckProblem, wrongUses } from '../workspace/wrong-uses.js';
import { tellNotices } from './notices.js';
import { type OtherFiles, otherFiles } from './other-files.js';
import { refuseWrong } from './problems.js';

export interface EmitOptions extends Partial<Pick<EmitConfig, 'jsxImport' | 'attributes' | 'prerender'>> {
  out?: string;
  force?: boolean;
  verify?: boolean;
  trustConfig?: boolean;
  json?: boolean;
}

export interface EmittedSite extends Output {
  files: string[];
  remarks: EmitRemark[];
  unreadable: Unreadable[];
  verified: Verified | null;
  /** files that are no part of the site; empty for a target that copies none */
  left: LeftOut[];
}

/** Emits the project that `cwd` stands in for one target. */
export async function emitProject(
  cwd: string,
  name: string,
  options: EmitOptions,
): Promise<EmittedSite & { out: string }> {
  const project = await openProject(cwd);
  tellNotices(project);
  const { root, config } = project;
  const target = await findTarget(name, cwd);
  const { jsxImport, attributes, prerender } = { ...config.emit, ...options };
  const { starter, remarks } = starterFor(name, project);
  const settings: Settings = { ...config.emit, jsxImport, attributes, prerender, starter };
  const out = options.out ?? toPosix(relative(cwd, join(root, config.emit.out, folderName(name))));
  const folder = outputFolder(project, cwd, out);
  const isOwn = !TARGETS.some((each) => each === name);
  if (options.verify === true && isOwn)
    throw new Problem('--verify proves built-in targets only', { hint: 'leave it out' });
  const verify = options.verify === true ? await verifierOf(name, root, settings) : null;
  if (options.force !== true) refuseForeignFolder(folder, out);
  const { site, unreadable, others, copyOf, encodedLike } = await readProject(project, folder, name === 'elements');
  const emitted = await target(site, isOwn ? settings.options : { ...settings });
  const notRun = new Set<string>();
  const unformatted: string[] = [];
  const formatted = formatterFor(folder, options.trustConfig === true);
  const texts = await textsOf(checkedFiles(emitted.files, name, site), async (path, text) => {
    const made = await formatted(path, text);
    if (made.ignored !== null) notRun.add(made.ignored);
    if (made.tooDeep) unformatted.push(path);
    return made.text;
  });
  const files = emitted.files.map((file): OutputFile => {
    if ('copy' in file) return { path: file.path, read: () => copyOf(file.copy) };
    const bytes = encodedLike('like' in file ? file.like : undefined, texts.get(file.path)!);
    return { path: file.path, read: () => bytes };
  });
  const written = await writeOutput(folder, followingLinks(root, files), options.force === true);
  const paths = files.map(({ path }) => path).sort();
  const copies = emitted.files.some((file) => 'copy' in file);
  return {
    ...written,
    out,
    files: paths,
    remarks: [
      ...remarks,
      ...emitted.remarks,
      ...(copies ? others.problems.map(asRemark) : []),
      ...notRunRemarks(notRun, root),
      ...unformatted.map(tooDeepRemark),
    ],
    left: copies ? others.left : [],
    unreadable,
    verified: verify === null ? null : await verify({ folder, files: paths, site, encodedLike }),
  };
}

/** What a built-in target is told. */
type Settings = Omit<EmitConfig, 'starter'> & { starter: Starter | null };

/**
 * The team's own module that says how modules are written, where it is one of the target's language.
 * @throws Problem (exit 2) where it is not there
 */
function starterFor(target: string, { root, config }: Project): { starter: Starter | null; remarks: EmitRemark[] } {
  const path = config.emit.starter;
  if (path === null) return { starter: null, remarks: [] };
  if (path.replace(/^.*\./, '') !== target) {
    const message = `the starter ${path} is one of other modules, and is not used`;
    return { starter: null, remarks: [{ kind: 'decided', message, place: null }] };
  }
  return { starter: { path, source: readStarter(root, path, 'emit.starter') }, remarks: [] };
}

/** What proves a built-in target. @throws Problem when something that it needs is not installed */
async function verifierOf(
  name: string,
  root: string,
  settings: Settings,
): Promise<(written: WrittenModules & WrittenElements) => Verified | Promise<Verified>> {
  if (name === 'elements') return (await import('../verify/elements.js')).elementVerifier(settings.prerender);
  return (await import('../verify/modules.js')).moduleVerifier(root, settings, name === 'tsx');
}

function folderName(target: string): string {
  return target.replace(/^.*[\\/]/, '').replace(/\.\w+$/, '');
}

function asRemark({ message, ...place }: CheckProblem): EmitRemark {
  return { kind: 'decided', message: `${placeText(place)}: ${message}`, place: null };
}

function notRunRemarks(files: ReadonlySet<string>, root: string): EmitRemark[] {
  return [...files].map((file) => ({
    kind: 'decided',
    message: `${toPosix(relative(root, file))} is a program or names one, and is not run: --trust-config does`,
    place: null,
  }));
}

function tooDeepRemark(path: string): EmitRemark {
  const message = `${path} is nested too deep to be formatted, and is written as it is`;
  return { kind: 'decided', message, place: null };
}

interface ReadProject {
  site: EmitSite;
  unreadable: Unreadable[];
  others: OtherFiles;
  /** bytes of another file of the site */
  copyOf: (path: string) => Buffer;
  /** bytes of a text, in the encoding of a page or in UTF-8 */
  encodedLike: (page: string | undefined, text: string) => Buffer;
}

/**
 * The site as targets are given it, and how its files are written.
 * @param keepsDocuments the target asks for the trees of all pages
 */
async function readProject(project: Project, folder: string, keepsDocuments: boolean): Promise<ReadProject> {
  const { root, registry, config } = project;
  const loaded = await readPages(project, root, []);
  const { files: sources, unreadable } = loaded;
  const sheets = await loadStylesheets(project);
  const { read, filled } = filledReader(sheets.sources, registry);
  const wrong = wrongUses(project);
  const data = new Set<string>();
  const reading = progress('reading', 'pages');
  function* expandedPages(): Generator<PageMade> {
    for (const page of parsedPages(loaded, reading.tick)) {
      const expanded = expandedPage(page, registry);
      wrong.add(page, expanded.problems);
      expanded.data.forEach((path) => data.add(path));
      // a page with wrong uses is refused below
      if (expanded.problems.length === 0) yield { page, expanded };
    }
  }
  const own = readSite(expandedPages(), { registry, componentFolder: config.components, read, keepsDocuments });
  reading.end();
  refuseWrong(wrong.errors(), 'mend them: estrade check tells them again');
  const texts = own.pages.map(({ path, expanded }) => ({ path, text: expanded }));
  const others = await otherFiles(project, texts, data);
  refuseSourceFolder(root, folder, [...sources.keys(), ...others.paths]);
  const back = toPosix(relative(folder, root));
  const site: EmitSite = {
    ...own,
    files: others.paths,
    sheets: new Map([...filled].map(([path, { text }]) => [path, text])),
    read,
    toRoot: back === '' ? '' : `${back}/`,
  };
  const copyOf = (path: string): Buffer => {
    if (!others.paths.includes(path))
      throw new Problem(`there is no file ${path} to copy; nothing was written`, {
        hint: 'the target may copy what site.files lists',
      });
    return others.filled.get(path) ?? readInside(root, path);
  };
  const encodedLike = (page: string | undefined, text: string): Buffer => {
    const source = page === undefined ? undefined : sources.get(page);
    return source === undefined ? Buffer.from(text) : encode(text, source);
  };
  return { site, unreadable, others, copyOf, encodedLike };
}
