/**
 * What shows in several ways is one prop: a marker that one of several siblings carries, as the current page in a menu,
 * is not a flag for each; and of things with two states that always change together one tells the others.
 */
import type { Spelled } from '../page/spelling.js';
import { type Child, textOf } from '../page/tree.js';
import { asName } from '../words/names.js';
import { type Block, type Hole, type InferredProp, isText, keyOf, type Pattern, type Value } from './pattern.js';

/** Flags of at least this number that show in one same way and exclude each other are one marker. */
const LEAST = 3;

/** Joins flags that are one marker, in place. */
export function joinMarkers(props: InferredProp[], blocks: Block[]): void {
  const bySignature = new Map<string, InferredProp[]>();
  for (const prop of props) {
    if (!isPlainFlag(prop)) continue;
    for (const signature of signaturesOf(prop, blocks)) {
      const alike = bySignature.get(signature);
      if (alike === undefined) bySignature.set(signature, [prop]);
      else alike.push(prop);
    }
  }
  // the more siblings, the surer
  for (const family of [...bySignature.values()].sort((a, b) => b.length - a.length)) {
    const flags = family.filter((flag) => props.includes(flag));
    if (flags.length < LEAST) continue;
    const markedBy = (is: boolean) => flags[0]!.values.map((_, i) => flags.filter(({ values }) => values[i] === is));
    // one has it, or one alone has it not
    const marks = [true, false].find((is) => markedBy(is).every((each) => each.length <= 1));
    if (marks === undefined) continue;
    const marked = markedBy(marks);
    const names = namesOf(flags, blocks);
    const name = new Map(flags.map((flag, i) => [flag, names[i]!]));
    const marker: InferredProp = {
      ...flags[0]!,
      type: 'choice',
      choices: names,
      optional: marked.some((each) => each.length === 0),
      values: marked.map(([flag]) => (flag === undefined ? null : { value: name.get(flag)!, raw: name.get(flag)! })),
      holes: [],
    };
    props.splice(props.indexOf(flags[0]!), 1, marker);
    for (const flag of flags) follow(flag, marker, name.get(flag), !marks, props, blocks);
    // where one sibling differs from the others in several ways
    for (const flag of props.filter(isPlainFlag)) {
      const not = names.find((each) =>
        flag.values.every((there, i) => there !== (textOfValue(marker.values[i]!) === each)),
      );
      if (not !== undefined) follow(flag, marker, not, true, props, blocks);
    }
  }
}

