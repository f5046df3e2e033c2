/** What the preview tells its pages; `src/preview/server.ts` sends it. */

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
}

/** What a page that is open is told. */
export type Message = { kind: 'reload' } | { kind: 'styles' } | { kind: 'troubles'; troubles: Trouble[] };

interface Place {
  path: string;
  line: number;
  column: number;
}

/** A component where it stands in a page: `src/core/component/instances.ts` tells it. */
export interface Instance {
  component: string;
  file: Place;
  use: Place;
  within: number | null;
  roots: number[];
  props: { name: string; type: string; value: string | null; default: string | null }[];
  slots: { name: string }[];
}
