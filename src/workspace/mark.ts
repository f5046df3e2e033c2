/**
 * Tells which journal entries this user's Estrade wrote: each carries a mark that takes a key to make, and the key is
 * kept outside of all checkouts. What came with a checkout is data; nothing is ever done because it says so.
 */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { closeSync, constants, fstatSync, mkdirSync, openSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import type { Entry } from './journal.js';

/** Bytes of the key. */
const KEY = 32;

/** Where programs of this user keep what they must remember (XDG Base Directory Specification; Windows: local data). */
function stateFolder(): string {
  const { XDG_STATE_HOME: state, LOCALAPPDATA: local } = process.env;
  if (process.platform === 'win32' && local) return join(local, 'estrade');
  return join(state !== undefined && state !== '' ? state : join(homedir(), '.local', 'state'), 'estrade');
}

/** The key; null where there is none, and none can be kept. */
function readKey(): Buffer | null {
  let handle: number;
  try {
    handle = openSync(join(stateFolder(), 'key'), constants.O_RDONLY | constants.O_NOFOLLOW);
  } catch {
    return null;
  }
  try {
    const key = fstatSync(handle).isFile() ? readFileSync(handle) : null;
    return key?.length === KEY ? key : null;
  } finally {
    closeSync(handle);
  }
}

function makeKey(): Buffer | null {
  const folder = stateFolder();
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    const whole = join(folder, `key-${randomBytes(4).toString('hex')}`);
    writeFileSync(whole, randomBytes(KEY), { flag: 'wx', mode: 0o600 });
    // of two that make one at once, the later one counts for both from then on
    renameSync(whole, join(folder, 'key'));
  } catch {
    // this user can keep nothing: then nothing is marked
  }
  return readKey();
}

function markWith(key: Buffer, entry: Entry): string {
  const unmarked = JSON.stringify({ ...entry, mark: undefined });
  return createHmac('sha256', key).update(unmarked).digest('hex');
}

/** The entry with the mark of this user, or as it is where no key can be kept. */
export function marked(entry: Entry): Entry {
  const key = readKey() ?? makeKey();
  return key === null ? entry : { ...entry, mark: markWith(key, entry) };
}

/** True for an entry that this user's Estrade wrote, and nobody changed since. */
export function isOwn(entry: Entry): boolean {
  const key = entry.mark === undefined ? null : readKey();
  return key !== null && timingSafeEqual(Buffer.from(markWith(key, entry), 'hex'), Buffer.from(entry.mark!, 'hex'));
}
