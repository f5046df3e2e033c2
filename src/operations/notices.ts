/** What the user should know beside the answer, on stderr. */
import { count, yellow } from '../terminal/style.js';
import { isQuiet, isVerbose } from '../terminal/voice.js';
import type { Project } from '../workspace/project.js';

/** Tells on stderr what the user should know beside the answer. */
export function notice(text: string): void {
  process.stderr.write(`${yellow('estrade:')} ${text}\n`);
}

/** Tells on stderr where the project is, and what was put in order. */
export function tellLocated(notices: string[]): void {
  if (!isQuiet()) notices.forEach(notice);
}

/** Tells on stderr what opening the project put in order. */
export function tellNotices(project: Project): void {
  tellLocated(project.notices);
  if (!isVerbose()) return;
  const { root, configFile, registry, entries } = project;
  const from = configFile ?? 'no configuration';
  notice(
    `project ${root}, ${from}; ${count(registry.size, 'component')}, ${count(entries.length, 'change')} that can be undone`,
  );
}
