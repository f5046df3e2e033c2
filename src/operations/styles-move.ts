/** Styles of one component into its file and out of it, as one write. */
import { readComponents } from '../core/component/read.js';
import { placeText, Problem } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import { planBack } from '../core/style/back.js';
import { sheetPlace } from '../core/style/places.js';
import { expandAll, filledReader } from '../core/style/plan.js';
import { cut, oneLine } from '../terminal/table.js';
import { readBack } from '../workspace/files.js';
import type { LoadedPages, Project } from '../workspace/project.js';
import type { Stylesheets } from '../workspace/stylesheets.js';
import { type PlannedFile, writeAll } from '../workspace/transaction.js';
import { cutsOf, type Moving, movingOf, planMoving } from './moving.js';
import type { ThresholdOptions } from './thresholds.js';

export interface StylesOptions extends ThresholdOptions {
  move?: boolean;
  back?: boolean;
  all?: boolean;
  json?: boolean;
}

export interface LoadedStyles extends LoadedPages {
  project: Project;
  sheets: Stylesheets;
}

export interface StylesMoved {
  /** of the component */
  name: string;
  plan: Moving['plan'];
  /** how many pages the same declarations win on */
  pages: number;
  /** the stylesheets that styles are back in; `exact` where they stand as they were */
  returned: { path: string; exact: boolean }[];
}

/** How many rules that stay are told with a refusal. */
const ROWS = 12;

/** Moves styles into a component, or back. @throws Problem */
export async function moveStyles(
  loaded: LoadedStyles,
  name: string | undefined,
  options: StylesOptions,
): Promise<StylesMoved> {
  if (options.move === true && options.back === true)
    throw new Problem('--move and --back exclude each other', { hint: 'give one of them' });
  const way = options.move === true ? '--move' : '--back';
  if (name === undefined) throw new Problem(`${way} needs a component`, { hint: `estrade styles <component> ${way}` });
  const { project, sheets } = loaded;
  const component = project.registry.get(name);
  if (component === undefined)
    throw new Problem(`there is no component ${name}`, { hint: `lift it first: estrade lift ${name} --styles move` });
  if (options.move === true && component.style !== null)
    throw new Problem(`${name} has its styles already`, {
      place: placeAt(component, component.style.start),
      hint: `to take in more rules, put them back first: estrade styles ${name} --back`,
    });
  const pages = expandAll(loaded.pages, project.registry);
  const back = options.back === true ? planBack(name, project.registry, sheets.sources, cutsOf(project)) : null;
  const moving =
    back === null
      ? await planMoving(project, pages, project.componentFiles, project.registry, [name])
      : movingOf(
          { project, pages, sheets, before: filledReader(sheets.sources, project.registry) },
          { ...back, cuts: [], moved: new Map(), staying: [], proven: null },
        );
  if (moving.files.length === 0)
    throw new Problem(`no rule can move into ${name}`, {
      exit: 1,
      details: moving.plan.staying
        .slice(0, ROWS)
        .map(
          ({ unit, why }) =>
            `${placeText(sheetPlace(unit.sheet, unit.node.start))} ${cut(oneLine(unit.name), 60)}: ${why}`,
        ),
      hint: `estrade styles ${name} tells whose its rules are`,
    });
  await write(project, moving, `styles ${name} ${way}`);
  const returned = back?.sheets.map(({ path, exact }) => ({ path, exact })) ?? [];
  return { name, plan: moving.plan, pages: pages.length, returned };
}

async function write(project: Project, { plan, files, prove }: Moving, command: string): Promise<void> {
  const { root, componentFiles, registry } = project;
  const components = plan.components.map(({ path, source }): PlannedFile => {
    const { file } = componentFiles.find((each) => each.path === path)!;
    return { path, before: file.bytes, after: Buffer.from(source), origin: null };
  });
  const read = (path: string) => readBack(root, path);
  await writeAll(root, { command, files: [...components, ...files], cuts: plan.cuts }, () =>
    prove(
      read,
      readComponents(
        componentFiles.map(({ path }) => ({ path, source: read(path) })),
        registry,
      ),
    ),
  );
}
