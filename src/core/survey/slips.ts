/**
 * What looks like a slip: a value left over from the block that was copied, one copy that lacks or says otherwise what
 * all others have, an `id` that stands twice, a label for nothing. Told with the majority's version, never mended.
 */
import { isText, type Pattern, type Value, type General, type InferredProp } from '../template/pattern.js';
import { areSameValues } from '../template/vectors.js';
import { inTemplates } from '../template/placeholders.js';
import { placeAt } from '../page/parse.js';
import { attrOf, type Element } from '../page/tree.js';
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
    const { name, general } = finding;
    if (general === null || general.occurrences.length <= MAJORITY) continue;
    // a template says what it is given
    if (inTemplates(general.occurrences)) continue;
    for (const prop of general.props) remarks.push(...oddValues(finding, general, prop));
    for (const { presence, patterns } of general.blocks) {
      const lacking = presence.flatMap((there, i) => (there ? [] : [i]));
      if (lacking.length === 1) remarks.push(lack(name, general, lacking[0]!, described(patterns)));
    }
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
  return targetIn(value.raw, folder);
}

/** What a prop is called where other components stand in the template: by the one of theirs that it is passed to. */
export function writtenName({ props }: Finding, { name, values }: InferredProp): string {
  return props.find((prop) => areSameValues(prop.values, values))?.name ?? name;
}

/** A value that only one has while all others agree, or that two share while all others differ. */
function oddValues(finding: Finding, general: General, prop: InferredProp): Remark[] {
  const { name } = finding;
  const { values } = prop;
  const told = writtenName(finding, prop);
  const count = values.length;
  if (prop.type === 'flag' || prop.type === 'list' || prop.holes.some(({ equals }) => equals !== undefined)) return [];
  const absent = values.flatMap((value, i) => (value === null ? [i] : []));
  if (absent.length === 1 && !general.blocks.some((block) => block.prop === prop))
    return [lack(name, general, absent[0]!, told)];
  if (absent.length > 0) return [];
  const byText = new Map<string, number[]>();
  for (let i = 0; i < count; i++) {
    const text = comparable(general, prop, i);
    if (text !== null) addTo(byText, text, i);
  }
  const groups = [...byText.values()];
  const [usual, odd] = groups.length === 2 ? groups.sort((a, b) => b.length - a.length) : [];
  if (groups.length === 2 && odd!.length === 1 && usual!.length >= MAJORITY) {
    const [said, others] = [textAt(values[odd![0]!]!)!, textAt(values[usual![0]!]!)!];
    const message = `${name}: ${told} is "${said}" here and "${others}" in the ${count - 1} others`;
    return [slip(message, [placeOf(general, prop, odd![0]!)])];
  }
  const pairs = groups.filter((each) => each.length > 1);
  const [pair] = pairs;
  const isWord = (text: string) => /\p{L}{2}/u.test(text);
  if (pairs.length !== 1 || pair!.length !== 2 || groups.length < MAJORITY || prop.type === 'number') return [];
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
  const message = `${told} of ${name} is "${text}", as at ${there.path}:${there.line}:${there.column}, and has a value of its own in all others`;
  return [slip(message, [placeOf(general, prop, left)])];
}

function lack(name: string, { occurrences }: General, i: number, what: string): Remark {
  const { page, element } = occurrences[i]!;
  return slip(`${name}: this one has no ${what}, and the ${occurrences.length - 1} others have`, [
    placeAt(page, element.start),
  ]);
}

function described(patterns: Pattern[]): string {
  const node = patterns.flatMap(({ nodes }) => nodes.find((each) => each?.kind === 'element') ?? [])[0];
  if (node?.kind !== 'element') return 'such part';
  const word = attrOf(node, 'class')?.trim().split(/\s+/)[0];
  return `<${node.tag}${word ? ` class="${word}"` : ''}>`;
}

function placeOf({ occurrences }: General, { holes }: InferredProp, i: number) {
  const { page, element } = occurrences[i]!;
  const node = holes[0]?.pattern.nodes[i] ?? element;
  return placeAt(page, Math.max(0, node.start));
}
