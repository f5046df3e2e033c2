// `npm run bench [-- <floor.mjs> <folder>...]`: real sites first, when given, against a floor that only parses; then speed, memory and start-up, then the promise over 10,000 random sites. Each figure comes from a
// process of its own. Environment: CASES for fewer or more random sites, PAGES for fewer or more generated pages.
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const path = (name) => fileURLToPath(new URL(name, import.meta.url));
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** The run of median length out of so many. */
function survey(pages, times) {
  const runs = Array.from({ length: times }, () => {
    const run = spawnSync(process.execPath, [path('survey.mjs'), String(pages)], { encoding: 'utf8' });
    if (run.status !== 0) throw new Error(run.stderr);
    return JSON.parse(run.stdout);
  });
  return runs.sort((a, b) => a.survey - b.survey)[Math.floor(times / 2)];
}

const sites = process.argv.slice(2);
if (sites.length > 1) {
  console.log(
    'estrade survey against starting, reading and parsing alone, real sites (median of five, ms; at most 3 times)',
  );
  console.log(spawnSync(process.execPath, [path('sites.mjs'), ...sites], { encoding: 'utf8' }).stdout);
}

console.log(
  'survey against parsing alone, generated pages of about 300 elements (a process each, the median one; ms, MB of source and of peak memory)',
);
const most = Number(process.env.PAGES ?? 10000);
const [small, large, huge] = [survey(100, 5), survey(1000, 3), survey(most, 1)];
console.table([small, large, huge]);
console.log(`survey / parse at 1,000 pages: ${large.ratio} (at most 2)`);
const exponent = Math.log(huge.survey / small.survey) / Math.log(most / 100);
console.log(`from 100 to ${most} pages it grows with an exponent of ${exponent.toFixed(2)} (at most 1.05)`);
for (const each of [large, huge])
  console.log(`peak memory at ${each.pages} pages: ${each.peak} MB (at most ${Math.round(15 * each.source + 100)})`);

console.log('\nstyles over generated pages and rules (ms); of a folder of yours: node bench/styles.mjs <folder>');
console.log(spawnSync(process.execPath, [path('styles.mjs')], { encoding: 'utf8' }).stdout);

function start(args) {
  const times = [];
  for (let i = 0; i < 25; i++) {
    const before = performance.now();
    spawnSync(process.execPath, args);
    times.push(performance.now() - before);
  }
  return median(times);
}

const bare = start(['-e', '0']);
const version = start([path('../dist/bin.js'), '--version']);
console.log(
  `\nestrade --version: ${version.toFixed(0)} ms, node -e 0: ${bare.toFixed(0)} ms, ratio ${(version / bare).toFixed(2)} (at most 1.5)`,
);

const cases = process.env.CASES ?? '10000';
console.log(`\nthe promise over ${cases} random sites`);
const jest = [
  '--experimental-vm-modules',
  '--disable-warning=ExperimentalWarning',
  path('../node_modules/jest/bin/jest.js'),
];
const promise = spawnSync(process.execPath, [...jest, '--silent=false', 'promise'], {
  cwd: path('..'),
  stdio: 'inherit',
  env: { ...process.env, ESTRADE_CASES: cases },
});
process.exitCode = promise.status ?? 1;
