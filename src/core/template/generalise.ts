/** From alike occurrences to an interface: the anti-unification of the group, with names and types. */
import type { Spelled } from '../page/spelling.js';
import type { Child, Element, Text } from '../page/tree.js';
import { framed, framedApart, pourUntil } from './pour.js';
import { samplesOf, spread } from './samples.js';
import { solve, type Solving } from './solve.js';
import { nameProps } from './prop-names.js';
import { nameList, nameRun, nameSlot } from './part-names.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { type ElementPattern, type Hole, isText, type ListPattern, type Pattern, patternsIn, type Row, type Run, runsOf, type SlotPattern, type UrlKindOf, type Value } from './pattern.js';
import type { InnerUse } from './compose.js';
import { joinMarkers, joinOpposites } from './markers.js';
import { isPassed } from './placeholders.js';
import type { Prop } from '../component/model.js';
import type { Vocabulary } from '../words/vocabulary.js';
import { groupHoles, type PropType } from './props.js';

export interface InferredProp {
  name: string;
  type: PropType;
  optional: boolean;
  choices: string[];
  default: Spelled | null;
  /** one an occurrence */
  values: Value[];
  holes: Hole[];
  /** of a list: what its records are made of; a component within may define that */
  list?: List;
  /** of a field: the name that the template gives the record */
  scope?: string;
  /** of a list that a template around passes on: what its records hold */
  fields?: Prop[];
}

export interface List {
  pattern: ListPattern;
  items: General;
  /** what the template calls one record */
  item: string;
}

/** A part that comes and goes, and the prop that says so. */
export interface Block extends Run {
  prop: InferredProp;
  /** there when the prop is not */
  negated: boolean;
  /** set where it is there when the prop has this value */
  equals?: string;
}

/** A group of alike occurrences, generalised: all that is needed to write the component and its uses. */
export interface General {
  occurrences: Occurrence[];
  root: ElementPattern;
  props: InferredProp[];
  /** constant URLs that the template writes for its own folder */
  literals: Hole[];
  blocks: Block[];
  slots: SlotPattern[];
  vocabulary: Vocabulary;
  /** other components in its template */
  uses?: ReadonlyMap<Pattern, InnerUse>;
}

/** What an interface is made with. */
export interface Interfacing {
  /** folder of the component files, relative to the root */
  componentFolder: string;
  maxProps: number;
  urlKindOf: UrlKindOf;
  /** what class words are there for, so that names come from those that name something */
  vocabulary: Vocabulary;
}

export interface Generalising extends Solving, Interfacing {}

/**
 * Generalises a group. Where more props would be needed than allowed, what varies most is
 * poured into slots.
 * @returns null when the occurrences are not alike
 */
export function generalise(occurrences: Occurrence[], options: Generalising): General | null {
  const samples = samplesOf(occurrences);
  const root = solve(samples.samples, options);
  if (root === null) return null;
  const kept = pourUntil(root, samples.samples, (each) => namelessInterface(samples.samples, each, options) !== null, options);
  return kept && interfaceOf(occurrences, spread(kept, occurrences, samples), options);
}

/** The group as a frame: constant markup with slots for what varies in it. Null where nothing can be poured in. */
export function frameOf(occurrences: Occurrence[], options: Generalising): General | null {
  const samples = samplesOf(occurrences);
  const solved = solve(samples.samples, options);
  const root = solved && framed(solved, samples.samples);
  const general = root && interfaceOf(occurrences, spread(root, occurrences, samples), { ...options, maxProps: Infinity });
  return general === null || general.slots.length === 0 ? null : general;
}

/** What whole pages share, with slots for the contents of each of their parts. Null where they are not alike. */
export function layoutFrameOf(occurrences: Occurrence[], options: Generalising): General | null {
  const root = solve(occurrences, options);
  return root && interfaceOf(occurrences, framedApart(root, occurrences), { ...options, maxProps: Infinity });
}

