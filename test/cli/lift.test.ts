/** The built program: survey, show, lift and the configuration, on files in a temporary folder. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, statSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { card, Folder, lifted, page, removeFolders, ROOT, site, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

describe('survey and show', () => {
  test('survey answers in the documented shape, the same every time', () => {
    const folder = new Folder(site());
    const answer = folder.json(['survey']) as SurveyJson;
    expect(answer).toMatchObject({
      format: 1,
      remarks: [],
      pages: [{ path: 'index.html', lines: 21 }, { path: 'islands/all.html' }],
    });
    const [finding] = answer.findings;
    expect(finding).toMatchObject({
      name: 'boat-card',
      kind: 'repeat',
      recommended: true,
      blocked: null,
      known: false,
      slots: [],
    });
    expect(finding!.props.map(({ name, type }) => `${name} ${type}`)).toEqual([
      'state choice',
      'href url',
      'heading text',
    ]);
    expect(finding!.props[1]!.values).toEqual([
      'tern.html',
      'eider.html',
      'puffin.html',
      '../tern.html',
      '../gull.html',
    ]);
    const { page: path, start, end, line, column } = finding!.occurrences[3]!;
    expect([path, line, column]).toEqual(['islands/all.html', 5, 3]);
    expect(folder.read(path).slice(start, end)).toBe(card('Tern', '../tern.html').trim());
    expect(folder.run(['survey', '--json']).out).toBe(folder.run(['survey', '--json']).out);
    expect(existsSync(join(folder.path, '.estrade'))).toBe(false);
  });

  test('paths, folders and globs choose the pages, from any folder below the root', () => {
    const folder = new Folder({
      ...site(),
      'estrade.config.json': '{ /* ours */ "ignore": ["islands/old/**"], }',
      'islands/old/x.html': page('x'),
    });
    const pages = (args: string[], cwd = '') =>
      (JSON.parse(folder.run(['survey', '--json', ...args], { cwd }).out) as SurveyJson).pages.map(({ path }) => path);
    expect(pages([])).toEqual(['index.html', 'islands/all.html']);
    expect(pages(['islands'])).toEqual(['islands/all.html']);
    expect(pages(['*.html'])).toEqual(['index.html']);
    expect(pages(['all.html', '../index.html'], 'islands')).toEqual(['index.html', 'islands/all.html']);
    expect(folder.run(['survey', 'no*.html'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('no page matches no*.html'),
    });
  });

  test('pages that cannot be read are named, the others are surveyed, and the status says so', () => {
    const folder = new Folder({
      ...site(),
      'picture.html': Buffer.from([1, 0, 2]),
      'cut.html': Buffer.from('<meta charset=utf-8>\xe9', 'latin1'),
    });
    mkdirSync(join(folder.path, 'folder.html'));
    symlinkSync('loop.html', join(folder.path, 'loop.html'));
    const { status, err, out } = folder.run([
      'survey',
      '--json',
      'index.html',
      'missing.html',
      'picture.html',
      'cut.html',
      'loop.html',
    ]);
    expect(status).toBe(2);
    for (const told of [
      'missing.html: there is no such file',
      'picture.html: it is not text',
      'cut.html: its bytes are not all UTF-8',
      'loop.html: ',
    ])
      expect(err).toContain(told);
    expect((JSON.parse(out) as SurveyJson).pages).toHaveLength(1);
    expect((JSON.parse(out) as SurveyJson).remarks.map(({ kind }) => kind)).toEqual(Array(4).fill('unreadable'));
    // root reads all; others learn what is not permitted
    chmodSync(join(folder.path, 'index.html'), 0);
    if (process.getuid?.() !== 0) expect(folder.run(['survey']).err).toContain('not permitted');
  });

  test('what cannot be lifted is told with its place and the reason', () => {
    const folder = new Folder({
      'mended.html': page('<a>x<div><a>y</a></div></a>'),
      'slots.html': page('<div><slot></slot></div>\n<template when="x"></template>'),
    });
    const { remarks } = folder.json(['survey']) as SurveyJson;
    expect(remarks.map(({ message, places }) => [message.slice(0, 30), places.length > 0])).toEqual([
      ['mended.html: markup that the p', true],
      ['slots.html: what holds a slot,', true],
    ]);
    expect(folder.run(['survey']).out).toContain('5:5');
  });

  test('show prints places, values, the file and a use; a wrong name gets near ones', () => {
    const folder = new Folder(site());
    const { out, status } = folder.run(['show', 'boat-card']);
    expect(status).toBe(0);
    for (const part of [
      'islands/all.html:5:3',
      '<meta prop="href" type="url">',
      '{{heading}}',
      '<boat-card href="tern.html" heading="Tern"></boat-card>',
    ])
      expect(out).toContain(part);
    expect(out).not.toContain('\u001b');
    expect(folder.run(['show', 'boat'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('did you mean boat-card'),
    });
    expect((folder.json(['show', 'boat-card']) as { file: string; uses: string[] }).uses).toHaveLength(5);
  });
});

