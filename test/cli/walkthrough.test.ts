/** The session of docs/walkthrough.md, command by command, through the built program. */
import { afterAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { chmodSync, cpSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BIN, Folder, removeFolders, ROOT, STATE } from './estrade.js';

afterAll(removeFolders);

interface Step {
  commands: string;
  printed: string;
}

/** The commands of the guide, each with what it says is printed. */
const steps = [
  ...readFileSync(join(ROOT, 'docs/walkthrough.md'), 'utf8').matchAll(/^```sh\n([^]*?)^```\n\n```text\n([^]*?)^```/gm),
].map(([, commands, printed]): Step => ({ commands: commands!, printed: printed! }));

/** What is printed, with `…` for any lines. */
function patternOf(printed: string): RegExp {
  const lines = printed.trimEnd().split('\n');
  const parts = lines.map((line) =>
    line === '…' ? '(?:.*\\n)*?' : `${line.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\n`,
  );
  return new RegExp(`^${parts.join('')}$`);
}

test('the walkthrough does and prints what it says, and ends where it began', () => {
  const folder = new Folder({ 'bin/estrade': `#!/bin/sh\nexec '${process.execPath}' '${BIN}' "$@"\n` });
  chmodSync(join(folder.path, 'bin/estrade'), 0o755);
  for (const copy of ['before', 'site']) cpSync(join(ROOT, 'demo/site'), join(folder.path, copy), { recursive: true });
  const env = { PATH: `${join(folder.path, 'bin')}:${process.env.PATH!}`, XDG_STATE_HOME: STATE };
  expect(steps.length).toBeGreaterThan(6);
  for (const { commands, printed } of steps) {
    const run = spawnSync('sh', ['-ec', commands], { cwd: join(folder.path, 'site'), encoding: 'utf8', env });
    expect([commands, run.status, run.stderr]).toEqual([commands, 0, '']);
    expect(run.stdout).toMatch(patternOf(printed));
    if (commands.includes('estrade draft'))
      expect(folder.read('site/notices.html')).toContain(
        /^```\n(<[^]*?)\n```/m.exec(readFileSync(join(ROOT, 'docs/walkthrough.md'), 'utf8'))![1]!,
      );
  }
  expect(folder.files('site')).toEqual(folder.files('before'));
});
