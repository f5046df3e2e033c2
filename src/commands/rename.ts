/** `rename`: another name for a component, a prop or a slot, wherever it is spoken of; proven, as one write. */
import type { Command } from 'commander';
import type { Component } from '../core/component/model.js';
import { placeText } from '../core/errors.js';
import type { Change } from '../core/library/change.js';
import { type Mention, mentionsOf } from '../core/library/mentions.js';
import { renameComponent, renameProp, renameSlot } from '../core/library/rename.js';
import { elementsOf } from '../core/page/tree.js';
import { takenNames } from '../core/survey/component-names.js';
import { type Changed, changeProject, oneAtATime, openSite } from '../operations/changing.js';
import { renameInDraft } from '../operations/keeping.js';
import { componentNamed } from '../operations/problems.js';
import { scriptsOf } from '../operations/scripts.js';
import { yellow } from '../terminal/style.js';
import type { Project } from '../workspace/project.js';
import { printChanged } from './changed.js';
import { print, printJson, tellUnreadable } from './printing.js';

interface Options {
  dryRun?: boolean;
  json?: boolean;
}

interface Renaming extends Changed {
  /** places that name the tag and stay as they are */
  mentions: Mention[];
}

/** Renames, or plans to. @throws Problem */
async function renameInProject(cwd: string, what: string, to: string, options: Options): Promise<Renaming> {
  const opened = await openSite(cwd);
  const { project, loaded, site } = opened;
  const { component, kind, name } = meant(project, what);
  let change: Change;
  let mentions: Mention[] = [];
  if (kind === 'component') {
    const taken = takenNames(
      project.registry,
      loaded.pages.map(({ root }) => elementsOf(root)),
    );
    change = renameComponent(site, component, to, taken);
    mentions = mentionsOf(component.name, site, new Map([...site.sheets, ...(await scriptsOf(project))]));
  } else change = (kind === 'prop' ? renameProp : renameSlot)(site, component, name, to);
  const changed = await changeProject(opened, change, {
    command: `rename ${what} ${to}`,
    write: options.dryRun !== true,
  });
  if (options.dryRun !== true) await renameInDraft(project.root, { component: component.name, kind, name }, to);
  return { ...changed, mentions };
}

interface Meant {
  component: Component;
  kind: 'component' | 'prop' | 'slot';
  name: string;
}

/** What `component`, `component.prop` or `component#slot` means. @throws Problem (exit 2) that names the near one */
function meant({ registry }: Project, what: string): Meant {
  const known = registry.get(what);
  if (known !== undefined) return { component: known, kind: 'component', name: what };
  const [name = what] =
    /^[^#]+(?=#)/.exec(what) ??
    [...registry.keys()].filter((each) => what.startsWith(`${each}.`)).sort((a, b) => b.length - a.length);
  const component = componentNamed({ registry }, registry.has(name) ? name : what.split(/[.#]/)[0]!);
  return { component, kind: what[name.length] === '#' ? 'slot' : 'prop', name: what.slice(name.length + 1) };
}

export function define(program: Command): void {
  program
    .command('rename')
    .argument('<what>', 'a component, component.prop, component.list.field or component#slot')
    .argument('<name>', 'what it is called from now on')
    .description('rename a component, a prop or a slot everywhere')
    .option('--dry-run', 'print what would change as a patch, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      '\nExamples:\n  estrade rename boat-card vessel-card\n  estrade rename boat-card.heading name\n  estrade rename boat-card#facts figures',
    )
    .action(async (what: string, name: string, options: Options) => {
      const cwd = process.cwd();
      const run = () => renameInProject(cwd, what, name, options);
      const renamed = await oneAtATime(cwd, options.dryRun === true, run);
      const { files, moved, written, mentions, unreadable } = renamed;
      if (options.json === true)
        printJson({ format: 1, written, what, name, files: files.map(({ path }) => path), moved, mentions });
      else {
        const [file] = moved;
        await printChanged(`${what} is ${name} now${file === undefined ? '' : `, in ${file.to}`}`, renamed);
        for (const mention of mentions)
          print(yellow(`${placeText(mention)} names ${what}, and is not changed: look whether it means the tag`));
      }
      if (tellUnreadable(unreadable)) process.exitCode = 2;
    });
}
