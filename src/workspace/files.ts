/** Reads the project's files; every path that leaves here is relative to the root, with `/`. */
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, realpathSync, statSync } from 'node:fs';
import { isAbsolute, join, relative, resolve, sep } from 'node:path';
import { Problem } from '../core/errors.js';
import { decode, type Decoded, decodeStyles, isBinary } from './encoding.js';

/** Name of the list that `expand` leaves in its output folder. */
export const MANIFEST = '.estrade-output.json';

export interface SourceFile extends Decoded {
  path: string;
  bytes: Buffer;
}

export interface Unreadable {
  path: string;
  why: string;
  /** true for what is no text, which is told and changes nothing else */
  harmless?: boolean;
}

export function digest(bytes: Buffer): string {
  return createHash('sha256').update(bytes).digest('hex');
}

export function toPosix(path: string): string {
  return sep === '/' ? path : path.split(sep).join('/');
}

/** Compares paths by code unit, so that every machine has the same order. */
export function byPath(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

/**
 * Reads and decodes one file.
 * @param encoding label of a page's encoding, where it was decided before
 */
export function readSource(root: string, path: string, encoding?: string): SourceFile | Unreadable {
  try {
    const bytes = readFileSync(join(root, path));
    if (isBinary(bytes)) return { path, why: 'it is not text', harmless: true };
    return { path, bytes, ...(path.endsWith('.css') ? decodeStyles(bytes) : decode(bytes, encoding)) };
  } catch (error) {
    return { path, why: reasonOf(error) };
  }
}

/** Text that was just written. @throws Problem (exit 1), upon which all is taken back */
export function readBack(root: string, path: string, encoding?: string): string {
  const file = readSource(root, path, encoding);
  if ('why' in file)
    throw new Problem(`${path} cannot be read back: ${file.why}`, { exit: 1, hint: 'all is as it was' });
  return file.text;
}

const REASONS: Record<string, string> = {
  ENOENT: 'there is no such file',
  EISDIR: 'it is a folder',
  EACCES: 'it is not permitted',
  EPERM: 'it is not permitted',
  ELOOP: 'its links lead in a circle',
  EROFS: 'the file system is read-only',
  ENOSPC: 'no space is left on the disk',
  EDQUOT: 'no space is left for this user',
  ENOTEMPTY: 'the folder is not empty',
  EIO: 'the disk cannot be read or written here',
  EMFILE: 'too many files are open',
  EEXIST: 'something stands there already',
  ENOTDIR: 'a file stands where a folder should',
  EXDEV: 'it stands on another file system',
  ENAMETOOLONG: 'the name is too long for the file system',
};

/** Why the file system refused, in words. */
export function reasonOf(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  return REASONS[code ?? ''] ?? message;
}

/** A file below a root that no link is on the way to. */
export interface RealPlace {
  root: string;
  path: string;
}

/**
 * Where a path really leads, links within the project followed.
 * @throws Problem when that is outside the root
 */
export function realPlace(root: string, path: string): RealPlace {
  const isInside = (way: string) => way !== '..' && !way.startsWith(`..${sep}`) && !isAbsolute(way);
  const full = resolve(root, path);
  let existing = full;
  let rest = '';
  while (!existsSync(existing)) {
    rest = join(existing.slice(existing.lastIndexOf(sep) + 1), rest);
    existing = resolve(existing, '..');
  }
  const base = realpathSync(root);
  const way = relative(base, join(realpathSync(existing), rest));
  if (!isInside(relative(root, full)) || !isInside(way) || way === '')
    throw new Problem(`${path} is outside the project`, {
      hint: 'only files below the root are written; a link that leads out of it is not followed',
    });
  return { root: base, path: toPosix(way) };
}

export function isFolder(root: string, path: string): boolean {
  return statSync(join(root, path), { throwIfNoEntry: false })?.isDirectory() === true;
}
