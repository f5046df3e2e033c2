/** Nothing is lost and nobody let in: links, crafted journals, damage, edits, and others who write at the same time. */
import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { Folder, lifted, page, card, removeFolders, ROOT, site } from './estrade.js';

const preload = join(ROOT, 'test/cli/fault.cjs');
afterAll(removeFolders);

const digest = (text: string) => createHash('sha256').update(text).digest('hex');
const put = (folder: Folder, path: string, text: string) => {
  mkdirSync(dirname(join(folder.path, path)), { recursive: true });
  writeFileSync(join(folder.path, path), text);
};
/** All that is kept anywhere below a folder, the journal too. */
const textsIn = (path: string) =>
  readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((each) => each.isFile())
    .map((each) => readFileSync(join(each.parentPath, each.name), 'utf8'));
/** A write that says it was cut short, as whoever made the checkout wants it to be. */
const crafted = (before: string | null, after: string) =>
  JSON.stringify({
    ...{ format: 1, id: 1, state: 'writing', command: 'lift boat-card', at: '2026-01-01T00:00:00.000Z', folders: [] },
    files: [
      { path: 'index.html', before: before === null ? null : digest(before), after: digest(after), origin: null },
    ],
  });

describe('a checkout that someone else made', () => {
  let elsewhere: Folder;
  beforeEach(() => {
    elsewhere = new Folder({ 'precious.txt': 'mine', [digest('mine')]: 'mine', '0001.json': '{}' });
  });
  const untouched = () => expect(Object.keys(elsewhere.files())).toHaveLength(3);

  test.each(['.estrade', '.estrade/contents', '.estrade/entries', '.estrade/temporary', '.estrade/kept'])(
    '%s as a link: nothing is read, written or removed behind it, and repair takes the link away',
    (path) => {
      const folder = new Folder(site());
      mkdirSync(dirname(join(folder.path, path)), { recursive: true });
      symlinkSync(elsewhere.path, join(folder.path, path));
      for (const args of [['survey'], ['lift', '--recommended'], ['check'], ['undo', '--force'], ['undo', '--force']])
        expect(folder.run(args).err).not.toMatch(/should not|ENO|ELOOP/);
      untouched();
      folder.run(['repair', '--apply']);
      expect(folder.run(['repair']).out).toMatch(/Nothing is wrong/);
      expect(folder.run(['lift', '--recommended']).status).toBe(0);
      expect(folder.run(['undo']).status).toBe(0);
      expect(folder.files()).toEqual(new Folder(site()).files());
      untouched();
    },
  );

  test('links where files of ours go: what they lead to stays as it is', () => {
    const folder = new Folder(site());
    const target = join(elsewhere.path, 'precious.txt');
    for (const name of ['.index.html.estrade-tmp', '.estrade/temporary/file', '.estrade/lock']) {
      mkdirSync(dirname(join(folder.path, name)), { recursive: true });
      symlinkSync(target, join(folder.path, name));
    }
    expect(folder.run(['lift', '--recommended'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/lock is a link/),
    });
    rmSync(join(folder.path, '.estrade/lock'));
    expect(folder.run(['lift', '--recommended']).status).toBe(0);
    expect(elsewhere.read('precious.txt')).toBe('mine');
  });

  test('a folder that becomes a link while it is written to: nothing goes through it', () => {
    const folder = new Folder(site());
    elsewhere.write({ 'all.html': 'mine' });
    const swap = join(new Folder().path, 'swap.cjs');
    writeFileSync(
      swap,
      `const fs = require('node:fs'); const rename = fs.renameSync; const to = ${JSON.stringify(join(folder.path, 'islands'))};
      fs.renameSync = (a, b) => { if (String(b).endsWith('all.html') && !fs.lstatSync(to).isSymbolicLink()) { rename(to, to + '-gone'); fs.symlinkSync(${JSON.stringify(elsewhere.path)}, to); } return rename(a, b); };
      require('node:module').syncBuiltinESMExports();`,
    );
    expect(folder.run(['lift', '--recommended'], { preload: swap }).status).not.toBe(0);
    expect(elsewhere.read('all.html')).toBe('mine');
  });

  test('a journal that this user did not write is not acted upon, before that is asked for', () => {
    const folder = new Folder(site());
    const old = '<p>what the stranger wants there</p>';
    put(folder, '.estrade/entries/0001.json', crafted(old, site()['index.html']!));
    put(folder, `.estrade/contents/${digest(old)}`, old);
    const { status, err } = folder.run(['survey']);
    expect({ status, err }).toMatchObject({ status: 0, err: expect.stringMatching(/did not run it on this machine/) });
    for (const args of [['undo'], ['lift', '--recommended'], ['repair']]) expect(folder.run(args).status).not.toBe(0);
    expect(folder.read('index.html')).toBe(site()['index.html']);
    expect(folder.run(['repair', '--apply']).status).toBe(0);
    expect(folder.read('index.html')).toBe(old);
  });

  test('nor removes a file because such a journal says that it made it; a lift of another user counts when adopted', () => {
    const folder = new Folder(site());
    put(folder, '.estrade/entries/0001.json', crafted(null, site()['index.html']!));
    folder.run(['survey']);
    expect(folder.files()).toEqual(new Folder(site()).files());
    const moved = lifted();
    const other = { env: { XDG_STATE_HOME: join(new Folder().path, 'nobody') } };
    expect(moved.run(['undo'], other)).toMatchObject({ status: 1, err: expect.stringMatching(/estrade repair/) });
    expect(moved.run(['check'], other).status).toBe(0);
    expect(moved.run(['repair', '--apply'], other).status).toBe(0);
    expect(moved.run(['undo'], other).status).toBe(0);
    expect(moved.files()).toEqual(new Folder(site()).files());
  });
});

