// Measures how long it takes until an edit is seen in a browser: from the end of the write to the frame that has it.
// node bench/preview.mjs [folder of a site …]; without one, the demo. Sites are copied and lifted first.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright-core';

const BIN = fileURLToPath(new URL('../dist/bin.js', import.meta.url));
const RUNS = 20;
/** Milliseconds after which an edit counts as never seen. */
const PATIENCE = 10_000;

/** Starts the preview; its address comes with its first line. */
function serve(cwd) {
  const child = spawn(process.execPath, [BIN, 'preview'], { cwd, stdio: ['ignore', 'pipe', 'ignore'] });
  return new Promise((done, fail) => {
    let told = '';
    child.stdout.on('data', (part) => {
      told += part;
      const url = /Serving (\S+)\//.exec(told)?.[1];
      if (url !== undefined) done({ url, child });
    });
    child.once('exit', () => fail(new Error(`the preview ended: ${told}`)));
  });
}

/** The page with the most components, and what of it is edited. */
function subjects(root) {
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((path) => !path.startsWith('.estrade'));
  const read = (path) => readFileSync(join(root, path), 'utf8');
  const components = files.filter((path) => path.startsWith('components/') && path.endsWith('.html'));
  const names = components.map((path) => basename(path, '.html'));
  const used = (text) => names.filter((name) => text.includes(`<${name}`) || text.includes(`use="${name}"`));
  const pages = files.filter((path) => path.endsWith('.html') && !components.includes(path));
  const [page] = pages.sort((a, b) => used(read(b)).length - used(read(a)).length);
  const own = used(read(page)).map((name) => components[names.indexOf(name)]);
  const component = own.find((path) => !/head/.test(path)) ?? own[0];
  const styled = own.find((path) => read(path).includes('</style>')) ?? null;
  return { page, component, styled };
}

async function measure(site) {
  const root = join(mkdtempSync(join(tmpdir(), 'estrade-bench-')), 'site');
  cpSync(site, root, { recursive: true });
  const lifted = spawnSync(process.execPath, [BIN, 'lift', '--recommended', '--styles', 'move'], { cwd: root });
  if (lifted.status !== 0) throw new Error(String(lifted.stderr));
  const { page, component, styled } = subjects(root);
  const { url, child } = await serve(root);
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const shown = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  // sites that ask elsewhere wait for nobody
  await shown.route(/./, (route) => (route.request().url().startsWith(url) ? route.continue() : route.abort()));
  await shown.goto(`${url}/${page}`, { waitUntil: 'load' });
  await wait(1000);
  const href = await shown.evaluate(
    'Array.from(document.styleSheets, (sheet) => sheet.href).findLast((each) => each?.startsWith(location.origin))',
  );
  const sheet = href === undefined ? null : decodeURIComponent(new URL(href).pathname.slice(1));

  const seen = async (script) => {
    for (const end = Date.now() + PATIENCE; Date.now() < end;) {
      const found = await shown.evaluate(script).catch(() => false);
      if (found === true) return;
      await wait(5);
    }
    throw new Error(`${site}: an edit was not seen: ${script}`);
  };
  const inMarkup = (mark) => `document.documentElement.outerHTML.includes('${mark}')`;
  const inStyles = (name, mark) =>
    `getComputedStyle(document.documentElement).getPropertyValue('${name}').includes('${mark}')`;
  const kinds = [
    ['page', page, (text, mark) => text.replace(/(?=<\/body>)/i, `<!--${mark}-->`), inMarkup],
    [
      'component',
      component,
      (text, mark) => text.replace(/(?=<\/template>(?![\s\S]*<\/template>))/, `<!--${mark}-->`),
      inMarkup,
    ],
    ['stylesheet', sheet, (text, mark) => `${text}\nhtml { --seen: ${mark} }\n`, (mark) => inStyles('--seen', mark)],
    [
      'moved styles',
      styled,
      (text, mark) => text.replace('</style>', `html { --moved: ${mark} }</style>`),
      (mark) => inStyles('--moved', mark),
    ],
  ].filter(([, path]) => path !== null);
  const rows = [];
  for (const [kind, path, edit, looks] of kinds) {
    const before = readFileSync(join(root, path), 'utf8');
    const times = [];
    for (let run = 0; run < RUNS; run++) {
      const mark = `${kind.slice(0, 1)}edit${run}x`;
      const text = edit(before, mark);
      writeFileSync(join(root, path), text);
      const start = performance.now();
      await seen(looks(mark));
      times.push(performance.now() - start);
      await wait(150);
    }
    writeFileSync(join(root, path), before);
    await wait(500);
    times.sort((a, b) => a - b);
    rows.push({
      edited: kind,
      median: Math.round((times[RUNS / 2 - 1] + times[RUNS / 2]) / 2),
      slowest: Math.round(times.at(-1)),
    });
  }
  await browser.close();
  child.kill();
  rmSync(join(root, '..'), { recursive: true, force: true });
  return { page, rows };
}

const sites = process.argv.slice(2);
for (const site of sites.length > 0 ? sites : [fileURLToPath(new URL('../demo/site', import.meta.url))]) {
  const { page, rows } = await measure(site);
  console.log(`${basename(site)}: milliseconds until an edit is seen on ${page}, ${RUNS} edits each`);
  console.table(Object.fromEntries(rows.map(({ edited, ...times }) => [edited, times])));
}
