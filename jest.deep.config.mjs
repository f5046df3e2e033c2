// More cases of every property, more steps of what is killed, and pictures of more pages: what asks for them.
import { readdirSync, readFileSync } from 'node:fs';
import usual from './jest.config.mjs';

process.env.ESTRADE_DEEP = '1';

const test = new URL('test/', import.meta.url);

export default {
  ...usual,
  testMatch: readdirSync(test, { recursive: true })
    .filter((name) => name.endsWith('.test.ts') && readFileSync(new URL(name, test), 'utf8').includes('/cases.js'))
    .map((name) => `<rootDir>/test/${name}`),
};
