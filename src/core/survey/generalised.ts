/** What is chosen, generalised: each choice is so once as long as the same is chosen within its places. */
import { placeText, workingOn } from '../errors.js';
import { type Occurrence, occurrenceOf, runFrom } from '../fragments/occurrence.js';
import { type Candidate, rootsAt, type Site } from '../fragments/site.js';
import { once, onceEach } from '../once.js';
import { placeAt } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import type { NameOf } from '../template/align.js';
import { byteLength } from '../template/cost.js';
import { generalise, type Generalising } from '../template/generalise.js';
import type { General } from '../template/pattern.js';
import type { Choice, Generalised } from './choice.js';
import { ChosenParts, lengthsOfUses, type SiteIndex } from './chosen-parts.js';
import { choose, type Chosen } from './choose.js';
import { savedAlone } from './findings.js';
import { kindsByContent, kindsIn } from './kinds.js';
import { areSamePlaces } from './owners.js';
import type { Thresholds } from './types.js';

/** How the places of a site are made one template. */
export interface Making {
  site: Site;
  /** the folders of its pages, null where URLs are written for none */
  folders: (string | null)[];
  generalising: Generalising;
  thresholds: Thresholds;
}

/** Gives what a choice comes to beside these: itself, two of two kinds, or nothing where its places are not alike. */
export type Among = (chosen: readonly Choice[]) => (choice: Choice) => Generalised[];

/** A choice, and how the places of each were generalised; those that turn out not to be alike are not chosen. */
export interface ChosenAlike {
  chosen: Generalised[];
  others: Choice[];
  among: Among;
  /** the same when some candidates are not chosen */
  without: (gone: ReadonlySet<Candidate>) => ChosenAlike;
  /** how many bytes a component saves that no other one stands in, worked out once */
  savedAlone: (general: General) => number;
}

export function chooseAlike(candidates: Candidate[], making: Making): ChosenAlike {
  const generaliser = new Generaliser(making);
  const made = new Map<Choice, Generalised[]>();
  const all = choose(candidates, making.site, making.thresholds.minWorth, {
    unlikeAmong: (chosen) => {
      const make = generaliser.among(chosen);
      // what was chosen before stays as it was made
      for (const choice of chosen) if (!made.has(choice)) made.set(choice, make(choice));
      return new Set(chosen.filter((choice) => made.get(choice)!.length === 0));
    },
    savedBy: (choice, beside) => {
      const components = made.get(choice) ?? generaliser.among([...beside, choice])(choice);
      return { components: components.length, bytes: generaliser.savedByEach(components) };
    },
  });
  const alike = ({ choices, without }: Chosen): ChosenAlike => ({
    chosen: choices.flatMap((choice) => (choice.chosen ? made.get(choice)! : [])),
    others: choices.filter(({ chosen }) => !chosen),
    among: (some) => generaliser.among(some),
    savedAlone: generaliser.savedAlone,
    without: (gone) =>
      alike(without(new Set(choices.filter(({ chosen, candidate }) => chosen && gone.has(candidate))))),
  });
  return alike(all);
}

/** The prime of the 32-bit FNV hash. */
const FNV_PRIME = 0x01000193;

/** What the places of a candidate come to, by what is chosen within them: all of them together, or of two kinds. */
interface Made {
  places: number[];
  inner: string;
  kinds: Pick<Generalised, 'places' | 'general'>[];
}

/** Two components in place of one have to save so many times as much, and so many bytes more. */
const TWO_KINDS = { times: 1.5, bytes: 1000 };

function isMuchBetter(saved: number, before: number): boolean {
  return saved >= TWO_KINDS.times * before && saved >= before + TWO_KINDS.bytes;
}

/** Generalises choices. */
class Generaliser {
  private readonly made = new Map<Candidate, Made[]>();
  private readonly numbers = new Map<Candidate, number>();
  /** numbers of the roots of what was ever chosen */
  private readonly elements = new Map<Element, number>();
  private readonly index: SiteIndex;
  readonly savedAlone = onceEach(savedAlone);
  private readonly useLengths = onceEach((places: number[]) => lengthsOfUses(places, this.making.site));

  constructor(private readonly making: Making) {
    const { site } = making;
    const pages = new Map(site.profiles.map(({ page }, number) => [page, number]));
    this.index = { site, pages, elements: this.elements };
  }

  /** Bytes that components save, each by itself. */
  savedByEach(some: { general: General }[]): number {
    return some.reduce((sum, { general }) => sum + this.savedAlone(general), 0);
  }

