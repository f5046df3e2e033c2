/**
 * Sets of places that could be one component, by keys: each element is entered under what it is called, where it stands
 * and what it holds; runs of siblings under what they are made of. Every key is linear in the number of elements, and
 * sets that are equal are one candidate.
 */
import { attrOf, classWords, type Element, lacksEndTag } from '../page/tree.js';
import { isSure, Lift } from './profile.js';
import { findRuns } from './runs.js';
import { type Candidate, rootsAt, type Site } from './site.js';

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
  /** true for a use of a component, and for what one gives back: no place, and neither is what holds one */
  isSettled: (element: Element) => boolean;
}

/** All candidates, in the order in which their keys were first met. */
export function findCandidates(site: Site, sifting: Sifting): Candidate[] {
  const groups = new Map<string, number[]>();
  const put = (key: string, i: number) => {
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [i]);
    else group.push(i);
  };
  const settled = settledIn(site, sifting);
  const contents = new ContentKeys(site);
  for (let i = 0; i < site.elements.length; i++)
    if (settled[i] === 0 && isPlace(i, site, sifting)) enter(i, site, contents, put);
  const seen = new Set<string>();
  const sets = new Map<string, Candidate>();
  const least = Math.max(2, sifting.minOccurrences);
  for (const all of groups.values()) {
    if (all.length < least) continue;
    const group = outermost(all, site);
    if (group.length < least) continue;
    const set = group.join();
    if (seen.has(set)) continue;
    seen.add(set);
    const sure = endedAlike(
      group.filter((i) => isSure(site.profiles[site.page[i]!]!, i - site.first[site.page[i]!]!)),
      site,
    );
    const left = sure.length === group.length ? set : sure.join();
    if (sure.length >= least && !sets.has(left)) sets.set(left, { places: sure, spans: null });
  }
  const runs = findRuns(site).filter(
    (run) =>
      run.places.length >= least && !run.places.some((i) => rootsAt(run, i, site).some((at) => settled[at] === 1)),
  );
  return [...sets.values(), ...runs];
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
function settledIn({ elements, parent, size }: Site, { isSettled }: Sifting): Uint8Array {
  const settled = new Uint8Array(elements.length);
  for (let i = 0; i < elements.length; i++) {
    if (settled[i] === 1 || !isSettled(elements[i]!)) continue;
    settled.fill(1, i, i + size[i]!);
    for (let at = parent[i]!; at >= 0; at = parent[at]!) settled[at] = 1;
  }
  return settled;
}

function isPlace(i: number, { elements, size, profiles, page, first, prose }: Site, sifting: Sifting): boolean {
  const element = elements[i]!;
  return (
    !NEVER.has(element.tag) &&
    !lacksEndTag(element) &&
    prose[i] === 0 &&
    size[i]! >= sifting.minElements &&
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

/** Enters one element under all its keys. */
function enter(i: number, site: Site, contents: ContentKeys, put: (key: string, i: number) => void): void {
  const { elements, parent, shape, label, name, vocabulary } = site;
  const element = elements[i]!;
  const { tag } = element;
  const own = label[i]!;
  const outer = parent[i]! < 0 ? '' : label[parent[i]!]!;
  const words = classWords(element);
  const { held, deep } = contents.of(i);
  put(`shape ${shape[i]!}`, i);
  put(`holds ${own} ${held}`, i);
  put(`holds deep ${own} ${deep}`, i);
  put(`holds in ${outer} > ${own} ${held}`, i);
  put(`in ${outer} > ${own}`, i);
  if (words.length === 0 && name[i] === '') put(`starts ${own} ${contents.startOf(i)}`, i);
  if (words.length > 0) put(`list ${tag} ${words.length === 1 ? words[0]! : [...words].sort().join(' ')}`, i);
  if (SPEAKING.has(tag)) put(`tag ${tag}`, i);
  if (name[i] !== '') put(`named ${own}`, i);
  for (const word of words) {
    const role = vocabulary.get(word)!.role;
    // where no word names it, what it looks like tells it apart
    if (role === 'utility' ? name[i] === '' : role !== 'state') put(`word ${tag} ${word}`, i);
  }
  const id = attrOf(element, 'id');
  const kind = id === undefined ? undefined : /[A-Za-z]{3,}$/.exec(id)?.[0];
  if (kind !== undefined && kind !== id) put(`id ${tag} ${kind}`, i);
}
