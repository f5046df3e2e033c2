/**
 * From what was chosen to findings: names, components composed with each other, what they save. What would have to stand
 * in a template that does not use it is left out here, by the code that the lift asks too.
 */
import { nameComponent } from './component-names.js';
import { composeAll } from '../template/compose.js';
import { frameOf, generalise, type Generalising } from '../template/generalise.js';
import type { Child, Element } from '../page/tree.js';
import { type General, type InnerUse, type Pattern, patternsIn } from '../template/pattern.js';
import { type Amount, findingFor, kindOf, less, savedBy, type Written, writtenFor } from './findings.js';
import { type Nested, type Spot, spotsOf } from './nesting.js';
import { Problem, workingOn } from '../errors.js';
import { once } from '../once.js';
import { firstElementOf, type Occurrence } from '../fragments/occurrence.js';
import type { Candidate } from '../fragments/site.js';
import { placeAt } from '../page/parse.js';
import type { Spelled } from '../page/spelling.js';
import { targetIn } from '../page/url.js';
import type { Choice, Generalised } from './choice.js';
import type { ChosenAlike } from './generalised.js';
import type { Finding, FindingProp, Offer, Thresholds } from './types.js';
import type { Vocabulary } from '../words/vocabulary.js';
import { frameTerms, laterTerms, sumOf, type Term } from './worth.js';

/** A chosen group on its way to a finding. */
interface Part {
  name: string;
  choice: Generalised;
  occurrences: General['occurrences'];
  general: General;
  props: FindingProp[];
  /** where what stood in it could not be used in its template, and is poured in: what that is, and the part without */
  opened: { inner: Candidate; closed: Part } | null;
}

export interface Recommended {
  findings: Finding[];
  /** what could not be written, with what is in the way, or is worth too little once it is */
  dropped: Choice[];
  /** those of them that are worth too little */
  poor: Generalised[];
}

/** What recommending is decided by, beside thresholds. */
interface Recommending extends Pick<ChosenAlike, 'among' | 'savedAlone'> {
  /** no component is there yet */
  isFirst: boolean;
}

/**
 * Best first.
 * @param taken names that are none to be given
 */
export function recommend(
  choices: Generalised[],
  taken: ReadonlySet<string>,
  options: Generalising,
  { isFirst, among, savedAlone, ...thresholds }: Thresholds & Recommending,
): Recommended {
  const partOf = (choice: Generalised): Part => {
    const { occurrences } = choice.general;
    // records keep the spelling of their page: lists that mean the same from every folder are better poured in
    const frame = hasListsByFolder(choice.general) ? withListsPoured(choice.general, options) : null;
    return { name: '', choice, occurrences, general: frame ?? choice.general, props: [], opened: null };
  };
  let parts = named(choices.map(partOf), taken, options.vocabulary);
  const dropped: Choice[] = [];
  const poor: Generalised[] = [];
  // the elements around parts that were left out, as long as what stands there was not made again since
  let around = new Set<Element>();
  const writtenOf = writtenOnce(options.keeping);
  // each round leaves places or parts out, or makes again what some were left out of, so this ends
  for (;;) {
    const composed = composeAll(parts, options);
    const spots = spotsIn(parts, composed);
    const settled = withoutUnwritable(parts, spots, options, { ...thresholds, writtenOf }, dropped);
    if (settled.length < parts.length || settled.some((part, i) => part !== parts[i])) {
      parts = named(settled, taken, options.vocabulary);
      continue;
    }
    const written = new Map(parts.map((part) => [part, writtenOf(part.name, composed.get(part)!)]));
    const saved = savingsOf(parts, { composed, spots, written });
    const made = (part: Part) => recommendedFinding(part, { composed, spots, written, saved, isFirst });
    // where components are first made, only a frame, a list or a rest may turn out to be worth less than it was chosen for
    const isFrameOrRest = (part: Part) => !isFirst || part.choice.isRest || composed.get(part)!.slots.length > 0;
    const isDoubtful = (part: Part) => isFrameOrRest(part) || hasList(composed.get(part)!);
    const findings = new Map(parts.map((part) => [part, made(part)]));
    const poorParts = new Set(
      parts.filter((part) => isDoubtful(part) && sumOf(findings.get(part)!.terms) < thresholds.minWorth),
    );
    if (poorParts.size > 0) {
      for (const part of poorParts)
        // nothing better is looked for in the places of what is only long as a list
        if (isFrameOrRest(part)) poor.push(part.choice);
        else dropped.push({ ...part.choice, chosen: false });
      around = new Set([...around, ...elementsAround(poorParts)]);
      parts = named(partsWithout(parts, poorParts), taken, options.vocabulary);
      continue;
    }
    const make = once(() => among(parts.map(({ choice }) => choice)));
    const better = parts.map((part) => {
      if (!part.occurrences.some(({ element }) => around.has(element))) return part;
      // what was kept apart for the sake of what is left out may meet now
      const [again, ...others] = make()(part.choice);
      const isOther = again !== undefined && others.length === 0 && again.general !== part.choice.general;
      return isOther && savedAlone(again.general) > savedAlone(part.general) ? partOf(again) : part;
    });
    around = new Set();
    if (better.every((part, i) => part === parts[i])) {
      const all = [...dropped, ...poor.map((choice): Choice => ({ ...choice, chosen: false }))];
      return { findings: [...findings.values()], dropped: all, poor };
    }
    parts = named(better, taken, options.vocabulary);
  }
}

