/** Files of the team's own that new files are written after. */
import { Problem } from '../core/errors.js';
import { CONFIG_FILE } from './config.js';
import { readSource } from './files.js';

/**
 * The text of a starter.
 * @param key of the configuration that names it
 * @throws Problem (exit 2) where it cannot be read
 */
export function readStarter(root: string, path: string, key: string): string {
  const file = readSource(root, path, 'UTF-8');
  if (!('why' in file)) return file.text;
  throw new Problem(`${path} cannot be read: ${file.why}`, {
    hint: `"${key}" in ${CONFIG_FILE} names it; nothing was written`,
  });
}
