/**
 * Chooses which candidates are parts: greedily what is worth most, given what was chosen the round before. Nested ones
 * both, an inner one counted once in an outer template. Of two that want the same places the better one takes them, and
 * the other keeps the rest: when enough is left in its turn, else after all others.
 */
import { firstNotBefore } from '../search.js';
import { type Site, type Candidate, rootsAt } from '../fragments/site.js';
import { Paths } from '../fragments/paths.js';
import type { Choice } from './choice.js';
import { type Deciding, Joining } from './joining.js';
import { type Owners, ownersOf, type Standing } from './owners.js';
import { standOnceAPage } from './page-parts.js';
import { StandingReader } from './standing.js';
import { takeWider } from './wider.js';
import { sumOf, TAKEN, worthTerms } from './worth.js';
import { LANDMARKS } from './landmarks.js';

/** How often the choice is made again, knowing what else is chosen. */
const ROUNDS = 3;
/** So much of its places must be left to a candidate that loses some, to keep its turn. */
const REST = 0.3;
/** What takes up so much of another is that other. */
const NEARLY = 0.8;

/** What is known of choices once they are generalised. */
export interface Judging extends Pick<Deciding, 'savedBy'> {
  /**
   * Tells which of what is chosen turns out not to be one part: it is not chosen, and what it was in the way of is looked at
   * again.
   */
  unlikeAmong: (chosen: Choice[]) => ReadonlySet<Choice>;
}

/** What was chosen and what was not, best first; those that are not chosen as far as they are worth something by themselves. */
export interface Chosen {
  choices: Choice[];
  /** the same when some of the chosen are not: what they were in the way of is looked at again */
  without: (gone: ReadonlySet<Choice>) => Chosen;
}

/** @param minWorth least worth of what is chosen, in bytes */
export function choose(candidates: Candidate[], site: Site, minWorth: number, judging: Judging): Chosen {
  const reader = new StandingReader(site, new Paths(site));
  const picking = { reader, site, minWorth, isFrame: frameTest(site), joining: new Set<Candidate>() };
  const first = chooseWith(candidates, picking, judging);
  const chosen = first.choices.filter((choice) => choice.chosen);
  const joining = new Set(new Joining(chosen, { site, reader, minWorth, savedBy: judging.savedBy }).joined(candidates));
  if (joining.size === 0) return first;
  // what stands in them, and what they stand in, is chosen anew
  return chooseWith([...new Set([...candidates, ...joining])], { ...picking, joining }, judging);
}

/** The choice without what turns out not to be one part. */
function chooseWith(candidates: Candidate[], picking: Omit<Picking, 'owners'>, judging: Judging): Chosen {
  const { site, minWorth } = picking;
  let owners = ownersOf([], site);
  let picked = pick(candidates, { ...picking, owners });
  // what stands in something counts less, so what is worth too little by itself is not looked at again
  const worthy = new Set(picked.filter(({ worth }) => worth >= minWorth).map(({ candidate }) => candidate));
  const left = candidates.filter((candidate) => worthy.has(candidate));
  const others = picked.filter(({ candidate }) => !worthy.has(candidate));
  for (let round = 0; round < ROUNDS; round++) {
    // what is left at last changes nothing of what goes before it
    const found = ownersOf(
      picked.filter(({ chosen, isRest }) => chosen && !isRest),
      site,
    );
    if (round > 0 && found.at.every((owner, i) => owner?.known === owners.at[i]?.known)) break;
    owners = found;
    picked = pick(left, { ...picking, owners });
  }
  return settled({ picked, left, others }, picking, judging);
}

/** What was picked, the candidates that may still be, and what is not chosen whatever else is. */
interface Picked {
  picked: Choice[];
  left: Candidate[];
  others: Choice[];
}

/** What is left when nothing of it turns out not to be one part: each time some are gone for good, so this ends. */
function settled(some: Picked, picking: Omit<Picking, 'owners'>, judging: Judging): Chosen {
  const without = (gone: ReadonlySet<Choice>) => settled(pickWithout(gone, some, picking), picking, judging);
  const unlike = judging.unlikeAmong(some.picked.filter(({ chosen }) => chosen));
  return unlike.size > 0 ? without(unlike) : { choices: [...some.picked, ...some.others], without };
}

