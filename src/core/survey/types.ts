/** The survey's answer. */
import type { Occurrence } from '../fragments/occurrence.js';
import type { Value, General, Poured } from '../template/pattern.js';
import type { Spelled } from '../page/spelling.js';
import type { Component, PropType } from '../component/model.js';
import type { Vocabulary } from '../words/vocabulary.js';
import type { NearUse } from '../match/known.js';
import type { Term } from './worth.js';

export type FindingKind = 'repeat' | 'series' | 'shared' | 'frame' | 'region';

export interface Thresholds {
  /** least number of places */
  minOccurrences: number;
  /** least number of elements in a fragment */
  minElements: number;
  /** least number of bytes that a recommended finding is worth: see `survey/worth` */
  minWorth: number;
  /** most props of one component */
  maxProps: number;
  /** least number of lines of a named block that is a region */
  minLines: number;
  /** so many lines make a region of a part without a name */
  largeLines: number;
}

export const DEFAULT_THRESHOLDS: Thresholds = {
  minOccurrences: 2,
  minElements: 2,
  minWorth: 145,
  maxProps: 8,
  minLines: 5,
  largeLines: 40,
};

/** A prop as a finding shows it; `values` has one entry an occurrence, null where a known component's default holds. */
export interface FindingProp {
  name: string;
  type: PropType;
  optional: boolean;
  default: Spelled | null;
  choices: string[];
  values: (Value | null)[];
}

export interface Finding {
  name: string;
  kind: FindingKind;
  recommended: boolean;
  /** why it is not recommended, null when it is */
  reason: string | null;
  /** why it cannot be lifted, null when it can */
  blocked: string | null;
  occurrences: Occurrence[];
  props: FindingProp[];
  /** what is poured into its slots */
  slots: Poured[];
  saved: { lines: number; bytes: number };
  /** source of the component file as it would be written, or as it is when the component is known */
  file: string;
  /** one an occurrence, as they would be written */
  uses: string[];
  /** what props are called instead, by the names that they have where other components stand in the template */
  renames: ReadonlyMap<string, string>;
  /** how it was generalised; null for more uses of a component that is there already */
  general: General | null;
  component: Component | null;
  /** the sum that decided, in bytes; empty for what was not weighed */
  terms: Term[];
}

export interface Remark {
  kind: 'unreadable' | 'not-liftable' | 'slip' | 'near-use' | 'note' | 'unstyled';
  message: string;
  places: { path: string; line: number; column: number }[];
}

/** One way to cut what a finding covers. */
export interface Cut {
  what: string;
  finding: Finding;
  /** the same when no other finding is lifted with it */
  alone: Finding;
  /** in how many places a change to the markup that the finding shares would be made */
  places: number;
}

/** What is only offered: named, and made when someone asks for it. */
export interface Offer {
  name: string;
  kind: FindingKind;
  /** why it is not recommended */
  reason: string;
  occurrences: Occurrence[];
  /** @throws Problem (exit 2) where no component can be written for it */
  finding: () => Finding;
}

export interface Survey {
  /** what is recommended, best first, more uses of known components before it */
  findings: Finding[];
  /** what is worth too little, or stands where something is better, best first; named when asked for */
  otherCount: number;
  others: () => Offer[];
  /** what stands apart once, and the frame of whole pages; named when asked for */
  regions: () => Offer[];
  remarks: Remark[];
  /** what would be a use of a component that is there but for one difference */
  near: NearUse[];
  /** what each class word is there for */
  vocabulary: Vocabulary;
  /** other ways to cut what a finding covers, the finding itself first */
  cutsOf: (finding: Finding) => Cut[];
}
