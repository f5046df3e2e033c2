/**
 * A project that is looked at while it is edited: pages are read and expanded when they are asked for, and a change of a
 * file is told as the pages that it changes.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Expanded, expandPage } from '../core/component/expand.js';
import { instancesOn } from '../core/component/instances.js';
import type { Looked, OwnRule, Trouble } from '../browser/messages.js';
import { type Place, Problem } from '../core/errors.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { ownUnits } from '../core/style/belongs.js';
import { dress } from '../core/style/dress.js';
import { PageMatcher } from '../core/style/match.js';
import { sheetPlace } from '../core/style/places.js';
import { expandAll, filledReader } from '../core/style/plan.js';
import { encode } from '../workspace/encoding.js';
import { digest, readSource } from '../workspace/files.js';
import { findPages } from '../workspace/find.js';
import { journaledOriginals, type Originals, originalsOf } from '../workspace/originals.js';
import { loadPages, openProject, type Project, storiesOf, WrittenMeanwhile } from '../workspace/project.js';
import { wrongUses } from '../workspace/wrong-uses.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { type Foresee, foreseenOn } from './foreseen.js';

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
  /** the page as it stands on disk, and what it expands to; null for one that cannot be shown */
  made: { source: Page; expanded: Expanded } | null;
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

/** What a live site needs besides its folder. */
export interface Opening {
  foresee: Foresee;
  /** folder or commit that pages are compared with; null for how they were before they were lifted */
  against: string | null;
}

export class LiveSite {
  /** what was worked out for the project as it is now; emptied when something of it changes */
  private readonly worked = new Map<string, Promise<unknown>>();

  private constructor(
    private project: Project,
    private pagePaths: ReadonlySet<string>,
    /** why the project cannot be read now; null where it can */
    private failure: Trouble | null,
    private readonly foresee: Foresee,
    /** what pages are compared with; null for how the journal has them */
    private readonly against: Originals | null,
  ) {}

  /** @throws Problem where the project, or what it is compared with, cannot be read to begin with */
  static async open(cwd: string, { foresee, against }: Opening): Promise<LiveSite> {
    const project = await openProject(cwd);
    const originals = against === null ? null : await originalsOf(project, cwd, against);
    return new LiveSite(project, await pathsOf(project), null, foresee, originals);
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
      const wrong = wrongUses(this.project);
      wrong.add(page, expanded.problems);
      const components = [...expanded.components].map((name) => registry.get(name)!.path);
      return {
        ...own,
        page: parsePage(path, expanded.text),
        version: digest(Buffer.from(expanded.text)),
        parts: new Set([path, ...components, ...expanded.data]),
        troubles:
          this.failure === null
            ? wrong
                .errors()
                .map(({ message, path: at, line, column }) => this.trouble(message, { path: at, line, column }))
            : [this.failure],
        made: { source: page, expanded },
      };
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return { ...failedPage(path, this.root, error), ...own };
    }
  }

  /** The components that a page is made of. */
  componentsOn({ made }: LivePage): Looked {
    const instances = made === null ? [] : instancesOn(made.source, made.expanded, this.project.registry);
    return { instances, findings: {}, ...this.opening };
  }

  /** What of a page would become a component, with what is recommended lifted. */
  async findingsOn({ made }: LivePage): Promise<Looked> {
    const foreseen = await this.once('foreseen', this.foresee);
    return { ...(made === null ? { instances: [], findings: {} } : foreseenOn(made, foreseen)), ...this.opening };
  }

  /** The rules that dress only the component, or the finding, of that name. */
  async ownRules(name: string): Promise<OwnRule[]> {
    const { registry } = this.project;
    const isComponent = registry.has(name);
    const dressed = await this.once(isComponent ? 'dressed' : 'dressed as foreseen', async () => {
      const { sources } = await loadStylesheets(this.project);
      if (isComponent) {
        const { pages } = await loadPages(this.project, this.root, []);
        return dress(expandAll(pages, registry), new PageMatcher(filledReader(sources, registry).read));
      }
      const foreseen = await this.once('foreseen', this.foresee);
      const expanded = [...foreseen.pages.values()].map((page) => page.expanded);
      return dress(expanded, new PageMatcher(filledReader(sources, foreseen.registry).read));
    });
    return ownUnits(dressed, name).map(({ name: selector, sheet, node }) => ({
      selector,
      place: sheetPlace(sheet, node.start),
    }));
  }

  /** What the place of a part is opened with. */
  private get opening(): Pick<Looked, 'editor' | 'root'> {
    return { editor: this.project.config.preview.editor, root: this.root };
  }

  /** Works something out that is kept until the project changes. */
  private once<T>(what: string, work: () => Promise<T>): Promise<T> {
    const found = this.worked.get(what) as Promise<T> | undefined;
    if (found !== undefined) return found;
    const promise = work();
    this.worked.set(what, promise);
    promise.catch(() => this.worked.delete(what));
    return promise;
  }

  private get originals(): Originals {
    return this.against ?? journaledOriginals(this.project);
  }

  /** Whether it is known of any page how it was. */
  hasOriginals(): boolean {
    return this.originals.paths.length > 0;
  }

  /** A page as it was; as it is where nothing else is known. */
  originalPage(path: string): LivePage {
    const original = this.originals.of(path);
    const now = this.pageAt(path);
    if (original === null || 'lost' in original) return now;
    const { text, encoding = now.encoding, bom = false } = original;
    return {
      ...now,
      page: parsePage(path, text, encoding),
      encoding,
      encoded: (shown) => encode(shown, { encoding, bom }),
      troubles: [],
      made: null,
    };
  }

  /** A stylesheet as it was, or with the styles of components filled in; null for one that is served as it is. */
  async stylesheetAt(path: string, version: 'now' | 'before'): Promise<Buffer | null> {
    const { sources, files } = await loadStylesheets(this.project);
    const original = version === 'before' ? this.originals.of(path) : null;
    if (original !== null && !('lost' in original))
      return encode(original.text, files.get(path) ?? { encoding: 'UTF-8', bom: false });
    const source = sources.get(path);
    if (source === undefined || !/@component\s/i.test(source)) return null;
    const { fillMarkers } = await import('../core/style/fill.js');
    return encode(fillMarkers(path, source, this.project.registry).text, files.get(path)!);
  }

  /** Takes in what changed. @param paths of files, from the root */
  async update(paths: readonly string[]): Promise<Changes> {
    this.worked.clear();
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
    made: null,
  };
}

function troubleOf({ message, hint, place }: Problem, root: string): Trouble {
  const file = place === undefined ? null : join(root, place.path);
  const text = file !== null && existsSync(file) ? readFileSync(file, 'utf8') : '';
  const line = place === undefined ? '' : (text.split(/\r\n|\n|\r/)[place.line - 1] ?? '');
  return { message, hint: hint ?? '', place: place ?? null, line };
}
