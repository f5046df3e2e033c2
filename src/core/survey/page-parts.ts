/**
 * Layouts of pages, and the parts of pages in them: header, menu and footer are parts of their own even where one layout
 * holds them all on each page, and stand once in its template.
 */
import type { Paths } from '../fragments/paths.js';
import type { Candidate, Site } from '../fragments/site.js';
import { LANDMARKS } from './landmarks.js';
import type { Standing } from './owners.js';

/** Of more than this the places of a layout have the same: what differs is no page's contents. */
const MOST_ALIKE = 0.9;
/** A part of a page has so many elements at least. */
const LEAST_PART = 8;
/** What holds such a share of what a page has of its own in its layout holds the contents of the page. */
const CONTENTS = 0.1;

/** A layout at one of its places. */
interface Holder {
  layout: Standing;
  /** number of its element there */
  root: number;
}

/** True for places, in document order, that stand on a page each. */
export function standOnceAPage(places: readonly number[], { page }: Site): boolean {
  return places.every((i, at) => at === 0 || page[i] !== page[places[at - 1]!]);
}

export class PageParts {
  private readonly layouts = new Map<Standing, boolean>();
  /** by layout and the root of a place: how many elements the page has there of its own */
  private readonly ownCounts = new Map<Standing, Map<number, number>>();

  constructor(
    private readonly site: Site,
    private readonly paths: Paths,
  ) {}

  /** True for what stands once a page, takes up most of it on most of its pages, and has contents of their own. */
  isLayout(standing: Standing): boolean {
    const known = this.layouts.get(standing) ?? this.readLayout(standing);
    this.layouts.set(standing, known);
    return known;
  }

  private readLayout({ candidate, places, coverage }: Standing): boolean {
    const { page, profiles, size } = this.site;
    if (candidate.spans !== null || coverage > MOST_ALIKE || !standOnceAPage(places, this.site)) return false;
    return places.filter((i) => size[i]! > profiles[page[i]!]!.elements.length / 2).length > places.length / 2;
  }

  /**
   * True for a place of a candidate that is a part of its page: it stands there once, as a landmark or called by its own
   * word, and nothing of the page's contents stands in it.
   * @param path the path from the root of the layout to the place
   * @param holder the layout, and where it stands on that page
   */
  isPart({ places, spans }: Candidate, i: number, path: number, holder: Holder): boolean {
    const { elements, name, size, vocabulary } = this.site;
    if (spans !== null || size[i]! < LEAST_PART) return false;
    const isNamed = LANDMARKS.has(elements[i]!.tag) || vocabulary.get(name[i]!)?.role === 'block';
    if (!isNamed || !standOnceAPage(places, this.site)) return false;
    return this.countOwn(i, path, holder.layout) < this.countOwnAt(holder) * CONTENTS;
  }

  private countOwnAt({ layout, root }: Holder): number {
    const counts = this.ownCounts.get(layout) ?? new Map<number, number>();
    this.ownCounts.set(layout, counts);
    const count = counts.get(root) ?? this.countOwn(root, this.paths.between(root, root), layout);
    counts.set(root, count);
    return count;
  }

  /** How many elements from `i` down have paths that are not part of the layout's template. */
  private countOwn(i: number, path: number, layout: Standing): number {
    const { size } = this.site;
    if (!layout.known.has(path)) return size[i]!;
    let count = 0;
    for (let next = i + 1; next < i + size[i]!; next += size[next]!)
      count += this.countOwn(next, this.paths.step(path, next), layout);
    return count;
  }
}
