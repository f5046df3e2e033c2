/** Nothing goes by without a word: what is built and what is left out, where the project is, what pages are compared with. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Folder, page, removeFolders, ROOT } from './estrade.js';

afterAll(removeFolders);

const row = (name: string, time: string) =>
  `<li class="sailing"><b class="sailing__to">${name}</b> <i class="sailing__at">${time}</i></li>`;
const board = (...rows: [string, string][]) => page(`<ul>\n${rows.map((each) => row(...each)).join('\n')}\n</ul>`);
const site = {
  'index.html': board(['Mewport', '9:10'], ['Orlay', '9:40'], ['Sandrey', '10:05']),
  'isles/orlay.html': board(['Varnhaven', '11:10'], ['Mewport', '12:00']),
};
const lifted = (files: Record<string, string> = {}) => {
  const folder = new Folder({ ...site, ...files });
  const { status, err } = folder.run(['lift', '--recommended']);
  if (status !== 0) throw new Error(err);
  return folder;
};

describe('a built site', () => {
  const held = {
    'img/quay.png': 'x',
    'img/LOGO.PNG': 'x',
    'robots.txt': 'x',
    '.well-known/security.txt': 'x',
    'terms of use.txt': 'x',
    'fares/table.csv': 'x',
    'css/site.css': '@import "more.css";\n@import url(print.less);\na { background: url("tide.dat?v=2") }',
    'css/more.css': 'b { color: red }',
    'css/print.less': 'x',
    'css/tide.dat': 'x',
  };
  const kept = {
    '.env': 'SECRET=1',
    '.gitignore': 'dist',
    '.vscode/settings.json': '{}',
    'package.json': '{}',
    'package-lock.json': '{}',
    'yarn.lock': 'x',
    'build.config.js': 'x',
    'src/app.ts': 'x',
    'notes/todo.md': 'x',
    'drafts/new.html': '<p>soon',
    'drafts/plan.png': 'x',
  };
  const folder = lifted({
    ...held,
    ...kept,
    '.git/config': 'x',
    'node_modules/tides/index.js': 'x',
    'estrade.config.json': '{ "ignore": ["drafts/**"], "data": "lists", "inlineList": 0 }',
    'links.html': `<a href="terms%20of%20use.txt">t</a><a href="/fares/table.csv#x">f</a><a href=".env">e</a>`,
  });

  test.each(['expand', 'elements'])('of %s holds what sites serve and what pages and styles refer to', (target) => {
    folder.write({ 'lists/own.json': '[]' });
    const args = target === 'expand' ? ['expand', '--out', 'dist'] : ['emit', target, '--out', 'made'];
    const run = folder.run([...args, '--verbose'], { env: { COLUMNS: '200' } });
    expect([run.status, run.err]).toEqual([
      0,
      expect.stringMatching(
        /^estrade: project .*, .*estrade\.config\.json; 1 component, 1 change that can be undone\n$/,
      ),
    ]);
    const built = Object.keys(folder.files(args.at(-1))).filter(
      (path) => !/^(elements\/|custom-el|\.estrade)/.test(path),
    );
    expect(built).toEqual([...Object.keys({ ...site, ...held }), 'links.html'].sort());
    const left = [...run.out.matchAll(/^(\S+) {2,}(it is|no page|"ignore")/gm)].map(([, path]) => path!);
    expect(left.sort()).toEqual([...Object.keys(kept), 'lists/own.json'].sort());
    expect(run.out).toContain('12 files left out:');
    expect(run.out).toMatch(
      /\.env:1:1: a page or stylesheet refers to it, and it is left out of the site: it is hidden/,
    );
  });

  test('counts what is left out, and assets of the configuration decide', () => {
    expect(folder.run(['expand', '--out', 'dist']).out).toContain('12 files left out; --verbose lists them and why');
    folder.write({ 'estrade.config.json': '{ "ignore": ["drafts/**"], "assets": ["**/*.md", "**/.env", "img/*"] }' });
    folder.run(['expand', '--out', 'dist']);
    const built = Object.keys(folder.files('dist'));
    expect(built).toEqual(expect.arrayContaining(['notes/todo.md', 'img/quay.png', 'fares/table.csv']));
    expect(built).not.toContain('.env');
    expect(built).not.toContain('robots.txt');
    const { left } = folder.json(['expand', '--out', 'dist']) as { left: { path: string; why: string }[] };
    expect(left).toContainEqual({ path: 'yarn.lock', why: 'it is for a package manager' });
  });
});

describe('the root', () => {
  test.each([
    ['.estrade', {}],
    [
      'components/quay-sign.html',
      { 'components/quay-sign.html': '<template component="quay-sign"><p>x</p></template>' },
    ],
    ['estrade.config.json', { 'estrade.config.json': '{}' }],
  ])('is found above by %s, and told', (what, files) => {
    const folder =
      what === '.estrade'
        ? lifted({ 'isles/far/note.txt': '' })
        : new Folder({ ...site, ...files, 'isles/far/note.txt': '' });
    const { status, err, out } = folder.run(['survey', '--json'], { cwd: 'isles/far' });
    expect(err).toContain(what === '.estrade' ? '.estrade is' : `${what} is`);
    expect(err).toMatch(/^estrade: the project is \.\.\/\.\., where \S+ is; paths are told from there$/m);
    expect([status, (JSON.parse(out) as { pages: unknown[] }).pages.length]).toEqual([0, 2]);
    if (what !== '.estrade') return;
    expect(folder.run(['undo'], { cwd: 'isles' })).toMatchObject({
      status: 0,
      err: expect.stringMatching(/project is \.\.,/),
    });
    expect(folder.read('index.html')).toBe(site['index.html']);
  });

  test('is not looked for above the top of a git repository', () => {
    const folder = lifted({ 'isles/.git/config': '' });
    expect(folder.run(['survey'], { cwd: 'isles' })).toMatchObject({ err: '', out: expect.stringMatching(/^1 page,/) });
  });
});

describe('pages', () => {
  test('are found by the ends of their names; without any, what was tried and what would match is told', () => {
    const old = new Folder({ 'a.htm': site['index.html'], 'b.xhtml': site['isles/orlay.html'] });
    expect(old.run(['lift', '--recommended']).status).toBe(0);
    expect((old.json(['check']) as { pages: unknown[] }).pages).toHaveLength(2);
    const none: [Record<string, string>, string[], RegExp, RegExp][] = [
      [{}, ['survey'], /no page here matches "\*\*\/\*\.html", "\*\*\/\*\.htm"/, /go to the folder of your pages/],
      [{ 'A.HTM': 'x' }, ['check'], /no page here matches/, /"pages": \["\*\*\/\*\.HTM"\] in \S+ would find A\.HTM/],
      [
        { 'x/a.html': '', 'estrade.config.json': '{ "ignore": ["x/**"] }' },
        ['lift', '--recommended'],
        /no page here matches/,
        /"ignore" in estrade\.config\.json leaves out x\/a\.html/,
      ],
      [{ 'x/a.txt': '' }, ['survey', 'x'], /there is no page in x/, /name files, folders or patterns/],
    ];
    for (const [files, args, what, hint] of none) {
      const { status, err } = new Folder(files).run(args);
      expect([status, err]).toEqual([2, expect.stringMatching(what)]);
      expect(err).toMatch(hint);
    }
  });

  test('that are no text are told and change nothing; folders that cannot be read are named', () => {
    const folder = lifted({ 'picture.html': '\0\0PNG' });
    for (const args of [['survey'], ['check'], ['expand', '--out', 'dist']])
      expect(folder.run(args)).toMatchObject({
        status: 0,
        err: expect.stringMatching(/picture\.html: it is not text, and stays/),
      });
    expect(folder.read('dist/picture.html')).toBe('\0\0PNG');
    folder.write({ 'locked/page.html': site['index.html'] });
    const preload = join(ROOT, 'test', 'cli', 'locked.cjs');
    for (const args of [['survey'], ['check'], ['expand', '--out', 'dist']])
      expect(folder.run(args, { preload })).toMatchObject({
        status: 2,
        err: expect.stringMatching(
          /^estrade: locked\/: the folder cannot be read: it is not permitted; the rest is read$/m,
        ),
      });
  });
});

describe('check --against', () => {
  const git = (folder: Folder, ...args: string[]) => {
    const config = ['-c', 'user.name=Ada', '-c', 'user.email=ada@ferry.example', '-c', 'init.defaultBranch=main'];
    const { status, stderr } = spawnSync('git', [...config, ...args], { cwd: folder.path, encoding: 'utf8' });
    if (status !== 0) throw new Error(`git ${args.join(' ')}: ${stderr}`);
  };
  const commit = (folder: Folder, tag: string) => {
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', tag);
    git(folder, 'tag', tag);
  };
  const menu = ['Sailings', 'Fares', 'Harbours', 'Boats', 'Notices']
    .map((name) => `<li class="top__item"><a class="top__link" href="${name.toLowerCase()}.html">${name}</a></li>`)
    .join('\n');
  const header = (isle: string, phone: string) =>
    page(`<link rel="stylesheet" href="css/site.css">\n<header class="top">\n<ul class="top__menu">\n${menu}\n</ul>
<a class="top__call" href="tel:+44${phone.slice(1)}">${phone}</a>\n</header>\n<p>${isle}</p>`);
  const isles = ['mewport', 'orlay', 'sandrey', 'hallow', 'varnhaven'];
  const drifting = Object.fromEntries(
    isles.map((isle, i) => [`${isle}.html`, header(isle, i === 2 ? '0555099' : '0555014')]),
  );

  /** A repository with a release, and then a lift that unifies, without the journal. */
  const cloned = () => {
    const folder = new Folder({ ...drifting, '.gitignore': '.estrade/\n', 'css/site.css': '.top { color: navy }' });
    git(folder, 'init', '-q');
    commit(folder, 'v1');
    const run = folder.run(['lift', '--recommended', '--unify', 'call', '--styles', 'move']);
    if (run.status !== 0) throw new Error(run.err);
    commit(folder, 'lifted');
    const clone = new Folder();
    git(clone, 'clone', '-q', folder.path, '.');
    return { folder, clone, run };
  };

  test('a clone has no journal, which is no proof; a revision is, and of a release what was accepted passes', () => {
    const { folder, clone, run } = cloned();
    // the address goes with the number that it dials
    expect(run.out.match(/^unified {2}sandrey\.html:\S+ (\S+)/gm)).toHaveLength(2);
    expect(run.out).toContain('.estrade/ keeps what undo and check need; it belongs to this machine.');
    const bare = clone.run(['check']);
    expect([bare.status, bare.err]).toEqual([
      2,
      expect.stringMatching(/nothing here says what the pages were[^]*check --against HEAD/),
    ]);
    expect(clone.json(['check'])).toMatchObject({
      passed: false,
      against: null,
      pages: [],
      unproven: expect.arrayContaining(['hallow.html']),
    });
    expect(clone.run(['check', '--against', 'HEAD'])).toMatchObject({
      status: 0,
      out: expect.stringMatching(
        /^Passed against HEAD: all 5 pages expand to exactly what they were; 1 stylesheet comes out exactly as it was\.$/m,
      ),
    });
    for (const against of ['v1', 'v1^{commit}']) {
      const released = clone.json(['check', '--against', against]) as { unified: { was: string; now: string }[] };
      expect(released).toMatchObject({ passed: true, against });
      expect(released.unified.map(({ was, now }) => [was, now])).toEqual([
        ['tel:+44555099', 'tel:+44555014'],
        ['0555099', '0555014'],
      ]);
    }
    // nothing more than that passes
    const call = clone.read('sandrey.html');
    clone.write({ 'sandrey.html': call.replace('<p>sandrey', '<p>Sandrey') });
    expect(clone.run(['check', '--against', 'v1'])).toMatchObject({
      status: 1,
      out: expect.stringMatching(/^sandrey\.html +different .*"sandrey" became "Sandrey"/m),
    });
    clone.write({ 'sandrey.html': call, 'css/site.css': `${clone.read('css/site.css')}\np { color: red }` });
    expect(clone.run(['check', '--against', 'HEAD'])).toMatchObject({
      status: 1,
      out: expect.stringMatching(/^css\/site\.css +different/m),
    });
    expect(spawnSync('git', ['status', '--short'], { cwd: clone.path, encoding: 'utf8' }).stdout).toBe(
      ' M css/site.css\n',
    );
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()['estrade.accepted.json']).toBeUndefined();
  });

  test('takes a folder too; what is gone is wrong, what is new is told', () => {
    const { clone } = cloned();
    const release = new Folder(drifting);
    const against = ['check', '--against', release.path];
    expect(clone.run(against).status).toBe(0);
    clone.write({ 'new.html': '<p>new</p>' });
    spawnSync('rm', ['orlay.html'], { cwd: clone.path });
    const run = clone.run(against);
    expect([run.status, run.out]).toEqual([
      1,
      expect.stringContaining('orlay.html:1:1: this page was there and is gone'),
    ]);
    expect(run.out).toMatch(/^Compared with nothing, for .* does not have it: new\.html\.$/m);
  });

  test.each([
    [['--against', 'liftd'], /no such folder, and git knows no such revision\n {2}did you mean lifted\?/],
    [['--against', 'index'], /git knows no such revision\n {2}git log and git tag list what there is/],
    [['--against', '.gitignore'], /--against \.gitignore is a file/],
  ])('%j is refused', (args, message) => {
    const { clone } = cloned();
    expect(clone.run(['check', ...args])).toMatchObject({ status: 2, err: expect.stringMatching(message) });
  });

  test('runs no program that the configuration of a checkout names', () => {
    const { clone } = cloned();
    clone.write({ '.git/info/attributes': '*.html filter=own' });
    for (const kind of ['smudge', 'process'])
      git(clone, 'config', `filter.own.${kind}`, `touch ${clone.path}/run-${kind}; cat`);
    git(clone, 'config', 'filter.own.required', 'true');
    git(clone, 'config', 'core.fsmonitor', `touch ${clone.path}/run-monitor`);
    expect(clone.run(['check', '--against', 'HEAD'])).toMatchObject({ status: 0, err: '' });
    expect(Object.keys(clone.files()).filter((path) => path.startsWith('run-'))).toEqual([]);
  });

  test('is told where there is no repository, and where the accepted changes cannot be read', () => {
    const folder = lifted();
    expect(folder.run(['check', '--against', 'v1']).err).toMatch(
      /there is no such folder, and this is no git repository/,
    );
    folder.write({ 'estrade.accepted.json': '{ "format": 1,\n  "pages": [{ "path": 5 }] }' });
    expect(folder.run(['check', '--against', 'isles'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/estrade\.accepted\.json:2:23: "pages\[0\]\.path" must be a string/),
    });
  });
});

