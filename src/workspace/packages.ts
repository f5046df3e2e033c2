/** Packages that only proving needs: the team's own copy, else ours, else a word on how to install them. */
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { Problem } from '../core/errors.js';

const own = createRequire(import.meta.url);

/** The file that a package, or a module of one, resolves to for the project; null when it is not installed. */
export function resolvePackage(root: string, name: string): string | null {
  for (const from of [createRequire(join(root, 'package.json')), own]) {
    try {
      return from.resolve(name);
    } catch {
      // the next one may have it
    }
  }
  return null;
}

/** @throws Problem that names the command to install what is missing */
export function requirePackages(root: string, wanted: string[]): void {
  const missing = wanted.filter((name) => resolvePackage(root, name) === null);
  if (missing.length > 0)
    throw new Problem(
      `--verify needs ${missing.join(' and ')}, which ${missing.length === 1 ? 'is' : 'are'} not installed`,
      { hint: `nothing was written: npm install --save-dev ${missing.join(' ')}, or leave --verify out` },
    );
}

/**
 * Loads a package as the project has it: by `require`, which need not look for the names that a large script exports.
 * @throws Problem when it is not installed
 */
export function loadPackage(root: string, name: string): unknown {
  requirePackages(root, [name]);
  const module = own(resolvePackage(root, name)!) as { default?: unknown };
  return module.default ?? module;
}
