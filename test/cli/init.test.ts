/** The configuration to start with: it fits the folder, says what to commit, and overwrites nothing. */
import { afterAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { Folder, page, removeFolders, site } from './estrade.js';

afterAll(removeFolders);

test('init fits the folder, the survey goes by it, and nothing is written over', () => {
  const pages = { ...site(), 'old/a.htm': page('<p>a</p>'), 'dist/index.html': page('<p>b</p>'), 'made/x.html': '' };
  const folder = new Folder({ ...pages, '.gitignore': 'made\n' });
  expect(spawnSync('git', ['init', '-q'], { cwd: folder.path }).status).toBe(0);
  const dry = folder.run(['init', '--dry-run']);
  expect(folder.files()['estrade.config.json']).toBeUndefined();
  const run = folder.run(['init']);
  expect([run.status, run.err, folder.read('estrade.config.json')]).toEqual([0, '', dry.out]);
  expect(run.out).toContain('Written: estrade.config.json, for 3 pages and 1 stylesheet.');
  expect(run.out).toContain('Left out: dist/ (tools write such folders)\nLeft out: made/ (git ignores it)');
  expect(run.out).toContain('Leave the journal out of git: echo .estrade/ >> .gitignore');
  expect(run.out).toMatch(/^\d+ files here have changes that are not committed/m);
  expect(dry.out).toMatch(/"pages": \["\*\*\/\*\.htm", "\*\*\/\*\.html"\]/);
  expect((folder.json(['survey']) as { pages: { path: string }[] }).pages.map(({ path }) => path)).toEqual([
    'index.html',
    'islands/all.html',
    'old/a.htm',
  ]);
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  const before = folder.files();
  expect(folder.run(['init'])).toMatchObject({
    status: 1,
    err: expect.stringMatching(/estrade\.config\.json is there already/),
  });
  expect(folder.run(['init'], { cwd: 'islands' })).toMatchObject({
    status: 1,
    err: expect.stringMatching(/the project \.\. is around this folder/),
  });
  expect(folder.files()).toEqual(before);
});

test('init of a folder without pages writes nothing; a site may stand in nothing but a folder that tools write', () => {
  const empty = new Folder({ 'a.txt': '' });
  expect(empty.run(['init'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/no page is here[^]*go to the folder of your pages/),
  });
  expect(empty.files()).toEqual({ 'a.txt': '' });
  const built = new Folder({ 'dist/index.html': page('<p>a</p>') });
  expect(built.json(['init'])).toMatchObject({
    written: true,
    pageCount: 1,
    ignore: [],
    uncommitted: null,
    journalIgnored: null,
  });
});
