/**
 * The journal: what was there before each write, under `.estrade/`. Contents are kept once each, by digest; an entry a
 * write says which files it changed. An entry is on disk before the first file is touched, so that a write that was
 * cut short can always be taken back.
 */
import { Problem } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import type { SheetCut } from '../core/style/back.js';
import {
  clearFolder,
  isTemporary,
  namesIn,
  readRegular,
  removeEmptyFolder,
  removeRegular,
  writeRegular,
  NotOurs,
} from './disk.js';
import { digest } from './files.js';
import { marked } from './mark.js';

export const JOURNAL = '.estrade';
/** For what is not whole yet, of the journal and of the files it is about. */
export const TEMPORARY = `${JOURNAL}/temporary`;
const ENTRIES = `${JOURNAL}/entries`;
const CONTENTS = `${JOURNAL}/contents`;

const isEntryName = (name: string) => /^\d+\.json$/.test(name);
const isDigest = (name: string) => /^[0-9a-f]{64}$/.test(name);

export interface ChangedFile {
  path: string;
  /** digest of the contents before; null when the file was not there */
  before: string | null;
  /** digest of the contents after; null when the file is gone */
  after: string | null;
  /** digest of the static page (UTF-8 text) that this page must expand to; null for a component */
  origin: string | null;
  /** label of the encoding of a page, and whether it starts with a byte-order mark, as they were at its first lift */
  encoding?: string;
  bom?: boolean;
}

/** A component before and after it was renamed or moved. */
export interface Renamed {
  from: { component: string; path: string };
  to: { component: string; path: string };
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
  /** how styles were cut out of stylesheets; the sheets as they were are kept as UTF-8 texts, named by digest */
  cuts?: SheetCut[];
  /** components that have another name or place since this write */
  renamed?: Renamed[];
  /** made with this user's key out of all else in it; missing where no key could be kept */
  mark?: string;
}

/** Something of the journal that cannot be used: its path, and what is wrong with it, such as "is gone". */
export interface Damage {
  path: string;
  why: string;
}

/** A damage in one sentence. */
export function damageText({ path, why }: Damage): string {
  return `${path} ${why}`;
}

export interface JournalState {
  /** oldest first */
  entries: Entry[];
  damaged: Damage[];
}

/** What the hints of all that stands on a damaged journal say. */
export const REPAIR = 'estrade repair says what is wrong, and what can be done';

export class Journal {
  constructor(private readonly root: string) {}

  /** Keeps contents and gives back the digest that `read` finds them by. */
  keep(bytes: Buffer): string {
    const name = digest(bytes);
    if (this.damageOf(name) !== null) this.write(`${CONTENTS}/${name}`, bytes);
    return name;
  }

  /** @throws Problem (exit 1) when the contents are not there, or are not what they were */
  read(name: string): Buffer {
    const found = this.bytesOf(name);
    if (Buffer.isBuffer(found)) return found;
    throw new Problem(`the journal is damaged: ${damageText(found)}`, {
      exit: 1,
      hint: `no file was touched; ${REPAIR}`,
    });
  }

  /** Kept contents, or what is wrong with them. */
  private bytesOf(name: string): Buffer | Damage {
    const path = `${CONTENTS}/${name}`;
    try {
      const bytes = readRegular(this.root, path);
      if (bytes === null) return { path, why: 'is gone' };
      return digest(bytes) === name ? bytes : { path, why: 'was changed' };
    } catch (error) {
      if (error instanceof NotOurs) return { path, why: 'is or stands behind a link, through which nothing is read' };
      throw error;
    }
  }

  /** The text of kept contents, or what is wrong with them. */
  textOf(name: string): { text: string } | { lost: string } {
    const found = this.bytesOf(name);
    return Buffer.isBuffer(found) ? { text: found.toString('utf8') } : { lost: `${damageText(found)}; ${REPAIR}` };
  }

  /** What is wrong with kept contents; null when they are there and what they were. */
  damageOf(name: string): Damage | null {
    const found = this.bytesOf(name);
    return Buffer.isBuffer(found) ? null : found;
  }

  /** What is wrong with the contents that taking an entry back needs. */
  damageFor({ files }: Entry): Damage[] {
    const names = new Set(files.flatMap(({ before }) => before ?? []));
    return [...names].flatMap((name) => this.damageOf(name) ?? []);
  }

