/**
 * Reads and writes files below a root without following links there. A folder is opened before anything in it is
 * touched, and reached through that handle, so that a folder which is swapped for a link meanwhile changes nothing.
 */
import {
  closeSync,
  constants,
  existsSync,
  fchmodSync,
  fstatSync,
  fsyncSync,
  linkSync,
  lstatSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmdirSync,
  unlinkSync,
  writeSync,
} from 'node:fs';
import { randomBytes } from 'node:crypto';
import { join, sep } from 'node:path';
import { Problem } from '../core/errors.js';

// those that Windows does not know are undefined there, which adds nothing to the others
const { O_DIRECTORY, O_NOFOLLOW, O_NONBLOCK, O_RDONLY, O_WRONLY, O_CREAT, O_EXCL } = constants;

/** Where Linux shows the open files of a process: a path through it leads to the folder itself, whatever its name is by now. */
const HANDLES = '/proc/self/fd';

/** What our temporary files are called, where they cannot stand in a folder of our own. */
const TEMPORARY = /^\.estrade-[0-9a-f]{8}$/;

/** An open folder. */
class OpenFolder {
  private constructor(
    private readonly handle: number,
    /** path by name, for platforms that know no other */
    private readonly named: string,
    private readonly byHandle: boolean,
  ) {}

  static root(root: string): OpenFolder {
    return new OpenFolder(openSync(root, O_RDONLY | O_DIRECTORY), root, existsSync(`${HANDLES}/0`));
  }

  /** @throws Problem when the name leads elsewhere by now */
  at(name: string): string {
    if (this.byHandle) return `${HANDLES}/${this.handle}/${name}`;
    const [opened, now] = [fstatSync(this.handle), lstatSync(this.named)];
    if (opened.dev !== now.dev || opened.ino !== now.ino) throw notAFolder(this.named);
    return join(this.named, name);
  }

  /** @returns null where there is no folder of this name */
  below(name: string, make: boolean): OpenFolder | null {
    const named = join(this.named, name);
    const path = this.at(name);
    try {
      if (make && !isThere(path)) mkdirSync(path);
    } catch (error) {
      if (codeOf(error) !== 'EEXIST') throw error;
    }
    try {
      return new OpenFolder(openSync(path, O_RDONLY | O_DIRECTORY | O_NOFOLLOW), named, this.byHandle);
    } catch (error) {
      if (codeOf(error) === 'ENOENT' && !make) return null;
      if (codeOf(error) === 'ENOTDIR' || codeOf(error) === 'ELOOP') throw notAFolder(named);
      throw error;
    }
  }

  names(): string[] {
    return readdirSync(this.at('.'));
  }

  sync(): void {
    // not every platform syncs folders, and there a rename is as lasting as it gets
    if (process.platform !== 'win32') fsyncSync(this.handle);
  }

  close(): void {
    closeSync(this.handle);
  }
}

/** What the system calls an error, such as `ENOENT`; undefined for one that is not the system's. */
export function codeOf(error: unknown): string | undefined {
  return (error as NodeJS.ErrnoException).code;
}

/** True for whatever has this name, a link that leads nowhere too. */
function isThere(path: string): boolean {
  return lstatSync(path, { throwIfNoEntry: false }) !== undefined;
}

/** A link or something else stands where a file or a folder of ours should. */
export class NotOurs extends Problem {}

function notAFolder(path: string): NotOurs {
  return new NotOurs(`${path} is a link, or no folder: nothing was read or written there`, {
    hint: 'estrade writes to folders only that are really below the project; remove it, or put a folder there',
  });
}

/**
 * Opens the folder that a file stands in, and closes it after the work.
 * @param path of the file, relative to the root, with `/` or the platform's separator
 * @returns null where the folder is not there
 */
function inFolderOf<T>(
  root: string,
  path: string,
  work: (folder: OpenFolder, name: string) => T,
  make = false,
): T | null {
  const parts = path.split(sep === '/' ? '/' : /[\\/]/).filter((part) => part !== '');
  let folder: OpenFolder | null = null;
  try {
    folder = OpenFolder.root(root);
    for (const part of parts.slice(0, -1)) {
      const next: OpenFolder | null = folder.below(part, make);
      folder.close();
      folder = next;
      if (folder === null) return null;
    }
    return work(folder, parts.at(-1)!);
  } catch (error) {
    // what the system says is the way through handles
    if (codeOf(error) !== undefined) Object.assign(error as Error, { path: join(root, path) });
    throw error;
  } finally {
    folder?.close();
  }
}

/**
 * The bytes of a regular file; null where there is none.
 * @throws Problem when it is a link, a folder or no file
 */
export function readRegular(root: string, path: string): Buffer | null {
  return inFolderOf(root, path, (folder, name) => {
    const full = folder.at(name);
    let handle: number;
    try {
      handle = openSync(full, O_RDONLY | O_NOFOLLOW | O_NONBLOCK);
    } catch (error) {
      if (codeOf(error) === 'ENOENT') return null;
      if (codeOf(error) === 'ELOOP') throw notRegular(path);
      throw error;
    }
    try {
      if (!fstatSync(handle).isFile()) throw notRegular(path);
      return readFileSync(handle);
    } finally {
      closeSync(handle);
    }
  });
}

