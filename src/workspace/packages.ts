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

/**
 * Imports a package as the project has it.
 * @throws Problem that names the command to install it
 */
export async function loadPackage<T>(root: string, name: string, wanted: string[]): Promise<T> {
  const path = resolvePackage(root, name);
  if (path === null) throw missing(wanted.filter((each) => resolvePackage(root, each) === null));
  const module = await importModule<{ default?: T } & T>(pathToFileURL(path).href);
  return module.default ?? module;
}

function missing(names: string[]): Problem {
  return new Problem(
    `--verify needs ${names.join(' and ')}, which ${names.length === 1 ? 'is' : 'are'} not installed`,
    {
      hint: `npm install --save-dev ${names.join(' ')}`,
    },
  );
}
