/**
 * Writes as transactions. The order is what makes them safe: keep the old contents, record the entry, replace file by
 * file through a rename, mark the entry done. Cut short anywhere, the next command finds the entry and takes it back.
 */
import { existsSync, linkSync, mkdirSync, readFileSync, rmdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Problem } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import { digest, writablePath } from './files.js';
import { type ChangedFile, type Entry, Journal, JOURNAL, writeWhole } from './journal.js';

export interface PlannedFile {
  path: string;
  /** contents that the plan was made from; null when there was no file */
  before: Buffer | null;
  after: Buffer;
  origin: Buffer | null;
}

export interface Undone {
  entry: Entry;
  restored: string[];
  removed: string[];
  /** copies of files that were changed since, kept because of `force` */
  kept: { path: string; copy: string }[];
}

function temporaryFor(path: string): string {
  return join(dirname(path), `.${basename(path)}.estrade-tmp`);
}

function current(path: string): Buffer | null {
  return existsSync(path) ? readFileSync(path) : null;
}

function digestOf(bytes: Buffer | null): string | null {
  return bytes === null ? null : digest(bytes);
}

/** Runs `work` while no other process writes here. @throws Problem when one does */
export async function locked<T>(root: string, work: () => Promise<T>): Promise<T> {
  const lock = join(root, JOURNAL, 'lock');
  // written beside it first, so that the lock is never there without saying whose it is
  const mine = join(root, JOURNAL, 'temporary', `lock-${process.pid}`);
  mkdirSync(dirname(mine), { recursive: true });
  writeFileSync(mine, String(process.pid));
  for (let tries = 0; ; tries++) {
    try {
      linkSync(mine, lock);
      break;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      if (tries > 0 || isRunning(root))
        throw new Problem('another estrade is writing to this folder', {
          hint: `wait until it is done, or remove ${JOURNAL}/lock`,
        });
      rmSync(lock, { force: true });
    }
  }
  try {
    return await work();
  } finally {
    rmSync(dirname(mine), { recursive: true, force: true });
    rmSync(lock, { force: true });
    new Journal(root).removeIfEmpty();
  }
}

