// Runs the bundled program on a copy of the demo, and keeps what V8 has compiled by then.
import { cpSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { CODE_CACHE, loadProgram } from '../dist/load.js';

const folder = mkdtempSync(join(tmpdir(), 'estrade-build-'));
try {
  cpSync(fileURLToPath(new URL('../demo/site', import.meta.url)), folder, { recursive: true });
  process.chdir(folder);
  rmSync(CODE_CACHE, { force: true });
  const { program, script } = loadProgram();
  for (const command of ['survey', 'lift --recommended', 'check', 'expand --out dist']) {
    const status = await program.main(command.split(' '));
    if (status !== 0) throw new Error(`estrade ${command} ended with ${status} on the demo`);
  }
  writeFileSync(CODE_CACHE, script.createCachedData());
} finally {
  process.chdir(tmpdir());
  rmSync(folder, { recursive: true });
}