/** Elements that hold nothing but items of one group, as one component each that takes a list of them. */
export function listedOf(parents: Occurrence[], items: General, options: Generalising): General | null {
  if (items.slots.length > 0 || items.props.some(({ list }) => list !== undefined)) return null;
  const owner = new Map(parents.map(({ element }, i) => [element, i]));
  const owners = items.occurrences.map(({ element }) => owner.get(element.parent as Element) ?? -1);
  const root: ElementPattern = { kind: 'element', nodes: parents.map(({ element }) => element), holes: [], children: [] };
  const runs = parents.map(({ element }) => element.children);
  const lead = runs[0]![0]?.kind === 'text' ? runs[0]![0] : null;
  const trail = runs.map((run) => (run.at(-1)?.kind === 'text' && lead !== null ? (run.at(-1) as Text) : null));
  const ends = runs.map((run, i) => (trail[i] === null ? run : run.slice(0, -1)).at(-1)?.end ?? -1);
  const nodes = runs.map((run) => run[0] ?? null);
  root.children.push({ kind: 'list', nodes, holes: [], lead, root: items.root, items: items.occurrences, owners, ends });
  if (trail.every((text) => text !== null))
    root.children.push({ kind: 'text', nodes: trail, holes: [], verbatim: false });
  return owners.includes(-1) ? null : interfaceOf(parents, root, options);
}

/** How many different values may vary before flags are joined. */
const VALUES_PER_PROP = 2;

/** Props, blocks and slots for a pattern; null when there are too many. */
export function interfaceOf(occurrences: Occurrence[], root: ElementPattern, options: Interfacing): General | null {
  const general = namelessInterface(occurrences, root, options);
  return general && named(general);
}

function namelessInterface(
  occurrences: Occurrence[],
  root: ElementPattern,
  options: Interfacing,
): General | null {
  const { maxProps, componentFolder, urlKindOf } = options;
  const patterns = patternsIn(root);
  const holes = patterns.flatMap((pattern) => pattern.holes);
  // flags may still turn out to be one marker
  const varying = groupHoles(holes, occurrences, componentFolder, maxProps * VALUES_PER_PROP, urlKindOf);
  if (varying === null) return null;
  const passed = passedOn(holes.filter(({ kind }) => kind === 'name'));
  if (passed === null) return null;
  const props = varying.map((each): InferredProp => {
    const list = each.holes[0]!.list;
    return { name: '', ...each, ...(list === undefined ? {} : { list }) };
  });
  props.push(...passed);
  for (const pattern of patterns) {
    if (pattern.kind !== 'list') continue;
    const items = namelessInterface(pattern.items, pattern.root, options);
    if (items === null) return null;
    // a record says all that it holds
    for (const field of items.props) field.default = null;
    const values = occurrences.map((): Row[] => []);
    for (const owner of pattern.owners) values[owner]!.push({});
    props.push({ ...plainProp('list', values), list: { pattern, items, item: '' } });
  }
  const runs = patterns.flatMap((pattern) => (pattern.kind === 'element' ? runsOf(pattern) : []));
  const blocks = runs.map((run) => blockFor(run, props, occurrences));
  joinMarkers(props, blocks);
  joinOpposites(props, blocks);
  if (props.length > maxProps) return null;
  const literals = holes.filter((hole) => hole.kind === 'literal');
  const slots = patterns.filter((pattern) => pattern.kind === 'slot');
  return { occurrences, root, props, literals, blocks, slots, vocabulary: options.vocabulary };
}

/** Names that templates pass on as they are, as props of the same names; null where one name means different things. */
function passedOn(holes: Hole[]): InferredProp[] | null {
  const byName = new Map<string, Hole[]>();
  for (const hole of holes) byName.set(hole.before, [...(byName.get(hole.before) ?? []), hole]);
  const props = [...byName].map(([name, mine]): InferredProp | null => {
    const outer = mine.flatMap((hole) => hole.outer!);
    const [prop, ...fields] = outer[0] as [Prop, ...Prop[]];
    const said = (each: Prop[]) =>
      each.map(({ name: one, type, choices }) => `${one} ${type} ${choices.join(' ')}`).join();
    if (outer.some((each) => said(each) !== said(outer[0]!))) return null;
    const values = mine[0]!.values.map((_, i) => mine.find((hole) => hole.values[i] !== null)?.values[i] ?? null);
    const given = outer.every(([each]) => !each!.optional || each!.default !== null) && !values.includes(null);
    const optional = prop.type !== 'flag' && prop.type !== 'list' && !given;
    return { name, type: prop.type, optional, choices: prop.choices, default: null, values, holes: mine, fields };
  });
  return props.includes(null) ? null : (props as InferredProp[]);
}

