/** Proof by pictures in real Chromium, through the built program. */
import { afterAll, expect, test } from '@jest/globals';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { isDeep, usualTest } from '../arbitrary/cases.js';
import { card, demo, Folder, page, removeFolders, site } from './estrade.js';

afterAll(removeFolders);

interface PicturedJson {
  passed: boolean;
  pictured: {
    pictures: number;
    styled: number;
    isSame: boolean;
    different: {
      path: string;
      width: number;
      pixels: number;
      places: { path: string; line: number; column: number; element: string; component: string | null }[];
      files: { before: string; after: string; difference: string };
      edited: string[];
    }[];
    restyled: { path: string; property: string; before: string; after: string; element: string; media: string }[];
  };
}

test('the demo is lifted with its styles: no pixel differs, and every element of every page computes the same', () => {
  const folder = demo();
  const paths = ['notices.html', ...(isDeep ? ['index.html', 'sailings.html', 'boats/tern.html'] : [])];
  folder.write({ 'estrade.config.json': JSON.stringify({ pages: paths }) });
  const lifted = folder.run(['lift', '--recommended', '--styles', 'move', '--pictures']);
  expect([lifted.err, lifted.status]).toEqual(['', 0]);
  expect(lifted.out).toContain(
    `Drawn: ${2 * paths.length} pictures of ${paths.length} page${isDeep ? 's' : ''} at 1280 and 400 wide: no pixel differs.`,
  );
  const { passed, pictured } = folder.json(['check', '--computed']) as PicturedJson;
  expect(passed).toBe(true);
  expect(pictured).toMatchObject({ pictures: 0, different: [], restyled: [], isSame: true });
  expect(pictured.styled).toBeGreaterThan(isDeep ? 1000 : 200);
  expect(existsSync(join(folder.path, '.estrade/pictures'))).toBe(false);
});

