/** `styles`, `lift --styles move` and what `check`, `show`, `expand` and `undo` make of them, on files. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { demo, Folder, removeFolders } from './estrade.js';

afterAll(removeFolders);

const head = (more = '') =>
  `<!DOCTYPE html>\n<html>\n<head><link rel="stylesheet" href="css/site.css">${more}</head>\n<body>\n`;
const berth = (n: number) => `  <div class="berth">
    <h3 class="berth__name">Berth ${n}</h3>
    <p class="berth__text">Where boat number ${n} ties up for the night, if the wind lets it</p>
    <p class="berth__depth">At low water there are ${n + 2} metres under the keel</p>
    <a href="berth-${n}.html">More about berth ${n}</a>
  </div>
`;
const page = (from: number, more = '') =>
  `${head(more)}<main>\n${[0, 1, 2, 3].map((i) => berth(from + i)).join('')}</main>\n<p><a href="#top">Up</a></p>\n</body>\n</html>\n`;
const css = `/* Quay */
body { margin: 0 }

/* berths */
.berth { border: 1px solid; background: url(../img/rope.svg) }
.berth__name { color: navy }
.berth + .berth { margin-top: 1rem }

a { color: teal }
.later { color: red }
`;
const files = { 'one.html': page(1), 'two.html': page(5), 'css/site.css': css };
const NAME = 'berth-block';

describe('styles', () => {
  test('tells of findings before they are lifted, and of components after', () => {
    const folder = new Folder(files);
    const before = folder.json(['styles']) as {
      components: { name: string; lifted: boolean; rules: object[] }[];
      stylesheets: object[];
    };
    expect(before.components.map(({ name, lifted }) => [name, lifted])).toEqual([[NAME, false]]);
    expect(before.components[0]!.rules).toMatchObject([
      { selector: '.berth', path: 'css/site.css', line: 5, column: 1, own: true, reachesOut: false },
      { selector: '.berth__name', own: true },
      { selector: '.berth + .berth', own: true, reachesIn: true, reachesOut: true, wrapper: true, neighbours: true },
      { selector: 'a', own: false },
    ]);
    expect(before.stylesheets).toEqual([
      {
        path: 'css/site.css',
        element: 0,
        rules: 6,
        own: 3,
        shared: 1,
        pages: 1,
        notSeen: [{ selector: '.later', path: 'css/site.css', line: 10, column: 1 }],
      },
    ]);
    expect(folder.run(['show', NAME, '--styles']).out).toContain(
      'Styles: 3 rules of its own, 1 shared; 1 rule depends on where it stands, 1 rule dresses something else through it',
    );
    expect(folder.files()).toEqual(files);

    expect(folder.run(['lift', NAME]).status).toBe(0);
    const { out } = folder.run(['styles']);
    expect(out).toMatch(new RegExp(`${NAME} +8 +3 +1 +1 +1 +· +1 +·`));
    expect(out).toContain('css/site.css:10:1  .later');
    expect(folder.read('css/site.css')).toBe(css);
  });

  test('moves with the lift or later, comes out of expand as it was, and undo restores every byte', () => {
    const together = new Folder(files);
    expect(together.run(['lift', NAME, '--styles', 'move']).out).toContain('Styles: 3 rules moved into 1 component.');
    const later = new Folder(files);
    expect(later.run(['lift', NAME]).status).toBe(0);
    expect(later.run(['styles', NAME, '--move']).out).toContain('the same declarations win on 2 pages');
    expect(later.files()).toEqual(together.files());
    expect(together.read('css/site.css')).toBe(
      `/* Quay */\nbody { margin: 0 }\n\n@component ${NAME};\n\na { color: teal }\n.later { color: red }\n`,
    );
    expect(together.read(`components/${NAME}.html`)).toContain(
      '</template>\n\n<style>\n  /* berths */\n  .berth { border: 1px solid; background: url(../img/rope.svg) }\n',
    );

    expect(together.run(['expand', '--out', 'dist']).status).toBe(0);
    expect(together.read('dist/css/site.css')).toBe(css);
    const checked = together.json(['check']) as { passed: boolean; stylesheets: object[] };
    expect([checked.passed, checked.stylesheets]).toEqual([
      true,
      [{ path: 'css/site.css', same: 'bytes', first: null, edited: [] }],
    ]);

    expect(later.run(['styles', NAME, '--back']).status).toBe(0);
    expect(later.read('css/site.css')).toBe(css);
    for (let i = 0; i < 3; i++) expect(later.run(['undo']).status).toBe(0);
    expect(later.files()).toEqual(files);
  });

  test('a component inside another takes its rules out of the styles of that', () => {
    const folder = demo();
    const before = folder.files();
    const style = (name: string) => /<style>[^]*/.exec(folder.read(`components/${name}.html`))![0];
    for (const name of ['site-header', 'main-nav', 'nav-item']) {
      expect(folder.run(['lift', name, '--styles', 'move']).status).toBe(0);
      expect(folder.json(['check'])).toMatchObject({
        passed: true,
        stylesheets: [{ path: 'css/site.css', edited: [] }],
      });
    }
    expect(style('site-header')).toContain('.brand {');
    expect(style('site-header')).not.toContain('.nav');
    expect(style('main-nav')).toMatch(/\.nav \{ flex: 1 \}\n {2}\.nav__list/);
    expect(style('nav-item')).toContain('.nav__link:hover');
    for (const name of ['main-nav', 'site-header', 'nav-item'])
      expect(folder.run(['styles', name, '--back']).out).toContain('are back in css/site.css, as they were');
    expect(folder.files()['css/site.css']).toBe(before['css/site.css']);
    for (let i = 0; i < 6; i++) expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()).toEqual(before);
  });

  test('--back gives the bytes that were there, comments and at-rules among them; edited styles come back at the marker', () => {
    const odd =
      `${css.replace('.later', '/* no </style> here */\n\n.berth__text { top: 0 } /* nor </style > here */\n\n\n.later')}
