/**
 * Where the developer points: at a line and column, at a range of lines, or with a CSS selector. Each gives occurrences,
 * or says what stands there instead.
 */
import { folderOfPage } from '../component/expand.js';
import { nearestName } from '../component/problems.js';
import { Problem } from '../errors.js';
import { isSpaceText } from '../page/space.js';
import { type Occurrence, occurrenceOf, runFrom, runOf } from '../fragments/occurrence.js';
import { isLiftable } from '../page/liftable.js';
import { lineCount, offsetAt, type Page, placeAt } from '../page/parse.js';
import { selectIn } from '../page/select.js';
import { attrOf, classWords, type Element, elementsOf, type Parent } from '../page/tree.js';
import { Paths } from '../fragments/paths.js';
import type { Site } from '../fragments/site.js';
import { Lift, profile, type Profile } from '../fragments/profile.js';

/** Why an element cannot be lifted, by its state. */
const WHY: Record<number, string> = {
  [Lift.frame]: 'it is the frame of the page',
  [Lift.foreign]: 'it is part of a drawing',
  [Lift.sourceless]: 'the parser made it, no tag of it stands in the source',
  [Lift.misnested]: 'its tags are not nested, or not closed',
  [Lift.unsure]: 'its tags are not nested, or not closed',
  [Lift.reserved]: 'it is or holds a slot, or a template with when, unless or each',
  [Lift.encoding]: 'it is or holds what says how the bytes of this page are read',
  [Lift.whole]: 'it is all that this component holds',
};

const profiles = new WeakMap<Page, Profile>();

function profileOf(page: Page): Profile {
  const known = profiles.get(page) ?? profile(page);
  profiles.set(page, known);
  return known;
}

function refuseUnliftable(page: Page, element: Element): void {
  const state = profileOf(page).lift[element.at]!;
  if (state === Lift.yes || (state === Lift.unsure && isLiftable(page, element))) return;
  throw new Problem(`<${element.tag}> cannot be lifted: ${WHY[state]!}`, {
    place: placeAt(page, Math.max(0, element.start)),
    hint: 'point at something inside of it',
  });
}

function told(page: Page, element: Element): string {
  const [from, to] = [placeAt(page, element.start), placeAt(page, element.end - 1)];
  return `<${element.tag}> on ${from.line === to.line ? `line ${from.line}` : `lines ${from.line} to ${to.line}`}`;
}

function refuseBeyond(page: Page, line: number): void {
  if (line >= 1 && line <= lineCount(page)) return;
  throw new Problem(`${page.path} has no line ${line}: it has ${lineCount(page)}`, {
    hint: 'lines are counted from 1',
  });
}

/**
 * The innermost element that starts at a place, or one around it.
 * @param column from 1; the first character of the line that is not white space, where it is null
 * @param outer how many elements further out
 * @throws Problem (exit 2) where nothing starts, or what starts cannot be lifted
 */
export function elementAt(page: Page, line: number, column: number | null, outer: number): Occurrence {
  refuseBeyond(page, line);
  const start = offsetAt(page, line);
  const end = line < lineCount(page) ? offsetAt(page, line + 1) : page.source.length;
  const text = page.source.slice(start, end);
  const offset = column === null ? start + text.length - text.trimStart().length : start + column - 1;
  const place = { path: page.path, line, column: offset - start + 1 };
  if (column !== null && offset >= end) throw new Problem('the line is not that long', { place });
  const around = elementsOf(page.root).filter((each) => each.start >= 0 && each.start <= offset && offset < each.end);
  const found = around.findLast((each) => offset < each.openEnd);
  if (found === undefined) {
    const next = elementsOf(page.root).filter((each) => each.start >= start && each.start < end);
    const near = next.length > 0 ? next : around.slice(-1);
    throw new Problem('no element starts here', {
      place,
      hint:
        near.length > 0
          ? `near is ${near.map((each) => `${told(page, each)}, column ${placeAt(page, each.start).column}`).join('; ')}`
          : 'point at a start tag',
    });
  }
  let element = found;
  for (let left = outer; left > 0; left--) {
    const { parent } = element;
    if (parent?.kind !== 'element' || parent === page.component?.template)
      throw new Problem(`nothing stands ${outer} elements further out`, { place: placeAt(page, found.start) });
    element = parent;
  }
  refuseUnliftable(page, element);
  return occurrenceOf(page, element, folderOfPage(page));
}

