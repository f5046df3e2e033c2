/** What a change of the project came to, or the patch of what it would. */
import type { Changed } from '../operations/changing.js';
import { green } from '../terminal/style.js';
import type { PlannedFile } from '../workspace/transaction.js';
import { hint, tell } from './printing.js';
import { pagesText } from './sameness.js';

/** Prints what was changed, or the patch of what would be. */
export async function printChanged(title: string, { files, tally, pages, written }: Changed): Promise<void> {
  if (!written) return printPatch(files);
  tell(`${title}: ${tally}.`);
  tell(`${green('Proven from disk:')} ${pagesText(pages)} to exactly what ${pages === 1 ? 'it' : 'they'} did before.`);
  hint('Next: estrade check; estrade undo takes this back');
}

/** Prints what would change as a patch for `git apply`. */
export async function printPatch(files: PlannedFile[]): Promise<void> {
  const { unifiedDiff } = await import('../terminal/diff.js');
  for (const { path, before, after } of files) {
    const isSame = before === after || (before !== null && after !== null && before.equals(after));
    if (!isSame) process.stdout.write(unifiedDiff({ path, before, after }));
  }
}
