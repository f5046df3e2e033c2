/** `repair`: says what is wrong with the journal and what can be done, and does it when asked to. */
import type { Command } from 'commander';
import { tellLocated } from '../operations/notices.js';
import { count, dim, yellow } from '../terminal/style.js';
import { findProject } from '../workspace/config.js';
import { repair } from '../workspace/repair.js';
import { print, printJson } from './printing.js';

export function define(program: Command): void {
  program
    .command('repair')
    .description('say what is wrong with the journal of what was written here, and what can be done')
    .option('--apply', 'do what can be done')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade repair --apply')
    .action(async (options: { apply?: boolean; json?: boolean }) => {
      const { root, notices } = await findProject(process.cwd());
      tellLocated(notices);
      const { faults, done } = await repair(root, options.apply === true);
      process.exitCode = faults.length > 0 ? 1 : 0;
      if (options.json === true) {
        printJson({ format: 1, faults, done });
        return;
      }
      for (const line of done) print(line);
      for (const { path, message, remedy } of faults) {
        print(`${yellow('wrong')}  ${path}: ${message}`);
        print(
          dim(
            `       ${remedy === null ? 'put that file back from a copy of yours; nothing can be done without it' : `--apply would ${remedy}`}`,
          ),
        );
      }
      if (faults.length === 0) print(done.length > 0 ? 'Nothing is wrong any more.' : 'Nothing is wrong here.');
      else if (faults.some(({ remedy }) => remedy !== null))
        print(
          dim(`${count(faults.length, 'fault')}; nothing was changed. estrade repair --apply does what can be done.`),
        );
    });
}