  among(chosen: readonly Choice[]): (choice: Choice) => Generalised[] {
    const { site, generalising } = this.making;
    // 0 for what is no place of any
    const owner = new Int32Array(site.elements.length);
    for (const { candidate, places } of chosen)
      if (candidate.spans === null) for (const i of places) owner[i] = this.numberOf(candidate);
    const options = once(() => keptApart(generalising, this.partsIn(chosen, owner)));
    return (choice) => {
      const { candidate, places } = choice;
      const inner = this.innerOf(choice, owner);
      const all = this.made.get(candidate) ?? [];
      let made = all.find((each) => each.inner === inner && areSamePlaces(each.places, places));
      if (made === undefined) {
        made = { places, inner, kinds: this.kindsOf(choice, options()) };
        this.made.set(candidate, [...all, made]);
      }
      return made.kinds.map((kind) => ({ ...choice, ...kind }));
    };
  }

  /** @param owner numbers of candidates by root */
  private partsIn(chosen: readonly Choice[], owner: Int32Array): ChosenParts {
    const useLength = new Int32Array(owner.length);
    for (const { candidate, places } of chosen)
      if (candidate.spans === null) this.useLengths(places).forEach((length, at) => (useLength[places[at]!] = length));
    return new ChosenParts(this.index, { owner, useLength });
  }

  private numberOf(candidate: Candidate): number {
    const before = this.numbers.get(candidate);
    if (before !== undefined) return before;
    const number = this.numbers.size + 1;
    this.numbers.set(candidate, number);
    for (const i of candidate.places) this.elements.set(this.making.site.elements[i]!, i);
    return number;
  }

  /** What tells which parts stand where within the places of a choice: how many, and two hashes of that. */
  private innerOf({ candidate, places }: Choice, owner: Int32Array): string {
    const { site } = this.making;
    let [count, one, other] = [0, 0, 1];
    for (const i of places)
      for (const root of rootsAt(candidate, i, site))
        for (let at = root; at < root + site.size[root]!; at++) {
          if (owner[at] === 0) continue;
          count++;
          one = Math.imul(Math.imul(one ^ at, FNV_PRIME) ^ owner[at]!, FNV_PRIME);
          other = (Math.imul(other, 31) + at * 17 + owner[at]!) | 0;
        }
    return `${count} ${one} ${other}`;
  }

  /**
   * All places, or two kinds: where nothing names them, and where that saves much more. What is left of one kind stays where
   * it is.
   */
  private kindsOf(choice: Choice, options: Generalising): Made['kinds'] {
    const general = this.generalOf(choice, options);
    if (general === null) return [];
    const isFirst = choice.name + choice.told === '' ? kindsIn(general) : null;
    if (isFirst !== null) return this.apart(choice, isFirst, options);
    const whole = [{ places: choice.places, general }];
    const ways = kindsByContent(general);
    // no more than all can be saved
    if (ways.length === 0 || !isMuchBetter(bytesIn(general.occurrences), this.savedByEach(whole))) return whole;
    const kinds = ways.map((each) => this.apart(choice, each, options));
    return (
      kinds.find((each) => each.length === 2 && isMuchBetter(this.savedByEach(each), this.savedByEach(whole))) ?? whole
    );
  }

  private apart(choice: Choice, isFirst: boolean[], options: Generalising): Made['kinds'] {
    const { places } = choice;
    return [true, false].flatMap((kind) => {
      const some = places.filter((_, i) => isFirst[i] === kind);
      const least = Math.max(2, this.making.thresholds.minOccurrences);
      const part = some.length < least ? null : this.generalOf({ ...choice, places: some }, options);
      return part === null ? [] : [{ places: some, general: part }];
    });
  }

  private generalOf(choice: Choice, options: Generalising): General | null {
    const { site, folders } = this.making;
    const occurrences = occurrencesOf(choice, site, folders);
    const { page, element } = occurrences[0]!;
    return workingOn(placeText(placeAt(page, element.start)), () => generalise(occurrences, options));
  }
}

/** Bytes of the source of occurrences. */
function bytesIn(occurrences: Occurrence[]): number {
  return occurrences.reduce(
    (sum, { page, element, end }) => sum + byteLength(page.source.slice(element.start, end)),
    0,
  );
}

/** What is chosen keeps to itself: in other templates it meets only what is chosen with it. */
function keptApart(generalising: Generalising, parts: ChosenParts): Generalising {
  const nameOf: NameOf = (element) => {
    const number = parts.numberOf(element);
    const name = generalising.nameOf(element);
    return number === 0 ? name : `${name} ${number}`;
  };
  return { ...generalising, nameOf, parts };
}

/** The places of a choice, as they stand in their pages. */
export function occurrencesOf({ candidate, places }: Choice, site: Site, folders: (string | null)[]): Occurrence[] {
  return places.map((i) => {
    const page = site.page[i]!;
    const first = site.elements[i]!;
    const span = candidate.spans?.get(i);
    const element = span === undefined ? first : runFrom(first, span);
    return occurrenceOf(site.profiles[page]!.page, element, folders[page]!);
  });
}
