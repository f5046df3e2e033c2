/** From an alignment to values: what each place says is settled, first what can be read in one way only. */
import { camelName, isSpelled } from '../component/expression.js';
import type { Component } from '../component/model.js';
import type { Segment } from '../component/segments.js';
import { propName } from '../library/names.js';
import { type Spelled, spelledAttribute, spelledValue } from '../page/spelling.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Row, Value } from '../template/pattern.js';
import type { Step } from './align.js';
import { Collector, type Constraint, type Equation, type Link, type PouredRange } from './constraints.js';
import type { Difference } from './difference.js';
import { optionsOf, readingsOf } from './segments.js';
import { assume, frameOf, knowledgeOf, type Records, type Variable, variableAt } from './variables.js';

export interface Solution {
  /** by prop; what nothing tells is not in it */
  values: Map<string, Value>;
  slots: PouredRange[];
  /** what the fragment says otherwise, those of the alignment among them */
  differences: Difference[];
}

/**
 * The values with which a component gives back a fragment that was aligned with it.
 * @param allowed how many differences there may be, those of the alignment included
 * @returns null where there are none, or more differences
 */
export function solve(component: Component, steps: Step[], occurrence: Occurrence, allowed: number): Solution | null {
  const collected = new Collector(occurrence);
  const frame = frameOf(component, null);
  if (!collected.walk(steps, { frame, records: new Map() })) return null;
  const { constraints, differences } = collected;
  if (!settleAll(constraints, differences, allowed)) return null;
  const values = new Map<string, Value>();
  for (const prop of component.props) {
    const variable = frame.variables.get(camelName(prop.name));
    const value = variable && valueOf(variable);
    if (value === undefined) continue;
    if (value === 'wrong') {
      const choice = unknownChoice(variable!);
      if (choice === null || differences.length >= allowed) return null;
      const { start } = component.template;
      differences.push({ kind: 'choice', name: prop.name, component, start, end: start, found: choice });
    } else values.set(prop.name, value);
  }
  return { values, slots: [...collected.slots.values()], differences };
}

/**
 * Settles all constraints: again and again those that can be read in one way, then the others in order, each in the first
 * way. Linear in the constraints.
 */
function settleAll(constraints: Constraint[], differences: Difference[], allowed: number): boolean {
  // where something may differ, it is told by the outermost place that says otherwise
  const isLink = ({ kind }: Constraint) => kind === 'link';
  let open =
    allowed === 0 ? constraints : [...constraints.filter((each) => !isLink(each)), ...constraints.filter(isLink)];
  for (const isLast of [false, false, false, true]) {
    const waiting: Constraint[] = [];
    for (const constraint of open) {
      const done = settle(constraint, isLast);
      if (done === 'wrong') {
        const difference = differenceAt(constraint);
        if (difference === null || differences.length >= allowed) return false;
        differences.push(difference);
      }
      if (done === 'waits') waiting.push(constraint);
    }
    open = waiting;
  }
  return true;
}

/** How the fragment differs at a place that is not as it should be; null where no one thing tells it. */
function differenceAt(constraint: Constraint): Difference | null {
  if (constraint.kind === 'equation') return constraint.difference;
  if (constraint.kind === 'fact') return null;
  const { variable, use, scope } = constraint;
  const { value, prop } = variable;
  const found = isSpelled(value ?? null) ? (value as Spelled).raw : value === true ? '' : null;
  const place = { component: scope.frame.component, start: use.start, end: use.openEnd };
  return { kind: 'given', name: prop!.name, ...place, found };
}

/** A value that is none of the choices; null where that is not what is wrong. */
function unknownChoice({ prop, value }: Variable): string | null {
  const isText = prop?.type === 'choice' && isSpelled(value ?? null);
  return isText && !prop.choices.includes((value as Spelled).value) ? (value as Spelled).value : null;
}

type Settled = 'done' | 'waits' | 'wrong';

function settle(constraint: Constraint, isLast: boolean): Settled {
  const { scope } = constraint;
  switch (constraint.kind) {
    case 'fact':
      return assume(constraint.test, constraint.holds, scope) ? 'done' : 'wrong';
    case 'equation':
      return apply(constraint, isLast);
    case 'link':
      return settleLink(constraint, isLast);
  }
}

