/** What each place of an aligned fragment says of the values that it would be given. */
import type { Expression } from '../component/expression.js';
import type { Prop } from '../component/model.js';
import type { Segment } from '../component/segments.js';
import { propName } from '../library/names.js';
import { valueOf as rawValueOf } from '../page/attribute.js';
import { type Spelled, spelledAttribute, spelledText, spelledValue } from '../page/spelling.js';
import type { Element } from '../page/tree.js';
import { isRelative, moveUrls } from '../page/url.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Step } from './align.js';
import type { Difference } from './difference.js';
import type { AttrItem, UseItem } from './items.js';
import type { Fact } from './segments.js';
import { type Frame, frameOf, type Records, type Scope, Variable, variableAt } from './variables.js';
import { fillingOf } from '../component/use.js';

/** What one place of a fragment says. */
export type Constraint =
  | (Equation & { kind: 'equation'; /** it differs where this is not so */ difference: Difference })
  | ({ kind: 'fact'; scope: Scope } & Fact)
  | Link;

export interface Equation {
  segments: Segment[];
  raw: string | null;
  read: (raw: string) => Spelled;
  scope: Scope;
}

/** A prop of a component within is given what the segments come to; null where nothing is given. */
export interface Link {
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
  isOnLine: boolean;
  hasFallback: boolean;
}

/** Goes along the steps and writes down what each says. */
export class Collector {
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
          for (const { item, raw } of step.attrs) {
            const { start, end, name } = item.attr;
            const place = { kind: 'attribute' as const, name, component: scope.frame.component, start, end };
            const equation = { segments: item.segments, raw, read: spelledAttribute, scope };
            this.constraints.push({ kind: 'equation', ...equation, difference: { ...place, found: raw } });
          }
          if (!this.walk(step.steps, scope)) return false;
          break;
        case 'text':
          if (step.item.constant === null) {
            const { segments, start, end } = step.item;
            const place = { kind: 'text' as const, component: scope.frame.component, start, end };
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

  private slot({ item: { name, isOnLine, children }, around, start, end }: Extract<Step, { kind: 'slot' }>): boolean {
    const { source } = this.occurrence.page;
    const known = this.slots.get(name);
    if (known !== undefined) return source.slice(...known.range) === source.slice(start, end);
    this.slots.set(name, { name, range: [start, end], around, isOnLine, hasFallback: children.length > 0 });
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
      const list = element.children.find((child) => fillingOf(child)?.name === name);
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
        const value = row[propName(prop.name).field!];
        variable.settle(typeof value === 'string' ? spelledValue(value) : value === true ? true : null);
        record.set(key, variable);
      }
      return record;
    });
  } catch {
    return null;
  }
}
