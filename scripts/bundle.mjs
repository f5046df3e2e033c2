// Puts the program's modules and the packages they use into a few files, in place: reading some 150 small ones takes
// longer than the rest of the start. The library (dist/index.js) stays as it was compiled.
import { readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';

/** css-tree reads its data from files beside its own; its tokenizer alone does not. */
function keepOutside({ onResolve }) {
  onResolve({ filter: /^css-tree$/ }, ({ path }) => ({ path, external: true }));
}

const FOLDER = 'dist/commands';
const { outputs } = await build({
  entryPoints: [`${FOLDER}/program.js`],
  outdir: FOLDER,
  allowOverwrite: true,
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  mainFields: ['module', 'main'],
  // large, and looked for where they are installed: a formatter, and the tables of old encodings
  external: ['prettier', 'iconv-lite'],
  plugins: [{ name: 'data-beside-code', setup: keepOutside }],
  // what packages in CommonJS need
  banner: {
    js: "import { createRequire as requireFrom } from 'node:module';\nconst require = requireFrom(import.meta.url);",
  },
  logLevel: 'warning',
  metafile: true,
}).then(({ metafile }) => metafile);
for (const name of readdirSync(FOLDER)) if (!(`${FOLDER}/${name}` in outputs)) rmSync(join(FOLDER, name));