test.each([
  ['prettier.config.mjs', (module: string) => `import ${JSON.stringify(module)}; export default { semi: false };`],
  ['.prettierrc', (module: string) => JSON.stringify(module)],
  ['.prettierrc', (module: string) => `# ours\n---\n${module}\n`],
  ['package.json', (module: string) => JSON.stringify({ prettier: module })],
  ['.prettierrc.json', (module: string) => JSON.stringify({ semi: false, plugins: [module] })],
  ['.prettierrc.yaml', (module: string) => `semi: false\nplugins:\n  - ${module}\n`],
  ['.prettierrc.toml', (module: string) => `semi = false\nplugins = [${JSON.stringify(module)}]\n`],
])('emit runs no program that %s is or names, unless it is told to', (name, config) => {
  const folder = lifted();
  const ran = join(folder.path, 'ran');
  const module = join(folder.path, 'run.mjs');
  folder.write({
    'run.mjs': `import { writeFileSync } from 'node:fs'; writeFileSync(${JSON.stringify(ran)}, ''); export default { semi: false };`,
    [name]: config(module),
  });
  const { status, out } = folder.run(['emit', 'tsx']);
  expect({ status, out }).toMatchObject({ status: 0, out: expect.stringMatching(/is not run: --trust-config does/) });
  expect(existsSync(ran)).toBe(false);
  expect(folder.run(['emit', 'tsx', '--out', 'again', '--trust-config']).status).toBe(0);
  expect(existsSync(ran)).toBe(true);
});

test.each([
  ['.prettierrc', 'semi: false\n'],
  ['.prettierrc.json5', '{ semi: false }'],
  ['.prettierrc.toml', '# ours\nsemi = false\n'],
  ['package.json', '{ "prettier": { "semi": false } }'],
])('emit follows %s as long as it is data', (name, config) => {
  const folder = lifted();
  folder.write({ [name]: config });
  expect(folder.run(['emit', 'tsx']).out).not.toMatch(/trust-config/);
  expect(Object.values(folder.files('emitted/tsx/components')).join('')).not.toMatch(/;\n/);
});

test('an answer that cannot be written is told in one line', () => {
  const folder = new Folder(site());
  const command = `${process.execPath} ${join(ROOT, 'dist/bin.js')} survey > /dev/full`;
  const { status, stderr } = spawnSync('sh', ['-c', command], { cwd: folder.path, encoding: 'utf8' });
  expect({ status, lines: stderr.trimEnd().split('\n') }).toEqual({
    status: 2,
    lines: [expect.stringMatching(/the answer cannot be written: no space is left/)],
  });
});

