/** `emit`: hands the components over to a stack. */
import { type Command, Option } from 'commander';
import { type Place, placeText } from '../core/errors.js';
import { type EmitOptions, emitProject, type EmittedSite } from '../operations/emit.js';
import { count, green, red, terminalWidth, yellow } from '../terminal/style.js';
import { wrapped } from '../terminal/table.js';
import { isQuiet } from '../terminal/voice.js';
import type { Verified } from '../verify/verified.js';
import { TARGETS } from '../workspace/targets.js';
import { tellLeftOut, writtenText } from './other-files.js';
import { hint, print, printFirst, printJson, tell, tellUnreadable } from './printing.js';

export function define(program: Command): void {
  program
    .command('emit')
    .argument('<target>', `${TARGETS.join(', ')}, or the path of a module of your own`)
    .description('hand the components over: as modules with JSX, or to a target of your own')
    .option('--out <folder>', 'where the files go (default: emitted/<target>)')
    .option('--jsx-import <package>', 'package of the JSX runtime, written on top of each module')
    .addOption(new Option('--attributes <spelling>', 'how attributes are spelled in JSX').choices(['dom', 'html']))
    .option('--prerender', 'elements: write their content into the pages, so that it shows without script')
    .option('--force', 'overwrite files there that were changed since')
    .option('--verify', 'type-check the modules, render the pages and compare them')
    .option('--trust-config', 'run what the configuration of the formatter is or names: modules, plugins')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade emit tsx --verify\n  estrade emit jsx --out src --attributes html\n  estrade emit ./my-target.mjs',
    )
    .action(async (target: string, options: EmitOptions) => {
      const site = await emitProject(process.cwd(), target, options);
      if (options.json === true) printJson(jsonOf(site, target));
      else printSite(site);
      if (tellUnreadable(site.unreadable)) process.exitCode = 2;
      else if (site.verified !== null && !passed(site.verified)) process.exitCode = 1;
    });
}

function passed({ errors, pages }: Verified): boolean {
  return errors.length === 0 && pages.every(({ same }) => same === 'markup');
}

function jsonOf(
  { out, files, left, written, unchanged, removed, remarks, verified }: EmittedSite & { out: string },
  target: string,
) {
  return { format: 1, target, out, files, left, written, unchanged, removed, remarks, verified };
}

function printSite(site: EmittedSite & { out: string }): void {
  tell(`${site.out}: ${count(site.files.length, 'file')}.`);
  hint(writtenText(site));
  tellLeftOut(site.left);
  const decided = site.remarks.filter(({ kind }) => kind === 'decided');
  if (!isQuiet())
    printFirst(
      decided.map(({ message }) => wrapped(message, terminalWidth())),
      MOST_REMARKS,
      'remark',
    );
  const lost = site.remarks.filter(({ kind }) => kind === 'unsayable');
  if (lost.length > 0) print(`\nWhat the target cannot say (${lost.length}):`);
  printFirst(
    lost.map(({ message, place }) => `  ${placed(place)}${yellow(message)}`),
    MOST_REMARKS,
    'remark',
  );
  if (site.verified !== null) printVerified(site.verified);
}

/** So many remarks of a kind are printed. */
const MOST_REMARKS = 10;

function placed(place: Place | null): string {
  return place === null ? '' : `${placeText(place)}: `;
}

function printVerified({ checked, errors, pages }: Verified): void {
  print('');
  if (checked !== null)
    print(
      `Type check, strict: ${errors.length === 0 ? green(`${count(checked, 'module')}, no error`) : red(count(errors.length, 'error'))}.`,
    );
  for (const { place, message } of errors) print(`  ${placeText(place)}: ${message}`);
  const same = pages.filter((page) => page.same === 'markup');
  print(
    `Rendered and compared: ${green(`${count(same.length, 'page')} the same`)}${same.length === pages.length ? '.' : `, ${red(`${pages.length - same.length} different`)}:`}`,
  );
  for (const { path, first } of pages)
    if (first !== null) print(`  ${first.place === null ? `${path}: ` : placed(first.place)}${first.what}`);
}
