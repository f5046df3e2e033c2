/**
 * Sets of elements that could be one component, by keys: each element is entered under what it is called, where it
 * stands and what it holds. Every key is linear in the number of elements, and sets that are equal are one candidate.
 */
import { classWords } from '../page/tree.js';
import { isUse } from '../template/form.js';
import { Lift } from './profile.js';
import type { Site } from './site.js';

export interface Candidate {
  /** numbers of elements, in document order */
  places: number[];
  /** the keys that it was found by */
  keys: string[];
}

/** Elements that are something by their tag (HTML standard, "sections", "grouping content", "tabular data", "forms"). */
const SPEAKING = new Set(
  'header nav aside footer main form article section dialog figure table tr li dl details fieldset blockquote button label select search'.split(
    ' ',
  ),
);
/** Elements that are not cut out by themselves. */
const NEVER = new Set('html head body script style link meta title base br hr wbr option path g source track param col'.split(' '));

/** All candidates. @param least least number of elements of a place */
export function findCandidates(site: Site, least: number): Candidate[] {
  const { elements, parent, size, shape, name, vocabulary, profiles, page, first } = site;
  const groups = new Map<string, number[]>();
  const put = (key: string, i: number) => {
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [i]);
    else group.push(i);
  };
  for (const [i, element] of elements.entries()) {
    const { tag } = element;
    if (NEVER.has(tag) || size[i]! < least) continue;
    if (profiles[page[i]!]!.lift[i - first[page[i]!]!]! > Lift.unsure) continue;
    const own = `${tag}.${name[i]!}`;
    const outer = parent[i]! < 0 ? '' : `${elements[parent[i]!]!.tag}.${name[parent[i]!]!}`;
    const words = classWords(element);
    const held = contentKey(i, site);
    put(`shape ${shape[i]!}`, i);
    put(`content ${own} ${held}`, i);
    put(`content in ${outer} > ${own} ${held}`, i);
    put(`in ${outer} > ${own}`, i);
    if (words.length > 0) put(`list ${tag} ${[...words].sort().join(' ')}`, i);
    if (SPEAKING.has(tag)) put(`tag ${tag}`, i);
    if (name[i] !== '') put(`named ${own}`, i);
    for (const word of words) {
      const role = vocabulary.get(word)!.role;
      if (role !== 'utility' && role !== 'state') put(`word ${tag} ${word}`, i);
    }
    const id = element.attrs.find((attr) => attr.name === 'id')?.value;
    const kind = id === undefined ? undefined : /[A-Za-z]{3,}$/.exec(id)?.[0];
    if (kind !== undefined && kind !== id) put(`id ${tag} ${kind}`, i);
  }
  const sets = new Map<string, Candidate>();
  for (const [key, places] of groups) {
    if (places.length < 2) continue;
    const set = places.join();
    const candidate = sets.get(set);
    if (candidate === undefined) sets.set(set, { places, keys: [key] });
    else candidate.keys.push(key);
  }
  return [...sets.values()];
}

/** What an element holds: the set of its children's tags and names. */
function contentKey(i: number, { elements, size, name }: Site): string {
  const held = new Set<string>();
  for (let next = i + 1; next < i + size[i]!; next += size[next]!) held.add(`${elements[next]!.tag}.${name[next]!}`);
  return [...held].sort().join(' ');
}

void isUse;
