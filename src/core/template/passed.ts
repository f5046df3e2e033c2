/** Holes in fragments of templates: names that are passed on as they are, and values that are passed in ready. */
import { camelName, parseExpression } from '../component/expression.js';
import { decodeAttribute } from '../page/spelling.js';
import type { Attr, Element } from '../page/tree.js';
import { relativeUrls, type UrlKind } from '../page/url.js';
import { partHoles, varyingIn, wholeOf, withoutParts } from './parts.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { type ElementPattern, type Hole, type PartHole, type Pattern, spelled } from './pattern.js';
import { canPass, canStay, isTest, type Said, saidIn } from './placeholders.js';
import { sharedUrl } from './urls.js';

/** Notes the names that are said alike everywhere, to be passed on; false where what is said cannot stay as it is. */
export function stays(said: (Said[] | null)[], pattern: Pattern, attr: string | null = null): boolean {
  const names = namesStaying(said, pattern, attr);
  pattern.holes.push(...(names ?? []));
  return names !== null;
}

/** The names that are said alike everywhere, as holes; null where what is said cannot stay as it is. */
export function namesStaying(said: (Said[] | null)[], pattern: Pattern, attr: string | null): Hole[] | null {
  const can = said.every((each, i) => pattern.nodes[i] === null || (each !== null && canStay(each)));
  return can ? namesPassed(said, pattern, attr) : null;
}

/** One hole a name, with what it means at each occurrence. */
function namesPassed(said: (Said[] | null)[], pattern: Pattern, attr: string | null): Hole[] {
  const names = new Set(
    said.flatMap((each) => (each ?? []).flatMap((one) => (one.from === 'prop' ? one.prop.name : []))),
  );
  return [...names].map((name): Hole => {
    const outer = said.flatMap((each) => {
      const one = each?.find((other) => other.from === 'prop' && other.prop.name === name);
      return one?.from === 'prop' ? [one] : [];
    });
    const raw = `{{${camelName(name)}}}`;
    const values = said.map((each) => (each === null ? null : { value: raw, raw }));
    return {
      kind: 'name',
      pattern,
      attr,
      part: null,
      values,
      before: name,
      outer: outer.map(({ prop, fields }) => [prop, ...fields]),
    };
  });
}

/** One choice between constants in a placeholder: what stands before its test, that, and what follows. */
const CHOICE = /^((?:(?!\{\{)[^])*\{\{\s*)((?:'[^']*'|"[^"]*"|[^'"?{}])+?)(\s*\?(?!\?)[^]*)$/;

/** Where placeholders choose between the same constants, only what they ask for is passed in. */
function testPassed(raws: (string | null)[]): PartHole[] | null {
  const matches = raws.map((raw) => (raw === null ? null : CHOICE.exec(raw)));
  const first = matches.find((match) => match !== null);
  if (!first || first[3]!.includes('{{')) return null;
  const same = matches.every((match, i) => raws[i] === null || (match?.[1] === first[1] && match?.[3] === first[3]));
  const [, before, , after] = first as unknown as string[];
  const rest = parseExpression(decodeAttribute(`true${after!.replace(/\}\}[^]*$/, '')}`));
  const constant = rest.kind === 'choose' && rest.yes.kind === 'literal' && rest.no.kind === 'literal';
  if (!same || !constant) return null;
  const values = matches.map((match) => spelled(match === null ? null : `{{${match[2]!}}}`));
  return [{ kind: 'test', part: null, values, before: before!, otherwise: after! }];
}

/** The parts of a value that differ, or the whole: what placeholders say in the other parts is passed on. */
function partsPassed(
  name: string,
  raws: (string | null)[],
  pattern: ElementPattern,
  occurrences: Occurrence[],
): PartHole[] {
  const parts = partHoles(name, raws);
  const varying = varyingIn(parts);
  if (varying.length < parts.length || parts.length === 0 || parts.some(({ words }) => words !== undefined))
    return wholeOf(raws);
  const rest = raws.map((raw) => (raw === null ? null : withoutParts(name, raw, varying)));
  const { nodes } = pattern;
  const said = nodes.map((node, i) => node && saidIn(node, rest[i]!, decodeAttribute, occurrences[i]!));
  const some = said.some((each) => each !== null);
  return !some || stays(said, pattern, name) ? parts : wholeOf(raws);
}

/** What is known of one attribute at all occurrences. */
interface Attribute {
  /** undefined where the element is there without it */
  attrs: (Attr | null | undefined)[];
  raws: (string | null)[];
  equal: boolean;
  kind: UrlKind | null;
}

/**
 * Notes what placeholders say in an attribute; null where there are none, false where it can neither stay as it is nor
 * be passed in.
 */
export function passedAttribute(
  hole: Hole,
  { attrs, raws, equal, kind }: Attribute,
  pattern: ElementPattern,
  occurrences: Occurrence[],
  componentFolder: string,
): boolean | null {
  const name = hole.attr!;
  const { nodes } = pattern;
  const there = (node: Element | null, i: number) => node !== null && raws[i] !== null;
  const asks = nodes.some((node, i) => there(node, i) && isTest(node!, name, occurrences[i]!));
  const said = nodes.map((node, i) =>
    there(node, i) ? saidIn(node!, raws[i]!, decodeAttribute, occurrences[i]!, asks) : null,
  );
  // what a record is called within a block is the same everywhere, or the blocks are not alike
  if (name === 'each' && !equal && nodes.every((node) => node === null || node.tag === 'template')) return false;
  if (said.every((each) => each === null)) return null;
  const add = (each: Partial<Hole>) => void pattern.holes.push({ ...hole, ...each });
  const everywhere = !attrs.includes(undefined);
  const starts = raws.some((raw) => raw?.startsWith('{{'));
  const literal = kind === null || starts ? null : sharedUrl(raws, kind, occurrences, componentFolder);
  const moves = !starts && raws.some((raw) => raw !== null && kind !== null && relativeUrls(raw, kind).length > 0);
  if (equal && everywhere && (!moves || literal !== null) && stays(said, pattern, name)) {
    if (literal !== null && !raws.includes(literal)) add({ kind: 'literal', before: literal });
    return true;
  }
  if (!said.every((each) => each === null || canPass(each)) || (asks && !everywhere)) return false;
  if (asks) add({ kind: 'test', values: raws.map((raw) => spelled(raw === null ? null : `{{${raw}}}`)) });
  else if (!everywhere || kind !== null) add({ values: raws.map(spelled) });
  else for (const each of testPassed(raws) ?? partsPassed(name, raws, pattern, occurrences)) add(each);
  return true;
}
