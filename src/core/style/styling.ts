/** How components are dressed on all pages, of which one at a time is looked at. */
import { workingOn } from '../errors.js';
import { type Bond, bondReader } from './belongs.js';
import type { Cascade, SheetReader } from './cascade.js';
import { dresser, type ExtendedPage, type Reached } from './dress.js';
import { PageMatcher } from './match.js';

export interface Styling extends Reached {
  bonds: Map<string, Bond[]>;
  /** in how many places each component stands */
  places: ReadonlyMap<string, number>;
  /** what stylesheets pages ask for that cannot be read; each once */
  notes: Cascade['notes'];
}

/** Looks at pages one after the other, of which nothing is held; and tells how components are dressed on all of them. */
export function stylingReader(
  matcher: PageMatcher,
  names: Iterable<string>,
): { look: (page: ExtendedPage) => void; styling: () => Styling } {
  const { dressPage, reached } = dresser(matcher);
  const readers = new Map(Array.from(names, (name) => [name, bondReader(name)]));
  const places = new Map<string, number>();
  const notes = new Map<string, Cascade['notes'][number]>();
  const look = (page: ExtendedPage): void => {
    const on = dressPage(page);
    for (const [name, reader] of readers) workingOn(name, () => reader.look(on));
    for (const [name, { length }] of on.instances) places.set(name, (places.get(name) ?? 0) + length);
    for (const note of on.cascade.notes) if (!notes.has(note.message)) notes.set(note.message, note);
  };
  const styling = (): Styling => {
    const all = reached();
    const bonds = new Map(Array.from(readers, ([name, each]) => [name, each.bonds(all)]));
    return { ...all, bonds, places, notes: [...notes.values()] };
  };
  return { look, styling };
}

/**
 * Finds out how components are dressed.
 * @param pages expanded; of each nothing is held when the next one is taken
 */
export function stylingOf(pages: Iterable<ExtendedPage>, read: SheetReader, names: Iterable<string>): Styling {
  const { look, styling } = stylingReader(new PageMatcher(read), names);
  for (const page of pages) look(page);
  return styling();
}
