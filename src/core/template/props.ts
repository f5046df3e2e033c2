/** From holes to props: what varies together is one prop, and a value within another is the same prop used twice. */
import { type Spelled } from '../page/spelling.js';
import { hasTurn, moveUrls, templateUrls, turnedAs, type UrlKind } from '../page/url.js';
import type { Element } from '../page/tree.js';
import type { PropType } from '../component/model.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { firstOf, type Hole, isFlagHole, isText, keyOf, type UrlKindOf, type Value } from './pattern.js';
import { defaultOf } from './default-value.js';
import { isPassed, passedProp } from './placeholders.js';
import { VectorMap } from './vectors.js';
import { addTo } from '../groups.js';

/** An event handler of an element, or the prop that a use passes one in. */
export const EVENT = /^on-?([a-z]+)$/;

/** A varying value before it has a name: its holes, the first one is where the value stands by itself. */
export interface Varying {
  holes: Hole[];
  values: Value[];
  type: PropType;
  /** null at some occurrences */
  optional: boolean;
  choices: string[];
  default: Spelled | null;
}

/**
 * Groups holes with equal values, then derives those that hold another's value; code that runs on an event is no value
 * for anything else.
 * @returns null when that makes more than `most`, those aside that may turn out to be one marker: flags, and one of two words
 */
export function groupHoles(holes: Hole[], most: number, deriving: Deriving): Varying[] | null {
  const { occurrences, urlKindOf } = deriving;
  const [byValues, byCode] = [new VectorMap<Hole[]>(), new VectorMap<Hole[]>()];
  for (const hole of holes) {
    delete hole.ends;
    delete hole.equals;
    delete hole.negated;
    delete hole.either;
    if (hole.kind === 'literal' || hole.kind === 'name') continue;
    addTo(isCode(hole) ? byCode : byValues, hole.values, hole);
  }
  const groups = [...byValues.entries(), ...byCode.entries()].map(({ held }) => held);
  const flags = groups.filter(areFlags);
  const texts = groups.filter((group) => !areFlags(group));
  const pairs = new Set(texts.filter(arePairs));
  if (texts.length - pairs.size > most * VECTORS_PER_PROP || flags.length + pairs.size > MAX_MARKS) return null;
  // the shortest values are what the others may be made from
  const lengths = new Map(texts.map((group) => [group, lengthOfValues(group[0]!)]));
  texts.sort((a, b) => lengths.get(a)! - lengths.get(b)!);
  const kept: Hole[][] = [];
  let count = 0;
  for (const group of texts) {
    const owner = kept.find(([first]) => derive(group, first!, deriving));
    if (owner !== undefined) {
      owner.push(...group);
      continue;
    }
    kept.push(group);
    if (!pairs.has(group) && ++count > most) return null;
  }
  const order = new Map(holes.map((hole, i) => [hole, i]));
  return [...withPartialJoined(kept, deriving), ...flags]
    .sort((a, b) => order.get(a[0]!)! - order.get(b[0]!)!)
    .map((group) => ({ holes: group, values: group[0]!.values, ...typeOf(group, occurrences, urlKindOf) }));
}

/** Where values stand, and which of them are URLs. */
export interface Deriving {
  occurrences: Occurrence[];
  componentFolder: string;
  urlKindOf: UrlKindOf;
}

/** Groups without those that say, where their elements are, what another one says everywhere: these become part of that. */
function withPartialJoined(groups: Hole[][], deriving: Deriving): Hole[][] {
  const left = [...groups];
  for (const group of groups.filter(isPartial)) {
    const owner = left.find((other) => other !== group && !isPartial(other) && derive(group, other[0]!, deriving));
    if (owner === undefined) continue;
    owner.push(...group);
    left.splice(left.indexOf(group), 1);
  }
  return left;
}

/** True for what is not said at some occurrences, since what it is said of is not there. */
function isPartial(group: Hole[]): boolean {
  return group[0]!.values.includes(null) && !group.some(mayLack);
}

/** False for a value that is code, and for code that is nothing but the value: a prop is one or the other. */
function mayHoldFor(outer: Hole, inner: Hole): boolean {
  if (isCode(inner)) return isCode(outer);
  return !isCode(outer) || outer.values.some((value, i) => keyOf(value) !== keyOf(inner.values[i]!));
}

/** Whether what stands there runs on an event. */
function isCode({ attr }: Hole): boolean {
  return attr !== null && EVENT.test(attr);
}

function lengthOfValues({ values }: Hole): number {
  return values.reduce((sum, value) => sum + keyOf(value).length, 0);
}

