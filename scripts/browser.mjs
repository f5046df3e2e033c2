// Installs Debian's Chromium where the tests do not find it: the one that shows no window, which is quicker; as root, through
// apt-get. Another one that is there does as well.
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const HEADLESS = '/usr/bin/chromium-headless-shell';
const OTHERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
const run = (...args) => execFileSync('apt-get', args, { stdio: ['ignore', 'ignore', 'pipe'], env });
const install = (name) => run('install', '-q', '-y', '--no-install-recommends', name);

/** Tries one thing after the other until one succeeds. @returns why the last one failed; null when one did not */
function firstThatSucceeds(ways) {
  let failure = null;
  for (const way of ways)
    try {
      way();
      return null;
    } catch (error) {
      failure = error;
    }
  return failure;
}

const isThere = OTHERS.some((path) => existsSync(path));
if (!existsSync(HEADLESS) && (process.getuid?.() === 0 || !isThere)) {
  const updated = (name) => () => {
    run('update', '-q');
    install(name);
  };
  const quick = () => install('chromium-headless-shell');
  const failure = firstThatSucceeds(
    isThere ? [quick] : [quick, updated('chromium-headless-shell'), updated('chromium')],
  );
  if (failure !== null && !isThere) {
    console.error(`The tests look at pages in Chromium, which could not be installed: ${failure.message}`);
    console.error('Install it by hand, or run this as root where apt-get is at hand.');
    process.exitCode = 1;
  }
}
