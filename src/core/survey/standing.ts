/**
 * How a set of places stands on the site: how many count, what they have in common, and how much speaks for a part of
 * its own. Places that are copies of one another count little, and what stands in a chosen part counts once for each
 * place in its template, not once a page.
 */
import { kindOfId, SPEAKING } from '../fragments/candidates.js';
import { HEADING, LOADS, linesOfCode } from '../fragments/runs.js';
import { type Site, type Candidate, rootsAt } from '../fragments/site.js';
import type { Paths } from '../fragments/paths.js';
import { isHeadingBlock } from './heading-block.js';
import { areSamePlaces, type Owners, type Standing } from './owners.js';
import { PageParts } from './page-parts.js';
import type { Page } from '../page/parse.js';
import { isDressing, isStyled } from '../words/vocabulary.js';
import { attrOf, type Element } from '../page/tree.js';
import { LANDMARKS } from './landmarks.js';

/** In so many places is a path common, and in so many part of a template at all. */
const COMMON = 0.8;
const KNOWN = 0.3;
/** Paths that so many places have are usual, and a place with less than this share of them is odd. */
const USUAL = 0.5;
/** A further copy on another page counts so much of a place that differs. */
const COPY = 0.25;
/** What speaks by its tag and yet may be the page's own text; its rows and fields may be alike for all that. */
const HOLDERS = new Set(['table', 'blockquote', 'fieldset', 'dl']);
/** What says in it what it is. */
const HEADS = new Set(['caption', 'legend', 'th', 'dt', 'label']);
const CELLS = new Set(['td', 'th']);
/** So many elements in a cell are more than a value with an icon. */
const WIDGET = 4;
/** What stands once in a part counts for so much of a place, less where it has no word of its own. */
const NAMED = 0.8;
const NAMELESS = 0.5;
/** Siblings of one kind that are told apart. */
const MOST_SIBLINGS = 64;
/** What a role, a label or an id says, counts as much as a word with some rules. */
const TOLD = 0.6;

/** Places that one owner's template has, or that stand free. */
interface Group {
  places: number[];
  count: number;
}

/** The places that are no copies, and what all are called. */
interface Basis {
  loose: number[];
  name: string;
}

/** What was found out of some places of a candidate, and what that was told by. */
interface Found {
  places: number[];
  groups: Group[];
  standing: Standing | null;
}

export class StandingReader {
  /** how many elements that are no copies have a label */
  private readonly labelled: Int32Array;
  private readonly found = new Map<Candidate, Found[]>();
  private readonly bases = new Map<number[], Basis>();
  private readonly parts: PageParts;
  /** whether stylesheets are at hand */
  private readonly isStyled: boolean;

  constructor(
    private readonly site: Site,
    private readonly paths: Paths,
  ) {
    const { label, copied, vocabulary } = site;
    this.isStyled = isStyled(vocabulary.values());
    this.parts = new PageParts(site, paths);
    this.labelled = new Int32Array(label.length);
    for (let i = 0; i < label.length; i++) if (copied[i] === 0) this.labelled[label[i]!]!++;
  }

  /** @returns null where the places are too different to be one part */
  read(candidate: Candidate, places: number[], owners: Owners): Standing | null {
    const { loose, name } = this.basisOf(candidate, places);
    if (loose.length === 0) return null;
    const groups = this.groupsOf(candidate, loose, owners, name);
    const all = this.found.get(candidate) ?? [];
    this.found.set(candidate, all);
    // mostly what was found in the round before
    const before = all.find((each) => areSamePlaces(each.places, places) && areEqualGroups(each.groups, groups));
    if (before !== undefined) return before.standing;
    const standing = this.standingOf(candidate, { places, loose, groups, name }, owners);
    all.push({ places, groups, standing });
    return standing;
  }

  /** What all rounds have in common. */
  private basisOf(candidate: Candidate, places: number[]): Basis {
    const before = this.bases.get(places);
    if (before !== undefined) return before;
    const { copied, name: names } = this.site;
    const first = candidate.spans === null ? names[places[0]!]! : '';
    const name = places.every((i) => names[i] === first) ? first : '';
    const basis = { loose: places.filter((i) => copied[i] === 0), name };
    // others are what is left of one in one round
    if (places === candidate.places) this.bases.set(places, basis);
    return basis;
  }

