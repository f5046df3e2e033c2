/**
 * The journal: what was there before each write, under `.estrade/`. Contents are kept once each, by digest; an entry a
 * write says which files it changed. An entry is on disk before the first file is touched, so that a write that was
 * cut short can always be taken back.
 */
import {
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { Problem } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import { digest } from './files.js';

export const JOURNAL = '.estrade';

export interface ChangedFile {
  path: string;
  /** digest of the contents before; null when the file was not there */
  before: string | null;
  after: string;
  /** digest of the static page (UTF-8 text) that this page must expand to; null for a component */
  origin: string | null;
}

export interface Entry {
  format: 1;
  id: number;
  /** `writing` until every file is in place; `undoing` while it is taken back */
  state: 'writing' | 'done' | 'undoing';
  command: string;
  at: string;
  files: ChangedFile[];
  /** folders that the write made, outermost first */
  folders: string[];
  /** what pages say otherwise since this write */
  unified?: Unified[];
}

/** Writes a file so that it is either there whole or not at all. */
export function writeWhole(path: string, bytes: Buffer | string, temporary: string, mode?: number): void {
  const file = openSync(temporary, 'w', mode);
  try {
    const buffer = Buffer.from(bytes as string);
    for (let at = 0; at < buffer.length;) at += writeSync(file, buffer, at);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
  renameSync(temporary, path);
  syncFolder(dirname(path));
}

/** Makes a rename last; not every platform opens folders, and there the rename is as good as it gets. */
function syncFolder(folder: string): void {
  if (process.platform === 'win32') return;
  const handle = openSync(folder, 'r');
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

export class Journal {
  readonly folder: string;

  constructor(root: string) {
    this.folder = join(root, JOURNAL);
  }

  get exists(): boolean {
    return existsSync(this.folder);
  }

  private path(...parts: string[]): string {
    return join(this.folder, ...parts);
  }

  /** Keeps contents and gives back the digest that `read` finds them by. */
  keep(bytes: Buffer): string {
    const name = digest(bytes);
    const path = this.path('contents', name);
    if (!existsSync(path)) this.write(path, bytes);
    return name;
  }

  read(name: string): Buffer {
    const bytes = readFileSync(this.path('contents', name));
    if (digest(bytes) !== name)
      throw new Problem(`the journal is damaged: ${JOURNAL}/contents/${name} does not hold what it should`, {
        hint: 'restore that folder from a backup; no file was touched',
      });
    return bytes;
  }

  /** All entries, oldest first. */
  async entries(): Promise<Entry[]> {
    const folder = this.path('entries');
    if (!existsSync(folder)) return [];
    const names = readdirSync(folder).filter((name) => /^\d+\.json$/.test(name));
    if (names.length === 0) return [];
    const { validateEntry } = await import('./entry.js');
    return names
      .sort()
      .map((name) => validateEntry(readFileSync(join(folder, name), 'utf8'), `${JOURNAL}/entries/${name}`));
  }

  save(entry: Entry): void {
    this.write(this.entryPath(entry.id), `${JSON.stringify(entry, null, 2)}\n`);
  }

  /** Forgets an entry, and all contents that no other one speaks of; leaves nothing behind after the last. */
  async drop(entry: Entry): Promise<void> {
    rmSync(this.entryPath(entry.id), { force: true });
    const left = await this.entries();
    const used = new Set(
      left.flatMap(({ files }) => files.flatMap(({ before, after, origin }) => [before, after, origin])),
    );
    const contents = this.path('contents');
    if (existsSync(contents))
      for (const name of readdirSync(contents)) if (!used.has(name)) rmSync(join(contents, name));
    if (left.length === 0) {
      for (const name of ['entries', 'contents', 'temporary'])
        rmSync(this.path(name), { recursive: true, force: true });
      this.removeIfEmpty();
    }
  }

  /** Keeps a copy of a file that is about to be overwritten; gives back where, relative to the root. */
  copyAside(id: number, path: string, bytes: Buffer): string {
    const target = this.path('kept', String(id).padStart(4, '0'), path);
    this.write(target, bytes);
    return `${JOURNAL}/kept/${String(id).padStart(4, '0')}/${path}`;
  }

  removeIfEmpty(): void {
    if (this.exists && readdirSync(this.folder).length === 0) rmSync(this.folder, { recursive: true });
  }

  private entryPath(id: number): string {
    return this.path('entries', `${String(id).padStart(4, '0')}.json`);
  }

  private write(path: string, bytes: Buffer | string): void {
    mkdirSync(dirname(path), { recursive: true });
    mkdirSync(this.path('temporary'), { recursive: true });
    writeWhole(path, bytes, this.path('temporary', 'file'));
  }
}
