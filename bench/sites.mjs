// How long `estrade survey` takes on real sites, as a ratio to a floor that only starts, reads and parses, in the same run.
// `node bench/sites.mjs <floor.mjs> <folder>...`; prints one line of JSON a site, the median of five runs.
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { median, path, timed } from './timed.mjs';

const [floor, ...folders] = process.argv.slice(2);

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
