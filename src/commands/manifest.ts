/** `manifest`: describes the components for editors, so that they complete and check uses while they are typed. */
import type { Command } from 'commander';
import { existsSync, readFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { sourceManifest } from '../core/library/manifest.js';
import { Problem } from '../core/errors.js';
import { count, dim, green } from '../terminal/style.js';
import { writeRegular } from '../workspace/disk.js';
import { toPosix } from '../workspace/files.js';
import { openProject } from '../workspace/project.js';
import { print, printJson, tellNotices } from './context.js';

interface Options {
  out?: string;
  force?: boolean;
  json?: boolean;
}

/** Name of the manifest that editors look for. */
const FILE = 'custom-elements.json';

/** Writes the manifest. @throws Problem (exit 1) where a file is in the way that describes something else */
async function writeManifest(cwd: string, { out, force }: Options) {
  const project = await openProject(cwd);
  tellNotices(project);
  const { root, registry } = project;
  if (out === '-') return { path: out, text: sourceManifest(registry, ''), components: registry.size, written: false };
  const path = out ?? FILE;
  const file = out === undefined ? join(root, FILE) : resolve(cwd, out);
  const way = toPosix(relative(dirname(file), root));
  const text = sourceManifest(registry, way === '' ? '' : `${way}/`);
  const there = existsSync(file) ? readFileSync(file, 'utf8') : null;
  if (there !== null && force !== true && !isOwnManifest(there))
    throw new Problem(`${path} is there already, and describes more than the components here`, {
      exit: 1,
      hint: 'write another file with --out, print it with --out -, or overwrite it with --force',
    });
  if (there !== text) writeRegular(dirname(file), basename(file), Buffer.from(text), '');
  return { path, text, components: registry.size, written: there !== text };
}

/** True for a manifest of component files, such as this command writes. */
function isOwnManifest(text: string): boolean {
  try {
    const { modules } = JSON.parse(text) as { modules?: { path?: unknown }[] };
    return Array.isArray(modules) && modules.every(({ path }) => typeof path === 'string' && path.endsWith('.html'));
  } catch {
    return false;
  }
}

export function define(program: Command): void {
  program
    .command('manifest')
    .description(`write ${FILE}, from which editors complete and check uses of components`)
    .option('--out <file>', `where it goes, - to print it (default: ${FILE} in the project)`)
    .option('--force', 'overwrite a file there that describes something else')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade manifest')
    .action(async (options: Options) => {
      const { path, text, components, written } = await writeManifest(process.cwd(), options);
      if (path === '-') process.stdout.write(text);
      else if (options.json === true) printJson({ format: 1, path, components, written });
      else {
        print(`${green(written ? 'Written:' : 'Right already:')} ${path}, ${count(components, 'component')}.`);
        print(
          dim('Run it again when the interface of a component changes. docs/editors.md tells how editors find it.'),
        );
      }
    });
}
