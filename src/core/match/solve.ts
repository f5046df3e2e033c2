/** From an alignment to values: what each place says is settled, first what can be read in one way only. */
import { type Expression, isSpelled } from '../component/expression.js';
import type { Component, Prop } from '../component/model.js';
import type { Segment } from '../component/parts.js';
import { valueOf as rawValueOf } from '../page/attribute.js';
import { type Spelled, spelledAttribute, spelledText, spelledValue } from '../page/spelling.js';
import { attrOf, type Element } from '../page/tree.js';
import { isRelative, moveUrls } from '../page/url.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Row, Value } from '../template/pattern.js';
import type { Step } from './align.js';
import type { Difference } from './difference.js';
import type { AttrItem, UseItem } from './items.js';
import { type Fact, optionsOf, type Reading, readingsOf } from './segments.js';
import {
  assume,
  type Frame,
  frameOf,
  knowledgeOf,
  type Records,
  type Scope,
  Variable,
  variableAt,
} from './variables.js';

/** What one place of a fragment says. */
type Constraint =
  | (Equation & { kind: 'equation'; /** it differs where this is not so */ difference: Difference })
  | ({ kind: 'fact'; scope: Scope } & Fact)
  | Link;

interface Equation {
  segments: Segment[];
  raw: string | null;
  read: (raw: string) => Spelled;
  scope: Scope;
}

/** A prop of a component within is given what the segments come to; null where nothing is given. */
interface Link {
  kind: 'link';
  variable: Variable;
  segments: Segment[] | null;
  scope: Scope;
  use: Element;
}

/** A source range that is poured into a slot, and the element that holds it. */
export interface PouredRange {
  name: string;
  range: [start: number, end: number];
  around: Element;
}

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
    const variable = [...frame.variables.values()].find((each) => each.prop === prop);
    const value = variable && valueOf(variable);
    if (value === undefined) continue;
    if (value === 'wrong') {
      const choice = unknownChoice(variable!);
      if (choice === null || differences.length >= allowed) return null;
      const [start, at] = [component.template.start, occurrence.element.start];
      differences.push({ kind: 'choice', name: prop.name, component, start, end: start, at, found: choice });
    } else values.set(prop.name, value);
  }
  return { values, slots: [...collected.slots.values()], differences };
}

/** Goes along the steps and writes down what each says. */
class Collector {
  readonly constraints: Constraint[] = [];
  readonly differences: Difference[] = [];
  readonly slots = new Map<string, PouredRange>();

  constructor(private readonly occurrence: Occurrence) {}

  /** @returns false where two places contradict each other at once */
  walk(steps: Step[], start: Scope): boolean {
    let scope = start;
    const outer: Scope[] = [];
    const lists: { item: string; records: Records; isKnown: boolean; at: number }[] = [];
    for (const step of steps) {
      switch (step.kind) {
        case 'element':
          for (const { item, raw, at } of step.attrs) {
            const { start, end, name } = item.attr;
            const place = { kind: 'attribute' as const, name, component: scope.frame.component, start, end, at };
            const equation = { segments: item.segments, raw, read: spelledAttribute, scope };
            this.constraints.push({ kind: 'equation', ...equation, difference: { ...place, found: raw } });
          }
          if (!this.walk(step.steps, scope)) return false;
          break;
        case 'text':
          if (step.item.constant === null) {
            const { segments, start, end } = step.item;
            const place = { kind: 'text' as const, component: scope.frame.component, start, end, at: step.at };
            const equation = { segments, raw: step.raw, read: spelledText, scope };
            this.constraints.push({ kind: 'equation', ...equation, difference: { ...place, found: step.raw } });
          }
          break;
        case 'differs':
          this.differences.push(step.difference);
          break;
        case 'block':
          this.constraints.push({
            kind: 'fact',
            test: step.item.test,
            holds: step.taken !== step.item.negated,
            scope,
          });
          break;
        case 'list': {
          const variable = step.item.of.kind === 'name' ? variableAt(step.item.of.path, scope) : null;
          if (variable === null) return false;
          const isKnown = variable.records !== undefined;
          variable.records ??= [];
          lists.push({ item: step.item.item, records: variable.records, isKnown, at: 0 });
          outer.push(scope);
          break;
        }
        case 'record': {
          const list = lists.at(-1)!;
          const base = outer.at(-1)!;
          if (!list.isKnown) list.records.push(recordOf(step.item.of, base));
          const record = list.records[list.at++];
          if (record === undefined) return false;
          scope = { ...base, records: new Map([...base.records, [list.item, record]]) };
          break;
        }
        case 'listed': {
          const list = lists.pop()!;
          if (list.at !== list.records.length) return false;
          scope = outer.pop()!;
          break;
        }
        case 'use':
        case 'given': {
          const frame = this.used(step.item, scope);
          if (step.kind === 'given') {
            if (!this.given(step.element, frame)) return false;
            break;
          }
          outer.push(scope);
          scope = { frame, records: new Map() };
          break;
        }
        case 'poured':
          outer.push(scope);
          scope = scope.frame.outer!;
          break;
        case 'used':
        case 'unpoured':
          scope = outer.pop()!;
          break;
        case 'slot':
          if (!this.slot(step)) return false;
      }
    }
    return true;
  }

  private slot({ item: { name }, around, start, end }: Extract<Step, { kind: 'slot' }>): boolean {
    const { source } = this.occurrence.page;
    const known = this.slots.get(name);
    if (known !== undefined) return source.slice(...known.range) === source.slice(start, end);
    this.slots.set(name, { name, range: [start, end], around });
    return true;
  }

