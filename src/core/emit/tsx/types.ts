/**
 * The types of props as TypeScript has them. The interface of a component says most of it; the uses say the rest: a
 * number that is spelled as no number would be stays a string, a prop that some template passes on without having it is
 * optional, and a choice that is given any text is a string.
 */
import { pascalCase } from 'change-case';
import pluralize from 'pluralize';
import { camelName, type Datum, type Expression, isSpelled, namesIn } from '../../component/expression.js';
import type { EmitAttr, EmitComponent, EmitNode, EmitProp, EmitSite, Json, Piece, UseNode } from '../model.js';
import { plainText } from '../pieces.js';
import { childrenOf, find } from '../read.js';
import type { Names } from './names.js';
import { unique } from './strings.js';

export interface Type {
  kind: 'text' | 'number' | 'choice' | 'flag' | 'list' | 'handler' | 'style' | 'nothing' | 'mixed';
  /** may be undefined */
  absent: boolean;
  /** of a choice */
  choices: string[];
  /** of a list: fields by camelCase name, and the interface of a record */
  fields: Map<string, Type>;
  record: string;
}

/** What names mean: the type of each, by camelCase name. */
export type Scope = ReadonlyMap<string, Type>;

export interface PropTypes {
  /** by component, then by kebab-case name of the prop */
  props: ReadonlyMap<string, ReadonlyMap<string, Type>>;
  /** slots that some use leaves empty, by component */
  emptySlots: ReadonlyMap<string, Set<string>>;
}

export function type(kind: Type['kind'], more: Partial<Type> = {}): Type {
  return { kind, absent: false, choices: [], fields: new Map(), record: '', ...more };
}

/** Works out the types of all props; `names` for the interfaces of records. */
export function propTypes(site: EmitSite, names: Names): PropTypes {
  const taken = new Set(
    [...names.components.values(), ...names.pages.values()].flatMap(({ name }) => [name, `${name}Props`]),
  );
  const props = new Map(
    site.components.map((component) => {
      const { name } = names.components.get(component.name)!;
      return [
        component.name,
        new Map(component.props.map((prop) => [prop.name, declared(prop, name, taken)])),
      ] as const;
    }),
  );
  const byName = new Map(site.components.map((component) => [component.name, component]));
  const emptySlots = new Map(site.components.map(({ name }) => [name, new Set<string>()]));
  const known: PropTypes = { props, emptySlots };
  for (let changed = true; changed;) {
    changed = false;
    const give = (to: Type, given: Type) => {
      changed = widen(to, given) || changed;
    };
    const from = (nodes: EmitNode[], scope: Scope): void => {
      for (const node of nodes) {
        if (node.kind === 'use') useGives(node, byName.get(node.component)!, scope, known, give);
        from(childrenOf(node), node.kind === 'each' ? scopeOfItem(node, scope) : scope);
      }
    };
    for (const { name, nodes } of site.components) from(nodes, scopeOf(props.get(name)!));
    for (const { body } of site.pages) from(body, new Map());
  }
  if (names.options.attributes === 'dom') {
    const uses = usesIn(site);
    for (const component of site.components) markStyles(component, props.get(component.name)!, uses);
  }
  return known;
}

/** Props that are nothing but the whole of `style` attributes, and are always given as text, are objects in JSX. */
function markStyles({ name, nodes }: EmitComponent, types: ReadonlyMap<string, Type>, uses: UseNode[]): void {
  const styles = new Set(
    find(nodes, 'element').flatMap(({ attrs }) =>
      attrs.flatMap((attr) => (attr.name === 'style' ? (wholeName(attr.pieces) ?? []) : [])),
    ),
  );
  if (styles.size === 0) return;
  const elsewhere = new Set(namesAmong(nodes, ({ name, pieces }) => name !== 'style' || wholeName(pieces) === null));
  const given = uses.filter(({ component }) => component === name).flatMap(({ values }) => values);
  for (const [prop, type] of types) {
    const isText = given.every((value) => value.name !== prop || plainText(value.pieces) !== null);
    if (type.kind === 'text' && isText && styles.has(camelName(prop)) && !elsewhere.has(camelName(prop)))
      type.kind = 'style';
  }
}

