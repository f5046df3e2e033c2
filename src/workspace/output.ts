/** Writes what was made of the site into a folder of its own, and knows later which files there it wrote. */
import { existsSync, mkdirSync, readFileSync, realpathSync, rmdirSync, rmSync, statSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve } from 'node:path';
import { escapePath, glob } from 'tinyglobby';
import { Problem } from '../core/errors.js';
import { CONFIG_FILE } from './config.js';
import { ALWAYS_IGNORED, byPath, digest, MANIFEST, outputFolders, toPosix } from './files.js';
import { writeRegular } from './disk.js';

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

/** All files of the site but those that are `known` (pages and components), relative to the root. */
export async function otherFiles(root: string, known: ReadonlySet<string>, out: string): Promise<string[]> {
  const inside = toPosix(relative(root, out));
  const folders = await outputFolders(root);
  const ignore = [...ALWAYS_IGNORED, CONFIG_FILE];
  for (const folder of [inside, ...folders])
    if (folder !== '' && !folder.startsWith('..')) ignore.push(`${escapePath(folder)}/**`);
  const found = await glob(['**/*'], { cwd: root, ignore, dot: true });
  const real = realpathSync(root);
  return found
    .map(toPosix)
    .filter((path) => !known.has(path) && leadsInside(real, join(root, path)))
    .sort(byPath);
}

/** False for a link that leads out of the project, or nowhere. */
function leadsInside(root: string, path: string): boolean {
  if (!existsSync(path)) return false;
  const way = relative(root, realpathSync(path));
  return !way.startsWith('..') && !isAbsolute(way);
}

/** @throws Problem when the folder is the project itself, or holds it */
export function outputFolder(root: string, cwd: string, out: string): string {
  const folder = resolve(cwd, out);
  if (folder === root || !relative(folder, root).startsWith('..'))
    throw new Problem(`--out ${out} is the project itself or holds it`, {
      hint: 'name a folder of its own, such as --out dist',
    });
  if (existsSync(folder) && !statSync(folder).isDirectory())
    throw new Problem(`--out ${out} is a file`, { hint: 'name a folder' });
  return folder;
}

/**
 * Writes the files that differ, and removes what an earlier run wrote and this one did not.
 * @throws Problem (exit 1) naming files that are in the way and were not written here, unless `force`
 */
export async function writeOutput(folder: string, files: OutputFile[], force: boolean): Promise<Output> {
  const known = await readManifest(folder);
  const strange = files.filter(({ path, read }) => {
    const target = join(folder, path);
    if (!existsSync(target)) return false;
    const now = digest(readFileSync(target));
    return now !== known.get(path) && now !== digest(read());
  });
  if (strange.length > 0 && !force)
    throw new Problem('these files were changed since, or are in the way and not Estrade’s; nothing was written', {
      exit: 1,
      details: strange.slice(0, 20).map(({ path }) => join(folder, path)),
      hint: 'keep them and choose another folder with --out, or overwrite them with --force',
    });
  mkdirSync(folder, { recursive: true });
  const output: Output = { folder, written: 0, unchanged: 0, removed: [] };
  const manifest = new Map<string, string>();
  for (const { path, read } of files) {
    const target = join(folder, path);
    const bytes = read();
    const name = digest(bytes);
    manifest.set(path, name);
    if (existsSync(target) && digest(readFileSync(target)) === name) output.unchanged++;
    else {
      writeRegular(folder, path, bytes, '');
      output.written++;
    }
  }
  for (const [path, name] of known) {
    const target = join(folder, path);
    if (manifest.has(path) || !existsSync(target) || digest(readFileSync(target)) !== name) continue;
    rmSync(target);
    output.removed.push(path);
    removeEmpty(dirname(target), folder);
  }
  const list = { format: 1, files: Object.fromEntries([...manifest].sort((a, b) => byPath(a[0], b[0]))) };
  writeRegular(folder, MANIFEST, Buffer.from(`${JSON.stringify(list, null, 1)}\n`), '');
  return output;
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

async function readManifest(folder: string): Promise<Map<string, string>> {
  const path = join(folder, MANIFEST);
  if (!existsSync(path)) return new Map();
  const { default: Joi } = await import('joi');
  const file = Joi.string().pattern(/^(?!\/|.*(^|\/)\.\.(\/|$))/);
  const schema = Joi.object({
    format: Joi.valid(1).required(),
    files: Joi.object().pattern(file, Joi.string().hex()).required(),
  });
  try {
    const { files } = Joi.attempt(JSON.parse(readFileSync(path, 'utf8')), schema) as { files: Record<string, string> };
    return new Map(Object.entries(files));
  } catch (error) {
    throw new Problem(`${path} cannot be read: ${(error as Error).message}`, {
      hint: 'remove it, or choose another folder',
    });
  }
}
