/** `check`: proves the promise again from the files on disk, and finds uses that are wrong. */
import type { Command } from 'commander';
import { type CheckOptions, checkProject } from '../operations/check.js';
import { notice } from '../operations/notices.js';
import { printCheck } from './checked.js';
import { checkSarif, formatOf, type FormatOptions, withFormats } from './formats.js';
import { printJson, tellUnreadable } from './printing.js';

export function define(program: Command): void {
  withFormats(program.command('check'))
    .description('prove again, from disk, that the pages expand to what they were; find wrong uses')
    .option('--against <folder|revision>', 'what the pages were: in a folder, or at a commit or tag of git')
    .option('--advice', 'tell what could be said with less, with the commands that mend it')
    .option('--pictures', 'draw every page as it was and as it is in Chromium, and compare the pictures pixel by pixel')
    .option('--computed', 'compare what every element computes to in Chromium')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade check\n  estrade check --pictures\n  estrade check --advice\n  estrade check --against v1.2',
    )
    .action(async (options: CheckOptions & FormatOptions) => {
      const checked = await checkProject(process.cwd(), options);
      const { against, passed, pages, stylesheets, unified, unproven, problems, advice, pictured } = checked;
      const format = formatOf(options);
      if (format === 'sarif') printJson(checkSarif(checked));
      else if (format === 'json') {
        const told = { ...(advice === null ? {} : { advice }), ...(pictured === null ? {} : { pictured }) };
        printJson({ format: 1, against, passed, pages, stylesheets, unified, unproven, problems, ...told });
      } else printCheck(checked);
      const isUnproven = against === null && pages.length === 0 && unproven.length > 0;
      const isWrong = !passed && (!isUnproven || problems.some(({ severity }) => severity === 'error'));
      if (isUnproven)
        notice(`nothing here says what the pages were, for the journal (.estrade) stays where they were lifted
  compare with a commit, a tag or a folder: estrade check --against HEAD`);
      process.exitCode = tellUnreadable(checked.unreadable) ? 2 : isWrong ? 1 : isUnproven ? 2 : 0;
    });
}
