// `node scripts/build.mjs`: makes dist of src. Those modules of which the library (dist/index.js) and the start of the program are
// made are stripped of their types, which `npm run types` checks; declarations are made when it is packed. The program's own,
// with the packages they use, are put into one file, and the formatter into another: reading some 150 small ones takes longer
// than the rest of the start.
import { readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import mdn from 'mdn-data';
import { globSync } from 'tinyglobby';

const require = createRequire(import.meta.url);
const shared = { target: 'es2022', charset: 'ascii', logLevel: 'warning' };

// what was built before may have other files
rmSync('dist', { recursive: true, force: true });
await build({
  ...shared,
  entryPoints: globSync(['src/*.ts', 'src/core/**/*.ts', 'src/workspace/import.ts'], { ignore: '**/*.d.ts' }),
  outdir: 'dist',
  outbase: 'src',
  format: 'esm',
  platform: 'node',
});
const { OUTSIDE, PARAMETERS } = await import('../dist/load.js');

/** Of MDN's data about CSS, which properties a shorthand sets: all that the program reads. */
function shorthands() {
  const properties = Object.entries(mdn.css.properties).filter(([, { initial }]) => Array.isArray(initial));
  return { css: { properties: Object.fromEntries(properties.map(([name, { initial }]) => [name, { initial }])) } };
}

/** A package's source with something of it written otherwise. @throws Error where it is not there: the package has changed */
function rewritten(source, from, to) {
  const text = source.replace(from, to);
  if (text === source) throw new Error(`nothing to rewrite for ${from}: look at how the package writes it now`);
  return text;
}

/**
 * css-tree reads its data from files beside its own, but for the build of it that is one file; most of MDN's data is about
 * other things; tables of old encodings are large, and looked for where they are installed; what walks folders loads a package at
 * run time that is in the bundle; and what imports has to be a module.
 */
function replaceModules({ onResolve, onLoad }) {
  onResolve({ filter: /^css-tree$/ }, () => ({ path: require.resolve('css-tree/dist/csstree.esm') }));
  onResolve({ filter: /^mdn-data$/ }, ({ path }) => ({ path, namespace: 'shorthands' }));
  onLoad({ filter: /./, namespace: 'shorthands' }, () => ({ contents: JSON.stringify(shorthands()), loader: 'json' }));
  onResolve({ filter: /^iconv-lite$/ }, () => ({ path: require.resolve('iconv-lite') }));
  onResolve({ filter: /^\.\/tables\/.*\.json$/ }, ({ path }) => ({
    path: `iconv-lite/encodings${path.slice(1)}`,
    external: true,
  }));
  onLoad({ filter: /[\\/]fdir[\\/]dist[\\/]index\.mjs$/ }, ({ path }) => ({
    contents: rewritten(readFileSync(path, 'utf8'), '__require("picomatch")', 'require("picomatch")'),
  }));
  onResolve({ filter: /\/import\.js$/ }, () => ({ path: OUTSIDE, external: true }));
}

/**
 * The formatter imports plugins and configuration by names that are known only when it runs, and what formats languages that are
 * not emitted from where it is installed.
 */
function importOutside({ onLoad }) {
  const others = /\bimport\("\.\/plugins\/(?!babel|estree|postcss)(\w+)\.mjs"/g;
  onLoad({ filter: /[\\/]prettier[\\/]index\.mjs$/ }, ({ path }) => {
    const named = rewritten(readFileSync(path, 'utf8'), others, 'importModule("prettier/plugins/$1"');
    return { contents: rewritten(named, /\bimport\((?!")/g, 'importModule(') };
  });
}

/** A bundle as one function, which `src/load.ts` gives what it needs. @param start its first statements */
const asFunction = (start) => ({
  bundle: true,
  format: 'cjs',
  platform: 'node',
  target: 'node20',
  // half as much to read and to hold; names stay, for stack traces
  minifyWhitespace: true,
  define: { 'import.meta.url': 'moduleUrl' },
  banner: {
    js: `(function (${PARAMETERS.join(', ')}) { const moduleUrl = require('node:url').pathToFileURL(__filename).href; ${start}`,
  },
  footer: { js: '})' },
});

/** What runs in a browser, each as one script that sets a variable of its name. */
const BROWSER_SCRIPTS = ['measure', 'preview', 'compare', 'report'];

for (const name of BROWSER_SCRIPTS)
  await build({
    ...shared,
    entryPoints: [`src/browser/${name}.ts`],
    outfile: `dist/browser/${name}.js`,
    bundle: true,
    format: 'iife',
    globalName: name,
  });
await build({
  ...shared,
  ...asFunction(''),
  entryPoints: ['src/commands/program.ts'],
  outfile: 'dist/commands/program.cjs',
  mainFields: ['module', 'main'],
  // a bundle of its own; and one that is looked for where it is installed
  external: ['prettier', 'playwright-core'],
  // its script has no loader of modules: what is outside is required
  supported: { 'dynamic-import': false },
  plugins: [{ name: 'replaced', setup: replaceModules }],
});
await build({
  ...shared,
  ...asFunction(`const { importModule } = require('${OUTSIDE}');`),
  entryPoints: [fileURLToPath(import.meta.resolve('prettier'))],
  outfile: 'dist/commands/formatter.cjs',
  plugins: [{ name: 'outside', setup: importOutside }],
});
