// What benches share that time whole processes.
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** The path of a file, as it is written beside this one. */
export const path = (name) => fileURLToPath(new URL(name, import.meta.url));

export const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Milliseconds that a run of Node takes from start to end. @throws Error with what it says when it fails */
export function timed(args, cwd) {
  const before = performance.now();
  const run = spawnSync(process.execPath, args, { cwd, encoding: 'utf8', maxBuffer: Infinity });
  if (run.status !== 0) throw new Error(run.stderr);
  return performance.now() - before;
}
