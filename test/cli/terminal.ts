/** Drives the built program in a pseudo-terminal, which `script` of util-linux makes. */
import { type ChildProcess, spawn } from 'node:child_process';
import { stripVTControlCharacters } from 'node:util';
import { BIN, STATE } from './estrade.js';

export const UP = '\u001b[A';
export const DOWN = '\u001b[B';
export const ENTER = '\r';
export const CONTROL_C = '\u0003';
/** Takes out what an input is filled with. */
export const EMPTIED = '\u0015';

const open = new Set<ChildProcess>();

/** Ends what a failed test left open. */
export function closeTerminals(): void {
  for (const child of open) child.kill('SIGKILL');
}

export class Terminal {
  private readonly child: ChildProcess;
  private readonly ended: Promise<number | null>;
  /** what was printed since the last key */
  private text = '';
  private wake: () => void = () => undefined;

  constructor(folder: string, args: string[]) {
    const command = `stty cols 120 rows 45; exec '${process.execPath}' '${BIN}' ${args.join(' ')}`;
    this.child = spawn('script', ['-qfec', command, '/dev/null'], {
      cwd: folder,
      env: { PATH: process.env.PATH, TERM: 'xterm', SHELL: '/bin/sh', XDG_STATE_HOME: STATE, NO_COLOR: '1' },
    });
    this.child.stdout!.on('data', (data: Buffer) => {
      this.text += stripVTControlCharacters(data.toString('utf8'));
      this.wake();
    });
    open.add(this.child);
    this.ended = new Promise((done) =>
      this.child.on('exit', (status) => {
        open.delete(this.child);
        done(status);
      }),
    );
  }

  /** Waits until what was printed since the last key matches. @returns it */
  async until(pattern: RegExp): Promise<string> {
    const limit = Date.now() + 20_000;
    while (!pattern.test(this.text)) {
      if (Date.now() > limit) throw new Error(`${String(pattern)} was not printed, but:\n${this.text}`);
      await new Promise<void>((done) => {
        this.wake = done;
        setTimeout(done, 1000);
      });
    }
    return this.text;
  }

  /** Types, once the prompt that is waited for is there. */
  async type(pattern: RegExp, ...keys: string[]): Promise<string> {
    const shown = await this.until(pattern);
    this.text = '';
    for (const key of keys) {
      this.child.stdin!.write(key);
      // a prompt reads one key at a time
      await new Promise((done) => setTimeout(done, 50));
    }
    return shown;
  }

  /** The rest of what is printed, and the exit status. */
  async end(): Promise<{ text: string; status: number | null }> {
    const status = await this.ended;
    return { text: this.text, status };
  }
}
