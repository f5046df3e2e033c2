/**
 * What shows in several ways is one prop: a marker that one of several siblings carries, as the current page in a menu,
 * is not a flag for each; and of things with two states that always change together one tells the others.
 */
import type { Spelled } from '../page/spelling.js';
import { firstTextIn, textOf } from '../page/tree.js';
import { asName } from '../words/names.js';
import { type Block, type Hole, type InferredProp, isText, keyOf, tagOf, type Value } from './pattern.js';
import { addTo } from '../groups.js';
import { isKeyword } from './keywords.js';

/** Flags of at least this number that show in one same way and exclude each other are one marker. */
export const LEAST_MARKED = 3;

/** Joins what is one marker, in place: flags of which one is there, and choices of two of which one differs from the others. */
export function joinMarkers(props: InferredProp[], blocks: Block[]): void {
  const families = bySignature(props.filter(isFlag), (prop) => signaturesOf(prop, blocks));
  for (const family of families.flatMap(apartByPlace)) {
    const flags = family.filter((flag) => props.includes(flag));
    // one has it, or one alone has it not
    const marks = [true, false].find((is) => isOneOf(flags, (value) => value === is));
    if (marks === undefined) continue;
    const marker = markerOf(flags, (value) => value === marks, props, blocks);
    for (const [i, flag] of flags.entries()) follow(flag, marker, marker.choices[i], !marks, props, blocks);
    // where one sibling differs from the others in several ways
    for (const flag of props.filter(isPlainFlag)) {
      const not = marker.choices.find((each) =>
        flag.values.every((there, i) => there !== (textOfValue(marker.values[i]!) === each)),
      );
      if (not !== undefined) follow(flag, marker, not, true, props, blocks);
    }
  }
  for (const family of bySignature(props.filter(isKeywordPair), pairSignatures)) {
    const odd = textsOf(family[0]!).find((word) => isOneOf(family, says(word)));
    if (odd !== undefined) joinPairs(family, odd, props, blocks);
  }
  // links that lead nowhere on their own page
  for (const [odd, family] of byOddWord(props.filter(isUrlPair))) {
    const left = family.filter((pair) => props.includes(pair));
    if (isOneOf(left, says(odd))) joinPairs(left, odd, props, blocks);
  }
}

/** Joins choices between two words, one of which is the same in all of them, and only one at a time has. */
function joinPairs(pairs: InferredProp[], odd: string, props: InferredProp[], blocks: Block[]): void {
  const isOdd = says(odd);
  // what marks the same one in another way is the same marker
  const nameIn = (marker: InferredProp, pair: InferredProp) =>
    marker.choices.find((name) => pair.values.every((v, i) => isOdd(v) === (textOfValue(marker.values[i]!) === name)));
  const known = props.find(
    (prop) => !pairs.includes(prop) && prop.type === 'choice' && pairs.every((pair) => nameIn(prop, pair)),
  );
  const marker = known ?? markerOf(pairs, isOdd, props, blocks);
  for (const pair of pairs) {
    const usual = textsOf(pair).find((word) => word !== odd)!;
    for (const hole of pair.holes) Object.assign(hole, { equals: nameIn(marker, pair)!, either: [odd, usual] });
    marker.holes.push(...pair.holes);
    props.splice(props.indexOf(pair), 1);
  }
}

/** Props that show in one same way, the most siblings first: the more there are, the surer. */
function bySignature(
  props: InferredProp[],
  signaturesOfOne: (prop: InferredProp) => Iterable<string>,
): InferredProp[][] {
  const families = new Map<string, InferredProp[]>();
  for (const prop of props)
    for (const signature of signaturesOfOne(prop)) {
      addTo(families, signature, prop);
    }
  return [...families.values()].sort((a, b) => b.length - a.length);
}

/**
 * Flags of one way to show, together as far as one of them is there at a time, as a link and the group that it stands in are
 * not: apart by the components within that are given them, and by how deep they stand.
 */
function apartByPlace(flags: InferredProp[]): InferredProp[][] {
  const isMarked = (value: Value) => value === true;
  if (isOneOf(flags, isMarked) || isOneOf(flags, (value) => value === false)) return [flags];
  const byPlace = new Map<string, InferredProp[]>();
  for (const flag of flags) addTo(byPlace, placeOf(flag), flag);
  const found: InferredProp[][] = [];
  for (const some of [...byPlace.values()].sort((a, b) => b.length - a.length)) {
    const at = found.findIndex((others) => isOneOf([...others, ...some], isMarked));
    if (at < 0) found.push(some);
    else found[at] = [...found[at]!, ...some];
  }
  return found;
}

/** The component within that a flag is given, and how many elements are around what it shows in. */
function placeOf({ holes: [hole] }: InferredProp): string {
  let depth = 0;
  for (let at = hole?.pattern.nodes.find((node) => node !== null)?.parent; at?.kind === 'element'; at = at.parent)
    depth++;
  return `${hole?.component ?? ''} ${depth}`;
}

/** True for so many props that they may be one marker, of which one at most is marked at each occurrence. */
function isOneOf(props: InferredProp[], isMarked: (value: Value) => boolean): boolean {
  if (props.length < LEAST_MARKED) return false;
  return props[0]!.values.every((_, i) => props.filter(({ values }) => isMarked(values[i]!)).length <= 1);
}

/** A marker before the first of some props, with a choice for each of them; without holes yet. */
function markerOf(
  marked: InferredProp[],
  isMarked: (value: Value) => boolean,
  props: InferredProp[],
  blocks: Block[],
): InferredProp {
  const names = namesOf(marked, blocks);
  const values = marked[0]!.values.map((_, i) => {
    const name = names[marked.findIndex((prop) => isMarked(prop.values[i]!))];
    return name === undefined ? null : { value: name, raw: name };
  });
  const marker: InferredProp = {
    ...marked[0]!,
    type: 'choice',
    choices: names,
    optional: values.includes(null),
    default: null,
    values,
    holes: [],
  };
  props.splice(props.indexOf(marked[0]!), 0, marker);
  return marker;
}

