/** Raw source against template source: what the placeholders between constant stretches stand for. */
import { type Datum, type Expression, isSpelled } from '../component/expression.js';
import type { Segment } from '../component/segments.js';

/** What a value is known to be, and what a test is known to come to, as far as it is; undefined where it is not. */
export interface Knowledge {
  valueOf: (path: string[]) => Datum | undefined;
  truthOf: (test: Expression) => boolean | undefined;
}

export const NOTHING_KNOWN: Knowledge = { valueOf: () => undefined, truthOf: () => undefined };

/** That a test holds, or does not. */
export interface Fact {
  test: Expression;
  holds: boolean;
}

/** What an expression may come to: a constant, or whatever a name stands for; and what must hold then. */
export type Option = { facts: Fact[] } & ({ value: Datum } | { path: string[] });

/** All that an expression may come to, by what is known. */
export function optionsOf(expression: Expression, known: Knowledge): Option[] {
  switch (expression.kind) {
    case 'literal':
      return [{ value: expression.value, facts: [] }];
    case 'name': {
      const value = known.valueOf(expression.path);
      return [value === undefined ? { path: expression.path, facts: [] } : { value, facts: [] }];
    }
    case 'equal':
      return either(expression, { kind: 'literal', value: true }, { kind: 'literal', value: false }, known);
    case 'choose':
      return either(expression.test, expression.yes, expression.no, known);
    case 'nullish': {
      const { left, right } = expression;
      const missing: Expression = {
        kind: 'equal',
        negated: false,
        left,
        right: { kind: 'literal', value: null },
      };
      return either(missing, right, left, known);
    }
  }
}

function either(test: Expression, yes: Expression, no: Expression, known: Knowledge): Option[] {
  const truth = known.truthOf(test);
  return [true, false]
    .filter((holds) => truth === undefined || truth === holds)
    .flatMap((holds) =>
      optionsOf(holds ? yes : no, known).map((option) => ({
        ...option,
        facts: truth === undefined ? [{ test, holds }, ...option.facts] : option.facts,
      })),
    );
}

/** One way to read raw source: what must hold, and the raw source of each name. */
export interface Reading {
  facts: Fact[];
  names: { path: string[]; raw: string | null }[];
}

/**
 * The ways to read raw source as segments that do not contradict themselves, the shortest values first.
 * @param raw null for an attribute that is not there
 */
export function* readingsOf(segments: Segment[], raw: string | null, known: Knowledge): Generator<Reading> {
  for (const reading of allReadings(segments, raw, known)) if (isConsistent(reading)) yield reading;
}

/** False where what must hold of a name is not so by what it would stand for. */
function isConsistent({ facts, names }: Reading): boolean {
  return facts.every(({ test, holds }) => {
    const name = test.kind === 'equal' ? test.left : test;
    if (name.kind !== 'name') return true;
    const found = names.find(({ path }) => path.join('.') === name.path.join('.'));
    if (found === undefined) return true;
    if (test.kind === 'name') return (found.raw !== null && found.raw !== '') === holds;
    if (test.kind !== 'equal' || test.right.kind !== 'literal') return true;
    const { value } = test.right;
    const isSame =
      value === null ? found.raw === null || found.raw === '' : isSpelled(value) && value.raw === found.raw;
    return isSame === (holds !== test.negated);
  });
}

function* allReadings(segments: Segment[], raw: string | null, known: Knowledge): Generator<Reading> {
  const [first] = segments;
  if (segments.length === 1 && typeof first === 'object') {
    for (const option of optionsOf(first, known)) {
      if ('path' in option) yield { facts: option.facts, names: [{ path: option.path, raw }] };
      else if (isWritten(option.value, raw)) yield { facts: option.facts, names: [] };
    }
    return;
  }
  if (raw === null) return;
  const options = segments.map((segment): Option[] =>
    typeof segment === 'string' ? [{ value: { value: segment, raw: segment }, facts: [] }] : optionsOf(segment, known),
  );
  const dead = new Set<number>();
  yield* from(0, 0);

  /** The ways from segment `i` on at offset `at`; places from which there is none are met once. */
  function* from(i: number, at: number): Generator<Reading> {
    const key = i * (raw!.length + 1) + at;
    if (dead.has(key)) return;
    let isDead = true;
    if (i === options.length && at === raw!.length) {
      isDead = false;
      yield { facts: [], names: [] };
    }
    for (const option of options[i] ?? []) {
      for (const end of 'path' in option ? endsFrom(i, at) : endAfter(textOf(option.value), at))
        for (const rest of from(i + 1, end)) {
          isDead = false;
          const mine = 'path' in option ? [{ path: option.path, raw: raw!.slice(at, end) }] : [];
          yield { facts: [...option.facts, ...rest.facts], names: [...mine, ...rest.names] };
        }
    }
    if (isDead) dead.add(key);
  }

  function endAfter(text: string, at: number): number[] {
    return raw!.startsWith(text, at) ? [at + text.length] : [];
  }

  /** Where the value of a name may end: where what follows it may begin. */
  function* endsFrom(i: number, at: number): Generator<number> {
    const next = options[i + 1];
    if (next === undefined) yield raw!.length;
    else if (next.length > 1 || 'path' in next[0]!) for (let end = at; end <= raw!.length; end++) yield end;
    else {
      const text = textOf((next[0] as { value: Datum }).value);
      for (let end = raw!.indexOf(text, at); end >= 0; end = raw!.indexOf(text, end + 1)) {
        yield end;
        if (end >= raw!.length) return;
      }
    }
  }
}

/** True where segments may come to raw source at all. */
export function couldBe(segments: Segment[], raw: string | null): boolean {
  return readingsOf(segments, raw, NOTHING_KNOWN).next().done !== true;
}

/** The raw source that a value is written as among other text. */
function textOf(value: Datum): string {
  if (isSpelled(value)) return value.raw;
  return typeof value === 'boolean' ? String(value) : '';
}

/** True where an attribute with that value alone is written so: left out for null and false, empty for true. */
function isWritten(value: Datum, raw: string | null): boolean {
  if (raw === null) return value === null || value === false;
  return value === true ? raw === '' : isSpelled(value) && (value.raw === raw || value.value === raw);
}
