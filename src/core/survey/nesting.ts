/**
 * What may stand in what: where each place of several components that are written together comes to be a use. One code
 * for the survey, which recommends, and for the lift, which writes.
 */
import { firstElementOf, type Occurrence, RUN } from '../fragments/occurrence.js';
import type { Page } from '../page/parse.js';
import type { Element, Parent } from '../page/tree.js';
import type { Poured } from '../template/pattern.js';
import { addTo } from '../groups.js';

/** A component as far as nesting is concerned. */
export interface Nested {
  name: string;
  occurrences: Occurrence[];
  slots: Poured[];
  /** elements in whose place its template uses another component */
  covered: ReadonlySet<Element>;
}

/**
 * Where a place stands: written into the page, poured into another use there, in a template that uses it, or in one that
 * does not, so that it cannot be written.
 */
export type Spot<T extends Nested> =
  { at: 'page' } | { at: 'slot' } | { at: 'template' } | { at: 'nowhere'; holder: T; why: string };

interface Placed<T extends Nested> {
  part: T;
  index: number;
  start: number;
  end: number;
  /** the one in whose template it is used, null for what is written into the page */
  writer: Placed<T> | null;
}

/** One answer an occurrence of each part. Linear in the places, but for sorting them. */
export function spotsOf<T extends Nested>(parts: T[]): Map<T, Spot<T>[]> {
  const spots = new Map<T, Spot<T>[]>(parts.map((part) => [part, []]));
  const byPage = new Map<Page, Placed<T>[]>();
  for (const part of parts)
    part.occurrences.forEach(({ page, element, end }, index) => {
      const placed = { part, index, start: element.start, end, writer: null };
      addTo(byPage, page, placed);
    });
  for (const all of byPage.values()) {
    all.sort((a, b) => a.start - b.start || b.end - a.end || Number(isRun(b)) - Number(isRun(a)));
    const open: Placed<T>[] = [];
    for (const placed of all) {
      while (open.length > 0 && open.at(-1)!.end <= placed.start) open.pop();
      const spot = spotIn(placed, open.at(-1) ?? null);
      spots.get(placed.part)![placed.index] = spot;
      if (spot.at !== 'nowhere') open.push(placed);
    }
  }
  return spots;
}

function isRun<T extends Nested>({ part, index }: Placed<T>): boolean {
  return part.occurrences[index]!.element.tag === RUN;
}

function spotIn<T extends Nested>(placed: Placed<T>, holder: Placed<T> | null): Spot<T> {
  if (holder === null) return { at: 'page' };
  const nowhere = (why: string): Spot<T> => ({ at: 'nowhere', holder: holder.part, why });
  const element = placed.part.occurrences[placed.index]!.element;
  if (!isBelow(element, holder.part.occurrences[holder.index]!.element)) {
    const isTaken = placed.start === holder.start && placed.end === holder.end;
    return nowhere(
      isTaken
        ? `${holder.part.name} takes this place: lift one or the other`
        : 'its tags and those around it are not nested',
    );
  }
  // what is poured into a use in a template is part of that template, and may be poured into that again
  let writer: Placed<T> | null = holder;
  while (writer !== null && isPouredInto(writer, placed)) writer = writer.writer;
  if (writer === null) return { at: 'slot' };
  placed.writer = writer;
  return writer.part.covered.has(element)
    ? { at: 'template' }
    : nowhere(`it stands in ${writer.part.name}, which does not use it here`);
}

function isPouredInto<T extends Nested>({ part, index }: Placed<T>, { start, end }: Placed<T>): boolean {
  return part.slots.some(({ ranges }) => {
    const range = ranges[index];
    return range && range[0] <= start && end <= range[1];
  });
}

/** True for what stands in another; the nodes of a run are below an element of their own. */
function isBelow(element: Element, other: Element): boolean {
  const first = firstElementOf(element);
  if (other.tag === RUN) {
    const tops = new Set<unknown>(other.children);
    for (let at: Parent | null = first; at !== null; at = at.parent) if (tops.has(at)) return true;
    return false;
  }
  for (let at: Parent | null = first; at !== null; at = at.parent) if (at === other) return at !== element;
  return false;
}
