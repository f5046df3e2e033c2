/** `init`: a commented configuration that fits the folder, and what to commit. */
import type { Command } from 'commander';
import { existsSync } from 'node:fs';
import { join, relative } from 'node:path';
import { Problem } from '../core/errors.js';
import { count, green, yellow } from '../terminal/style.js';
import { ACCEPTED } from '../workspace/accepted.js';
import { CONFIG_FILE, findProject } from '../workspace/config.js';
import { DEFAULT_CONFIG } from '../workspace/defaults.js';
import { createWhole } from '../workspace/disk.js';
import { DRAFT } from '../workspace/draft.js';
import { isIgnored, uncommittedCount } from '../workspace/git.js';
import { JOURNAL } from '../workspace/journal.js';
import { configText, lookAt } from '../workspace/starting.js';
import { hint, print, printJson, tell } from './printing.js';

interface Options {
  dryRun?: boolean;
  json?: boolean;
}

export function define(program: Command): void {
  program
    .command('init')
    .description('look at this folder and write a commented starting configuration for it')
    .option('--dry-run', 'print it, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade init --dry-run')
    .action(async (options: Options) => {
      const root = process.cwd();
      if (existsSync(join(root, CONFIG_FILE))) throw isThere();
      const { root: around } = await findProject(root);
      if (around !== root)
        throw new Problem(`the project ${relative(root, around)} is around this folder`, {
          exit: 1,
          hint: 'nothing was written; go there, for one project has one configuration',
        });
      const start = await lookAt(root);
      if (start.pageCount === 0)
        throw new Problem('no page is here that a configuration could fit', {
          hint: 'nothing was written; go to the folder of your pages (.html, .htm, .xhtml)',
        });
      const text = configText(start);
      const [uncommitted, ignored] = [await uncommittedCount(root), await isIgnored(root, `${JOURNAL}/entries`)];
      // where another process was quicker, its file stays
      if (options.dryRun !== true && !createWhole(root, CONFIG_FILE, Buffer.from(text), '')) throw isThere();
      if (options.json === true) {
        printJson({ format: 1, written: options.dryRun !== true, ...start, uncommitted, journalIgnored: ignored });
        return;
      }
      if (options.dryRun === true) {
        process.stdout.write(text);
        return;
      }
      tell(
        `${green('Written:')} ${CONFIG_FILE}, for ${count(start.pageCount, 'page')} and ${count(start.sheetCount, 'stylesheet')}.`,
      );
      for (const { folder, why } of start.ignore) tell(`Left out: ${folder}/ (${why})`);
      const { components, data } = DEFAULT_CONFIG;
      tell(`\nCommit it, and later ${components}/, ${data}/, ${DRAFT} and ${ACCEPTED} with the pages.`);
      if (ignored === false) tell(`Leave the journal out of git: echo ${JOURNAL}/ >> .gitignore`);
      else hint(`${JOURNAL}/, the journal that undo and check need, belongs to this machine and is not committed.`);
      if (uncommitted !== null && uncommitted > 0)
        print(
          yellow(`${count(uncommitted, 'file')} here have changes that are not committed: commit them before you lift`),
        );
      hint('Next: estrade survey');
    });
}

function isThere(): Problem {
  return new Problem(`${CONFIG_FILE} is there already`, {
    exit: 1,
    hint: 'nothing was written; estrade init --dry-run in another folder shows what a new one would say',
  });
}
