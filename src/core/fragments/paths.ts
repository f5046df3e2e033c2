/**
 * The structure of fragments as sets of paths: each path is the tags and names from the root of a fragment down to one
 * of its elements, as one number. Fragments of equal shape share their set.
 */
import type { Site } from './site.js';

/** There are fewer labels than this: one for each element at most. */
const MOST_LABELS = 2 ** 26;
/** Deeper than this, elements count as part of what holds them. */
const DEEPEST = 24;

export class Paths {
  /** by the path it goes on from and its label, as one number */
  private readonly numbers = new Map<number, number>();
  private readonly byShape = new Map<number, ReadonlySet<number>>();

  constructor(private readonly site: Site) {}

  /** The paths of the element with the number `i` and all below it. */
  of(i: number): ReadonlySet<number> {
    const { shape } = this.site;
    let paths = this.byShape.get(shape[i]!);
    if (paths === undefined) {
      const found = new Set<number>();
      this.collect(i, 0, 0, found);
      this.byShape.set(shape[i]!, (paths = found));
    }
    return paths;
  }

  /** The path from `root` to `i`, which stands in it or is it. */
  between(root: number, i: number): number {
    const chain = [i];
    for (let at = i; at !== root;) chain.push((at = this.site.parent[at]!));
    let path = 0;
    for (const each of chain.reverse()) path = this.step(path, each);
    return path;
  }

  /** The path that goes on from `path` with the element `i`. */
  step(path: number, i: number): number {
    const key = path * MOST_LABELS + this.site.label[i]!;
    let number = this.numbers.get(key);
    if (number === undefined) this.numbers.set(key, (number = this.numbers.size + 1));
    return number;
  }

  private collect(i: number, outer: number, depth: number, found: Set<number>): void {
    const path = this.step(outer, i);
    found.add(path);
    if (depth === DEEPEST) return;
    const { size } = this.site;
    for (let next = i + 1; next < i + size[i]!; next += size[next]!) this.collect(next, path, depth + 1, found);
  }
}
