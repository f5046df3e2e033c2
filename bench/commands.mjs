// How long each command takes, as a whole process, against a floor that only starts, reads and parses the same folder, in
// the same run; and its peak memory.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { globSync } from 'tinyglobby';
import { page, STYLESHEET } from './pages.mjs';
import { median, path } from './timed.mjs';

/** Stands for the largest page of a site. */
const PAGE = '<page>';
/** Stands for the finding that saves most. */
const FINDING = '<finding>';
/** Stands for a component, and another name for it. */
const [NAME, OTHER] = ['<name>', 'bench-name'];

/**
 * What is measured: on the site as it is (raw) or lifted, how many times the floor it may take, and whether it writes, so
 * that each run gets a copy.
 */
export const COMMANDS = [
  { name: 'outline', args: ['outline', PAGE], on: 'raw', most: 3 },
  { name: 'survey', args: ['survey'], on: 'raw', most: 3 },
  { name: 'show', args: ['show', FINDING], on: 'raw', most: 3 },
  { name: 'lift', args: ['lift', '--recommended'], on: 'raw', most: 5, writes: true },
  { name: 'lift --styles move', args: ['lift', '--recommended', '--styles', 'move'], on: 'raw', most: 8, writes: true },
  { name: 'expand', args: ['expand', '--out', 'dist'], on: 'lifted', most: 3, writes: true },
  { name: 'check', args: ['check'], on: 'lifted', most: 3 },
  { name: 'roster', args: ['roster'], on: 'lifted', most: 3 },
  { name: 'styles', args: ['styles'], on: 'lifted', most: 4 },
  { name: 'emit tsx', args: ['emit', 'tsx', '--out', 'out'], on: 'lifted', most: 8, writes: true },
  { name: 'emit elements', args: ['emit', 'elements', '--out', 'out'], on: 'lifted', most: 8, writes: true },
  { name: 'rename', args: ['rename', NAME, OTHER], on: 'lifted', writes: true },
  { name: 'arrange', args: ['arrange', 'area'], on: 'lifted', writes: true },
];

const PROGRAM = path('../dist/bin.js');

/** Writes generated pages under one stylesheet; gives back the folder. */
export function generatedSite(count) {
  const folder = join(mkdtempSync(join(tmpdir(), 'estrade-bench-')), `${count} pages`);
  mkdirSync(folder);
  writeFileSync(join(folder, 'site.css'), STYLESHEET);
  for (let i = 0; i < count; i++) writeFileSync(join(folder, `p${i}.html`), page(i));
  return folder;
}

/** Runs it in a process of its own: `ms` from start to end, `mb` of peak memory. @throws Error with what it says when it fails */
function run(args, cwd, work) {
  const peak = join(work, 'peak');
  const tell = join(work, 'peak.cjs');
  writeFileSync(
    tell,
    `process.on('exit', () => require('node:fs').writeFileSync(${JSON.stringify(peak)}, String(process.resourceUsage().maxRSS)));`,
  );
  const before = performance.now();
  const ran = spawnSync(process.execPath, ['--require', tell, ...args], { cwd, encoding: 'utf8', maxBuffer: Infinity });
  const ms = performance.now() - before;
  if (ran.status !== 0)
    throw new Error(`${args.join(' ')} in ${cwd} ended with ${ran.status}\n${ran.stderr}${ran.stdout}`);
  return { ms, mb: Number(readFileSync(peak, 'utf8')) / 1024 };
}

/**
 * Measures commands on a site before anything is lifted.
 * @param floor path of the program that is the floor: it gets the folder
 * @param only names of commands, all when it is left out
 * @returns bytes of its pages, and by command the medians of the runs: ratio to the floor, ms, ms of the floor, MB
 */
export function measured(floor, folder, runs, only = COMMANDS.map(({ name }) => name)) {
  const work = mkdtempSync(join(tmpdir(), 'estrade-bench-'));
  const copyOf = (site) => {
    const copy = mkdtempSync(join(work, 'site-'));
    cpSync(site, copy, { recursive: true });
    return copy;
  };
  try {
    const made = { raw: copyOf(folder), lifted: copyOf(folder) };
    run([PROGRAM, 'lift', '--recommended'], made.lifted, work);
    const stands = standing(made);
    const figures = new Map();
    for (const { name, args, on, writes } of COMMANDS.filter((each) => only.includes(each.name))) {
      const given = args.map((arg) => stands[arg] ?? arg);
      const all = Array.from({ length: runs }, () => {
        const site = writes ? copyOf(made[on]) : made[on];
        const base = run([floor, site], path('..'), work);
        const { ms, mb } = run([PROGRAM, ...given], site, work);
        if (writes) rmSync(site, { recursive: true });
        return { ratio: ms / base.ms, ms, floor: base.ms, mb };
      });
      const of = (key) => median(all.map((each) => each[key]));
      figures.set(name, { ratio: of('ratio'), ms: of('ms'), floor: of('floor'), mb: of('mb') });
    }
    return { site: basename(folder), bytes: bytesOf(made.raw), figures };
  } finally {
    rmSync(work, { recursive: true });
  }
}

function pagesOf(folder) {
  return globSync(['**/*.html'], { cwd: folder }).map((name) => ({ name, size: statSync(join(folder, name)).size }));
}

function bytesOf(folder) {
  return pagesOf(folder).reduce((sum, { size }) => sum + size, 0);
}

function standing({ raw, lifted }) {
  const largest = pagesOf(raw).reduce((most, each) => (each.size > most.size ? each : most));
  const ask = (args, cwd) =>
    JSON.parse(
      spawnSync(process.execPath, [PROGRAM, ...args, '--json'], { cwd, encoding: 'utf8', maxBuffer: Infinity }).stdout,
    );
  return {
    [PAGE]: largest.name,
    [FINDING]: ask(['survey'], raw).findings[0].name,
    [NAME]: ask(['roster'], lifted).components[0].name,
  };
}

/** One line a command, with what it may take at most. */
export function tableOf({ site, bytes, figures }) {
  const mostMb = Math.round((15 * bytes) / 1e6 + 120);
  const rows = [...figures].map(([name, { ratio, ms, floor, mb }]) => {
    const { most } = COMMANDS.find((each) => each.name === name);
    return [
      name,
      {
        ratio: ratio.toFixed(2),
        most: most ?? '',
        ms: Math.round(ms),
        floor: Math.round(floor),
        MB: Math.round(mb),
        'most MB': mostMb,
      },
    ];
  });
  console.log(`\n${site}: ${Math.round(bytes / 1000)} kB of pages`);
  console.table(Object.fromEntries(rows));
}
