/**
 * A marker that one of several siblings carries, as the current page in a menu: one prop that names the sibling, not a
 * flag for each.
 */
import { textOf } from '../page/tree.js';
import type { Block, InferredProp } from './generalise.js';
import { asName } from './names.js';
import type { Pattern } from './pattern.js';

/** Flags of at least this number that show in the same way and exclude each other are one marker. */
const LEAST = 3;

/** Joins flags that are one marker, in place. */
export function joinMarkers(props: InferredProp[], blocks: Block[]): void {
  const bySignature = new Map<string, InferredProp[]>();
  for (const prop of props) {
    if (prop.type !== 'flag' || prop.values.some((value) => typeof value !== 'boolean')) continue;
    const signature = signatureOf(prop, blocks);
    const alike = bySignature.get(signature);
    if (alike === undefined) bySignature.set(signature, [prop]);
    else alike.push(prop);
  }
  for (const flags of bySignature.values()) {
    if (flags.length < LEAST) continue;
    const marked = flags[0]!.values.map((_, i) => flags.filter(({ values }) => values[i] === true));
    if (marked.some((each) => each.length > 1)) continue;
    const names = namesOf(flags, blocks);
    const name = new Map(flags.map((flag, i) => [flag, names[i]!]));
    for (const flag of flags) {
      for (const hole of flag.holes) hole.equals = name.get(flag)!;
      for (const block of blocks) if (block.prop === flag) block.equals = name.get(flag)!;
    }
    const marker: InferredProp = {
      ...flags[0]!,
      type: 'choice',
      choices: names,
      optional: marked.some((each) => each.length === 0),
      values: marked.map(([flag]) => (flag === undefined ? null : { value: name.get(flag)!, raw: name.get(flag)! })),
      holes: flags.flatMap(({ holes }) => holes),
    };
    for (const block of blocks) if (flags.includes(block.prop)) block.prop = marker;
    props.splice(props.indexOf(flags[0]!), 1, marker);
    for (const flag of flags.slice(1)) props.splice(props.indexOf(flag), 1);
  }
}

/** How a flag shows: the kinds of its holes and of the parts that come with it. */
function signatureOf(prop: InferredProp, blocks: Block[]): string {
  const shown = prop.holes.map(
    ({ kind, attr, before, pattern }) => `${kind} ${attr ?? ''} ${before} ${tagOf(pattern)}`,
  );
  const mine = blocks.filter((block) => block.prop === prop);
  const parts = mine.map(({ negated, patterns }) => `${negated ? 'unless' : 'when'} ${patterns.map(tagOf).join(' ')}`);
  return [...shown, ...parts].join('|');
}

function tagOf({ nodes }: Pattern): string {
  const node = nodes.find((each) => each !== null);
  return node?.kind === 'element' ? node.tag : '';
}

/** What the marked siblings are called: by their texts, as words that differ. */
function namesOf(flags: InferredProp[], blocks: Block[]): string[] {
  const taken = new Set<string>();
  return flags.map((flag, number) => {
    const own = flag.holes.map(({ pattern }) => pattern);
    const patterns = [...own, ...blocks.filter((block) => block.prop === flag).flatMap((block) => block.patterns)];
    const texts = patterns.flatMap(({ nodes }) => {
      const node = nodes.find((each) => each !== null);
      return node === undefined || node === null ? [] : [asName(textOf(node))];
    });
    const name = texts.find((each) => each !== null && !taken.has(each)) ?? `item-${number + 1}`;
    taken.add(name);
    return name;
  });
}
