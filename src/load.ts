/**
 * Loads the bundled program. The code that V8 compiles for a command is kept beside it, since compiling takes a tenth of a short
 * run: by the build (`scripts/compile.mjs`), and by the first run where an installed package has none. V8 takes no code that
 * another version of Node.js made, or from another source.
 */
import { accessSync, constants, existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setFlagsFromString } from 'node:v8';
import { Script } from 'node:vm';
import * as outside from './workspace/import.js';

const PROGRAM = fileURLToPath(new URL('./commands/program.cjs', import.meta.url));

/** What the bundle calls the module that stays outside of it. */
export const OUTSIDE = 'estrade-import';

/** Where the compiled code that a command runs is kept. */
export function codeCacheOf(command: string): string {
  return `${PROGRAM}.${command.replace(/\W/g, '')}.cache`;
}

/** What the bundle, which is one function, is given. */
export const PARAMETERS = ['exports', 'require', 'module', '__filename', '__dirname'];

interface Program {
  /** runs the program; gives back the exit status */
  main: (args: string[]) => Promise<number>;
}

/**
 * Keeps what was compiled by the end of a run of a command for the next one, unless there is some that is of use or it cannot be
 * written.
 * @param script as it was loaded
 */
export function keepCompiled(script: Script, command: string): void {
  const cache = codeCacheOf(command);
  if (existsSync(cache) && script.cachedDataRejected !== true) return;
  try {
    accessSync(dirname(cache), constants.W_OK);
    writeFileSync(`${cache}.${process.pid}`, script.createCachedData());
    renameSync(`${cache}.${process.pid}`, cache);
  } catch {
    // without it all works as well
  }
}

/** Says how many times as large the space of new objects becomes when it is full of some that live. */
function growYoungSpace(factor: number): void {
  setFlagsFromString(`--semi-space-growth-factor=${factor}`);
}

/** The program, and its script, which tells whether the compiled code was of use and can give it anew. */
export function loadProgram(command: string): { program: Program; script: Script } {
  const cache = codeCacheOf(command);
  // a command is over before most code that V8 optimises pays for that: it waits until code has shown to stay hot
  setFlagsFromString('--interrupt-budget=500000');
  // old objects get twice the room that those which live take, and not four times: of large sites that is hundreds of MB
  setFlagsFromString('--heap-growing-percent=100');
  growYoungSpace(1);
  // the bundle is ASCII
  const source = readFileSync(PROGRAM, 'latin1');
  const script = new Script(source, {
    filename: PROGRAM,
    ...(existsSync(cache) ? { cachedData: readFileSync(cache) } : {}),
  });
  const module = { exports: {} };
  const requireOthers = createRequire(PROGRAM);
  const require = (name: string): unknown => (name === OUTSIDE ? outside : requireOthers(name));
  const run = script.runInThisContext() as (...given: unknown[]) => void;
  // new objects get 8 MB in place of 1, so that few of those that live for a moment are kept, and not the 16 of the default
  growYoungSpace(8);
  run(module.exports, require, module, PROGRAM, dirname(PROGRAM));
  growYoungSpace(1);
  return { program: module.exports as Program, script };
}
