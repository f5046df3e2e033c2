/** What the preview tells its pages; `src/preview/server.ts` sends it. */

import type { Instance } from '../core/component/instances.js';
import type { Place } from '../core/errors.js';

/** Below it stands what is not the site's. */
export const OWN = '/-estrade';

/** Where the page that shows others before and after stands. */
export const COMPARE_PATH = `${OWN}/compare`;

/** Something that is wrong, as it is shown over a page. */
export interface Trouble {
  message: string;
  /** what can be done about it; '' for nothing */
  hint: string;
  place: Place | null;
  /** the line of the place; '' without one */
  line: string;
}

/** What the script in a page is started with. */
export interface StartedPage {
  path: string;
  version: string;
  troubles: Trouble[];
  /** attribute in which elements have the offsets of their start tags */
  offsets: string;
  /** origin of the page that may ask this one how it looks, to compare it with how it was */
  comparing: string;
}

/** What the script is started with in a page as it was. */
export type StartedOriginal = Pick<StartedPage, 'path' | 'comparing'>;

/** What a page is made of, or could be. */
export interface Looked {
  instances: Instance[];
  /** what is told of each that is a finding yet, by name */
  findings: Record<string, FindingFacts>;
  /** URL that opens a place in an editor, with `{path}`, `{line}` and `{column}` in it; '' for none */
  editor: string;
  /** absolute path of the project, to which paths are relative */
  root: string;
}

export interface FindingFacts {
  /** its kind, its places, and what it saves, in a line */
  told: string;
  /** the command that lifts it */
  command: string;
}

/** A rule that dresses one component alone. */
export interface OwnRule {
  selector: string;
  place: Place;
}

/** What a page that is open is told. */
export type Message = { kind: 'reload' } | { kind: 'styles' } | { kind: 'troubles'; troubles: Trouble[] };

/** What the page that compares asks a page in it. */
export type Question =
  | { estrade: 'elements' }
  | { estrade: 'scroll'; share: number }
  /** shows boxes around the elements of those numbers, the one that is looked at otherwise */
  | { estrade: 'mark'; numbers: number[]; current: number | null };

/** What a page tells the one that compares. */
export type Told =
  | { estrade: 'ready'; path: string }
  | { estrade: 'elements'; elements: ElementLook[] }
  /** how far it is scrolled, of all that it can be */
  | { estrade: 'scrolled'; share: number };

/** An element as it looks, for comparing. */
export interface ElementLook {
  /** tag and classes, such as `p.lead` */
  name: string;
  /** what tells it from others: its tag, attributes and own text */
  key: string;
  /** hash of what it computes to, but for its size */
  style: number;
  /** number of the element that it stands in; -1 for none */
  parent: number;
}
