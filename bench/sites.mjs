// How long `estrade survey` takes on real sites, as a ratio to a floor that only starts, reads and parses, in the same run.
// `node bench/sites.mjs <floor.mjs> <folder>...`; prints one line of JSON a site, the median of five runs.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const path = (name) => fileURLToPath(new URL(name, import.meta.url));
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const [floor, ...folders] = process.argv.slice(2);

function timed(args, cwd) {
  const before = performance.now();
  const run = spawnSync(process.execPath, args, { cwd, encoding: 'utf8', maxBuffer: Infinity });
  if (run.status !== 0) throw new Error(run.stderr);
  return performance.now() - before;
}

for (const folder of folders) {
  const copy = mkdtempSync(join(tmpdir(), 'estrade-bench-'));
  cpSync(folder, copy, { recursive: true });
  const runs = Array.from({ length: 5 }, () => {
    const survey = timed([path('../dist/bin.js'), 'survey'], copy);
    return { survey, floor: timed([floor, copy], path('..')) };
  });
  rmSync(copy, { recursive: true });
  console.log(
    JSON.stringify({
      site: basename(folder),
      survey: Math.round(median(runs.map(({ survey }) => survey))),
      floor: Math.round(median(runs.map((run) => run.floor))),
      ratio: Number(median(runs.map((run) => run.survey / run.floor)).toFixed(2)),
    }),
  );
}