describe('an output folder', () => {
  const own: Record<string, string> = { ...site(), 'img/tern.png': 'png', 'js/menu.js': '1', 'src/app.ts': '1' };
  own['index.html'] = own['index.html']!.replace(
    '</body>',
    '<img src="img/tern.png"><script src="js/menu.js"></script></body>',
  );
  const build = (target: string, out: string) =>
    target === 'expand' ? ['expand', '--out', out] : ['emit', target, '--out', out];

  test.each(['expand', 'elements', 'tsx'])('of %s is no folder that holds or is something of the project', (target) => {
    const folder = lifted(own);
    folder.write({ 'data/rows.json': '[]', '.git/config': '' });
    symlinkSync(join(folder.path, 'components'), join(folder.path, 'alias'));
    const alias = join(new Folder().path, 'alias');
    symlinkSync(folder.path, alias);
    const before = folder.files();
    const outside = [alias, '..', '.'];
    const inside = ['components', 'components/built', 'alias', 'data/x', '.estrade', '.git/x', 'islands', 'img', 'js'];
    for (const out of [...outside, ...inside])
      expect({ folder: out, ...folder.run(build(target, out)) }).toMatchObject({
        status: 2,
        err: expect.stringMatching(/--out/),
      });
    expect(folder.files()).toEqual(before);
    expect(folder.run(build(target, 'src'))).toMatchObject({
      status: 2,
      err: expect.stringMatching(/--out src holds files that Estrade did not write, such as app\.ts/),
    });
    expect(folder.run([...build(target, 'src'), '--force']).status).toBe(0);
  });

  test('of expand outside of the project is empty, or one that expand wrote', () => {
    const folder = lifted();
    const elsewhere = new Folder({ 'notes.txt': 'mine', '.git/config': '' });
    const args = ['expand', '--out', elsewhere.path];
    expect(folder.run(args)).toMatchObject({
      status: 2,
      err: expect.stringMatching(/holds files that Estrade did not write, such as notes\.txt/),
    });
    expect(Object.keys(elsewhere.files())).toEqual(['.git/config', 'notes.txt']);
    expect([folder.run([...args, '--force']).status, folder.run(args).status]).toEqual([0, 0]);
    expect(elsewhere.read('notes.txt')).toBe('mine');
  });

  test('keeps what others put there, follows no link in it, and knows its own after a kill', () => {
    const folder = lifted();
    const elsewhere = new Folder({ 'precious.css': 'mine' });
    const out = join(folder.path, 'dist');
    folder.run(['expand', '--out', 'dist']);
    // the same bytes, put there by someone else, and a link
    rmSync(out, { recursive: true });
    put(folder, 'dist/index.html', site()['index.html']!);
    symlinkSync(join(elsewhere.path, 'precious.css'), join(out, 'site.css'));
    expect(folder.run(['expand', '--out', 'dist'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/--out dist holds files/),
    });
    put(folder, 'dist/.estrade-output.json', '{ "format": 1, "files": {} }');
    expect(folder.run(['expand', '--out', 'dist'])).toMatchObject({
      status: 1,
      err: expect.stringMatching(/site\.css/),
    });
    expect(folder.run(['expand', '--out', 'dist', '--force']).err).toMatch(/site\.css is a link/);
    expect(elsewhere.read('precious.css')).toBe('mine');
    rmSync(join(out, 'site.css'));
    expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
    rmSync(join(folder.path, 'index.html'));
    expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
    expect(folder.read('dist/index.html')).toBe(site()['index.html']);
    const steps = join(folder.path, '.estrade', 'steps');
    folder.run(['expand', '--out', 'whole'], { preload, env: { STEPS: steps } });
    for (let step = 1; step <= Number(readFileSync(steps, 'utf8')); step += 4) {
      const pages = (folder.json(['survey']) as { pages: unknown[] }).pages.length;
      rmSync(join(folder.path, 'whole'), { recursive: true, force: true });
      expect(folder.run(['expand', '--out', 'whole'], { preload, env: { KILL_AT: String(step) } }).signal).toBe(
        'SIGKILL',
      );
      expect((folder.json(['survey']) as { pages: unknown[] }).pages).toHaveLength(pages);
      expect(folder.run(['expand', '--out', 'whole']).status).toBe(0);
      expect(Object.keys(folder.files('whole')).filter((path) => /estrade-[0-9a-f]/.test(path))).toEqual([]);
    }
  });

  test('is not what a page of the configuration, or data, may lead to outside', () => {
    const elsewhere = new Folder({ 'x.json': '[1]' });
    const folder = new Folder({ ...site(), 'estrade.config.json': '{ "pages": ["../**/*.html"] }' });
    expect(folder.run(['survey'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/config\.json:1:\d+.*inside the project/),
    });
    rmSync(join(folder.path, 'estrade.config.json'));
    symlinkSync(elsewhere.path, join(folder.path, 'data'));
    expect(folder.run(['survey'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/data is outside the project/),
    });
  });
});