test('what was a finding and is lifted is told by where it is now, and what another takes by that', () => {
  const folder = new Folder({
    'index.html': page(
      ['Mewport', 'Orlay', 'Sandrey']
        .map(
          (isle) =>
            `<section class="isle"><h2 class="isle__name">${isle}</h2><div class="isle__text"><p>${isle} is an isle</p><p>Go there</p></div></section>`,
        )
        .join('\n'),
    ),
  });
  const { findings } = folder.json(['survey', '--all']) as { findings: { name: string; recommended: boolean }[] };
  const [outer] = findings.filter(({ recommended }) => recommended);
  const inner = findings.find(({ name }) => name !== outer!.name)!;
  expect(folder.run(['lift', outer!.name]).status).toBe(0);
  for (const command of ['lift', 'show'])
    expect(folder.run([command, inner.name])).toMatchObject({
      status: 2,
      err: expect.stringMatching(
        new RegExp(`what was ${inner.name} is made by ${outer!.name} now: edit components/${outer!.name}.html`),
      ),
    });
});

test.each([
  [['survey', 'indx.html'], /indx\.html: there is no such file: did you mean index\.html\?/],
  [['outline', 'isles/orly.html'], /no page "isles\/orly\.html"\n {2}did you mean isles\/orlay\.html\?/],
  [['show', '--at', 'indx.html:9'], /no page "indx\.html"\n {2}did you mean index\.html\?/],
  [['show', '--select', 'ul > .sailng'], /matches nothing in 2 pages\n {2}did you mean \.sailing\?/],
  [['emit', 'element'], /"element" is no target\n {2}did you mean elements\?/],
  [['lift', '--recommendd'], /unknown option[^]*did you mean --recommended\?/],
])('%j: the nearest right name is told', (args, message) => {
  expect(new Folder(site).run(args)).toMatchObject({ status: 2, err: expect.stringMatching(message) });
});