/**
 * The siblings that cover lines exactly: one element, or a run of them.
 * @throws Problem (exit 2) that says what the lines cut through
 */
export function runOnLines(page: Page, from: number, to: number): Occurrence {
  refuseBeyond(page, from);
  refuseBeyond(page, to);
  if (to < from) throw new Problem(`lines ${from} to ${to} are none`, { hint: 'write the first one first' });
  const stop = to < lineCount(page) ? offsetAt(page, to + 1) : page.source.length;
  const lines = page.source.slice(offsetAt(page, from), stop);
  const start = offsetAt(page, from) + lines.length - lines.trimStart().length;
  const end = start + lines.trim().length;
  const place = { path: page.path, line: from, column: start - offsetAt(page, from) + 1 };
  if (start >= end) throw new Problem(`lines ${from} to ${to} are blank`, { place });
  let parent: Parent = page.root;
  for (;;) {
    const inner: Element | undefined = parent.children.find((child): child is Element => {
      if (child.kind !== 'element') return false;
      const close = child.closeStart >= 0 ? child.closeStart : child.end;
      return child.start < 0 ? child.children.length > 0 : child.openEnd <= start && end <= close;
    });
    if (inner === undefined) break;
    parent = inner;
  }
  const covered = parent.children.filter((child) => child.start < end && child.end > start && !isSpaceText(child));
  const elements = covered.filter((child) => child.kind === 'element');
  const cut = covered.find((child) => child.start < start || child.end > end);
  if (cut !== undefined || elements.length === 0) {
    const whole = cut ?? covered[0];
    const what = whole?.kind === 'element' ? told(page, whole) : 'text';
    const first = covered.find((child) => child.kind === 'element');
    const last = covered.findLast((child) => child.kind === 'element');
    const fits = first && last && `${page.path}:${placeAt(page, first.start).line}-${placeAt(page, last.end - 1).line}`;
    throw new Problem(`lines ${from} to ${to} ${cut === undefined ? 'hold no element' : `cut through ${what}`}`, {
      place,
      details: elements.map((each) => `they touch ${told(page, each)}`),
      hint: fits === undefined ? 'take whole elements' : `whole elements stand on --lines ${fits}`,
    });
  }
  for (const each of elements) refuseUnliftable(page, each);
  const run = parent.children.slice(parent.children.indexOf(covered[0]!), parent.children.indexOf(covered.at(-1)!) + 1);
  const element = covered.length === 1 ? elements[0]! : runOf(run, elements[0]!);
  return occurrenceOf(page, element, folderOfPage(page));
}

