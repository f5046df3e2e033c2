/** How much a run of the program says: told once, on its command line, and asked wherever something is printed. */
import { AsyncLocalStorage } from 'node:async_hooks';

export interface Voice {
  /** only answers, and what is wrong */
  quiet: boolean;
  /** long lists in full, and what was read */
  verbose: boolean;
}

const voices = new AsyncLocalStorage<Voice>();

/** Runs `work`, all of which says as much. */
export function withVoice<T>(voice: Voice, work: () => T): T {
  return voices.run(voice, work);
}

export function isQuiet(): boolean {
  return voices.getStore()?.quiet === true;
}

export function isVerbose(): boolean {
  return voices.getStore()?.verbose === true;
}