/** The name that a value is nothing but; else null. */
function wholeName([piece, ...others]: Piece[]): string | null {
  const isName = others.length === 0 && typeof piece === 'object' && piece.kind === 'value';
  return isName && piece.expression.kind === 'name' ? piece.expression.path.join('.') : null;
}

/** What expressions in nodes name: props, and items of lists. @param isCounted false for attributes that are passed over */
export function namesAmong(nodes: EmitNode[], isCounted: (attr: EmitAttr) => boolean = () => true): string[] {
  const inPieces = (pieces: Piece[]): string[] =>
    pieces.flatMap((piece) =>
      typeof piece === 'string' ? [] : piece.kind === 'url' ? inPieces(piece.pieces) : namesOf(piece.expression),
    );
  return nodes.flatMap((node): string[] => {
    const below = namesAmong(childrenOf(node), isCounted);
    if (node.kind === 'element')
      return [...below, ...node.attrs.flatMap((attr) => (isCounted(attr) ? inPieces(attr.pieces) : []))];
    if (node.kind === 'use') return [...below, ...node.values.flatMap(({ pieces }) => inPieces(pieces))];
    if (node.kind === 'value') return namesOf(node.expression);
    return [...below, ...(node.kind === 'when' ? namesOf(node.test) : node.kind === 'each' ? namesOf(node.of) : [])];
  });
}

function namesOf(expression: Expression): string[] {
  return namesIn(expression).map(([name]) => name!);
}

/** What the names in a component's template mean. */
export function scopeOf(props: ReadonlyMap<string, Type>): Scope {
  return new Map([...props].map(([name, each]) => [camelName(name), each]));
}

/** The scope in a block over a list. */
export function scopeOfItem({ item, of }: { item: string; of: Expression }, scope: Scope): Scope {
  const list = typeOf(of, scope);
  return new Map([...scope, [camelName(item), type('list', { fields: list.fields, record: list.record })]]);
}

function declared(prop: EmitProp, component: string, taken: Set<string>): Type {
  const { type: kind, choices, fields } = prop;
  const absent = kind === 'flag' || (prop.optional && prop.default === null);
  if (kind === 'list') {
    const record = unique(component + pascalCase(pluralize.singular(prop.name)), taken);
    const types = fields.map((field) => [camelName(field.name), declared(field, component, taken)] as const);
    return type('list', { record, fields: new Map(types), absent: prop.optional });
  }
  const made = type(kind === 'url' ? 'text' : kind === 'choice' && choices.length === 0 ? 'text' : kind, {
    absent,
    choices: [...choices],
  });
  if (prop.default !== null) widen(made, literal(prop.default));
  return made;
}

/** The type of one written value. */
function literal(value: string): Type {
  return type('choice', { choices: [value] });
}

/** True when a value is spelled as a number would be. */
export function isNumber(value: string): boolean {
  return value !== '' && String(Number(value)) === value && Number.isFinite(Number(value));
}

/** Makes room in a prop's type for what it is given; true when that changed it. */
function widen(to: Type, given: Type): boolean {
  let changed = false;
  if (given.absent && !to.absent) changed = to.absent = true;
  const turn = (kind: Type['kind']) => {
    changed = to.kind !== kind || changed;
    to.kind = kind;
  };
  if (given.kind === 'nothing' || to.kind === 'text' || to.kind === 'mixed' || to.kind === 'flag') return changed;
  if (to.kind === 'list') {
    for (const [name, field] of given.fields) {
      const mine = to.fields.get(name);
      if (mine !== undefined) changed = widen(mine, field) || changed;
    }
    for (const [name, mine] of to.fields)
      if (given.kind === 'list' && !given.fields.has(name) && !mine.absent && mine.kind !== 'flag')
        changed = mine.absent = true;
  } else if (to.kind === 'number') {
    if (given.kind === 'choice' ? !given.choices.every(isNumber) : given.kind !== 'number') turn('text');
  } else if (to.kind === 'choice') {
    if (given.kind !== 'choice' || !given.choices.every((choice) => to.choices.includes(choice))) turn('text');
  }
  return changed;
}

