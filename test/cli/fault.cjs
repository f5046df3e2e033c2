// Preloaded into the program: kills it at the n-th step that changes the file system (KILL_AT, counted from 1), or
// changes a file behind its back when it makes its first folder (CHANGE). Writes the number of steps to STEPS at the end.
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

for (const name of [
  'openSync',
  'mkdirSync',
  'renameSync',
  'linkSync',
  'rmSync',
  'rmdirSync',
  'fsyncSync',
  'closeSync',
  'writeFileSync',
])
  fs[name] = (...args) => {
    step();
    return real[name](...args);
  };
if (process.env.CHANGE)
  fs.mkdirSync = (...args) => {
    fs.mkdirSync = real.mkdirSync;
    syncBuiltinESMExports();
    real.appendFileSync(process.env.CHANGE, '<!-- someone else -->');
    return real.mkdirSync(...args);
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