/** Names all props and slots of a group that was just made. */
function named(general: General): General {
  const { props, blocks, slots, occurrences, vocabulary } = general;
  const varying = props.filter(({ holes, fields }) => holes.length > 0 && fields === undefined);
  const passed = props.flatMap(({ name, fields }) => (fields === undefined ? [] : [name]));
  const parts = new Map<InferredProp, string>();
  for (const { prop, patterns, negated } of blocks)
    if (prop.type === 'flag' && !negated && !parts.has(prop)) parts.set(prop, nameRun(nodesOf(patterns), new Set(), vocabulary));
  const roots = new Set(occurrences.map(({ element }) => element));
  const names = nameProps(varying, { roots, vocabulary, parts, passed });
  varying.forEach((prop, i) => (prop.name = names[i]!));
  const taken = new Set([...names, ...passed]);
  for (const prop of props)
    if (prop.list !== undefined && prop.holes.length === 0) nameListProp(prop, prop.list, taken, vocabulary);
  for (const { prop, patterns } of blocks) {
    if (prop.name !== '') continue;
    const marker = prop.type === 'choice' ? ['current', 'marked'].find((name) => !taken.has(name)) : undefined;
    prop.name = marker ?? nameRun(nodesOf(patterns), taken, vocabulary);
    taken.add(prop.name);
  }
  if (slots.length > 1 || slots.some((slot) => isBlankSomewhere(slot, occurrences))) {
    for (const slot of slots) {
      slot.name = nameSlot(slot, taken, vocabulary);
      taken.add(slot.name);
    }
  }
  return general;
}

/** True where some use pours in white space only: without a name that would not be seen beside a list. */
function isBlankSomewhere({ ranges }: SlotPattern, occurrences: Occurrence[]): boolean {
  return ranges.some((range, i) => {
    const content = range === null ? '' : occurrences[i]!.page.source.slice(...range);
    return content !== '' && content.trim() === '';
  });
}

function nodesOf(patterns: Pattern[]): Child[] {
  return patterns.flatMap((pattern) => pattern.nodes.find((node) => node !== null) ?? []);
}

function nameListProp(prop: InferredProp, list: List, taken: Set<string>, vocabulary: Vocabulary): void {
  const { items, pattern } = list;
  named(items);
  const { many, one } = nameList(
    pattern.root.nodes.find((node) => node !== null)!,
    taken,
    vocabulary,
  );
  prop.name = many;
  taken.add(many);
  list.item = one;
  taken.add(one);
  for (const field of items.props) field.scope = one;
  const rows = prop.values as Row[][];
  const next = rows.map(() => 0);
  pattern.owners.forEach((owner, i) => {
    rows[owner]![next[owner]!++] = Object.fromEntries(
      items.props.map((field) => [field.name, field.values[i] as Row[string]]),
    );
  });
}

function plainProp(type: PropType, values: Value[]): InferredProp {
  return { name: '', type, optional: false, choices: [], default: null, values, holes: [] };
}

/** Whether a value is true where a block asks for it. */
function truthy(value: Value): boolean {
  if (Array.isArray(value)) return value.length > 0;
  return isText(value) ? value.value !== '' : value === true;
}

/** Finds the prop that tells whether a run is there, or adds a flag that does. */
function blockFor(run: Run, props: InferredProp[], occurrences: Occurrence[]): Block {
  const tells = (prop: InferredProp, negated: boolean) =>
    prop.default === null &&
    !prop.values.some((value, i) => isPassed(value, occurrences[i]!)) &&
    run.presence.every((there, i) => truthy(prop.values[i]!) === (there !== negated));
  for (const negated of [false, true]) {
    const prop = props.find((each) => tells(each, negated));
    if (prop !== undefined) return { ...run, prop, negated };
  }
  const prop = plainProp('flag', run.presence);
  props.push(prop);
  return { ...run, prop, negated: false };
}