/** The classes and ids that a selector seems to mean, as a question; null where none is near. */
function nearNames(pages: Page[], selector: string): string | null {
  const elements = pages.flatMap(({ root }) => elementsOf(root));
  const classes = new Set(elements.flatMap(classWords));
  const ids = new Set(elements.flatMap((element) => attrOf(element, 'id') ?? []));
  const near = [...selector.matchAll(/([.#])([\w-]+)/g)].flatMap(([, mark, name]) => {
    const known = mark === '.' ? classes : ids;
    const nearest = known.has(name!) ? null : nearestName(name!, known);
    return nearest === null ? [] : [`${mark!}${nearest}`];
  });
  return near.length === 0 ? null : `did you mean ${near.join(' and ')}?`;
}

/**
 * All that a selector matches, over all pages.
 * @throws Problem (exit 2) where that is nothing, or one match stands inside another
 */
export function selected(pages: Page[], selector: string): Occurrence[] {
  const count = pages.filter(({ component }) => component === undefined).length;
  const matches = pages.flatMap((page) =>
    selectIn(page.root, selector)
      .filter((element) => element.start >= 0)
      .map((element) => occurrenceOf(page, element, folderOfPage(page))),
  );
  if (matches.length === 0)
    throw new Problem(`"${selector}" matches nothing in ${count} pages`, {
      hint: nearNames(pages, selector) ?? 'names of classes and ids are as they are spelled in the pages',
    });
  // what is all that a component holds is cut already
  const found = matches.filter(({ page, element }) => profileOf(page).lift[element.at] !== Lift.whole);
  if (found.length === 0)
    throw new Problem(`"${selector}" matches nothing but what is a component already`, {
      place: placeAt(matches[0]!.page, matches[0]!.element.start),
      hint: 'select something inside of it',
    });
  const all = new Set(found.map(({ element }) => element));
  for (const { page, element } of found) {
    refuseUnliftable(page, element);
    let outer: Parent | null = element.parent;
    while (outer?.kind === 'element' && !all.has(outer)) outer = outer.parent;
    if (outer?.kind === 'element')
      throw new Problem(`"${selector}" matches this and ${told(page, outer)} around it`, {
        place: placeAt(page, element.start),
        hint: `take the outer ones alone, with :not(:is(${selector}) *), or write a narrower selector`,
      });
  }
  return found;
}

/** How much of their structure must elements of one tag and name share to look alike; without a name more. */
const ALIKE = 0.5;
const ALIKE_WITHOUT_NAME = 0.8;

/** Other fragments that look like the one that was pointed at, none of them in or around it or another one. */
export function lookAlikes({ page, element }: Occurrence, site: Site): Occurrence[] {
  const first = site.first[site.profiles.findIndex((each) => each.page === page)]!;
  const numbers = rootsOf(element).map(({ at }) => first + at);
  const isLike = likenessTo(numbers, site);
  const found: Occurrence[] = [];
  site.profiles.forEach(({ page: other, elements, lift }, number) => {
    let end = -1;
    for (const each of elements) {
      if (each.start < end || lift[each.at] !== Lift.yes || !isLike(site.first[number]! + each.at)) continue;
      const match = numbers.length === 1 ? each : runFrom(each, numbers.length);
      if (other === page && match.start < element.end && element.start < match.end) continue;
      found.push(occurrenceOf(other, match, folderOfPage(other)));
      end = match.end;
    }
  });
  return found;
}

/** The elements that an element or a run is made of. */
function rootsOf(element: Element): Element[] {
  return element.at >= 0 ? [element] : element.children.filter((child) => child.kind === 'element');
}

/** Whether an element is like one, or starts siblings that are like several. */
function likenessTo(numbers: number[], site: Site): (i: number) => boolean {
  const paths = new Paths(site);
  const tests = numbers.map((number) => likenessToOne(number, site, paths));
  return (first) => {
    let at = first;
    return tests.every((isLike) => {
      if (at >= site.elements.length || site.parent[at] !== site.parent[first] || !isLike(at)) return false;
      at += site.size[at]!;
      return true;
    });
  };
}

/** Equal shapes are alike; so are elements of one tag and name that share enough of what they hold, or of its outline. */
function likenessToOne(mine: number, site: Site, paths: Paths): (i: number) => boolean {
  const { elements, name, shape, size } = site;
  const own = paths.of(mine);
  const outline = (i: number) => {
    const root = paths.step(0, i);
    const held = new Set<number>([root]);
    for (let next = i + 1; next < i + size[i]!; next += size[next]!) held.add(paths.step(root, next));
    return held;
  };
  const ownOutline = outline(mine);
  const least = name[mine] === '' ? ALIKE_WITHOUT_NAME : ALIKE;
  return (i) => {
    if (elements[i]!.tag !== elements[mine]!.tag || name[i] !== name[mine]) return false;
    if (shape[i] === shape[mine] || resemblance(own, paths.of(i)) >= least) return true;
    return name[mine] !== '' && resemblance(ownOutline, outline(i)) >= least;
  };
}

/** How much two sets share, from 0 to 1 (Jaccard). */
function resemblance(a: ReadonlySet<number>, b: ReadonlySet<number>): number {
  let both = 0;
  for (const each of a) if (b.has(each)) both++;
  return both / (a.size + b.size - both || 1);
}
