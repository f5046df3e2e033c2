/** `expand`: builds the static site from pages and components. */
import type { Command } from 'commander';
import { type Place, placeText } from '../core/errors.js';
import { type ExpandOptions, expandProject } from '../operations/expand.js';
import { count, yellow } from '../terminal/style.js';
import { tellLeftOut, writtenText } from './other-files.js';
import { hint, print, printJson, tell, tellUnreadable } from './printing.js';

function placeIn({ path, line, column }: Place): Place {
  return { path, line, column };
}

export function define(program: Command): void {
  program
    .command('expand')
    .description('build the static site from pages and components')
    .requiredOption('--out <folder>', 'where the site goes')
    .option('--force', 'overwrite files there that expand did not write')
    .option('--lenient', 'build all the same where components or uses are wrong, and tell what is')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade expand --out dist')
    .action(async (options: ExpandOptions & { json?: boolean }) => {
      const site = await expandProject(process.cwd(), options);
      if (options.json === true) {
        const { pages, uses, copied, left, written, unchanged, removed } = site;
        const problems = site.problems.map((each) => ({ ...each, place: placeIn(each) }));
        printJson({ format: 1, out: options.out, pages, uses, copied, left, written, unchanged, removed, problems });
      } else {
        const uses = site.uses === 0 ? '' : `, with ${count(site.uses, 'use')} of components`;
        tell(`${options.out}: ${count(site.pages, 'page')} built${uses}; ${count(site.copied, 'other file')} copied.`);
        hint(writtenText(site));
        tellLeftOut(site.left);
        for (const problem of site.problems) print(yellow(`${placeText(problem)}: ${problem.message}`));
      }
      if (tellUnreadable(site.unreadable)) process.exitCode = 2;
    });
}