/** What is picked when some of it is not: what that was in the way of, or held, or took places of, is offered again. */
function pickWithout(
  gone: ReadonlySet<Choice>,
  { picked, left, others }: Picked,
  picking: Omit<Picking, 'owners'>,
): Picked {
  const { site } = picking;
  const goneCandidates = new Set(Array.from(gone, ({ candidate }) => candidate));
  const candidates = left.filter((candidate) => !goneCandidates.has(candidate));
  const free = new Uint8Array(site.elements.length);
  for (const { candidate, places } of gone)
    for (const i of places) for (const root of rootsAt(candidate, i, site)) free.fill(1, root, root + site.size[root]!);
  const isFree = (candidate: Candidate) =>
    candidate.places.some((i) => rootsAt(candidate, i, site).some((root) => free[root] === 1));
  const choiceOf = new Map(picked.map((choice) => [choice.candidate, choice]));
  // what has more places now may turn out to be something else, and not be in the way of others
  const grown = picked.filter(
    ({ candidate, chosen, places }) =>
      chosen && !goneCandidates.has(candidate) && places.length < candidate.places.length && isFree(candidate),
  );
  const changed = new Set([...gone, ...grown]);
  const open = candidates.filter((candidate) => {
    const choice = choiceOf.get(candidate);
    if (choice?.chosen === true) return changed.has(choice);
    const inTheWay = choice?.inTheWay ?? null;
    return (inTheWay !== null && changed.has(inTheWay)) || isFree(candidate);
  });
  const opened = new Set(open);
  const kept = picked.filter((choice) => !gone.has(choice) && !opened.has(choice.candidate));
  const chosen = kept.filter((choice) => choice.chosen);
  const taken: Taken = { single: new Map(), runs: new Map() };
  for (const choice of chosen) take(choice, taken, site);
  const owners = ownersOf(
    chosen.filter(({ isRest }) => !isRest),
    site,
  );
  const again = pickFrom(
    open.map((candidate) => ({ candidate, places: candidate.places })),
    { taken, isRest: false },
    { ...picking, owners },
  );
  return {
    picked: [...kept, ...again].sort(bestFirst),
    left: candidates,
    others: [...others, ...Array.from(gone, (choice): Choice => ({ ...choice, chosen: false }))],
  };
}

/** So much of its page is a frame that holds one part of a page; less where it holds several. */
const LARGE = 0.25;

/** Tells what stands once a page and holds the parts of it. */
function frameTest(site: Site): (standing: Standing) => boolean {
  const { profiles, page, size, elements } = site;
  // how many landmarks start before each element
  const before = new Uint32Array(elements.length + 1);
  elements.forEach(({ tag }, i) => (before[i + 1] = before[i]! + (tag === 'main' || LANDMARKS.has(tag) ? 1 : 0)));
  const isFrame = (i: number) => {
    // what is the page's own content is no part, whatever it holds
    if (elements[i]!.tag === 'main') return true;
    if (LANDMARKS.has(elements[i]!.tag)) return false;
    const held = before[i + size[i]!]! - before[i + 1]!;
    return held > 1 || (held === 1 && size[i]! >= profiles[page[i]!]!.elements.length * LARGE);
  };
  return ({ candidate, places }) =>
    candidate.spans === null && standOnceAPage(places, site) && places.filter(isFrame).length > places.length / 2;
}

interface Picking {
  owners: Owners;
  reader: StandingReader;
  site: Site;
  minWorth: number;
  /** candidates that go before what is chosen at some of their places */
  joining: ReadonlySet<Candidate>;
  isFrame: (standing: Standing) => boolean;
}

/** What has taken elements: parts of one element each, and runs. */
interface Taken {
  single: Map<number, Choice>;
  runs: Map<number, Choice>;
}

/** Some places of a candidate, all of them to begin with. */
type Offered = Pick<Standing, 'candidate' | 'places'>;

/** Best first, one choice for each candidate that is worth something. */
function pick(candidates: Candidate[], picking: Picking): Choice[] {
  const taken: Taken = { single: new Map(), runs: new Map() };
  const inTurn = pickFrom(
    candidates.map((candidate) => ({ candidate, places: candidate.places })),
    { taken, isRest: false },
    picking,
  );
  const cut = inTurn.filter(({ chosen, inTheWay }) => !chosen && inTheWay !== null);
  const left = cut.flatMap(({ candidate, places }) => {
    const { left } = leftOf({ candidate, places }, taken, picking.site);
    return left.length < 2 || left.length === places.length ? [] : [{ candidate, places: left }];
  });
  const rests = pickFrom(left, { taken, isRest: true }, picking).filter(({ chosen }) => chosen);
  const kept = new Set(rests.map(({ candidate }) => candidate));
  return [...inTurn.filter(({ chosen, candidate }) => chosen || !kept.has(candidate)), ...rests].sort(bestFirst);
}

function bestFirst(a: Choice, b: Choice): number {
  return Number(b.chosen) - Number(a.chosen) || b.worth - a.worth || a.places[0]! - b.places[0]!;
}

/**
 * Chooses what is worth most again and again, and enters it in what is taken.
 * @param isRest what is offered is what was left of candidates
 */
