/** The command line. A command's file is loaded only when it is asked for. */
import { Command, CommanderError } from 'commander';
import { resolve } from 'node:path';
import { Problem } from '../core/errors.js';
import { commandIn } from '../arguments.js';
import { withVoice } from '../terminal/voice.js';
import { withConfigFile } from '../workspace/config.js';
import { reasonOf } from '../workspace/files.js';
import { WrittenMeanwhile } from '../workspace/project.js';
import { ownVersion } from '../workspace/version.js';
import { errorJson, printJson, tellError } from './printing.js';

/** All commands, as `--help` groups them. */
const GROUPS = {
  'Look at pages:': ['survey', 'outline', 'show', 'styles', 'report'],
  'Decide and lift:': ['init', 'draft', 'review', 'lift'],
  'Build and prove:': ['expand', 'check', 'preview', 'emit'],
  'Live with components:': ['roster', 'new', 'rename', 'arrange', 'default', 'inline'],
  'Take back:': ['undo', 'repair'],
  'Else:': ['demo', 'manifest', 'completion'],
} as const;

const COMMANDS = Object.values(GROUPS).flat();

interface Definition {
  /** @param allCommands a program with every command */
  define: (program: Command, allCommands: () => Promise<Command>) => void;
}

const loaders: Record<(typeof COMMANDS)[number], () => Promise<Definition>> = {
  init: () => import('./init.js'),
  survey: () => import('./survey.js'),
  outline: () => import('./outline.js'),
  show: () => import('./show.js'),
  draft: () => import('./draft.js'),
  review: () => import('./review.js'),
  lift: () => import('./lift.js'),
  styles: () => import('./styles.js'),
  preview: () => import('./preview.js'),
  expand: () => import('./expand.js'),
  check: () => import('./check.js'),
  new: () => import('./new.js'),
  roster: () => import('./roster.js'),
  rename: () => import('./rename.js'),
  arrange: () => import('./arrange.js'),
  default: () => import('./default.js'),
  inline: () => import('./inline.js'),
  emit: () => import('./emit.js'),
  report: () => import('./report.js'),
  manifest: () => import('./manifest.js'),
  undo: () => import('./undo.js'),
  repair: () => import('./repair.js'),
  completion: () => import('./completion.js'),
  demo: () => import('./demo.js'),
};

/** Runs the program; gives back the exit status. */
export async function main(args: string[]): Promise<number> {
  const debug = args.includes('--debug');
  // a reader that has seen enough, such as `head`, is no error, and what is being written to disk goes on
  const output = { isLost: false };
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE' || output.isLost) return;
    output.isLost = true;
    process.exitCode = tellError(new Problem(`the answer cannot be written: ${reasonOf(error)}`), debug);
  });
  let start: string | undefined;
  for (let tries = 1; ; tries++) {
    try {
      start ??= currentFolder();
      await run(await buildProgram(args), args, start);
      // the stream tells of what was printed last in a turn of its own
      await new Promise((done) => setImmediate(done));
      return output.isLost ? 2 : Number(process.exitCode ?? 0);
    } catch (error) {
      if (error instanceof CommanderError && error.exitCode === 0) return 0;
      // what failed because a signal ends the program is no error to tell of
      const ended = Number(process.exitCode ?? 0);
      if (ended > 128) return ended;
      // nothing is printed or written before all is read
      if (error instanceof WrittenMeanwhile && tries < MOST_RUNS) continue;
      // what is wrong with the command line has been told by now
      const status = error instanceof CommanderError ? 2 : tellError(error, debug);
      if (!output.isLost) await answerError(args, error, status);
      return status;
    }
  }
}

/**
 * Runs the command that the arguments name in the folder, with the configuration and as quietly as they say.
 * @param start absolute path of the folder that paths among them are relative to
 * @throws Problem
 */
async function run(program: Command, args: string[], start: string): Promise<void> {
  program.parseOptions(args);
  const { C: folder = '.', config, quiet = false, verbose = false } = program.opts<OwnOptions>();
  goTo(resolve(start, folder), folder);
  if (quiet && verbose) throw new Problem('--quiet and --verbose do not go together', { hint: 'give one of them' });
  const file = config === undefined ? undefined : resolve(config);
  await withVoice({ quiet, verbose }, () => withConfigFile(file, () => program.parseAsync(args, { from: 'user' })));
}

interface OwnOptions {
  C?: string;
  config?: string;
  quiet?: boolean;
  verbose?: boolean;
}

/** The options that every command takes. */
function withOwnOptions(program: Command): Command {
  return program
    .option('-C <folder>', 'run in this folder')
    .option('--config <file>', 'settings from this file, in place of estrade.config.json')
    .option('-q, --quiet', 'print only answers and what is wrong')
    .option('--verbose', 'print long lists in full, and what was read')
    .option('--debug', 'show where an error came from');
}

/** @throws Problem when the folder is gone */
function currentFolder(): string {
  try {
    return process.cwd();
  } catch {
    throw new Problem('the current folder is not there any more', { hint: 'go to one that is' });
  }
}

function goTo(path: string, shown: string): void {
  try {
    process.chdir(path);
  } catch (error) {
    throw new Problem(`cannot go to ${shown}: ${reasonOf(error)}`, { hint: '-C takes a folder that is there' });
  }
}

/** Answers an error in the format that was asked for, beside what is told on stderr. */
async function answerError(args: string[], error: unknown, status: number): Promise<void> {
  const isAsked = (format: string) =>
    args.includes(`--format=${format}`) || args.some((arg, i) => arg === format && args[i - 1] === '--format');
  if (args.includes('--json') || isAsked('json')) printJson({ format: 1, error: errorJson(error, status) });
  else if (isAsked('sarif')) printJson((await import('./formats.js')).errorSarif(error, process.cwd()));
}

/** So often is a command begun again because another process wrote while it read. */
const MOST_RUNS = 5;

async function buildProgram(args: string[]): Promise<Command> {
  const program = new Command('estrade')
    .description('Turns a folder of static HTML pages into components, and proves that nothing changed.')
    .version(ownVersion(), '-V, --version', 'print the version')
    .helpOption('-h, --help', 'print this help')
    .configureHelp({ showGlobalOptions: true })
    .showSuggestionAfterError()
    .showHelpAfterError('  estrade --help lists the commands')
    .configureOutput({
      outputError: (text, write) =>
        write(text.replace(/^error: /, 'estrade: ').replace(/^\(Did you mean (.*)\)$/m, '  did you mean $1')),
    })
    .exitOverride();
  withOwnOptions(program);
  const named = COMMANDS.filter((name) => name === commandIn(args));
  const wanted = named.length > 0 ? named : COMMANDS;
  for (const name of wanted) (await loaders[name]()).define(program, () => buildProgram([]));
  for (const [group, names] of Object.entries(GROUPS))
    for (const command of program.commands) if (names.some((name) => name === command.name())) command.helpGroup(group);
  for (const command of program.commands)
    command.exitOverride().showHelpAfterError(`  estrade ${command.name()} --help says what it takes`);
  return program;
}
