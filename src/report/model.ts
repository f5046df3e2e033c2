/** What a report tells; whoever writes it has all numbers by now. */
import type { Place } from '../core/errors.js';
import type { LineShares } from '../core/library/line-shares.js';

export interface Report {
  /** name of the site's folder */
  name: string;
  /** the site in a sentence or two */
  summary: string[];
  /** lines of the site as it is built, and as it is or would be written */
  lines: { before: LineShares; after: LineShares };
  /** whether there are components */
  isLifted: boolean;
  /** whether the lines after are those with something lifted that is not yet */
  isPlanned: boolean;
  /** paths, in their order */
  pages: string[];
  entries: Entry[];
  drift: DriftRow[];
  slips: Told[];
  near: NearRow[];
  sheets: SheetRow[];
  left: Left;
}

/** A component, or a finding that would be one. */
export interface Entry {
  name: string;
  isComponent: boolean;
  /** its kind and places, in a line */
  told: string;
  /** what else is to be known of it, a sentence each */
  notes: string[];
  /** how often it stands on each page, in the order of the pages */
  byPage: number[];
  props: PropRow[];
  slots: string[];
  places: PlaceTable;
  /** path of the component file, and its source as it is or would be */
  path: string;
  file: string;
  /** one use; null where it has none */
  use: string | null;
  cuts: CutRow[];
  rules: RuleCounts | null;
  picture: Picture | null;
  /** the markup of one place, for where there is no picture; null where it stands nowhere */
  markup: string | null;
}

export interface PropRow {
  name: string;
  type: string;
  /** whether it must be given, or what stands for it */
  given: string;
  choices: string[];
}

export interface PlaceTable {
  /** names of props and slots */
  columns: string[];
  /** the first places, with what each gives */
  rows: { place: Place; cells: Cell[] }[];
  /** the next places, and how many there are besides all these */
  more: Place[];
  untold: number;
}

export interface Cell {
  text: string;
  /** how it is shown: a value, something that only stands for one, or one that most others do not have */
  kind: 'value' | 'quiet' | 'odd';
}

/** Another way to cut what a finding covers; the finding's own first. */
export interface CutRow {
  what: string;
  name: string;
  linesAfter: number;
  props: number;
  slots: number;
  uses: number;
  /** in how many places a change would be made */
  places: number;
}

/** Of the rules that dress it, how many are how. */
export interface RuleCounts {
  own: number;
  shared: number;
  reachesIn: number;
  reachesOut: number;
  poured: number;
  positional: number;
  /** in its file */
  inside: number;
}

/** A picture of one place, drawn by a browser. */
export interface Picture {
  image: Buffer;
  type: string;
  /** in CSS pixels */
  width: number;
  height: number;
  /** path of the page on which it is drawn */
  page: string;
}

/** A place where pages that share a part drifted apart. */
export interface DriftRow {
  finding: string;
  place: Place;
  /** '' where all of it differs */
  prop: string;
  here: string;
  usual: string;
  /** how many pages have the usual */
  count: number;
}

/** Something that is told of a place. */
export interface Told {
  place: Place | null;
  message: string;
}

/** What is nearly a use of a component. */
export interface NearRow {
  places: Place[];
  component: string;
  difference: string;
}

export interface SheetRow {
  name: string;
  rules: number;
  own: number;
  shared: number;
  /** rules that dress pages only */
  pages: number;
  unseen: Told[];
}

/** What was left as it is, and why. */
export interface Left {
  /** what could be a component, and is not recommended */
  offers: { name: string; kind: string; places: number; reason: string }[];
  /** how many more offers there are than are told */
  moreOffers: number;
  /** what stands apart once */
  regions: { name: string; place: Place; lines: number }[];
  moreRegions: number;
  remarks: Told[];
}
