// Preloaded into the program: kills it at the n-th step that changes the file system (KILL_AT, counted from 1), or
// changes a file behind its back once it has been read (CHANGE). Writes the number of steps to STEPS at the end.
const fs = require('node:fs');
const { syncBuiltinESMExports } = require('node:module');

const killAt = Number(process.env.KILL_AT ?? 0);
const real = { ...fs };
let steps = 0;

function step(half) {
  steps++;
  if (steps === killAt) {
    half?.();
    process.kill(process.pid, 'SIGKILL');
  }
}

// opening something to read it changes nothing
fs.openSync = (path, flags, ...rest) => {
  if (typeof flags !== 'number' || flags & (fs.constants.O_WRONLY | fs.constants.O_RDWR)) step();
  return real.openSync(path, flags, ...rest);
};
for (const name of [
  'mkdirSync',
  'renameSync',
  'linkSync',
  'rmSync',
  'rmdirSync',
  'fsyncSync',
  'unlinkSync',
  'fchmodSync',
  'writeFileSync',
])
  fs[name] = (...args) => {
    step();
    return real[name](...args);
  };
if (process.env.CHANGE)
  fs.readFileSync = (path, ...rest) => {
    const read = real.readFileSync(path, ...rest);
    if (path === process.env.CHANGE) {
      fs.readFileSync = real.readFileSync;
      syncBuiltinESMExports();
      real.appendFileSync(path, '<!-- someone else -->');
    }
    return read;
  };
// a write may be cut short in the middle too
fs.writeSync = (file, buffer, ...rest) => {
  step();
  step(() => real.writeSync(file, buffer, 0, Math.floor(buffer.length / 2)));
  return real.writeSync(file, buffer, ...rest);
};
syncBuiltinESMExports();
process.on('exit', () => {
  if (process.env.STEPS) real.writeFileSync(process.env.STEPS, String(steps));
});
