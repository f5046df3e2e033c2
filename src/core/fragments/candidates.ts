/**
 * Sets of places that could be one component, by keys: each element is entered under what it is called, where it stands
 * and what it holds; runs of siblings under what they are made of. Every key is linear in the number of elements, and
 * sets that are equal are one candidate.
 */
import { attrOf, type Element, lacksEndTag, MOST_LEVELS } from '../page/tree.js';
import { isSure, Lift } from './profile.js';
import { findRuns } from './runs.js';
import { type Candidate, numberOf, rootsAt, type Site } from './site.js';
import { addTo } from '../groups.js';

/** Elements that are something by their tag (HTML standard, "sections", "grouping content", "tabular data", "forms"). */
export const SPEAKING: ReadonlySet<string> = new Set(
  'header nav aside footer main form article section dialog figure table fieldset tr li dl details blockquote search'.split(
    ' ',
  ),
);
/** Elements that are not cut out by themselves. */
const NEVER = new Set(
  'html head body script style link meta title base br hr wbr option path g source track param col colgroup'.split(' '),
);

export interface Sifting {
  /** least number of places */
  minOccurrences: number;
  /** least number of elements of a place */
  minElements: number;
  /** true for a use of a component: no place, with all that stands in it, and neither is what holds one */
  isSettled: (element: Element) => boolean;
  /** elements that a component gives back: no places, and neither is what holds one; what is poured in may be */
  covered: ReadonlySet<Element>;
}

/** All candidates, in the order in which their keys were first met. */
export function findCandidates(site: Site, sifting: Sifting): Candidate[] {
  const settled = settledIn(site, sifting);
  const least = Math.max(2, sifting.minOccurrences);
  const sets = new PlaceSets();
  for (const all of placesByKeys(site, (i) => settled[i] === 0 && isPlace(i, site, sifting))) {
    if (all.length < least) continue;
    const group = outermost(all, site);
    if (group.length < least) continue;
    const sure = endedAlike(
      group.filter((i) => isSure(site.profiles[site.page[i]!]!, i - site.first[site.page[i]!]!)),
      site,
    );
    if (sure.length >= least) sets.add(sure);
  }
  const runs = findRuns(site).filter(
    (run) =>
      run.places.length >= least && !run.places.some((i) => rootsAt(run, i, site).some((at) => settled[at] === 1)),
  );
  return [...sets.all.map((places): Candidate => ({ places, spans: null })), ...runs];
}

/** Sets of places, in the order in which they were added, each once. */
class PlaceSets {
  readonly all: number[][] = [];
  private readonly alike = new Map<string, number[][]>();

  add(places: number[]): void {
    const key = [places.length, places[0], places.at(-1), places.reduce((sum, i) => sum + i, 0)].join(' ');
    if (this.alike.get(key)?.some((others) => others.every((i, at) => i === places[at])) === true) return;
    addTo(this.alike, key, places);
    this.all.push(places);
  }
}

/** The elements that `isWanted`, by the keys that they share; those that have all keys in common are looked at once. */
function placesByKeys(site: Site, isWanted: (i: number) => boolean): number[][] {
  const kinds: number[][] = [];
  const byKey = new Map<string, number[]>();
  const numbers = new KindNumbers(site);
  const contents = new ContentKeys(site);
  for (let i = 0; i < site.elements.length; i++) {
    if (!isWanted(i)) continue;
    const kind = numbers.of(i);
    if (kind < kinds.length) {
      kinds[kind]!.push(i);
      continue;
    }
    kinds.push([i]);
    for (const key of keysOf(i, site, contents)) addTo(byKey, key, kind);
  }
  const sets = new Map<string, number[]>();
  for (const mine of byKey.values()) sets.set(mine.join(), mine);
  return [...sets.values()].map((mine) => inOrder(mine.map((kind) => kinds[kind]!)));
}

/** All numbers of these lists in ascending order. */
function inOrder(lists: number[][]): number[] {
  return lists.length === 1 ? lists[0]! : Array.from(Int32Array.from(lists.flat()).sort());
}

/** Numbers elements so that those of one number have the same keys. */
class KindNumbers {
  private readonly lists = new Map<readonly string[], number>();
  private readonly ids = new Map<string | undefined, number>();
  private readonly own = new Map<number, number>();
  private readonly around = new Map<number, number>();
  private readonly kinds = new Map<number, number>();

  constructor(private readonly site: Site) {}

  of(i: number): number {
    const { shape, label, parent, words, elements } = this.site;
    const outer = parent[i]! < 0 ? 0 : label[parent[i]!]! + 1;
    const own = numberOfPair(this.own, shape[i]!, numberOf(this.lists, words[i]!));
    const around = numberOfPair(this.around, outer, numberOf(this.ids, kindOfId(elements[i]!)));
    return numberOfPair(this.kinds, own, around);
  }
}

/** There are fewer numbers of each sort than this: one for each element at most. */
const MOST_NUMBERS = 2 ** 26;

