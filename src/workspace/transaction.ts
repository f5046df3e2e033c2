/**
 * Writes as transactions. The order is what makes them safe: keep the old contents, record the entry, replace file by
 * file through a rename, mark the entry done. Cut short anywhere, the next command finds the entry and takes it back.
 */
import { Problem } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import type { SheetCut } from '../core/style/back.js';
import {
  isTemporary,
  makeFolder,
  namesIn,
  NotOurs,
  readRegular,
  removeEmptyFolder,
  removeRegular,
  writeRegular,
} from './disk.js';
import type { Decoded } from './encoding.js';
import { digest, isFolder, realPlace, reasonOf } from './files.js';
import {
  type ChangedFile,
  type Damage,
  damageText,
  type Entry,
  Journal,
  JOURNAL,
  type JournalState,
  type Renamed,
  REPAIR,
  TEMPORARY,
} from './journal.js';
import { Busy, locked, lockState } from './lock.js';
import { isOwn } from './mark.js';

export interface PlannedFile {
  path: string;
  /** contents that the plan was made from; null when there was no file */
  before: Buffer | null;
  /** null for a file that goes */
  after: Buffer | null;
  origin: Buffer | null;
  /** how the bytes of a page are read, now and whenever it is read again */
  read?: Pick<Decoded, 'encoding' | 'bom'>;
}

/** What a command writes, and what the journal is to know of it besides. */
export interface Write {
  command: string;
  files: PlannedFile[];
  unified?: Unified[];
  cuts?: SheetCut[];
  renamed?: Renamed[];
}

export interface Undone {
  entry: Entry;
  restored: string[];
  removed: string[];
  /** copies of files that were changed since, kept because of `force` */
  kept: { path: string; copy: string }[];
}

/** The bytes of a file of the project, in-project links on the way followed; null when it is not there. */
function current(root: string, path: string): Buffer | null {
  const real = realPlace(root, path);
  return readRegular(real.root, real.path);
}

function write(root: string, path: string, bytes: Buffer): void {
  const real = realPlace(root, path);
  writeRegular(real.root, real.path, bytes, TEMPORARY);
}

function remove(root: string, path: string): void {
  const real = realPlace(root, path);
  removeRegular(real.root, real.path);
}

/** Removes a file, and the folders that it leaves empty. */
function removeWithFolders(root: string, path: string): void {
  remove(root, path);
  for (let folder = parentOf(path); folder !== '' && removeEmptyFolder(root, folder);) folder = parentOf(folder);
}

function parentOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf('/')));
}

function digestOf(bytes: Buffer | null): string | null {
  return bytes === null ? null : digest(bytes);
}

/**
 * Writes all files or none. `verify` runs when they are in place; when it throws, everything is taken back.
 * @throws Problem when a file is not what the plan was made from
 */
export async function writeAll(
  root: string,
  { command, files, unified = [], cuts = [], renamed = [] }: Write,
  verify: () => void,
): Promise<Entry> {
  return locked(root, async () => {
    const journal = new Journal(root);
    const { entries, damaged } = await journal.state();
    if (damaged.length > 0) throw damagedJournal(damaged);
    const open = entries.find(({ state }) => state !== 'done');
    if (open !== undefined)
      throw new Problem(`an interrupted "${open.command}" stands in the journal: nothing was written`, {
        hint: REPAIR,
      });
    const refuseChanged = ({ path, before }: PlannedFile, when: string) => {
      if (digestOf(current(root, path)) === digestOf(before)) return;
      throw new Problem(`${path} has changed while this was ${when}`, {
        exit: 1,
        hint: 'all is as it was; run the command again',
      });
    };
    for (const file of files) refuseChanged(file, 'planned');
    const entry: Entry = {
      format: 1,
      id: journal.nextId(),
      state: 'writing',
      command,
      at: new Date().toISOString(),
      files: files.map(({ path, before, after, origin, read }): ChangedFile => ({
        path,
        before: before === null ? null : journal.keep(before),
        after: digestOf(after),
        origin: origin === null ? null : journal.keep(origin),
        ...(read === undefined ? {} : { encoding: read.encoding, bom: read.bom }),
      })),
      folders: missingFolders(
        root,
        files.flatMap(({ path, after }) => (after === null ? [] : [path])),
      ),
      ...(unified.length > 0 ? { unified } : {}),
      ...(renamed.length > 0 ? { renamed } : {}),
      ...(cuts.length > 0 ? { cuts: cuts.map((cut) => ({ ...cut, base: journal.keep(Buffer.from(cut.base)) })) } : {}),
    };
    journal.save(entry);
    try {
      for (const folder of entry.folders) makeFolder(root, folder);
      for (const file of files) {
        refuseChanged(file, 'written');
        if (file.after === null) removeWithFolders(root, file.path);
        else write(root, file.path, file.after);
      }
      verify();
      journal.save({ ...entry, state: 'done' });
    } catch (error) {
      // where the disk failed once that was said, it is done
      if ((await journal.entries()).at(-1)?.state === 'done') return entry;
      await takeBack(root, journal, entry);
      throw error;
    }
    return entry;
  });
}