  private standingOf(
    candidate: Candidate,
    { places, loose, groups, name }: { places: number[]; loose: number[]; groups: Group[]; name: string },
    owners: Owners,
  ): Standing | null {
    const { site } = this;
    const first = places[0]!;
    const { tag } = site.elements[first]!;
    const { odd, ...structure } = this.structureOf(candidate, groups);
    // what has little of what most have is something else under the same name
    const alike = odd.size === 0 ? places : places.filter((i) => !odd.has(this.shapeKey(i, candidate)));
    if (alike.length < places.length) return alike.length < 2 ? null : this.read(candidate, alike, owners);
    const beside = this.besideShare(places);
    const told = candidate.spans === null ? this.toldOf(places) : '';
    // runs belong together by what HTML says of them, and so does a heading with what stands below it
    const speaks =
      candidate.spans !== null ||
      SPEAKING.has(tag) ||
      beside >= 0.5 ||
      places.every((i) => isHeadingBlock(site.elements[i]!));
    return {
      candidate,
      places,
      tag,
      name,
      count: groups.reduce((sum, { count }) => sum + count, 0),
      ...structure,
      constant: structure.constant + linesOfCode(candidate, places, site),
      apart: name === '' ? 0 : 1 - loose.length / this.labelled[site.label[first]!]!,
      beside,
      mixed: candidate.spans !== null && LOADS.has(tag) ? 0 : this.mixedShare(places),
      told,
      strength: Math.max(this.strengthOf(name, beside), told === '' ? -1 : TOLD),
      speaks,
      dressed: !this.isStyled || places.some((i) => rootsAt(candidate, i, site).some((root) => this.isDressed(root))),
      prose: mayBeText(tag, candidate) && this.isBare(candidate, places),
    };
  }

  /** What an attribute calls all places alike: a role, a label, or the last word of an id; '' for nothing. */
  private toldOf(places: number[]): string {
    for (const read of [kindOfId, (element: Element) => attrOf(element, 'role'), labelOf]) {
      const first = read(this.site.elements[places[0]!]!) ?? '';
      if (first !== '' && places.every((i) => read(this.site.elements[i]!) === first)) return first;
    }
    return '';
  }

  private groupsOf(candidate: Candidate, loose: number[], owners: Owners, name: string): Group[] {
    const { site } = this;
    const free: number[] = [];
    const inside = new Map<Standing | Page, { name: string; places: number[]; perOwner: Map<number, number> }>();
    for (const i of loose) {
      const root = this.ownerOf(candidate, i, owners);
      const { page } = site.profiles[site.page[i]!]!;
      // a component's template is one that was chosen before
      const owner = owners.at[root] ?? (page.component === undefined ? undefined : page);
      if (owner === undefined) {
        free.push(i);
        continue;
      }
      const called = owners.at[root]?.name ?? page.component!.name;
      const entry = inside.get(owner) ?? { name: called, places: [], perOwner: new Map<number, number>() };
      inside.set(owner, entry);
      entry.places.push(i);
      entry.perOwner.set(root, (entry.perOwner.get(root) ?? 0) + 1);
    }
    const groups: Group[] = [];
    if (free.length > 0) {
      // what pages load is written for their folders, and means the same
      const loads = candidate.spans !== null && LOADS.has(site.elements[free[0]!]!.tag);
      const markups = new Set<string | number>();
      const pages = new Set<number>();
      for (const i of free) {
        markups.add(this.markupKey(i, candidate));
        pages.add(site.page[i]!);
      }
      const distinct = loads ? 1 : markups.size;
      const count = distinct === 1 ? free.length : Math.min(free.length, distinct + COPY * pages.size);
      groups.push({ places: free, count });
    }
    for (const { name: owner, places, perOwner } of inside.values()) {
      // runs are not used in templates
      const most = candidate.spans !== null ? 0 : Math.max(...perOwner.values());
      groups.push({ places, count: this.countInside(places[0]!, most, name, owner) });
    }
    return groups;
  }

