/** One writer at a time: a file that says which process writes, taken before anything is read that it will write. */
import { readFileSync } from 'node:fs';
import { Problem } from '../core/errors.js';
import { createWhole, readRegular, removeEmptyFolder, removeIfSame, removeRegular } from './disk.js';
import { JOURNAL, TEMPORARY } from './journal.js';

const LOCK = `${JOURNAL}/lock`;

/** A process, told apart from later ones of the same number. */
interface Holder {
  pid: number;
  /** when it was started, in the system's own terms; null where that cannot be asked */
  started: string | null;
}

/** When a process was started: the boot, and its clock ticks since then (proc_pid_stat(5), field 22). */
function startOf(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'latin1');
    // the name of the program stands in brackets, and may hold any
    const ticks = stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
    return `${readFileSync('/proc/sys/kernel/random/boot_id', 'latin1').trim()} ${ticks!}`;
  } catch {
    return null;
  }
}

/** @returns null for what does not say whose it is */
function holderIn(bytes: Buffer): Holder | null {
  try {
    const { pid, started } = JSON.parse(bytes.toString('utf8')) as Partial<Holder>;
    return Number.isInteger(pid) && pid! > 0
      ? { pid: pid!, started: typeof started === 'string' ? started : null }
      : null;
  } catch {
    return null;
  }
}

function isAlive({ pid, started }: Holder): boolean {
  try {
    process.kill(pid, 0);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EPERM') return false;
  }
  const now = startOf(pid);
  return started === null || now === null || now === started;
}

/** Another process writes here. */
export class Busy extends Problem {
  constructor() {
    super('another estrade is writing to this folder', { hint: 'wait until it is done, and run this again' });
  }
}

type State = 'free' | 'mine' | 'taken' | 'left behind';

function stateOf(bytes: Buffer | null): State {
  if (bytes === null) return 'free';
  const holder = holderIn(bytes);
  if (holder === null || !isAlive(holder)) return 'left behind';
  return holder.pid === process.pid ? 'mine' : 'taken';
}

/** Who writes in this folder: nobody, this process, another one, or one that is gone. */
export function lockState(root: string): State {
  return stateOf(readRegular(root, LOCK));
}

/** Removes the lock of a process that is gone. */
function removeLeftLock(root: string): void {
  const bytes = readRegular(root, LOCK);
  if (bytes !== null && stateOf(bytes) === 'left behind') removeIfSame(root, LOCK, bytes);
}

/** Removes the lock, and the folders that nothing else is in. */
function unlock(root: string): void {
  try {
    // who comes next finds the folder for what is not whole, or makes it
    removeEmptyFolder(root, TEMPORARY);
    removeRegular(root, LOCK);
    removeEmptyFolder(root, JOURNAL);
  } catch (error) {
    // what was done is done; the lock of a process that is gone, and empty folders, are in nobody's way
    if (!(error instanceof Error && 'code' in error)) throw error;
  }
}

/** How long a lock is waited for: longer than it takes to put in order what a killed process left. */
const WAITING = { steps: 20, milliseconds: 50 };

/** @throws Busy when another process holds the lock for longer than a second */
async function takeLock(root: string): Promise<void> {
  const holder: Holder = { pid: process.pid, started: startOf(process.pid) };
  const mine = Buffer.from(JSON.stringify(holder));
  for (let step = 0; ; step++) {
    removeLeftLock(root);
    if (createWhole(root, LOCK, mine, TEMPORARY)) return;
    if (step === WAITING.steps) throw new Busy();
    await new Promise((done) => setTimeout(done, WAITING.milliseconds));
  }
}

/**
 * Runs `work` while no other process writes here; within a work that holds the lock already, just runs it.
 * @throws Busy when another process writes
 */
export async function locked<T>(root: string, work: () => Promise<T>): Promise<T> {
  if (lockState(root) === 'mine') return work();
  await takeLock(root);
  try {
    return await work();
  } finally {
    unlock(root);
  }
}
