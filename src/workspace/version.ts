/** The version of this program. */
import { readFileSync } from 'node:fs';

/** The version of this program. */
export function ownVersion(): string {
  const file = readFileSync(new URL('../../package.json', import.meta.url), 'utf8');
  return (JSON.parse(file) as { version: string }).version;
}
