/** What the preview tells its pages; `src/preview/server.ts` sends it. */

import type { Place } from '../core/errors.js';

/** Below it stands what is not the site's. */
export const OWN = '/-estrade';

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
}

/** What a page that is open is told. */
export type Message = { kind: 'reload' } | { kind: 'styles' } | { kind: 'troubles'; troubles: Trouble[] };
