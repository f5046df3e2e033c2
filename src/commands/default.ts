/** `default`: gives a prop another default; uses that give that value say it no longer. */
import type { Command } from 'commander';
import { Problem, shownValue } from '../core/errors.js';
import { setDefault } from '../core/library/default.js';
import { type Changed, changeProject, oneAtATime, openSite } from '../operations/changing.js';
import { componentNamed } from '../operations/problems.js';
import { printChanged } from './changed.js';
import { printJson, tellUnreadable } from './printing.js';

interface Options {
  none?: boolean;
  dryRun?: boolean;
  json?: boolean;
}

async function setInProject(cwd: string, what: string, value: string | null, { dryRun }: Options): Promise<Changed> {
  const opened = await openSite(cwd);
  const [, name = what, prop = ''] = /^(.*?)\.(.*)$/.exec(what) ?? [];
  const component = componentNamed(opened.project, name);
  if (prop === '')
    throw new Problem(`of which prop of ${name}?`, { hint: `estrade default ${name}.<prop>; estrade show ${name}` });
  const change = setDefault(opened.site, component, prop, value);
  const command = ['default', what, value ?? '--none'].join(' ');
  return changeProject(opened, change, { command, write: dryRun !== true });
}

export function define(program: Command): void {
  program
    .command('default')
    .argument('<prop>', 'as component.prop')
    .argument('[value]', 'what stands for it where a use says nothing')
    .description('give a prop another default, or none; what the pages come to stays the same')
    .option('--none', 'no default: uses that took the old one say it')
    .option('--dry-run', 'print what would change as a patch, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade default notice-section.state calm\n  estrade default boat-card.links --none',
    )
    .action(async (what: string, given: string | undefined, options: Options) => {
      if ((given === undefined) === (options.none !== true))
        throw new Problem('say one of the two: a value, or --none', { hint: `estrade default ${what} <value>` });
      const value = given ?? null;
      const cwd = process.cwd();
      const changed = await oneAtATime(cwd, options.dryRun === true, () => setInProject(cwd, what, value, options));
      const { written, files } = changed;
      if (options.json === true)
        printJson({ format: 1, written, prop: what, value, files: files.map(({ path }) => path) });
      else
        await printChanged(
          `${what} ${value === null ? 'has no default' : `is ${shownValue(value)} by default`} now`,
          changed,
        );
      if (tellUnreadable(changed.unreadable)) process.exitCode = 2;
    });
}
