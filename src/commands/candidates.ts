/** What could complete a word of a command line: commands and options as they are defined, names from the project at hand. */
import type { Argument, Command, Option } from 'commander';
import { LAYOUTS } from '../core/library/arrange.js';
import type { Finding } from '../core/survey/types.js';
import { count } from '../terminal/style.js';
import { TARGETS } from '../workspace/targets.js';

export interface Candidate {
  value: string;
  /** a few words on it; '' for none */
  about: string;
}

/** Candidates, or what the shell itself completes. */
export type Candidates = Candidate[] | 'files' | 'folders';

/** Names of the project at hand, each read when it is needed. */
export interface ProjectNames {
  findings: () => Promise<Finding[]>;
  components: () => Promise<{ name: string; path: string; props: string[] }[]>;
  pages: () => Promise<string[]>;
}

type Source = (names: ProjectNames, earlier: string[]) => Promise<Candidates>;

const plain = (values: readonly string[]): Candidate[] => values.map((value) => ({ value, about: '' }));

const findings: Source = async (names) =>
  (await names.findings()).map(({ name, kind, occurrences }) => ({
    value: name,
    about: `${kind}, ${count(occurrences.length, 'place')}`,
  }));

const components: Source = async (names) =>
  (await names.components()).map(({ name, path }) => ({ value: name, about: path }));

const props: Source = async (names) =>
  (await names.components()).flatMap(({ name, path, props: own }) =>
    own.map((prop) => ({ value: `${name}.${prop}`, about: path })),
  );

const propsOfNamed: Source = async (names, earlier) =>
  (await names.findings())
    .filter(({ name }) => earlier.includes(name))
    .flatMap(({ name, props: own }) => own.map((prop) => ({ value: prop.name, about: `${prop.type} of ${name}` })));

const both =
  (...sources: Source[]): Source =>
  async (names, earlier) =>
    (await Promise.all(sources.map((source) => source(names, earlier)))).flatMap((each) =>
      typeof each === 'string' ? [] : each,
    );

const pages: Source = async (names) => plain(await names.pages());

/** What completes the arguments of commands, by command and argument. */
const ARGUMENTS: Record<string, Source> = {
  'survey paths': () => Promise.resolve('files'),
  'outline page': pages,
  'show name': both(findings, components),
  'lift names': findings,
  'styles name': both(findings, components),
  'roster component': components,
  'rename what': both(components, props),
  'arrange layout': () => Promise.resolve(plain(LAYOUTS)),
  'default prop': props,
  'inline component': components,
  'emit target': () => Promise.resolve(plain(TARGETS)),
};

/** What completes the values of options, by option. */
const OPTIONS: Record<string, Source> = {
  '--out': () => Promise.resolve('folders'),
  '--against': () => Promise.resolve('folders'),
  '--in': () => Promise.resolve('folders'),
  '--extend': components,
  '--fixed': propsOfNamed,
  '--props': propsOfNamed,
  '--unify': propsOfNamed,
  '--at': pages,
  '--lines': pages,
};

/**
 * @param program with all commands
 * @param words of the command line after the program's name; the last one, '' for none yet, is to be completed
 */
export async function candidatesFor(program: Command, words: string[], names: ProjectNames): Promise<Candidates> {
  const [first = '', ...rest] = withoutSplit(words);
  const word = rest.at(-1) ?? first;
  if (rest.length === 0) return beginning(commandsOf(program), word);
  const command = program.commands.find((each) => each.name() === first);
  if (command === undefined) return [];
  const earlier = rest.slice(0, -1);
  const [, given, part] = /^(--[^=]+)=(.*)$/s.exec(word) ?? [];
  if (given !== undefined) {
    const values = await valuesOf(optionOf(command, given), names, earlier);
    return typeof values === 'string'
      ? values
      : beginning(values, part!).map(({ value, about }) => ({ value: `${given}=${value}`, about }));
  }
  const pending = optionOf(command, earlier.at(-1));
  const isOver = earlier.includes('--');
  if (pending !== undefined && takesValue(pending) && !isOver)
    return beginning(await valuesOf(pending, names, earlier), word);
  if (word.startsWith('-') && !isOver) return beginning(optionsOf(command), word);
  const argument = argumentAt(command, earlier);
  const source = argument === undefined ? undefined : ARGUMENTS[`${command.name()} ${argument.name()}`];
  if (argument === undefined || source === undefined)
    return argument?.argChoices === undefined ? [] : beginning(plain(argument.argChoices), word);
  const found = await source(names, earlier);
  const isGiven = (value: string) => argument.variadic && earlier.includes(value);
  return typeof found === 'string' ? found : beginning(found, word).filter(({ value }) => !isGiven(value));
}

/** Words as they were typed, where the shell made several of one with an equals sign. */
function withoutSplit(words: string[]): string[] {
  // `--styles`, `=`, `mo` is an option and its value
  const isSplit = (i: number) => words[i] === '=' && words[i - 1]?.startsWith('--') === true;
  const whole = words.filter((_, i) => !isSplit(i));
  return isSplit(words.length - 1) ? [...whole, ''] : whole;
}

function commandsOf(program: Command): Candidate[] {
  return program.commands.map((each) => ({ value: each.name(), about: each.description() }));
}

function optionsOf(command: Command): Candidate[] {
  return [
    ...command.options.filter(({ hidden }) => !hidden),
    { long: '--help', description: 'print this help' },
  ].flatMap(({ long, description }) => (long ? [{ value: long, about: description }] : []));
}

function optionOf(command: Command, word: string | undefined): Option | undefined {
  return command.options.find(({ long, short }) => word !== undefined && (word === long || word === short));
}

function takesValue({ required, optional }: Option): boolean {
  return required || optional;
}

async function valuesOf(option: Option | undefined, names: ProjectNames, earlier: string[]): Promise<Candidates> {
  if (option?.argChoices !== undefined) return plain(option.argChoices);
  return (await OPTIONS[option?.long ?? '']?.(names, earlier)) ?? [];
}

/** The argument that the word after `earlier` is given for. */
function argumentAt(command: Command, earlier: string[]): Argument | undefined {
  const all = command.registeredArguments;
  let given = 0;
  earlier.forEach((word, i) => {
    const before = optionOf(command, earlier[i - 1]);
    const isValue = before !== undefined && takesValue(before);
    if (!word.startsWith('-') && !isValue) given++;
  });
  return all[given] ?? (all.at(-1)?.variadic === true ? all.at(-1) : undefined);
}

function beginning<T extends Candidates>(found: T, word: string): T {
  return typeof found === 'string' ? found : (found.filter(({ value }) => value.startsWith(word)) as T);
}
