/** What is known of the values that a fragment would be given, and what each place of it adds to that. */
import { camelName, type Datum, evaluate, type Expression, isSpelled, isTruthy } from '../component/expression.js';
import type { Component, Prop } from '../component/model.js';
import type { Spelled } from '../page/spelling.js';
import { folderOf } from '../page/url.js';
import type { Knowledge } from './segments.js';

/** The records of a list, by field in camelCase. */
export type Records = Map<string, Variable>[];

/** One prop or field while its value is worked out. */
export class Variable {
  /** undefined as long as nothing tells; lists have records instead */
  value: Exclude<Datum, Datum[] | Map<string, Datum>> | undefined = undefined;
  records: Records | undefined = undefined;
  /** texts that it is not */
  readonly not = new Set<string>();
  /** it is there, whatever it is */
  isGiven = false;

  constructor(
    readonly prop: Prop | null,
    /** the fields of its records; null where none are declared */
    readonly fields: ReadonlyMap<string, Prop> | null = null,
  ) {}

  /** Says what a use gives it; false where that cannot be: a default stands for what is not given. */
  bind(value: Exclude<Variable['value'], undefined>): boolean {
    const { prop } = this;
    if (value === null && prop !== null && (!prop.optional || prop.default !== null)) return this.value === null;
    return this.settle(value);
  }

  /** Says what raw source says; null that it is not there. */
  bindRaw(raw: string | null, read: (raw: string) => Spelled): boolean {
    if (this.prop?.type === 'flag') return this.bind(raw !== null);
    return this.bind(raw === null ? null : read(raw));
  }

  /** Says that nothing of it shows among other text: it is not given, or empty. */
  bindEmpty(): boolean {
    if (this.value === null || this.bind(null)) return true;
    return this.bind({ value: '', raw: '' });
  }

  /** Says what it holds, given or not; false where that cannot be. */
  settle(value: Exclude<Variable['value'], undefined>): boolean {
    if (this.value !== undefined) return comparable(this.value) === comparable(value);
    const type = this.prop?.type;
    if (type === 'list' || (type === 'flag' && isSpelled(value))) return false;
    if (type !== undefined && type !== 'flag' && typeof value === 'boolean') return false;
    if (isSpelled(value) && this.not.has(value.value)) return false;
    if (this.isGiven && !isTruthy(value)) return false;
    this.value = value;
    return true;
  }
}

function comparable(value: Exclude<Variable['value'], undefined>): unknown {
  return isSpelled(value) ? value.value : value;
}

/** Where names mean something: a component with its props, and the records of the blocks around. */
export interface Scope {
  frame: Frame;
  records: ReadonlyMap<string, ReadonlyMap<string, Variable>>;
}

/** A component, with where it is used: null for the one that the fragment is matched with. */
export interface Frame {
  component: Component;
  folder: string;
  variables: ReadonlyMap<string, Variable>;
  outer: Scope | null;
}

export function frameOf(component: Component, outer: Scope | null): Frame {
  const variables = new Map<string, Variable>();
  for (const [variable, prop] of component.ownProps) {
    const fields = prop.type === 'list' ? fieldsIn(component, prop) : null;
    variables.set(variable, new Variable(prop, fields));
  }
  return { component, folder: folderOf(component.path), variables, outer };
}

function fieldsIn({ props }: Component, list: Prop): ReadonlyMap<string, Prop> | null {
  const start = `${list.name}.`;
  const fields = props.filter(({ name }) => name.startsWith(start));
  return fields.length === 0
    ? null
    : new Map(fields.map((field) => [camelName(field.name.slice(start.length)), field]));
}

/** The prop or field that a path names; null for a name that means nothing. */
export function variableAt([first, field, ...rest]: string[], { frame, records }: Scope): Variable | null {
  if (rest.length > 0 || first === undefined) return null;
  const record = records.get(first);
  if (record !== undefined) return field === undefined ? null : (record.get(field) ?? null);
  return field === undefined ? (frame.variables.get(first) ?? null) : null;
}

/** What is known in a scope. */
export function knowledgeOf(scope: Scope): Knowledge {
  const valueOf = (path: string[]): Datum | undefined => {
    const variable = variableAt(path, scope);
    if (variable === null) return null;
    return variable.records === undefined ? variable.value : variable.records.map(() => null);
  };
  /** What an expression comes to; undefined where that depends on what is not known. */
  const known = (expression: Expression): Datum | undefined => {
    switch (expression.kind) {
      case 'literal':
        return expression.value;
      case 'name':
        return valueOf(expression.path);
      case 'equal': {
        const same = sameness(expression.left, expression.right);
        return same === undefined ? undefined : same !== expression.negated;
      }
      case 'choose': {
        const truth = truthOf(expression.test);
        return truth === undefined ? undefined : known(truth ? expression.yes : expression.no);
      }
      case 'nullish': {
        const left = known(expression.left);
        return left === null ? known(expression.right) : left;
      }
    }
  };
  const sameness = (left: Expression, right: Expression): boolean | undefined => {
    const [one, other] = [known(left), known(right)];
    if (one !== undefined && other !== undefined)
      return evaluate({ kind: 'equal', negated: false, left: literal(one), right: literal(other) }, new Map()) === true;
    const open = one === undefined ? left : right;
    const value = one === undefined ? other : one;
    const variable = open.kind === 'name' ? variableAt(open.path, scope) : null;
    if (variable === null || value === undefined) return undefined;
    if (value === null) return variable.isGiven ? false : undefined;
    return isSpelled(value) && variable.not.has(value.value) ? false : undefined;
  };
  const truthOf = (test: Expression): boolean | undefined => {
    const value = known(test);
    if (value !== undefined) return isTruthy(value);
    return test.kind === 'name' && variableAt(test.path, scope)?.isGiven === true ? true : undefined;
  };
  return { valueOf, truthOf };
}

function literal(value: Datum): Expression {
  return { kind: 'literal', value };
}

/** Takes it that a test holds, or does not; false where that contradicts what is known. */
export function assume(test: Expression, holds: boolean, scope: Scope): boolean {
  const truth = knowledgeOf(scope).truthOf(test);
  if (truth !== undefined) return truth === holds;
  if (test.kind === 'equal') return assumeEqual(test, holds !== test.negated, scope);
  const variable = test.kind === 'name' ? variableAt(test.path, scope) : null;
  if (variable === null) return true;
  const { prop } = variable;
  if (prop?.type === 'list') {
    if (!holds) variable.records = [];
    return true;
  }
  if (!holds) return variable.bind(prop?.type === 'flag' || prop === null ? false : null);
  if (prop?.type === 'flag') return variable.bind(true);
  variable.isGiven = true;
  return true;
}

/** `name === 'text'` and `name === null`; others are left to the proof. */
function assumeEqual(test: Extract<Expression, { kind: 'equal' }>, holds: boolean, scope: Scope): boolean {
  const [name, other] = test.left.kind === 'name' ? [test.left, test.right] : [test.right, test.left];
  const variable = name.kind === 'name' ? variableAt(name.path, scope) : null;
  if (variable === null || other.kind !== 'literal') return true;
  const { value } = other;
  if (value === null) {
    if (holds) return variable.bind(null);
    variable.isGiven = true;
    return true;
  }
  if (holds) return isSpelled(value) || typeof value === 'boolean' ? variable.bind(value) : false;
  if (isSpelled(value)) variable.not.add(value.value);
  else if (typeof value === 'boolean' && variable.prop?.type === 'flag') return variable.bind(!value);
  return true;
}
