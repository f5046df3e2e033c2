/** The options of the program itself: where it runs, with which settings, and how much it says. */
import { afterAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const card = (n: number) =>
  `<article class="card">\n  <h2>Boat ${n}</h2>\n  <p>Sails from the old quay every hour, and waits for no one.</p>\n</article>`;
const site = {
  'site/one.html': page([1, 2, 3].map(card).join('\n')),
  'site/two.html': page([4, 5, 6].map(card).join('\n')),
  'else/other.json': '{ "pages": ["one.html"], "components": "parts" }',
};
const folder = new Folder(site);

test('-C runs a command in another folder, before the command or after it', () => {
  expect(folder.run(['-C', 'site', 'survey']).out).toContain('2 pages');
  expect(folder.run(['survey', 'two.html', '-C', 'site']).out).toContain('1 page,');
  const wrong = folder.run(['-C', 'nowhere', 'survey']);
  expect([wrong.status, wrong.err]).toEqual([2, expect.stringMatching(/cannot go to nowhere: [^]*-C takes a folder/)]);
});

test('in a folder that is gone by now it says so', () => {
  const gone = join(folder.path, 'gone');
  const bin = join(import.meta.dirname, '../../dist/bin.js');
  const run = spawnSync(
    'sh',
    ['-c', `mkdir gone && cd gone && rmdir "${gone}" && "${process.execPath}" "${bin}" survey`],
    {
      cwd: folder.path,
      encoding: 'utf8',
    },
  );
  expect([run.status, run.stderr]).toEqual([2, expect.stringMatching(/the current folder is not there any more/)]);
});

test('--config takes settings from another file, whose mistakes are told with their place', () => {
  const args = ['-C', 'site', '--config', '../else/other.json'];
  // the path is that of the folder in which the command runs
  expect(folder.run([...args, 'survey']).out).toContain('1 page,');
  expect(folder.run([...args, 'lift', '--recommended', '--dry-run']).out).toContain('+++ b/parts/');
  folder.write({ 'else/bad.json': '{\n  "pags": []\n}' });
  const wrong = folder.run(['-C', 'site', '--config', '../else/bad.json', 'survey']);
  expect([wrong.status, wrong.err]).toEqual([2, expect.stringMatching(/bad\.json:2:3: .*"pags"/)]);
  expect(folder.run(['-C', 'site', '--config', 'none.json', 'survey']).err).toMatch(/none\.json cannot be read/);
});

test('--quiet says what is wrong and answers, no more; --verbose lists what is cut', () => {
  const own = new Folder(site);
  const run = (...args: string[]) => own.run(['-C', 'site', ...args]);
  const said = ({ status, out, err }: ReturnType<typeof run>) => [status, out, err];
  expect(run('survey').out).toContain('Next: ');
  expect(run('survey', '-q').out).not.toContain('Next: ');
  expect(said(run('lift', '--recommended', '--quiet'))).toEqual([0, '', '']);
  expect(said(run('check', '-q'))).toEqual([0, '', '']);
  expect(run('check').out).toBe('Passed: both pages expand to exactly what they were.\n');
  const all = run('check', '--verbose');
  expect(all.out).toMatch(/^one\.html +bytes$/m);
  expect(all.err).toContain(`project ${join(own.path, 'site')}, no configuration; 1 component`);
  expect(said(run('expand', '--out', 'dist', '-q'))).toEqual([0, '', '']);
  const page = own.read('site/one.html');
  own.write({ 'site/one.html': page.replace('<body>', '<body>\n<some-card></some-card>').replace('Boat 2"', '"') });
  expect(run('check', '-q').out).toMatch(/^one\.html +edited /m);
  expect(said(run('undo', '--force', '-q'))).toEqual([0, expect.stringMatching(/^your one\.html is kept as /), '']);
  expect(run('-q', '--verbose', 'survey').err).toMatch(/--quiet and --verbose do not go together/);
});
