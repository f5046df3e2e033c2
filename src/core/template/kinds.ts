/** Content that differs in kind among alike elements: better poured in than written as so many parts of a template. */
import { isSpaceText, spaceKind } from '../page/space.js';
import { takesSlot } from './form.js';
import { type ElementPattern, firstOf, type ListPattern, type Pattern, type Run, runsOf, tagOf } from './pattern.js';

/** So many elements are content of a kind of its own. */
const RICH = 3;

/**
 * How many kinds of content there are too many among the children: parts, or lists, of which each element has others.
 * @param runs the children that come and go, where they are known
 */
export function kindsTooMany(pattern: ElementPattern, runs = runsOf(pattern)): number {
  return partsTooMany(pattern, runs) + listsTooMany(pattern);
}

/**
 * Of parts of which each element has exactly one, whatever else comes and goes: those beyond the second one, and that one
 * too where both are more than a line of something.
 */
function partsTooMany(pattern: ElementPattern, runs: Run[]): number {
  const kinds = alternativesIn(pattern, runs);
  const isRich = ({ patterns }: Run) => patterns.reduce((sum, each) => sum + elementsIn(each), 0) >= RICH;
  return Math.max(kinds.length === 2 && kinds.every(isRich) ? 1 : 0, kinds.length - 2);
}

/** Parts of which each element has exactly one, those that most have first; none where there are no such parts. */
function alternativesIn(pattern: ElementPattern, all: Run[]): Run[] {
  const runs = all.filter(({ patterns }) => !patterns.every(isSpace));
  if (runs.length < 2) return [];
  const isOpen = pattern.nodes.map((node) => node !== null);
  const found: Run[] = [];
  for (const run of byFrequency(runs)) {
    if (run.presence.some((there, i) => there && !isOpen[i]!)) continue;
    found.push(run);
    run.presence.forEach((there, i) => (isOpen[i] &&= !there));
  }
  return isOpen.includes(true) ? [] : found;
}

function byFrequency(runs: Run[]): Run[] {
  const counted = runs.map((run) => ({ run, count: run.presence.filter((there) => there).length }));
  return counted.sort((one, other) => other.count - one.count).map(({ run }) => run);
}

function elementsIn(pattern: Pattern): number {
  if (pattern.kind !== 'element') return 0;
  return pattern.children.reduce((sum, child) => sum + elementsIn(child), 1);
}

/** True for a text of white space. */
export function isSpace({ kind, nodes }: Pattern): boolean {
  return kind === 'text' && isSpaceText(firstOf(nodes));
}

/**
 * Of lists with nothing constant between them: those that have items in some element where another one has none, and none
 * where that has some. Where nothing can be poured in, those that only have other white space between their items count
 * as one.
 */
function listsTooMany({ nodes, children }: ElementPattern): number {
  const pours = takesSlot(firstOf(nodes));
  const differ = (one: ListPattern, other: ListPattern) =>
    areApart(one, other) && (pours || tagOf(one.root) !== tagOf(other.root) || leadOf(one) === leadOf(other));
  let count = 0;
  let before: ListPattern[] = [];
  for (const child of children) {
    if (child.kind === 'list') {
      if (before.some((list) => differ(list, child))) count++;
      before.push(child);
    } else if (!isSpace(child) && child.nodes.every((node, i) => node !== null || nodes[i] === null)) before = [];
  }
  return count;
}

/** True for lists that both have items in an element in which the other one has none. */
function areApart({ owners }: ListPattern, other: ListPattern): boolean {
  const [mine, others] = [new Set(owners), new Set(other.owners)];
  return owners.some((owner) => !others.has(owner)) && other.owners.some((owner) => !mine.has(owner));
}

/** The kind of white space before each item; null for none. */
function leadOf({ lead }: ListPattern): string | null {
  return lead && spaceKind(lead.value);
}
