/** Killed at every step: the folder is all old or all new, and the next command or undo makes it all old. */
import { afterAll, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { isDeep, usualTest } from '../arbitrary/cases.js';
import { Folder, lifted, removeFolders, ROOT, site } from './estrade.js';
import { faultyRuns, type Files, type Then } from './faulty.js';

const preload = join(ROOT, 'test/cli/fault.cjs');
afterAll(removeFolders);

const SURVEY = ['survey'];
const UNDO = ['undo'];

/** What is left by a command that is killed at each step in turn, and by what comes after. */
function killedEverywhere(folder: Folder, args: string[], then: string[][], stride = 1) {
  // the first write of all makes this user's key
  lifted();
  const { runs, last } = faultyRuns(folder, { codes: ['SIGKILL'], args, stride: String(stride), then })[0]!;
  expect(last.status).toBe(0);
  return { runs, before: folder.files(), after: last.files };
}

test.each([
  ['survey', [SURVEY, ['check'], UNDO, SURVEY]],
  ['undo', [UNDO, ['check'], UNDO, SURVEY]],
])('a lift killed at any step leaves whole files, and is taken back by the next %s', (_, then) => {
  // each of the two is tried at every other step, or at all
  const first = then[0] === UNDO ? 2 : 1;
  lifted();
  const args = ['lift', '--recommended'];
  const folder = new Folder(site());
  const stride = isDeep ? '1' : '2';
  const { runs, last } = faultyRuns(folder, { codes: ['SIGKILL'], args, first, stride, then })[0]!;
  const [before, after] = [folder.files(), last.files];
  let finished = 0;
  for (const { files, then: ran } of runs) {
    for (const [path, content] of Object.entries(files))
      if (!path.endsWith('.estrade-tmp')) expect([before[path], after[path]]).toContain(content);
    const [next, checked, undone, surveyed] = ran as [Then, Then, Then, Then];
    expect(next.err).not.toMatch(/should not/);
    // only after the entry is marked done may the lift stand
    if (JSON.stringify(next.files) === JSON.stringify(after)) {
      finished++;
      expect([checked.status, undone.status]).toEqual([0, 0]);
    } else expect(next.files).toEqual(before);
    expect([surveyed.files, surveyed.journal]).toEqual([before, false]);
  }
  expect(runs.length).toBeGreaterThan(isDeep ? 60 : 30);
  expect(finished).toBeLessThan(12);
});

test('an undo killed at any step ends all old', () => {
  const original = new Folder(site()).files();
  const { runs } = killedEverywhere(lifted(), UNDO, [SURVEY, UNDO]);
  for (const { then } of runs) expect(then[1]!.files).toEqual(original);
});

test.each([
  ['rename', 'boat-card', 'vessel-card'],
  ['arrange', 'own', '--suffix', '.part'],
])('%s killed at any step leaves whole files, and is taken back by the next command', (...args) => {
  const then = [SURVEY, ['check'], UNDO, UNDO, UNDO];
  const { runs, before, after } = killedEverywhere(lifted(site(), '--styles', 'move'), args, then, isDeep ? 1 : 3);
  for (const { then: ran } of runs) {
    const [surveyed, checked, , , undone] = ran as [Then, Then, Then, Then, Then];
    expect([before, after]).toContainEqual(surveyed.files);
    expect(checked.status).toBe(0);
    expect([undone.files, undone.journal]).toEqual([new Folder(site()).files(), false]);
  }
});

test('a process that is really killed leaves the same', () => {
  const whole = new Folder(site());
  const counter = join(whole.path, '..', `${whole.path.split('/').pop()!}.steps`);
  const lift = ['lift', '--recommended'];
  expect(whole.run(lift, { preload, env: { STEPS: counter } }).status).toBe(0);
  const steps = Number(readFileSync(counter, 'utf8'));
  const { runs } = killedEverywhere(new Folder(site()), lift, []);
  const shown = (all: Files) =>
    Object.entries(all).map(([path, text]) => path.replace(/\.[\w-]*\.estrade-tmp$/, '') + text);
  const left = runs.map(({ files }) => shown(files));
  for (let at = 1; at < steps; at += isDeep ? 4 : 19) {
    const folder = new Folder(site());
    expect(folder.run(lift, { preload, env: { KILL_AT: String(at) } }).signal).toBe('SIGKILL');
    expect(left).toContainEqual(shown(folder.files()));
    expect(folder.run(SURVEY).status).toBe(0);
  }
});

usualTest('a page that changes while the lift is planned is noticed, and nothing is written', () => {
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
