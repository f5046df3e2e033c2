/**
 * Runs of adjacent siblings that belong together though no element holds them: a heading and what follows it, a term and
 * its description, a label and its control. They meet under the tags and blocks of their elements, whatever stands
 * around them. What pages load, in their heads and with scripts at the end, meets where it loads the same, in the
 * longest runs that pages share. Linear in the number of elements.
 */
import { attrOf, type Child, type Element, HTML } from '../page/tree.js';
import { isSpaceText } from '../page/space.js';
import { folderOf, isRelative, resolve } from '../page/url.js';
import { Lift, type Profile } from './profile.js';
import { type Candidate, rootsAt, type Site } from './site.js';

export const HEADING = /^h[1-6]$/;
const CONTROLS = new Set(['input', 'select', 'textarea', 'output', 'meter', 'progress']);

/** Runs of one kind, in document order, none across another of its kind. */
export function findRuns(site: Site): Candidate[] {
  const byKey = new Map<string, Run>();
  // what is always all that an element holds is that element's
  const apart = new Set<string>();
  site.profiles.forEach((profile, page) => {
    const first = site.first[page]!;
    const runs: { key: string; place: number; span: number }[] = [];
    for (const parent of profile.elements) {
      // what a component holds is a component already
      if (parent.ns !== HTML || parent === profile.page.component?.template) continue;
      for (const run of runsAmong(parent, profile)) {
        if (run.some(({ at }) => site.prose[first + at] === 1)) continue;
        const key = run.map(({ at }) => `${site.label[first + at]!} ${ownWord(first + at, site)}`).join(' + ');
        const count = parent.children.filter(({ kind }) => kind === 'element').length;
        if (run.length < count || profile.lift[parent.at] === Lift.frame) apart.add(key);
        runs.push({ key, place: first + run[0]!.at, span: run.length });
      }
    }
    // those of one parent stand around those of its children
    runs.sort((a, b) => a.place - b.place);
    for (const { key, place, span } of runs) enter(byKey, key, place, span, site);
  });
  return [
    ...wholeHeads(site),
    ...sharedLoads(site),
    ...[...byKey].flatMap(([key, run]) => (apart.has(key) ? [run] : [])),
  ];
}

/** The first word that no stylesheet knows: on something small no name, but what tells it from its like in a run; '' for none. */
function ownWord(i: number, { words, vocabulary }: Site): string {
  return words[i]!.find((word) => vocabulary.get(word)!.role === 'hook') ?? '';
}

/** A run on its way to a candidate. */
interface Run extends Candidate {
  spans: Map<number, number>;
}

/** Adds a place to the runs of a key, unless it overlaps the one before. */
function enter(runs: Map<string, Run>, key: string, place: number, span: number, site: Site): void {
  const run = runs.get(key);
  if (run === undefined) {
    runs.set(key, { places: [place], spans: new Map([[place, span]]) });
    return;
  }
  const last = rootsAt(run, run.places.at(-1)!, site).at(-1)!;
  if (place < last + site.size[last]!) return;
  run.places.push(place);
  run.spans.set(place, span);
}

/** The runs among the children of one element. */
function runsAmong(parent: Element, profile: Profile): Element[][] {
  if (!parent.children.some((child) => child.kind === 'element' && mayLead(child))) return [];
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

/** True for what another may belong to. */
function mayLead({ tag }: Element): boolean {
  return tag === 'dt' || tag === 'label' || CONTROLS.has(tag) || HEADING.test(tag);
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
export const LOADS = new Set(['meta', 'link', 'title', 'script', 'style']);
/** Longer rows are compared from their start only. */
const LONGEST = 40;

/** All that the heads of pages hold, but for code of their own at the end, where that is nothing but what they load and say of themselves. */
function wholeHeads(site: Site): Candidate[] {
  const rows = site.profiles.flatMap((profile, page) =>
    loadsIn(profile)
      .filter((row) => isWholeHead(row))
      .map((row) => ({ row, first: site.first[page]! })),
  );
  const counts = new Map<string, number>();
  for (const { row } of rows)
    for (const code of row.map(codeOf)) if (code !== '') counts.set(code, (counts.get(code) ?? 0) + 1);
  const isOwn = (element: Element) => codeOf(element) !== '' && counts.get(codeOf(element))! < rows.length / 2;
  const runs = new Map<string, Run>();
  for (const { row, first } of rows) {
    const span = row.findLastIndex((element) => !isOwn(element)) + 1;
    if (span > 1) enter(runs, row[0]!.tag, first + row[0]!.at, span, site);
  }
  return [...runs.values()];
}

function isWholeHead(row: Element[]): boolean {
  const head = row[0]?.parent;
  if (head?.kind !== 'element' || head.tag !== 'head') return false;
  return row.length === head.children.filter(({ kind }) => kind === 'element').length;
}

/** What a style or script element holds, which can be no prop; '' for other elements. */
function codeOf({ tag, children }: Element): string {
  return tag === 'style' || tag === 'script'
    ? children.map((child) => (child.kind === 'text' ? child.value : '')).join('')
    : '';
}

/** How many lines of code the scripts and styles of a run hold, as far as all places hold the same; 0 for what is no run. */
export function linesOfCode(candidate: Candidate, places: number[], site: Site): number {
  if (candidate.spans === null) return 0;
  const rows = places.map((i) => rootsAt(candidate, i, site));
  return rows[0]!
    .filter((root, at) => rows.every((roots) => roots[at] !== undefined && site.exact[roots[at]] === site.exact[root]))
    .map((root) => codeOf(site.elements[root]!).trim())
    .reduce((sum, code) => sum + (code === '' ? 0 : code.split('\n').length), 0);
}

/** The longest runs of what is loaded in heads and at the end of bodies, each with all places that have it. */
function sharedLoads(site: Site): Candidate[] {
  const ids = new Map<string, number>();
  const runs = new Map<string, Run>();
  const longer = new Map<string, string[]>();
  site.profiles.forEach((profile, page) => {
    for (const row of loadsIn(profile)) {
      const keys = row.slice(0, LONGEST).map((element) => {
        const key = loadKey(element, profile.page.path);
        if (!ids.has(key)) ids.set(key, ids.size);
        return ids.get(key)!;
      });
      const keyOfRun = (from: number, to: number) =>
        from < 0 || to > keys.length ? [] : [keys.slice(from, to).join(' ')];
      for (let from = 0; from < keys.length; from++)
        for (let to = from + 2; to <= keys.length; to++) {
          const [key] = keyOfRun(from, to);
          if (!runs.has(key!)) longer.set(key!, [...keyOfRun(from - 1, to), ...keyOfRun(from, to + 1)]);
          enter(runs, key!, site.first[page]! + row[from]!.at, to - from, site);
        }
    }
  });
  const isLongest = ([key, { places }]: [string, Candidate]) =>
    longer.get(key)!.every((each) => runs.get(each)!.places.length < places.length);
  return [...runs].filter(isLongest).map(([, run]) => run);
}

/** Rows of what loads something: in the head, and scripts in the body. */
function loadsIn({ elements, lift }: Profile): Element[][] {
  const rows: Element[][] = [];
  for (const parent of elements) {
    if (parent.tag !== 'head' && parent.tag !== 'body') continue;
    let row: Element[] = [];
    rows.push(row);
    for (const child of parent.children) {
      if (child.kind === 'comment' || isSpaceText(child)) continue;
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
  if (url === undefined) return `${tag} ${codeOf(element)}`;
  return `${tag} ${attrOf(element, 'rel') ?? ''} ${isRelative(url) ? resolve(url, folderOf(path)) : url}`;
}
