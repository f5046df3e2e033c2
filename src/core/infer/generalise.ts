/** From occurrences of one shape to an interface: the anti-unification of the group, with names and types. */
import type { Spelled } from '../page/spelling.js';
import { findHoles, type Hole, type Occurrence, type Value } from './columns.js';
import { nameProps } from './names.js';
import { groupHoles, type PropType } from './props.js';

export interface InferredProp {
  name: string;
  type: PropType;
  optional: boolean;
  choices: string[];
  default: Spelled | null;
  /** one an occurrence */
  values: Value[];
  holes: Hole[];
}

/** A group of alike occurrences, generalised: all that is needed to write the component and its uses. */
export interface General {
  occurrences: Occurrence[];
  props: InferredProp[];
  /** constant URLs that the template writes for its own folder */
  literals: Hole[];
}

/** How many places may vary before a group is given up unread: derived values share a prop, so more than props. */
const HOLES_PER_PROP = 4;

/**
 * Generalises a group.
 * @returns null when the occurrences are not alike, or when they need more than `maxProps` props
 */
export function generalise(occurrences: Occurrence[], componentFolder: string, maxProps: number): General | null {
  const holes = findHoles(occurrences, componentFolder, maxProps * HOLES_PER_PROP);
  if (holes === null) return null;
  const varying = groupHoles(holes, occurrences, componentFolder);
  if (varying.length > maxProps) return null;
  const names = nameProps(varying, occurrences[0]!.element);
  return {
    occurrences,
    literals: holes.filter((hole) => hole.kind === 'literal'),
    props: varying.map((each, i) => ({
      name: names[i]!,
      type: each.type,
      optional: false,
      choices: each.choices,
      default: typeof each.default === 'boolean' ? null : each.default,
      values: each.values,
      holes: each.holes,
    })),
  };
}