/** Any number of flags, and of words that are one of two, may still be few markers: one a link of a menu. */
const MAX_MARKS = 200;

/** True for a value that is one of two wherever its element stands. */
function arePairs(group: Hole[]): boolean {
  const { kind, values, pattern } = group[0]!;
  const there = values.filter((_, i) => pattern.nodes[i] !== null);
  return kind === 'attr' && !there.includes(null) && new Set(there.map(keyOf)).size === 2;
}

function areFlags(group: Hole[]): boolean {
  return isFlagHole(group[0]!);
}

/** So often must single characters stand within other values to be no accident. */
const SURE = 3;

/** Different columns beyond this are not tried for being derived from each other. */
const VECTORS_PER_PROP = 2;

/**
 * When each value of `group` is constant text around the value of `inner`, cut off at word edges, notes that text
 * in every hole of the group and returns true; what some occurrences lack may be made from what all of them have.
 */
function derive(group: Hole[], inner: Hole, { occurrences, componentFolder, urlKindOf }: Deriving): boolean {
  if (!mayHoldFor(group[0]!, inner)) return false;
  const own = group[0]!.values;
  // nearly all pairs end here, before anything is read twice
  for (const at of [0, own.length - 1]) if (own[at] !== null && !mayHold(own[at]!, inner.values[at]!)) return false;
  const isPart = !inner.values.includes(null) && isPartial(group);
  const there = own.flatMap((value, i) => (value === null ? [] : [i]));
  const sameThere = group.every((hole) => hole.values.every((value, i) => (value === null) === (own[i] === null)));
  const isWhere = isPart
    ? there.length >= SURE
    : own.every((value, i) => (value === null) === (inner.values[i] === null));
  const fits = (hole: Hole) => isText(hole.values[there[0]!]!) && (hole === inner || hole.kind !== 'test');
  if (!sameThere || !isWhere || ![inner, ...group].every(fits)) return false;
  const outers = group.map((hole) => there.map((i) => hole.values[i] as Spelled));
  const inners = there.map((i) => inner.values[i] as Spelled);
  const short = inners.every((each) => each.value.length < 2) && inners.length < SURE;
  if (short || inners.some((each) => each.value === '') || inners.every((each) => each.value === inners[0]!.value))
    return false;
  const places = there.map((i) => occurrences[i]!);
  const ends: [string, string][] = [];
  for (const [g, column] of outers.entries()) {
    const kind = urlKindAt(group[g]!, urlKindOf);
    const plain = endsAround(column, inners);
    // a URL that starts with constant text is written for the component's folder
    const found =
      kind === null ? plain : (urlEnds(column, inners, kind, places, componentFolder) ?? startingWith(plain));
    // an attribute that is left out is so by its whole value
    if (found === null || (found.join('') !== '' && mayLack(group[g]!))) return false;
    ends.push(found);
  }
  group.forEach((hole, g) => (hole.ends = ends[g]!));
  return true;
}

/** True for a value that is missing where its element stands. */
export function mayLack({ values, pattern }: Hole): boolean {
  return values.some((value, i) => value === null && pattern.nodes[i] !== null);
}

function mayHold(outer: Value, inner: Value): boolean {
  return isText(outer) && isText(inner) && outer.raw.includes(inner.raw);
}

function endsAround(column: Spelled[], inners: Spelled[]): [string, string] | null {
  const [first, inner] = [column[0]!.raw, inners[0]!.raw];
  for (let at = first.indexOf(inner); at >= 0; at = first.indexOf(inner, at + 1)) {
    const before = first.slice(0, at);
    const after = first.slice(at + inner.length);
    if (/[&A-Za-z0-9]$/.test(before) || /^[A-Za-z0-9]/.test(after) || /[&{}]/.test(before + after)) continue;
    if (column.every((each, i) => each.raw === before + inners[i]!.raw + after)) return [before, after];
  }
  return null;
}

/** Nothing before the value: the use gives the URL from its start. */
function startingWith(ends: [string, string] | null): [string, string] | null {
  return ends?.[0] === '' ? ends : null;
}