function damagedJournal(damaged: Damage[]): Problem {
  return new Problem('the journal is damaged: nothing can be recorded in it, so nothing was written', {
    details: damaged.map(damageText),
    hint: REPAIR,
  });
}

function missingFolders(root: string, paths: string[]): string[] {
  const folders = new Set<string>();
  for (const path of paths) {
    const parts = path.split('/').slice(0, -1);
    parts.forEach((_, i) => folders.add(parts.slice(0, i + 1).join('/')));
  }
  return [...folders].filter((folder) => !isFolder(root, folder)).sort((a, b) => a.length - b.length);
}

/**
 * Puts back what an entry changed. A file that is neither as before nor as written stays as it is, and so does what stands
 * where one should be put back: they are named, with a copy of what was there before.
 */
async function takeBack(root: string, journal: Journal, entry: Entry): Promise<{ foreign: string[] }> {
  const foreign: string[] = [];
  for (const { path, before, after } of entry.files) {
    const tell = (what: string) => {
      const copy = before === null ? null : journal.copyAside(entry.id, path, journal.read(before));
      foreign.push(`${path}${copy === null ? '' : ` (what it was: ${copy})`} ${what}`);
    };
    try {
      const now = digestOf(current(root, path));
      if (now === before) continue;
      if (now !== after && now !== null) tell('was changed after that and stays as it is');
      else if (before === null) remove(root, path);
      else write(root, path, journal.read(before));
    } catch (error) {
      // a full disk and the like may be over next time
      if (!(error instanceof Problem)) throw error;
      tell(`could not be put back: ${error.message}`);
    }
  }
  for (const folder of new Set(entry.files.map(({ path }) => path.split('/').slice(0, -1).join('/'))))
    for (const name of namesIn(root, folder))
      if (isTemporary(name)) removeRegular(root, folder === '' ? name : `${folder}/${name}`);
  for (const folder of [...entry.folders].reverse()) removeEmptyFolder(root, folder);
  await journal.drop(entry);
  return { foreign };
}

export interface Recovered {
  /** the commands that were taken back */
  commands: string[];
  /** what stands otherwise than before for all that, and why, a line each */
  foreign: string[];
  /** writes that were cut short and are left as they are, and why, a line each */
  left: string[];
}

const WAITING = { steps: 100, milliseconds: 100 };

/**
 * Takes back a write that was cut short, by a crash or a kill, where this user's Estrade began it; waits for one that
 * goes on. @throws Busy when that takes longer than ten seconds
 */
export async function recover(root: string): Promise<Recovered> {
  for (let step = 0; step < WAITING.steps; step++) {
    try {
      if (!(await isWriting(root))) return await takeBackCutShort(root, false);
    } catch (error) {
      // a journal that cannot be used stands in nobody's way who only reads
      if (error instanceof NotOurs) return { commands: [], foreign: [], left: [`${error.message}; ${REPAIR}`] };
      // another process was quicker to lock the folder
      if (!(error instanceof Busy)) throw error;
    }
    await new Promise((done) => setTimeout(done, WAITING.milliseconds));
  }
  throw new Busy();
}

