/** `arrange`: moves component files, with their data, into folders; proven, as one write. */
import { type Command, Option } from 'commander';
import { expandPage } from '../core/component/expand.js';
import { FILE_CASES } from '../core/component/file-names.js';
import { placeText, Problem } from '../core/errors.js';
import { arrange, type Arrangement, type Layout, LAYOUTS } from '../core/library/arrange.js';
import { type Mention, pathMentions } from '../core/library/mentions.js';
import { folderOf } from '../core/page/url.js';
import { type Changed, changeProject, oneAtATime, openSite } from '../operations/changing.js';
import { scriptsOf } from '../operations/scripts.js';
import { count, dim, green, terminalWidth, yellow } from '../terminal/style.js';
import { sideBySide, treeLines } from '../terminal/tree.js';
import { CONFIG_FILE } from '../workspace/config.js';
import type { Project } from '../workspace/project.js';
import { print, printJson, tell, tellUnreadable } from './printing.js';
import { pagesText } from './sameness.js';

interface Options extends Partial<Pick<Arrangement, 'suffix' | 'fileCase'>> {
  dryRun?: boolean;
  json?: boolean;
}

interface Arranged extends Changed {
  layout: Layout;
  /** component files and data files, before and after */
  trees: { before: string[]; after: string[] };
  /** places that name a path of a file that moves */
  mentions: Mention[];
}

/** Arranges, or plans to. @throws Problem */
async function arrangeProject(cwd: string, named: Layout | undefined, options: Options): Promise<Arranged> {
  const opened = await openSite(cwd);
  const { project, site } = opened;
  const { registry, data, config } = project;
  const arrangement = arrangementOf(project, named, options);
  if (registry.size === 0)
    throw new Problem('there is no component to arrange', { hint: 'estrade survey shows what could be one' });
  const change = arrange(
    site,
    arrangement,
    { components: config.components, data: config.data },
    (page) => expandPage(page, registry).components,
  );
  const { layout, suffix, fileCase } = arrangement;
  const words = ['arrange', layout, suffix === '' ? '' : `--suffix ${suffix}`, `--file-case ${fileCase}`];
  const changed = await changeProject(opened, change, {
    command: words.filter((word) => word !== '').join(' '),
    write: options.dryRun !== true && change.moved.size > 0,
  });
  const before = [...[...registry.values()].map(({ path }) => path), ...data.keys()];
  return {
    ...changed,
    layout,
    trees: { before, after: before.map((path) => change.moved.get(path) ?? path) },
    mentions: pathMentions([...change.moved.keys()], new Map([...site.sheets, ...(await scriptsOf(project))])),
  };
}

/** What the options and the configuration say. @throws Problem where neither names a layout */
function arrangementOf({ config }: Project, named: Layout | undefined, options: Options): Arrangement {
  const { layout: usual, suffix, fileCase, patterns } = config.arrange;
  const layout = named ?? usual;
  if (layout === null)
    throw new Problem('how should the components be arranged?', {
      hint: `name one of ${LAYOUTS.join(', ')}, or set "arrange": { "layout": … } in ${CONFIG_FILE}`,
    });
  if (layout === 'patterns' && Object.keys(patterns).length === 0)
    throw new Problem('there are no patterns to arrange by', {
      hint: `set "arrange": { "patterns": { "boat-*": "boats" } } in ${CONFIG_FILE}`,
    });
  return { layout, suffix: options.suffix ?? suffix, fileCase: options.fileCase ?? fileCase, patterns };
}

export function define(program: Command): void {
  program
    .command('arrange')
    .argument('[layout]', `${LAYOUTS.join(', ')} (default: that of the configuration)`)
    .description('move component files into folders, with their data')
    .option('--suffix <text>', 'what follows the name in a file name, as in .part')
    .addOption(new Option('--file-case <case>', 'how file names are spelled').choices(FILE_CASES))
    .option('--dry-run', 'show the folders before and after, write nothing')
    .option('--json', 'answer as JSON (docs/json.md)')
    .addHelpText(
      'after',
      `
flat      all in one folder
own       a folder a component
area      by where they are used: a shell for what most pages share, a folder for what only the pages of one use,
          and below its owner what only another component uses
patterns  by the patterns of the configuration

Examples:
  estrade arrange area --dry-run
  estrade arrange own --file-case pascal --suffix .part`,
    )
    .action(async (named: string | undefined, options: Options) => {
      const layout = LAYOUTS.find((each) => each === named);
      if (named !== undefined && layout === undefined)
        throw new Problem(`"${named}" is no layout`, { hint: `choose one of ${LAYOUTS.join(', ')}` });
      if (options.suffix !== undefined && !/^[\w.-]*$/.test(options.suffix))
        throw new Problem(`"${options.suffix}" cannot be a suffix`, { hint: 'letters, digits, ".", "_" and "-"' });
      const cwd = process.cwd();
      const run = () => arrangeProject(cwd, layout, options);
      const arranged = await oneAtATime(cwd, options.dryRun === true, run);
      const { files, moved, written, mentions, unreadable } = arranged;
      if (options.json === true)
        printJson({
          format: 1,
          written,
          layout: arranged.layout,
          files: files.map(({ path }) => path),
          moved,
          mentions,
        });
      else (written ? tell : print)(arrangedText(arranged, options.dryRun === true));
      if (options.json !== true)
        for (const { path, line, column, named: name } of mentions)
          print(yellow(`${placeText({ path, line, column })} names ${name}, and is not changed`));
      if (tellUnreadable(unreadable)) process.exitCode = 2;
    });
}

function arrangedText({ moved, trees, layout, pages, tally }: Arranged, isPlan: boolean): string {
  const same = `${pagesText(pages)} to exactly what ${pages === 1 ? 'it' : 'they'} did before`;
  if (moved.length === 0) return `All files are where "${layout}" has them: ${count(trees.after.length, 'file')}.`;
  const [from, to] = [new Set(moved.map((each) => each.from)), new Set(moved.map((each) => each.to))];
  const lines = (paths: string[], marked: ReadonlySet<string>, paint: (text: string) => string) =>
    treeLines(paths, (name, path) => (marked.has(path) ? paint(name) : name));
  const drawn = sideBySide(lines(trees.before, from, dim), lines(trees.after, to, green), terminalWidth());
  const folders = new Set(trees.after.map(folderOf)).size;
  const plan = [drawn, '', `${count(moved.length, 'file')} would move, ${count(folders, 'folder')} then: ${tally}.`];
  if (isPlan)
    return [...plan, dim(`Nothing was written. With these folders ${same}; without --dry-run they are made.`)].join(
      '\n',
    );
  return [
    ...treeLines(trees.after, (name, path) => (to.has(path) ? green(name) : name)),
    '',
    `${count(moved.length, 'file')} moved, ${count(folders, 'folder')} now: ${tally}.`,
    `${green('Proven from disk:')} ${same}.`,
    dim('Next: estrade check; estrade undo takes this back'),
  ].join('\n');
}
