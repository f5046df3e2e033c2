/**
 * What a finding is recognised by in a file that outlives the survey: what its places have in common at their roots. It
 * holds when other pages change; where these bring in a place that shares less, what is left is still the nearest.
 */
import { RUN } from '../fragments/occurrence.js';
import { addTo } from '../groups.js';
import { attrOf, classWords, type Element } from '../page/tree.js';
import type { Offer } from './types.js';

/** A finding, or what is only offered, as far as it is recognised. */
export type Keyed = Pick<Offer, 'name' | 'occurrences'> & { component?: unknown };

/** A key for each, all of them different: `section.notice`, `div.card in main.page`, `uses of site-header`. */
export function keysOf<T extends Keyed>(findings: T[]): Map<T, string> {
  const keys = new Map<T, string>();

  for (const way of [rootLabel, inParent, withFirst]) {
    const alike = new Map<string, T[]>();
    for (const finding of findings) addTo(alike, way(finding), finding);
    for (const [label, twins] of alike) {
      const isLast = way === withFirst;
      twins.forEach((finding, i) => {
        if (!keys.has(finding) && (isLast || twins.length === 1))
          keys.set(finding, twins.length === 1 ? label : `${label} ${i + 1}`);
      });
    }
  }
  return keys;
}

/** The finding that a decision made before is about; undefined where there is none, or several might be meant. */
export function findingFor<T extends Keyed>(
  { key, finding: name }: { key: string; finding: string },
  keys: ReadonlyMap<T, string>,
): T | undefined {
  const all = [...keys];
  const exact = all.find(([, each]) => each === key);
  if (exact !== undefined) return exact[0];
  const near = all.filter(([each, other]) => each.name === name && isNear(key, other));
  if (near.length === 1) return near[0]![0];
  const alike = all.filter(([, each]) => isNear(key, each));
  return alike.length === 1 ? alike[0]![0] : undefined;
}

/** True for keys of one tag, of which one has all the words of the other. */
function isNear(one: string, other: string): boolean {
  const [mine, theirs] = [one, other].map((key) => key.split(/[ ]/)[0]!.split('.'));
  if (mine![0] !== theirs![0] || mine!.length === 1 || theirs!.length === 1) return false;
  const [few, many] = mine!.length < theirs!.length ? [mine!, theirs!] : [theirs!, mine!];
  return few.every((word) => many.includes(word));
}

function rootLabel({ name, occurrences, component }: Keyed): string {
  if (component !== undefined && component !== null) return `uses of ${name}`;
  const roots = occurrences.map(({ element }) => (element.tag === RUN ? firstElement(element) : element));
  return labelOf(roots.filter((root) => root !== undefined));
}

function inParent(finding: Keyed): string {
  const parents = finding.occurrences.map(({ element: { parent } }) => parent);
  const elements = parents.filter((parent): parent is Element => parent?.kind === 'element');
  const label = elements.length === parents.length ? labelOf(elements) : '';
  return label === '' ? rootLabel(finding) : `${rootLabel(finding)} in ${label}`;
}

function withFirst(finding: Keyed): string {
  const firsts = finding.occurrences.map(({ element }) => firstElement(element));
  const elements = firsts.filter((each) => each !== undefined);
  const label = elements.length === firsts.length ? labelOf(elements) : '';
  return label === '' ? inParent(finding) : `${inParent(finding)} with ${label}`;
}

function firstElement({ children }: Element): Element | undefined {
  return children.find((child): child is Element => child.kind === 'element');
}

/** The tag and the class words, or else the role, that all have; '' where their tags differ. */
function labelOf(elements: Element[]): string {
  const [first] = elements;
  if (first === undefined || elements.some(({ tag }) => tag !== first.tag)) return '';
  const lists = elements.map((element) => new Set(classWords(element)));
  const words = [...lists[0]!].filter((word) => lists.every((list) => list.has(word)));
  if (words.length > 0) return [first.tag, ...words].join('.');
  const role = attrOf(first, 'role');
  const isSame = role !== undefined && elements.every((element) => attrOf(element, 'role') === role);
  return isSame ? `${first.tag}[role=${role}]` : first.tag;
}
