/** Writes what was made of the site into a folder of its own, and knows later which files there it wrote. */
import { existsSync, mkdirSync, realpathSync, rmdirSync, statSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve } from 'node:path';
import { Problem } from '../core/errors.js';
import { byPath, digest, MANIFEST, realPlace, toPosix } from './files.js';
import { JOURNAL } from './journal.js';
import type { Config } from './defaults.js';
import { isTemporary, namesIn, NotOurs, readRegular, removeRegular, writeRegular } from './disk.js';

export interface OutputFile {
  path: string;
  /** its contents, read when they are needed, for a site may hold large files */
  read: () => Buffer;
}

export interface Output {
  folder: string;
  written: number;
  /** files that were right already */
  unchanged: number;
  /** files of an earlier run that are not part of the site any more */
  removed: string[];
}

/** The bytes of a file of the site, wherever a link within the project leads. @throws Problem when it leads out */
export function readInside(root: string, path: string): Buffer {
  const real = realPlace(root, path);
  const bytes = readRegular(real.root, real.path);
  if (bytes === null) throw new Problem(`${path} is gone`, { exit: 1, hint: 'run the command again' });
  return bytes;
}

/** The files of an output; what stands at the path of a link is what is written for the file that it leads to. */
export function followingLinks(root: string, files: OutputFile[]): OutputFile[] {
  const byPath = new Map(files.map((file) => [file.path, file]));
  return files.map((file) => {
    if (!existsSync(join(root, file.path))) return file;
    const own = byPath.get(realPlace(root, file.path).path);
    return own === undefined ? file : { path: file.path, read: own.read };
  });
}

/** What the project keeps, none of which is ever an output folder. */
export interface Kept {
  root: string;
  config: Pick<Config, 'components' | 'data'>;
}

/** @throws Problem when the folder is the project itself, holds it, or is one that it keeps something in */
export function outputFolder({ root, config }: Kept, cwd: string, out: string): string {
  const folder = resolve(cwd, out);
  if (existsSync(folder) && !statSync(folder).isDirectory())
    throw new Problem(`--out ${out} is a file`, { hint: 'name a folder' });
  const refuse = (why: string): never => {
    throw new Problem(`--out ${out} ${why}`, { hint: 'name a folder of its own, such as --out dist' });
  };
  // one folder may have several names: links, and letters that the file system does not tell apart
  const identities = (path: string) => foldersUpFrom(path).map(identityOf);
  const [own, around] = [identityOf(folder), identities(folder)];
  if (own !== null && identities(root).includes(own)) refuse('is the project itself or holds it');
  if (own === null && !relative(folder, root).startsWith('..')) refuse('is the project itself or holds it');
  for (const name of [config.components, config.data, JOURNAL, '.git', 'node_modules']) {
    const kept = join(root, name);
    const identity = identityOf(kept);
    const isBelow = !relative(kept, folder).startsWith('..') && !isAbsolute(relative(kept, folder));
    if (isBelow || (identity !== null && around.includes(identity))) refuse(`is in ${name}, which the project keeps`);
  }
  return folder;
}

/** A folder and all around it that are there, innermost first. */
function foldersUpFrom(path: string): string[] {
  const outer = dirname(path);
  return outer === path ? [path] : [path, ...foldersUpFrom(outer)];
}

/** What tells a folder from all others, whatever it is called; null when it is not there. */
function identityOf(path: string): string | null {
  const found = statSync(path, { bigint: true, throwIfNoEntry: false });
  return found === undefined ? null : `${found.dev} ${found.ino}`;
}

/** @throws Problem when the folder has something in it that no earlier run wrote */
export function refuseForeignFolder(folder: string, out: string): void {
  if (!existsSync(folder) || existsSync(join(folder, MANIFEST))) return;
  const strange = namesIn(folder, '').find((name) => name !== '.git' && !isTemporary(name));
  if (strange !== undefined)
    throw new Problem(`--out ${out} holds files that Estrade did not write, such as ${strange}`, {
      hint: 'name an empty folder, or build beside what is there with --force',
    });
}

/**
 * @param site paths of all that is part of the site, relative to the root
 * @throws Problem when some of it would stand in an output folder from now on
 */
export function refuseSourceFolder(root: string, folder: string, site: string[]): void {
  if (!existsSync(folder) || existsSync(join(folder, MANIFEST))) return;
  const way = toPosix(relative(realpathSync(root), realpathSync(folder)));
  const own = site.find((path) => path.startsWith(`${way}/`));
  if (own !== undefined)
    throw new Problem(`--out ${way} holds files of the site, such as ${own}`, {
      hint: 'what is built there would not count as part of the site any more; name a new folder, such as --out dist',
    });
}

