// Prints how large the tests are against the whole: lines under test/ over lines under src/ plus test/, blank lines left out.
import { readdirSync, readFileSync } from 'node:fs';

const lines = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.(ts|mjs|cjs)$/.test(entry.name))
    .flatMap((entry) => readFileSync(`${entry.parentPath}/${entry.name}`, 'utf8').split('\n'))
    .filter((line) => line.trim() !== '').length;

const src = lines('src');
const test = lines('test');
console.log(
  `src ${src} lines, test ${test} lines: tests are ${((100 * test) / (src + test)).toFixed(1)}% (aim: 25 to 33%)`,
);
