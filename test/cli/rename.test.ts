/** Names of one's own through the built program: renames, everywhere, proven and undone, and findings lifted under them. */
import { afterAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { demo, Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

test('a component, a prop, a slot and a field of the demo: nothing of the site changes, and undo gives all back', () => {
  const folder = demo();
  const original = folder.files();
  expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
  const states = [folder.files()];
  const renames = [
    ['boat-card', 'vessel-card'],
    ['vessel-card.heading', 'ship-name'],
    ['vessel-card#facts', 'figures'],
    ['notice-section', 'alert-block'],
    ['fare-section', 'price-list'],
  ];
  for (const [what, name] of renames) {
    const patch = folder.run(['rename', what!, name!, '--dry-run']);
    expect([patch.status, folder.files()]).toEqual([0, states.at(-1)]);
    const run = folder.run(['rename', what!, name!]);
    expect([run.status, run.err]).toEqual([0, '']);
    expect(run.out).toMatch(
      new RegExp(`^${what!} is ${name!} now[^]*Proven from disk: all 15 pages expand to exactly`),
    );
    states.push(folder.files());
    // the patch says the same
    const bytes = Object.entries(states.at(-2)!).map(([path, text]) => [path, Buffer.from(text, 'latin1')] as const);
    const applied = new Folder(Object.fromEntries(bytes));
    const git = spawnSync('git', ['apply'], { cwd: applied.path, input: patch.out });
    expect([git.status, applied.files()]).toEqual([0, states.at(-1)]);
  }
  const now = states.at(-1)!;
  expect(Object.keys(now)).toEqual(
    expect.arrayContaining(['components/vessel-card.html', 'components/price-list.html']),
  );
  expect(Object.keys(now)).not.toContain('components/boat-card.html');
  expect(Object.values(now).join('')).not.toMatch(/boat-card(?![\w-])[^.]*<\/boat-card>|@component notice-section;/);
  expect(now['css/site.css']).toContain('@component alert-block;');
  expect(folder.json(['check'])).toMatchObject({ passed: true, stylesheets: [{ same: 'cascade' }] });
  // the journal knows whose styles they were
  expect(folder.run(['styles', 'alert-block', '--back']).out).toMatch(/are back in css\/site\.css, as they were/);
  expect(folder.run(['undo']).status).toBe(0);
  for (const state of states.slice(0, -1).reverse()) {
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()).toEqual(state);
  }
  expect(folder.run(['undo']).status).toBe(0);
  expect(folder.files()).toEqual(original);
});

const files = {
  'index.html':
    page(`<stop-list head="A"><script type="application/json" slot="stops">[{ "place": "Orlay" }]</script></stop-list>
<stop-list head="B"><script type="application/json" slot="stops" src="data/stops.json"></script></stop-list>
<script>document.querySelectorAll('stop-list')</script>`),
  'isles/all.html': page('<stop-board><template slot="foot"><b>x</b></template></stop-board>'),
  'data/stops.json': '[{ "place": "Mewport" },\n { "place": "Sandrey" }]\n',
  'components/stop-list.html':
    '<template component="stop-list">\n<meta prop="head" type="text">\n<meta prop="stops" type="list">\n<meta prop="stops.place" type="text">\n<ul title="{{head}}"><template each="stop" of="stops"><li>{{stop.place}}</li></template></ul>\n</template>\n',
  'components/stop-board.html':
    '<template component="stop-board">\n<div><stop-list head="C"></stop-list><slot name="foot"></slot></div>\n</template>\n',
  'site.css': 'stop-list { display: block }\n.stop-list { color: navy }\n',
};

test('uses by hand, lists in pages and data files, and what cannot be followed', () => {
  const folder = new Folder(files);
  folder.write({ 'data/stops.json': `\uFEFF${files['data/stops.json']}` });
  const before = folder.files();
  expect(folder.run(['rename', 'stop-list.stops.place', 'quay']).out).toContain(
    '1 page, 1 component and 1 data file changed',
  );
  expect(folder.read('data/stops.json')).toBe('\uFEFF[{ "quay": "Mewport" },\n { "quay": "Sandrey" }]\n');
  expect(folder.read('index.html')).toContain('[{ "quay": "Orlay" }]');
  expect(folder.run(['rename', 'stop-list.stops', 'calls']).status).toBe(0);
  expect(folder.read('index.html').match(/slot="calls"/g)).toHaveLength(2);
  expect(folder.read('components/stop-list.html')).toContain('each="stop" of="calls"><li>{{stop.quay}}');
  const { mentions, moved } = folder.json(['rename', 'stop-list', 'call-list']) as {
    mentions: object[];
    moved: object[];
  };
  expect(mentions).toEqual([
    { path: 'index.html', line: 7, column: 36, named: 'stop-list' },
    { path: 'site.css', line: 1, column: 1, named: 'stop-list' },
  ]);
  expect(moved).toEqual([{ from: 'components/stop-list.html', to: 'components/call-list.html' }]);
  expect(folder.read('components/stop-board.html')).toContain('<call-list head="C"></call-list>');
  expect(folder.json(['check'])).toMatchObject({ passed: true, problems: [] });
  for (let i = 0; i < 3; i++) expect(folder.run(['undo']).status).toBe(0);
  expect(folder.files()).toEqual(before);
});

test.each([
  [['stop-lst', 'a-b'], 2, /no component stop-lst\n {2}did you mean stop-list\?/],
  [['stop-list.hed', 'a'], 2, /stop-list has no prop hed\n {2}did you mean head\?/],
  [['stop-board#fot', 'a'], 2, /stop-board has no slot fot\n {2}did you mean foot\?/],
  [['stop-list', 'stop-board'], 2, /"stop-board" is the name of another component/],
  [['stop-list', 'list'], 2, /"list" cannot be the name of a component/],
  [['stop-list.head', 'class'], 2, /"class" cannot be the name of a prop/],
  [['stop-list.head', 'stops'], 2, /stop-list has a prop stops already/],
  // a record would hide it
  [['stop-list.head', 'stop'], 0, /^$/],
  [['stop-list'], 2, /missing required argument 'name'/],
])('rename %j ends with %i', (args, status, err) => {
  const folder = new Folder(files);
  const run = folder.run(['rename', ...args]);
  expect([run.status, run.err]).toEqual([status, expect.stringMatching(err)]);
  if (status !== 0) expect(folder.files()).toEqual(files);
});

test('a name that a record in the template has is refused where it would mean the record', () => {
  const hidden = files['components/stop-list.html'].replace('{{stop.place}}', '{{stop.place}} {{head}}');
  const folder = new Folder({ ...files, 'components/stop-list.html': hidden });
  expect(folder.run(['rename', 'stop-list.head', 'stop'])).toMatchObject({
    status: 1,
    err: expect.stringMatching(/index\.html:\d+:\d+: this cannot be followed everywhere: /),
  });
});

test('a finding is lifted under names of one’s own, with what is asked for poured in or fixed', () => {
  const folder = demo();
  const run = folder.run(['lift', 'notice-section', '--name', 'alert-block', '--props', 'heading=name,state=level']);
  expect([run.status, run.err]).toEqual([0, '']);
  expect(folder.read('components/alert-block.html')).toMatch(
    /prop="level" type="choice"[^]*notice--\{\{level\}\}[^]*\{\{name\}\}/,
  );
  expect(folder.read('index.html')).toMatch(/<alert-block level="calm" name="Summer timetable begins"/);
  expect(folder.run(['lift', 'alert-block', '--name', 'x-y']).err).toMatch(/alert-block is a component already/);
  // the nested ones are used under their new names
  expect(folder.run(['lift', '--recommended', '--name', 'site-header=top-bar,nav-item=menu-item']).status).toBe(0);
  expect(folder.read('components/top-bar.html')).toContain('use="menu-item"');
  expect(folder.json(['check'])).toMatchObject({ passed: true });
  expect(folder.run(['undo']).out).toContain('lift --recommended --name site-header=top-bar,nav-item=menu-item');
  const fixed = folder.run(['lift', 'crew-member', '--fixed', 'duty']);
  expect([fixed.status, fixed.out]).toEqual([
    0,
    expect.stringContaining('stays as it is, for its value is another one: '),
  ]);
  expect(folder.run(['undo']).status).toBe(0);
  const slot = ['boat-card', '--slot', '.boat__links', '--name', 'vessel-card'];
  expect(folder.run(['show', ...slot]).out).toMatch(
    /<slot name="links"><\/slot>[^]*Next: estrade lift boat-card --name vessel-card --slot/,
  );
  expect(folder.run(['lift', ...slot]).status).toBe(0);
  expect(folder.json(['check'])).toMatchObject({ passed: true });
  while (folder.run(['undo']).status === 0);
  // what was decided stays
  const { 'estrade.draft.json': draft, ...files } = folder.files();
  expect(draft).toContain('"name"');
  expect(files).toEqual(demo().files());
});

test.each([
  [
    ['notice-section', 'site-header', '--name', 'x-y'],
    /--name x-y: whose name is that\?\n {2}of several findings write --name finding=name/,
  ],
  [['notice-section', '--name', 'site-foter=x-y'], /site-foter is not among what is lifted/],
  [
    ['notice-section', 'site-header', '--name', 'notice-section=a-b,site-header=a-b'],
    /"a-b" is the name of another component/,
  ],
  [['notice-section', '--name', 'notice'], /"notice" cannot be the name of a component/],
  [['notice-section', 'site-header', '--props', 'a=b'], /--props, --slot and --fixed go with one finding/],
  [['notice-section', '--props', 'heading=title'], /"title" cannot be the name of a prop/],
  [['notice-section', '--outer', '1'], /--outer goes with --at/],
])('lift %j is refused', (args, message) => {
  const folder = demo();
  const before = folder.files();
  expect(folder.run(['lift', ...args])).toMatchObject({ status: 2, err: expect.stringMatching(message) });
  expect(folder.files()).toEqual(before);
});
