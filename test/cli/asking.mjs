// A command line for the program that answers in another process: node asking.mjs <folder of its pipes> <args…>.
import { openSync, readSync, writeSync } from 'node:fs';
import { join } from 'node:path';

const [folder, ...args] = process.argv.slice(2);
const [questions, answers] = [openSync(join(folder, 'questions'), 'w'), openSync(join(folder, 'answers'), 'r')];
writeSync(questions, `${JSON.stringify({ args, cwd: process.cwd() })}\n`);
const parts = [];
do {
  const part = Buffer.alloc(1 << 16);
  parts.push(part.subarray(0, readSync(answers, part)));
} while (parts.at(-1).at(-1) !== 10);
const { status, out, err } = JSON.parse(Buffer.concat(parts).toString('utf8'));
process.stdout.write(out);
process.stderr.write(err);
process.exitCode = status;