function useGives(
  use: Extract<EmitNode, { kind: 'use' }>,
  component: EmitComponent,
  scope: Scope,
  { props, emptySlots }: PropTypes,
  give: (to: Type, given: Type) => void,
): void {
  const types = props.get(component.name)!;
  for (const prop of component.props) {
    const to = types.get(prop.name)!;
    const value = use.values.find(({ name }) => name === prop.name);
    const list = use.lists.find(({ name }) => name === prop.name);
    if (list !== undefined) for (const record of list.records) give(to, ofRecord(record, to));
    else if (value !== undefined) give(to, ofValue(value, scope, prop.default !== null));
    else if (prop.default === null && prop.type !== 'flag') give(to, type('nothing', { absent: true }));
  }
  for (const slot of component.slots)
    if (!use.slots.some(({ name, children }) => name === slot && children.some(({ kind }) => kind !== 'comment')))
      emptySlots.get(component.name)!.add(slot);
}

function ofRecord(record: Json, { fields }: Type): Type {
  const given = typeof record === 'object' && record !== null && !Array.isArray(record) ? record : {};
  const values = new Map(Object.entries(given).map(([name, value]) => [camelName(name), value]));
  const types = [...fields.keys()].map((name): [string, Type] => [name, ofJson(values.get(name) ?? null)]);
  return type('list', { fields: new Map(types) });
}

function ofJson(value: Json): Type {
  if (value === null || Array.isArray(value) || typeof value === 'object') return type('nothing', { absent: true });
  return typeof value === 'boolean' ? type('flag') : literal(String(value));
}

function ofValue({ pieces }: EmitAttr, scope: Scope, hasDefault: boolean): Type {
  const [first] = pieces;
  const text = plainText(pieces);
  if (text !== null) return literal(text);
  if (pieces.length > 1 || typeof first !== 'object' || first.kind !== 'value') return type('text');
  const given = typeOf(first.expression, scope);
  return hasDefault ? { ...given, absent: false } : given;
}

/** The type of an expression. */
export function typeOf(expression: Expression, scope: Scope): Type {
  switch (expression.kind) {
    case 'literal':
      return ofDatum(expression.value);
    case 'name': {
      let found = scope.get(expression.path[0]!);
      for (const field of expression.path.slice(1)) found = found?.fields.get(camelName(field));
      return found ?? type('nothing', { absent: true });
    }
    case 'equal':
      return type('flag');
    case 'nullish': {
      const left = typeOf(expression.left, scope);
      return left.absent ? either({ ...left, absent: false }, typeOf(expression.right, scope)) : left;
    }
    case 'choose':
      return either(typeOf(expression.yes, scope), typeOf(expression.no, scope));
  }
}

function ofDatum(value: Datum): Type {
  if (isSpelled(value)) return literal(value.value);
  return typeof value === 'boolean' ? type('flag') : type('nothing', { absent: true });
}

function either(a: Type, b: Type): Type {
  const absent = a.absent || b.absent;
  if (a.kind === 'nothing') return { ...b, absent };
  if (b.kind === 'nothing') return { ...a, absent };
  if (a.kind === 'choice' && b.kind === 'choice')
    return type('choice', { absent, choices: [...new Set([...a.choices, ...b.choices])] });
  if (a.kind === b.kind) return { ...a, absent };
  const isText = ({ kind }: Type) => kind === 'text' || kind === 'choice' || kind === 'number';
  return isText(a) && isText(b) ? type('text', { absent }) : type('mixed', { absent });
}

/** All uses in a site, of pages and templates. */
export function usesIn(site: EmitSite): UseNode[] {
  return [
    ...site.components.flatMap(({ nodes }) => find(nodes, 'use')),
    ...site.pages.flatMap(({ body }) => find(body, 'use')),
  ];
}
