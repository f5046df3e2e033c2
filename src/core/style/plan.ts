/**
 * Plans in memory how styles move into components and back: new stylesheets and component files, proven by filling them
 * in again and comparing what wins on every page. Nothing is written here.
 */
import { type Expanded, expandPage } from '../component/expand.js';
import type { Component, Registry, Surroundings } from '../component/model.js';
import { type ComponentSource, readComponents } from '../component/read.js';
import { Problem } from '../errors.js';
import { eolOf, type Page, pageWithText, placeAt } from '../page/parse.js';
import { type Bond } from './belongs.js';
import { cutOf, planBack, type SheetCut } from './back.js';
import { SheetReader } from './cascade.js';
import { cutShares, refusal } from './cut.js';
import { dress, type Dressed, type ExtendedPage } from './dress.js';
import { type Filled, fillMarkers, placeOnDisk } from './fill.js';
import { type MatchedPage, PageMatcher } from './match.js';
import { bondsOfAll, holdersOf, planMove, type Staying } from './move.js';
import { contestReader } from './order.js';
import { sheetPlace } from './places.js';
import { CascadeComparer, compareSheets, haveEqualLayers, type SheetDifference } from './proof.js';
import { readSheet, type Sheet, type Unit } from './sheet.js';
import { styleElement } from './text.js';

/** A page as it is once expanded, and what it was made of. */
export interface ExpandedPage extends Omit<Expanded, 'text'> {
  page: Page;
}

/** Expands a page; what it comes to is parsed when its tree is asked for. @throws Problem when a use or a template cannot be read */
export function expandedPage(source: Page, registry: Registry): ExpandedPage {
  const { text, ...made } = expandPage(source, registry);
  return { ...made, page: pageWithText(source, text) };
}

/** Expands pages. */
export function expandAll(pages: Page[], registry: Registry): ExpandedPage[] {
  return pages.map((page) => expandedPage(page, registry));
}

/** Expands pages one after the other, and lets go of the tree of what each comes to when the next one is asked for. */
export function* expandEach(pages: Iterable<Page>, registry: Registry): Generator<ExpandedPage> {
  for (const page of pages) {
    const expanded = expandedPage(page, registry);
    yield expanded;
    expanded.page.release?.();
  }
}

/** The stylesheets of a project by path, as they are on disk. */
export type Sources = ReadonlyMap<string, string>;

/** Stylesheets whose markers are filled in: a reader that reads each once, and their texts by path. */
export interface FilledSheets {
  read: SheetReader;
  filled: ReadonlyMap<string, Filled>;
}

/**
 * Fills markers in.
 * @param asked makes of a stylesheet that is filled in what is to be read of it
 */
export function filledReader(
  sources: Sources,
  registry: Registry,
  asked: (css: string) => string = (css) => css,
): FilledSheets {
  const sheets = new Map<string, Sheet>();
  const filled = new Map([...sources].map(([path, source]) => [path, fillMarkers(path, source, registry)]));
  const read = new SheetReader((path) => {
    const known = sheets.get(path);
    const made = filled.get(path);
    if (known !== undefined || made === undefined) return known ?? null;
    const sheet = readSheet(path, asked(made.text));
    if (made.ranges.length > 0) {
      const own = { path, source: sources.get(path)! };
      const whole = { path, source: made.text, ranges: made.ranges };
      sheet.onDisk = (offset) => placeOnDisk(own, whole, registry, offset);
    }
    sheets.set(path, sheet);
    return sheet;
  });
  return { read, filled };
}

export interface StylesPlan {
  /** component files with their styles */
  components: ComponentSource[];
  sheets: { path: string; before: string; after: string }[];
  /** how they were cut, for putting them back */
  cuts: SheetCut[];
  /** units that moved, by component */
  moved: Map<string, Unit[]>;
  staying: Staying[];
  dressed: Dressed;
  bonds: Map<string, Bond[]>;
  /** what the sheets are proven to come out as, by path; null where that is proven once they are written */
  proven: ReadonlyMap<string, string> | null;
}

