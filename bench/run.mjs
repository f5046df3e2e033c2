// `npm run bench -- <floor.mjs> <folder>...`: every command on real sites, as ratios to a floor that only parses; then on
// generated pages, and how time grows with them; then how long the program takes to start. Each figure comes from a process
// of its own. Environment: RUNS of each command (3), PAGES that are generated at most (10,000), ONLY these commands.
import { rmSync, statSync } from 'node:fs';
import { cpus } from 'node:os';
import { dirname } from 'node:path';
import { COMMANDS, generatedSite, measured, tableOf } from './commands.mjs';
import { median, path, timed } from './timed.mjs';

const [floor, ...paths] = process.argv.slice(2);
// what else stands beside the sites is none
const sites = paths.filter((each) => statSync(each).isDirectory());
if (floor === undefined) throw new Error('give the path of a program that only starts, reads and parses a folder');
const runs = Number(process.env.RUNS ?? 3);
const most = Number(process.env.PAGES ?? 10_000);
const only = process.env.ONLY?.split(',');

console.log(
  `Node.js ${process.version}, ${cpus().length} × ${cpus()[0].model}, ${new Date().toISOString().slice(0, 10)}`,
);
for (const site of sites) tableOf(measured(floor, site, runs, only));

const generated = [100, 1000, 10_000]
  .filter((count) => count <= most)
  .map((count) => {
    const folder = generatedSite(count);
    const figures = measured(floor, folder, count > 1000 ? 1 : runs, only);
    tableOf(figures);
    rmSync(dirname(folder), { recursive: true });
    return { count, figures: figures.figures };
  });

if (generated.length > 1) {
  const [first, last] = [generated[0], generated.at(-1)];
  console.log(`\nfrom ${first.count} to ${last.count} pages time grows with an exponent of (at most 1.05)`);
  const exponent = (name, key) =>
    Math.log(last.figures.get(name)[key] / first.figures.get(name)[key]) / Math.log(last.count / first.count);
  console.table(
    Object.fromEntries(
      COMMANDS.flatMap(({ name }) =>
        last.figures.has(name)
          ? [[name, { exponent: exponent(name, 'ms').toFixed(2), floor: exponent(name, 'floor').toFixed(2) }]]
          : [],
      ),
    ),
  );
}

const started = (args) => median(Array.from({ length: 25 }, () => timed(args)));
const [bare, version] = [started(['-e', '0']), started([path('../dist/bin.js'), '--version'])];
console.log(
  `\nestrade --version: ${version.toFixed(0)} ms, node -e 0: ${bare.toFixed(0)} ms, ratio ${(version / bare).toFixed(2)} (at most 1.3)`,
);
