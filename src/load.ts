/**
 * Loads the bundles that the program is made of: its own, and the formatter of what is emitted, when that is first asked for. The
 * code that V8 compiles of them for a command is kept beside them, since compiling takes a tenth of a short run: by the build
 * (`scripts/compile.mjs`), and by the first run where an installed package has none. V8 takes no code that another version of
 * Node.js made, or from another source.
 */
import { accessSync, constants, existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setFlagsFromString } from 'node:v8';
import { Script } from 'node:vm';
import { once } from './core/once.js';
import * as outside from './workspace/import.js';

const PROGRAM = fileURLToPath(new URL('./commands/program.cjs', import.meta.url));

/** Packages that are bundles of their own, since few commands need them. */
const BUNDLED = new Map([['prettier', fileURLToPath(new URL('./commands/formatter.cjs', import.meta.url))]]);

/** What bundles call the module that stays outside of them. */
export const OUTSIDE = 'estrade-import';

/** Where the compiled code of a bundle that a command runs is kept. */
function codeCacheOf(bundle: string, command: string): string {
  return `${bundle}.${command.replace(/\W/g, '')}.cache`;
}

/** What a bundle, which is one function, is given. */
export const PARAMETERS = ['exports', 'require', 'module', '__filename', '__dirname'];

interface Program {
  /** runs the program; gives back the exit status */
  main: (args: string[]) => Promise<number>;
}

/**
 * The scripts of the bundles loaded so far, by where compiled code of them is kept: they tell whether that was of use, and give
 * it anew.
 */
type Scripts = ReadonlyMap<string, Script>;

/**
 * Keeps what was compiled by the end of a run of a command for the next one, unless there is some that is of use or it cannot be
 * written.
 */
export function keepCompiled(scripts: Scripts): void {
  for (const [cache, script] of scripts) {
    if (existsSync(cache) && script.cachedDataRejected !== true) continue;
    try {
      accessSync(dirname(cache), constants.W_OK);
      writeFileSync(`${cache}.${process.pid}`, script.createCachedData());
      renameSync(`${cache}.${process.pid}`, cache);
    } catch {
      // without it all works as well
    }
  }
}

/** Says how many times as large the space of new objects becomes when it is full of some that live. */
function growYoungSpace(factor: number): void {
  setFlagsFromString(`--semi-space-growth-factor=${factor}`);
}

/** The program as a command runs it. */
export function loadProgram(command: string): { program: Program; scripts: Scripts } {
  // a command is over before most code that V8 optimises pays for that: it waits until code has shown to stay hot
  setFlagsFromString('--interrupt-budget=500000');
  // old objects get twice the room that those which live take, and not four times: of large sites that is hundreds of MB
  setFlagsFromString('--heap-growing-percent=100');
  growYoungSpace(1);
  const scripts = new Map<string, Script>();
  const requireOthers = createRequire(PROGRAM);
  const require = (name: string): unknown => (name === OUTSIDE ? outside : (bundled.get(name) ?? requireOthers)(name));
  const load = (path: string) => {
    const cache = codeCacheOf(path, command);
    // bundles are ASCII
    const script = new Script(readFileSync(path, 'latin1'), {
      filename: path,
      ...(existsSync(cache) ? { cachedData: readFileSync(cache) } : {}),
    });
    scripts.set(cache, script);
    const run = script.runInThisContext() as (...given: unknown[]) => void;
    return () => {
      const module = { exports: {} };
      run(module.exports, require, module, path, dirname(path));
      return module.exports;
    };
  };
  const bundled = new Map(Array.from(BUNDLED, ([name, path]) => [name, once(() => load(path)())]));
  const run = load(PROGRAM);
  // new objects get 8 MB in place of 1, so that few of those that live for a moment are kept, and not the 16 of the default
  growYoungSpace(8);
  const program = run() as Program;
  growYoungSpace(1);
  return { program, scripts };
}
