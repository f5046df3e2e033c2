#!/usr/bin/env node
// The version is answered before anything else is loaded.
import { readFileSync } from 'node:fs';
import { setFlagsFromString } from 'node:v8';

const args = process.argv.slice(2);
if (args.length === 1 && (args[0] === '--version' || args[0] === '-V')) {
  const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
    version: string;
  };
  console.log(version);
} else {
  // a command is over before most code that V8 optimises pays for that: it waits until code has shown to stay hot
  setFlagsFromString('--interrupt-budget=500000');
  const { main } = await import('./commands/program.js');
  process.exitCode = await main(args);
}
