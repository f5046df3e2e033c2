// `node bench/hostile.mjs [seconds]`: pages and sheets that grow in one way only, each with every command that reads them.
// Prints how long each takes, and ends with status 1 where one takes longer than `seconds` (5), crashes, or prints a line
// that nobody could read.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const limit = Number(process.argv[2] ?? 5);
const BIN = fileURLToPath(new URL('../dist/bin.js', import.meta.url));
const COMMANDS = [['survey'], ['lift', '--recommended'], ['check'], ['styles']];
const LONGEST = 2000;

const page = (body) => `<!DOCTYPE html>\n<html><head><title>Ferries</title></head><body>\n${body}\n</body></html>\n`;
const card = (name, href = 'tern.html') =>
  `<article class="boat"><h3><a href="${href}">${name}</a></h3><p>It calls at every quay</p></article>`;
const list = (count, make) => Array.from({ length: count }, (_, i) => make(i));
const spaces = (count) => ' '.repeat(count);
const two = (first) => ({ 'a.html': page(`${first}\n${card('Eider')}\n${card('Gull')}`) });

const CASES = {
  'spaces in href': two(card('Tern', `a${spaces(50000)}b`)),
  'spaces in srcset': two(`<div class="b"><img srcset="a${spaces(50000)}b"></div>`),
  'url( not closed, in style': two(`<div class="b" style="background: url(${spaces(20000)}"><p>q</p></div>`),
  'url( not closed, in a sheet': { ...two(card('Tern')), 'a.css': `a{background:url(${spaces(20000)}` },
  'spaces in a text': two(card(`Tern${spaces(200000)}Tern`)),
  'line breaks in a text': two(card(`Tern${'\n'.repeat(200000)}Tern`)),
  'braces in a text': two(card('{{'.repeat(60000))),
  'cards on a page': {
    'a.html': page(`<link rel="stylesheet" href="a.css">${list(20000, (i) => card(`Tern ${i}`)).join('\n')}`),
    'a.css': '.boat + .boat { color: red }\n.boat h3:first-child { margin: 0 }\n',
  },
  'words of a class': two(`<div class="${list(200000, (i) => `w${i}`).join(' ')}"><p>q</p></div>`),
  'attributes of an element': two(`<div ${list(100000, (i) => `a${i}=1`).join(' ')}><p>q</p></div>`),
  'depth of a page': two(`${'<div>'.repeat(900)}${card('Tern')}${'</div>'.repeat(900)}`),
  'depth of a sheet': { ...two(card('Tern')), 'a.css': `${'.boat{'.repeat(3000)}color:red${'}'.repeat(3000)}` },
  'depth of at-rules': { ...two(card('Tern')), 'a.css': `${'@media x{'.repeat(3000)}a{b:c}${'}'.repeat(3000)}` },
  'depth of a selector': { ...two(card('Tern')), 'a.css': `${':is('.repeat(3000)}a${')'.repeat(3000)}{b:c}` },
  'depth of a value': { ...two(card('Tern')), 'a.css': `a{b:${'calc('.repeat(5000)}1${')'.repeat(5000)}}` },
};

const top = mkdtempSync(join(tmpdir(), 'estrade-hostile-'));
let failed = 0;
for (const [name, files] of Object.entries(CASES)) {
  const folder = join(top, name.replaceAll(/\W+/g, '-'));
  mkdirSync(folder);
  for (const [path, text] of Object.entries(files)) writeFileSync(join(folder, path), text);
  const told = COMMANDS.map((args) => {
    const started = performance.now();
    const options = { cwd: folder, encoding: 'utf8', timeout: 120_000, maxBuffer: 1 << 28 };
    const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], options);
    const seconds = (performance.now() - started) / 1000;
    const lines = `${stdout}${stderr}`.split('\n');
    const isWrong =
      status === null || seconds > limit || /should not/.test(stderr) || lines.some((line) => line.length > LONGEST);
    if (isWrong) failed++;
    return `${args[0]} ${seconds.toFixed(1)} s${isWrong ? ' (!)' : ''}`;
  });
  console.log(`${name}: ${told.join(', ')}`);
}
rmSync(top, { recursive: true });
console.log(failed === 0 ? `each within ${limit} s` : `${failed} not within ${limit} s, or crashed`);
process.exitCode = failed === 0 ? 0 : 1;