/**
 * Writes the files that differ, and removes what an earlier run wrote and this one did not. What others put there is not
 * taken over: it stays, and is in the way where it differs.
 * @throws Problem (exit 1) naming files that are in the way and were not written here, unless `force`
 */
export async function writeOutput(folder: string, files: OutputFile[], force: boolean): Promise<Output> {
  const known = await readManifest(folder);
  const made = files.map(({ path, read }) => ({ path, read, name: digest(read()), now: standing(folder, path) }));
  const isOurs = ({ path, now }: { path: string; now: string | null }) => known.get(path)?.includes(now ?? '') === true;
  const strange = made.filter((file) => file.now !== null && file.now !== file.name && !isOurs(file));
  if (strange.length > 0 && !force)
    throw new Problem('these files were changed since, or are in the way and not Estrade’s; nothing was written', {
      exit: 1,
      details: strange.slice(0, 20).map(({ path }) => join(folder, path)),
      hint: 'keep them and choose another folder with --out, or overwrite them with --force',
    });
  mkdirSync(folder, { recursive: true });
  for (const name of namesIn(folder, '')) if (isTemporary(name)) removeRegular(folder, name);
  // what is there by chance and right is not ours to remove later
  const ours = made.filter((file) => file.now !== file.name || isOurs(file));
  const wanted = new Set(files.map(({ path }) => path));
  const stale = [...known].filter(([path]) => !wanted.has(path));
  // first of all, so that what a run that is cut short leaves is known as built
  const during = new Map(known);
  for (const { path, name } of ours) during.set(path, [...(known.get(path) ?? []), name]);
  writeManifest(folder, during);
  const output: Output = { folder, written: 0, unchanged: 0, removed: [] };
  for (const { path, read, name, now } of made) {
    if (now === name) output.unchanged++;
    else {
      writeRegular(folder, path, read(), '');
      output.written++;
    }
  }
  for (const [path, names] of stale) {
    const now = standing(folder, path);
    if (now === null || !names.includes(now)) continue;
    removeRegular(folder, path);
    output.removed.push(path);
    removeEmpty(dirname(join(folder, path)), folder);
  }
  writeManifest(folder, new Map(ours.map(({ path, name }) => [path, [name]])));
  return output;
}

/** Digest of what stands there, '' for what is no file of its own; null for nothing. */
function standing(folder: string, path: string): string | null {
  if (!existsSync(folder)) return null;
  try {
    const bytes = readRegular(folder, path);
    return bytes === null ? null : digest(bytes);
  } catch (error) {
    if (error instanceof NotOurs) return '';
    throw error;
  }
}

/** @param files digests by path; several while a run goes on, one afterwards */
function writeManifest(folder: string, files: ReadonlyMap<string, readonly string[]>): void {
  const sorted = [...files].sort((a, b) => byPath(a[0], b[0]));
  const list = sorted.map(([path, names]) => [path, names.length === 1 ? names[0] : names]);
  const text = `${JSON.stringify({ format: 1, files: Object.fromEntries(list) as unknown }, null, 1)}\n`;
  writeRegular(folder, MANIFEST, Buffer.from(text), '');
}

function removeEmpty(folder: string, top: string): void {
  for (let at = folder; at !== top; at = dirname(at)) {
    try {
      rmdirSync(at);
    } catch {
      return;
    }
  }
}

/** Digests of what a file may be that was written here, by path. */
async function readManifest(folder: string): Promise<Map<string, string[]>> {
  const path = join(folder, MANIFEST);
  if (!existsSync(path)) return new Map();
  const { default: Joi } = await import('joi');
  const file = Joi.string().pattern(/^(?!\/|.*(^|\/)\.\.(\/|$))/);
  const schema = Joi.object({
    format: Joi.valid(1).required(),
    files: Joi.object().pattern(file, Joi.array().items(Joi.string().hex()).single()).required(),
  });
  try {
    const text = readRegular(folder, MANIFEST)?.toString('utf8') ?? '';
    const { files } = Joi.attempt(JSON.parse(text), schema) as { files: Record<string, string[]> };
    return new Map(Object.entries(files));
  } catch (error) {
    throw new Problem(`${path} cannot be read: ${(error as Error).message}`, {
      hint: 'remove it, or choose another folder',
    });
  }
}
