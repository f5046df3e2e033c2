/** What git knows of the project's folder: files of a revision, and what it ignores. It is asked through its own command line. */
import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nearestName } from '../core/component/problems.js';
import { Problem } from '../core/errors.js';

/** What pages and components are never made of. */
const MEDIA =
  /\.(apng|avif|bmp|gif|ico|jpe?g|png|webp|eot|otf|ttf|woff2?|mov|mp3|mp4|m4[av]|og[agv]|wav|webm|pdf|zip|gz)$/i;

/**
 * Runs `work` on the folder `root` as it was at a revision, in a temporary folder that is gone afterwards.
 * @param revision a commit, a tag, a branch, or anything else that git knows for one
 * @throws Problem when this is no repository, or has no such revision, or git is not there
 */
export async function atRevision<T>(root: string, revision: string, work: (folder: string) => Promise<T>): Promise<T> {
  const commit = await commitOf(root, revision);
  const prefix = (await git(root, ['rev-parse', '--show-prefix'])).trim();
  const top = (await git(root, ['rev-parse', '--show-toplevel'])).replace(/\r?\n$/, '');
  const temporary = mkdtempSync(join(tmpdir(), 'estrade-revision-'));
  try {
    const index = join(temporary, 'index');
    const tree = join(temporary, 'tree');
    await git(top, ['read-tree', commit], { index });
    const listed = await git(top, ['ls-files', '-z', '--', prefix === '' ? '.' : prefix], { index });
    const paths = listed.split('\0').filter((path) => path !== '' && !MEDIA.test(path));
    // checked out as the working folder is, line ends and all
    const settings = await withoutFilters(top);
    const checkout = ['checkout-index', '-f', '-z', '--stdin', `--prefix=${tree}/`];
    await git(top, [...settings, ...checkout], { index, input: paths.join('\0') });
    const folder = join(tree, prefix);
    if (!existsSync(folder)) throw new Problem(`this folder has no pages at ${revision}`, { hint: 'name a later one' });
    return await work(folder);
  } finally {
    rmSync(temporary, { recursive: true, force: true });
  }
}

/**
 * Options that switch off the programs which the configuration of this repository, and not that of the user, names for
 * changing files on their way out: a checkout that someone else made is data.
 */
async function withoutFilters(folder: string): Promise<string[]> {
  const listed = await git(folder, ['config', '--null', '--show-scope', '--name-only', '--list']);
  const [...fields] = listed.split('\0');
  return fields.flatMap((name, i) => {
    const scope = fields[i - 1];
    const isOwn = i % 2 === 0 || scope === 'global' || scope === 'system' || scope === 'command';
    return isOwn || !/^filter\..*\.(smudge|process|required)$/s.test(name) ? [] : ['-c', `${name}=`];
  });
}

/** Whether git leaves a path below the root out; null where it has no say. */
export async function isIgnored(root: string, path: string): Promise<boolean | null> {
  try {
    await git(root, ['rev-parse', '--git-dir']);
  } catch {
    return null;
  }
  return (await ignoredAmong(root, [path])).length > 0;
}

/** Those of the paths that git leaves out; none where it has no say. */
export async function ignoredAmong(root: string, paths: string[]): Promise<string[]> {
  if (paths.length === 0) return [];
  try {
    const found = await git(root, ['check-ignore', '-z', '--stdin'], { input: paths.join('\0') });
    return found.split('\0').filter((path) => path !== '');
  } catch {
    // none, or no repository
    return [];
  }
}

/** How many files have changes that are not committed; null where there is no repository. */
export async function uncommittedCount(root: string): Promise<number | null> {
  try {
    const listed = await git(root, ['status', '--porcelain', '-z', '--', '.']);
    return listed.split('\0').filter((line) => /^.. /.test(line)).length;
  } catch {
    return null;
  }
}

async function commitOf(root: string, revision: string): Promise<string> {
  const fail = (why: string, hint: string): never => {
    throw new Problem(`--against ${revision}: there is no such folder, and ${why}`, { hint });
  };
  try {
    await git(root, ['rev-parse', '--git-dir']);
  } catch (error) {
    if (((error as Error).cause as NodeJS.ErrnoException).code === 'ENOENT')
      return fail('git is not installed', 'name a folder that holds the pages as they were');
    return fail('this is no git repository', 'name a folder that holds the pages as they were');
  }
  try {
    return (await git(root, ['rev-parse', '--verify', '--quiet', '--end-of-options', `${revision}^{commit}`])).trim();
  } catch {
    const names = (await git(root, ['for-each-ref', '--format=%(refname:short)'])).split('\n').filter(Boolean);
    const near = nearestName(revision, names);
    const isShallow = (await git(root, ['rev-parse', '--is-shallow-repository'])).trim() === 'true';
    if (near !== null) return fail('git knows no such revision', `did you mean ${near}?`);
    return fail(
      'git knows no such revision',
      isShallow
        ? 'this clone holds the newest commits only: fetch the whole history, or that tag'
        : 'git log and git tag list what there is',
    );
  }
}

/** What git answers. @param index the file that it keeps its index in, for the one of the repository stays as it is */
function git(
  folder: string,
  args: string[],
  { index, input }: { index?: string; input?: string } = {},
): Promise<string> {
  // a hook of git's runs with the repository of that hook in the environment
  const kept = Object.entries(process.env).filter(([name]) => !/^GIT_(DIR|WORK_TREE|INDEX_FILE|PREFIX)$/.test(name));
  const env = {
    ...Object.fromEntries(kept),
    GIT_NO_LAZY_FETCH: '1',
    ...(index === undefined ? {} : { GIT_INDEX_FILE: index }),
  };
  // nothing that a repository's configuration names is run
  const safe = ['-c', 'core.fsmonitor=false', '-c', 'core.hooksPath=/dev/null'];
  return new Promise((done, failed) => {
    const child = execFile(
      'git',
      [...safe, '-C', folder, ...args],
      { env, maxBuffer: 1 << 28, encoding: 'utf8' },
      (error, out) => {
        if (error === null) done(out);
        else failed(new Error(error.message, { cause: error }));
      },
    );
    // git may end without reading it, and then says why
    child.stdin?.on('error', () => undefined);
    child.stdin?.end(input ?? '');
  });
}
