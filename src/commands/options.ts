/** Options that several commands take. */
import { type Command, InvalidArgumentError } from 'commander';

function whole(value: string): number {
  if (!/^-?\d+$/.test(value)) throw new InvalidArgumentError('it must be a whole number.');
  return Number(value);
}

export function atLeast(least: number) {
  return (value: string): number => {
    const parsed = whole(value);
    if (parsed < least) throw new InvalidArgumentError(`it must be at least ${least}.`);
    return parsed;
  };
}

export function wholeBetween(least: number, most: number) {
  return (value: string): number => {
    const parsed = whole(value);
    if (parsed < least || parsed > most) throw new InvalidArgumentError(`it must be from ${least} to ${most}.`);
    return parsed;
  };
}

/** Adds the survey's thresholds to a command. */
export function withThresholds(command: Command): Command {
  return command
    .option('--min-occurrences <n>', 'least number of places (default: 2)', atLeast(2))
    .option('--min-elements <n>', 'least number of elements in a fragment (default: 2)', atLeast(1))
    .option('--min-worth <bytes>', 'least number of bytes a recommended finding is worth (default: 145)', whole)
    .option('--max-props <n>', 'most props of one component (default: 8)', atLeast(0))
    .option('--min-lines <n>', 'least number of lines of a named block that is a region (default: 5)', atLeast(1))
    .option('--large-lines <n>', 'so many lines make a region of a part without a name (default: 40)', atLeast(1));
}

const all = (value: string, before: string[] = []) => [...before, value];

/** Names with commas between them, given once or several times. */
export function listed(value: string, before: string[] = []): string[] {
  return [...before, ...value.split(',').map((each) => each.trim())].filter((each) => each !== '');
}

function outwards(value: string): number {
  if (!/^\d+$/.test(value)) throw new InvalidArgumentError('it must be a number of elements.');
  return Number(value);
}

/** Adds the ways of pointing to a command. */
export function withPointing(command: Command): Command {
  return command
    .option('--at <page:line[:column]>', 'what starts there, instead of a finding')
    .option('--lines <page:from-to>', 'the siblings on exactly these lines')
    .option('--select <css>', 'all that a selector matches, over all pages, as one component')
    .option('--outer <n>', 'with --at: so many elements further out', outwards)
    .option('--alike', 'take also what looks like the place that is pointed at')
    .option('--name <name>', 'what the component is called; of several findings: finding=name, …', listed)
    .option('--props <old=new,…>', 'rename props; of a single place, name the texts that become props', listed)
    .option('--slot <css>', 'pour in what this matches inside (may be repeated)', all)
    .option('--fixed <prop,…>', 'keep the first value of a prop; places with another one stay as they are', listed);
}