/** True for one of two keywords that shows in nothing else, and is there wherever that is. */
function isKeywordPair(prop: InferredProp): boolean {
  const { type, holes } = prop;
  const isWord = (hole: Hole) =>
    hole.kind === 'attr' &&
    (hole.type === undefined || hole.inClass === true) &&
    hole.ends === undefined &&
    isKeyword(hole);
  return (
    (type === 'choice' || type === 'text') && areTwoTexts(prop) && holes.every((hole) => isWord(hole) && isHere(hole))
  );
}

/** True for one of two URLs that shows in nothing else, and is there wherever that is. */
function isUrlPair(prop: InferredProp): boolean {
  return (
    prop.type === 'url' &&
    areTwoTexts(prop) &&
    !prop.values.includes(null) &&
    prop.holes.every((hole) => hole.kind === 'attr' && hole.part === null && hole.ends === undefined && isHere(hole))
  );
}

/** True for two texts that a placeholder may say as they are. */
function areTwoTexts(prop: InferredProp): boolean {
  const words = textsOf(prop);
  const isSpelled = (value: Value) => value === null || (isText(value) && value.raw === value.value);
  return words.length === 2 && words.every((word) => SAFE.test(word)) && prop.values.every(isSpelled);
}

/** Pairs by a word that each of them has, and by where it shows; the most first. */
function byOddWord(pairs: InferredProp[]): [odd: string, pairs: InferredProp[]][] {
  const families = new Map<string, { odd: string; pairs: InferredProp[] }>();
  for (const pair of pairs)
    for (const odd of textsOf(pair)) {
      const { attr, pattern } = pair.holes[0]!;
      const key = `${odd} ${attr} ${tagOf(pattern)}`;
      const family = families.get(key) ?? { odd, pairs: [] };
      family.pairs.push(pair);
      families.set(key, family);
    }
  return Array.from(families.values(), (each): [string, InferredProp[]] => [each.odd, each.pairs]).sort(
    (a, b) => b[1].length - a[1].length,
  );
}

/** Tells values that say exactly this. */
function says(text: string): (value: Value) => boolean {
  return (value) => textOfValue(value) === text;
}

/** The texts that a prop says, each once. */
function textsOf({ values }: InferredProp): string[] {
  return [...new Set(values.flatMap((value) => textOfValue(value) ?? []))].sort();
}

/** True for a hole that says something wherever its element is. */
function isHere({ values, pattern }: Hole): boolean {
  return values.every((value, i) => value !== null || pattern.nodes[i] === null);
}

function pairSignatures(prop: InferredProp): string[] {
  const words = textsOf(prop).join(' ');
  const absent = prop.values.map((value) => (value === null ? '-' : '+')).join('');
  return [
    ...new Set(prop.holes.map(({ attr, before, pattern }) => `${words} ${absent} ${attr} ${before} ${tagOf(pattern)}`)),
  ];
}

/** What may stand in a text within a placeholder. */
const SAFE = /^[^'"\\{}&\n\r]*$/;

/** Joins what has two states and always changes together, in place. */
export function joinOpposites(props: InferredProp[], blocks: Block[]): void {
  const byStates = new Map<string, InferredProp[]>();
  for (const prop of props) {
    if (!isPlainFlag(prop) && !isPair(prop)) continue;
    const key = statesOf(prop);
    addTo(byStates, key, prop);
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
function isPair(prop: InferredProp): boolean {
  const { type, choices, values, holes } = prop;
  const inClass = () => type === 'text' && holes.length > 0 && holes.every(({ attr }) => attr === 'class');
  if (type === 'choice' ? choices.length !== 2 : !inClass() || textsOf(prop).length !== 2) return false;
  return !values.some((value) => textOfValue(value)?.includes('{{'));
}

/** True for a flag, in something that comes and goes too. */
function isFlag({ type, values }: InferredProp): boolean {
  return type === 'flag' && values.every((value) => value === null || typeof value === 'boolean');
}

/** True for a flag that is there or not at every occurrence. */
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

/** Makes a choice between two keywords follow another prop; what it says elsewhere stays its own. */
function followPair(prop: InferredProp, owner: InferredProp, props: InferredProp[], blocks: Block[]): void {
  const areWords = prop.holes.every((hole) => isKeyword(hole) && hole.ends === undefined && isHere(hole));
  const words = prop.holes.flatMap(({ values }) => values as (Spelled | null)[]);
  if (!areWords || !words.every((word) => word === null || SAFE.test(word.raw))) return;
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

/** What the marked siblings are called: by their texts, as words that differ. */
function namesOf(flags: InferredProp[], blocks: Block[]): string[] {
  const taken = new Set<string>();
  return flags.map((flag, number) => {
    const own = flag.holes.map(({ pattern }) => pattern);
    const patterns = [...own, ...blocks.filter((block) => block.prop === flag).flatMap((block) => block.patterns)];
    const texts = patterns.flatMap(({ nodes }) => {
      const node = nodes.find((each) => each !== null);
      return node === undefined || node === null
        ? []
        : [firstTextIn(node, ({ tag }) => tag !== 'i' && tag !== 'svg'), firstTextIn(node), textOf(node)].map(asName);
    });
    const name = texts.find((each) => each !== null && !taken.has(each)) ?? `item-${number + 1}`;
    taken.add(name);
    return name;
  });
}
