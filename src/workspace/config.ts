/** The configuration file: found in the current folder or above it, read with comments allowed, validated with Joi. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import type { ParseError } from 'jsonc-parser';
import type { Place } from '../core/errors.js';
import { Problem } from '../core/errors.js';
import { type Config, DEFAULT_CONFIG } from './defaults.js';

export const CONFIG_FILE = 'estrade.config.json';

export interface Configured {
  root: string;
  config: Config;
  /** path of the file, null when there is none */
  file: string | null;
}

/** The project's root and configuration for a command run in `cwd`. @throws Problem with the place in the file */
export async function findConfig(cwd: string): Promise<Configured> {
  for (let folder = cwd; ; folder = dirname(folder)) {
    const file = join(folder, CONFIG_FILE);
    if (existsSync(file)) return { root: folder, config: await readConfig(file, relative(cwd, file)), file };
    if (folder === dirname(folder)) return { root: cwd, config: DEFAULT_CONFIG, file: null };
  }
}

async function readConfig(file: string, shown: string): Promise<Config> {
  const source = readFileSync(file, 'utf8');
  const [{ findNodeAtLocation, getNodeValue, parseTree, printParseErrorCode }, { placeAt }, { validateConfig }] =
    await Promise.all([import('jsonc-parser'), import('../core/page/parse.js'), import('./schema.js')]);
  const holder = { path: shown, source };
  const errors: ParseError[] = [];
  const tree = parseTree(source, errors, { allowTrailingComma: true });
  const fail = (message: string, place: Place, hint: string): never => {
    throw new Problem(message, { place, hint });
  };
  const [first] = errors;
  if (first !== undefined || tree === undefined)
    return fail(
      `the configuration is not JSON: ${first ? printParseErrorCode(first.error) : 'it is empty'}`,
      placeAt(holder, first?.offset ?? 0),
      'mend it here; comments and trailing commas are allowed',
    );
  const checked = validateConfig(getNodeValue(tree));
  if ('config' in checked) return checked.config;
  const node = findNodeAtLocation(tree, checked.path);
  // an unknown key is shown where the key stands, a wrong value where the value does
  const offset = (checked.unknown ? node?.parent?.offset : node?.offset) ?? tree.offset;
  return fail(checked.message, placeAt(holder, offset), checked.hint);
}