  async state(): Promise<JournalState> {
    const state: JournalState = { entries: [], damaged: [] };
    try {
      const names = namesIn(this.root, ENTRIES).filter(isEntryName);
      if (names.length === 0) return state;
      const { validateEntry } = await import('./entry.js');
      for (const name of names) {
        const path = `${ENTRIES}/${name}`;
        try {
          state.entries.push(validateEntry(readRegular(this.root, path)?.toString('utf8') ?? ''));
        } catch (error) {
          if (!(error instanceof Problem)) throw error;
          state.damaged.push({ path, why: error.message });
        }
      }
    } catch (error) {
      if (!(error instanceof NotOurs)) throw error;
      state.damaged.push({ path: ENTRIES, why: 'is or stands behind a link, through which nothing is read' });
    }
    return state;
  }

  /** All entries, oldest first; those that cannot be read are left out. */
  async entries(): Promise<Entry[]> {
    return (await this.state()).entries;
  }

  /** Tells one state of the entries from another, without reading what they say. */
  stamp(): string {
    try {
      const names = namesIn(this.root, ENTRIES).filter(isEntryName);
      return names
        .map((name) => `${name} ${digest(readRegular(this.root, `${ENTRIES}/${name}`) ?? Buffer.of())}`)
        .join();
    } catch (error) {
      if (error instanceof NotOurs) return error.message;
      throw error;
    }
  }

  /** A number that no entry has had, damaged ones among them. */
  nextId(): number {
    return (
      Math.max(
        0,
        ...namesIn(this.root, ENTRIES)
          .filter(isEntryName)
          .map((name) => parseInt(name, 10)),
      ) + 1
    );
  }

  /** Records an entry, with the mark of this user. */
  save(entry: Entry): void {
    this.write(this.entryPath(entry.id), `${JSON.stringify(marked(entry), null, 2)}\n`);
  }

  /** Forgets an entry, and all contents that no other one speaks of; leaves nothing behind after the last. */
  async drop(entry: Entry): Promise<void> {
    removeRegular(this.root, this.entryPath(entry.id));
    const { entries, damaged } = await this.state();
    // what cannot be read may speak of anything
    if (damaged.length > 0) return;
    const used = new Set(
      entries.flatMap(({ files, cuts = [] }) => [
        ...files.flatMap(({ before, after, origin }) => [before, after, origin]),
        ...cuts.map(({ base }) => base),
      ]),
    );
    clearFolder(this.root, CONTENTS, (name) => isDigest(name) && !used.has(name));
    if (entries.length === 0) this.sweep();
  }

  /** Removes what is ours and nothing speaks of any more, where there are no entries. */
  sweep(): void {
    removeEmptyFolder(this.root, ENTRIES);
    clearFolder(this.root, CONTENTS, isDigest);
    this.clearTemporaries();
    removeEmptyFolder(this.root, JOURNAL);
  }

  clearTemporaries(): void {
    clearFolder(this.root, TEMPORARY, isTemporary);
  }

  /** Keeps a copy of a file that is about to be overwritten, beside all earlier ones; gives back where. */
  copyAside(id: number, path: string, bytes: Buffer): string {
    for (let copy = 1; ; copy++) {
      const folder = `${String(id).padStart(4, '0')}${copy === 1 ? '' : `-${copy}`}`;
      const target = `${JOURNAL}/kept/${folder}/${path}`;
      const there = readRegular(this.root, target);
      if (there !== null && !there.equals(bytes)) continue;
      if (there === null) this.write(target, bytes);
      return target;
    }
  }

  /** Takes what cannot be read out of the journal; its bytes are kept, where it is a file. @returns where, if anywhere */
  setAside(path: string): string | null {
    let bytes: Buffer | null = null;
    try {
      bytes = readRegular(this.root, path);
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
    }
    const copy = bytes === null ? null : this.copyAside(0, path.slice(JOURNAL.length + 1), bytes);
    removeRegular(this.root, path);
    return copy;
  }

  private entryPath(id: number): string {
    return `${ENTRIES}/${String(id).padStart(4, '0')}.json`;
  }

  private write(path: string, bytes: Buffer | string): void {
    writeRegular(this.root, path, Buffer.from(bytes as string), TEMPORARY);
  }
}
