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

/** An error of Estrade's own, with what it was at: pages, components, findings, the outermost first. */
export class Fault extends Error {
  constructor(
    readonly at: readonly string[],
    override readonly cause: Error,
  ) {
    super(cause.message, { cause });
    this.name = 'Fault';
  }
}

/**
 * Runs `work`, and says of an error of our own what it was at.
 * @param what names it: the path of a page or component, a place, a finding
 * @throws Fault for what is neither a Problem nor an error of the system
 */
export function workingOn<T>(what: string, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof Error) || error instanceof Problem || 'code' in error) throw error;
    const inside = error instanceof Fault ? error : new Fault([], error);
    throw new Fault([what, ...inside.at.filter((each) => each !== what)], inside.cause);
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
