/** `undo`: takes the last write back. */
import type { Command } from 'commander';
import { undoProject } from '../operations/undo.js';
import { count, yellow } from '../terminal/style.js';
import { hint, print, printJson, tell } from './printing.js';

export function define(program: Command): void {
  program
    .command('undo')
    .description('take the last write back, to the byte; again, the one before')
    .option('--force', 'overwrite files that were changed since; a copy of yours is kept')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade undo')
    .action(async (options: { force?: boolean; json?: boolean }) => {
      const { undone, left } = await undoProject(process.cwd(), options.force === true);
      if (options.json === true) {
        printJson({
          format: 1,
          command: undone?.entry.command ?? null,
          restored: undone?.restored ?? [],
          removed: undone?.removed ?? [],
          kept: undone?.kept ?? [],
          left,
        });
        return;
      }
      if (undone === null) return;
      tell(
        `Took back "${undone.entry.command}": ${count(undone.restored.length, 'file')} restored, ${undone.removed.length} removed.`,
      );
      for (const { path, copy } of undone.kept) print(yellow(`your ${path} is kept as ${copy}`));
      hint(
        left === 0
          ? 'The folder is as it was before the first lift.'
          : `${count(left, 'earlier change')} can be taken back too${left === 1 ? '' : ', the last one first'}: estrade undo`,
      );
    });
}