/** Parts when some are left out; what was opened for their sake is closed. */
function partsWithout(parts: Part[], gone: ReadonlySet<Part>): Part[] {
  const candidates = new Set(Array.from(gone, ({ choice }) => choice.candidate));
  return parts
    .filter((part) => !gone.has(part))
    .map((part) => (part.opened !== null && candidates.has(part.opened.inner) ? part.opened.closed : part));
}

/** The elements that parts stand in. */
function elementsAround(parts: Iterable<Part>): Set<Element> {
  const around = new Set<Element>();
  for (const { occurrences } of parts)
    for (const { element } of occurrences) {
      let at = firstElementOf(element).parent;
      for (; at?.kind === 'element' && !around.has(at); at = at.parent) around.add(at);
    }
  return around;
}

/** Gives a component as it is written under a name. */
type WrittenOf = (name: string, general: General) => () => Written;

/** Writes components, each once as long as it is called the same: what no other one stands in is the same in every round. */
function writtenOnce(keeping: Generalising['keeping']): WrittenOf {
  const known = new WeakMap<General, { name: string; written: () => Written }>();
  return (name, general) => {
    const before = known.get(general);
    if (before?.name === name) return before.written;
    const written = once(() => workingOn(name, () => writtenFor(name, general, keeping)));
    known.set(general, { name, written });
    return written;
  };
}

/** True where lists at places in several folders mean the same, and are spelled otherwise. */
function hasListsByFolder({ props, occurrences }: General): boolean {
  return props.some(({ list, values }) => {
    if (list === undefined) return false;
    const urls = new Set(list.items.props.filter(({ type }) => type === 'url').map(({ name }) => name));
    const meant = values.map((value, i) => {
      const { folder } = occurrences[i]!;
      return JSON.stringify(value, (field, each: unknown) => {
        if (!urls.has(field) || folder === null) return each;
        return targetIn((each as Spelled | null)?.raw ?? '', 'url', folder);
      });
    });
    return new Set(meant).size < new Set(values.map((value) => JSON.stringify(value))).size;
  });
}

function withListsPoured({ occurrences, props }: General, options: Generalising): General | null {
  return withPoured(
    occurrences,
    props.flatMap(({ list }) => list?.items.occurrences ?? []),
    options,
  );
}

/** The same with what holds these items poured in, or all that varies where that is the root itself. */
function withPoured(occurrences: Occurrence[], items: Occurrence[], options: Generalising): General | null {
  const holders = new Set(items.map(({ element }) => element.parent as Element));
  if (occurrences.some(({ element }) => holders.has(element))) return frameOf(occurrences, options);
  return generalise(occurrences, { ...options, poured: holders });
}

