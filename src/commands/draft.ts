/** `draft`: writes the file of decisions about findings, or adds to it what is new. */
import type { Command } from 'commander';
import { Problem } from '../core/errors.js';
import { keysOf } from '../core/survey/keys.js';
import { decisionsFor } from '../operations/decided.js';
import { surveyProject } from '../operations/survey.js';
import type { ThresholdOptions } from '../operations/thresholds.js';
import { count, green, yellow } from '../terminal/style.js';
import { findProject } from '../workspace/config.js';
import { writeRegular } from '../workspace/disk.js';
import { DRAFT, withAdded } from '../workspace/draft.js';
import { locked } from '../workspace/lock.js';
import { withThresholds } from './options.js';
import { hint, print, printJson, tell, tellUnreadable } from './printing.js';

interface Options extends ThresholdOptions {
  dryRun?: boolean;
  json?: boolean;
}

export function define(program: Command): void {
  withThresholds(program.command('draft'))
    .description('write what to do about each finding into a file to edit, or add to it what is new')
    .option('--dry-run', 'print the file, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', `\nExample:\n  estrade draft, edit ${DRAFT}, estrade lift`)
    .action(async (options: Options) => {
      const work = () => draftNow(process.cwd(), options);
      const { text, added, kept, gone, unreadable } = await (options.dryRun === true
        ? work()
        : locked((await findProject(process.cwd())).root, work));
      if (options.json === true)
        printJson({ format: 1, written: options.dryRun !== true, path: DRAFT, added, kept, gone });
      else if (options.dryRun === true) process.stdout.write(text);
      else {
        tell(`${green('Written:')} ${DRAFT}, ${count(added.length, 'finding')} added, ${kept} decided before.`);
        for (const { name, key } of gone) print(yellow(`gone: ${name} (${key}): nothing is like it now`));
        hint('Next: edit it, estrade lift --dry-run, estrade lift');
      }
      if (tellUnreadable(unreadable)) process.exitCode = 2;
    });
}

async function draftNow(cwd: string, options: Options) {
  const surveyed = await surveyProject(cwd, [], options);
  const { project, draft, findings, unreadable } = surveyed;
  const known = draft?.file ?? null;
  const open = draft?.open ?? findings;
  if (open.length === 0 && known === null)
    throw new Problem('the survey finds nothing to decide', { exit: 1, hint: 'nothing was written' });
  const told = decisionsFor(open, draft?.keys ?? keysOf(findings));
  const text = await withAdded(known?.source ?? null, told);
  if (options.dryRun !== true && text !== known?.source) writeRegular(project.root, DRAFT, Buffer.from(text), '');
  const gone = draft?.gone ?? [];
  return {
    text,
    added: told.map(({ decision }) => decision.name),
    kept: (known?.decisions.length ?? 0) - gone.length,
    gone: gone.map(({ name, key }) => ({ name, key })),
    unreadable,
  };
}