describe('lift', () => {
  test('writes components and pages, and expand gives back the originals to the byte', () => {
    const folder = new Folder({
      ...site(),
      'crlf.html': page(card('Gull', 'gull.html')).replaceAll('\n', '\r\n'),
      'old.html': Buffer.from(page(`<meta charset="windows-1252">\n${card('Måse', 'm.html')}`), 'latin1'),
    });
    const before = folder.files();
    const answer = folder.json(['lift', '--recommended']) as {
      written: boolean;
      components: unknown[];
      pages: { same: string }[];
    };
    expect(answer).toMatchObject({
      written: true,
      components: [{ name: 'boat-card', path: 'components/boat-card.html', new: true, uses: 7 }],
    });
    expect(answer.pages.map(({ same }) => same)).toEqual(Array(4).fill('bytes'));
    expect(folder.read('islands/all.html')).toContain(
      '\n  <boat-card state="late" href="../gull.html" heading="Gull"></boat-card>\n',
    );
    expect(folder.run(['check']).status).toBe(0);
    expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
    const { '.estrade-output.json': manifest, ...expanded } = folder.files('dist');
    expect(expanded).toEqual(before);
    expect(manifest).toBeDefined();
  });

  test('--dry-run prints a patch that git applies to what the lift would write', () => {
    const files = {
      ...site(),
      'a b.html': page(card('Gull', 'gull.html')).trimEnd(),
      'old.html': Buffer.from(page(`<meta charset="windows-1252">\n${card('Måse', 'm.html')}`), 'latin1'),
      'mark.html': `\uFEFF${page(card('Måse', 'm.html'))}`,
      'crlf.html': page(card('Alke', 'a.html')).replaceAll('\n', '\r\n'),
      'wide.html': Buffer.from(
        `\uFEFF${page([card('Lunde', 'l.html'), card('Alke', 'a.html')].join('\n'))}`,
        'utf16le',
      ),
      'site.css': '\uFEFF.boat { color: navy }\n',
      'components/boat-card.html': '<p>something of mine</p>\n',
    };
    const folder = new Folder(files);
    const args = ['lift', '--recommended', '--styles', 'move', '--force'];
    const dry = spawnSync(process.execPath, [join(ROOT, 'dist/bin.js'), ...args, '--dry-run'], { cwd: folder.path });
    expect(folder.files()).toEqual(new Folder(files).files());
    const applied = spawnSync('git', ['apply', '-'], { cwd: folder.path, input: dry.stdout, encoding: 'utf8' });
    expect(applied).toMatchObject({ status: 0, stderr: '' });
    const written = new Folder(files);
    expect(written.run(args).status).toBe(0);
    expect(folder.files()).toEqual(written.files());
    expect(written.run(['undo']).status).toBe(0);
    expect(written.files()).toEqual(new Folder(files).files());
  });

  test('a second lift knows the components that are there', () => {
    const folder = lifted();
    folder.write({ 'more.html': page([card('Skua', 'skua.html'), card('Auk', 'auk.html', 'late')].join('\n')) });
    const [finding] = (folder.json(['survey']) as SurveyJson).findings;
    expect(finding).toMatchObject({
      name: 'boat-card',
      known: true,
      recommended: true,
      occurrences: [{ page: 'more.html' }, { page: 'more.html' }],
    });
    expect(folder.json(['lift', 'boat-card'])).toMatchObject({ components: [{ new: false, uses: 2 }] });
    expect(folder.run(['check']).out).toContain('all 3 pages expand to exactly what they were');
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.read('more.html')).toContain('<article');
    expect(folder.read('index.html')).toContain('<boat-card');
    folder.run(['undo']);
    expect(folder.files()).toEqual(new Folder({ ...site(), 'more.html': folder.read('more.html') }).files());
  });

  test.each<[string, string[], RegExp]>([
    ['nothing named', ['lift'], /nothing is named/],
    ['no such finding', ['lift', 'no-such'], /has no finding "no-such"/],
    ['not a number', ['survey', '--max-props', 'x'], /must be a whole number/],
    ['too small', ['survey', '--min-occurrences', '1'], /must be at least 2/],
    ['no such command', ['lft'], /unknown command 'lft'[^]*did you mean lift/],
    ['no such option', ['survey', '--jsn'], /unknown option '--jsn'[^]*did you mean --json/],
    ['no folder to expand to', ['expand'], /--out <folder>' not specified/],
    ['expand into itself', ['expand', '--out', '.'], /is the project itself/],
  ])('%s: status 2, nothing written', (_, args, message) => {
    const folder = new Folder(site());
    const { status, err } = folder.run(args);
    expect([status, err]).toEqual([2, expect.stringMatching(message)]);
    expect(err).not.toMatch(/\n\s+at /);
    expect(folder.files()).toEqual(new Folder(site()).files());
  });

  test('what stands in the way is not overwritten without --force, and undo brings it back', () => {
    const mine = page('my own page');
    const folder = new Folder({ ...site(), 'components/boat-card.html': mine });
    expect(folder.run(['lift', 'boat-card'])).toMatchObject({
      status: 1,
      err: expect.stringContaining('components/boat-card.html is there already'),
    });
    expect(folder.run(['lift', 'boat-card', '--force']).status).toBe(0);
    expect(folder.read('components/boat-card.html')).toContain('<template component="boat-card">');
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.read('components/boat-card.html')).toBe(mine);
  });

  test('nothing is written through a link that leaves the project', () => {
    const outside = new Folder({ 'page.html': site()['index.html']! });
    const folder = new Folder(site());
    symlinkSync(join(outside.path, 'page.html'), join(folder.path, 'linked.html'));
    expect(folder.run(['lift', '--recommended'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('linked.html is outside the project'),
    });
    const away = new Folder(site());
    symlinkSync(outside.path, join(away.path, 'components'));
    expect(away.run(['lift', '--recommended'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('outside the project'),
    });
    expect(outside.files()).toEqual({ 'page.html': site()['index.html'] });
  });

  test('the mode of a file stays', () => {
    const folder = new Folder(site());
    chmodSync(join(folder.path, 'index.html'), 0o640);
    folder.run(['lift', '--recommended']);
    expect(statSync(join(folder.path, 'index.html')).mode & 0o777).toBe(0o640);
  });
});

describe('configuration', () => {
  test.each([
    ['{ "componets": "x" }', 'estrade.config.json:1:3: the key "componets" is not known'],
    ['{\n  "survey": {\n    "maxProps": "eight" }\n}', 'estrade.config.json:3:17: "survey.maxProps" must be a number'],
    ['{\n "pages": [', 'estrade.config.json:2:12: the configuration is not JSON'],
    ['', 'estrade.config.json:1:1: the configuration is not JSON'],
  ])('%j is refused with its place', (config, message) => {
    const { status, err } = new Folder({ ...site(), 'estrade.config.json': config }).run(['survey']);
    expect([status, err]).toEqual([2, expect.stringContaining(message)]);
  });

  test('its keys are kept, and the command line goes before them', () => {
    const folder = new Folder({
      ...site(),
      'estrade.config.json': '{ "components": "parts", "survey": { "minOccurrences": 6 } }',
    });
    expect((folder.json(['survey']) as SurveyJson).findings).toEqual([]);
    expect(folder.run(['lift', '--recommended', '--min-occurrences', '2']).status).toBe(0);
    expect(existsSync(join(folder.path, 'parts/boat-card.html'))).toBe(true);
  });
});
