/** What is chosen beside a choice, as the parts that stand in its places. */
import type { Site } from '../fragments/site.js';
import { addTo } from '../groups.js';
import { onceEach } from '../once.js';
import type { Page } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import { firstNotBefore } from '../search.js';
import { PRICE } from '../template/cost.js';
import type { InnerParts } from '../template/inner-parts.js';

/** Where things are in a site. */
export interface SiteIndex {
  site: Site;
  /** numbers of pages */
  pages: ReadonlyMap<Page, number>;
  /** numbers of elements; of those that were ever chosen, at least */
  elements: ReadonlyMap<Element, number>;
}

/** By the numbers of elements: which part each is the root of, 0 for none, and about how many bytes its use will have. */
interface Roots {
  owner: Int32Array;
  useLength: Int32Array;
}

export class ChosenParts implements InnerParts {
  constructor(
    private readonly index: SiteIndex,
    private readonly roots: Roots,
  ) {}

  /** The number of the part that an element is the root of; 0 for none. */
  numberOf(element: Element): number {
    const i = this.index.elements.get(element);
    return i === undefined ? 0 : this.roots.owner[i]!;
  }

  has(element: Element): boolean {
    return this.numberOf(element) !== 0;
  }

  sparedIn(page: Page, [from, to]: readonly [number, number]): number {
    const { elements } = this.index.site;
    const numbers = this.inPage(page);
    let spared = 0;
    let end = from;
    for (let at = firstNotBefore(numbers, (i) => elements[i]!.start < from); at < numbers.length; at++) {
      const element = elements[numbers[at]!]!;
      if (element.start >= to) break;
      // what stands in another one goes with it
      if (element.start < end || element.end > to) continue;
      spared += Math.max(0, element.end - element.start - this.roots.useLength[numbers[at]!]!);
      end = element.end;
    }
    return spared;
  }

  /** The numbers of the roots in a page, in document order. */
  private readonly inPage = onceEach((page: Page): number[] => {
    const { site, pages } = this.index;
    const number = pages.get(page);
    if (number === undefined) return [];
    const found: number[] = [];
    const after = site.first[number + 1] ?? site.elements.length;
    for (let i = site.first[number]!; i < after; i++) if (this.roots.owner[i] !== 0) found.push(i);
    return found;
  });
}

/** About how many bytes a use in each of some places will have: what not all of them say is given to it. */
export function lengthsOfUses(places: number[], { elements, exact }: Pick<Site, 'elements' | 'exact'>): number[] {
  // copies say the same
  const copies = new Map<number, number[]>();
  for (const i of places) addTo(copies, exact[i]!, i);
  const kinds = Array.from(copies, ([key, { [0]: first, length }]) => ({
    key,
    length,
    texts: textsIn(elements[first!]!),
  }));
  const counts = new Map<string, number>();
  for (const { length, texts } of kinds)
    for (const text of new Set(texts)) counts.set(text, (counts.get(text) ?? 0) + length);
  const lengthGiven = (text: string) => (counts.get(text) === places.length ? 0 : PRICE.given + text.length);
  const lengthOf = (texts: string[]) => texts.reduce<number>((sum, text) => sum + lengthGiven(text), PRICE.use);
  const lengths = new Map(kinds.map(({ key, texts }) => [key, lengthOf(texts)]));
  return places.map((i) => lengths.get(exact[i]!)!);
}

/** What an element and all in it say in attributes and texts. */
function textsIn(element: Element): string[] {
  const texts: string[] = [];
  const add = ({ attrs, children }: Element) => {
    for (const { value } of attrs) texts.push(value);
    for (const child of children)
      if (child.kind === 'element') add(child);
      else if (child.kind === 'text' && child.value.trim() !== '') texts.push(child.value);
  };
  add(element);
  return texts;
}
