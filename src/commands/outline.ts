/** `outline`: one page as a tree of its regions, and what each would become. */
import type { Command } from 'commander';
import { usedComponent } from '../core/component/use.js';
import { lineCount, placeAt } from '../core/page/parse.js';
import { elementsOf } from '../core/page/tree.js';
import { takenNames } from '../core/survey/component-names.js';
import { outline, type Region, regionsIn } from '../core/survey/outline.js';
import { pageAt } from '../operations/pointing.js';
import { surveyProject } from '../operations/survey.js';
import { type ThresholdOptions, thresholdsOf } from '../operations/thresholds.js';
import { bold, count, dim, green, number, terminalWidth } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { surveyedPages } from '../workspace/project.js';
import { atLeast, withThresholds } from './options.js';
import { hint, print, printJson, tellUnreadable } from './printing.js';

interface Options extends ThresholdOptions {
  depth?: number;
  json?: boolean;
}

const DEPTH = 4;

export function define(program: Command): void {
  withThresholds(program.command('outline').argument('<page>', 'a page'))
    .description('one page as a tree of its regions, with what each would become; writes nothing')
    .option('--depth <n>', `how deep the tree goes (default: ${DEPTH})`, atLeast(1))
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade outline index.html --depth 2')
    .action(async (path: string, options: Options) => {
      const cwd = process.cwd();
      const {
        project,
        findings,
        others,
        unreadable,
        regions: apart,
        ...loaded
      } = await surveyProject(cwd, [], options);
      const pages = surveyedPages(loaded);
      const page = pageAt(pages, project.root, cwd, path);
      const { registry } = project;
      const taken = takenNames(
        registry,
        pages.map(({ root }) => elementsOf(root)),
      );
      const regions = outline(
        page,
        findings,
        [...others(), ...apart()],
        (element) => usedComponent(element, (name) => registry.has(name)),
        taken,
        { ...thresholdsOf(project, options), depth: options.depth ?? DEPTH, vocabulary: loaded.vocabulary },
      );
      const told = (region: Region): object => {
        const { line, column } = placeAt(page, region.start);
        return { ...region, line, column, regions: region.regions.map(told) };
      };
      if (options.json === true)
        printJson({ format: 1, page: page.path, lines: lineCount(page), regions: regions.map(told) });
      else printOutline(page.path, lineCount(page), regions);
      if (tellUnreadable(unreadable)) process.exitCode = 2;
    });
}

function printOutline(path: string, lines: number, regions: Region[]): void {
  print(`${bold(path)}  ${count(lines, 'line')}\n`);
  if (regions.length === 0) return print('Nothing in it stands apart.');
  const rows = rowsOf(regions, '');
  print(
    table(
      [
        { title: 'region', fixed: true },
        { title: 'lines', align: 'right', fixed: true },
        { title: 'component' },
        { title: 'because' },
      ],
      rows,
      terminalWidth(),
    ),
  );
  const all = regionsIn(regions);
  const region = all.find(({ kind, inside }) => kind === 'region' && inside === null);
  const finding = all.find(({ kind, reason }) => kind !== 'region' && kind !== 'component' && reason === null);
  const next = [
    ...(finding === undefined ? [] : [`estrade show ${finding.name}`]),
    ...(region === undefined ? [] : [`estrade lift ${region.name}`]),
  ];
  if (next.length > 0) hint(`\nNext: ${next.join(', ')}`);
  return undefined;
}

function rowsOf(regions: Region[], indent: string): string[][] {
  return regions.flatMap((region) => [
    [
      `${indent}${region.count > 1 ? `${region.count} × ` : ''}${region.element}`,
      region.from === region.to ? number(region.from) : `${number(region.from)}-${number(region.to)}`,
      region.kind === 'region'
        ? dim(region.name)
        : region.kind === 'component'
          ? region.name
          : region.reason === null
            ? green(region.name)
            : dim(region.name),
      because(region),
    ],
    ...rowsOf(region.regions, `${indent}  `),
  ]);
}

function because({ kind, places, pages, inside, reason }: Region): string {
  if (kind === 'region') return dim(inside === null ? 'stands apart' : `stands apart in ${inside}`);
  if (kind === 'component') return 'is a component';
  const on = pages > 1 ? ` on ${count(pages, 'page')}` : '';
  return `${kind}, ${count(places, 'place')}${on}${reason === null ? '' : dim('; not recommended')}`;
}
