/** The built program, pointed at what to lift: by place, by lines, with a selector; and its wrong uses. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const filler = 'It hangs beside the clock in the office on the quay, and stays there all week.';

function buoy(name: string, light: string, facts: string): string {
  return `<section class="buoy buoy--${light}">
  <h2>${name}</h2>
  <p class="buoy__text">${filler}</p>
  <div class="buoy__facts">${facts}</div>
</section>`;
}

const table = '<table><tr><td>12 m</td></tr></table>';
const list = '<ul><li>bell</li><li>lamp</li></ul>';
const site = {
  'index.html': page(
    [
      '<nav class="way">\n<a href="quay/one.html">One</a>\n</nav>',
      buoy('North', 'red', table),
      buoy('South', 'green', list),
    ].join('\n'),
  ),
  'quay/one.html': page(
    [buoy('East', 'red', table), `<div class="rack">\n${buoy('West', 'red', list)}\n</div>`].join('\n'),
  ),
};
/** The line on which a text stands. */
const lineOf = (path: keyof typeof site, text: string) =>
  site[path].slice(0, site[path].indexOf(text)).split('\n').length;
const north = lineOf('index.html', 'North') - 1;

interface ShowJson {
  name: string;
  kind: string;
  file: string;
  uses: string[];
  occurrences: { page: string; line: number }[];
  props: { name: string; values: unknown[] }[];
  slots: { name: string }[];
}

/** Lifts and gives the component, when every page is the same to the byte and undo brings all back. */
function lifted(args: string[]): { folder: Folder; file: string; said: string } {
  const folder = new Folder(site);
  const run = folder.run(['lift', ...args]);
  expect([run.err, run.status]).toEqual(['', 0]);
  const check = folder.json(['check']) as { pages: { same: string }[] };
  expect(new Set(check.pages.map(({ same }) => same))).toEqual(new Set(['bytes']));
  const [path] = Object.keys(folder.files()).filter((each) => each.startsWith('components/'));
  const file = folder.read(path!);
  return { folder, file, said: run.out };
}

function shown(args: string[]): ShowJson {
  return new Folder(site).json(['show', ...args]) as ShowJson;
}

describe('pointing', () => {
  test('at a line: what starts there, its texts as they are, and what looks like it is told', () => {
    const { folder, file, said } = lifted(['--at', `index.html:${north}`, '--name', 'north-buoy']);
    expect(file).toContain('<h2>North</h2>');
    expect(file).not.toContain('meta prop');
    expect(said).toMatch(/3 other places look like it: index\.html:\d+:1, quay\/one\.html:\d+:1/);
    expect(said).toContain('heading "North"');
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()).toEqual(site);
  });

  test('at a column, and further out', () => {
    const line = lineOf('quay/one.html', 'West');
    const at = (...more: string[]) => shown(['--at', `quay/one.html:${line}:4`, ...more]);
    expect(at().file).toContain('<h2>West</h2>');
    expect(at('--outer', '1').file).toMatch(/^ {2}<section/m);
    expect(at('--outer', '2')).toMatchObject({
      kind: 'region',
      occurrences: [{ page: 'quay/one.html', line: line - 2 }],
    });
  });

  test('and at what looks like it', () => {
    const { file, said } = lifted(['--at', `index.html:${north}`, '--alike']);
    expect(file).toContain('buoy--{{state}}');
    expect(file).toContain('<h2>{{heading}}</h2>');
    expect(said).not.toContain('look like it');
  });

  test('at lines: a run of siblings', () => {
    const end = lineOf('index.html', 'South') + 3;
    const { file } = lifted(['--lines', `index.html:${north}-${end}`, '--name', 'two-buoys']);
    expect(file).toMatch(/North[^]*South/);
    const alike = shown(['--lines', `index.html:${north}-${north + 4}`, '--alike']);
    expect(alike.occurrences).toHaveLength(4);
  });

  test('with a selector, as one component', () => {
    const { file } = lifted(['--select', '.buoy', '--name', 'one-buoy', '--props', 'heading=buoy-name']);
    expect(file).toContain('<meta prop="buoy-name" type="text">');
    expect(file).toContain('<h2>{{buoyName}}</h2>');
    expect(shown(['--select', '.buoy:has(table), .rack > .buoy']).occurrences).toHaveLength(3);
  });

  test('texts of one place become props when they are named', () => {
    const { folder, file } = lifted([
      '--at',
      `index.html:${north}`,
      '--props',
      'heading=buoy-name',
      '--name',
      'a-buoy',
    ]);
    expect(file).toContain('<h2>{{buoyName}}</h2>');
    expect(folder.read('index.html')).toContain('<a-buoy buoy-name="North"></a-buoy>');
  });

  test('a part becomes a slot though nothing varies in it', () => {
    const { folder, file } = lifted([
      '--at',
      `index.html:${north}`,
      '--slot',
      '.buoy__facts > table',
      '--name',
      'a-buoy',
    ]);
    expect(file).toContain('<div class="buoy__facts"><slot></slot></div>');
    expect(folder.read('index.html')).toContain(`${table}</a-buoy>`);
    const many = shown(['--select', '.buoy', '--slot', 'h2']);
    expect(many.slots.length).toBeGreaterThan(0);
    expect(many.props.map(({ name }) => name)).not.toContain('heading');
  });

  test('a fixed prop keeps its first value, and places with another one stay as they are', () => {
    const { folder, file, said } = lifted(['--select', '.buoy', '--fixed', 'state', '--name', 'red-buoy']);
    expect(file).toContain('class="buoy buoy--red"');
    expect(said).toMatch(/stays as it is, .*: index\.html:\d+:1/);
    expect(folder.read('index.html')).toContain('class="buoy buoy--green"');
  });

  test('a dry run prints a patch and writes nothing', () => {
    const folder = new Folder(site);
    expect(folder.run(['lift', '--select', '.buoy', '--dry-run']).out).toContain('+++ b/components/');
    expect(folder.files()).toEqual(site);
  });
});

