/** Runs of the program with an error of the system, or killed, at one step after the other. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { type Folder, ROOT, STATE } from './estrade.js';

export type Files = Record<string, string>;

export interface Then {
  status: number;
  err: string;
  files: Files;
  /** whether there is a journal */
  journal: boolean;
}

export interface Faulty {
  /** the step that failed, counted from 1 */
  at: number;
  status: number;
  err: string;
  files: Files;
  /** what the commands after it ended with, and left */
  then: Then[];
}

export interface Faults {
  /** of an error of the system, or SIGKILL */
  code: string;
  args: string[];
  first?: number;
  /** so many steps lie between those that fail */
  stride: string;
  /** commands that come after each */
  then: string[][];
}

/** The runs with an error in each, and the last one, without. */
export function faultyRuns(
  folder: Folder,
  { code, args, first = 1, stride, then }: Faults,
): { runs: Faulty[]; last: Faulty } {
  const program = [join(ROOT, 'test/cli/faults.mjs'), folder.path, code, String(first), ...args];
  const { stdout, stderr } = spawnSync(process.execPath, program, {
    encoding: 'utf8',
    env: { PATH: process.env.PATH, XDG_STATE_HOME: STATE, STRIDE: stride, THEN: JSON.stringify(then) },
    maxBuffer: 1 << 28,
  });
  if (stdout === '') throw new Error(stderr);
  const runs = JSON.parse(stdout) as Faulty[];
  return { last: runs.pop()!, runs };
}
