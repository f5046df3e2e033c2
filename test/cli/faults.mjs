/**
 * Runs the built program in this process again and again on copies of a folder, with an error of the system at one step
 * after the other: node faults.mjs <folder> <code> <first> <args…>. Prints an array of JSON: what each run and the survey
 * after it ended with, and the files as they were after each. Given a code that a full disk gives, every later step fails as well.
 */
import fs, { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const [prepared, code, first, ...args] = process.argv.slice(2);
const { loadProgram } = await import('../../dist/load.js');
const { main } = loadProgram('').program;

/** The step that fails, counted from 1; 0 for none, below zero while nothing is counted. */
let failing = -1;
let steps = 0;

/** True for what needs space on the disk. */
function fillsDisk(name, flags) {
  if (name === 'openSync') return typeof flags === 'number' && (flags & fs.constants.O_CREAT) !== 0;
  return !['rmSync', 'rmdirSync', 'unlinkSync', 'fchmodSync'].includes(name);
}

function step(name, path, flags) {
  steps++;
  const isFailing = code === 'ENOSPC' ? steps >= failing && fillsDisk(name, flags) : steps === failing;
  if (failing > 0 && isFailing) throw Object.assign(new Error(`${code}: ${name}`), { code, path: String(path) });
}

const real = { ...fs };
const names = 'openSync mkdirSync renameSync linkSync rmSync rmdirSync fsyncSync unlinkSync fchmodSync writeSync';
for (const name of names.split(' '))
  fs[name] = (...given) => {
    if (failing >= 0) step(name, given[0], given[1]);
    return real[name](...given);
  };

// each run is a process of its own, which is gone when it is over
let pid = 5_000_000;
Object.defineProperty(process, 'pid', { get: () => pid });
const { kill } = process;
process.kill = (other, signal) => (other === pid && signal === 0 ? true : kill.call(process, other, signal));
process.stdout.setMaxListeners(0);

async function run(given, from) {
  let told = '';
  const streams = [process.stdout, process.stderr].map((stream) => [stream, stream.write]);
  for (const [stream] of streams)
    stream.write = (text) => {
      if (stream === process.stderr) told += text;
      return true;
    };
  pid++;
  [steps, failing] = [0, from];
  process.exitCode = undefined;
  const status = await main(given);
  failing = -1;
  process.exitCode = 0;
  for (const [stream, write] of streams) stream.write = write;
  return { status, err: told };
}

/** Files by path, as latin1 so that every byte shows, without those of the journal. */
function filesIn(folder) {
  const all = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
  const paths = all.map((entry) => join(entry.parentPath, entry.name).slice(folder.length + 1));
  const own = paths.filter((path) => !path.startsWith('.estrade/')).sort();
  return Object.fromEntries(own.map((path) => [path, readFileSync(join(folder, path), 'latin1')]));
}

/** So many steps lie between those that fail. */
const STRIDE = Number(process.env.STRIDE);

const top = mkdtempSync(join(tmpdir(), 'estrade-faults-'));
const results = [];
for (let at = Number(first); ; at += STRIDE) {
  failing = -1;
  const folder = join(top, 'site');
  cpSync(prepared, folder, { recursive: true });
  process.chdir(folder);
  const ran = await run(args, at);
  const isOver = steps < at;
  const files = filesIn(folder);
  const next = await run(['survey'], 0);
  results.push({ at, ...ran, files, next, recovered: filesIn(folder) });
  process.chdir(top);
  rmSync(folder, { recursive: true });
  if (isOver) break;
}
rmSync(top, { recursive: true });
console.log(JSON.stringify(results));
