/** The list of components, the uses of one side by side, and one as it stands. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const component = (name: string, meta: string, body: string) =>
  `<template component="${name}" about="About ${name}">\n${meta}\n${body}\n</template>\n`;

const files = {
  'index.html': page(`<quay-sign heading="Mewport" state="calm"></quay-sign>
<quay-sign heading="Orlay &amp; Isle" state="calm" lit>Open, <b>daily</b></quay-sign>
<quay-sign heading="Sandrey"><template slot="foot"><i>late</i></template></quay-sign>
<quay-sign heading="Hallow" state="storm"></quay-sign>`),
  'isles/all.html':
    page(`<stop-list><script type="application/json" slot="stops" src="../data/stops.json"></script></stop-list>
<stop-list><script type="application/json" slot="stops">[{ "place": "a" }]</script></stop-list>
<sign-board></sign-board>`),
  'data/stops.json': '[{ "place": "Mewport" }, { "place": "Orlay" }, { "place": "Tarn" }]',
  'components/quay-sign.html': component(
    'quay-sign',
    '<meta prop="heading" type="text">\n<meta prop="state" type="choice" choices="calm storm" default="calm">\n<meta prop="lit" type="flag">',
    '<p class="sign--{{state}}" hidden="{{lit}}">{{heading}}<slot></slot><slot name="foot"></slot></p>',
  ),
  'components/stop-list.html': component(
    'stop-list',
    '<meta prop="stops" type="list">\n<meta prop="stops.place" type="text">',
    '<ul><template each="stop" of="stops"><li>{{stop.place}}</li></template></ul>',
  ),
  'components/sign-board.html': component('sign-board', '', '<div><quay-sign heading="All"></quay-sign></div>'),
  'components/old-sign.html': component('old-sign', '', '<p>x</p>'),
};
const folder = new Folder(files);

describe('roster', () => {
  test('lists all components with what they take and where they are used', () => {
    const { out, status, err } = folder.run(['roster']);
    expect([status, err]).toEqual([0, '']);
    expect(out).toMatch(/^component {3}takes {12} *uses {2}pages {2}lines {2}rules in it {2}changed +used in$/m);
    expect(out).toMatch(/^quay-sign +3 props, 2 slots +4 +2 +6 +0 +\d{4}-\d\d-\d\d {2}sign-board$/m);
    expect(out).toMatch(/^stop-list +1 list +2 +1 +5 /m);
    expect(out).toContain('4 components, 7 uses in pages, 1 used nowhere: estrade roster --unused');
    const { components } = folder.json(['roster']) as { components: { name: string; changed: string }[] };
    expect(components.find(({ name }) => name === 'quay-sign')).toMatchObject({
      path: 'components/quay-sign.html',
      slots: ['', 'foot'],
      uses: 4,
      inComponents: 1,
      pages: ['index.html', 'isles/all.html'],
      usedIn: ['sign-board'],
      lines: 6,
    });
    expect(folder.run(['roster', '--unused']).out).toMatch(/^old-sign +nothing +0 +0/m);
    expect((folder.json(['roster', '--unused']) as { components: unknown[] }).components).toHaveLength(1);
  });

  test('has the uses of one side by side, defaults and odd ones marked', () => {
    const { out } = folder.run(['roster', 'quay-sign'], { env: { COLUMNS: '140' } });
    expect(out).toMatch(/^quay-sign {2}5 uses, components\/quay-sign\.html$/m);
    expect(out).toMatch(/^index\.html:5:1 +Mewport +calm +no +\(none\) +\(none\)$/m);
    expect(out).toMatch(/^index\.html:6:1 +Orlay & Isle +calm +yes \* +Open, <b>daily<\/b> \* +\(none\)$/m);
    expect(out).toMatch(/^index\.html:7:1 +Sandrey +calm \(default\) +no +\(none\) +<i>late<\/i> \*$/m);
    expect(out).toMatch(/^index\.html:8:1 +Hallow +storm \* /m);
    expect(out).toMatch(/^components\/sign-board\.html:3:6 +All /m);
    expect(folder.run(['roster', 'stop-list']).out).toMatch(
      /^isles\/all\.html:5:1 +3 records\nisles\/all\.html:6:1 +1 record$/m,
    );
    const { uses } = folder.json(['roster', 'quay-sign']) as { uses: object[] };
    expect(uses[1]).toEqual({
      ...{ path: 'index.html', line: 6, column: 1, within: null },
      given: { heading: 'Orlay & Isle', state: 'calm', lit: true, '#': 'Open, <b>daily</b>', '#foot': null },
      odd: ['lit', '#'],
    });
    expect(uses[4]).toMatchObject({ within: 'sign-board', given: { state: { default: 'calm' } } });
  });

  test.each([
    [['state=calm'], 4],
    [['state=storm'], 1],
    [['heading=Orlay & Isle', 'lit=yes'], 1],
    [['#foot='], 4],
    [['state=calm', 'heading=Hallow'], 0],
  ])('--where %j finds %i', (where, found) => {
    const args = where.flatMap((each) => ['--where', each]);
    expect((folder.json(['roster', 'quay-sign', ...args]) as { uses: unknown[] }).uses).toHaveLength(found);
  });

  test('as comma-separated values', () => {
    expect(folder.run(['roster', 'quay-sign', '--csv', '--where', 'lit=yes']).out).toBe(
      'place,heading,state,lit,#content,#foot\nindex.html:6:1,Orlay & Isle,calm,yes,"Open, <b>daily</b>",\n',
    );
    expect(folder.run(['roster', '--csv', '--unused']).out).toMatch(
      /^component,takes,[^]*\nold-sign,nothing,0,0,4,0,\S+,\n$/,
    );
  });

  test.each([
    [['quay-sgn'], /no component quay-sgn\n {2}did you mean quay-sign\?/],
    [['quay-sign', '--where', 'stat=calm'], /quay-sign has no prop stat\n {2}did you mean state\?/],
    [['quay-sign', '--where', 'state'], /--where state asks for no value\n {2}write --where state=value/],
    [['--where', 'state=calm'], /--where goes with a component/],
    [['quay-sign', '--unused'], /--unused goes without a component/],
  ])('%j is refused', (args, message) => {
    expect(folder.run(['roster', ...args])).toMatchObject({ status: 2, err: expect.stringMatching(message) });
  });
});

test('show has a component that is there: its file, interface, uses, what stands in it', () => {
  const { out, status } = folder.run(['show', 'sign-board']);
  expect(status).toBe(0);
  expect(out).toContain('sign-board  a component, in components/sign-board.html, 4 lines');
  expect(out).toContain('Made of quay-sign');
  const sign = folder.run(['show', 'quay-sign'], { env: { COLUMNS: '140' } }).out;
  expect(sign).toMatch(/4 uses in pages; takes part in 2 pages\nAbout quay-sign\nUsed in sign-board\n/);
  expect(sign).toMatch(/^state +choice +default "calm" +calm storm$/m);
  expect(sign).toContain('2 slots: its content, foot');
  expect(sign).toMatch(/^index\.html:6:1 +Orlay & Isle/m);
  expect(sign).toContain('  <template component="quay-sign" about="About quay-sign">');
  expect(folder.json(['show', 'quay-sign', '--styles'])).toMatchObject({
    name: 'quay-sign',
    inside: [],
    usedIn: ['sign-board'],
    styles: null,
    props: [{ name: 'heading', default: null }, { default: 'calm' }, {}],
    file: files['components/quay-sign.html'],
  });
});
