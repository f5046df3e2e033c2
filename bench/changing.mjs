// How long `roster`, `rename` and `arrange` take on real sites once they are lifted, as ratios to a floor that only starts,
// reads and parses the same folder, in the same run. `node bench/changing.mjs <floor.mjs> <folder>...`; prints one line of
// JSON a site, medians of five runs.
import { cpSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { median, path, timed } from './timed.mjs';

const [floor, ...folders] = process.argv.slice(2);

for (const folder of folders) {
  const copy = mkdtempSync(join(tmpdir(), 'estrade-bench-'));
  cpSync(folder, copy, { recursive: true });
  const estrade = (...args) => timed([path('../dist/bin.js'), ...args], copy);
  estrade('lift', '--recommended', '--styles', 'move');
  const name = readdirSync(join(copy, 'components'))[0].replace(/\.html$/, '');
  const runs = Array.from({ length: 5 }, (_, i) => {
    const [from, to] = i % 2 === 0 ? [name, 'bench-name'] : ['bench-name', name];
    const base = timed([floor, copy], path('..'));
    return {
      roster: estrade('roster') / base,
      rename: estrade('rename', from, to) / base,
      arrange: estrade('arrange', i % 2 === 0 ? 'area' : 'own') / base,
      floor: base,
    };
  });
  rmSync(copy, { recursive: true });
  const ratio = (of) => Number(median(runs.map((run) => run[of])).toFixed(2));
  const [roster, rename, arrange] = ['roster', 'rename', 'arrange'].map(ratio);
  console.log(
    JSON.stringify({
      site: basename(folder),
      floor: Math.round(median(runs.map((run) => run.floor))),
      roster,
      rename,
      arrange,
    }),
  );
}
