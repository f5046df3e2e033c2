// `node scripts/compile.mjs`: runs the main commands of the bundled program on a few pages of the demo, each of which keeps what
// V8 has compiled by its end for the next run.
import { execFile } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';

/** Commands one after the other; those of one group have nothing to do with each other, and run at once. */
const GROUPS = [
  ['outline index.html', 'survey', 'show notice-section'],
  ['lift --recommended --styles move'],
  ['emit elements --out elements', 'emit tsx --out tsx', 'check', 'styles', 'expand --out dist', 'roster'],
];
const PAGES = ['index.html', 'notices.html', 'sailings.html', 'boats/*.html'];
const path = (name) => fileURLToPath(new URL(name, import.meta.url));

const folder = mkdtempSync(join(tmpdir(), 'estrade-build-'));
cpSync(path('../demo/site'), folder, { recursive: true });
writeFileSync(join(folder, 'estrade.config.json'), JSON.stringify({ pages: PAGES }));
const run = promisify(execFile);
// the key of the user who builds has nothing to do with it
const options = { cwd: folder, env: { ...process.env, XDG_STATE_HOME: join(folder, '.state') } };
for (const group of GROUPS)
  await Promise.all(
    group.map((command) => run(process.execPath, [path('../dist/bin.js'), ...command.split(' ')], options)),
  );
rmSync(folder, { recursive: true });