/** Where each place of each part comes to stand. */
function spotsIn(parts: Part[], composed: ReadonlyMap<Part, General>): Map<Part, Spot<Nested & { part: Part }>[]> {
  const nested = parts.map((part) => {
    const { slots, uses = new Map<Pattern, InnerUse>() } = composed.get(part)!;
    const nodes = [...uses.keys()].flatMap((pattern): (Child | null)[] => pattern.nodes);
    const covered = new Set(nodes.filter((node): node is Element => node?.kind === 'element'));
    return { part, name: part.name, occurrences: part.occurrences, slots, covered };
  });
  return new Map([...spotsOf(nested)].map(([{ part }, spots]) => [part, spots]));
}

/** The parts without places that would have to stand in templates that do not use them; or these templates with slots. */
function withoutUnwritable(
  parts: Part[],
  spots: ReadonlyMap<Part, Spot<Nested & { part: Part }>[]>,
  options: Generalising,
  { minOccurrences, writtenOf }: Thresholds & { writtenOf: WrittenOf },
  dropped: Choice[],
): Part[] {
  const savedTogether = (some: Part[]) =>
    some.reduce((sum, { name, general }) => {
      const { gains, file } = writtenOf(name, general)();
      return sum + savedBy(gains, file).bytes;
    }, 0);
  const opened = new Map<Part, Part>();
  const settled = parts.flatMap((part): Part[] => {
    const mine = spots.get(part)!;
    const kept = part.occurrences.filter((_, at) => mine[at]!.at !== 'nowhere');
    if (kept.length === part.occurrences.length) return [part];
    if (kept.length === 0) {
      const holderOf = (spot: (typeof mine)[number]) => (spot.at === 'nowhere' ? spot.holder.part : null);
      const holders = new Set(mine.flatMap((spot) => holderOf(spot) ?? []));
      const frames = [...holders].map((holder) => {
        const within = part.occurrences.filter((_, at) => holderOf(mine[at]!) === holder);
        const isRun = part.choice.candidate.spans !== null;
        return [holder, isRun ? null : frameFor(holder, { inner: part.choice.candidate, within }, options)] as const;
      });
      const opening = frames.flatMap(([, frame]) => frame ?? []);
      // what has to be said in each place may be more than that is worth
      if (opening.length === holders.size && savedTogether([part, ...opening]) >= savedTogether([...holders])) {
        for (const [holder, frame] of frames) opened.set(holder, frame!);
        return [part];
      }
    }
    const general = kept.length < minOccurrences ? null : generalise(kept, options);
    if (general !== null) return [{ ...part, occurrences: general.occurrences, general }];
    const spot = mine.find(({ at }) => at === 'nowhere');
    dropped.push({
      ...part.choice,
      chosen: false,
      inTheWay: spot?.at === 'nowhere' ? spot.holder.part.choice : null,
    });
    return [];
  });
  return settled.map((part) => opened.get(part) ?? part);
}

/** A part with what holds these places of an inner one, several in each, poured in; null where that cannot be, or was done. */
function frameFor(
  holder: Part,
  { inner, within }: { inner: Candidate; within: Occurrence[] },
  options: Generalising,
): Part | null {
  if (holder.opened !== null || within.length < 2 * holder.occurrences.length) return null;
  const general = withPoured(holder.occurrences, within, options);
  const opened = { inner, closed: holder };
  return general === null ? null : { ...holder, occurrences: general.occurrences, general, opened };
}

/**
 * What is not recommended, made when someone asks for it; nothing where no words tell it from others.
 * @param taken names that are none to be given; its own is added
 */
export function otherFinding(
  choice: Choice,
  occurrences: Occurrence[],
  taken: Set<string>,
  options: Generalising,
): Offer[] {
  const name = nameComponent(occurrences, taken, options.vocabulary);
  if (name === undefined) return [];
  taken.add(name);
  const reason = choice.inTheWay === null ? 'worth too little' : 'another one is better in its places';
  const make = (): Finding => {
    const general = generalise(occurrences, options);
    if (general !== null) return { ...findingFor(name, general, options.keeping), reason, terms: choice.terms };
    const { page, element } = occurrences[0]!;
    throw new Problem(`the places of ${name} are not alike: no one template can be written for them`, {
      place: placeAt(page, element.start),
      hint: `point at fewer of them: estrade show --select`,
    });
  };
  return [{ name, kind: kindOf(occurrences), reason, occurrences, finding: make }];
}

