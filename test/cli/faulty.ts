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
  /** of errors of the system, or SIGKILL */
  codes: string[];
  args: string[];
  first?: number;
  /** so many steps lie between those that fail */
  stride: string;
  /** commands that come after each */
  then: string[][];
}

export interface Runs {
  runs: Faulty[];
  /** the last one, without an error */
  last: Faulty;
}

/** The runs with an error in each, for each code. */
export function faultyRuns(folder: Folder, { codes, args, first = 1, stride, then }: Faults): Runs[] {
  const program = [join(ROOT, 'test/cli/faults.mjs'), folder.path, codes.join(), String(first), ...args];
  const { stdout, stderr } = spawnSync(process.execPath, program, {
    encoding: 'utf8',
    env: { PATH: process.env.PATH, XDG_STATE_HOME: STATE, STRIDE: stride, THEN: JSON.stringify(then) },
    maxBuffer: 1 << 28,
  });
  if (stdout === '') throw new Error(stderr);
  return (JSON.parse(stdout) as Faulty[][]).map((all) => ({ runs: all.slice(0, -1), last: all.at(-1)! }));
}
