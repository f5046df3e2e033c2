/** Moving styles between stylesheets and components: planned, encoded, proven from disk. */
import type { Registry, Surroundings } from '../core/component/model.js';
import { type ComponentSource, readComponents } from '../core/component/read.js';
import { placeText } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import type { Difference } from '../core/page/same.js';
import type { SheetCut } from '../core/style/back.js';
import type { SheetReader } from '../core/style/cascade.js';
import type { ExtendedPage } from '../core/style/dress.js';
import { type MatchedPage, PageMatcher } from '../core/style/match.js';
import { filledReader, type FilledSheets, planStyles, proveStyles, type StylesPlan } from '../core/style/plan.js';
import { CascadeComparer } from '../core/style/proof.js';
import { readSheet } from '../core/style/sheet.js';
import { progress } from '../terminal/progress.js';
import { declarationText } from '../terminal/declaration.js';
import { encode } from '../workspace/encoding.js';
import { type Entry, Journal, type Renamed } from '../workspace/journal.js';
import { isOwn } from '../workspace/mark.js';
import { type Project, storiesOf } from '../workspace/project.js';
import { loadStylesheets, type Stylesheets } from '../workspace/stylesheets.js';
import type { PlannedFile } from '../workspace/transaction.js';

export interface Moving {
  plan: Pick<StylesPlan, 'components' | 'sheets' | 'cuts' | 'moved' | 'staying' | 'proven'>;
  /** the stylesheets to be written */
  files: PlannedFile[];
  sheets: Stylesheets;
  /** @throws Problem (exit 1) when what is read back does not dress the pages as before */
  prove: (read: (path: string) => string, registry: Registry) => void;
}

/** Plans to move the own rules of `names` into their component files; pages come as they expand after all else. */
export async function planMoving(
  project: Project,
  pages: readonly ExtendedPage[],
  components: ComponentSource[],
  around: Surroundings,
  names: string[],
): Promise<Moving> {
  const sheets = await loadStylesheets(project);
  const matching = progress('matching rules', 'pages');
  const { sources, fixed } = sheets;
  const cuts = cutsOf(project);
  const before = filledReader(sources, readComponents(components, around));
  const plan = planStyles({ pages, sources, before, components, around, names, cuts, fixed, tick: matching.tick });
  matching.end();
  return movingOf({ project, pages, sheets, before }, plan);
}

/** How styles were cut out of sheets, oldest first, as far as the journal says so and is this user's. */
export function cutsOf({ root, entries }: Project): SheetCut[] {
  const journal = new Journal(root);
  const own = entries.filter(isOwn);
  return own.flatMap(({ cuts = [] }, i) =>
    cuts.flatMap((cut) => {
      const base = journal.textOf(cut.base);
      const shares = cut.shares.map((share) => ({ ...share, ...nowCalled(share, own.slice(i + 1)) }));
      return 'lost' in base ? [] : [{ ...cut, base: base.text, shares }];
    }),
  );
}

/** What a component is called and where it stands after what was renamed later. */
function nowCalled(named: Renamed['from'], later: Entry[]): Renamed['to'] {
  const all = later.flatMap(({ renamed = [] }) => renamed);
  return all.reduce((now, { from, to }) => (from.component === now.component ? to : now), {
    component: named.component,
    path: named.path,
  });
}

/** What a plan of sheets writes, with the static sheet that each must come out as. */
export function movingOf(
  {
    project,
    pages,
    sheets,
    before,
  }: { project: Project; pages: readonly ExtendedPage[]; sheets: Stylesheets; before: FilledSheets },
  plan: Moving['plan'],
): Moving {
  const files = plan.sheets.map(({ path, after }): PlannedFile => {
    const file = sheets.files.get(path)!;
    const origin = Buffer.from(originOf(project, pages, path, before.filled.get(path)!.text, before.read));
    return { path, before: file.bytes, after: encode(after, file), origin };
  });
  return {
    ...{ plan, files, sheets },
    prove: (read, registry) => {
      const written = new Map([...sheets.sources.keys()].map((path) => [path, read(path)]));
      const after = filledReader(written, registry);
      // what comes out as it was proven to needs no second proof
      if (plan.proven !== null && [...after.filled].every(([path, { text }]) => plan.proven!.get(path) === text))
        return;
      const paths = files.map(({ path }) => path);
      proveStyles(pages, paths, before.read, after.read);
    },
  };
}

/** The sheet before the first move, as long as what it gives now dresses the pages alike; else what it gives now. */
export function originOf(
  { root, entries }: Project,
  pages: readonly ExtendedPage[],
  path: string,
  now: string,
  read: SheetReader,
): string {
  const digest = storiesOf(entries).get(path)?.origin ?? null;
  if (digest === null) return now;
  const first = new Journal(root).read(digest).toString('utf8');
  return first === now || !dressesOtherwise(pages, path, first, read) ? first : now;
}

/** Whether a sheet as it was dresses some page otherwise than the sheets do `now`. */
function dressesOtherwise(pages: readonly ExtendedPage[], path: string, first: string, now: SheetReader): boolean {
  const differenceOn = dressingComparer(path, first, now);
  const matcher = new PageMatcher(now);
  return pages.some(({ page }) => differenceOn(matcher.match(page)) !== null);
}

/**
 * Compares how a sheet as it was dresses pages with how the sheets do `now`.
 * @returns tells of one page after the other, matched as they are now, what differs first on it, or null
 */
export function dressingComparer(
  path: string,
  first: string,
  now: SheetReader,
): (page: MatchedPage) => Difference | null {
  const then = new PageMatcher(now.with(path, readSheet(path, first)));
  const comparer = new CascadeComparer();
  return (matched) => {
    const { page } = matched;
    const found = comparer.compare(then.match(page), matched);
    if (found === null) return null;
    const { before, after, element, property } = found;
    const told = (each: typeof before) => (each === null ? 'nothing' : `"${declarationText(each.declaration)}"`);
    const { line, column } = placeAt({ path, source: first }, before?.declaration.start ?? 0);
    const place = placeText(placeAt(page, Math.max(0, element.start)));
    return {
      line,
      column,
      what: `${told(before)} became ${told(after)} for ${property.trim()} (${element.tag}, ${place})`,
    };
  };
}
