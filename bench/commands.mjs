// How long each command takes, as a whole process, against a floor that only starts, reads and parses the same folder, in
// the same run; and its peak memory. `node bench/commands.mjs <floor.mjs> <folder>... [--runs 3] [--only check,styles]`:
// sites before anything is lifted. A line of JSON a site; `npm run bench` makes a table of it.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { parseArgs } from 'node:util';
import { globSync } from 'tinyglobby';
import { median, path } from './timed.mjs';

/** Stands for the largest page of a site. */
const PAGE = '<page>';
/** Stands for the finding that saves most. */
const FINDING = '<finding>';

/** What a command is run on: the site as it is, lifted, or lifted with its styles moved; anew for each run of a lift. */
const COMMANDS = [
  { name: 'outline', args: ['outline', PAGE], on: 'raw' },
  { name: 'survey', on: 'raw' },
  { name: 'show', args: ['show', FINDING], on: 'raw' },
  { name: 'lift', args: ['lift', '--recommended'], on: 'raw', writes: true },
  { name: 'lift --styles move', args: ['lift', '--recommended', '--styles', 'move'], on: 'raw', writes: true },
  { name: 'expand', args: ['expand', '--out', 'dist'], on: 'lifted', writes: true },
  { name: 'check', on: 'lifted' },
  { name: 'roster', on: 'lifted' },
  { name: 'styles', on: 'lifted' },
  { name: 'emit tsx', args: ['emit', 'tsx', '--out', 'out'], on: 'lifted', writes: true },
  { name: 'emit elements', args: ['emit', 'elements', '--out', 'out'], on: 'lifted', writes: true },
];

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { runs: { type: 'string', default: '3' }, only: { type: 'string' } },
});
const [floor, ...folders] = positionals;
const chosen = values.only?.split(',');
const work = mkdtempSync(join(tmpdir(), 'estrade-bench-'));
const peak = join(work, 'peak');
const told = join(work, 'peak.cjs');
writeFileSync(
  told,
  `process.on('exit', () => require('node:fs').writeFileSync(${JSON.stringify(peak)}, String(process.resourceUsage().maxRSS)));`,
);

/** Runs it: `ms` from start to end, `mb` of peak memory. */
function run(args, cwd) {
  const before = performance.now();
  const ran = spawnSync(process.execPath, ['--require', told, ...args], { cwd, encoding: 'utf8', maxBuffer: Infinity });
  const ms = performance.now() - before;
  if (ran.status !== 0) throw new Error(`${args.join(' ')} in ${cwd}: ${ran.status}\n${ran.stderr}${ran.stdout}`);
  return { ms, mb: Number(readFileSync(peak, 'utf8')) / 1024 };
}

function copyOf(folder) {
  const copy = mkdtempSync(join(work, 'site-'));
  cpSync(folder, copy, { recursive: true });
  return copy;
}

for (const folder of folders) {
  const made = { raw: copyOf(folder), lifted: copyOf(folder) };
  const program = path('../dist/bin.js');
  run([program, 'lift', '--recommended'], made.lifted);
  const pages = globSync(['**/*.html'], { cwd: made.raw }).map((page) => ({
    page,
    size: statSync(join(made.raw, page)).size,
  }));
  const bytes = pages.reduce((sum, { size }) => sum + size, 0);
  const { page: largest } = pages.reduce((most, each) => (each.size > most.size ? each : most));
  const surveyed = JSON.parse(
    spawnSync(process.execPath, [program, 'survey', '--json'], { cwd: made.raw, encoding: 'utf8', maxBuffer: Infinity })
      .stdout,
  );
  const stands = { [PAGE]: largest, [FINDING]: surveyed.findings[0].name };
  const figures = {};
  for (const { name, args = [name], on, writes } of COMMANDS) {
    if (chosen !== undefined && !chosen.includes(name)) continue;
    const runs = Array.from({ length: Number(values.runs) }, () => {
      const site = writes ? copyOf(made[on]) : made[on];
      const base = run([floor, site], path('..'));
      const ran = run([program, ...args.map((arg) => stands[arg] ?? arg)], site);
      if (writes) rmSync(site, { recursive: true });
      return { ...ran, floor: base.ms, ratio: ran.ms / base.ms };
    });
    const of = (key) => median(runs.map((each) => each[key]));
    figures[name] = {
      ratio: Number(of('ratio').toFixed(2)),
      ms: Math.round(of('ms')),
      floor: Math.round(of('floor')),
      mb: Math.round(of('mb')),
    };
  }
  console.log(JSON.stringify({ site: basename(folder), bytes, mostMb: Math.round((15 * bytes) / 1e6 + 120), figures }));
  for (const site of Object.values(made)) rmSync(site, { recursive: true });
}
rmSync(work, { recursive: true });