describe('edits and damage', () => {
  test('an undo that was killed, then an edit: the edit is there afterwards, whatever the step', () => {
    const counter = lifted();
    const steps = join(counter.path, 'steps');
    counter.run(['undo'], { preload, env: { STEPS: steps } });
    for (let step = 1; step <= Number(readFileSync(steps, 'utf8')); step += 5) {
      const folder = lifted();
      folder.run(['undo'], { preload, env: { KILL_AT: String(step) } });
      put(folder, 'index.html', `edited after step ${step}`);
      folder.run(['survey']);
      folder.run(['undo', '--force']);
      expect(textsIn(folder.path)).toContain(`edited after step ${step}`);
    }
  });

  test('undo --force twice keeps both of what it overwrote', () => {
    const folder = new Folder(site());
    for (const edit of ['the first edit', 'the second edit']) {
      expect(folder.run(['lift', '--recommended']).status).toBe(0);
      put(folder, 'index.html', edit);
      expect(folder.run(['undo', '--force']).status).toBe(0);
    }
    expect(textsIn(join(folder.path, '.estrade/kept')).sort()).toEqual(['the first edit', 'the second edit']);
  });

  test.each([
    ['contents', 'is gone', (path: string) => rmSync(path)],
    ['contents', 'was changed', (path: string) => writeFileSync(path, 'something else')],
    ['entries', 'cannot be read', (path: string) => writeFileSync(path, '{')],
  ])('%s that %s: only what needs it is refused, before anything is written', (kind, why, damage) => {
    const folder = lifted();
    const name = kind === 'entries' ? '0001.json' : digest(site()['index.html']!);
    damage(join(folder.path, '.estrade', kind, name));
    const before = folder.files();
    const undone = folder.run(['undo']);
    expect(undone.status).not.toBe(0);
    expect(undone.err).toContain(name);
    expect(folder.run(['survey']).status).toBe(0);
    expect(folder.run(['outline', 'index.html']).status).toBe(0);
    expect(folder.run(['expand', '--out', join(new Folder().path, 'out')]).status).toBe(0);
    const checked = folder.run(['check']);
    expect(`${checked.out}${checked.err}`).toMatch(new RegExp(`${name}.*${why}`));
    expect(folder.files()).toEqual(before);
    expect(folder.run(['repair'])).toMatchObject({ status: 1, out: expect.stringContaining(name) });
  });

  test('after a killed lift: a folder that was removed, a page that became a folder, and names of any length', () => {
    const long = `${'q'.repeat(240)}.html`;
    const files = { ...site(), [long]: page([card('Tern', 'a.html'), card('Eider', 'b.html')].join('\n')) };
    const folder = new Folder(files);
    const steps = join(folder.path, 'steps');
    new Folder(files).run(['lift', '--recommended'], { preload, env: { STEPS: steps } });
    const late = String(Number(readFileSync(steps, 'utf8')) - 20);
    rmSync(steps);
    expect(folder.run(['lift', '--recommended'], { preload, env: { KILL_AT: late } }).signal).toBe('SIGKILL');
    rmSync(join(folder.path, 'islands'), { recursive: true });
    rmSync(join(folder.path, 'index.html'));
    mkdirSync(join(folder.path, 'index.html'));
    expect(folder.run(['survey']).err).toMatch(/index\.html \(what it was: .*\) could not be put back/);
    expect(textsIn(join(folder.path, '.estrade/kept'))).toEqual([files['index.html']]);
    expect(folder.run(['survey'])).toMatchObject({ status: 0, err: '' });
    expect(folder.read(long)).toBe(files[long]);
    expect(folder.read('islands/all.html')).toBe(files['islands/all.html']);
  });

  test('a disk that is full while a killed lift is taken back: nothing is forgotten, and it is done later', () => {
    const folder = new Folder(site());
    const steps = join(new Folder().path, 'steps');
    new Folder(site()).run(['lift', '--recommended'], { preload, env: { STEPS: steps } });
    const late = String(Number(readFileSync(steps, 'utf8')) - 20);
    expect(folder.run(['lift', '--recommended'], { preload, env: { KILL_AT: late } }).signal).toBe('SIGKILL');
    const full = join(new Folder().path, 'full.cjs');
    writeFileSync(
      full,
      `const fs = require('node:fs'); fs.writeSync = () => { throw Object.assign(new Error('no'), { code: 'ENOSPC' }); }; require('node:module').syncBuiltinESMExports();`,
    );
    for (const args of [['survey'], ['undo']])
      expect(folder.run(args, { preload: full }).err).toMatch(/no space is left on the disk/);
    expect(folder.files()).not.toEqual(new Folder(site()).files());
    expect(folder.run(['survey']).err).toMatch(/was taken back/);
    expect(folder.files()).toEqual(new Folder(site()).files());
  });

  test('modes stay as they are', () => {
    const folder = new Folder(site());
    const modes = () =>
      ['index.html', 'islands/all.html'].map((path) => statSync(join(folder.path, path)).mode & 0o777);
    chmodSync(join(folder.path, 'index.html'), 0o666);
    chmodSync(join(folder.path, 'islands/all.html'), 0o600);
    for (const args of [['lift', '--recommended'], ['undo']]) {
      expect(folder.run(args).status).toBe(0);
      expect(modes()).toEqual([0o666, 0o600]);
    }
  });
});