function pickFrom(
  offered: Offered[],
  { taken, isRest }: { taken: Taken; isRest: boolean },
  { owners, reader, site, minWorth, joining, isFrame }: Picking,
): Choice[] {
  const choices: Choice[] = [];
  const queue: Choice[] = [];
  const offer = ({ candidate, places }: Offered) => {
    const standing = reader.read(candidate, places, owners);
    if (standing === null || (candidate.isTaken !== true && isFrame(standing))) return;
    const terms = [...(candidate.isTaken === true ? [TAKEN] : []), ...worthTerms(standing)];
    const worth = sumOf(terms);
    if (worth <= 0 && worth < minWorth) return;
    insert(queue, { ...standing, terms, worth, chosen: false, isRest, inTheWay: null });
  };
  offered.forEach(offer);
  for (let best = queue.pop(); best !== undefined; best = queue.pop()) {
    const { candidate, places, worth } = best;
    const { left, inTheWay } = leftOf(best, taken, site);
    if (left.length < places.length) {
      if (left.length < Math.max(2, isRest ? 0 : REST * candidate.places.length)) choices.push({ ...best, inTheWay });
      else offer({ candidate, places: left });
      continue;
    }
    const twin = candidate.spans === null ? (memberOf(places, taken.runs) ?? twinOf(places, taken.single, site)) : null;
    if (twin !== null || worth < minWorth) {
      choices.push({ ...best, inTheWay: twin });
      continue;
    }
    const wider = takeWider(queue, best, joining);
    if (wider !== undefined) {
      queue.push(best, wider);
      continue;
    }
    const choice = { ...best, chosen: true };
    choices.push(choice);
    take(choice, taken, site);
  }
  return choices;
}

/** Enters a choice in what is taken. */
function take(choice: Choice, taken: Taken, site: Site): void {
  const { candidate, places } = choice;
  for (const i of places) for (const each of rootsAt(candidate, i, site)) takenLike(candidate, taken).set(each, choice);
}

/** What has taken elements as this candidate would. */
function takenLike({ spans }: Candidate, { single, runs }: Taken): Map<number, Choice> {
  return spans === null ? single : runs;
}

/** The places that nothing has taken, and the first choice that has taken one of the others. */
function leftOf({ candidate, places }: Offered, taken: Taken, site: Site): { left: number[]; inTheWay: Choice | null } {
  const mine = takenLike(candidate, taken);
  let inTheWay: Choice | null = null;
  const left = places.filter((i) => {
    const found = takerOf(candidate, i, mine, site);
    inTheWay ??= found;
    return found === null;
  });
  return { left, inTheWay };
}

/** The choice that has taken an element of a place; null for none. */
function takerOf(candidate: Candidate, i: number, taken: ReadonlyMap<number, Choice>, site: Site): Choice | null {
  if (candidate.spans === null) return taken.get(i) ?? null;
  return rootsAt(candidate, i, site).flatMap((each) => taken.get(each) ?? [])[0] ?? null;
}

/** Keeps the best at the end; of equal ones the one that was offered first. */
function insert(queue: Choice[], choice: Choice): void {
  queue.splice(
    firstNotBefore(queue, (each) => isLess(each, choice)),
    0,
    choice,
  );
}

/** Of equal worth what covers more comes first. */
function isLess(a: Choice, b: Choice): boolean {
  return a.worth < b.worth || (a.worth === b.worth && a.places.length < b.places.length);
}

/** The chosen run that nearly all places are siblings of; null for none. */
function memberOf(places: number[], runs: ReadonlyMap<number, Choice>): Choice | null {
  const found = places.flatMap((i) => runs.get(i) ?? []);
  return found.length >= NEARLY * places.length ? found[0]! : null;
}

/** The chosen one that most places are all that it holds, or that is all that they hold. */
function twinOf(places: number[], taken: ReadonlyMap<number, Choice>, { parent, size, elements }: Site): Choice | null {
  const takerInside = (i: number): Choice | undefined => {
    const least = holdsOne(elements[i]!.children) ? 0 : NEARLY * size[i]!;
    for (let at = i + 1; at < i + size[i]!; at += size[at]!)
      if (size[at]! >= least && taken.has(at)) return taken.get(at);
    return undefined;
  };
  const takerAround = (i: number): Choice | undefined => {
    const around = parent[i]!;
    const taker = taken.get(around);
    if (taker === undefined) return undefined;
    return size[i]! >= NEARLY * size[around]! || holdsOne(elements[around]!.children) ? taker : undefined;
  };
  const found = places.flatMap((i) => takerAround(i) ?? takerInside(i) ?? []);
  return found.length > places.length / 2 ? found[0]! : null;
}

/** True where one element is all that stands there. */
function holdsOne(children: readonly { kind: string; value?: string }[]): boolean {
  let elements = 0;
  for (const child of children) {
    if (child.kind === 'element') elements++;
    // this may be asked for each of thousands of children
    if (elements > 1 || (child.kind === 'text' && child.value!.trim() !== '')) return false;
  }
  return elements === 1;
}
