/** What stands on the command line before anything is parsed. */

/** Options of the program itself that are followed by a value. */
const WITH_VALUE = ['-C', '--config'];

/** The name of the command that is asked for; '' where none is. @param args without the program itself */
export function commandIn(args: readonly string[]): string {
  return args.find((arg, i) => !arg.startsWith('-') && !WITH_VALUE.includes(args[i - 1] ?? '')) ?? '';
}