/** True while the process that holds the lock is alive. */
export function isRunning(root: string): boolean {
  const lock = join(root, JOURNAL, 'lock');
  if (!existsSync(lock)) return false;
  const pid = Number(readFileSync(lock, 'utf8'));
  if (!Number.isInteger(pid) || pid <= 0 || pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/**
 * Writes all files or none. `verify` runs when they are in place; when it throws, everything is taken back.
 * @throws Problem when a file is not what the plan was made from
 */
export async function writeAll(
  root: string,
  command: string,
  files: PlannedFile[],
  verify: () => void,
  unified: Unified[] = [],
): Promise<Entry> {
  return locked(root, async () => {
    const journal = new Journal(root);
    const entries = await journal.entries();
    const targets = files.map(({ path }) => writablePath(root, path));
    files.forEach(({ path, before }, i) => {
      if (digestOf(current(targets[i]!)) !== digestOf(before))
        throw new Problem(`${path} has changed while the lift was planned`, {
          exit: 1,
          hint: 'nothing was written; run the command again',
        });
    });
    const entry: Entry = {
      format: 1,
      id: (entries.at(-1)?.id ?? 0) + 1,
      state: 'writing',
      command,
      at: new Date().toISOString(),
      files: files.map(({ path, before, after, origin }): ChangedFile => ({
        path,
        before: before === null ? null : journal.keep(before),
        after: digest(after),
        origin: origin === null ? null : journal.keep(origin),
      })),
      folders: missingFolders(
        root,
        files.map(({ path }) => path),
      ),
      ...(unified.length > 0 ? { unified } : {}),
    };
    journal.save(entry);
    try {
      for (const folder of entry.folders) mkdirSync(join(root, folder));
      files.forEach(({ path, before, after }, i) => {
        const target = targets[i]!;
        if (digestOf(current(target)) !== digestOf(before))
          throw new Problem(`${path} has changed while the lift was written`, {
            exit: 1,
            hint: 'all is as it was; run the command again',
          });
        writeWhole(target, after, temporaryFor(target), before === null ? undefined : statSync(target).mode);
      });
      verify();
    } catch (error) {
      await takeBack(root, journal, entry);
      throw error;
    }
    journal.save({ ...entry, state: 'done' });
    return entry;
  });
}

function missingFolders(root: string, paths: string[]): string[] {
  const folders = new Set<string>();
  for (const path of paths) {
    const parts = path.split('/').slice(0, -1);
    parts.forEach((_, i) => folders.add(parts.slice(0, i + 1).join('/')));
  }
  return [...folders].filter((folder) => !existsSync(join(root, folder))).sort((a, b) => a.length - b.length);
}

/** Puts back what an entry changed; a file that is neither as before nor as written stays, and is named. */
async function takeBack(root: string, journal: Journal, entry: Entry): Promise<{ foreign: string[] }> {
  const foreign: string[] = [];
  for (const { path, before, after } of entry.files) {
    const target = writablePath(root, path);
    rmSync(temporaryFor(target), { force: true });
    const now = digestOf(current(target));
    if (now === before) continue;
    if (now !== after && now !== null && entry.state === 'writing') {
      foreign.push(
        before === null ? path : `${path} (what it was: ${journal.copyAside(entry.id, path, journal.read(before))})`,
      );
    } else if (before === null) rmSync(target, { force: true });
    else
      writeWhole(target, journal.read(before), temporaryFor(target), now === null ? undefined : statSync(target).mode);
  }
  removeFolders(root, entry);
  await journal.drop(entry);
  return { foreign };
}

function removeFolders(root: string, entry: Entry): void {
  for (const folder of [...entry.folders].reverse()) {
    try {
      rmdirSync(join(root, folder));
    } catch {
      // something else is in it by now, or it is gone: both are fine
    }
  }
}

/**
 * Takes back a write that was cut short, by a crash or a kill.
 * @returns the commands that were taken back, and files left alone because someone changed them since
 */
export async function recover(root: string): Promise<{ commands: string[]; foreign: string[] }> {
  const journal = new Journal(root);
  const nothing = { commands: [], foreign: [] };
  if (!journal.exists || isRunning(root)) return nothing;
  const cut = (await journal.entries()).filter(({ state }) => state !== 'done').reverse();
  if (cut.length === 0) {
    // killed before the entry was recorded, or after the last one was dropped: only our own leavings are there
    if (['lock', 'temporary'].some((name) => existsSync(join(root, JOURNAL, name))))
      await locked(root, () => sweep(journal));
    else journal.removeIfEmpty();
    return nothing;
  }
  return locked(root, async () => {
    const foreign: string[] = [];
    for (const entry of cut) foreign.push(...(await takeBack(root, journal, entry)).foreign);
    return { commands: cut.map(({ command }) => command), foreign };
  });
}

async function sweep(journal: Journal): Promise<void> {
  if ((await journal.entries()).length > 0) return;
  for (const name of ['entries', 'contents']) rmSync(join(journal.folder, name), { recursive: true, force: true });
}

/**
 * Takes the last write back.
 * @throws Problem (exit 1) naming every file that was changed since, unless `force`
 */
export async function undo(root: string, force: boolean): Promise<Undone> {
  const journal = new Journal(root);
  const entry = (await journal.entries()).at(-1);
  if (entry === undefined)
    throw new Problem('there is nothing to undo', { exit: 1, hint: 'no lift has been written here' });
  return locked(root, async () => {
    const changed = entry.files.filter(({ path, after, before }) => {
      const now = digestOf(current(writablePath(root, path)));
      return now !== after && now !== before;
    });
    if (changed.length > 0 && !force)
      throw new Problem('these files were changed since; nothing was written', {
        exit: 1,
        details: changed.map(({ path }) => path),
        hint: 'undo --force puts the old ones back and keeps a copy of yours',
      });
    const undone: Undone = { entry, restored: [], removed: [], kept: [] };
    for (const { path } of changed) {
      const mine = current(writablePath(root, path));
      if (mine !== null) undone.kept.push({ path, copy: journal.copyAside(entry.id, path, mine) });
    }
    journal.save({ ...entry, state: 'undoing' });
    for (const { path, before } of entry.files) {
      const target = writablePath(root, path);
      if (before === null) {
        rmSync(target, { force: true });
        undone.removed.push(path);
      } else {
        mkdirSync(dirname(target), { recursive: true });
        writeWhole(
          target,
          journal.read(before),
          temporaryFor(target),
          existsSync(target) ? statSync(target).mode : undefined,
        );
        undone.restored.push(path);
      }
    }
    removeFolders(root, entry);
    await journal.drop(entry);
    return undone;
  });
}
