/** `manifest`: describes the components for editors, so that they complete and check uses while they are typed. */
import type { Command } from 'commander';
import { FILE, type ManifestOptions, writeManifest } from '../operations/manifest.js';
import { count, dim, green } from '../terminal/style.js';
import { print, printJson } from './printing.js';

export function define(program: Command): void {
  program
    .command('manifest')
    .description(`write ${FILE}, from which editors complete and check uses of components`)
    .option('--out <file>', `where it goes, - to print it (default: ${FILE} in the project)`)
    .option('--force', 'overwrite a file there that describes something else')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExample:\n  estrade manifest')
    .action(async (options: ManifestOptions) => {
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
