/**
 * Errors of the disk, once or from then on, at steps all over a command: the folder is all before or all after.
 * ESTRADE_STRIDE sets how many steps lie between those that fail.
 */
import { afterAll, expect, test } from '@jest/globals';
import { isDeep } from '../arbitrary/cases.js';
import { Folder, removeFolders, site } from './estrade.js';
import { type Faulty, faultyRuns, type Files, type Then } from './faulty.js';

afterAll(removeFolders);

/** The runs of a command with an error of the disk in each, and what the survey after it left, for each kind of error. */
function runsOf(folder: Folder, args: string[]): { runs: Faulty[]; after: Files }[] {
  const stride = process.env.ESTRADE_STRIDE ?? (isDeep ? '6' : '19');
  return faultyRuns(folder, { codes: ['ENOSPC', 'EIO'], args, stride, then: [['survey']] }).map(({ runs, last }) => {
    expect([last.status, last.err]).toEqual([0, '']);
    for (const { err, status } of runs) {
      expect(err).not.toMatch(/should not|\/proc\/|E[A-Z]{3,}/);
      if (status !== 0) expect(err).toMatch(/^estrade: ./);
    }
    return { runs, after: last.files };
  });
}

const files: Files = {
  ...site(),
  'site.css': '.boat { color: navy }\nbody { margin: 0 }\n.boat__name { margin: 0 }\n',
};
for (const name of ['index.html', 'islands/all.html']) {
  const link = `<link rel="stylesheet" href="${name === 'index.html' ? '' : '../'}site.css">`;
  files[name] = files[name]!.replace('</head>', `${link}</head>`);
}
const lifted = () => {
  const folder = new Folder(files);
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  return folder;
};
const moved = () => {
  const folder = new Folder(files);
  expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
  return folder;
};

const WRITING: [string, () => Folder, string[]][] = [
  ['lift', () => new Folder(files), ['lift', '--recommended', '--styles', 'move']],
  ['undo', moved, ['undo']],
  ['styles --move', lifted, ['styles', 'boat-card', '--move']],
  ['styles --back', moved, ['styles', 'boat-card', '--back']],
];

test.each(WRITING)(
  '%s: what was begun is finished or taken back, by the next command at the latest',
  (_, prepare, args) => {
    const folder = prepare();
    const before = folder.files();
    for (const { runs, after } of runsOf(folder, args)) {
      expect(runs.length).toBeGreaterThan(isDeep ? 20 : 6);
      let unwritten = 0;
      for (const { status, err, files: now, then } of runs) {
        const [{ status: next, files: recovered }] = then as [Then];
        // what cannot be read is named, and the rest is lifted
        if (err.includes('the rest is read')) continue;
        expect([before, after]).toContainEqual(recovered);
        expect(next).toBe(0);
        if (status === 0) expect([now, recovered]).toEqual([after, after]);
        for (const [path, text] of Object.entries(now)) expect([before[path], after[path]]).toContain(text);
        if (status !== 0) unwritten++;
      }
      expect(unwritten).toBeGreaterThan(isDeep ? 10 : 3);
    }
  },
);

test.each([
  [['expand', '--out', 'built']],
  [['emit', 'tsx', '--out', 'built']],
  [['emit', 'elements', '--out', 'built']],
])('%j: what is there is whole, the project as it was, and what ends well is right', (args) => {
  const folder = lifted();
  const before = folder.files();
  for (const { runs, after } of runsOf(folder, args))
    for (const { status, err, files: now, then } of runs) {
      if (err.includes('the rest is read')) continue;
      expect(then[0]!.files).toMatchObject(before);
      if (status === 0) expect(now).toEqual(after);
      for (const [path, text] of Object.entries(now))
        if (path !== 'built/.estrade-output.json') expect(text).toBe(after[path]);
    }
});
