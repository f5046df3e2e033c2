/** What `emit --verify` found. */
import type { Place } from '../core/errors.js';

export interface VerifiedPage {
  path: string;
  same: 'markup' | 'different';
  first: { place: Place | null; what: string } | null;
}

export interface Verified {
  /** modules that were type-checked; null where they have no types */
  checked: number | null;
  /** what the compiler says, with its place in the output folder */
  errors: { place: Place; message: string }[];
  pages: VerifiedPage[];
}