/** All parts as they are written; texts are made when they are first asked for. */
interface Composed {
  composed: ReadonlyMap<Part, General>;
  spots: ReadonlyMap<Part, Spot<Nested>[]>;
  written: ReadonlyMap<Part, () => Written>;
}

/**
 * What gives what a part saves: its places in pages, and each template that uses it, as if that one had been written with the
 * part's markup in full. So what all save is what lifting them saves.
 */
function savingsOf(parts: Part[], { composed, spots, written }: Composed): ReadonlyMap<Part, () => Amount> {
  const byName = new Map(parts.map((part) => [part.name, part]));
  const uses = parts.flatMap((outer) =>
    Array.from(composed.get(outer)!.uses?.values() ?? [], ({ inner, indices }) => {
      return { outer, inner: byName.get(inner.name)!, place: indices.find((index) => index >= 0)! };
    }),
  );
  const gainAt = ({ inner, place }: (typeof uses)[number]) => written.get(inner)!().gains[place]!;
  return new Map(
    parts.map((part) => {
      const inTemplates = uses.filter(({ inner }) => inner === part);
      const inside = uses.filter(({ outer }) => outer === part);
      return [
        part,
        once(() => {
          const { file, gains } = written.get(part)!();
          const inPages = gains.filter((_, i) => spots.get(part)![i]!.at !== 'template');
          return inside.map(gainAt).reduce(less, savedBy([...inPages, ...inTemplates.map(gainAt)], file));
        }),
      ];
    }),
  );
}

function recommendedFinding(
  part: Part,
  { composed, spots, written, saved, isFirst }: Composed & { saved: ReadonlyMap<Part, () => Amount>; isFirst: boolean },
): Finding {
  const { name, choice, general: plain } = part;
  const { occurrences, props, slots } = composed.get(part)!;
  const isInTemplates =
    occurrences.some(({ page }) => page.component !== undefined) ||
    (choice.isRest && spots.get(part)!.some(({ at }) => at === 'template'));
  const alone = () => {
    const { gains, file } = written.get(part)!();
    return savedBy(gains, file).bytes;
  };
  const further =
    isFirst && !choice.isRest ? firstTerms(choice, composed.get(part)!, alone) : laterTerms(alone(), isInTemplates);
  return {
    name,
    kind: slots.length > 0 ? 'frame' : kindOf(occurrences),
    slots,
    recommended: true,
    reason: null,
    blocked: null,
    occurrences,
    props,
    get saved() {
      return saved.get(part)!();
    },
    get file() {
      return written.get(part)!().file;
    },
    get uses() {
      return written.get(part)!().texts;
    },
    renames: new Map(),
    general: plain,
    component: null,
    terms: [...choice.terms, ...further],
  };
}

function hasList({ props }: General): boolean {
  return props.some(({ type }) => type === 'list');
}

/** What is known of the worth only when a component has been written, where it is one of the first. */
function firstTerms(choice: Choice, general: General, saved: () => number): Term[] {
  if (general.slots.length === 0 && !hasList(general)) return [];
  // the template of a list's items is the same everywhere too
  const isConstant = ({ kind, nodes }: Pattern) =>
    kind === 'list' || (kind === 'element' && nodes.every((node) => node !== null));
  return frameTerms(choice, saved(), patternsIn(general.root).filter(isConstant).length);
}

/** The parts with names, the best ones named first; what no words tell from others is none. */
function named(parts: Part[], taken: ReadonlySet<string>, vocabulary: Vocabulary): Part[] {
  const used = new Set(taken);
  return parts.flatMap((part) => {
    const name = nameComponent(part.occurrences, used, vocabulary);
    if (name === undefined) return [];
    used.add(name);
    return [name === part.name ? part : { ...part, name }];
  });
}