function notRegular(path: string): NotOurs {
  return new NotOurs(`${path} is a link, or no file: it is neither read nor written`, {
    hint: 'put a file there, or remove it',
  });
}

/**
 * Replaces or makes a file so that it is either there whole or not at all, and makes that last. The modes of a file that
 * is replaced stay.
 * @param temporary folder below the root for what is not whole yet, made when it is missing
 * @throws Problem when something that is no regular file stands there
 */
export function writeRegular(root: string, path: string, bytes: Buffer, temporary: string): void {
  inFolderOf(
    root,
    path,
    (folder, name) => {
      const target = folder.at(name);
      const there = lstatSync(target, { throwIfNoEntry: false });
      if (there !== undefined && !there.isFile()) throw notRegular(path);
      const replace = (whole: string) => renameSync(whole, target);
      // our own folder may be on another file system
      if (!writtenIn(root, temporary, bytes, { mode: there?.mode, then: replace }))
        writeBeside(folder, bytes, { mode: there?.mode, then: replace });
      folder.sync();
    },
    true,
  );
}

/**
 * Makes a file whole; false where something of that name is there. Where others remove the folders as soon as they are
 * empty, it tries again.
 */
export function createWhole(root: string, path: string, bytes: Buffer, temporary: string): boolean {
  for (let tries = 0; ; tries++) {
    try {
      return createOnce(root, path, bytes, temporary);
    } catch (error) {
      if (codeOf(error) !== 'ENOENT' || tries === MOST_TRIES) throw error;
    }
  }
}

const MOST_TRIES = 20;

function createOnce(root: string, path: string, bytes: Buffer, temporary: string): boolean {
  const made = inFolderOf(
    root,
    path,
    (folder, name) => {
      try {
        writtenIn(root, temporary, bytes, { mode: undefined, then: (whole) => linkSync(whole, folder.at(name)) });
        return true;
      } catch (error) {
        if (codeOf(error) === 'EEXIST') return false;
        throw error;
      }
    },
    true,
  );
  return made === true;
}

/** Removes a file as long as it holds these bytes; another one that came in its place stays. */
export function removeIfSame(root: string, path: string, bytes: Buffer): void {
  inFolderOf(root, path, (folder, name) => {
    const aside = folder.at(temporaryName());
    try {
      renameSync(folder.at(name), aside);
      if (!readFileSync(aside).equals(bytes)) linkSync(aside, folder.at(name));
      unlinkSync(aside);
    } catch (error) {
      if (codeOf(error) !== 'ENOENT') throw error;
    }
  });
}

interface Settled {
  /** mode bits; undefined for what the umask leaves */
  mode: number | undefined;
  /** what is done with the whole file; it may be moved away */
  then: (path: string) => void;
}

/** @returns false where the folder is on another file system than what is done with the file */
function writtenIn(root: string, folder: string, bytes: Buffer, settled: Settled): boolean {
  const done = inFolderOf(root, `${folder}/.`, (beside) => writeBeside(beside, bytes, settled), true);
  return done === true;
}

function writeBeside(folder: OpenFolder, bytes: Buffer, { mode, then }: Settled): boolean {
  const temporary = folder.at(temporaryName());
  const handle = openSync(temporary, O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW);
  try {
    // the umask takes bits from a new file
    if (mode !== undefined) fchmodSync(handle, mode & 0o7777);
    for (let at = 0; at < bytes.length;) at += writeSync(handle, bytes, at);
    fsyncSync(handle);
    then(temporary);
    return true;
  } catch (error) {
    if (codeOf(error) === 'EXDEV') return false;
    throw error;
  } finally {
    closeSync(handle);
    if (isThere(temporary)) unlinkSync(temporary);
  }
}

function temporaryName(): string {
  return `.estrade-${randomBytes(4).toString('hex')}`;
}

/** Removes a file or a link, not what it leads to; nothing where there is none. */
export function removeRegular(root: string, path: string): void {
  inFolderOf(root, path, (folder, name) => {
    try {
      unlinkSync(folder.at(name));
    } catch (error) {
      if (codeOf(error) !== 'ENOENT') throw error;
    }
  });
}

/** Removes a folder that is empty. @returns whether it is gone */
export function removeEmptyFolder(root: string, path: string): boolean {
  const removed = inFolderOf(root, path, (folder, name) => {
    try {
      rmdirSync(folder.at(name));
      return true;
    } catch (error) {
      // something is in it, or it is no folder: both stay
      return codeOf(error) === 'ENOENT';
    }
  });
  return removed ?? true;
}

/** Makes a folder, and those around it. @throws Problem when a link or a file stands there */
export function makeFolder(root: string, path: string): void {
  inFolderOf(root, `${path}/.`, () => null, true);
}

/** Names in a folder, in order; none where it is not there. */
export function namesIn(root: string, path: string): string[] {
  return inFolderOf(root, `${path}/.`, (folder) => folder.names().sort()) ?? [];
}

/** Removes the files of a folder whose names pass, and the folder itself when that leaves it empty. */
export function clearFolder(root: string, path: string, isOurs: (name: string) => boolean): void {
  for (const name of namesIn(root, path)) if (isOurs(name)) removeRegular(root, `${path}/${name}`);
  removeEmptyFolder(root, path);
}

/** True for the name of a file that a write which was cut short may have left. */
export function isTemporary(name: string): boolean {
  return TEMPORARY.test(name);
}
