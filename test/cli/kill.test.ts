/** Killed at every step: the folder is all old or all new, and the next command or undo makes it all old. */
import { afterAll, expect, test } from '@jest/globals';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { isDeep } from '../arbitrary/cases.js';
import { Folder, lifted, removeFolders, ROOT, site } from './estrade.js';

const preload = join(ROOT, 'test/cli/fault.cjs');
afterAll(removeFolders);

/** Runs `args` on copies of a folder, killed at each step in turn; `check` gets what was before and after. */
function killEverywhere(
  prepared: Folder,
  args: string[],
  check: (folder: Folder, step: number, states: { before: string; after: string }) => void,
  stride = 1,
): number {
  // the first write of all makes this user's key
  new Folder(site()).run(['lift', '--recommended']);
  const whole = prepared.copy();
  const before = JSON.stringify(whole.files());
  const counter = join(whole.path, '..', `${whole.path.split('/').pop()!}.steps`);
  expect(whole.run(args, { preload, env: { STEPS: counter } }).status).toBe(0);
  const after = JSON.stringify(whole.files());
  const steps = Number(readFileSync(counter, 'utf8'));
  for (let step = 1; step <= steps; step += stride) {
    const folder = prepared.copy();
    expect(folder.run(args, { preload, env: { KILL_AT: String(step) } }).signal).toBe('SIGKILL');
    check(folder, step, { before, after });
  }
  return steps;
}

test('a lift killed at any step leaves whole files, and is taken back by the next command', () => {
  let finished = 0;
  const steps = killEverywhere(new Folder(site()), ['lift', '--recommended'], (folder, step, { before, after }) => {
    const [old, fresh] = [before, after].map((text) => JSON.parse(text) as Record<string, string>);
    for (const [path, content] of Object.entries(folder.files()))
      if (!path.endsWith('.estrade-tmp')) expect([old![path], fresh![path]]).toContain(content);
    // every other time it is undo that finds it
    const next = folder.run(step % 2 === 0 ? ['undo'] : ['survey']);
    const now = JSON.stringify(folder.files());
    if (now === after) {
      finished++;
      expect(folder.run(['check']).status).toBe(0);
      expect(folder.run(['undo']).status).toBe(0);
    } else expect(next.err).not.toMatch(/should not/);
    expect(JSON.stringify(folder.files())).toBe(before);
    if (existsSync(join(folder.path, '.estrade'))) folder.run(['survey']);
    expect(existsSync(join(folder.path, '.estrade'))).toBe(false);
  });
  expect(steps).toBeGreaterThan(60);
  // only after the entry is marked done may the lift stand
  expect(finished).toBeLessThan(12);
});

test('an undo killed at any step ends all old', () => {
  const original = JSON.stringify(new Folder(site()).files());
  killEverywhere(lifted(), ['undo'], (folder, _, { before }) => {
    folder.run(['survey']);
    if (JSON.stringify(folder.files()) === before) folder.run(['undo']);
    expect(JSON.stringify(folder.files())).toBe(original);
  });
});

test.each([
  ['rename', 'boat-card', 'vessel-card'],
  ['arrange', 'own', '--suffix', '.part'],
])('%s killed at any step leaves whole files, and is taken back by the next command', (...args) => {
  killEverywhere(
    lifted(site(), '--styles', 'move'),
    args,
    (folder, _, { before, after }) => {
      folder.run(['survey']);
      expect([before, after]).toContain(JSON.stringify(folder.files()));
      expect(folder.run(['check']).status).toBe(0);
      while (existsSync(join(folder.path, '.estrade'))) expect(folder.run(['undo']).status).toBe(0);
      expect(folder.files()).toEqual(new Folder(site()).files());
    },
    // what is different from a lift is few steps long
    isDeep ? 1 : 5,
  );
});

test('a page that changes while the lift is planned is noticed, and nothing is written', () => {
  const folder = new Folder(site());
  const { status, err } = folder.run(['lift', '--recommended'], {
    preload,
    env: { CHANGE: join(folder.path, 'index.html') },
  });
  expect(err).toMatch(/index\.html has changed while this was planned/);
  expect(status).toBe(1);
  expect(folder.files()).toEqual({
    ...new Folder(site()).files(),
    'index.html': `${site()['index.html']!}<!-- someone else -->`,
  });
});
