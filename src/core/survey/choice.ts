/** A candidate in its turn, and what became of it. */
import type { General } from '../template/pattern.js';
import type { Standing } from './owners.js';
import type { Term } from './worth.js';

export interface Choice extends Standing {
  terms: Term[];
  worth: number;
  chosen: boolean;
  /** the little that others have left of it, looked at after all of them */
  isRest: boolean;
  /** the chosen one that stands in its way, null when none does */
  inTheWay: Choice | null;
}

/** A choice, and how its places were generalised. */
export interface Generalised extends Choice {
  general: General;
}