export interface StylesInput {
  pages: readonly ExtendedPage[];
  sources: Sources;
  /** these, filled in by the components */
  before: FilledSheets;
  /** all components, and what pages are expanded with besides */
  components: ComponentSource[];
  around: Surroundings;
  /** names of those that are to get their own rules */
  names: string[];
  /** how styles were cut out of sheets before, oldest first */
  cuts: readonly SheetCut[];
  /** sheets that cannot be written, with the reason */
  fixed: ReadonlyMap<string, string>;
  tick?: (done: number, all: number) => void;
}

/** Plans to move the own rules of components into their files. @throws Problem when the result cannot be proven */
export function planStyles(input: StylesInput): StylesPlan {
  const { pages, sources, components, around, names, fixed } = input;
  const { read, filled } = input.before;
  const registry = readComponents(components, around);
  const dressed = dress(pages, new PageMatcher(read), input.tick);
  const bonds = bondsOfAll(dressed, names);
  const paths = new Map(
    names.filter((name) => registry.get(name)!.style === null).map((name) => [name, registry.get(name)!.path]),
  );
  const contests = contestReader();
  const holders = holdersOf(dressed, bonds, filled);
  if (holders.length > 0) return planAgain(input, holders, registry);
  const attempt = (refuse: (unit: Unit, path: string) => string | null): StylesPlan => {
    const { shares, staying } = planMove(dressed, paths, bonds, refuse, { filled, contests });
    const started = { components: [], sheets: [], cuts: [], moved: new Map<string, Unit[]>() };
    const plan: StylesPlan = { ...started, staying, dressed, bonds, proven: null };
    for (const [sheet, list] of shares) {
      const { text, styles } = cutShares(sheet, list, filled.get(sheet.path)!.ranges);
      const base = sources.get(sheet.path)!;
      plan.sheets.push({ path: sheet.path, before: base, after: text });
      const earlier = input.cuts.findLast(({ path }) => path === sheet.path);
      plan.cuts.push(cutOf({ sheet, base, filled: filled.get(sheet.path)!, shares: list }, text, earlier));
      for (const { component, units } of list) plan.moved.set(component, units);
      for (const [name, style] of styles) plan.components.push(withStyle(registry.get(name)!, style));
    }
    return plan;
  };
  const sheetsAfter = (plan: StylesPlan): FilledSheets => {
    const after = new Map([...components, ...plan.components].map((each) => [each.path, each]));
    const now = new Map([...sources, ...plan.sheets.map((each) => [each.path, each.after] as const)]);
    return filledReader(now, readComponents([...after.values()], around));
  };
  /** plans, and plans again without what would not be there any more */
  const planned = (refuse: (unit: Unit, path: string) => string | null): StylesPlan => {
    const lost = new Set<Unit>();
    for (;;) {
      const plan = attempt((unit, path) => (lost.has(unit) ? 'it would not read back as it was' : refuse(unit, path)));
      const after = sheetsAfter(plan);
      const differences = plan.sheets.map(({ path }) =>
        compareSheets(read.ofFile(path)!, after.read.ofFile(path)!, contests),
      );
      const found = differences.flatMap((each) => (each !== null && 'lost' in each ? each.lost : []));
      if (found.length === 0) {
        for (const each of differences) if (each !== null) throw sheetProblem(each);
        proveCascades(dressed.pages, after.read);
        return { ...plan, proven: new Map([...after.filled].map(([path, { text }]) => [path, text])) };
      }
      found.forEach((unit) => lost.add(unit));
    }
  };
  const refuse = (unit: Unit, path: string) => fixed.get(unit.sheet.path) ?? refusal(unit, path);
  try {
    return planned(refuse);
  } catch (error) {
    // what moves may take the first mention of a layer with it
    if (!(error instanceof Problem) || !dressed.sheets.some(({ layerNames }) => layerNames.length > 0)) throw error;
    const isLayered = ({ around }: Unit) => around.some(({ name }) => name === 'layer');
    return planned((unit, path) => (isLayered(unit) ? 'the order of layers would change' : refuse(unit, path)));
  }
}

