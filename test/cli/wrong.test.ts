/** Wrong components and uses: each is named with its place and the nearest right name, and nothing is built of them. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const component = (name: string, body: string, meta = '') =>
  `<template component="${name}">\n${meta}\n  ${body}\n</template>\n`;
const right = {
  'index.html': page(`<quay-sign heading="Mewport" state="calm"></quay-sign>
<stop-list><script type="application/json" slot="stops">[{ "place": "Orlay", "time": "9:10" }]</script></stop-list>
<note-frame><p>Mind the tide</p><template slot="foot"><b>Always</b></template></note-frame>`),
  'components/quay-sign.html': component(
    'quay-sign',
    '<p class="sign sign--{{state}}">{{heading}}<template when="tagline"><i>{{tagline}}</i></template></p>',
    '<meta prop="heading" type="text">\n<meta prop="tagline" type="text" optional>\n<meta prop="state" type="choice" choices="calm storm">',
  ),
  'components/stop-list.html': component(
    'stop-list',
    '<ul><template each="stop" of="stops"><li>{{stop.place}} {{stop.time}}</li></template></ul>',
    '<meta prop="stops" type="list">\n<meta prop="stops.place" type="text">\n<meta prop="stops.time" type="text">',
  ),
  'components/note-frame.html': component(
    'note-frame',
    '<div class="note"><slot></slot><slot name="foot"></slot></div>',
  ),
};
type Name = keyof typeof right;

const SIGN = 'components/quay-sign.html';
const LIST = 'components/stop-list.html';
const PAGE = 'index.html';

/** What is broken: a file, what in it, by what; the place of the problem, its kind and its message. */
const BROKEN: [Name, string, string, string, string, string][] = [
  [
    SIGN,
    '{{tagline}}',
    '{{taglien}}',
    `${SIGN}:5:74`,
    'unknown-name',
    'taglien is no prop of quay-sign: did you mean tagline?',
  ],
  [
    SIGN,
    'sign--{{state}}',
    'sign--{{colour}}',
    `${SIGN}:5:24`,
    'unknown-name',
    'its props are heading, tagline, state',
  ],
  [SIGN, 'when="tagline"', 'when="taglines"', `${SIGN}:5:56`, 'unknown-name', 'did you mean tagline?'],
  [
    LIST,
    '{{stop.time}}',
    '{{stop.tim}}',
    `${LIST}:5:59`,
    'unknown-field',
    'tim is no field of stop: did you mean time?',
  ],
  [LIST, '{{stop.time}}', '{{stops.time}}', `${LIST}:5:59`, 'unknown-field', 'stops has no fields, such as time'],
  [
    SIGN,
    '{{heading}}',
    '<template each="x" of="heading">{{x}}</template>',
    `${SIGN}:5:54`,
    'unknown-name',
    'heading is no list',
  ],
  [
    'components/note-frame.html',
    'name="foot"',
    'name="{{foot}}"',
    'components/note-frame.html:3:34',
    'unknown-slot',
    'no use can fill the slot',
  ],
  [
    PAGE,
    'slot="foot"',
    'slot="feet"',
    `${PAGE}:7:33`,
    'unknown-slot',
    'note-frame has no slot feet: did you mean foot?',
  ],
  [
    PAGE,
    '</quay-sign>',
    ' <b>Open</b></quay-sign>',
    `${PAGE}:5:44`,
    'unknown-slot',
    'quay-sign has no slot for content: it would be lost',
  ],
  [
    PAGE,
    'heading="Mewport"',
    'headin="Mewport"',
    `${PAGE}:5:12`,
    'unknown-prop',
    'quay-sign has no prop headin: did you mean heading?',
  ],
  [PAGE, 'heading="Mewport" ', '', `${PAGE}:5:1`, 'missing-prop', 'quay-sign is used without heading'],
  [
    PAGE,
    'state="calm"',
    'state="clam"',
    `${PAGE}:5:1`,
    'unknown-choice',
    'state="clam" is no choice: did you mean calm?',
  ],
  [
    PAGE,
    '<note-frame>',
    '<note-fram></note-fram><note-frame>',
    `${PAGE}:7:1`,
    'unknown-component',
    'there is no component note-fram: did you mean note-frame?',
  ],
  [
    PAGE,
    '"time": ',
    '"tine": ',
    `${PAGE}:6:57`,
    'bad-list',
    'record 1 of the list stops has no field tine: did you mean time?',
  ],
  [PAGE, '[{ "place"', '[{ , "place"', `${PAGE}:6:57`, 'bad-list', 'the list stops is not JSON'],
  [
    PAGE,
    '[{ "place": "Orlay", "time": "9:10" }]',
    '{ "place": 1 }',
    `${PAGE}:6:57`,
    'bad-list',
    'the list stops is no array',
  ],
];

describe('what is wrong', () => {
  test('nothing is, where nothing is', () => {
    const folder = new Folder(right);
    expect(folder.json(['check'])).toMatchObject({ unproven: ['index.html'], problems: [] });
    expect(folder.run(['expand', '--out', 'dist'])).toMatchObject({ status: 0, err: '' });
  });

  test.each(BROKEN)('%s with %j → %j: told at %s as %s', (file, what, by, place, kind, message) => {
    const source: string = right[file];
    expect(source).toContain(what);
    const folder = new Folder({ ...right, [file]: source.replace(what, by) });
    const before = folder.files();
    const { problems } = folder.json(['check']) as { problems: ({ message: string; kind: string } & Place)[] };
    const told = problems.map((each) => `${each.path}:${each.line}:${each.column} ${each.kind} ${each.message}`);
    expect(told).toContainEqual(expect.stringContaining(message));
    expect(told.find((each) => each.includes(message))).toMatch(`${place} ${kind} `);
    expect(folder.run(['check']).status).toBe(1);
    for (const args of [['expand'], ['emit', 'tsx']]) {
      const { status, err } = folder.run([...args, '--out', 'dist']);
      expect([status, err]).toEqual([1, expect.stringContaining(`  ${place}: `)]);
      expect(err).toMatch(/^estrade: \d+ problems? in components and uses; nothing was written\n/);
      expect(existsSync(join(folder.path, 'dist'))).toBe(false);
    }
    expect(folder.files()).toEqual(before);
  });

  test('expand --lenient builds all the same, and tells', () => {
    const folder = new Folder({ ...right, [SIGN]: right[SIGN].replace('{{tagline}}', '{{taglien}}') });
    const { status, out } = folder.run(['expand', '--out', 'dist', '--lenient']);
    expect([status, out]).toEqual([0, expect.stringContaining(`${SIGN}:5:74: taglien is no prop`)]);
    expect(folder.read('dist/index.html')).toContain('<p class="sign sign--calm">Mewport</p>');
  });
});

interface Place {
  path: string;
  line: number;
  column: number;
}
