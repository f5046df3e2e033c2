/** `new`: an empty component, written after the team's own starter. */
import type { Command } from 'commander';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fileNameOf } from '../core/component/file-names.js';
import { refuseComponentName } from '../core/component/names.js';
import { Problem } from '../core/errors.js';
import { newComponent } from '../core/library/new-component.js';
import { oneAtATime } from '../operations/changing.js';
import { tellNotices } from '../operations/notices.js';
import { green } from '../terminal/style.js';
import { readBack } from '../workspace/files.js';
import { openProject } from '../workspace/project.js';
import { readStarter } from '../workspace/starter.js';
import { writeAll } from '../workspace/transaction.js';
import { hint, printJson, tell } from './printing.js';

interface Options {
  in?: string;
  dryRun?: boolean;
  json?: boolean;
}

interface Made {
  path: string;
  source: string;
  /** a use of it as it could stand in a page */
  use: string;
  /** the line that its styles need in a stylesheet; null where it has none */
  marker: string | null;
}

/** Writes it, or plans to. @throws Problem where it cannot have that name or place */
async function newInProject(cwd: string, name: string, { in: folder = '', dryRun }: Options): Promise<Made> {
  const project = await openProject(cwd);
  tellNotices(project);
  const { root, config, registry } = project;
  refuseComponentName(name, new Set(registry.keys()), 'choose another one');
  if (!/^([\w.-]*[\w-][\w.-]*(\/(?!$)|\/?$))*$/.test(folder))
    throw new Problem(`"${folder}" cannot be a folder for components`, {
      hint: `name one below ${config.components}/, written with /`,
    });
  const at = folder.replace(/\/$/, '');
  const path = [config.components, ...(at === '' ? [] : [at]), fileNameOf(name, config.arrange)].join('/');
  if (existsSync(join(root, path)))
    throw new Problem(`${path} is there already`, { exit: 1, hint: 'nothing was written' });
  const starter =
    config.starter === null ? null : { path: config.starter, source: readStarter(root, config.starter, 'starter') };
  const made = newComponent({ name, path }, starter, registry);
  const { source } = made;
  const file = { path, before: null, after: Buffer.from(source), origin: null };
  if (dryRun !== true)
    await writeAll(root, { command: `new ${name}`, files: [file] }, () => {
      if (readBack(root, path) !== source)
        throw new Problem(`read back, ${path} is not what was written`, { exit: 1, hint: 'all is as it was' });
    });
  const { ownProps, style } = made.registry.get(name)!;
  const needed = [...ownProps.values()].filter(
    (prop) => !prop.optional && prop.default === null && !['list', 'flag'].includes(prop.type),
  );
  const given = needed.map((prop) => ` ${prop.name}=""`);
  const use = `<${name}${given.join('')}></${name}>`;
  return { path, source, use, marker: style === null ? null : `@component ${name};` };
}

export function define(program: Command): void {
  program
    .command('new')
    .argument('<component>', 'its name, small letters with a hyphen')
    .description('write an empty component after the starter that the configuration names')
    .option('--in <folder>', 'a folder below that of the components')
    .option('--dry-run', 'print the file, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText('after', '\nExamples:\n  estrade new quay-notice\n  estrade new quay-notice --in notices --dry-run')
    .action(async (name: string, options: Options) => {
      const cwd = process.cwd();
      const run = () => newInProject(cwd, name, options);
      const made = await oneAtATime(cwd, options.dryRun === true, run);
      if (options.json === true) printJson({ format: 1, written: options.dryRun !== true, ...made });
      else if (options.dryRun === true) process.stdout.write(made.source);
      else {
        tell(`${green('Written:')} ${made.path}`);
        if (made.marker !== null) tell(`Its styles stand where a stylesheet has the line ${made.marker}`);
        hint(`Next: edit it, and use it: ${made.use}; estrade undo takes it back`);
      }
    });
}
