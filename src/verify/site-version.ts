/** A site at one time, as whoever draws its pages reads it. */
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { readInside } from '../workspace/output.js';

export interface SiteVersion {
  /** bytes of a file by its path from the root; null where there is none */
  read: (path: string) => Buffer | null;
}

/**
 * The folder of a project with some of its files as they are at that time.
 * @param files bytes by path; null for what was not there
 */
export function versionOf(root: string, files: ReadonlyMap<string, Buffer | null>): SiteVersion {
  return {
    read: (path) => {
      const own = files.get(path);
      if (own !== undefined) return own;
      const file = join(root, path);
      return existsSync(file) && statSync(file).isFile() ? readInside(root, path) : null;
    },
  };
}