/** What may stand in a text within a placeholder. */
const SAFE = /^[^'"\\{}&\n\r]*$/;

/** Joins what has two states and always changes together, in place. */
export function joinOpposites(props: InferredProp[], blocks: Block[]): void {
  const byStates = new Map<string, InferredProp[]>();
  for (const prop of props) {
    if (!isPlainFlag(prop) && !isPair(prop)) continue;
    const key = statesOf(prop);
    byStates.set(key, [...(byStates.get(key) ?? []), prop]);
  }
  for (const [states, alike] of byStates) {
    if (!states.includes('0')) continue;
    const times = ({ values }: InferredProp) => values.filter((value) => value === true).length;
    const flags = alike.filter(isPlainFlag).sort((a, b) => times(a) - times(b));
    const owner = alike.find(({ type }) => type === 'choice') ?? flags[0];
    if (owner === undefined) continue;
    for (const prop of alike) {
      if (prop === owner) continue;
      if (prop.type !== 'flag') followPair(prop, owner, props, blocks);
      else if (owner.type === 'flag') follow(prop, owner, undefined, true, props, blocks);
      else follow(prop, owner, textOfValue(owner.values[prop.values.indexOf(true)]!)!, false, props, blocks);
    }
  }
}

/** True for a choice of two, and for a class that is one of two. */
function isPair({ type, choices, values, holes }: InferredProp): boolean {
  if (values.some((value) => textOfValue(value)?.includes('{{'))) return false;
  if (type === 'choice') return choices.length === 2;
  const inClass = holes.length > 0 && holes.every(({ attr }) => attr === 'class');
  return type === 'text' && inClass && new Set(values.flatMap((value) => textOfValue(value) ?? [])).size === 2;
}

function isPlainFlag({ type, values }: InferredProp): boolean {
  return type === 'flag' && values.every((value) => typeof value === 'boolean');
}

/** At which occurrences a value is as at the first that has one. */
function statesOf({ values }: InferredProp): string {
  const first = values.find((value) => value !== null)!;
  return values.map((value) => (value === null ? '-' : Number(keyOf(value) === keyOf(first)))).join('');
}

function textOfValue(value: Value): string | null {
  return isText(value) ? value.value : null;
}

/** Makes all that a flag says follow another prop. */
function follow(
  flag: InferredProp,
  owner: InferredProp,
  equals: string | undefined,
  negated: boolean,
  props: InferredProp[],
  blocks: Block[],
): void {
  for (const hole of flag.holes) {
    if (equals !== undefined) hole.equals = equals;
    if (negated) hole.negated = true;
  }
  for (const block of blocks) {
    if (block.prop !== flag) continue;
    block.prop = owner;
    if (equals !== undefined) block.equals = equals;
    if (negated) block.negated = !block.negated;
  }
  owner.holes.push(...flag.holes);
  if (props.includes(flag)) props.splice(props.indexOf(flag), 1);
}

/** Makes a choice between two class words follow another prop; what it says elsewhere stays its own. */
function followPair(prop: InferredProp, owner: InferredProp, props: InferredProp[], blocks: Block[]): void {
  const isHere = ({ values, pattern }: Hole) => values.every((value, i) => value !== null || pattern.nodes[i] === null);
  // of what a component within is given a class may be made as well
  const isWord = ({ attr, type }: Hole) => attr === 'class' || type === 'choice';
  const inClass = prop.holes.every((hole) => isWord(hole) && hole.ends === undefined && isHere(hole));
  const words = prop.holes.flatMap(({ values }) => values as (Spelled | null)[]);
  if (!inClass || !words.every((word) => word === null || SAFE.test(word.raw))) return;
  const equals = owner.type === 'flag' ? undefined : owner.choices[0]!;
  const isYes = (value: Value) => (equals === undefined ? value === true : textOfValue(value) === equals);
  const yes = owner.values.findIndex(isYes);
  const no = owner.values.findIndex((value) => value !== null && !isYes(value));
  for (const hole of prop.holes) {
    if (equals !== undefined) hole.equals = equals;
    hole.either = [(hole.values[yes] as Spelled).raw, (hole.values[no] as Spelled).raw];
  }
  // it is there exactly when its owner is
  for (const block of blocks) if (block.prop === prop) block.prop = owner;
  owner.holes.push(...prop.holes);
  props.splice(props.indexOf(prop), 1);
}

/** The ways in which a flag shows: a hole of a kind, or a part of certain tags that comes with it. */
function signaturesOf(prop: InferredProp, blocks: Block[]): Set<string> {
  const shown = ({ kind, attr, before, pattern }: Hole) => `${kind} ${attr ?? ''} ${before} ${tagOf(pattern)}`;
  const mine = blocks.filter((block) => block.prop === prop);
  const parts = mine.map(({ negated, patterns }) => `${negated ? 'unless' : 'when'} ${patterns.map(tagOf).join(' ')}`);
  return new Set([...prop.holes.map(shown), ...parts]);
}

function tagOf({ nodes }: Pattern): string {
  const node = nodes.find((each) => each !== null);
  return node?.kind === 'element' ? node.tag : '';
}

/** The first text that a node holds. */
function firstText(node: Child): string {
  if (node.kind === 'text') return node.value.trim();
  if (node.kind !== 'element') return '';
  for (const child of node.children) {
    const text = firstText(child);
    if (text !== '') return text;
  }
  return '';
}

/** What the marked siblings are called: by their texts, as words that differ. */
function namesOf(flags: InferredProp[], blocks: Block[]): string[] {
  const taken = new Set<string>();
  return flags.map((flag, number) => {
    const own = flag.holes.map(({ pattern }) => pattern);
    const patterns = [...own, ...blocks.filter((block) => block.prop === flag).flatMap((block) => block.patterns)];
    const texts = patterns.flatMap(({ nodes }) => {
      const node = nodes.find((each) => each !== null);
      return node === undefined || node === null ? [] : [firstText(node), textOf(node)].map(asName);
    });
    const name = texts.find((each) => each !== null && !taken.has(each)) ?? `item-${number + 1}`;
    taken.add(name);
    return name;
  });
}