function numberOfPair(numbers: Map<number, number>, one: number, other: number): number {
  return numberOf(numbers, one * MOST_NUMBERS + other);
}

/** True where all of these could be places of one component: none stands in another, and all have end tags or none. */
export function mayBeOne(places: number[], site: Site): boolean {
  return outermost(places, site).length === places.length && endedAlike(places, site).length === places.length;
}

/** Those with end tags, or those without, whichever are more: one template writes it, or does not. */
function endedAlike(places: number[], { elements }: Site): number[] {
  const isOpen = (i: number) => elements[i]!.closeStart < 0;
  const open = places.filter(isOpen);
  if (open.length === 0 || open.length === places.length) return places;
  return open.length > places.length / 2 ? open : places.filter((i) => !isOpen(i));
}

/** The places that stand in none of the others: a component is not made of itself. */
function outermost(places: number[], { size }: Site): number[] {
  let end = -1;
  const kept = places.filter((i) => {
    if (i < end) return false;
    end = i + size[i]!;
    return true;
  });
  return kept.length === places.length ? places : kept;
}

/** 1 for each element that is settled, or holds what is. */
function settledIn({ elements, parent, size }: Site, { isSettled, covered }: Sifting): Uint8Array {
  const settled = new Uint8Array(elements.length);
  for (let i = 0; i < elements.length; i++) {
    const isWhole = isSettled(elements[i]!);
    if (settled[i] === 1 || !(isWhole || covered.has(elements[i]!))) continue;
    settled.fill(1, i, isWhole ? i + size[i]! : i + 1);
    for (let at = parent[i]!; at >= 0; at = parent[at]!) settled[at] = 1;
  }
  return settled;
}

function isPlace(i: number, { elements, size, levels, profiles, page, first, prose }: Site, sifting: Sifting): boolean {
  const element = elements[i]!;
  return (
    !NEVER.has(element.tag) &&
    !lacksEndTag(element) &&
    prose[i] === 0 &&
    size[i]! >= sifting.minElements &&
    levels[i]! <= MOST_LEVELS &&
    profiles[page[i]!]!.lift[i - first[page[i]!]!]! <= Lift.unsure
  );
}

/** Keys of what elements hold, those of one shape computed once. */
class ContentKeys {
  private readonly known = new Map<number, { held: string; deep: string }>();

  constructor(private readonly site: Site) {}

  of(i: number): { held: string; deep: string } {
    const { shape, size, label } = this.site;
    let keys = this.known.get(shape[i]!);
    if (keys === undefined) {
      const held = new Set<number>();
      const deep = new Set<string>();
      for (let next = i + 1; next < i + size[i]!; next += size[next]!) {
        held.add(label[next]!);
        deep.add(`${label[next]!}(${this.of(next).held})`);
      }
      keys = { held: [...held].sort().join(' '), deep: [...deep].sort().join(' ') };
      this.known.set(shape[i]!, keys);
    }
    return keys;
  }

  /** What an element starts with, where no word says what it is: its first two children. */
  startOf(i: number): string {
    const { elements, size } = this.site;
    const keys: string[] = [];
    for (let next = i + 1; next < i + size[i]! && keys.length < 2; next += size[next]!)
      keys.push(`${elements[next]!.tag}(${this.of(next).held})`);
    return keys.join(' ');
  }
}

/** The keys of an element. */
function keysOf(i: number, site: Site, contents: ContentKeys): string[] {
  const { elements, parent, shape, label, name, words, vocabulary } = site;
  const element = elements[i]!;
  const { tag } = element;
  const own = label[i]!;
  const outer = parent[i]! < 0 ? '' : label[parent[i]!]!;
  const mine = words[i]!;
  const { held, deep } = contents.of(i);
  const keys = [`shape ${shape[i]!}`, `holds ${own} ${held}`, `holds deep ${own} ${deep}`];
  keys.push(`holds in ${outer} > ${own} ${held}`, `in ${outer} > ${own}`);
  if (mine.length === 0 && name[i] === '') keys.push(`starts ${own} ${contents.startOf(i)}`);
  if (mine.length > 0) keys.push(`list ${tag} ${[...mine].sort().join(' ')}`);
  if (SPEAKING.has(tag)) keys.push(`tag ${tag}`);
  if (name[i] !== '') keys.push(`named ${own}`);
  for (const word of new Set(mine)) {
    const { role } = vocabulary.get(word)!;
    // where no word names it, what it looks like tells it apart
    if (role === 'utility' ? name[i] === '' : role !== 'state') keys.push(`word ${tag} ${word}`);
  }
  const id = kindOfId(element);
  if (id !== undefined) keys.push(`id ${tag} ${id}`);
  return keys;
}

/** The word that an id ends with, where it is more than that. */
export function kindOfId(element: Element): string | undefined {
  const id = attrOf(element, 'id');
  const kind = id === undefined ? undefined : /[A-Za-z]{3,}$/.exec(id)?.[0];
  return kind === id ? undefined : kind;
}