test('with a rule broken by hand names page and place, and writes three pictures', () => {
  const logs = isDeep ? ['mewport', 'sandrey', 'varnhaven'] : ['mewport', 'sandrey'];
  const pages = logs.map((name) => `harbours/${name}.html`);
  const others = isDeep ? ['harbours/index.html'] : [];
  const config = JSON.stringify({ pages: [...others, ...pages], pictures: { widths: [600] } });
  const folder = demo();
  folder.write({ 'estrade.config.json': config });
  const plain = new Folder(bytesOf(folder.files()));
  expect(folder.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
  const css = folder.read('css/site.css');
  const broken = css.replace('padding: .7rem', 'padding: .8rem');
  expect(broken).not.toBe(css);
  folder.write({ 'css/site.css': broken });
  const { passed, pictured } = folder.json(['check', '--pictures', '--computed']) as PicturedJson;
  // what the user edited is the user's
  expect([passed, pictured.isSame]).toEqual([true, true]);
  expect(pictured.different.map(({ path }) => path)).toEqual(pages);
  for (const { path, places, edited, files } of pictured.different) {
    const [line, column] = placeOfTag(folder.read(path), places[0]!.component!);
    expect(places[0]).toMatchObject({ path, line, column, element: '<pre class="log">' });
    expect(edited).toEqual(['css/site.css']);
    const [before, after, difference] = [files.before, files.after, files.difference].map((each) =>
      PNG.sync.read(readFileSync(join(folder.path, each))),
    );
    expect([before!.width, after!.width, difference!.width]).toEqual([600, 600, 600]);
    expect(after!.height).toBeGreaterThan(before!.height);
    expect(difference!.height).toBe(after!.height);
  }
  expect(pictured.restyled).toContainEqual(
    expect.objectContaining({
      ...{ path: 'harbours/mewport.html', property: 'padding-bottom', before: '11.2px', after: '12.8px' },
      ...{ element: '<pre class="log">', media: 'print' },
    }),
  );
  // against the pages as they were, nothing tells that it was edited
  const against = folder.run(['check', '--against', plain.path, '--pictures']);
  expect(against.status).toBe(1);
  expect(against.out).toMatch(/differs {2}harbours\/mewport\.html at 600: [\d,]+ pixels, \.estrade\/pictures\//);
  expect(against.out).toMatch(/<pre class="log"> of [a-z-]+, and/);
  expect(against.out).toMatch(/^Failed against .*: not every page was drawn the same, see below; /m);
  expect(against.out).toContain(
    `${logs.length + others.length} pictures of ${logs.length + others.length} pages at 600 wide: ${logs.length} pictures differ.`,
  );
});

function bytesOf(files: Record<string, string>): Record<string, Buffer> {
  return Object.fromEntries(Object.entries(files).map(([path, text]) => [path, Buffer.from(text, 'latin1')]));
}

/** Line and column of the first use of a component. */
function placeOfTag(source: string, name: string): [number, number] {
  const before = source.slice(0, source.search(new RegExp(`<${name}[ >]`))).split('\n');
  return [before.length, before.at(-1)!.length + 1];
}

usualTest('a lift that would show is refused before anything is written, whatever the markup says', () => {
  // a script writes how long the markup is, which differs where the indentation does
  const boat = (name: string, indent: string) =>
    `<section class="boat">\n${indent}<h3>${name}</h3>\n${indent}<p>The boat of that name calls at every quay.</p>\n</section>`;
  const folder = new Folder({
    'index.html': page(
      `${boat('Tern', '  ')}\n${boat('Eider', '        ')}\n<p id="size"></p>\n<script>document.getElementById('size').textContent = document.body.innerHTML.length</script>`,
    ),
  });
  const before = folder.files();
  const lift = ['lift', '--select', 'section.boat', '--name', 'boat-part'];
  const refused = folder.run([...lift, '--pictures']);
  expect(refused.status).toBe(1);
  expect(refused.err).toMatch(/index\.html:\d+:\d+: <p id="size">/);
  expect(folder.files()).toEqual(before);
  expect(folder.run(lift).status).toBe(0);
});

usualTest('what moves, is random, fails, leads away or is asked of the network comes out the same each time', () => {
  const folder = new Folder({
    ...site(),
    'estrade.config.json': '{ "pictures": { "widths": [600] } }',
    'live.html': page(
      `<p id="now"></p><canvas id="dots" width="40" height="40"></canvas><p class="pulse">On its way</p>
<iframe srcdoc="<style>p { animation: away 900ms infinite } @keyframes away { to { margin-left: 99px } }</style><p>And back"></iframe>
<img loading="lazy" src="http://192.0.2.1/x.png" alt="a boat">
<section class="boat"><h3>Tern</h3><p>calls at every quay</p></section>
<section class="boat"><h3>Eider</h3><p>calls at every quay</p></section>
<script>
  document.getElementById('now').textContent = Date.now() + Math.random() + performance.now();
  const dots = document.getElementById('dots').getContext('2d');
  setInterval(() => dots.fillRect(Math.random() * 40, Math.random() * 40, 2, 2), 7);
  setTimeout(() => nowhere.sail(), 20);
  requestAnimationFrame(function frame() {
    dots.fillRect(Date.now() % 16, 20, 1, 1);
    requestAnimationFrame(frame);
  });
</script>
<style>.pulse { animation: pulse 1s infinite alternate } @keyframes pulse { to { opacity: 0 } }</style>`,
    ),
    'old.html': page(
      `${card('Skua', 'skua.html')}\n<form id="sent" action="live.html"></form>\n<script>sent.submit(); location.replace('live.html'); location.reload()</script>`,
    ).replace('<head>', '<head><meta http-equiv="refresh" content="0; url=islands/all.html">'),
  });
  expect(folder.run(['lift', '--recommended', '--pictures', '--computed']).status).toBe(0);
  const checked = folder.json(['check', '--pictures', '--computed']) as PicturedJson;
  expect(checked.pictured).toMatchObject({ pictures: 4, isSame: true, different: [] });
  // what leads away is drawn itself, and not what it leads to
  folder.write({ 'old.html': folder.read('old.html').replaceAll('Skua', 'Skua, laid up') });
  const edited = folder.json(['check', '--pictures']) as PicturedJson;
  expect(edited.pictured.different.map(({ path }) => path)).toEqual(['old.html']);
});

usualTest(
  'a page that comes out in one way at one time, and in another at the next, is the same where both versions do',
  () => {
    // which way is known by the name of the window, that stays when the page is opened again
    const [one, two] = [0, 1].map(
      (first) =>
        new Folder({
          'estrade.config.json': '{ "pictures": { "widths": [600] } }',
          'components/x-a.html': '<template component="x-a"><b>a</b></template>',
          'index.html': page(
            `<p id="turn"></p><script>
  name = Number(name) + 1;
  document.getElementById('turn').textContent = (Number(name) + ${first}) % 2 ? 'odd' : 'even';
</script>`,
          ),
        }),
    );
    const { pictured } = one!.json(['check', '--against', two!.path, '--pictures']) as PicturedJson;
    expect(pictured).toMatchObject({ pictures: 1, different: [], isSame: true });
    two!.write({ 'index.html': two!.read('index.html').replace("'odd'", "'at odds'").replace("'even'", "'not so'") });
    const changed = one!.json(['check', '--against', two!.path, '--pictures']) as PicturedJson;
    expect(changed.pictured.different.map(({ path }) => path)).toEqual(['index.html']);
  },
);

usualTest.each([
  ['check', '--pictures'],
  ['check', '--computed'],
  ['lift', '--recommended', '--pictures'],
])('without a browser %s %s says how to install it', (...args) => {
  const folder = new Folder(site());
  const before = folder.files();
  const { status, err } = folder.run(args, { env: { CHROMIUM_PATH: '/nowhere/chromium' } });
  expect(status).toBe(2);
  expect(err).toContain(`${args.at(-1)!} needs Chromium, which is not at /nowhere/chromium`);
  expect(err).toContain('apt-get install chromium');
  expect(folder.files()).toEqual(before);
});

usualTest('widths come from the configuration, and are checked', () => {
  const config = (widths: unknown) => ({ 'estrade.config.json': JSON.stringify({ pictures: { widths } }) });
  const folder = new Folder({ ...site(), ...config([600]) });
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  expect(folder.run(['check', '--pictures']).out).toContain('2 pictures of 2 pages at 600 wide: no pixel differs.');
  folder.write(config([600, 20]));
  expect(folder.run(['check'])).toMatchObject({ status: 2, err: expect.stringContaining('estrade.config.json:1:') });
});
