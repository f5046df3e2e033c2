/** Progress on stderr: nothing in the first second, nothing where nobody looks or it is not wanted. */
import { isQuiet } from './voice.js';
import { number } from './style.js';

export interface Progress {
  tick: (done: number, all: number) => void;
  end: () => void;
}

const WAIT = 1000;
const EVERY = 100;

/** @param what is being done, as in `reading` @param many what it is done to, as in `pages` */
export function progress(what: string, many: string): Progress {
  const isShown = process.stderr.isTTY && !isQuiet();
  const started = Date.now();
  let shown = 0;
  return {
    tick(done, all) {
      const now = Date.now();
      if (!isShown || now - started < WAIT || now - shown < EVERY) return;
      shown = now;
      process.stderr.write(`\r\u001b[K${what}: ${number(done)} of ${number(all)} ${many}`);
    },
    end() {
      if (shown > 0) process.stderr.write('\r\u001b[K');
    },
  };
}