  /** Uses in the template of an owner: one of a cell or a part by itself is none. */
  private countInside(place: number, most: number, name: string, owner: string): number {
    if (most !== 1) return most;
    const { elements, parent, size } = this.site;
    if (CELLS.has(elements[place]!.tag)) return 0;
    const around = parent[place]!;
    // a cell holds a value, or a part of its own
    if (around >= 0 && CELLS.has(elements[around]!.tag) && size[place]! >= WIDGET && size[around] === size[place]! + 1)
      return 2;
    if (name === '') return NAMELESS;
    return owner !== '' && areRelated(stemOf(name), stemOf(owner)) ? 0 : NAMED;
  }

  /** The root of the innermost chosen part that has a place in its template; -1 for none. */
  private ownerOf(candidate: Candidate, i: number, { at, around }: Owners): number {
    let root = around[i]!;
    // what is poured into one part may stand in the template of the part around that
    while (root >= 0 && (at[root]!.candidate === candidate || !this.isInTemplate(candidate, i, root, { at, around })))
      root = around[root]!;
    return root;
  }

  private isInTemplate(candidate: Candidate, i: number, root: number, { at, around }: Owners): boolean {
    const owner = at[root]!;
    const { elements, size } = this.site;
    if (LANDMARKS.has(elements[i]!.tag) && owner.name === '' && !LANDMARKS.has(owner.tag)) return false;
    const path = this.paths.between(root, i);
    if (!owner.known.has(path)) return false;
    let children = 0;
    let known = 0;
    for (let next = i + 1; next < i + size[i]!; next += size[next]!) {
      children++;
      if (owner.known.has(this.paths.step(path, next))) known++;
    }
    if (known < children / 2) return false;
    // a layout by itself holds the parts of its pages
    const isHeld = around[root]! >= 0 || !this.parts.isLayout(owner);
    return isHeld || !this.parts.isPart(candidate, i, path, { layout: owner, root });
  }

  private structureOf(
    candidate: Candidate,
    groups: Group[],
  ): Pick<Standing, 'known' | 'constant' | 'coverage' | 'size'> & { odd: Set<string | number> } {
    const weights = new Map<number, number>();
    const shapes = new Map<string | number, ReadonlySet<number>>();
    let size = 0;
    let own = 0;
    let total = 0;
    for (const { places, count } of groups) {
      const byShape = new Map<string | number, { first: number; times: number }>();
      for (const i of places) {
        const key = this.shapeKey(i, candidate);
        const entry = byShape.get(key);
        if (entry !== undefined) entry.times++;
        else byShape.set(key, { first: i, times: 1 });
      }
      for (const [key, { first, times }] of byShape) {
        // a group that counts for nothing still has a say in what is common
        const weight = (Math.max(count, 0.1) * times) / places.length;
        const paths = this.pathsOf(first, candidate);
        shapes.set(key, paths);
        for (const path of paths) weights.set(path, (weights.get(path) ?? 0) + weight);
        size += weight * this.sizeOf(first, candidate);
        own += weight * paths.size;
        total += weight;
      }
    }
    let constant = 0;
    const known = new Set<number>();
    const usual: number[] = [];
    for (const [path, weight] of weights) {
      if (weight >= COMMON * total) constant++;
      if (weight >= USUAL * total) usual.push(path);
      if (weight >= KNOWN * total) known.add(path);
    }
    const odd = new Set<string | number>();
    for (const [key, paths] of shapes)
      if (usual.filter((path) => paths.has(path)).length < usual.length * USUAL) odd.add(key);
    return { odd, known, constant, coverage: Math.min(1, (constant * total) / own), size: size / total };
  }

  private pathsOf(i: number, candidate: Candidate): ReadonlySet<number> {
    if (candidate.spans === null) return this.paths.of(i);
    const found = new Set<number>();
    // siblings of a kind are told apart by their order
    const counts = new Map<number, number>();
    for (const each of rootsAt(candidate, i, this.site)) {
      const kind = this.paths.step(0, each);
      const number = counts.get(kind) ?? 0;
      counts.set(kind, number + 1);
      for (const path of this.paths.of(each)) found.add(path * MOST_SIBLINGS + Math.min(number, MOST_SIBLINGS - 1));
    }
    return found;
  }

