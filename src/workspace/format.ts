/** Formats emitted files with Prettier and the configuration that holds where they go, as far as that is data. */
import { readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Problem } from '../core/errors.js';

const FORMATTED = /\.(tsx?|jsx?|mjs|cjs|css|json)$/;
/** Configuration that is a program. */
const PROGRAM = /\.[cm]?[jt]s$/;

export interface Formatted {
  text: string;
  /** configuration that would have been run as a program, and was not; null for none */
  ignored: string | null;
  /** the text came back as it was given: it is nested deeper than the formatter can follow */
  tooDeep: boolean;
}

/** Formats a text for a path below the folder. @throws Problem when it cannot be read */
export type Formatter = (path: string, text: string) => Promise<Formatted>;

/**
 * What formats files of a folder as the configuration around them says.
 * @param trust whether programs are run that the configuration is or names: modules, shared configurations, plugins
 */
export function formatterFor(folder: string, trust: boolean): Formatter {
  /** configuration by folder: the formatter itself looks for it at every file */
  const found = new Map<string, Promise<string | null>>();
  return async (path, text) => {
    if (!FORMATTED.test(path)) return { text, ignored: null, tooDeep: false };
    const { format, resolveConfig, resolveConfigFile } = await import('prettier');
    const filepath = join(folder, path);
    const below = dirname(filepath);
    try {
      if (!found.has(below)) found.set(below, resolveConfigFile(filepath));
      const file = await found.get(below)!;
      const isUsed = trust || file === null || isData(file);
      const config = isUsed ? await resolveConfig(filepath, { editorconfig: true }) : null;
      const plugins = trust ? (config?.plugins ?? []) : [];
      const isWhole = isUsed && (trust || (config?.plugins ?? []).length === 0);
      // reads the same TypeScript as the parser of that, and loads in half the time
      const parser = /\.tsx?$/.test(path) && config?.parser === undefined ? { parser: 'babel-ts' } : {};
      const formatted = await format(text, { ...config, ...parser, plugins, filepath });
      return { text: formatted, ignored: isWhole ? null : file, tooDeep: false };
    } catch (error) {
      if (error instanceof RangeError && /call stack/i.test(error.message))
        return { text, ignored: null, tooDeep: true };
      throw new Problem(`${path} cannot be formatted: ${(error as Error).message.split('\n')[0]!}`, {
        hint: 'a configuration of Prettier that stands above the output folder may be wrong',
      });
    }
  };
}

/** True for options written down; a text in their place names a module, which would be run. */
function isData(file: string): boolean {
  if (PROGRAM.test(file)) return false;
  const source = readFileSync(file, 'utf8');
  try {
    const value = JSON.parse(source) as { prettier?: unknown } | null;
    const options = basename(file) === 'package.json' ? value?.prettier : value;
    return typeof options === 'object';
  } catch {
    // YAML and TOML: a first line with a key makes a mapping of the whole; what else is broken is told when it is read
    const first = source.split('\n').find((line) => !/^\s*(#.*|---)?\s*$/.test(line)) ?? '{';
    const mapping = file.endsWith('.toml') ? /^\s*([\w.-]+\s*=|\[)/ : /^\s*([\w-]+\s*:|\{)/;
    return basename(file) !== 'package.yaml' && mapping.test(first);
  }
}
