/** What of a project's folder belongs to the site that is built of it, beside the pages. */
import { existsSync, readFileSync, realpathSync } from 'node:fs';
import { isAbsolute, join, relative } from 'node:path';
import { folderOfPage } from '../core/component/expand.js';
import { filesInStyles, filesReferredTo } from '../core/page/links.js';
import { parsePage } from '../core/page/parse.js';
import { folderOf } from '../core/page/url.js';
import { isReport } from '../core/report-mark.js';
import { ACCEPTED } from './accepted.js';
import { DRAFT } from './draft.js';
import { CONFIG_FILE } from './config.js';
import { byPath } from './files.js';
import { findFiles } from './find.js';
import type { Project } from './project.js';

export interface LeftOut {
  path: string;
  why: string;
}

export interface SiteFiles {
  /** in the order of their code units */
  paths: string[];
  /** files that are no part of the site; the project's own are not among them */
  left: LeftOut[];
  /** those of them that pages or stylesheets refer to */
  missed: LeftOut[];
}

/** What of the site is known before its other files are looked for. */
export interface BuiltPages {
  /** as they will be in the site */
  pages: { path: string; text: string }[];
  /** stylesheets by path, as they will be in the site */
  styles: ReadonlyMap<string, string>;
  /** paths of pages, and of what the project is made of */
  own: ReadonlySet<string>;
}

/** Files that describe packages or pin them; no site serves them. */
const PACKAGING =
  /^((package|composer|bower|deno|tsconfig|jsconfig)\.jsonc?|.*\.lock|.*\.lockb|.*-lock\.(json|ya?ml)|npm-shrinkwrap\.json|go\.(mod|sum)|gemfile|pipfile|pyproject\.toml|requirements\.txt)$/i;

/**
 * The files that the built site holds beside its pages: what `assets` of the configuration names, and what the pages and
 * their stylesheets refer to; never what is hidden, kept for packages, named by `ignore`, or the project's own.
 */
export async function siteFiles(
  { root, config, unseen }: Pick<Project, 'root' | 'config' | 'unseen'>,
  { pages, styles, own }: BuiltPages,
): Promise<SiteFiles> {
  const ignore = [...unseen, CONFIG_FILE, ACCEPTED, DRAFT];
  const find = async (patterns: string[], options: object) => (await findFiles(root, patterns, options)).paths;
  const all = (await find(['**/*'], { dot: true, ignore })).filter((path) => !own.has(path));
  const kept = new Set(
    config.ignore.length === 0 ? all : await find(['**/*'], { dot: true, ignore: [...ignore, ...config.ignore] }),
  );
  const named = new Set([
    ...(await find(config.assets, { ignore, caseSensitiveMatch: false })),
    // other names of pages, and those that are no text
    ...(await find(config.pages, { ignore })),
  ]);
  const real = realpathSync(root);
  const barred = new Map<string, string>();
  for (const path of all) {
    const why = whyBarred(path, kept, real);
    if (why !== null) barred.set(path, why);
  }
  const taken = new Set(all.filter((path) => named.has(path) && !barred.has(path)));
  const referred = referredTo(
    all.filter((path) => !taken.has(path)),
    taken,
    { pages, styles },
  );
  for (const path of referred) if (!barred.has(path)) taken.add(path);
  const left = all
    .filter((path) => !taken.has(path))
    .map((path) => ({ path, why: barred.get(path) ?? 'no page refers to it, and "assets" does not name it' }));
  return { paths: [...taken].sort(byPath), left, missed: left.filter(({ path }) => referred.has(path)) };
}

/** Why a file is never part of a site; null where it may be. */
function whyBarred(path: string, kept: ReadonlySet<string>, root: string): string | null {
  const segments = path.split('/');
  if (segments.some((segment) => segment.startsWith('.') && segment !== '.well-known')) return 'it is hidden';
  if (PACKAGING.test(segments.at(-1)!)) return 'it is for a package manager';
  if (!kept.has(path)) return '"ignore" names it';
  if (!existsSync(join(root, path))) return 'it is a link that leads nowhere';
  const way = relative(root, realpathSync(join(root, path)));
  if (/\.html?$/i.test(path) && !way.startsWith('..') && isReport(readFileSync(join(root, path), 'utf8')))
    return 'it is a report';
  return way.startsWith('..') || isAbsolute(way) ? 'it is a link that leads out of the project' : null;
}

/** Those of the files that pages refer to, and stylesheets that are part of the site. */
function referredTo(
  files: string[],
  taken: ReadonlySet<string>,
  { pages, styles }: Pick<BuiltPages, 'pages' | 'styles'>,
): Set<string> {
  const wanted = new Set(files);
  const names = new Set(files.map(plainName));
  const mayName = (text: string) => names.has('') || namesIn(text).some((name) => names.has(name));
  const found = new Set<string>();
  const sheets = [...taken].filter((path) => styles.has(path));
  const add = (paths: string[]) => {
    for (const path of paths) {
      if (!wanted.has(path) || found.has(path)) continue;
      found.add(path);
      if (styles.has(path)) sheets.push(path);
    }
  };
  for (const { path, text } of pages) {
    // parsed again only where a name stands in it
    if (!mayName(text)) continue;
    const page = parsePage(path, text);
    add(filesReferredTo(page, folderOfPage(page)));
  }
  // grows while it is gone through, for a stylesheet may import others
  for (const path of sheets) add(filesInStyles(styles.get(path)!, folderOf(path)));
  return found;
}

/** The longest part of a file's name that a URL to it holds as it is, however the rest is escaped. */
function plainName(path: string): string {
  return namesIn(path.slice(path.lastIndexOf('/') + 1)).reduce((a, b) => (b.length > a.length ? b : a), '');
}

/** Runs of characters that no URL needs to escape. */
function namesIn(text: string): string[] {
  return [...text.matchAll(/(?:%[0-9a-f]{2})*([\w.-]+)/gi)].map(([, name]) => name!);
}
