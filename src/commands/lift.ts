/** `lift`: writes components and rewrites the pages to use them; proven before and after it is written. */
import { type Command, Option } from 'commander';
import { liftProject, type LiftOptions } from '../operations/lift.js';
import { DRAFT } from '../workspace/draft.js';
import { printPatch } from './changed.js';
import { liftJson, printLift, tellJournal } from './lifted.js';
import { listed, withPointing, withThresholds } from './options.js';
import { tellFixed, tellPointed } from './pointed.js';
import { hint, printJson, tellUnreadable } from './printing.js';

export function define(program: Command): void {
  withThresholds(withPointing(program.command('lift').argument('[names...]', 'findings of the survey')))
    .description('write components and rewrite the pages to use them')
    .option('--recommended', 'lift all findings that the survey recommends')
    .option('--draft', `lift what ${DRAFT} takes; so does lift alone, where there is one`)
    .option('--cut <number>', 'of one finding, another way to cut it: see estrade show')
    .option('--unify <prop,…|all>', 'where pages drifted apart, make the odd ones say what most say', listed)
    .option('--extend <component>', 'widen a component for what is nearly a use of it, and lift that')
    .addOption(
      new Option('--styles <what>', 'leave stylesheets alone, or move the rules that are only the component’s')
        .choices(['keep', 'move'])
        .default('keep'),
    )
    .option('--pictures', 'before anything is written, draw every page before and after in Chromium, and compare')
    .option('--computed', 'before anything is written, compare what every element computes to in Chromium')
    .option('--dry-run', 'print what would change as a patch, write nothing')
    .option('--force', 'overwrite a file that stands where a component goes; the journal keeps it')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade lift boat-card sailing-row --dry-run\n  estrade lift --at index.html:34 --name harbour-panel --alike',
    )
    .action(async (names: string[], options: LiftOptions) => {
      const lifted = await liftProject(process.cwd(), names, options);
      if (options.dryRun === true && options.json !== true) await printPatch(lifted.files);
      else if (options.json === true) printJson(liftJson(lifted));
      else {
        printLift(lifted);
        if (lifted.surveyed.project.entries.length === 0) await tellJournal(lifted.surveyed.project.root);
        const arrange = lifted.surveyed.project.config.arrange.layout === null ? '' : 'estrade arrange, ';
        hint(`Next: ${arrange}estrade check, estrade expand --out dist; estrade undo takes this back`);
      }
      if (options.json !== true && options.dryRun !== true) tellFixed(lifted.fixed);
      if (lifted.pointed !== null && options.json !== true && options.dryRun !== true) tellPointed(lifted.pointed);
      if (tellUnreadable(lifted.surveyed.unreadable)) process.exitCode = 2;
    });
}
