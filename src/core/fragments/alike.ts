/**
 * Near-alike shapes meet: those of one block by its name, those without a class through locality-sensitive hashing of
 * their structure. Each shape has a set of features (the tags and first class words on the paths to what it holds); the
 * least hashes of that set, in bands, are keys under which similar sets meet with high probability, without comparing
 * pairs. (Broder, "On the resemblance and containment of documents", 1997; Augsten et al., "The pq-gram distance", 2010.)
 */
import { classWords, type Element } from '../page/tree.js';

const HASHES = 8;
/** Least hashes that must agree in a band for two sets to meet: similarity 0.5 meets in 3 of 4 cases. */
const BAND = 2;
const MAX_FEATURES = 64;
const MAX_DEPTH = 4;

/** Gathers groups of one shape into clusters of alike shapes, in the order of their first group. */
export function gatherAlike<T>(groups: T[], rootOf: (group: T) => Element): T[][] {
  const leader = groups.map((_, i) => i);
  const find = (i: number): number => {
    let at = i;
    while (leader[at] !== at) at = leader[at] = leader[leader[at]!]!;
    return at;
  };
  const first = new Map<string, number>();
  groups.forEach((group, i) => {
    for (const key of likenessKeys(rootOf(group))) {
      const other = first.get(key);
      if (other === undefined) first.set(key, i);
      else leader[Math.max(find(i), find(other))] = Math.min(find(i), find(other));
    }
  });
  const clusters = new Map<number, T[]>();
  groups.forEach((group, i) => {
    const cluster = clusters.get(find(i));
    if (cluster === undefined) clusters.set(find(i), [group]);
    else cluster.push(group);
  });
  return [...clusters.values()];
}

/** The keys under which a root meets others. */
export function likenessKeys(root: Element): string[] {
  const block = blockOf(root);
  if (block !== '') return [`${root.tag}.${block}`];
  const keys: string[] = [];
  for (const [name, features] of [
    ['deep', pathsIn(root)],
    ['shallow', pairsIn(root)],
  ] as const) {
    const least = leastHashes(features);
    for (let i = 0; i < HASHES; i += BAND) keys.push(`${root.tag} ${name} ${i} ${least.slice(i, i + BAND).join(' ')}`);
  }
  return keys;
}

/** How much of their structure two roots share, or of the order of their children alone, from 0 to 1 (Jaccard). */
export function resemblance(a: Element, b: Element, shallow = false): number {
  const [mine, other] = shallow ? [pairsIn(a), pairsIn(b)] : [pathsIn(a), pathsIn(b)];
  const both = [...mine].filter((path) => other.has(path)).length;
  return both / (mine.size + other.size - both || 1);
}

/** The name of the block that an element is, by its first class word; '' for none. */
export function blockOf(element: Element): string {
  return classWords(element)[0]?.replace(/--.*$/, '') ?? '';
}

/** The paths of tags and blocks from the root to what it holds. */
function pathsIn(root: Element): Set<string> {
  const paths: string[] = [];
  const visit = (element: Element, path: string, depth: number) => {
    for (const child of element.children) {
      if (paths.length >= MAX_FEATURES) return;
      if (child.kind !== 'element') continue;
      const feature = `${path}>${child.tag}.${blockOf(child)}`;
      paths.push(feature);
      if (depth < MAX_DEPTH) visit(child, feature, depth + 1);
    }
  };
  visit(root, '', 1);
  return new Set(paths);
}

/** Neighbours among the root's children: what frames share whose insides do not. */
function pairsIn(root: Element): Set<string> {
  const tags = root.children.flatMap((child) => (child.kind === 'element' ? [`${child.tag}.${blockOf(child)}`] : []));
  return new Set(['^', ...tags].slice(0, MAX_FEATURES).map((tag, i) => `${tag}+${tags[i] ?? '$'}`));
}

function leastHashes(features: Set<string>): number[] {
  const least = new Array<number>(HASHES).fill(0xffffffff);
  for (const feature of features) for (let i = 0; i < HASHES; i++) least[i] = Math.min(least[i]!, hash(feature, i));
  return least;
}

function hash(text: string, seed: number): number {
  let value = 0x811c9dc5 ^ Math.imul(seed + 1, 0x9e3779b1);
  for (let i = 0; i < text.length; i++) value = Math.imul(value ^ text.charCodeAt(i), 0x01000193);
  value ^= value >>> 16;
  return Math.imul(value, 0x85ebca6b) >>> 0;
}
