/** A place in a file: 1-based line and column (UTF-16 units), path with `/` relative to the root. */
export interface Place {
  path: string;
  line: number;
  column: number;
}

/**
 * What the user can mend: bad usage or input (exit 2) or an answer that is "no" (exit 1).
 * `hint` says what to do; `details` are further lines, one a fact.
 */
export class Problem extends Error {
  readonly exit: 1 | 2;
  readonly place: Place | undefined;
  readonly hint: string | undefined;
  readonly details: readonly string[];

  constructor(
    message: string,
    options: { exit?: 1 | 2; place?: Place | undefined; hint?: string; details?: readonly string[] } = {},
  ) {
    super(message);
    this.name = 'Problem';
    this.exit = options.exit ?? 2;
    this.place = options.place;
    this.hint = options.hint;
    this.details = options.details ?? [];
  }
}

/** Most UTF-16 units that a message takes of a value. */
const MOST_SHOWN = 80;

/** A value out of a page, as messages say it: on one line, and cut where it is long. */
export function shownValue(value: string): string {
  const start = value.slice(0, MOST_SHOWN + 1).replace(/\s+/g, ' ');
  return value.length > MOST_SHOWN ? `${start.slice(0, MOST_SHOWN - 1)}…` : start;
}

/** `path:line:column`, as editors and terminals link it. */
export function placeText(place: Place): string {
  return `${place.path}:${place.line}:${place.column}`;
}
