/** Chosen parts that are called alike, and would be better as one. */
import { mayBeOne } from '../fragments/candidates.js';
import type { Candidate, Site } from '../fragments/site.js';
import { addTo } from '../groups.js';
import { once } from '../once.js';
import { includesAll } from '../search.js';
import type { Choice } from './choice.js';
import { type Owners, ownersOf, type Standing } from './owners.js';
import type { StandingReader } from './standing.js';
import { sumOf, WORTH, worthTerms } from './worth.js';

/** What a choice comes to: how many components, and the bytes that they save, each by itself. */
interface Saved {
  components: number;
  bytes: number;
}

/** What joining is decided by. */
export interface Deciding {
  site: Site;
  reader: StandingReader;
  /** least worth of what is chosen, in bytes */
  minWorth: number;
  /** what a choice comes to where it is chosen with these */
  savedBy: (choice: Choice, beside: readonly Choice[]) => Saved;
}

/** A part, the chosen ones that it takes the place of, and what it comes to. */
interface Group {
  whole: Choice;
  parts: Choice[];
  saved: () => Saved;
}

/** One part for what is called alike has to be worth so much of what each of those parts is worth. */
export const LEAST_JOINED = 0.3;
/** One for all that is called alike needs so many times the places of each part, and so much in common. */
const ALL = { places: 1.25, coverage: 0.1 };
/** Two hold nearly the same where so much of what is in the one or the other is in both, and is at most places. */
const ALIKE = { shared: 0.6, coverage: 0.6 };
/** So many components that are called alike are splinters. */
const SPLINTERS = 3;
/** Of places with less in common than this, only the tags of what they have in common are saved: so many bytes an element. */
const LITTLE = { coverage: 0.3, bytes: 35 };

/** Finds what could be one part in place of chosen ones. */
export class Joining {
  private readonly owners: Owners;
  private readonly byLabel = new Map<number, Choice[]>();

  constructor(
    private readonly chosen: Choice[],
    private readonly deciding: Deciding,
  ) {
    const { site } = deciding;
    this.owners = ownersOf(
      chosen.filter(({ isRest }) => !isRest),
      site,
    );
    for (const choice of chosen)
      if (choice.candidate.spans === null && choice.name !== '')
        addTo(this.byLabel, site.label[choice.places[0]!]!, choice);
  }

  /** Candidates to go before chosen ones: for a label one of these with all its parts, or new ones with those that are alike. */
  joined(candidates: Candidate[]): Candidate[] {
    const widest = this.widest(candidates);
    return Array.from(this.byLabel, ([label, parts]) => {
      const groups = parts.map((part): Group => ({
        whole: part,
        parts: [part],
        saved: once(() => this.savedBy(part, [part])),
      }));
      const candidate = widest.get(label);
      const isOne = candidate !== undefined && this.isWorthJoining(candidate, groups);
      return isOne ? [candidate] : this.alikeAmong(groups).map(({ whole }) => whole.candidate);
    }).flat();
  }

  /** The candidate with most places that holds all chosen ones of a label, by label. */
  private widest(candidates: Candidate[]): Map<number, Candidate> {
    const { label } = this.deciding.site;
    const widest = new Map<number, Candidate>();
    for (const candidate of candidates) {
      const { spans, places } = candidate;
      const name = label[places[0]!]!;
      const parts = spans === null ? this.byLabel.get(name) : undefined;
      if (parts === undefined || places.length <= (widest.get(name)?.places.length ?? 0)) continue;
      const isMuchWider = (part: Choice) => places.length >= ALL.places * part.places.length;
      if (!parts.every(isMuchWider) || !places.every((i) => label[i] === name)) continue;
      if (parts.every((part) => includesAll(places, part.places))) widest.set(name, candidate);
    }
    return widest;
  }

