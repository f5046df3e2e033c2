/** Advice through the built program: each is mended by the commands that it names, and the site stays the same. */
import { afterAll, expect, test } from '@jest/globals';
import { demo, Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

interface Advised {
  advice: {
    kind: string;
    message: string;
    commands: string[];
    place: { path: string; line: number; column: number };
  }[];
  passed: boolean;
}

const advise = (folder: Folder) => (folder.json(['check', '--advice']) as Advised).advice;

/** Words of a command as a shell would take them. */
const wordsOf = (command: string) =>
  [...command.matchAll(/'((?:[^']|'\\'')*)'|(\S+)/g)].map(
    ([, quoted, plain]) => plain ?? quoted!.replaceAll("'\\''", "'"),
  );

const files = {
  'index.html': page(
    `<boat-row tone="calm" port="St. Ann's &amp; quay" kind="x" name="Tern"></boat-row>
  <boat-row tone="calm"
    port="St. Ann's &amp; quay" kind="y" name="Eider"></boat-row>
<row-wide name="Puffin"></row-wide>
<row-wide name="Gull"></row-wide>
<row-new name="Kittiwake"></row-new>`,
  ),
  'isles/all.html': page(`<boat-row kind='z' tone=calm port="St. Ann's &amp; quay" name="Fulmar"></boat-row>`),
  'components/boat-row.html': `<template component="boat-row">
<meta prop="tone" type="choice" choices="calm loud" optional>
<meta prop="port" type="text">
<meta prop="kind" type="text" default="w">
<meta prop="name" type="text">
<p class="row row--{{tone}}" title="{{port}}"><b>{{name}}</b> <i>{{kind}}</i></p>
</template>
`,
  'components/row-wide.html': `<template component="row-wide">
<meta prop="name" type="text">
<div class="wide">
  <b>{{name}}</b>
  <span>calls at every quay of the sound</span>
</div>
</template>
`,
  'components/row-new.html': `<template component="row-new">
<meta prop="name" type="text">
<div class="wide">
  <b>{{name}}</b>
  <span>calls at every quay of the sound</span>
  <em>new</em>
</div>
</template>
`,
  'components/no-body.html':
    '<template component="no-body">\n<p>x</p>\n</template>\n<style>\n  p { color: navy }\n</style>\n',
  'site.css': '@component no-body;\n.wide { color: navy }\n',
};

test('unused components, equal values, defaults that no use takes, two that could be one: told, and mended', () => {
  const folder = new Folder(files);
  folder.run(['expand', '--out', 'dist']);
  const built = folder.files('dist');
  expect(advise(folder)).toEqual([
    {
      kind: 'unused-component',
      message: 'no-body is used nowhere',
      commands: ['estrade inline no-body'],
      place: { path: 'components/no-body.html', line: 1, column: 1 },
    },
    {
      kind: 'same-value',
      message: 'all 3 uses give boat-row.tone the value calm',
      commands: ['estrade default boat-row.tone calm'],
      place: { path: 'components/boat-row.html', line: 2, column: 1 },
    },
    {
      kind: 'same-value',
      message: "all 3 uses give boat-row.port the value St. Ann's & quay",
      commands: ["estrade default boat-row.port 'St. Ann'\\''s & quay'"],
      place: { path: 'components/boat-row.html', line: 3, column: 1 },
    },
    {
      kind: 'untaken-default',
      message: 'no use takes the default w of boat-row.kind',
      commands: ['estrade default boat-row.kind --none'],
      place: { path: 'components/boat-row.html', line: 4, column: 1 },
    },
    {
      kind: 'could-be-one',
      message: 'all uses of row-new could be uses of row-wide, but for one thing: <em>new</em> besides',
      commands: ['estrade inline row-new', 'estrade lift --extend row-wide'],
      place: { path: 'components/row-new.html', line: 1, column: 1 },
    },
  ]);
  const plain = folder.run(['check', '--advice']).out;
  expect(plain).toMatch(
    /5 things could be said with less:\nadvice {2}components\/no-body\.html:1:1: no-body is used nowhere\n {8}estrade inline no-body\n/,
  );
  for (const { commands } of advise(folder))
    for (const command of commands) {
      const { status, err } = folder.run(wordsOf(command).slice(1));
      expect([command, status, err]).toEqual([command, 0, '']);
    }
  expect(advise(folder)).toEqual([]);
  folder.run(['expand', '--out', 'dist']);
  expect(folder.files('dist')).toEqual(built);
  expect(folder.read('index.html')).toContain('\n  <boat-row kind="y" name="Eider"></boat-row>');
  expect(folder.read('index.html')).toMatch(/<row-wide [^>]*name="Kittiwake"/);
  expect(folder.read('components/boat-row.html')).toContain(`default="St. Ann's &amp; quay">`);
  expect(folder.read('site.css')).toBe('p { color: navy }\n.wide { color: navy }\n');
  while (folder.run(['undo']).status === 0);
  const now = Object.entries(folder.files()).filter(([path]) => !path.startsWith('dist/'));
  expect(Object.fromEntries(now)).toEqual(files);
});

test('components of the demo are taken back, the ones that others use after those', () => {
  const folder = demo();
  const original = folder.files();
  const findings = [
    'site-header',
    'nav-item',
    'notice-section',
    'boat-card',
    'boat-fact',
    'timetable-table',
    'departure-row',
  ];
  expect(folder.run(['lift', ...findings, '--styles', 'move']).status).toBe(0);
  const lifted = folder.files();
  expect(folder.run(['inline', 'nav-item'])).toMatchObject({
    status: 1,
    err: expect.stringMatching(
      /components\/site-header\.html:\d+:\d+: site-header uses nav-item: only what stands in pages/,
    ),
  });
  expect(folder.run(['inline', 'site-header', '--dry-run']).out).toMatch(
    /^diff --git a\/components\/site-header\.html/,
  );
  expect(folder.files()).toEqual(lifted);
  const { components } = folder.json(['roster']) as { components: { name: string }[] };
  for (let waiting = components.map(({ name }) => name); waiting.length > 0;)
    waiting = waiting.filter((name) => folder.run(['inline', name]).status !== 0);
  const now = folder.files();
  // styles stand where their markers were
  expect(now['css/site.css']).not.toContain('@component');
  expect({ ...now, 'css/site.css': '' }).toEqual({ ...original, 'css/site.css': '' });
  while (folder.run(['undo']).status === 0);
  expect(folder.files()).toEqual(original);
});

test.each([
  [['inline', 'boat-rw'], /there is no component boat-rw\n {2}did you mean boat-row\?/],
  [['inline'], /missing required argument 'component'/],
  [['default', 'boat-row', 'x'], /of which prop of boat-row\?/],
  [['default', 'boat-row.tone'], /say one of the two: a value, or --none/],
  [['default', 'boat-row.tone', 'calm', '--none'], /say one of the two: a value, or --none/],
  [['default', 'boat-row.tone', 'lud'], /"lud" is no choice of tone\n {2}its choices are calm, loud/],
])('%j ends with 2, and nothing is written', (args, message) => {
  const folder = new Folder(files);
  expect(folder.run(args)).toMatchObject({ status: 2, err: expect.stringMatching(message) });
  expect(folder.files()).toEqual(files);
});
