// Installs Debian's Chromium where the tests find none; as root, through apt-get.
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];
if (!PLACES.some((path) => existsSync(path))) {
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const run = (...args) => execFileSync('apt-get', args, { stdio: ['ignore', 'ignore', 'inherit'], env });
  try {
    run('update', '-q');
    run('install', '-q', '-y', '--no-install-recommends', 'chromium');
  } catch (error) {
    console.error(`The tests look at pages in Chromium, which could not be installed: ${error.message}`);
    console.error('Install it by hand, or run this as root where apt-get is at hand.');
    process.exitCode = 1;
  }
}
