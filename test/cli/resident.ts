/** The built program in one process for all runs of a test file, asked and waited for as a process for each would be. */
import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { closeSync, existsSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

interface Answer {
  status: number;
  out: string;
  err: string;
}

/** A program that answers; ended by `end`, or when this process ends. */
export class Resident {
  private readonly folder = mkdtempSync(join(tmpdir(), 'estrade-resident-'));
  private readonly child: ChildProcess;
  private readonly questions: number;
  private readonly answers: number;

  /** @param root of the project, which has been built */
  constructor(root: string, env: NodeJS.ProcessEnv) {
    const [questions, answers] = ['questions', 'answers'].map((name) => join(this.folder, name)) as [string, string];
    if (!existsSync(join(root, 'dist/load.js'))) throw new Error('nothing is built: npm run build');
    const { status, stderr } = spawnSync('mkfifo', [questions, answers], { encoding: 'utf8' });
    if (status !== 0) throw new Error(stderr);
    const program = [join(root, 'test/cli/answering.mjs'), join(root, 'dist/load.js'), questions, answers];
    this.child = spawn(process.execPath, program, { env, stdio: ['ignore', 'pipe', 'pipe'] });
    // each waits for the other end
    this.questions = openSync(questions, 'w');
    this.answers = openSync(answers, 'r');
    for (const each of [this.child, this.child.stdout!, this.child.stderr!] as { unref: () => void }[]) each.unref();
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

  end(): void {
    closeSync(this.questions);
    closeSync(this.answers);
    this.child.kill();
    rmSync(this.folder, { recursive: true, force: true });
  }
}
