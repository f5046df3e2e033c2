/** What is wrong with a journal, what can be done, and doing it when asked to. */
import { lstatSync } from 'node:fs';
import { join } from 'node:path';
import { removeRegular } from './disk.js';
import { type Entry, Journal, JOURNAL, type JournalState } from './journal.js';
import { locked } from './lock.js';
import { isOwn } from './mark.js';
import { takeBackCutShort, whyLeft } from './transaction.js';

export interface Fault {
  kind: 'link' | 'interrupted' | 'unreadable' | 'not-yours' | 'contents-lost';
  /** the entry, or the contents */
  path: string;
  message: string;
  /** what `--apply` does; null where nothing can be done from here */
  remedy: string | null;
}

export interface Repaired {
  faults: Fault[];
  /** what was done, a line each */
  done: string[];
}

/** Looks at the journal, and with `apply` does what can be done. */
export async function repair(root: string, apply: boolean): Promise<Repaired> {
  const journal = new Journal(root);
  const state = await journal.state();
  const faults = [...linksIn(root), ...faultsOf(journal, state)];
  if (!apply || faults.every(({ remedy }) => remedy === null)) return { faults, done: [] };
  // the lock may be one of them
  const done = linksIn(root).map(({ path }) => {
    removeRegular(root, path);
    return `${path}, a link, is removed; what it leads to stays`;
  });
  return locked(root, async () => {
    // in this order: what cannot be read is out of the way before anything is taken back, and what is left is marked
    for (const { path } of (await journal.state()).damaged) {
      const copy = journal.setAside(path);
      done.push(copy === null ? `${path} is removed` : `${path} is kept as ${copy}`);
    }
    const { commands, foreign } = await takeBackCutShort(root, true);
    done.push(...commands.map((command) => `the interrupted "${command}" is taken back`), ...foreign);
    for (const entry of await journal.entries())
      if (entry.state === 'done' && !isOwn(entry)) {
        journal.save(entry);
        done.push(`"${entry.command}" counts as yours now: estrade undo takes it back`);
      }
    return { faults: faultsOf(journal, await journal.state()), done };
  });
}

/** Links where files and folders of the journal should be, outermost first. */
function linksIn(root: string): Fault[] {
  const isLink = (path: string) => lstatSync(join(root, path), { throwIfNoEntry: false })?.isSymbolicLink() === true;
  const own = ['', '/entries', '/contents', '/temporary', '/kept', '/lock'].map((name) => `${JOURNAL}${name}`);
  const found = isLink(JOURNAL) ? [JOURNAL] : own.filter(isLink);
  return found.map((path) => ({
    kind: 'link',
    path,
    message: 'it is a link, which nothing is read or written through',
    remedy: 'remove it; what it leads to stays',
  }));
}

function faultsOf(journal: Journal, { entries, damaged }: JournalState): Fault[] {
  const unreadable = damaged
    .filter(({ path }) => path.endsWith('.json'))
    .map(({ path, why }): Fault => {
      const remedy = 'set it aside; what it wrote stays, and can no longer be undone';
      return { kind: 'unreadable', path, message: `it ${why}`, remedy };
    });
  return [...unreadable, ...entries.flatMap((entry) => faultsIn(journal, entry))];
}

function faultsIn(journal: Journal, entry: Entry): Fault[] {
  const path = `${JOURNAL}/entries/${String(entry.id).padStart(4, '0')}.json`;
  const faults = lostFor(journal, entry);
  if (entry.state !== 'done')
    faults.push({
      kind: 'interrupted',
      path,
      message: `"${entry.command}" was cut short, and ${isOwn(entry) ? 'this user ran it' : 'this user did not run it on this machine'}`,
      remedy: whyLeft(journal, entry, true) === null ? `take it back: ${filesOf(entry)}` : null,
    });
  else if (!isOwn(entry))
    faults.push({
      kind: 'not-yours',
      path,
      message: `"${entry.command}" was not run by this user on this machine`,
      remedy: `let it count as yours, so that estrade undo takes it back: ${filesOf(entry)}`,
    });
  return faults;
}

const SHOWN = 5;

function filesOf({ files }: Entry): string {
  const shown = files.slice(0, SHOWN).map(({ path }) => path);
  return files.length > SHOWN ? `${shown.join(', ')} and ${files.length - SHOWN} more` : shown.join(', ');
}

/** Contents that an entry speaks of and that are not there, with the files that need them. */
function lostFor(journal: Journal, { files }: Entry): Fault[] {
  const names = new Set(files.flatMap(({ before, origin }) => [before, origin].filter((name) => name !== null)));
  return [...names].flatMap((name): Fault[] => {
    const damage = journal.damageOf(name);
    if (damage === null) return [];
    const needing = files.filter(({ before, origin }) => before === name || origin === name);
    const message = `it ${damage.why}; ${needing.map(({ path }) => path).join(', ')} cannot be proven, or taken back, without it`;
    return [{ kind: 'contents-lost', path: `${JOURNAL}/contents/${name}`, message, remedy: null }];
  });
}
