/**
 * What looks like a slip: a value left over from the block that was copied, one copy that lacks or says otherwise what
 * all others have, an `id` that stands twice, a label for nothing. Told with the majority's version, never mended.
 */
import { isText, type Pattern, type Value, type General, type InferredProp } from '../template/pattern.js';
import { areSameValues } from '../template/vectors.js';
import { inTemplates } from '../template/placeholders.js';
import { placeText } from '../errors.js';
import { placeAt } from '../page/parse.js';
import { quote, quotedApart } from '../page/same.js';
import { attrOf, type Element, textOf } from '../page/tree.js';
import { targetIn } from '../page/url.js';
import type { Profile } from '../fragments/profile.js';
import type { Finding, Remark } from './types.js';
import { addTo } from '../groups.js';

/** So many others must agree for one to be odd. */
const MAJORITY = 3;

/** Slips in all pages and in what is recommended. */
export function slipsIn(profiles: Profile[], findings: Finding[]): Remark[] {
  const remarks = profiles.flatMap(referencesIn);
  // only these are looked into: what is not recommended may not have been made yet
  for (const finding of findings.filter(({ recommended }) => recommended)) {
    const { general } = finding;
    if (general === null || general.occurrences.length <= MAJORITY) continue;
    // a template says what it is given
    if (inTemplates(general.occurrences)) continue;
    remarks.push(...general.props.flatMap((prop) => leftOver(finding, general, prop)), ...oddOnes(finding, general));
  }
  return remarks;
}

function slip(message: string, places: Remark['places']): Remark {
  return { kind: 'slip', message, places };
}

function referencesIn({ page, elements }: Profile): Remark[] {
  const byId = new Map<string, Element[]>();
  for (const element of elements) {
    const id = attrOf(element, 'id');
    if (id !== undefined && id !== '') addTo(byId, id, element);
  }
  const twice = [...byId].filter(([, owners]) => owners.length > 1);
  const remarks = twice.map(([id, owners]) => {
    const places = owners.map((element) => placeAt(page, Math.max(0, element.start)));
    return slip(`the id "${id}" stands ${owners.length} times on this page`, places.slice(1));
  });
  for (const element of elements) {
    const target = element.tag === 'label' || element.tag === 'output' ? attrOf(element, 'for') : undefined;
    for (const id of target?.split(/\s+/).filter((each) => each !== '') ?? [])
      if (!byId.has(id))
        remarks.push(
          slip(`this ${element.tag} is for "${id}", and nothing here has that id`, [placeAt(page, element.start)]),
        );
  }
  return remarks;
}

function textAt(value: Value): string | null {
  return isText(value) ? value.value : null;
}

/** A value to be compared: of a URL where it leads, for pages in other folders spell it otherwise. */
export function comparable({ occurrences }: General, { type, values }: InferredProp, i: number): string | null {
  const value = values[i]!;
  const { folder } = occurrences[i]!;
  if (type !== 'url' || folder === null || !isText(value)) return textAt(value);
  return targetIn(value.raw, 'url', folder);
}

/** What a prop is called where other components stand in the template: by the one of theirs that it is passed to. */
export function writtenName({ props }: Finding, { name, values }: InferredProp): string {
  return props.find((prop) => areSameValues(prop.values, values))?.name ?? name;
}

/** What one place says otherwise or lacks. */
interface Odd {
  /** number of the place */
  at: number;
  remark: Remark;
}

/** What one place alone says otherwise or lacks while all others agree; where that is more than one thing it is meant. */
function oddOnes(finding: Finding, general: General): Remark[] {
  const lacks = general.blocks.flatMap(({ presence, patterns }): Odd[] => {
    const lacking = presence.flatMap((there, i) => (there ? [] : [i]));
    if (lacking.length !== 1) return [];
    return descriptionOf(patterns).map((part) => lack(finding.name, general, lacking[0]!, part));
  });
  const odd = [...lacks, ...general.props.flatMap((prop) => oddValue(finding, general, prop) ?? [])];
  return odd.filter(({ at }) => odd.filter((other) => other.at === at).length === 1).map(({ remark }) => remark);
}