  /** A component within, with what its use gives it. */
  private used({ element, component, attrs, lists }: UseItem, scope: Scope): Frame {
    const frame = frameOf(component, scope);
    const common = { kind: 'link' as const, scope, use: element };
    const variables = new Map(frame.variables);
    for (const [key, variable] of variables) {
      const prop = variable.prop!;
      const item = attrs.find(({ name }) => name === prop.name);
      if (item === undefined) {
        if (prop.type === 'list' && !lists.has(prop.name)) variable.records ??= [];
        if (prop.type !== 'list') this.constraints.push({ ...common, variable, segments: null });
        continue;
      }
      const [first] = item.segments;
      const passed =
        prop.type === 'list' && typeof first === 'object' && first.kind === 'name'
          ? variableAt(first.path, scope)
          : null;
      if (passed !== null) variables.set(key, passed);
      else this.constraints.push({ ...common, variable, segments: this.linked(item, prop, scope) });
    }
    return { ...frame, variables };
  }

  /** What a template gives a prop; its own relative URLs, as the page would write them. */
  private linked({ segments }: AttrItem, { type }: Prop, { frame }: Scope): Segment[] {
    const [first] = segments;
    const { folder } = this.occurrence;
    if (type !== 'url' || typeof first !== 'string' || folder === null || !isRelative(first)) return segments;
    const moved = moveUrls(first, 'url', frame.folder, folder);
    return [moved ?? first, ...segments.slice(1)];
  }

  /** What a use in the page gives. */
  private given(element: Element, { variables }: Frame): boolean {
    const { source } = this.occurrence.page;
    for (const variable of variables.values()) {
      const { name, type } = variable.prop!;
      const attr = element.attrs.find((each) => each.name === name);
      const list = element.children.find((child) => child.kind === 'element' && attrOf(child, 'slot') === name);
      if (type === 'list') {
        const records = list?.kind === 'element' ? recordsIn(list, source, variable) : [];
        if (records === null || variable.records !== undefined) return false;
        variable.records = records;
      } else if (attr === undefined) {
        if (!setAbsent(variable)) return false;
      } else if (!variable.bind(type === 'flag' ? true : spelledAttribute(rawValueOf(source, attr).raw))) return false;
    }
    return true;
  }
}

/** What a prop holds that a use does not give. */
function setAbsent(variable: Variable): boolean {
  const { type, default: standard } = variable.prop!;
  if (type === 'list') variable.records ??= [];
  else return variable.settle(type === 'flag' ? false : standard);
  return true;
}

/** A record of the list that an expression names, none of its fields known. */
function recordOf(of: Expression, scope: Scope): Map<string, Variable> {
  const variable = of.kind === 'name' ? variableAt(of.path, scope) : null;
  const fields = variable?.fields ?? null;
  if (fields === null) return new OpenRecord();
  return new Map([...fields].map(([name, prop]) => [name, new Variable(prop)]));
}

/** A record of a list whose fields the interface does not tell: it has those that its template names. */
class OpenRecord extends Map<string, Variable> {
  override get(name: string): Variable {
    const known = super.get(name) ?? new Variable(null);
    this.set(name, known);
    return known;
  }
}

/** The records of a list that stands as data in a use; null where it is none, or stands in a file. */
function recordsIn({ openEnd, closeStart, attrs }: Element, source: string, { fields }: Variable): Records | null {
  if (attrs.some(({ name }) => name === 'src') || fields === null) return null;
  try {
    const rows: unknown = JSON.parse(source.slice(openEnd, closeStart));
    if (!Array.isArray(rows)) return null;
    return rows.map((row: Record<string, unknown>) => {
      const record = new Map<string, Variable>();
      for (const [key, prop] of fields) {
        const variable = new Variable(prop);
        const value = row[prop.name.replace(/^.*\./, '')];
        variable.settle(typeof value === 'string' ? spelledValue(value) : value === true ? true : null);
        record.set(key, variable);
      }
      return record;
    });
  } catch {
    return null;
  }
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
  const place = { component: scope.frame.component, start: use.start, end: use.openEnd, at: -1 };
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
      return apply(readingsOf(constraint.segments, constraint.raw, knowledgeOf(scope)), constraint.read, scope, isLast);
    case 'link':
      return settleLink(constraint, isLast);
  }
}

/** Takes the only reading, or the first where this is the last chance. */
function apply(readings: Generator<Reading>, read: (raw: string) => Spelled, scope: Scope, isLast: boolean): Settled {
  const first = readings.next();
  if (first.done === true) return 'wrong';
  if (!isLast && readings.next().done !== true) return 'waits';
  for (const { test, holds } of first.value.facts) if (!assume(test, holds, scope)) return 'wrong';
  for (const { path, raw } of first.value.names) {
    const variable = variableAt(path, scope);
    if (variable === null ? raw !== null && raw !== '' : !variable.bindRaw(raw, read)) return 'wrong';
  }
  return 'done';
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
  if (value === null) return apply(readingsOf(segments, null, knowledge), spelledAttribute, scope, isLast);
  const isDefault = standard !== null && standard.value === value.value;
  if (isDefault && !isLast) return 'waits';
  if (isDefault && apply(readingsOf(segments, null, knowledge), spelledAttribute, scope, true) === 'done')
    return 'done';
  return apply(readingsOf(segments, value.raw, knowledge), () => value, scope, isLast);
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
      row[variable.prop?.name.replace(/^.*\./, '') ?? key] = value ?? null;
    }
    rows.push(row);
  }
  return rows;
}
