/** Progress on stderr: nothing in the first second, nothing where nobody looks. */
export interface Progress {
  tick: (done: number, all: number) => void;
  end: () => void;
}

const WAIT = 1000;
const EVERY = 100;

export function progress(label: string): Progress {
  const started = Date.now();
  let shown = 0;
  return {
    tick(done, all) {
      const now = Date.now();
      if (!process.stderr.isTTY || now - started < WAIT || now - shown < EVERY) return;
      shown = now;
      process.stderr.write(`\r\u001b[K${label} ${done} of ${all}`);
    },
    end() {
      if (shown > 0) process.stderr.write('\r\u001b[K');
    },
  };
}
