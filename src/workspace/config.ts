/**
 * Where a project's root is, and its configuration file: found in the current folder or above it, read with comments
 * allowed, validated with Joi.
 */
import { AsyncLocalStorage } from 'node:async_hooks';
import { existsSync, readdirSync, readFileSync, realpathSync } from 'node:fs';
import { homedir, tmpdir } from 'node:os';
import { dirname, join, relative, resolve } from 'node:path';
import { Problem } from '../core/errors.js';
import { type Config, DEFAULT_CONFIG } from './defaults.js';
import { reasonOf } from './files.js';
import { JOURNAL } from './journal.js';
import { parseJson } from './json.js';

export const CONFIG_FILE = 'estrade.config.json';

/** A file that says so holds a component; every other file in the folder of components is the user's. */
export const HOLDS_COMPONENT = /<template\s[^>]*\bcomponent\s*=/i;

export interface Located {
  root: string;
  config: Config;
  /** absolute path of the file that the settings are from; null for none */
  configFile: string | null;
  /** what is told of a root that is not the current folder; nothing where it is */
  notices: string[];
}

const chosen = new AsyncLocalStorage<string | undefined>();

/** Runs `work`, in which projects have the settings of a file of the user's choice. @param file absolute path; none for the project's own */
export function withConfigFile<T>(file: string | undefined, work: () => T): T {
  return chosen.run(file, work);
}

/**
 * The project that a command run in `cwd` is about: the nearest folder, itself or above, that has a configuration, a
 * journal or component files; `cwd` where none has. Git's top level ends the search, and so does a folder that holds
 * all kinds of things (home, temporary files, the file system's root) but for a configuration.
 * @throws Problem with the place in the configuration
 */
export async function findProject(cwd: string): Promise<Located> {
  const { root, name } = rootOf(cwd);
  const own = join(root, CONFIG_FILE);
  const file = chosen.getStore() ?? (existsSync(own) ? own : null);
  const config = file === null ? DEFAULT_CONFIG : await readConfig(file, relative(cwd, file));
  const isElsewhere = root !== cwd && name !== null;
  const notice = `the project is ${relative(cwd, root)}, where ${name} is; paths are told from there`;
  return { root, config, configFile: file, notices: isElsewhere ? [notice] : [] };
}

/** The root, and what tells that it is one; null where nothing does. */
function rootOf(cwd: string): { root: string; name: string | null } {
  // the current folder comes without links in it
  const shared = [homedir(), tmpdir()].filter((path) => existsSync(path)).map((path) => realpathSync(path));
  for (let folder = resolve(cwd); ; folder = dirname(folder)) {
    if (existsSync(join(folder, CONFIG_FILE))) return { root: folder, name: CONFIG_FILE };
    const isTop = folder === dirname(folder);
    const name = isTop || (folder !== cwd && shared.includes(folder)) ? undefined : leftBehindIn(folder);
    if (name !== undefined) return { root: folder, name };
    if (isTop || existsSync(join(folder, '.git'))) return { root: cwd, name: null };
  }
}

/** What tells that a folder without a configuration is a project: its journal, or a component file. */
function leftBehindIn(folder: string): string | undefined {
  if (existsSync(join(folder, JOURNAL, 'entries'))) return JOURNAL;
  const { components } = DEFAULT_CONFIG;
  try {
    return readdirSync(join(folder, components), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.html'))
      .map((name) => `${components}/${name.replaceAll('\\', '/')}`)
      .find((path) => HOLDS_COMPONENT.test(readFileSync(join(folder, path), 'utf8')));
  } catch {
    // what is not there or cannot be read tells nothing
    return undefined;
  }
}

async function readConfig(file: string, shown: string): Promise<Config> {
  const { value, tree, placeOf } = await parseJson(shown, textOf(file, shown), 'the configuration');
  const [{ findNodeAtLocation }, { validateConfig }] = await Promise.all([
    import('jsonc-parser'),
    import('./schema.js'),
  ]);
  const checked = validateConfig(value);
  if ('config' in checked) return checked.config;
  const node = findNodeAtLocation(tree, checked.path);
  // an unknown key is shown where the key stands, a wrong value where the value does
  const offset = (checked.unknown ? node?.parent?.offset : node?.offset) ?? tree.offset;
  throw new Problem(checked.message, { place: placeOf(offset), hint: checked.hint });
}

function textOf(file: string, shown: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new Problem(`the configuration ${shown} cannot be read: ${reasonOf(error)}`, {
      hint: 'look where it is, and whether you may read it',
    });
  }
}
