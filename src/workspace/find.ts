/** Finds the project's files; every path that leaves here is relative to the root, with `/`. */
import { type Dirent, existsSync, readdir, realpathSync, statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { escapePath, glob, type GlobOptions, isDynamicPattern } from 'tinyglobby';
import { Problem } from '../core/errors.js';
import { CONFIG_FILE } from './config.js';
import { type Config, PAGES } from './defaults.js';
import { byPath, MANIFEST, reasonOf, toPosix, type Unreadable } from './files.js';

/** Never surveyed and never copied: our own, and what tools keep. */
const ALWAYS_IGNORED = ['**/node_modules/**', '**/.git/**', '.estrade/**'];

export interface Found {
  /** in the order of their code units */
  paths: string[];
  /** folders that could not be looked into */
  unreadable: Unreadable[];
}

/** The files below `root` that match; folders that cannot be read come back by name, with the reason. */
export async function findFiles(root: string, patterns: string[], options: GlobOptions = {}): Promise<Found> {
  const unreadable = new Map<string, string>();
  const listing = (path: string, how: { withFileTypes: true }, done: (error: Error | null, all: Dirent[]) => void) => {
    readdir(path, how, (error, all) => {
      // a pattern may name a folder that is not there
      if (error !== null && error.code !== 'ENOENT' && error.code !== 'ENOTDIR')
        unreadable.set(toPosix(relative(root, path)) || '.', reasonOf(error));
      done(error, all);
    });
  };
  const fs = { readdir: listing } as GlobOptions['fs'];
  const found = await glob(patterns, { cwd: root, expandDirectories: false, fs, ...options });
  return {
    paths: found.map(toPosix).sort(byPath),
    unreadable: [...unreadable].map(([path, why]) => ({ path: `${path}/`, why: `the folder cannot be read: ${why}` })),
  };
}

/** Folders below the root that an earlier `expand` or `emit` wrote. */
async function outputFolders(root: string): Promise<string[]> {
  const { paths } = await findFiles(root, [`**/${MANIFEST}`], { dot: true, ignore: ALWAYS_IGNORED });
  return paths.map((path) => path.slice(0, -MANIFEST.length - 1)).filter((folder) => folder !== '');
}

/** Patterns of what is never looked into: what tools keep, and folders that were built. */
export async function ignoredBelow(root: string): Promise<string[]> {
  return [...ALWAYS_IGNORED, ...(await outputFolders(root)).map((folder) => `${escapePath(folder)}/**`)];
}

/** A project as far as its files are looked for. */
export interface Searched {
  root: string;
  config: Config;
  /** patterns of what is never looked into: see `ignoredBelow` */
  unseen: readonly string[];
  componentFiles: { path: string }[];
}

/**
 * The pages that the arguments name (files, folders, globs, relative to `cwd`), or all pages of the configuration.
 * Component files are no pages; of links to one file there is one. A file that is named and missing comes back all the
 * same, for reading it to say why.
 * @throws Problem when there is none
 */
export async function findPages(
  { root, config, unseen, componentFiles }: Searched,
  cwd: string,
  args: string[],
): Promise<Found> {
  const base = [...unseen, ...componentFiles.map(({ path }) => escapePath(path))];
  const starters = config.starter === null ? [] : [escapePath(config.starter)];
  const ignore = [...base, ...starters, ...config.ignore];
  const found: Found = { paths: [], unreadable: [] };
  const add = async (patterns: string[]) => {
    const { paths, unreadable } = await findFiles(root, patterns, { ignore });
    found.paths.push(...paths);
    found.unreadable.push(...unreadable);
    return paths.length;
  };
  if (args.length === 0) await add(config.pages);
  for (const arg of args) {
    const path = toPosix(relative(root, resolve(cwd, arg)));
    const full = join(root, path);
    if (existsSync(full) && statSync(full).isDirectory())
      await add(PAGES.map((pattern) => (path === '' ? pattern : `${escapePath(path)}/${pattern}`)));
    else if (!existsSync(full) && isDynamicPattern(arg)) {
      if ((await add([path])) === 0)
        throw new Problem(`no page matches ${arg}`, { hint: 'patterns are relative to the current folder' });
    } else found.paths.push(path);
  }
  const paths = withoutLinked(root, [...new Set(found.paths)].sort(byPath));
  if (paths.length === 0) throw await noPages({ root, config, base }, args, found.unreadable);
  return { paths, unreadable: found.unreadable };
}

/** Why there is no page: what was looked for, and what is there that would be found otherwise. */
async function noPages(
  { root, config, base }: { root: string; config: Config; base: string[] },
  args: string[],
  unreadable: Unreadable[],
): Promise<Problem> {
  const some = (paths: string[]) => (paths.length === 1 ? paths[0]! : `${paths[0]!} and ${paths.length - 1} more`);
  const { paths: ignored } = await findFiles(root, config.pages, { ignore: base });
  const { paths: others } = await findFiles(root, PAGES, { ignore: base, caseSensitiveMatch: false });
  const [other] = others;
  const globs = config.pages.map((pattern) => `"${pattern}"`).join(', ');
  const hint =
    args.length > 0
      ? 'name files, folders or patterns, relative to the current folder'
      : ignored.length > 0
        ? `"ignore" in ${CONFIG_FILE} leaves out ${some(ignored)}`
        : other !== undefined
          ? `"pages": ["**/*${other.slice(other.lastIndexOf('.'))}"] in ${CONFIG_FILE} would find ${some(others)}`
          : `go to the folder of your pages, or name their pattern as "pages" in ${CONFIG_FILE}`;
  return new Problem(args.length > 0 ? `there is no page in ${args.join(', ')}` : `no page here matches ${globs}`, {
    hint,
    details: unreadable.map(({ path, why }) => `${path}: ${why}`),
  });
}

/** One path for each file: its own where that is among them, else the first of the links that lead to it. */
function withoutLinked(root: string, paths: string[]): string[] {
  const base = realpathSync(root);
  const realOf = (path: string) => {
    try {
      return toPosix(relative(base, realpathSync(join(root, path))));
    } catch {
      // what is not there is told when it is read
      return path;
    }
  };
  const real = new Map(paths.map((path) => [path, realOf(path)]));
  const chosen = new Map<string, string>();
  for (const [path, own] of real) if (path === own || !chosen.has(own)) chosen.set(own, path);
  return paths.filter((path) => chosen.get(real.get(path)!) === path);
}
