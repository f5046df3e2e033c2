// Puts the program's modules and the packages they use into one file, in place: reading some 150 small ones takes longer
// than the rest of the start. The library (dist/index.js) stays as it was compiled.
import { readdirSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { build } from 'esbuild';
import mdn from 'mdn-data';
import { OUTSIDE, PARAMETERS } from '../dist/load.js';

const require = createRequire(import.meta.url);

/** Of MDN's data about CSS, which properties a shorthand sets: all that the program reads. */
function shorthands() {
  const properties = Object.entries(mdn.css.properties).filter(([, { initial }]) => Array.isArray(initial));
  return { css: { properties: Object.fromEntries(properties.map(([name, { initial }]) => [name, { initial }])) } };
}

/**
 * css-tree reads its data from files beside its own, but for the build of it that is one file; most of MDN's data is about
 * other things; and what imports has to be a module.
 */
function replaceModules({ onResolve, onLoad }) {
  onResolve({ filter: /^css-tree$/ }, () => ({ path: require.resolve('css-tree/dist/csstree.esm') }));
  onResolve({ filter: /^mdn-data$/ }, ({ path }) => ({ path, namespace: 'shorthands' }));
  onLoad({ filter: /./, namespace: 'shorthands' }, () => ({ contents: JSON.stringify(shorthands()), loader: 'json' }));
  onResolve({ filter: /\/import\.js$/ }, () => ({ path: OUTSIDE, external: true }));
}

const FOLDER = 'dist/commands';
/** What runs in a browser, each as one script that sets a variable of its name. */
const BROWSER_SCRIPTS = ['measure', 'preview', 'compare', 'report'];

for (const name of BROWSER_SCRIPTS)
  await build({
    entryPoints: [`src/browser/${name}.ts`],
    outfile: `dist/browser/${name}.js`,
    bundle: true,
    format: 'iife',
    globalName: name,
    target: 'es2022',
    logLevel: 'warning',
  });
await build({
  entryPoints: [`${FOLDER}/program.js`],
  outfile: `${FOLDER}/program.cjs`,
  bundle: true,
  format: 'cjs',
  platform: 'node',
  target: 'node20',
  mainFields: ['module', 'main'],
  charset: 'ascii',
  // half as much to read and to hold; names stay, for stack traces
  minifyWhitespace: true,
  // large, and looked for where they are installed: a formatter, and the tables of old encodings
  external: ['prettier', 'iconv-lite', 'playwright-core'],
  plugins: [{ name: 'replaced', setup: replaceModules }],
  define: { 'import.meta.url': 'moduleUrl' },
  banner: {
    js: `(function (${PARAMETERS.join(', ')}) { const moduleUrl = require('node:url').pathToFileURL(__filename).href;`,
  },
  footer: { js: '})' },
  logLevel: 'warning',
});
for (const name of readdirSync(FOLDER)) if (name !== 'program.cjs') rmSync(join(FOLDER, name), { recursive: true });