  /** True where one part saves as much as several, or nearly, where there are so many that they are splinters of one. */
  private isWorthJoining(candidate: Candidate, groups: Group[]): boolean {
    const parts = groups.map(({ whole }) => whole);
    const whole = this.wholeOf(candidate, parts);
    if (whole === null || whole.apart > 0 || whole.coverage < ALL.coverage) return false;
    const apart = sumOfSaved(groups);
    // two of a kind may be two things; of more, each has to be known by itself
    const price = apart.components < SPLINTERS ? 0 : this.deciding.minWorth;
    const leastFor = (components: number) => apart.bytes - (apart.components - components) * price;
    if (mostSavedBy(whole) < leastFor(1)) return false;
    const joined = this.savedBy(whole, parts);
    return joined.components > 0 && joined.bytes >= leastFor(joined.components);
  }

  /** The two that hold most alike first, and what has become of them with others. */
  private alikeAmong(groups: Group[]): Group[] {
    const pairs = groups
      .flatMap((one, i) => groups.slice(i + 1).map((other) => ({ one, other, shared: sharedShare(one, other) })))
      .filter(({ shared }) => shared >= ALIKE.shared)
      .sort((a, b) => b.shared - a.shared);
    const groupOf = new Map(groups.map((group) => [group.whole, group]));
    const refused = new Map<Group, Group[]>();
    for (const pair of pairs) {
      const [one, other] = [groupOf.get(pair.one.whole)!, groupOf.get(pair.other.whole)!];
      if (one === other || refused.get(one)?.includes(other) === true) continue;
      const joined = this.joinAlike(one, other);
      for (const part of joined?.parts ?? []) groupOf.set(part, joined!);
      if (joined !== null) continue;
      // other pairs of their parts ask the same
      addTo(refused, one, other);
      addTo(refused, other, one);
    }
    return [...new Set(groupOf.values())].filter(({ parts }) => parts.length > 1);
  }

  private joinAlike(one: Group, other: Group): Group | null {
    if (sharedShare(one, other) < ALIKE.shared) return null;
    const parts = [...one.parts, ...other.parts];
    const places = [...one.whole.places, ...other.whole.places].sort((a, b) => a - b);
    const whole = mayBeOne(places, this.deciding.site) ? this.wholeOf({ places, spans: null }, parts) : null;
    if (whole === null || whole.coverage < ALIKE.coverage) return null;
    const apart = sumOfSaved([one, other]);
    const joined = this.savedBy(whole, parts);
    if (joined.components === 0) return null;
    // what costs more than it saves is not to cost still more
    const price = (apart.components - joined.components) * WORTH.apart;
    return joined.bytes >= Math.min(apart.bytes, Math.max(0, apart.bytes - price))
      ? { whole, parts, saved: () => joined }
      : null;
  }

  /** What a choice comes to in place of others. */
  private savedBy(choice: Choice, instead: Choice[]): Saved {
    return this.deciding.savedBy(
      choice,
      this.chosen.filter((each) => !instead.includes(each)),
    );
  }

  /** All places as one part; null where some are too different, or it is worth too little beside one of the parts. */
  private wholeOf(candidate: Candidate, parts: Choice[]): Choice | null {
    const standing = this.deciding.reader.read(candidate, candidate.places, this.owners);
    if (standing === null || standing.places.length < candidate.places.length) return null;
    const terms = worthTerms(standing);
    const worth = sumOf(terms);
    if (parts.some((part) => worth < LEAST_JOINED * part.worth)) return null;
    return { ...standing, terms, worth, chosen: true, isRest: false, inTheWay: null };
  }
}

function sumOfSaved(groups: Group[]): Saved {
  const saved = groups.map((group) => group.saved());
  return {
    components: saved.reduce((sum, { components }) => sum + components, 0),
    bytes: saved.reduce((sum, { bytes }) => sum + bytes, 0),
  };
}

/** Bytes that one part for all places of a choice may save at most, as far as that is known before it is made. */
function mostSavedBy({ coverage, constant, places }: Standing): number {
  return coverage < LITTLE.coverage ? constant * places.length * LITTLE.bytes : Infinity;
}

/** Share of what is in one or the other which is in both. */
function sharedShare({ whole: { known } }: Group, { whole: { known: others } }: Group): number {
  let both = 0;
  for (const each of known) if (others.has(each)) both++;
  return both / (known.size + others.size - both);
}
