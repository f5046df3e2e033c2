/** Handing over, through the built program: the demo's components in every form, and what must not happen. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import Ajv from 'ajv';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { isDeep, usualTest } from '../arbitrary/cases.js';
import { drawFolders, type Drawing, launch, WIDTHS } from '../browser/drawn.js';
import { card, demo, Folder, lifted, page, removeFolders, ROOT } from './estrade.js';

afterAll(removeFolders);

let site: Folder;
beforeAll(() => {
  site = demo();
  if (!isDeep) site.write({ 'estrade.config.json': '{ "pages": ["{index,notices,sailings,boats/tern}.html"] }' });
  expect(site.run(['lift', '--recommended', '--styles', 'move']).status).toBe(0);
});

interface EmitJson {
  format: number;
  target: string;
  out: string;
  files: string[];
  written: number;
  unchanged: number;
  removed: string[];
  remarks: { kind: string; message: string; place: object | null }[];
  verified: { checked: number | null; errors: object[]; pages: { path: string; same: string; first: object | null }[] };
}

describe('emit tsx', () => {
  test('hands the demo over: strictly typed, rendered the same, stable', () => {
    const answer = site.json(['emit', 'tsx', '--verify', '--jsx-import', 'preact']) as EmitJson;
    expect(answer).toMatchObject({ format: 1, target: 'tsx', out: 'emitted/tsx', removed: [] });
    expect(answer.verified.errors).toEqual([]);
    expect(answer.verified.checked).toBeGreaterThan(isDeep ? 25 : 15);
    expect(answer.verified.pages.map(({ same }) => same)).toEqual(Array(isDeep ? 15 : 4).fill('markup'));
    const header = site.read('emitted/tsx/components/SiteHeader.tsx');
    expect(header).toMatch(/^\/\*\* @jsxImportSource preact \*\/\n/);
    expect(header).toMatch(
      isDeep ? /current\?: "home" \| "sailings" \| "fares"/ : /current: "home" \| "sailings" \| "boats"/,
    );
    expect(header).toMatch(/<NavItem\s+current=\{current === "home"\}/);
    expect(header).toContain('import "./SiteHeader.css";');
    expect(site.read('emitted/tsx/components/index.ts')).toContain('export * from "./SiteHeader";');
    expect(site.read('emitted/tsx/html/notices.html')).toMatch(
      /<body>\s*<!-- notices\.html: the content of its page module -->/,
    );
    const again = site.json(['emit', 'tsx', '--jsx-import', 'preact']) as EmitJson;
    expect(again).toMatchObject({ written: 0, unchanged: answer.files.length });
  });

  usualTest('keeps what was edited since, unless --force', () => {
    const path = 'emitted/tsx/components/SiteFooter.tsx';
    site.write({ [path]: '// ours now\n' });
    const refused = site.run(['emit', 'tsx', '--jsx-import', 'preact']);
    expect([refused.status, site.read(path)]).toEqual([1, '// ours now\n']);
    expect(refused.err).toMatch(/changed since[^]*SiteFooter\.tsx[^]*--force/);
    expect(site.run(['emit', 'tsx', '--jsx-import', 'preact', '--force']).status).toBe(0);
    expect(site.read(path)).toContain('export function SiteFooter');
  });

  usualTest('names, folders, types of slots and formatting are the team’s', () => {
    const folder = lifted();
    folder.write({
      '.prettierrc.json': '{ "singleQuote": true, "semi": false }',
      'estrade.config.json': JSON.stringify({
        emit: {
          fileCase: 'kebab',
          suffix: '.part',
          layout: 'folders',
          slotType: { name: 'Node', from: 'ours' },
          out: 'handed',
        },
      }),
    });
    expect(folder.run(['emit', 'tsx', '--attributes', 'html']).status).toBe(0);
    const paths = Object.keys(folder.files('handed/tsx'));
    const module = paths.find((path) => /^components\/([a-z-]+)\/\1\.part\.tsx$/.test(path))!;
    expect(paths).toContain(module.replace(/[^/]+$/, 'index.ts'));
    const text = folder.read(`handed/tsx/${module}`);
    expect(text).toMatch(/<article class=/);
    expect(text).not.toMatch(/;\n|className/);
    folder.write({ '.prettierrc.json': '{ "semi": ' });
    // the formatter keeps what it has read of its configuration as long as a process lives
    const broken = folder.run(['emit', 'tsx', '--out', 'other'], { env: {} });
    expect([broken.status, broken.err]).toEqual([
      2,
      expect.stringMatching(/cannot be formatted[^]*configuration of Prettier/),
    ]);
  });

  usualTest('what JSX cannot say is told with its place', () => {
    const folder = new Folder({
      'index.html': page(
        '<p>a</p>\n<pre>\n\nb</pre>\n<p onclick="}{">c</p>\n<p style="color: red !important" key="k">d</p>',
      ),
    });
    const { remarks } = folder.json(['emit', 'tsx']) as EmitJson;
    const told = remarks.filter(({ kind }) => kind === 'unsayable');
    expect(told.map(({ message }) => message).join('\n')).toMatch(
      /line break that <pre>[^]*no JavaScript[^]*!important[^]*attribute key/,
    );
    expect(told.map(({ place }) => place)).toEqual(
      Array(4).fill({ path: 'index.html', line: expect.any(Number), column: expect.any(Number) }),
    );
  });
});

usualTest('emit jsx has no types, and the same markup', () => {
  const answer = site.json(['emit', 'jsx', '--verify', '--attributes', 'html']) as EmitJson;
  expect(answer.verified).toMatchObject({ checked: null, errors: [] });
  expect(answer.verified.pages.every(({ same }) => same === 'markup')).toBe(true);
  expect(answer.files.filter((path) => /\.tsx?$/.test(path))).toEqual([]);
  const card = site.read('emitted/jsx/components/NoticeSection.jsx');
  expect(card).toMatch(
    /@param \{"calm" \| "delayed" \| "storm"\} props\.state|@param \{'calm' \| 'delayed' \| 'storm'\} props\.state/,
  );
  expect(card).toContain('<section class=');
});

describe('emit elements', () => {
  test('pages, modules, one classic script and a manifest; drawn in a browser they are the pages', () => {
    const answer = site.json(['emit', 'elements', '--verify']) as EmitJson;
    expect(answer.verified.pages.map(({ same }) => same)).toEqual(Array(isDeep ? 15 : 4).fill('markup'));
    expect(answer.remarks.map(({ message }) => message).join('\n')).toMatch(
      /notice-section takes the place of its section: around it, \.notice \+ \.notice \(components\/notice-section\.html:\d+:\d+\) would dress otherwise/,
    );
    const notices = site.read('emitted/elements/notices.html');
    expect(notices).toMatch(/<notice-section state="storm" [^>]*class="notice notice--storm">Evening sailings/);
    expect(notices).toContain('<script defer src="elements/all.js"></script>');
    expect(site.read('emitted/elements/boats/tern.html')).toContain(
      '<link rel="stylesheet" href="../elements/all.css">',
    );
    expect(site.read('emitted/elements/css/site.css')).not.toContain('@component');
    const schema = createRequire(import.meta.url)('custom-elements-manifest/schema.json') as object;
    const manifest = JSON.parse(site.read('emitted/elements/custom-elements.json')) as {
      modules: { declarations: object[] }[];
    };
    const validate = new Ajv.Ajv({ strict: false }).compile(schema);
    expect([validate(manifest), validate.errors]).toEqual([true, null]);
    expect(manifest.modules.flatMap(({ declarations }) => declarations)).toContainEqual(
      expect.objectContaining({
        tagName: 'notice-section',
        attributes: expect.arrayContaining([
          { name: 'state', type: { text: "'calm' | 'delayed' | 'storm' | null" }, fieldName: 'state' },
        ]),
        slots: [{ name: '' }],
      }),
    );
    expect(site.json(['emit', 'elements'])).toMatchObject({ written: 0 });
  });

  test('no pixel differs: opened from disk, with their content in the pages, and without script', async () => {
    const before = demo();
    expect(site.run(['emit', 'elements', '--prerender', '--out', 'drawn']).status).toBe(0);
    const [plain, drawn] = [join(site.path, 'emitted/elements'), join(site.path, 'drawn')];
    const [only, pictures] = isDeep ? ['{index,notices,sailings,boats/*}.html', 16] : ['{notices,boats/tern}.html', 2];
    const browser = await launch();
    try {
      const draw = (after: string, drawing: Drawing) => drawFolders(browser, [before.path, after], drawing);
      expect(await draw(plain, { scripts: true, only })).toEqual({ pictures, different: [] });
      expect(await draw(drawn, { scripts: false, only })).toEqual({ pictures, different: [] });
      // without script the elements that are not drawn are empty
      expect(await draw(plain, { scripts: false, only: 'sailings.html', redrawn: 1 })).toEqual({
        pictures: WIDTHS.length,
        different: WIDTHS.map((width) => `sailings.html ${width}`),
      });
    } finally {
      await browser.close();
    }
  });

  usualTest('where no unknown tag can stand the use is left expanded, and told', () => {
    const row = (n: number) =>
      `<tr class="row"><td class="name">Boat ${n} of the sound</td><td class="when">leaves at ${n} from the long pier</td></tr>`;
    const folder = new Folder({
      'index.html': page(`<table>\n${[1, 2, 3].map(row).join('\n')}\n</table>\n<p>x</p>`),
    });
    expect(folder.run(['lift', '--select', 'tr.row', '--name', 'boat-row']).status).toBe(0);
    const { remarks, verified } = folder.json(['emit', 'elements', '--verify']) as EmitJson;
    expect(remarks.map(({ message }) => message)).toContain(
      'boat-row is left expanded in all its places: an unknown tag cannot stand there',
    );
    expect(verified.pages[0]!.same).toBe('markup');
    expect(folder.read('emitted/elements/index.html')).toContain('Boat 3 of the sound');
  });
});

usualTest(
  'pages keep their encoding, scripts are read in any and told where they are, and what leads away at once is proven',
  () => {
    const cards = ['Möwe', 'Böe', 'Kräke'].map(
      (boat) => `<article class="b"><h3>${boat}</h3><p>Die Fähre fährt heute spät.</p></article>`,
    );
    const away = '<meta http-equiv="refresh" content="0; url=about:blank">';
    // called as the files of all elements are
    const own = '<link rel="stylesheet" href="css/all.css"><script src="js/all.js"></script>';
    // what is put before the first script stands there
    const before = `document.querySelector('body script').before(document.createElement('i'))`;
    const script = `document.body.title = location.pathname.split('/').pop(); ${before}; location.reload()`;
    const source = page(`${cards.join('\n')}\n<script>${script}</script>`).replace(
      '<title>',
      `<meta charset="windows-1252">${away}${own}<title>`,
    );
    const marked = `\ufeff${page(cards.join('\n'))}`;
    const folder = new Folder({ 'index.html': Buffer.from(source, 'latin1'), 'marked.html': marked });
    expect(folder.run(['lift', '--select', 'article', '--name', 'boat-card']).status).toBe(0);
    for (const options of [['--prerender', '--out', 'drawn'], []]) {
      const { verified } = folder.json(['emit', 'elements', '--verify', ...options]) as EmitJson;
      expect(verified.pages).toEqual(
        ['index.html', 'marked.html'].map((path) => ({ path, same: 'markup', first: null })),
      );
    }
    const files = folder.files('emitted/elements');
    expect(files['index.html']).toContain('<boat-card heading="M\xf6we">');
    expect(files['elements/all.js']).toContain('Die F\\u00e4hre f\\u00e4hrt heute sp\\u00e4t.');
    expect(folder.run(['emit', 'tsx', '--verify']).status).toBe(0);
  },
);

describe('a target of one’s own', () => {
  const target = (code: string) => {
    const folder = lifted({ 'index.html': page([1, 2, 3].map((n) => card(`Boat ${n}`, `b${n}.html`)).join('\n')) });
    folder.write({ 'mine.mjs': code, 'emitted/kept.txt': 'kept' });
    return { folder, ran: folder.run(['emit', './mine.mjs']) };
  };

  usualTest('the example of the docs runs, with its options', () => {
    site.write({
      'catalogue.mjs': readFileSync(join(ROOT, 'docs/example-target.mjs')),
      'estrade.config.json': '{ "emit": { "options": { "title": "Parts of Varn Sound" } } }',
    });
    const { status, out } = site.run(['emit', './catalogue.mjs']);
    expect([status, out]).toEqual([0, expect.stringMatching(/\d+ components in catalogue\.md/)]);
    const text = site.read('emitted/catalogue/catalogue.md');
    expect(text).toMatch(/^# Parts of Varn Sound\n/);
    expect(text).toMatch(
      /## notice-section[^]*\| state \| calm or delayed or storm \| required \|[^]*Poured in: its content\./,
    );
  });

  test.each<[string, string, RegExp]>([
    [
      'throws',
      `export default () => { throw new Error('no wind'); }`,
      /the target \.\/mine\.mjs failed: no wind; nothing was written/,
    ],
    [
      'writes outside',
      `export default () => ({ files: [{ path: 'a', text: '' }, { path: '../x', text: '' }] })`,
      /not in the output folder[^]*"\.\.\/x"/,
    ],
    [
      'gives two files one name',
      `export default () => ({ files: [{ path: 'a.txt', text: '1' }, { path: 'A.txt', text: '2' }] })`,
      /two files one name[^]*a\.txt[^]*A\.txt/,
    ],
    ['gives no files', `export default () => 5`, /something else than files/],
    ['is no function', `export const x = 1`, /no default export/],
    ['cannot be read', `export default (`, /cannot be loaded/],
  ])('one that %s: a clear error, and nothing is written', (_, code, message) => {
    const { folder, ran } = target(code);
    expect(ran.err).toMatch(message);
    expect(ran.err).not.toMatch(/\n\s+at .*node:internal/);
    expect(ran.status).toBe(2);
    expect(folder.files('emitted')).toEqual({ 'kept.txt': 'kept' });
  });
});

usualTest('wrong targets, and proofs that cannot be made', () => {
  const folder = lifted();
  expect(folder.run(['emit', 'tvx'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/"tvx" is no target[^]*tsx, jsx, elements/),
  });
  expect(folder.run(['emit', './gone.mjs'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/no file \.\/gone\.mjs/),
  });
  expect(folder.run(['emit', 'tsx', '--out', '.'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/the project itself/),
  });
  folder.write({ 'mine.mjs': 'export default () => ({ files: [] })' });
  expect(folder.run(['emit', './mine.mjs', '--verify'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/built-in targets only/),
  });
  expect(Object.keys(folder.files()).filter((path) => path.startsWith('emitted/'))).toEqual([]);
  const away = folder.run(['emit', 'tsx', '--verify', '--jsx-import', 'not-there']);
  expect(away).toMatchObject({
    status: 2,
    err: expect.stringMatching(/not-there[^]*nothing was written: npm install --save-dev not-there/),
  });
  const env = { CHROMIUM_PATH: '/nowhere/chromium' };
  expect(folder.run(['emit', 'elements', '--verify'], { env })).toMatchObject({
    status: 2,
    err: expect.stringMatching(/needs Chromium, which is not at \/nowhere\/chromium[^]*nothing was written/),
  });
  expect(Object.keys(folder.files()).filter((path) => path.startsWith('emitted/'))).toEqual([]);
});