  private sizeOf(i: number, candidate: Candidate): number {
    if (candidate.spans === null) return this.site.size[i]!;
    return rootsAt(candidate, i, this.site).reduce((sum, each) => sum + this.site.size[each]!, 0);
  }

  private shapeKey(i: number, candidate: Candidate): string | number {
    return this.keyBy(this.site.shape, i, candidate);
  }

  private markupKey(i: number, candidate: Candidate): string | number {
    return this.keyBy(this.site.exact, i, candidate);
  }

  private keyBy(numbers: Int32Array, i: number, candidate: Candidate): string | number {
    if (candidate.spans === null) return numbers[i]!;
    return rootsAt(candidate, i, this.site)
      .map((each) => numbers[each])
      .join(' ');
  }

  /** True where nothing in any place has a class, an id or a role, nor the same text or attributes as most of them have. */
  private isBare(candidate: Candidate, places: number[]): boolean {
    const { bare, size, elements, exact } = this.site;
    const isHolder = candidate.spans === null && HOLDERS.has(elements[places[0]!]!.tag);
    const tells = (element: Element) => saysSomething(element) && (!isHolder || HEADS.has(element.tag));
    if (places.some((i) => rootsAt(candidate, i, this.site).some((root) => bare[root] === 0))) return false;
    const spare = places.length - Math.ceil(COMMON * places.length);
    const counts = new Map<number, number>();
    let most = 0;
    for (const [number, i] of places.entries()) {
      const mine = new Set<number>();
      for (const root of rootsAt(candidate, i, this.site))
        for (let at = root; at < root + size[root]!; at++) if (tells(elements[at]!)) mine.add(exact[at]!);
      for (const each of mine) {
        const count = (counts.get(each) ?? 0) + 1;
        counts.set(each, count);
        most = Math.max(most, count);
      }
      // the rest of the places cannot make it enough
      if (number + 1 - most > spare) return true;
    }
    return false;
  }

  private isDressed(i: number): boolean {
    return this.site.words[i]!.some((word) => isDressing(this.site.vocabulary.get(word)!));
  }

  private besideShare(places: number[]): number {
    const counts = new Map<number, number>();
    for (const i of places) {
      const parent = this.site.parent[i]!;
      counts.set(parent, (counts.get(parent) ?? 0) + 1);
    }
    let several = 0;
    for (const count of counts.values()) if (count > 1) several += count;
    return several / places.length;
  }

  private mixedShare(places: number[]): number {
    const { elements, parent, label, alike } = this.site;
    const groups = new Set<number>();
    let all = 0;
    for (const i of places) {
      const group = label[i]! * (elements.length + 1) + parent[i]! + 1;
      if (groups.has(group)) continue;
      groups.add(group);
      all += alike[i]!;
    }
    return 1 - places.length / all;
  }

  /** A part of a block that stands once in it is no part of its own. */
  private strengthOf(name: string, beside: number): number {
    const word = this.site.vocabulary.get(name);
    if (word === undefined) return 0;
    if (word.role === 'hook') return Math.min(1, word.strength);
    if (word.role === 'part' && beside < 0.5) return Math.min(word.strength, 0.5) - 1;
    return word.strength;
  }
}

function mayBeText(tag: string, { spans }: Candidate): boolean {
  return spans === null ? !SPEAKING.has(tag) || HOLDERS.has(tag) : HEADING.test(tag);
}

function areEqualGroups(some: Group[], others: Group[]): boolean {
  return (
    some.length === others.length &&
    some.every(({ places, count }, i) => count === others[i]!.count && areSamePlaces(places, others[i]!.places))
  );
}

function saysSomething({ attrs, children }: Element): boolean {
  return attrs.length > 0 || children.some((child) => child.kind === 'text' && child.value.trim() !== '');
}

/** True for words of one family: `nav` and `navbar`. */
function areRelated(a: string, b: string): boolean {
  return a.startsWith(b) || b.startsWith(a);
}

function labelOf(element: Element): string | undefined {
  return attrOf(element, 'aria-label');
}

function stemOf(name: string): string {
  return /^[^-_]+/.exec(name)?.[0] ?? name;
}
