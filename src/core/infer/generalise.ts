/** From alike occurrences to an interface: the anti-unification of the group, with names and types. */
import type { Spelled } from '../page/spelling.js';
import type { ElementPattern } from './align.js';
import { findColumns, type Hole, type Occurrence, type Run, type UrlKindOf, type Value } from './columns.js';
import { nameProps, nameRun } from './names.js';
import { groupHoles, type PropType } from './props.js';

export interface InferredProp {
  /** '' until `giveNames` */
  name: string;
  type: PropType;
  optional: boolean;
  choices: string[];
  default: Spelled | null;
  /** one an occurrence */
  values: Value[];
  holes: Hole[];
}

/** A part that comes and goes, and the prop that says so. */
export interface Block extends Run {
  prop: InferredProp;
  /** there when the prop is not */
  negated: boolean;
}

/** A group of alike occurrences, generalised: all that is needed to write the component and its uses. */
export interface General {
  occurrences: Occurrence[];
  root: ElementPattern;
  props: InferredProp[];
  /** constant URLs that the template writes for its own folder */
  literals: Hole[];
  blocks: Block[];
}

/** How many places may vary before a group is given up unread: derived values share a prop, so more than props. */
const HOLES_PER_PROP = 4;

/**
 * Generalises a group; its props have no names yet.
 * @param exact the occurrences are of one shape
 * @returns null when the occurrences are not alike, or when they need more than `maxProps` props
 */
export function generalise(
  occurrences: Occurrence[],
  componentFolder: string,
  maxProps: number,
  exact: boolean,
  urlKindOf: UrlKindOf,
): General | null {
  const columns = findColumns(occurrences, componentFolder, maxProps * HOLES_PER_PROP, exact, urlKindOf);
  if (columns === null) return null;
  const varying = groupHoles(columns.holes, occurrences, componentFolder, maxProps, urlKindOf);
  if (varying === null) return null;
  const props = varying.map((each): InferredProp => ({ name: '', ...each }));
  const blocks = columns.runs.map((run) => blockFor(run, props));
  if (props.length > maxProps) return null;
  const literals = columns.holes.filter((hole) => hole.kind === 'literal');
  return { occurrences, root: columns.root, props, literals, blocks };
}

/** Names all props of a group. What is given up before it is written needs no names. */
export function giveNames(general: General): General {
  const { props, blocks, occurrences } = general;
  if (props.every(({ name }) => name !== '')) return general;
  const varying = props.filter(({ holes }) => holes.length > 0);
  const names = nameProps(varying, new Set(occurrences.map(({ element }) => element)));
  varying.forEach((prop, i) => (prop.name = names[i]!));
  const taken = new Set(names);
  for (const { prop, patterns } of blocks) {
    if (prop.name !== '') continue;
    prop.name = nameRun(
      patterns.flatMap((pattern) => pattern.nodes.find((node) => node !== null) ?? []),
      taken,
    );
    taken.add(prop.name);
  }
  return general;
}

/** Finds the prop that tells whether a run is there, or adds a flag that does. */
function blockFor(run: Run, props: InferredProp[]): Block {
  const truthy = (value: Value) => (typeof value === 'object' ? value !== null && value.value !== '' : value);
  const tells = (prop: InferredProp, negated: boolean) =>
    prop.default === null && run.presence.every((there, i) => truthy(prop.values[i]!) === (there !== negated));
  for (const negated of [false, true]) {
    const prop = props.find((each) => tells(each, negated));
    if (prop !== undefined) return { ...run, prop, negated };
  }
  const prop: InferredProp = {
    name: '',
    type: 'flag',
    optional: false,
    choices: [],
    default: null,
    values: run.presence,
    holes: [],
  };
  props.push(prop);
  return { ...run, prop, negated: false };
}
