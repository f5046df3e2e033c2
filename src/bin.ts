#!/usr/bin/env node
// The version is answered before anything else is loaded.
import { readFileSync } from 'node:fs';

const args = process.argv.slice(2);
if (args.length === 1 && (args[0] === '--version' || args[0] === '-V')) {
  const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
    version: string;
  };
  console.log(version);
} else {
  const [{ commandIn }, load] = await Promise.all([import('./arguments.js'), import('./load.js')]);
  const command = commandIn(args);
  const { program, scripts } = load.loadProgram(command);
  process.exitCode = await program.main(args);
  // what ended early, or only with help, has compiled little of it
  const isWhole = process.exitCode === 0 && !args.some((arg) => arg === '--help' || arg === '-h');
  if (command !== '' && isWhole) load.keepCompiled(scripts);
}
