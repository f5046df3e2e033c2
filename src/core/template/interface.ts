/** The interface of a group: its props, blocks, lists and slots, with names and types. */
import type { Prop, PropType } from '../component/model.js';
import { type Occurrence, RUN } from '../fragments/occurrence.js';
import type { Child } from '../page/tree.js';
import type { Vocabulary } from '../words/vocabulary.js';
import { isFreeText } from './keywords.js';
import { joinMarkers, joinOpposites } from './markers.js';
import { nameList, nameRun, nameSlot } from './part-names.js';
import {
  type Block,
  type ElementPattern,
  firstOf,
  type General,
  type Hole,
  type InferredProp,
  isText,
  type List,
  type Pattern,
  patternsIn,
  type Row,
  type Run,
  runsOf,
  type SlotPattern,
  type UrlKindOf,
  type Value,
} from './pattern.js';
import { isPassed } from './placeholders.js';
import { nameProps } from './prop-names.js';
import { groupHoles } from './props.js';
import { addTo } from '../groups.js';

/** What an interface is made with. */
export interface Interfacing {
  /** folder of the component files, relative to the root */
  componentFolder: string;
  maxProps: number;
  urlKindOf: UrlKindOf;
  /** what class words are there for, so that names come from those that name something */
  vocabulary: Vocabulary;
}

/** How many different values may vary before flags are joined. */
const VALUES_PER_PROP = 2;

/** Props, blocks and slots for a pattern; null as `namelessInterface` says. */
export function interfaceOf(occurrences: Occurrence[], root: ElementPattern, options: Interfacing): General | null {
  const general = namelessInterface(occurrences, root, options);
  return general && named(general);
}

/** The same without names; null when there are too many props, or nothing but what is poured in. */
export function namelessInterface(
  occurrences: Occurrence[],
  root: ElementPattern,
  options: Interfacing,
): General | null {
  const { maxProps, componentFolder, urlKindOf } = options;
  if (isAllPoured(root)) return null;
  const patterns = patternsIn(root);
  const holes = patterns.flatMap((pattern) => pattern.holes);
  // flags may still turn out to be one marker
  const varying = groupHoles(holes, maxProps * VALUES_PER_PROP, { occurrences, componentFolder, urlKindOf });
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
  for (const prop of props) if (isFreeText(prop, blocks)) Object.assign(prop, { type: 'text', choices: [] });
  if (props.length > maxProps) return null;
  const literals = holes.filter((hole) => hole.kind === 'literal');
  const slots = patterns.filter((pattern) => pattern.kind === 'slot');
  return { occurrences, root, props, literals, blocks, slots, vocabulary: options.vocabulary };
}

/** True for siblings without a root of their own, all of which are poured in. */
function isAllPoured({ nodes, children }: ElementPattern): boolean {
  return nodes.some((node) => node?.tag === RUN) && children.every(({ kind }) => kind === 'slot');
}

/** Names that templates pass on as they are, as props of the same names; null where one name means different things. */
function passedOn(holes: Hole[]): InferredProp[] | null {
  const byName = new Map<string, Hole[]>();
  for (const hole of holes) addTo(byName, hole.before, hole);
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
export function named(general: General): General {
  const { props, blocks, slots, occurrences, vocabulary } = general;
  const varying = props.filter(({ holes, fields }) => holes.length > 0 && fields === undefined);
  const passed = props.flatMap(({ name, fields }) => (fields === undefined ? [] : [name]));
  const parts = new Map<InferredProp, string>();
  for (const { prop, patterns, negated } of blocks)
    if (prop.type === 'flag' && !negated && !parts.has(prop))
      parts.set(prop, nameRun(nodesOf(patterns), new Set(), vocabulary));
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

/**
 * True where some use pours in white space only: without a name that would not be seen beside a list; and neither would
 * nothing at all where something else stands instead.
 */
function isBlankSomewhere({ ranges, hasFallback }: SlotPattern, occurrences: Occurrence[]): boolean {
  return ranges.some((range, i) => {
    if (range === null) return false;
    const content = occurrences[i]!.page.source.slice(...range);
    return content.trim() === '' && (content !== '' || hasFallback);
  });
}

function nodesOf(patterns: Pattern[]): Child[] {
  return patterns.flatMap((pattern) => pattern.nodes.find((node) => node !== null) ?? []);
}

function nameListProp(prop: InferredProp, list: List, taken: Set<string>, vocabulary: Vocabulary): void {
  const { items, pattern } = list;
  named(items);
  const { many, one } = nameList(firstOf(pattern.root.nodes), taken, vocabulary);
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
