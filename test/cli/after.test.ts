/** The built program after a lift: expand, check, undo; and the program as a whole. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { cpSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { Folder, lifted, page, removeFolders, ROOT, site, STATE, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

interface CheckJson {
  passed: boolean;
  pages: {
    path: string;
    same: string;
    first: { line: number; column: number; what: string } | null;
    edited: string[];
  }[];
  problems: { kind: string; message: string; severity: string; path: string; line: number; column: number }[];
}

describe('expand', () => {
  test('copies the rest, leaves its output out of the survey, and removes only what it wrote', () => {
    const folder = lifted();
    folder.write({ 'extra.html': page('extra'), 'img/a.png': Buffer.from([0, 1, 2]) });
    // neither a link to nowhere nor one that leaves the project is part of the site
    symlinkSync('nowhere', join(folder.path, 'broken'));
    symlinkSync(join(ROOT, 'package.json'), join(folder.path, 'away.json'));
    folder.run(['expand', '--out', 'dist']);
    expect(Object.keys(folder.files('dist'))).toEqual([
      '.estrade-output.json',
      'extra.html',
      'img/a.png',
      'index.html',
      'islands/all.html',
      'site.css',
    ]);
    expect((folder.json(['survey']) as SurveyJson).pages.map(({ path }) => path)).toEqual([
      'extra.html',
      'index.html',
      'islands/all.html',
    ]);
    folder.write({ 'dist/mine.txt': 'mine' });
    spawnSync('rm', ['-r', join(folder.path, 'extra.html'), join(folder.path, 'img')]);
    expect(folder.run(['expand', '--out', 'dist']).out).toContain(
      '0 files written, 3 as they should be already, 2 old ones removed',
    );
    expect(Object.keys(folder.files('dist'))).toEqual([
      '.estrade-output.json',
      'index.html',
      'islands/all.html',
      'mine.txt',
      'site.css',
    ]);
    // what someone changed there since is in the way
    folder.write({ 'dist/index.html': 'edited' });
    expect(folder.run(['expand', '--out', 'dist'])).toMatchObject({
      status: 1,
      err: expect.stringContaining('dist/index.html'),
    });
    expect(folder.run(['expand', '--out', 'dist', '--force']).status).toBe(0);
    expect(folder.read('dist/index.html')).toBe(site()['index.html']);
  });
});

describe('check', () => {
  test('an edited page and an edited component are the user’s, shown and passed; the rest is proven', () => {
    const folder = lifted();
    folder.write({ 'index.html': folder.read('index.html').replace('heading="Tern"', 'heading="Skua"') });
    const { passed, pages } = folder.json(['check']) as CheckJson;
    expect(passed).toBe(true);
    expect(pages).toEqual([
      {
        path: 'index.html',
        same: 'different',
        first: { line: 6, column: 48, what: 'text "Tern" became "Skua"' },
        edited: ['index.html'],
      },
      { path: 'islands/all.html', same: 'bytes', first: null, edited: [] },
    ]);
    folder.write({
      'components/boat-card.html': folder.read('components/boat-card.html').replace('calls at', 'passes'),
    });
    expect((folder.json(['check']) as CheckJson).pages.map(({ edited }) => edited)).toEqual([
      ['index.html', 'components/boat-card.html'],
      ['components/boat-card.html'],
    ]);
    expect(folder.run(['check']).status).toBe(0);
  });

  test('a difference that nobody made is a failure', () => {
    const folder = lifted();
    // the journal says that this is what the lift wrote, so the difference is ours
    const entry = folder.read('.estrade/entries/0001.json');
    const hash = (text: string) => spawnSync('sha256sum', { input: text, encoding: 'utf8' }).stdout.slice(0, 64);
    const written = folder.read('index.html');
    const wrong = written.replace('heading="Tern"', 'heading="Skua"');
    folder.write({ 'index.html': wrong, '.estrade/entries/0001.json': entry.replace(hash(written), hash(wrong)) });
    const { status, out } = folder.run(['check']);
    expect(status).toBe(1);
    expect(out).toMatch(/index\.html\s+different\s+6:48/);
  });

  test('uses that are wrong are found, with their places', () => {
    const folder = lifted();
    const body =
      '<boat-crad></boat-crad>\n<boat-card heading="x"></boat-card>\n<boat-card heading="x" href="y" colour="z" state="odd"></boat-card>\n<my-own></my-own>\n<template use="no-such"></template>';
    folder.write({
      'wrong.html': page(body),
      'components/not-used.html': '<template component="not-used"><b>x</b></template>',
    });
    const { passed, problems } = folder.json(['check']) as CheckJson;
    expect(passed).toBe(false);
    const uses = problems.filter(({ kind }) => kind !== 'missing-file');
    expect(uses.map(({ kind, line, column }) => `${kind} ${line}:${column}`)).toEqual([
      'missing-prop 6:1',
      'unknown-choice 7:1',
      'unknown-prop 7:33',
      'unknown-component 5:1',
      'unknown-component 9:1',
      'unused-component 1:1',
    ]);
    expect(problems[3]!.message).toContain('did you mean boat-card?');
    expect(folder.run(['check']).status).toBe(1);
  });

  test('what looks like a use, and is the page’s own, passes before a lift and after it; what comes later does not', () => {
    const own =
      '<x-chart a="b"></x-chart>\n<template use="rows"><b>1</b></template>\n<div><slot name="c"></slot></div>';
    const folder = new Folder({ ...site(), 'index.html': site()['index.html']!.replace('</body>', `${own}\n</body>`) });
    expect(folder.run(['check']).status).toBe(0);
    expect(folder.run(['lift', '--recommended']).status).toBe(0);
    expect(folder.run(['check'])).toMatchObject({ status: 0, out: expect.not.stringMatching(/no component/) });
    folder.write({
      'index.html': folder.read('index.html').replace('</body>', '<template use="columns"></template></body>'),
    });
    expect(folder.run(['check'])).toMatchObject({ status: 1, out: expect.stringMatching(/no component columns/) });
  });

  test('a use left open is a problem of that page only', () => {
    const folder = lifted();
    folder.write({ 'open.html': page('<boat-card heading="x">') });
    const { problems, ...checked } = folder.json(['check']) as CheckJson;
    expect(checked).toMatchObject({ passed: false, pages: [{ same: 'bytes' }, { same: 'bytes' }] });
    expect(problems.filter(({ severity }) => severity === 'error')).toMatchObject([
      { kind: 'unreadable-use', path: 'open.html', line: 5 },
    ]);
  });
});

describe('undo', () => {
  test('refuses, file by file, what was changed since; --force keeps a copy', () => {
    const folder = lifted();
    const edited = folder.read('index.html').replace('</body>', 'mine</body>');
    folder.write({ 'index.html': edited });
    const refused = folder.run(['undo']);
    expect(refused).toMatchObject({ status: 1, err: expect.stringContaining('\n  index.html\n') });
    expect(folder.read('index.html')).toBe(edited);
    const { kept } = folder.json(['undo', '--force']) as { kept: { path: string; copy: string }[] };
    expect(folder.read(kept[0]!.copy)).toBe(edited);
    expect(folder.files()).toEqual(new Folder(site()).files());
    expect(folder.run(['undo'])).toMatchObject({ status: 1, err: expect.stringContaining('nothing to undo') });
  });

  test('a damaged journal is told, and nothing is touched', () => {
    const folder = lifted();
    const files = folder.files();
    folder.write({ '.estrade/entries/0001.json': '{ "format": 1 }' });
    expect(folder.run(['undo'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('.estrade/entries/0001.json cannot be read'),
    });
    expect(folder.files()).toEqual(files);
  });
});

describe('the program', () => {
  test('demo does the whole job, and every page but few is the same to the byte', () => {
    const { status, out } = new Folder().run(['demo']);
    expect(status).toBe(0);
    const [, bytes] = /compared it with the originals: all (\d+) pages expand to exactly what they were/.exec(out)!;
    const [, pages] = /(\d+) pages, \d+ other files/.exec(out)!;
    expect(Number(bytes) / Number(pages)).toBeGreaterThanOrEqual(0.9);
    const folder = /copied to (\S+)/.exec(out)![1]!;
    const undone = spawnSync(process.execPath, [join(ROOT, 'dist/bin.js'), 'undo'], {
      cwd: folder,
      encoding: 'utf8',
      env: { ...process.env, XDG_STATE_HOME: STATE },
    });
    expect(undone.status).toBe(0);
    expect(
      spawnSync('diff', ['-r', '--exclude=dist', join(ROOT, 'demo/site'), folder], { encoding: 'utf8' }),
    ).toMatchObject({ status: 0, stdout: '' });
    spawnSync('rm', ['-r', folder]);
  });

  test('every command has help with an example, and the version is the package’s', () => {
    const folder = new Folder();
    for (const command of ['survey', 'show', 'lift', 'expand', 'check', 'undo', 'demo']) {
      const { status, out } = folder.run([command, '--help']);
      expect([status, out]).toEqual([0, expect.stringMatching(new RegExp(`Examples?:\\n  estrade ${command}`))]);
    }
    expect(folder.run(['--version']).out).toMatch(/^\d+\.\d+\.\d+\n$/);
    expect(folder.run(['--help'])).toMatchObject({ status: 0, out: expect.stringMatching(/survey[^]*undo/) });
  });

  test('the packed package runs by itself', () => {
    const folder = new Folder();
    const packed = spawnSync('npm', ['pack', '--ignore-scripts', '--pack-destination', folder.path], {
      cwd: ROOT,
      encoding: 'utf8',
    });
    expect(packed.status).toBe(0);
    const tar = packed.stdout.trim().split('\n').at(-1)!;
    expect(spawnSync('tar', ['xf', tar], { cwd: folder.path }).status).toBe(0);
    symlinkSync(join(ROOT, 'node_modules'), join(folder.path, 'node_modules'));
    const run = spawnSync(process.execPath, ['package/dist/bin.js', 'demo'], { cwd: folder.path, encoding: 'utf8' });
    expect([run.status, run.stderr]).toEqual([0, '']);
  });

  test('the compiled code beside the program is taken, and one that is of no use is passed over', () => {
    const folder = new Folder({ 'index.html': '<!DOCTYPE html><title>Boats</title>' });
    symlinkSync(join(ROOT, 'node_modules'), join(folder.path, 'node_modules'));
    for (const name of ['dist', 'package.json']) cpSync(join(ROOT, name), join(folder.path, name), { recursive: true });
    const tell = `import('./dist/load.js').then(({ loadProgram }) => console.log([...loadProgram('survey').scripts.values()][0].cachedDataRejected))`;
    const isRejected = () =>
      spawnSync(process.execPath, ['-e', tell], { cwd: folder.path, encoding: 'utf8' }).stdout.trim();
    expect(isRejected()).toBe('false');
    folder.write({ 'dist/commands/program.cjs.survey.cache': 'of another version' });
    expect(isRejected()).toBe('true');
    const run = spawnSync(process.execPath, ['dist/bin.js', 'survey'], { cwd: folder.path, encoding: 'utf8' });
    expect([run.status, run.stderr]).toEqual([0, '']);
  });
});

test('an error of the program itself says which page and component it was at, and --debug where it came from', () => {
  const folder = new Folder({
    'index.html': page('<quay-sign quay-name="Mewport"></quay-sign>'),
    'components/quay-sign.html':
      '<template component="quay-sign">\n<meta prop="quay-name" type="text">\n<p>{{quayName}}</p>\n</template>\n',
  });
  const preload = join(folder.path, 'broken.cjs');
  // breaks whatever looks up one word
  const broken =
    'const { get } = Map.prototype; Map.prototype.get = function (key) { if (key === "WORD") null.x; return get.call(this, key); };';
  const run = (word: string, args: string[]) => {
    folder.write({ 'broken.cjs': broken.replace('WORD', word) });
    return folder.run(args, { preload });
  };
  const first = folder.read('index.html');
  folder.write({ 'index.html': first.replace('<body>', '<body class="odd-word">') });
  const { status, err } = run('odd-word', ['survey']);
  expect([status, err]).toEqual([
    2,
    expect.stringMatching(
      /^estrade: something went wrong that should not, at index\.html: Cannot read prop.*\n {2}--debug shows where\n$/,
    ),
  ]);
  folder.write({ 'index.html': first });
  expect(run('quayName', ['expand', '--out', 'dist', '--debug']).err).toMatch(
    /should not, at index\.html, components\/quay-sign\.html: Cannot read.*\n.*TypeError.*\n +at /,
  );
});

test.each([
  [['lift', '--recomended'], "unknown option '--recomended'", 'did you mean --recommended?'],
  [['lft'], "unknown command 'lft'", 'did you mean lift?'],
  [['survey', '--top', 'x'], "option '--top <n>' argument 'x' is invalid", 'estrade survey --help says what it takes'],
  [['emit'], "missing required argument 'target'", 'estrade emit --help says what it takes'],
  [['show', 'boat-crad'], 'the survey has no finding "boat-crad"', 'did you mean boat-card?'],
  [['lift', 'boat-card'], 'boat-card is a component already, in components/boat-card.html', 'edit that file'],
  [['styles', 'boat-cards', '--move'], 'there is no component boat-cards', 'estrade lift boat-cards'],
])('%j is an error of one style, on stderr, and as JSON where that is asked for', (args, message, hint) => {
  const folder = lifted();
  const told = folder.run(args);
  expect([told.status, told.out]).toEqual([2, '']);
  expect(told.err).toMatch(/^estrade: .*\n( {2}.*\n)+$/);
  expect(told.err).toContain(message);
  expect(told.err).toContain(hint);
  const { status, out, err } = folder.run([...args, '--json']);
  expect([status, err]).toEqual([2, told.err]);
  expect(JSON.parse(out)).toMatchObject({ format: 1, error: { status: 2, message: expect.stringContaining(message) } });
});
