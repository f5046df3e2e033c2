// `node scripts/compile.mjs`: runs the main commands of the bundled program on a copy of the demo, each of which keeps what V8
// has compiled by its end for the next run.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const COMMANDS = [
  'outline index.html',
  'survey',
  'show notice-section',
  'lift --recommended --styles move',
  'check',
  'expand --out dist',
  'roster',
  'styles',
  'emit tsx --out tsx',
  'emit elements --out elements',
];
const path = (name) => fileURLToPath(new URL(name, import.meta.url));

const folder = mkdtempSync(join(tmpdir(), 'estrade-build-'));
cpSync(path('../demo/site'), folder, { recursive: true });
for (const command of COMMANDS) {
  const run = spawnSync(process.execPath, [path('../dist/bin.js'), ...command.split(' ')], {
    cwd: folder,
    // the key of the user who builds has nothing to do with it
    env: { ...process.env, XDG_STATE_HOME: join(folder, '.state') },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (run.status !== 0) throw new Error(`estrade ${command} ended with ${run.status} on the demo`);
}
rmSync(folder, { recursive: true });