/** What one place alone gives a prop while all others agree; null for none. */
function oddValue(finding: Finding, general: General, prop: InferredProp): Odd | null {
  const { holes, values } = prop;
  if (!mayBeForgotten(prop)) return null;
  const absent = values.flatMap((value, i) => (value === null ? [i] : []));
  const told = writtenName(finding, prop);
  if (absent.length > 0) {
    // of a part that is not there, that is told
    const isLack = absent.length === 1 && holes.every(({ pattern }) => pattern.nodes[absent[0]!] !== null);
    return isLack ? lack(finding.name, general, absent[0]!, told) : null;
  }
  const groups = placesByText(general, prop);
  const [usual, odd] = groups.length === 2 ? groups.sort((a, b) => b.length - a.length) : [];
  if (groups.length !== 2 || odd!.length !== 1 || usual!.length < MAJORITY) return null;
  const at = odd![0]!;
  const [said, others] = quotedApart(textAt(values[at]!)!, textAt(values[usual![0]!]!)!);
  const message = `${finding.name}: ${told} is ${said} here and ${others} in the ${values.length - 1} others`;
  return { at, remark: slip(message, [placeOf(general, prop, at)]) };
}

/** False for what is meant as it is: what marks or comes and goes, and how things look. */
function mayBeForgotten({ type, holes }: InferredProp): boolean {
  if (type === 'flag' || type === 'list' || holes.some(({ equals }) => equals !== undefined)) return false;
  return !holes.every(({ attr }) => attr === 'class' || attr === 'style');
}

/** The numbers of the places that give a prop the same. */
function placesByText(general: General, prop: InferredProp): number[][] {
  const byText = new Map<string, number[]>();
  prop.values.forEach((_, i) => {
    const text = comparable(general, prop, i);
    if (text !== null) addTo(byText, text, i);
  });
  return [...byText.values()];
}

/** A value that two places share while all others differ: that of one was left over when the other was copied. */
function leftOver(finding: Finding, general: General, prop: InferredProp): Remark[] {
  const { values } = prop;
  if (!mayBeForgotten(prop) || prop.type === 'number' || values.includes(null)) return [];
  const groups = placesByText(general, prop);
  const pairs = groups.filter((each) => each.length > 1);
  const [pair] = pairs;
  const isWord = (text: string) => /\p{L}{2}/u.test(text);
  if (pairs.length !== 1 || pair!.length !== 2 || groups.length < MAJORITY) return [];
  const [first, second] = pair as [number, number];
  const text = textAt(values[first]!)!;
  // two that share more are one thing shown twice
  const others = general.props.filter((other) => other !== prop && (other.type === 'text' || other.type === 'url'));
  const shares = (other: InferredProp) => comparable(general, other, first) === comparable(general, other, second);
  const apart = others.length > 0 && !others.some(shares);
  if (!isWord(text) || !apart) return [];
  // the one whose other values speak of it is not the one that was left over
  const speaks = (i: number) =>
    general.props.some((other) => {
      const value = other === prop ? null : textAt(other.values[i]!);
      return value !== null && isWord(value) && text.toLowerCase().includes(value.toLowerCase());
    });
  const [right, left] = speaks(second) && !speaks(first) ? [second, first] : [first, second];
  const there = placeOf(general, prop, right);
  const message = `${writtenName(finding, prop)} of ${finding.name} is ${quote(text)}, as at ${placeText(there)}, and has a value of its own in all others`;
  return [slip(message, [placeOf(general, prop, left)])];
}

function lack(name: string, { occurrences }: General, at: number, what: string): Odd {
  const { page, element } = occurrences[at]!;
  const message = `${name}: this one has no ${what}, and the ${occurrences.length - 1} others have`;
  return { at, remark: slip(message, [placeAt(page, element.start)]) };
}

/** A part by its first element, or else its first text; none for white space. */
function descriptionOf(patterns: Pattern[]): string[] {
  const nodes = patterns.flatMap((pattern) => pattern.nodes.find((each) => each !== null) ?? []);
  const node = nodes.find(({ kind }) => kind === 'element') ?? nodes.find((each) => textOf(each) !== '');
  if (node?.kind !== 'element') return node === undefined ? [] : [`text ${quote(textOf(node))}`];
  const word = attrOf(node, 'class')?.trim().split(/\s+/)[0];
  return [`<${node.tag}${word ? ` class="${word}"` : ''}>`];
}

function placeOf({ occurrences }: General, { holes }: InferredProp, i: number) {
  const { page, element } = occurrences[i]!;
  const node = holes[0]?.pattern.nodes[i] ?? element;
  return placeAt(page, Math.max(0, node.start));
}
