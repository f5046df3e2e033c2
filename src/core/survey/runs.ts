/**
 * Runs of adjacent siblings that belong together though no element holds them: a heading and what follows it, a term and
 * its description, a label and its control, a block of `meta` and `link`. They meet under the tags and blocks of their
 * elements, whatever stands around them. Linear in the number of elements.
 */
import { attrOf, type Child, classWords, type Element, HTML } from '../page/tree.js';
import type { Spot } from './groups.js';
import { Lift, type Profile } from './profile.js';

const HEADING = /^h[1-6]$/;
const CONTROLS = new Set(['input', 'select', 'textarea', 'output', 'meter', 'progress']);
const HEAD = new Set(['meta', 'link']);

/** Runs of one kind, in document order, none across another of its kind. */
export function findRuns(profiles: Profile[]): Spot[][] {
  const byKey = new Map<string, Spot[]>();
  // what is always all that an element holds is that element's
  const apart = new Set<string>();
  profiles.forEach((profile, page) => {
    const visited = new Set<Element>();
    for (const element of profile.elements) {
      const { parent } = element;
      if (parent?.kind !== 'element' || visited.has(parent) || parent.ns !== HTML) continue;
      visited.add(parent);
      for (const run of runsAmong(parent, profile)) {
        const key = run.map(keyOf).join(' + ');
        const count = parent.children.filter(({ kind }) => kind === 'element').length;
        if (run.length < count || profile.lift[parent.at] === Lift.frame) apart.add(key);
        const spots = byKey.get(key);
        const spot = { page, at: run[0]!.at, span: run.length };
        if (spots === undefined) byKey.set(key, [spot]);
        else if (!overlaps(spots.at(-1)!, spot, profile)) spots.push(spot);
      }
    }
  });
  return [...byKey].flatMap(([key, spots]) => (apart.has(key) ? [spots] : []));
}

function keyOf(element: Element): string {
  const told = element.tag === 'meta' ? 'name' : element.tag === 'link' ? 'rel' : 'type';
  return `${element.tag}.${classWords(element)[0]?.replace(/--.*$/, '') ?? ''} ${HEAD.has(element.tag) ? (attrOf(element, told) ?? '') : ''}`;
}

function overlaps(last: Spot, { page, at }: Spot, { elements, size }: Profile): boolean {
  if (last.page !== page) return false;
  let end = last.at;
  for (let i = 0; i < (last.span ?? 1) && end < elements.length; i++) end += size[end]!;
  return at < end;
}

/** The runs among the children of one element. */
function runsAmong(parent: Element, profile: Profile): Element[][] {
  const runs: Element[][] = [];
  for (const row of rowsOf(parent.children, profile)) {
    for (const [i, first] of row.entries()) {
      const [, second, third] = row.slice(i, i + 3);
      if (HEAD.has(first.tag)) {
        if (i > 0 && HEAD.has(row[i - 1]!.tag)) continue;
        const other = row.findIndex((each, at) => at > i && !HEAD.has(each.tag));
        runs.push(row.slice(i, other < 0 ? row.length : other));
      } else if (second !== undefined && belongTogether(first, second)) {
        runs.push([first, second]);
        if (HEADING.test(first.tag) && third !== undefined && !HEADING.test(third.tag))
          runs.push([first, second, third]);
      }
    }
  }
  return runs.filter((run) => run.length > 1);
}

function belongTogether(first: Element, second: Element): boolean {
  if (HEADING.test(first.tag)) return !HEADING.test(second.tag);
  if (first.tag === 'dt') return second.tag === 'dd';
  if (first.tag === 'label') return CONTROLS.has(second.tag);
  return CONTROLS.has(first.tag) && second.tag === 'label';
}

/** Stretches of elements with nothing but white space between them, all of which can be lifted. */
function rowsOf(children: Child[], { lift }: Profile): Element[][] {
  const rows: Element[][] = [[]];
  for (const child of children) {
    if (child.kind === 'element' && child.closeStart < 0 && child.end > child.openEnd) rows.push([]);
    else if (child.kind === 'element' && lift[child.at] === Lift.yes) rows.at(-1)!.push(child);
    else if (child.kind !== 'text' || child.value.trim() !== '') rows.push([]);
  }
  return rows.filter((row) => row.length > 1);
}