@media  print  /* paper */ {

\t.berth__depth { left: 0 }   /* deep */

}
`.replaceAll('\n', '\r\n');
    const folder = new Folder({ ...files, 'css/site.css': `\ufeff${odd}` });
    const before = folder.files()['css/site.css']!;
    expect(folder.run(['lift', NAME]).status).toBe(0);
    const component = folder.read(`components/${NAME}.html`);
    expect(folder.run(['styles', NAME, '--move']).out).toContain('5 rules moved');
    expect(folder.read('css/site.css')).toMatch(/no <\/style> here[^]*nor <\/style > here/);
    expect(folder.read('css/site.css')).not.toMatch(/\.berth|@media/);
    expect(folder.run(['check']).status).toBe(0);
    const moved = folder.read(`components/${NAME}.html`);
    expect(folder.json(['styles', NAME, '--back'])).toMatchObject({ back: [{ path: 'css/site.css', exact: true }] });
    expect(folder.files()['css/site.css']).toBe(before);
    expect(folder.read(`components/${NAME}.html`)).toBe(component);

    expect(folder.run(['undo']).status).toBe(0);
    folder.write({ [`components/${NAME}.html`]: moved.replace('left: 0', 'left: 1px') });
    expect(folder.run(['styles', NAME, '--back']).out).toContain('where its marker stood');
    expect(folder.read('css/site.css')).toContain('left: 1px');
  });

  test('a dry run is a patch with the stylesheet in it, and writes nothing', () => {
    const folder = new Folder(files);
    const { out } = folder.run(['lift', NAME, '--styles', 'move', '--dry-run']);
    expect(out).toContain('+++ b/css/site.css');
    expect(out).toContain(`+@component ${NAME};`);
    expect(out).toContain('+  .berth__name { color: navy }');
    expect(folder.files()).toEqual(files);
  });

  test('check tells an edit of moved styles from a break, and markers that are wrong', () => {
    const folder = new Folder(files);
    folder.run(['lift', NAME, '--styles', 'move']);
    const path = `components/${NAME}.html`;
    const source = folder.read(path);
    folder.write({ [path]: source.replace('color: navy', 'color: black') });
    const edited = folder.run(['check']);
    expect(edited.status).toBe(0);
    expect(edited.out).toMatch(/css\/site\.css +edited +6:\d+ "color: navy" became "color: black"/);
    folder.write({
      [path]: source,
      'css/site.css': css.replace('.berth__name', '@component berth-blok;\n.berth__name'),
    });
    const { status, out } = folder.run(['check']);
    expect(status).toBe(1);
    expect(out).toContain('css/site.css:6:1: there is no component berth-blok');
    expect(out).toMatch(new RegExp(`${path}:\\d+:8: no stylesheet has a marker @component ${NAME}; for these styles`));
  });

  test('what would change a winner stays, and names both declarations', () => {
    const crossed = css
      .replace('a { color: teal }', 'main, .berth { color: teal; margin: 1px }\n.berth { margin: 2px }')
      .replace('solid;', 'solid; color: red;');
    const folder = new Folder({ ...files, 'css/site.css': crossed });
    const { out } = folder.run(['lift', NAME, '--styles', 'move']);
    expect(out).toContain(`css/site.css:10:1: .berth (${NAME}): moving it would change what wins`);
    expect(out).toContain('margin: 2px, css/site.css:10:10');
    expect(out).toContain('margin: 1px, css/site.css:9:29');
    expect(folder.run(['check']).out).toContain('; 1 stylesheet comes out exactly as it was.');
    // a script that adds a class may bring together what no page does
    const scripted = new Folder({
      ...files,
      'css/site.css': `${css}.away { display: none }\n@media print {\n  .berth__depth { display: block }\n}\n`,
    });
    const told = scripted.run(['lift', NAME, '--styles', 'move']).out;
    expect(told).toContain(
      `.berth__depth (${NAME}): moving it would change what wins where a script adds the class of the other rule`,
    );
    expect(told).toContain('display: none, css/site.css:11:9');
    // gathered at the other end, all is as it was but for the order of the text
    const other = new Folder({ ...files, 'css/site.css': `${css}@media print {\n  .berth__depth { top: 0 }\n}\n` });
    expect(other.run(['lift', NAME, '--styles', 'move']).out).toContain('4 rules moved');
    expect(other.run(['check']).out).toContain('; 1 stylesheet lets the same declarations win.');
  });

  test('where a stylesheet makes white space show, indentation counts', () => {
    const verse = (n: number, indent: string) =>
      `<div class="verse">\n  <h3>Song ${n}</h3>\n${indent}<p>The wind of ${n} is up, and all the gulls of ${n} sing with it</p>\n</div>\n`;
    const source = `${head()}${verse(1, '  ')}${verse(2, '    ')}${verse(3, '  ')}</body>\n</html>\n`;
    for (const [rule, uses, same] of [
      ['.verse { color: navy }', 3, 'markup'],
      ['.verse { white-space: normal; white-space-collapse: collapse }', 3, 'markup'],
      ['.verse:not(.x) { white-space: pre-line }', 2, 'bytes'],
      ['.verse { white-space: var(--ws) }', 2, 'bytes'],
      ['.verse { white-\\space: pre }', 2, 'bytes'],
      ['.verse { \\77hite-space-collapse: preserve }', 2, 'bytes'],
    ] as const) {
      const folder = new Folder({ 'one.html': source, 'css/site.css': rule });
      expect(folder.json(['lift', '--select', '.verse', '--name', 'song-verse'])).toMatchObject({
        components: [{ uses }],
        pages: [{ same }],
      });
      expect(folder.json(['check'])).toMatchObject({ passed: true, pages: [{ same }] });
    }
  });

  test('bytes of a sheet in another encoding stay', () => {
    const latin = Buffer.from(
      `@charset "windows-1252";\n/* \u00e9t\u00e9 */\np::before { content: "\u00e9" }\n.berth { color: red }\n`,
      'latin1',
    );
    const folder = new Folder({ ...files, 'css/site.css': latin });
    expect(folder.run(['lift', NAME, '--styles', 'move']).status).toBe(0);
    expect(folder.files()['css/site.css']).toBe(
      latin.toString('latin1').replace('.berth { color: red }', `@component ${NAME};`),
    );
    folder.run(['expand', '--out', 'dist']);
    expect(folder.files()['dist/css/site.css']).toBe(latin.toString('latin1'));
  });

  test.each([
    [['styles', 'nope'], 2, 'the survey has no finding "nope"'],
    [['styles', '--move'], 2, '--move needs a component'],
    [['styles', NAME, '--move', '--back'], 2, '--move and --back exclude each other'],
    [['styles', NAME, '--move'], 2, `there is no component ${NAME}`],
    [['lift', NAME, '--styles', 'away'], 2, 'Allowed choices are keep, move'],
  ])('%j ends with %i', (args, status, message) => {
    const folder = new Folder(files);
    const ran = folder.run(args);
    expect([ran.status, ran.err]).toEqual([status, expect.stringContaining(message)]);
    expect(folder.files()).toEqual(files);
  });

  test('moving twice, back without styles, and nothing to move are refused', () => {
    const folder = new Folder(files);
    folder.run(['lift', NAME, '--styles', 'move']);
    expect(folder.run(['styles', NAME, '--move']).err).toContain(`${NAME} has its styles already`);
    folder.run(['styles', NAME, '--back']);
    expect(folder.run(['styles', NAME, '--back']).err).toContain(`${NAME} has no styles of its own`);
    const bare = new Folder({ ...files, 'css/site.css': 'p, a { color: red }\n' });
    bare.run(['lift', NAME]);
    const { status, err } = bare.run(['styles', NAME, '--move']);
    expect([status, err]).toEqual([1, expect.stringContaining(`no rule can move into ${NAME}`)]);
  });

  test('what is wrong in sheets is named with its place, and the rest goes on', () => {
    const long = Array.from(
      { length: 60_000 },
      (_, i) => `.b${i}{color:#fff;margin:${i}px;padding:${i}px ${i}px;border-width:${i}px;left:${i}px}`,
    ).join('');
    const folder = new Folder({
      'one.html': page(1, '<link rel="stylesheet" href="gone.css"><style>\n.k { a: b }\n..x { c: d }\n</style>'),
      'two.html': page(5),
      'css/site.css': `@import "loop.css";\n@import "long.css";\n${css}a[ { b: c }\n.berth:frob { a: b }\n`,
      'css/loop.css': '@import "site.css";\n.berth__text { a: b',
      'css/long.css': `${long}.berth__text{left:0}`,
    });
    expect(long.length).toBeGreaterThan(5_000_000);
    const { status, out } = folder.run(['styles']);
    expect(status).toBe(0);
    for (const told of [
      'css/loop.css:1:1: these stylesheets import each other: css/site.css → css/loop.css → css/site.css',
      'css/loop.css:2:1: this block is not closed',
      'css/site.css:13:1: this rule has no block, and is dropped',
      'one.html:3:50: the stylesheet "gone.css" is not there',
      'one.html:5:2: this selector cannot be read, and the rule is dropped',
    ])
      expect(out).toContain(told);
    expect(folder.run(['lift', NAME, '--styles', 'move']).out).toMatch(/Styles: [1-9]/);
    expect(folder.run(['check']).status).toBe(0);
  });
});
