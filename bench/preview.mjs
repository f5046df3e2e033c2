// `node bench/preview.mjs <folder>…`: how long it takes from an edit until a page that is open shows it, in Chromium. Each
// folder is copied, lifted and previewed; medians and the slowest of twenty edits of a page, a component and a stylesheet.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { globSync } from 'tinyglobby';
import { findBrowser } from '../dist/verify/browser.js';
import { median, path } from './timed.mjs';

const BIN = path('../dist/bin.js');
const EDITS = 20;

/** Starts the preview of a folder. @returns its address and what ends it */
async function served(cwd) {
  const child = spawn(process.execPath, [BIN, 'preview'], { cwd, stdio: ['ignore', 'pipe', 'inherit'] });
  for await (const part of child.stdout) {
    const url = /Serving (\S+)/.exec(String(part))?.[1];
    if (url !== undefined) return { url, stop: () => child.kill() };
  }
  throw new Error('the preview ended');
}

/** Milliseconds from an edit until the page passes. */
async function seen(page, edit, expression) {
  const start = performance.now();
  edit();
  // a page that is being loaded answers nothing
  while (!(await page.evaluate(expression).catch(() => false))) await wait(5);
  return performance.now() - start;
}

/** What is edited, each time with another number, and how that shows. */
function editsOf(folder, name) {
  const file = join(folder, name);
  const text = readFileSync(file, 'utf8');
  const tag = /<([a-z][\w]*-[\w-]*)[ >]/.exec(text)?.[1];
  const component = globSync([`components/**/${tag}.html`], { cwd: folder })[0];
  const sheet = globSync(['**/*.css'], { cwd: folder, ignore: ['**/*.min.css'] }).find((each) =>
    text.includes(each.split('/').pop()),
  );
  const marked = (source, at, n) => source.replace(at, (all) => `${all} data-seen="${n}"`);
  const attribute = (n) => `document.querySelector('[data-seen="${n}"]') !== null`;
  const edits = [['page', file, (source, n) => marked(source, /<body/i, n), attribute]];
  if (component !== undefined)
    edits.push([
      'component',
      join(folder, component),
      (source, n) => marked(source, /<(?!template|meta|!|\/|style)[a-z][\w-]*/, n),
      attribute,
    ]);
  if (sheet !== undefined)
    edits.push([
      'stylesheet',
      join(folder, sheet),
      (source, n) => `${source}\n:root { --seen: ${n} }\n`,
      (n) => `getComputedStyle(document.documentElement).getPropertyValue('--seen').trim() === '${n}'`,
    ]);
  return edits;
}

const browser = await findBrowser('this bench')();
for (const site of process.argv.slice(2)) {
  const folder = mkdtempSync(join(tmpdir(), 'estrade-bench-'));
  cpSync(site, folder, { recursive: true });
  spawnSync(process.execPath, [BIN, 'lift', '--recommended', '--styles', 'move'], { cwd: folder });
  const pages = globSync(['**/*.html'], { cwd: folder, ignore: ['components/**'] });
  const largest = pages.sort((a, b) => readFileSync(join(folder, b)).length - readFileSync(join(folder, a)).length)[0];
  const { url, stop } = await served(folder);
  const page = await browser.newPage();
  await page.goto(url + largest);
  for (const [what, file, edit, shows] of editsOf(folder, largest)) {
    const before = readFileSync(file, 'utf8');
    const times = [];
    for (let i = 0; i < EDITS; i++) {
      const n = `${what}-${i}`;
      times.push(await seen(page, () => writeFileSync(file, edit(before, n)), shows(n)));
      await wait(200);
    }
    console.log(
      `${site.split('/').pop()} ${largest} ${what}: ${Math.round(median(times))} ms, slowest ${Math.round(Math.max(...times))} ms`,
    );
  }
  await page.close();
  stop();
  rmSync(folder, { recursive: true });
}
await browser.close();