/** Plans with the styles of `holders` put back first, so that what is in them can move further in. */
function planAgain(input: StylesInput, holders: string[], registry: Registry): StylesPlan {
  const sources = new Map(input.sources);
  const components = new Map(input.components.map((each) => [each.path, each]));
  for (const name of holders) {
    const back = planBack(name, registry, sources, input.cuts);
    for (const { path, after } of back.sheets) sources.set(path, after);
    for (const each of back.components) components.set(each.path, each);
  }
  const plan = planStyles({
    ...input,
    sources,
    before: filledReader(sources, readComponents([...components.values()], input.around)),
    components: [...components.values()],
    names: [...input.names, ...holders],
  });
  const paths = new Set([...sources.keys()].filter((path) => sources.get(path) !== input.sources.get(path)));
  for (const { path } of plan.sheets) paths.add(path);
  const after = new Map(plan.components.map((each) => [each.path, each]));
  return {
    ...plan,
    proven: null,
    components: [...components.values()].flatMap((each) => {
      const now = after.get(each.path) ?? each;
      return input.components.some(({ source }) => source === now.source) ? [] : [now];
    }),
    sheets: [...paths].map((path) => ({
      path,
      before: input.sources.get(path)!,
      after: plan.sheets.find((each) => each.path === path)?.after ?? sources.get(path)!,
    })),
    moved: new Map([...plan.moved].filter(([name]) => !holders.includes(name))),
    staying: plan.staying.filter(({ component }) => !holders.includes(component)),
  };
}

/** A component file with styles behind what it holds; without them it is as it was to the byte. */
function withStyle({ path, source }: Component, style: string): ComponentSource {
  return { path, source: `${source}${styleElement(style).replaceAll('\n', eolOf(source))}` };
}

/**
 * Proves that sheets that were rewritten, those at `paths`, hold the same rules and dress every page alike.
 * @throws Problem (exit 1) with the first rule that is lost or out of order, or the first element whose winner would be another
 */
export function proveStyles(
  pages: readonly ExtendedPage[],
  paths: readonly string[],
  before: SheetReader,
  after: SheetReader,
): void {
  const contests = contestReader();
  for (const path of paths) {
    const found = compareSheets(before.ofFile(path)!, after.ofFile(path)!, contests);
    if (found !== null) throw sheetProblem(found);
  }
  const matcher = new PageMatcher(before);
  proveCascades(
    pages.map(({ page }) => matcher.match(page)),
    after,
  );
}

/** @throws Problem (exit 1) with the first element for which another declaration would win than does, or for the order of layers */
function proveCascades(pages: MatchedPage[], after: SheetReader): void {
  const comparer = new CascadeComparer();
  const matcher = new PageMatcher(after);
  for (const on of pages) {
    const { page } = on;
    const now = matcher.match(page);
    if (!haveEqualLayers(on.cascade, now.cascade))
      throw new Problem('the order of cascade layers would change', {
        exit: 1,
        place: placeAt(page, 0),
        details: [on.cascade, now.cascade].map(({ layers }) =>
          [...layers.keys()].filter((name) => name !== '').join(', '),
        ),
        hint: 'nothing was written; naming all of them in one @layer rule before all others keeps their order',
      });
    const found = comparer.compare(on, now);
    if (found === null) continue;
    const { element, property } = found;
    throw new Problem(`another declaration of ${property.trim()} would win for this ${element.tag}`, {
      exit: 1,
      place: placeAt(page, Math.max(0, element.start)),
      details: [found.before, found.after].map((each) => (each === null ? 'none' : each.identity)),
      hint: 'nothing was written',
    });
  }
}

function sheetProblem(found: SheetDifference): Problem {
  const unit = 'lost' in found ? found.lost[0]! : 'added' in found ? found.added : found.reordered[0].rule.unit;
  const what = 'lost' in found ? 'would be lost' : 'added' in found ? 'would be new' : 'would change its order with';
  const other = 'reordered' in found ? ` "${found.reordered[1].rule.unit.name}"` : '';
  return new Problem(`the rule "${unit.name}" ${what}${other}`, {
    exit: 1,
    place: sheetPlace(unit.sheet, unit.node.start),
    hint: 'nothing was written',
  });
}
