/** `inline`: takes a component back, so that its uses are markup again; one that nothing uses just goes. */
import type { Command } from 'commander';
import { inlineComponent } from '../core/library/inline.js';
import { type Changed, changeProject, oneAtATime, openSite } from '../operations/changing.js';
import { componentNamed } from '../operations/problems.js';
import { printChanged } from './changed.js';
import { printJson, tellUnreadable } from './printing.js';

interface Options {
  dryRun?: boolean;
  json?: boolean;
}

async function inlineInProject(cwd: string, name: string, { dryRun }: Options): Promise<Changed> {
  const opened = await openSite(cwd);
  const change = inlineComponent(opened.site, componentNamed(opened.project, name));
  return changeProject(opened, change, { command: `inline ${name}`, write: dryRun !== true });
}

export function define(program: Command): void {
  program
    .command('inline')
    .argument('<component>', 'whose uses become markup again')
    .description('take a component back: its uses become what they stand for, and its file goes')
    .option('--dry-run', 'print what would change as a patch, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade inline boat-fact')
    .action(async (name: string, options: Options) => {
      const cwd = process.cwd();
      const changed = await oneAtATime(cwd, options.dryRun === true, () => inlineInProject(cwd, name, options));
      const { written, files } = changed;
      if (options.json === true) printJson({ format: 1, written, name, files: files.map(({ path }) => path) });
      else await printChanged(`${name} is markup again`, changed);
      if (tellUnreadable(changed.unreadable)) process.exitCode = 2;
    });
}
