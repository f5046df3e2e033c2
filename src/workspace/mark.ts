/**
 * Tells which journal entries this user's Estrade wrote: each carries a mark that takes a key to make, and the key is
 * kept outside of all checkouts. What came with a checkout is data; nothing is ever done because it says so.
 */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import {
  closeSync,
  constants,
  fstatSync,
  linkSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { codeOf } from './disk.js';
import type { Entry } from './journal.js';

/** Bytes of the key. */
const KEY = 32;

/** Where programs of this user keep what they must remember (XDG Base Directory Specification; Windows: local data). */
function stateFolder(): string {
  const { XDG_STATE_HOME: state, LOCALAPPDATA: local } = process.env;
  if (process.platform === 'win32' && local) return join(local, 'estrade');
  return join(state !== undefined && state !== '' ? state : join(homedir(), '.local', 'state'), 'estrade');
}

/** What the system says where this user has no key, and perhaps can keep none. */
const NO_KEY = new Set(['ENOENT', 'ENOTDIR', 'ELOOP', 'EACCES', 'EPERM', 'EROFS']);

/** The key; null where there is none that is whole. A key that only cannot be read now is not taken for none. */
function readKey(): Buffer | null {
  let handle: number;
  try {
    handle = openSync(join(stateFolder(), 'key'), constants.O_RDONLY | constants.O_NOFOLLOW);
  } catch (error) {
    if (NO_KEY.has(codeOf(error) ?? '')) return null;
    throw error;
  }
  try {
    const key = fstatSync(handle).isFile() ? readFileSync(handle) : null;
    return key?.length === KEY ? key : null;
  } finally {
    closeSync(handle);
  }
}

/** Makes the key, unless there is one by now; gives back null where none can be kept. */
function makeKey(): Buffer | null {
  const folder = stateFolder();
  const whole = join(folder, `key-${randomBytes(4).toString('hex')}`);
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    writeFileSync(whole, randomBytes(KEY), { flag: 'wx', mode: 0o600 });
    try {
      linkSync(whole, join(folder, 'key'));
    } catch (error) {
      // another process was quicker, or what stands there is no key
      if (codeOf(error) !== 'EEXIST' || readKey() === null) renameSync(whole, join(folder, 'key'));
    }
  } catch (error) {
    if (!NO_KEY.has(codeOf(error) ?? '')) throw error;
    // this user can keep nothing: then nothing is marked
  } finally {
    rmSync(whole, { force: true });
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