/** What stands around the value in URLs as the component's folder has them, when that gives all of them back. */
function urlEnds(
  column: Spelled[],
  inners: Spelled[],
  kind: UrlKind,
  occurrences: Occurrence[],
  componentFolder: string,
): [string, string] | null {
  const isDotted = column.some(({ raw }) => raw.startsWith('./'));
  const moved = column.map(({ raw }, i) => {
    const { folder } = occurrences[i]!;
    const url = folder === null ? null : templateUrls(raw, kind, folder, componentFolder);
    // where some have a dot, those that climb are written with one
    return isDotted && raw.startsWith('../') && url !== null ? `./${url}` : url;
  });
  if (moved.includes(null)) return null;
  const turning = moved.find((raw) => hasTurn(raw!)) ?? '';
  const found = endsAround(
    moved.map((raw) => turnedAs(raw!, turning)).map((raw) => ({ value: raw, raw })),
    inners,
  );
  if (found === null || found[0] === '') return null;
  const [before, after] = found;
  const back = (i: number) => moveUrls(before + inners[i]!.raw + after, kind, componentFolder, occurrences[i]!.folder!);
  return column.every(({ raw }, i) => back(i) === raw) ? found : null;
}

const MAX_CHOICES = 6;

type Typed = Pick<Varying, 'type' | 'optional' | 'choices' | 'default'>;

/** The type of what templates pass in: that of the prop that it stands for, where it is one name everywhere. */
function passedType({ values, pattern, kind }: Hole, occurrences: Occurrence[]): Typed {
  const props = values.map((value, i) => {
    const node = pattern.nodes[i];
    return node && isPassed(value, occurrences[i]!) ? passedProp(value, node, occurrences[i]!) : undefined;
  });
  const [first] = props;
  const said = props.map((prop) => (prop ? [prop.type, ...prop.choices].join(' ') : null));
  const same = said.every((each) => each === said[0]);
  // what is more than a name may come to nothing
  const mayLack = props.some(
    (prop, i) => prop === null || (prop === undefined ? values[i] === null : prop.optional && prop.default === null),
  );
  const typed = { optional: mayLack, choices: [], default: null };
  if (same && first)
    return { ...typed, type: first.type, choices: first.choices, optional: mayLack && first.type !== 'flag' };
  return kind === 'test' ? { ...typed, type: 'flag', optional: false } : { ...typed, type: 'text' };
}

function typeOf(holes: Hole[], occurrences: Occurrence[], urlKindOf: UrlKindOf): Typed {
  const { values } = holes[0]!;
  if (holes[0]!.type === 'list') return { type: 'list', optional: false, choices: [], default: null };
  const isUrl = (hole: Hole) => ['url', 'srcset'].includes(urlKindAt(hole, urlKindOf) ?? '');
  const optional = values.includes(null);
  const passed = holes.find(
    (hole) => hole.kind === 'test' || hole.values.some((value, i) => isPassed(value, occurrences[i]!)),
  );
  if (passed !== undefined) {
    const typed = passedType(passed, occurrences);
    return typed.type === 'text' && holes.some(isUrl) ? { ...typed, type: 'url' } : typed;
  }
  const spelled = values.filter((value) => value !== null) as Spelled[];
  if (typeof spelled[0] === 'boolean') return { type: 'flag', optional: false, choices: [], default: null };
  const usual = optional ? null : defaultOf(spelled);
  const plain = (type: PropType): Typed => ({ type, optional, choices: [], default: usual });
  const isWhole = ({ before, ends }: Hole) => before === '' && (ends ?? []).join('') === '';
  if (holes.some((hole) => isCode(hole) && isWhole(hole))) return plain('handler');
  if (holes.some((hole) => isUrl(hole) && hole.before + (hole.ends?.[0] ?? '') === '')) return plain('url');
  const words = [...new Set(spelled.map(({ value }) => value))];
  const few = words.length <= MAX_CHOICES && spelled.length >= words.length * 2;
  const inClass = holes.some((hole) => hole.attr === 'class');
  const isBoolean = words.every((word) => word === 'true' || word === 'false');
  const mayChoose = words.length > 1 && (few || inClass || isBoolean) && words.length <= 12;
  if (mayChoose && words.every((word) => /^[a-z][\w-]{0,23}$/i.test(word)))
    return { type: 'choice', optional, choices: words.sort(), default: usual };
  return plain(words.every((word) => /^-?\d+(\.\d+)?$/.test(word)) ? 'number' : 'text');
}

function urlKindAt({ kind, attr, type, declared, ...hole }: Hole, urlKindOf: UrlKindOf): UrlKind | null {
  if (type !== undefined) return type === 'url' ? 'url' : null;
  if (declared !== undefined) return declared.isUrl ? 'url' : null;
  return kind === 'attr' ? urlKindOf(elementOf(hole), attr!) : null;
}

/** The element of a hole, or of its text, at the first occurrence that has it. */
export function elementOf(hole: Pick<Hole, 'pattern'>): Element {
  const node = firstOf(hole.pattern.nodes);
  return (node.kind === 'element' ? node : node.parent) as Element;
}
