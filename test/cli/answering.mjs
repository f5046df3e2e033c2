// Runs the built program again and again in one process, as it is told through one named pipe, and answers through another:
// lines of JSON, { args, cwd } and { status, out, err }. A process of its own for each run would start anew each time. It
// serves one test file after the other, and ends with the process that started it.
import { createReadStream, openSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { setInterval } from 'node:timers';
import { pathToFileURL } from 'node:url';

const [loader, folder] = process.argv.slice(2);
const { loadProgram } = await import(pathToFileURL(loader));
const { program } = loadProgram('');
for (const stream of [process.stdout, process.stderr]) stream.setMaxListeners(0);

/** Takes what is written to a stream. */
function taken(stream) {
  const parts = [];
  stream.write = (chunk, encoding, done) => {
    parts.push(
      typeof chunk === 'string' ? Buffer.from(chunk, typeof encoding === 'string' ? encoding : 'utf8') : chunk,
    );
    const called = typeof encoding === 'function' ? encoding : done;
    if (called !== undefined) process.nextTick(called);
    return true;
  };
  return () => Buffer.concat(parts.splice(0)).toString('utf8');
}

const [out, err] = [taken(process.stdout), taken(process.stderr)];
// open both ways, so that neither ends where a test file does
const lines = createInterface({ input: createReadStream('', { fd: openSync(join(folder, 'questions'), 'r+') }) });
const answer = openSync(join(folder, 'answers'), 'r+');
const parent = process.ppid;
setInterval(() => {
  if (process.ppid === parent) return;
  rmSync(folder, { recursive: true, force: true });
  // it would wait for the pipe that it reads
  process.kill(process.pid, 'SIGKILL');
}, 1000);
for await (const line of lines) {
  const { args, cwd } = JSON.parse(line);
  process.chdir(cwd);
  process.exitCode = undefined;
  const status = await program.main(args);
  let text = Buffer.from(`${JSON.stringify({ status, out: out(), err: err() })}\n`);
  while (text.length > 0) text = text.subarray(writeSync(answer, text));
}
