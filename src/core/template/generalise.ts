/** From alike occurrences to an interface: the anti-unification of the group, with names and types. */
import type { Occurrence } from '../fragments/occurrence.js';
import type { Element, Text } from '../page/tree.js';
import { type Interfacing, interfaceOf, named, namelessInterface } from './interface.js';
import type { ElementPattern, General } from './pattern.js';
import { framed, framedApart, pourUntil } from './pour.js';
import { withFallbacks } from './fallback.js';
import { type Samples, samplesOf, spread } from './samples.js';
import { solve, type Solving } from './solve.js';
import type { Keeping } from './use.js';

export interface Generalising extends Solving, Interfacing {
  /** where lists go that are too long for a page; without it all stay */
  keeping?: Keeping;
}

/** So many props more may tell what is marked in what usually stands in slots. */
const MARKERS = 2;

/**
 * Generalises a group. Where more props would be needed than allowed, what varies most is
 * poured into slots.
 * @returns null when the occurrences are not alike
 */
export function generalise(occurrences: Occurrence[], options: Generalising): General | null {
  const samples = samplesOf(occurrences);
  const solved = solve(samples.samples, options);
  if (solved === null) return null;
  const made = pourUntil(solved, samples.samples, (each) => namelessInterface(samples.samples, each, options), options);
  if (made === null) return null;
  const areAll = samples.samples.length === occurrences.length;
  if (areAll && made.slots.length === 0) return named(made);
  const root = options.poured === undefined ? withUsualContent(made, samples, options) : made.root;
  return interfaceOf(occurrences, spread(root, occurrences, samples), options);
}

/** The pattern of a group with what is usual in its slots, as far as that takes hardly more props. */
function withUsualContent({ root, props }: General, samples: Samples, options: Generalising): ElementPattern {
  const most = props.length + MARKERS;
  return withFallbacks(root, samples, options, (each) => {
    const made = namelessInterface(samples.samples, each, options);
    return made !== null && made.props.length <= most;
  });
}

/** The group as a frame: constant markup with slots for what varies in it. Null where nothing can be poured in. */
export function frameOf(occurrences: Occurrence[], options: Generalising): General | null {
  const samples = samplesOf(occurrences);
  const solved = solve(samples.samples, options);
  const root = solved && framed(solved, samples.samples);
  const general =
    root && interfaceOf(occurrences, spread(root, occurrences, samples), { ...options, maxProps: Infinity });
  return general === null || general.slots.length === 0 ? null : general;
}

/** What whole pages share, with slots for the contents of each of their parts. Null where they are not alike. */
export function layoutFrameOf(occurrences: Occurrence[], options: Generalising): General | null {
  const root = solve(occurrences, options);
  return root && interfaceOf(occurrences, framedApart(root, occurrences), { ...options, maxProps: Infinity });
}

/** Elements that hold nothing but items of one group, as one component each that takes a list of them. */
export function listedOf(parents: Occurrence[], items: General, options: Generalising): General | null {
  if (items.slots.length > 0 || items.props.some(({ list }) => list !== undefined)) return null;
  const owner = new Map(parents.map(({ element }, i) => [element, i]));
  const owners = items.occurrences.map(({ element }) => owner.get(element.parent as Element) ?? -1);
  const root: ElementPattern = {
    kind: 'element',
    nodes: parents.map(({ element }) => element),
    holes: [],
    children: [],
  };
  const runs = parents.map(({ element }) => element.children);
  const lead = runs[0]![0]?.kind === 'text' ? runs[0]![0] : null;
  const trail = runs.map((run) => (run.at(-1)?.kind === 'text' && lead !== null ? (run.at(-1) as Text) : null));
  const ends = runs.map((run, i) => (trail[i] === null ? run : run.slice(0, -1)).at(-1)?.end ?? -1);
  const nodes = runs.map((run) => run[0] ?? null);
  root.children.push({
    kind: 'list',
    nodes,
    holes: [],
    lead,
    root: items.root,
    items: items.occurrences,
    owners,
    ends,
  });
  if (trail.every((text) => text !== null))
    root.children.push({ kind: 'text', nodes: trail, holes: [], verbatim: false });
  return owners.includes(-1) ? null : interfaceOf(parents, root, options);
}
