// `node scripts/compile.mjs`: runs the main commands of the bundled program on a copy of the demo, each in a process of its
// own, and keeps what V8 has compiled by the end. With a command as arguments: runs that one here.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { codeCacheOf, loadProgram } from '../dist/load.js';

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
const [command, ...options] = process.argv.slice(2);

if (command === undefined) {
  const folder = mkdtempSync(join(tmpdir(), 'estrade-build-'));
  cpSync(fileURLToPath(new URL('../demo/site', import.meta.url)), folder, { recursive: true });
  for (const each of COMMANDS) {
    const run = spawnSync(process.execPath, [fileURLToPath(import.meta.url), ...each.split(' ')], {
      cwd: folder,
      // the key of the user who builds has nothing to do with it
      env: { ...process.env, XDG_STATE_HOME: join(folder, '.state') },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    if (run.status !== 0) throw new Error(`estrade ${each} ended with ${run.status} on the demo`);
  }
  rmSync(folder, { recursive: true });
} else {
  rmSync(codeCacheOf(command), { force: true });
  const { program, script } = loadProgram(command);
  process.exitCode = await program.main([command, ...options]);
  writeFileSync(codeCacheOf(command), script.createCachedData());
}
