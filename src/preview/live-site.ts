/**
 * A project that is looked at while it is edited: pages are read and expanded when they are asked for, and a change of a
 * file is told as the pages that it changes.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expandPage } from '../core/component/expand.js';
import { type Instance, instancesOn } from '../core/component/instances.js';
import type { Trouble } from '../browser/messages.js';
import { type Place, Problem } from '../core/errors.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { encode } from '../workspace/encoding.js';
import { digest, readSource } from '../workspace/files.js';
import { findPages } from '../workspace/find.js';
import { openProject, type Project, storiesOf, WrittenMeanwhile } from '../workspace/project.js';
import { wrongUses } from '../workspace/wrong-uses.js';
import { loadStylesheets } from '../workspace/stylesheets.js';

/** A page as it is served. */
export interface LivePage {
  /** as it expands now */
  page: Page;
  /** label of the encoding that it is written in */
  encoding: string;
  /** bytes of a text in that encoding */
  encoded: (text: string) => Buffer;
  /** tells it from what it was before and will be later */
  version: string;
  /** paths of the files that it is made of */
  parts: ReadonlySet<string>;
  troubles: Trouble[];
  /** the components that it is made of */
  instances: () => Instance[];
}

/** What a change of files comes to. */
export interface Changes {
  /** true where a page may be made of the files */
  touches: (page: Pick<LivePage, 'parts'>) => boolean;
  /** whether stylesheets are other ones now */
  styles: boolean;
  /** whether files changed that pages load as they are */
  assets: boolean;
}

export class LiveSite {
  private constructor(
    private project: Project,
    private pagePaths: ReadonlySet<string>,
    /** why the project cannot be read now; null where it can */
    private failure: Trouble | null,
  ) {}

  /** @throws Problem where the project cannot be read to begin with */
  static async open(cwd: string): Promise<LiveSite> {
    const project = await openProject(cwd);
    return new LiveSite(project, await pathsOf(project), null);
  }

  get root(): string {
    return this.project.root;
  }

  /** Paths of all pages, in order. */
  get pages(): string[] {
    return [...this.pagePaths];
  }

  isPage(path: string): boolean {
    return this.pagePaths.has(path);
  }

  /** The page as it is now; what is wrong with it or with the project is told with it, and the rest is expanded. */
  pageAt(path: string): LivePage {
    const { registry, entries } = this.project;
    const file = readSource(this.root, path, storiesOf(entries).get(path)?.encoding);
    if ('why' in file) return failedPage(path, this.root, new Problem(`${path}: ${file.why}`));
    const own = { encoding: file.encoding, encoded: (text: string) => encode(text, file) };
    try {
      const page = parsePage(path, file.text, file.encoding);
      const expanded = expandPage(page, registry);
      const wrong = wrongUses(this.project, [{ page, problems: expanded.problems }]);
      const components = [...expanded.components].map((name) => registry.get(name)!.path);
      return {
        ...own,
        page: parsePage(path, expanded.text),
        version: digest(Buffer.from(expanded.text)),
        parts: new Set([path, ...components, ...expanded.data]),
        troubles:
          this.failure === null
            ? wrong.map(({ message, path: at, line, column }) => this.trouble(message, { path: at, line, column }))
            : [this.failure],
        instances: () => instancesOn(page, expanded, registry),
      };
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return { ...failedPage(path, this.root, error), ...own };
    }
  }

  /** A stylesheet with the styles of components filled in; null for one that is served as it is. */
  async stylesheetAt(path: string): Promise<Buffer | null> {
    const { sources, files } = await loadStylesheets(this.project);
    const source = sources.get(path);
    if (source === undefined || !/@component\s/i.test(source)) return null;
    const { fillMarkers } = await import('../core/style/fill.js');
    return encode(fillMarkers(path, source, this.project.registry).text, files.get(path)!);
  }

  /** Takes in what changed. @param paths of files, from the root */
  async update(paths: readonly string[]): Promise<Changes> {
    const isPlain = (path: string) => this.isPage(path) && !path.startsWith(`${this.project.config.components}/`);
    if (this.failure === null && paths.every((path) => isPlain(path) && existsSync(join(this.root, path))))
      return { touches: ({ parts }) => paths.some((path) => parts.has(path)), styles: false, assets: false };
    const before = this.project.registry;
    const failed = this.failure !== null;
    await this.reopen();
    const after = this.project.registry;
    const names = new Set([...before.keys(), ...after.keys()]);
    const others = [...names].filter((name) => before.get(name)?.source !== after.get(name)?.source);
    const isOtherSet = others.some((name) => !before.has(name) || !after.has(name));
    const components = others.flatMap((name) => [before.get(name) ?? [], after.get(name) ?? []].flat());
    const changed = new Set([...paths, ...components.map(({ path }) => path)]);
    const isAll = isOtherSet || failed || this.failure !== null;
    return {
      touches: ({ parts }) => isAll || [...parts].some((part) => changed.has(part)),
      styles: components.some(({ style }) => style !== null) || paths.some((path) => path.endsWith('.css')),
      assets: paths.some((path) => !/\.(css|json|html?|xhtml)$/i.test(path)),
    };
  }

  /** Reads the project again; where it cannot be read, it stays as it was, and why is told over the pages. */
  private async reopen(): Promise<void> {
    for (let run = 1; ; run++) {
      try {
        this.project = await openProject(this.root);
        this.pagePaths = await pathsOf(this.project);
        this.failure = null;
        return;
      } catch (error) {
        if (error instanceof WrittenMeanwhile && run < MOST_RUNS) continue;
        if (!(error instanceof Problem)) throw error;
        this.failure = troubleOf(error, this.root);
        return;
      }
    }
  }

  private trouble(message: string, place: Place): Trouble {
    return troubleOf(new Problem(message, { place }), this.root);
  }
}

/** So often is a project read again because another process wrote while it was read. */
const MOST_RUNS = 20;

async function pathsOf(project: Project): Promise<ReadonlySet<string>> {
  return new Set((await findPages(project, project.root, [])).paths);
}

/** A page that cannot be shown: an empty one with what is wrong. */
function failedPage(path: string, root: string, problem: Problem): LivePage {
  return {
    page: parsePage(path, '<!DOCTYPE html><html lang="en"><head><title>Estrade</title></head><body></body></html>'),
    encoding: 'UTF-8',
    encoded: (text) => Buffer.from(text),
    version: digest(Buffer.from(problem.message)),
    parts: new Set([path, ...(problem.place === undefined ? [] : [problem.place.path])]),
    troubles: [troubleOf(problem, root)],
    instances: () => [],
  };
}

function troubleOf({ message, hint, place }: Problem, root: string): Trouble {
  const file = place === undefined ? null : join(root, place.path);
  const text = file !== null && existsSync(file) ? readFileSync(file, 'utf8') : '';
  const line = place === undefined ? '' : (text.split(/\r\n|\n|\r/)[place.line - 1] ?? '');
  return { message, hint: hint ?? '', place: place ?? null, line };
}