/** True while another process puts files in place. */
async function isWriting(root: string): Promise<boolean> {
  return lockState(root) === 'taken' && cutShort(await new Journal(root).state()).length > 0;
}

/** Entries that are not done, last first. */
function cutShort({ entries }: JournalState): Entry[] {
  return entries.filter(({ state }) => state !== 'done').reverse();
}

/** @param others whether what this user did not write on this machine is taken back too */
export async function takeBackCutShort(root: string, others: boolean): Promise<Recovered> {
  const journal = new Journal(root);
  const recovered: Recovered = { commands: [], foreign: [], left: [] };
  if (lockState(root) === 'taken') return recovered;
  const state = await journal.state();
  if (cutShort(state).length === 0) {
    if (isLitter(root, state)) await tidy(root, journal);
    return recovered;
  }
  return locked(root, async () => {
    for (const entry of cutShort(await journal.state())) {
      const why = whyLeft(journal, entry, others);
      if (why !== null) {
        recovered.left.push(`an interrupted "${entry.command}" is left as it is: ${why}`);
        // what was written before it cannot be taken back before it
        break;
      }
      try {
        recovered.foreign.push(...(await takeBack(root, journal, entry)).foreign);
      } catch (error) {
        if (error instanceof Problem) throw error;
        recovered.left.push(`an interrupted "${entry.command}" is not taken back yet: ${reasonOf(error)}`);
        break;
      }
      recovered.commands.push(entry.command);
    }
    return recovered;
  });
}

/** Why an entry cannot be taken back without being asked to; null where it can. */
export function whyLeft(journal: Journal, entry: Entry, others: boolean): string | null {
  if (!others && !isOwn(entry)) return `you did not run it on this machine; ${REPAIR}`;
  const [damage] = journal.damageFor(entry);
  return damage === undefined ? null : `${damageText(damage)}; ${REPAIR}`;
}

/** True where a process left something that was killed before its entry was recorded, or after the last one was dropped. */
function isLitter(root: string, { entries, damaged }: JournalState): boolean {
  const names = namesIn(root, JOURNAL).filter((name) => name !== 'kept');
  if (entries.length + damaged.length === 0) return names.length > 0;
  return names.includes('lock') || namesIn(root, TEMPORARY).some(isTemporary);
}

async function tidy(root: string, journal: Journal): Promise<void> {
  await locked(root, async () => {
    // another process may have begun meanwhile
    const { entries, damaged } = await journal.state();
    if (entries.length + damaged.length === 0) journal.sweep();
    else journal.clearTemporaries();
  });
}

/**
 * Takes the last write back. All that it needs is looked at before anything is written.
 * @throws Problem (exit 1) naming every file that was changed since, unless `force`
 */
export async function undo(root: string, force: boolean): Promise<Undone> {
  return locked(root, async () => {
    const journal = new Journal(root);
    const { entries, damaged } = await journal.state();
    if (damaged.length > 0) throw damagedJournal(damaged);
    const entry = entries.at(-1);
    if (entry === undefined)
      throw new Problem('there is nothing to undo', { exit: 1, hint: 'no lift has been written here' });
    const why = whyLeft(journal, entry, false);
    if (why !== null) throw new Problem(`"${entry.command}" is not taken back: ${why}`, { exit: 1 });
    const changed = entry.files.filter(({ path, after, before }) => {
      const now = digestOf(current(root, path));
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
      const mine = current(root, path);
      if (mine !== null) undone.kept.push({ path, copy: journal.copyAside(entry.id, path, mine) });
    }
    journal.save({ ...entry, state: 'undoing' });
    for (const { path, before } of entry.files) {
      if (before === null) {
        remove(root, path);
        undone.removed.push(path);
      } else {
        write(root, path, journal.read(before));
        undone.restored.push(path);
      }
    }
    for (const folder of [...entry.folders].reverse()) removeEmptyFolder(root, folder);
    await journal.drop(entry);
    return undone;
  });
}
