/** `report`: one page to look at instead of reading, for colleagues too. */
import type { Command } from 'commander';
import { existsSync, readFileSync, statSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { instancesOn } from '../core/component/instances.js';
import { OFFSET_ATTRIBUTE, withOffsets } from '../core/component/trace.js';
import { Problem } from '../core/errors.js';
import { addTo } from '../core/groups.js';
import { isReport } from '../core/report-mark.js';
import { filledSheets } from '../operations/pictured.js';
import { type Surveyed, surveyProject } from '../operations/survey.js';
import type { ThresholdOptions } from '../operations/thresholds.js';
import type { Report } from '../report/model.js';
import { reportPage } from '../report/page.js';
import { progress } from '../terminal/progress.js';
import { count, dim, green, size, yellow } from '../terminal/style.js';
import { browserScript, findBrowser } from '../verify/browser.js';
import { versionOf } from '../verify/site-version.js';
import { drawParts, type PartPlace } from '../verify/thumbnails.js';
import { writeRegular } from '../workspace/disk.js';
import { encode } from '../workspace/encoding.js';
import { loadStylesheets } from '../workspace/stylesheets.js';
import { withThresholds } from './options.js';
import { print, printJson, tell, tellUnreadable } from './printing.js';
import { type Reported, reportOn } from './reported.js';

interface Options extends ThresholdOptions {
  out: string;
  force?: boolean;
  json?: boolean;
  /** false with `--no-pictures` */
  pictures: boolean;
}

/** Bytes that all pictures of a report come to at most: written as text they are a third more. */
const MOST_PICTURES = 900_000;

export function define(program: Command): void {
  withThresholds(program.command('report'))
    .description('write one page that shows the site, its findings and its components')
    .option('--out <file>', 'where it goes', 'report.html')
    .option('--no-pictures', 'show the markup of parts, where a browser would draw them')
    .option('--force', 'overwrite a file there that is no report')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade report --out report.html')
    .action(async (options: Options) => {
      const cwd = process.cwd();
      const file = resolve(cwd, options.out);
      refuseForeign(file, options);
      const surveyed = await surveyProject(cwd, [], options);
      const reported = await reportOn(surveyed);
      const report = options.pictures ? await pictured(reported, surveyed) : reported.report;
      const bytes = Buffer.from(reportPage(report, browserScript('report')));
      writeRegular(dirname(file), basename(file), bytes, '');
      tellReport(report, bytes.length, options);
      if (tellUnreadable(surveyed.unreadable)) process.exitCode = 2;
    });
}

function tellReport({ entries }: Report, bytes: number, { out, json, pictures }: Options): void {
  const drawn = entries.filter(({ picture }) => picture !== null).length;
  if (json === true) {
    printJson({ format: 1, path: out, parts: entries.length, pictures: drawn, bytes });
    return;
  }
  tell(`${green('Written:')} ${out}, ${count(entries.length, 'part')}, ${count(drawn, 'picture')}, ${size(bytes)}.`);
  if (pictures && drawn === 0 && entries.length > 0)
    print(dim('Parts are shown as markup: with Chromium installed they would be drawn.'));
}

/** @throws Problem where something that is no report is in the way, or no folder to write into is there */
function refuseForeign(file: string, { out, force }: Options): void {
  if (!existsSync(dirname(file)))
    throw new Problem(`--out ${out}: there is no folder ${dirname(out)}`, { hint: 'make it, or name another file' });
  if (!existsSync(file)) return;
  if (statSync(file).isDirectory()) throw new Problem(`--out ${out} is a folder`, { hint: 'name a file' });
  if (force !== true && !isReport(readFileSync(file, 'utf8')))
    throw new Problem(`${out} is there already, and is no report`, {
      exit: 1,
      hint: 'write another file with --out, or overwrite it with --force',
    });
}

/** The report with pictures of its parts; as it is where no browser is installed. */
async function pictured({ report, planned }: Reported, surveyed: Surveyed): Promise<Report> {
  const launch = browserIfThere();
  if (launch === null) return report;
  const { project, files } = surveyed;
  const { registry } = planned.plan;
  const places = new Map<string, PartPlace[]>();
  const drawn = new Map<string, Buffer>();
  planned.expanded.forEach((expanded, i) => {
    const page = planned.pages[i]!;
    const text = expanded.page.source;
    drawn.set(page.path, encode(withOffsets(expanded.page, OFFSET_ATTRIBUTE), files.get(page.path)!));
    for (const { component, roots } of instancesOn(page, { text, extents: expanded.extents }, registry))
      addTo(places, component, { path: page.path, roots });
  });
  const sheets = filledSheets(await loadStylesheets(project), project.registry);
  const drawing = progress('drawing', 'parts');
  const { drawn: pictures, unloaded } = await drawParts(
    launch,
    versionOf(project.root, new Map([...sheets, ...drawn])),
    report.entries.map(({ name }) => ({ name, places: places.get(name) ?? [] })),
    { width: Math.max(...project.config.pictures.widths), mostBytes: MOST_PICTURES, tick: drawing.tick },
  );
  drawing.end();
  for (const { message } of unloaded) process.stderr.write(`${yellow('not drawn')}  ${message}\n`);
  const entries = report.entries.map((entry) => {
    const picture = pictures.get(entry.name);
    return picture === undefined ? entry : { ...entry, picture: { ...picture, type: 'image/webp' } };
  });
  return { ...report, entries };
}

function browserIfThere() {
  try {
    return findBrowser('report');
  } catch (error) {
    if (error instanceof Problem) return null;
    throw error;
  }
}
