/**
 * Runs the built program in this process again and again on copies of a folder, with an error of the system at one step
 * after the other: node faults.mjs <folder> <codes> <first> <args…>. Codes are joined by commas; the first step of each is one
 * later than that of the code before. Prints an array of JSON for each code: what each run and the commands after it (THEN, in
 * JSON; a survey) ended with, and the files as they were after each. Given a code that a full disk gives, every later step
 * fails as well; given SIGKILL, which comes alone, all do, so that the disk is left as a process leaves it that is killed
 * there, a write in the middle too.
 */
import fs, { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const [prepared, codes, first, ...args] = process.argv.slice(2);
const { loadProgram } = await import('../../dist/load.js');
const { main } = loadProgram('').program;

let code = '';

/** The step that fails, counted from 1; 0 for none, below zero while nothing is counted. */
let failing = -1;
let steps = 0;

/** True for what needs space on the disk. */
function fillsDisk(name, flags) {
  if (name === 'openSync') return typeof flags === 'number' && (flags & fs.constants.O_CREAT) !== 0;
  return !['rmSync', 'rmdirSync', 'unlinkSync', 'fchmodSync'].includes(name);
}

/** True for what changes nothing: a process that is killed may as well have come to it. */
function onlyReads(name, flags) {
  return (
    name === 'openSync' && typeof flags === 'number' && (flags & (fs.constants.O_WRONLY | fs.constants.O_RDWR)) === 0
  );
}

function isFailing(name, flags) {
  if (failing <= 0) return false;
  if (code === 'SIGKILL') return steps >= failing;
  return code === 'ENOSPC' ? steps >= failing && fillsDisk(name, flags) : steps === failing;
}

function step(name, path, flags) {
  if (code === 'SIGKILL' && onlyReads(name, flags)) return;
  steps++;
  if (isFailing(name, flags)) throw Object.assign(new Error(`${code}: ${name}`), { code, path: String(path) });
}

const real = { ...fs };
const names =
  'openSync mkdirSync renameSync linkSync rmSync rmdirSync fsyncSync unlinkSync fchmodSync writeFileSync writeSync';
for (const name of names.split(' '))
  fs[name] = (...given) => {
    if (failing >= 0) step(name, given[0], given[1]);
    return real[name](...given);
  };

if (codes === 'SIGKILL')
  fs.writeSync = (file, buffer, ...rest) => {
    if (failing >= 0) step('writeSync');
    if (failing >= 0 && ++steps === failing) {
      real.writeSync(file, buffer, 0, Math.floor(buffer.length / 2));
      throw Object.assign(new Error(code), { code });
    }
    return real.writeSync(file, buffer, ...rest);
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

/** The commands that come after each. */
const THEN = JSON.parse(process.env.THEN ?? '[["survey"]]');

const top = mkdtempSync(join(tmpdir(), 'estrade-faults-'));

async function runsFrom(from) {
  const results = [];
  for (let at = from; ; at += STRIDE) {
    failing = -1;
    const folder = join(top, 'site');
    cpSync(prepared, folder, { recursive: true });
    process.chdir(folder);
    const ran = await run(args, at);
    const isOver = steps < at;
    const files = filesIn(folder);
    const then = [];
    for (const given of THEN)
      then.push({ ...(await run(given, 0)), files: filesIn(folder), journal: fs.existsSync('.estrade') });
    results.push({ at, ...ran, files, then });
    process.chdir(top);
    rmSync(folder, { recursive: true });
    if (isOver) return results;
  }
}

const all = [];
for (const [i, each] of codes.split(',').entries()) {
  code = each;
  all.push(await runsFrom(Number(first) + i));
}
rmSync(top, { recursive: true });
console.log(JSON.stringify(all));
