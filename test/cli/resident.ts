/**
 * The built program in one process for all test files of a worker, asked and waited for as a process for each run would be. It
 * is warm after the first of them, and ends with the worker.
 */
import { spawn, spawnSync } from 'node:child_process';
import {
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

interface Answer {
  status: number;
  out: string;
  err: string;
}

/** Where the pipes of this worker's program are. */
export const PIPES = join(tmpdir(), `estrade-resident-${process.pid}`);

/** A way to ask the program that a test file before started, or a new one. */
export class Resident {
  private readonly questions: number;
  private readonly answers: number;

  /** @param root of the project, which has been built */
  constructor(root: string, env: NodeJS.ProcessEnv) {
    if (!isThere()) start(root, env);
    // each waits for the other end
    this.questions = openSync(join(PIPES, 'questions'), 'w');
    this.answers = openSync(join(PIPES, 'answers'), 'r');
  }

  run(args: string[], cwd: string): Answer {
    writeSync(this.questions, `${JSON.stringify({ args, cwd })}\n`);
    const parts: Buffer[] = [];
    for (;;) {
      const part = Buffer.alloc(1 << 16);
      const length = readSync(this.answers, part);
      if (length === 0) throw new Error(`the program ended while it ran ${args.join(' ')}`);
      parts.push(part.subarray(0, length));
      if (part[length - 1] === 10) return JSON.parse(Buffer.concat(parts).toString('utf8')) as Answer;
    }
  }

  /** Leaves the program to the next test file. */
  end(): void {
    closeSync(this.questions);
    closeSync(this.answers);
  }
}

function isThere(): boolean {
  try {
    return process.kill(Number(readFileSync(join(PIPES, 'pid'), 'utf8')), 0);
  } catch {
    return false;
  }
}

function start(root: string, env: NodeJS.ProcessEnv): void {
  if (!existsSync(join(root, 'dist/load.js'))) throw new Error('nothing is built: npm run build');
  rmSync(PIPES, { recursive: true, force: true });
  mkdirSync(PIPES);
  const pipes = ['questions', 'answers'].map((name) => join(PIPES, name));
  const { status, stderr } = spawnSync('mkfifo', pipes, { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  const program = [join(root, 'test/cli/answering.mjs'), join(root, 'dist/load.js'), PIPES];
  // it lives long: more room for new objects spares it collecting garbage
  const child = spawn(process.execPath, ['--min-semi-space-size=32', '--max-semi-space-size=64', ...program], {
    env,
    stdio: 'ignore',
  });
  child.unref();
  writeFileSync(join(PIPES, 'pid'), String(child.pid));
}
