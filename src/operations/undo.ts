/** Taking the last write back. */
import { findProject } from '../workspace/config.js';
import { Journal } from '../workspace/journal.js';
import { recoveryNotices } from '../workspace/project.js';
import { recover, undo, type Undone } from '../workspace/transaction.js';
import { tellLocated } from './notices.js';

export interface UndoneProject {
  /** null when a write that was cut short was the last, and was taken back on the way */
  undone: Undone | null;
  /** writes that can still be undone */
  left: number;
}

/** Takes the last write back; one that was cut short counts as the last. */
export async function undoProject(cwd: string, force: boolean): Promise<UndoneProject> {
  const { root, notices } = await findProject(cwd);
  const recovered = await recover(root);
  tellLocated([...notices, ...recoveryNotices(recovered)]);
  const undone = recovered.commands.length > 0 ? null : await undo(root, force);
  return { undone, left: (await new Journal(root).entries()).length };
}