describe('pointing wrongly is told with the place, and nothing is written', () => {
  test.each<[string, string[], RegExp]>([
    ['no such line', ['--at', 'index.html:400'], /index\.html has no line 400: it has \d+/],
    ['no such page', ['--at', 'one.html:3'], /there is no page "one\.html"[^]*did you mean quay\/one\.html/],
    ['no place', ['--at', 'index.html'], /"index\.html" is no place/],
    ['in the middle of a text', ['--at', `index.html:${north + 2}:40`], /no element starts here[^]*near is <p>/],
    ['beyond the end of a line', ['--at', `index.html:${north}:400`], /index\.html:\d+:400: the line is not that long/],
    ['the frame of the page', ['--at', `index.html:${north}`, '--outer', '1'], /<body> cannot be lifted/],
    ['too far out', ['--at', `index.html:${north}`, '--outer', '9'], /nothing stands 9 elements further out/],
    ['lines through an element', ['--lines', `index.html:${north}-${north + 2}`], /cut through <section> on lines/],
    ['lines that end too late', ['--lines', `index.html:${north}-4000`], /has no line 4000/],
    ['lines the wrong way round', ['--lines', 'index.html:5-2'], /lines 5 to 2 are none/],
    ['no lines', ['--lines', 'index.html:5'], /is no range of lines/],
    ['a selector that matches nothing', ['--select', '.boat'], /"\.boat" matches nothing in 2 pages/],
    ['what is no selector', ['--select', 'div >'], /"div >" is no CSS selector/],
    ['what is no selector either', ['--select', 'p:nope('], /is no CSS selector/],
    ['overlapping matches', ['--select', '.buoy, h2'], /matches this and <section> on lines/],
    ['what is not alike', ['--select', 'nav, .rack'], /not alike/],
    ['a slot that is not there', ['--select', '.buoy', '--slot', '.boat'], /"\.boat" matches nothing inside/],
    [
      'a slot where none can stand',
      ['--at', `index.html:${north}`, '--slot', 'tr'],
      /no slot can stand for "tr"|no template/,
    ],
    ['a prop that is not there', ['--select', '.buoy', '--props', 'boat=ship'], /there is no prop "boat"[^]*heading/],
    ['a fixed prop that is not there', ['--select', '.buoy', '--fixed', 'boat'], /--fixed: there is no prop "boat"/],
    [
      'a text that is not there',
      ['--at', `index.html:${north}`, '--props', 'boat'],
      /there is no text "boat"[^]*heading/,
    ],
    ['a prop named like an attribute', ['--select', '.buoy', '--props', 'heading=title'], /"title" cannot be the name/],
    ['two props of one name', ['--select', '.buoy', '--props', 'heading=state'], /two props would be called "state"/],
    ['a name without a hyphen', ['--select', '.buoy', '--name', 'buoy'], /"buoy" cannot be the name of a component/],
    ['two ways at once', ['--select', '.buoy', '--at', 'index.html:3'], /point at different things/],
    ['a name and a place', ['buoy-section', '--select', '.buoy'], /goes without names/],
    ['wishes without a place', ['--slot', 'h2'], /--slot goes with --at/],
    ['more of what takes all', ['--select', '.buoy', '--alike'], /--alike goes with --at or --lines/],
  ])('%s', (_, args, message) => {
    const folder = new Folder(site);
    const run = folder.run(['lift', ...args]);
    expect(run.err).toMatch(message);
    expect([run.status, run.out, folder.files()]).toEqual([2, '', site]);
  });
});

test('one place with many links out of the site, each of which is given, has a name for each and is lifted', () => {
  const links = Array.from({ length: 90 }, (_, i) => `<p><a href="../harbours/${i}.html">${filler}</a></p>`);
  const folder = new Folder({ 'index.html': page(`<main class="berths">\n${links.join('\n')}\n</main>`) });
  const at =
    folder
      .read('index.html')
      .split('\n')
      .findIndex((line) => line.includes('<main')) + 1;
  const shown = folder.json(['show', '--at', `index.html:${at}`]) as ShowJson;
  expect(new Set(shown.props.map(({ name }) => name)).size).toBe(90);
  expect(Math.max(...shown.props.map(({ name }) => name.length))).toBeGreaterThan(32);
  expect(folder.run(['lift', '--at', `index.html:${at}`]).status).toBe(0);
  expect(folder.json(['check'])).toMatchObject({ passed: true, pages: [{ same: 'bytes' }] });
});
