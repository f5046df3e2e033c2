/**
 * Runs of adjacent siblings that belong together though no element holds them: a heading and what follows it, a term and
 * its description, a label and its control. They meet under the tags and blocks of their elements, whatever stands
 * around them. What pages load, in their heads and with scripts at the end, meets where it loads the same, in the
 * longest runs that pages share. Linear in the number of elements.
 */
import { isSpace } from '../template/align.js';
import { attrOf, type Child, classWords, type Element, HTML } from '../page/tree.js';
import { folderOf, isRelative, resolve } from '../page/url.js';
import type { Spot } from '../survey/groups.js';
import { Lift, type Profile } from './profile.js';

const HEADING = /^h[1-6]$/;
const CONTROLS = new Set(['input', 'select', 'textarea', 'output', 'meter', 'progress']);

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
      // what a component holds is a component already
      if (parent === profile.page.component?.template) continue;
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
  return [...sharedLoads(profiles), ...[...byKey].flatMap(([key, spots]) => (apart.has(key) ? [spots] : []))];
}

function keyOf(element: Element): string {
  return `${element.tag}.${classWords(element)[0]?.replace(/--.*$/, '') ?? ''}`;
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
      if (second !== undefined && belongTogether(first, second)) {
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

/** What loads something for its page, or says something about it. */
const LOADS = new Set(['meta', 'link', 'title', 'script', 'style']);
/** Longer rows are compared from their start only. */
const LONGEST = 40;

/** The longest runs of what is loaded in heads and at the end of bodies, each with all places that have it. */
function sharedLoads(profiles: Profile[]): Spot[][] {
  const ids = new Map<string, number>();
  const runs = new Map<string, { spots: Spot[]; longer: string[] }>();
  profiles.forEach((profile, page) => {
    for (const row of loadsIn(profile)) {
      const keys = row.slice(0, LONGEST).map((element) => {
        const key = loadKey(element, profile.page.path);
        ids.set(key, ids.get(key) ?? ids.size);
        return ids.get(key)!;
      });
      const keyOfRun = (from: number, to: number) =>
        from < 0 || to > keys.length ? [] : [keys.slice(from, to).join(' ')];
      for (let from = 0; from < keys.length; from++)
        for (let to = from + 2; to <= keys.length; to++) {
          const [key] = keyOfRun(from, to);
          const run = runs.get(key!) ?? { spots: [], longer: [] };
          runs.set(key!, run);
          const spot = { page, at: row[from]!.at, span: to - from };
          if (run.spots.length === 0) run.longer = [...keyOfRun(from - 1, to), ...keyOfRun(from, to + 1)];
          if (run.spots.length === 0 || !overlaps(run.spots.at(-1)!, spot, profile)) run.spots.push(spot);
        }
    }
  });
  const isLongest = ({ spots, longer }: { spots: Spot[]; longer: string[] }) =>
    longer.every((key) => runs.get(key)!.spots.length < spots.length);
  return [...runs.values()].filter(isLongest).map(({ spots }) => spots);
}

/** Rows of what loads something: in the head, and scripts in the body. */
function loadsIn({ elements, lift }: Profile): Element[][] {
  const rows: Element[][] = [];
  for (const parent of elements) {
    if (parent.tag !== 'head' && parent.tag !== 'body') continue;
    let row: Element[] = [];
    rows.push(row);
    for (const child of parent.children) {
      if (child.kind === 'comment' || isSpace(child)) continue;
      const loads =
        child.kind === 'element' &&
        lift[child.at] === Lift.yes &&
        (parent.tag === 'head' ? LOADS.has(child.tag) : child.tag === 'script');
      if (loads) row.push(child);
      else rows.push((row = []));
    }
  }
  return rows;
}

/** What two elements load alike: where it leads, and for what; what a page says about itself may differ. */
function loadKey(element: Element, path: string): string {
  const { tag } = element;
  if (tag === 'meta')
    return `meta ${['name', 'property', 'http-equiv'].map((name) => attrOf(element, name)).join(' ')}`;
  if (tag === 'title') return tag;
  const url = attrOf(element, tag === 'link' ? 'href' : 'src');
  if (url === undefined)
    return `${tag} ${element.children.map((child) => (child.kind === 'text' ? child.value : '')).join('')}`;
  return `${tag} ${attrOf(element, 'rel') ?? ''} ${isRelative(url) ? resolve(url, folderOf(path)) : url}`;
}