/** Takes the only reading, or the first where this is the last chance. */
function apply({ segments, raw: whole, read, scope }: Equation, isLast: boolean): Settled {
  const readings = readingsOf(segments, whole, knowledgeOf(scope));
  const isPart = segments.length > 1;
  const first = readings.next();
  if (first.done === true) return 'wrong';
  if (!isLast && readings.next().done !== true) return 'waits';
  for (const { test, holds } of first.value.facts) if (!assume(test, holds, scope)) return 'wrong';
  for (const { path, raw } of first.value.names) {
    const variable = variableAt(path, scope);
    if (variable === null ? raw !== null && raw !== '' : !bindShown(variable, raw, read, isPart)) return 'wrong';
  }
  return 'done';
}

/** Takes what shows of a value: its raw source, null for an attribute that is not there. */
function bindShown(variable: Variable, raw: string | null, read: (raw: string) => Spelled, isPart: boolean): boolean {
  return isPart && raw === '' ? variable.bindEmpty() : variable.bindRaw(raw, read);
}

/** What a component within is given, against what its own places say of it. */
function settleLink({ variable, segments, scope }: Link, isLast: boolean): Settled {
  const knowledge = knowledgeOf(scope);
  const { type, default: standard } = variable.prop!;
  if (segments === null) return variable.settle(type === 'flag' ? false : standard) ? 'done' : 'wrong';
  const [first] = segments;
  const single = segments.length === 1 && typeof first === 'object' ? first : null;
  const options = single === null ? null : optionsOf(single, knowledge);
  const given =
    options === null
      ? constantOf(segments)
      : options.length === 1 && 'value' in options[0]! && options[0].facts.length === 0
        ? options[0].value
        : undefined;
  if (given !== undefined) {
    const isThere = given !== null && given !== false;
    if (type === 'flag')
      return variable.settle(isThere && !(isSpelled(given) && given.value === 'false')) ? 'done' : 'wrong';
    if (!isThere) return variable.settle(standard) ? 'done' : 'wrong';
    return isSpelled(given) && variable.settle(given) ? 'done' : 'wrong';
  }
  const { value } = variable;
  if (value === undefined) return isLast ? 'done' : 'waits';
  if (typeof value === 'boolean') {
    if (single === null) return 'wrong';
    return assume(single, value, scope) ? 'done' : 'wrong';
  }
  const equation = { segments, read: spelledAttribute, scope };
  if (value === null) return apply({ ...equation, raw: null }, isLast);
  const isDefault = standard !== null && standard.value === value.value;
  if (isDefault && !isLast) return 'waits';
  if (isDefault && apply({ ...equation, raw: null }, true) === 'done') return 'done';
  return apply({ ...equation, raw: value.raw, read: () => value }, isLast);
}

/** What segments say that hold no placeholder: true for an attribute without a value; undefined for others. */
function constantOf(segments: Segment[]): Spelled | undefined {
  if (!segments.every((segment) => typeof segment === 'string')) return undefined;
  return spelledAttribute(segments.join(''));
}

/** What a use would say; undefined where nothing tells, `wrong` where nothing can be said that is right. */
function valueOf(variable: Variable): Value | undefined | 'wrong' {
  const { prop, value, not, records } = variable;
  if (prop?.type === 'list') return records === undefined ? undefined : rowsOf(records);
  if (value === undefined) {
    if (prop === null || prop.type === 'flag') return undefined;
    if (variable.isGiven) return 'wrong';
    if (prop.default !== null && not.has(prop.default.value)) {
      const other = prop.choices.find((choice) => !not.has(choice));
      return other === undefined ? 'wrong' : spelledValue(other);
    }
    return prop.optional || prop.default !== null ? undefined : 'wrong';
  }
  if (prop?.type === 'choice' && isSpelled(value) && !prop.choices.includes(value.value)) return 'wrong';
  if (prop?.type === 'number' && isSpelled(value) && !isNumber(value.value)) return 'wrong';
  return value;
}

function isNumber(text: string): boolean {
  return text.trim() !== '' && Number.isFinite(Number(text));
}

function rowsOf(records: Records): Row[] | 'wrong' {
  const rows: Row[] = [];
  for (const record of records) {
    const row: Row = {};
    for (const [key, variable] of record) {
      const value = valueOf(variable);
      if (value === 'wrong' || Array.isArray(value)) return 'wrong';
      row[variable.prop === null ? key : propName(variable.prop.name).field!] = value ?? null;
    }
    rows.push(row);
  }
  return rows;
}
