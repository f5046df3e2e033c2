/** `outline`: one page as a tree of its regions, and what each would become. */
import type { Command } from 'commander';
import { usedComponent } from '../core/component/parts.js';
import { lineCount, placeAt } from '../core/page/parse.js';
import { takenNames } from '../core/infer/component-names.js';
import { elementsOf } from '../core/page/tree.js';
import { outline, type Region, regionsIn } from '../core/survey/outline.js';
import { bold, count, dim, green, number, terminalWidth } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { atLeast, print, printJson, tellUnreadable, type ThresholdOptions, withThresholds } from './context.js';
import { pageAt } from './pointing.js';
import { surveyProject } from './survey.js';

interface Options extends ThresholdOptions {
  depth?: number;
  minLines?: number;
  json?: boolean;
}

const DEPTH = 4;
const MIN_LINES = 5;

export function define(program: Command): void {
  withThresholds(program.command('outline').argument('<page>', 'a page'))
    .description('one page as a tree of its regions, with what each would become; writes nothing')
    .option('--depth <n>', `how deep the tree goes (default: ${DEPTH})`, atLeast(1))
    .option('--min-lines <n>', `least number of lines of a named block (default: ${MIN_LINES})`, atLeast(1))
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade outline index.html --depth 2')
    .action(async (path: string, options: Options) => {
      const cwd = process.cwd();
      const { project, pages, findings, unreadable } = await surveyProject(cwd, [], options);
      const page = pageAt(pages, project.root, cwd, path);
      const { registry } = project;
      const taken = takenNames(
        registry,
        pages.map(({ root }) => elementsOf(root)),
      );
      const regions = outline(
        page,
        findings,
        (element) => usedComponent(element, (name) => registry.has(name)),
        taken,
        {
          depth: options.depth ?? DEPTH,
          minLines: options.minLines ?? MIN_LINES,
        },
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
  const region = all.find(({ kind }) => kind === 'region');
  const finding = all.find(({ kind }) => kind !== 'region' && kind !== 'component');
  const next = [
    ...(finding === undefined ? [] : [`estrade show ${finding.name}`]),
    ...(region === undefined ? [] : [`estrade lift --at ${path}:${region.from} --name ${region.name}`]),
  ];
  if (next.length > 0) print(dim(`\nNext: ${next.join(', ')}`));
  return undefined;
}

function rowsOf(regions: Region[], indent: string): string[][] {
  return regions.flatMap((region) => [
    [
      `${indent}${region.count > 1 ? `${region.count} × ` : ''}${region.element}`,
      region.from === region.to ? number(region.from) : `${number(region.from)}-${number(region.to)}`,
      region.kind === 'region' ? dim(region.name) : region.kind === 'component' ? region.name : green(region.name),
      because(region),
    ],
    ...rowsOf(region.regions, `${indent}  `),
  ]);
}

function because({ kind, places, pages }: Region): string {
  if (kind === 'region') return dim('stands apart');
  if (kind === 'component') return 'is a component';
  return pages > 1
    ? `${kind}, ${count(places, 'place')} on ${count(pages, 'page')}`
    : `${kind}, ${count(places, 'place')}`;
}
