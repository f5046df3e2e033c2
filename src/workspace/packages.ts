/** Packages that only proving needs: the team's own copy, else ours, else a word on how to install them. */
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Problem } from '../core/errors.js';
import { importModule } from './import.js';

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

/** Imports a package as the project has it. @throws Problem when it is not installed */
export async function loadPackage<T>(root: string, name: string): Promise<T> {
  requirePackages(root, [name]);
  const module = await importModule<{ default?: T } & T>(pathToFileURL(resolvePackage(root, name)!).href);
  return module.default ?? module;
}
