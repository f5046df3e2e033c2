/** The built program on parts that pages share: drift and how it is unified, what heads and bodies load, the layout. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { cpSync } from 'node:fs';
import { join } from 'node:path';
import { Folder, removeFolders, ROOT, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

const filler = 'It hangs beside the clock in the office on the quay, and stays there all week.';

interface Shared {
  title: string;
  /** folder of the page, with a slash */
  below?: string;
  phone?: string;
  call?: string;
  more?: string;
  tide?: boolean;
}

/** A page with the header, footer and scripts that all share, and its own content. */
function shared({
  title,
  below = '',
  phone = '0555 014',
  call = 'calls.html',
  more = '',
  tide = true,
}: Shared): string {
  const up = below === '' ? '' : '../';
  return `<!DOCTYPE html>
<html lang="en">
<head>
  <meta charset="utf-8">
  <title>${title} of the Sound</title>
  <meta name="description" content="About the ${title.toLowerCase()}, and how to find it.">
  <!-- looks -->
  <link rel="stylesheet" href="${up}css/site.css">
</head>
<body class="quay">
  <header class="top">
    <a class="top__brand" href="${up}index.html">The Sound</a>
    <p class="top__call"><a href="${up}${call}">Call us</a> ${phone}</p>
    <p class="top__text">${filler}</p>${tide ? '\n    <p class="top__tide">High tide at noon</p>' : ''}
  </header>
  <main>
    <h1>${title}</h1>
    <p>${title} is ${title.length} fathoms deep.</p>
  </main>
  <!-- for all pages -->
  <script src="${up}js/all.js"></script>
  <script src="${up}js/menu.js" defer></script>${more}
</body>
</html>
`;
}

const usual = {
  'index.html': shared({ title: 'Quay' }),
  'boats.html': shared({ title: 'Boats' }),
  'fares.html': shared({ title: 'Fares', more: '\n  <script src="js/fares.js"></script>' }),
  'isles/hallow.html': shared({ title: 'Hallow', below: 'isles/' }),
  'isles/orlay.html': shared({ title: 'Orlay', below: 'isles/' }),
  'isles/sandrey.html': shared({ title: 'Sandrey', below: 'isles/' }),
};
const odd = shared({ title: 'Mewport', below: 'isles/', phone: '0555 099', call: 'old/calls.html', tide: false });
const site = { ...usual, 'isles/mewport.html': odd };
const files = {
  'css/site.css': '',
  'js/all.js': '',
  'js/menu.js': '',
  'js/fares.js': '',
  'calls.html': '<p>calls</p>',
};

interface DriftJson {
  prop: string;
  usual: unknown;
  count: number;
  places: { page: string; line: number; value: unknown }[];
}

const drifted = (folder: Folder): DriftJson[] => (folder.json(['show', 'top-header']) as { drift: DriftJson[] }).drift;
const checked = (folder: Folder) =>
  folder.json(['check']) as {
    passed: boolean;
    pages: { path: string; same: string }[];
    unified: { path: string; line: number; prop: string; was: string; now: string }[];
  };

describe('drift', () => {
  test('is told page by page, with what most pages have, and kept by default', () => {
    const folder = new Folder({ ...site, ...files });
    const said = folder.run(['survey'], { env: { COLUMNS: '140' } }).out;
    expect(said).toMatch(/^isles\/mewport\.html:13 +top-header +\S+ +0555 099 +0555 014 +6$/m);
    expect(said).toMatch(/^isles\/mewport\.html:11 +top-header +\S+ +\(none\) +High tide at noon +6$/m);
    const drift = drifted(folder);
    expect(drift.map(({ count, places }) => [count, places.map((each) => each.page)])).toEqual(
      Array(3).fill([6, ['isles/mewport.html']]),
    );
    expect(folder.run(['lift', 'top-header']).status).toBe(0);
    expect(new Set(checked(folder).pages.map(({ same }) => same))).toEqual(new Set(['bytes']));
  });

  test('is told by the names in the component file, where other components in its template have given them, too', () => {
    const folder = new Folder();
    cpSync(join(ROOT, 'demo/site'), folder.path, { recursive: true });
    const { findings } = folder.json(['survey']) as { findings: { props: { name: string }[]; drift: DriftJson[] }[] };
    const told = findings.flatMap(({ props, drift }) =>
      drift.map(({ prop, usual }) => [usual, props.some(({ name }) => name === prop)]),
    );
    expect(told).toEqual([
      ['Sailings', true],
      ['tel:+44555014220', true],
      ['0555 014 220', true],
    ]);
  });

  test('is listed in full only when that is asked for', () => {
    const pages = Array.from({ length: 30 }, (_, i) => {
      const own = i < 5 ? { phone: '0555 099', call: 'old/calls.html', tide: false } : {};
      return [`isles/${i}.html`, shared({ title: 'An isle', below: 'isles/', ...own })] as const;
    });
    const folder = new Folder({ ...Object.fromEntries(pages), ...files });
    const told = (args: string[]) => folder.run(args).out.match(/^isles\/\d+\.html:\d+ +top-header .*|^… and .*/gm);
    expect(told(['survey'])).toHaveLength(13);
    expect(told(['survey'])!.at(-1)).toBe('… and 3 more differences: --verbose lists all');
    expect(told(['show', 'top-header'])!.at(-1)).toBe('… and 3 more differences: --verbose lists all');
    expect(told(['survey', '--verbose'])).toHaveLength(15);
  });

  test('is unified when asked for: what changes is said, recorded, and all that check accepts', () => {
    const folder = new Folder({ ...site, ...files });
    const run = folder.run(['lift', 'top-header', '--unify', 'all']);
    expect([run.err, run.status]).toEqual(['', 0]);
    expect(run.out.match(/^unified {2}isles\/mewport\.html:\d+:\d+: /gm)).toHaveLength(3);
    expect(folder.read('components/top-header.html')).not.toContain('meta prop');
    expect(folder.run(['expand', '--out', 'dist']).status).toBe(0);
    expect(folder.read('dist/isles/mewport.html')).toBe(shared({ title: 'Mewport', below: 'isles/' }));
    for (const [path, source] of Object.entries(usual)) expect(folder.read(`dist/${path}`)).toBe(source);
    const { passed, unified } = checked(folder);
    expect([passed, unified.map(({ was, now }) => [was, now])]).toEqual([
      true,
      expect.arrayContaining([
        ['0555 099', '0555 014'],
        ['../old/calls.html', 'calls.html'],
      ]),
    ]);
    // the journal accepts these changes and no others
    const page = folder.read('isles/mewport.html');
    folder.write({ 'isles/mewport.html': page.replace('Mewport is', 'Mewport was') });
    expect(folder.run(['check']).out).toMatch(/isles\/mewport\.html +edited +19:\d+ text "Mewport is/);
    folder.write({ 'isles/mewport.html': page });
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.read('isles/mewport.html')).toBe(odd);
  });

  test('is unified in some of it, and a dry run writes nothing', () => {
    const folder = new Folder({ ...site, ...files });
    const phone = drifted(folder).find((each) => each.usual === '0555 014')!.prop;
    const before = folder.files();
    const patch = folder.run(['lift', 'top-header', '--unify', phone, '--dry-run']).out;
    expect(patch).toMatch(/^-.*0555 099/m);
    expect(folder.files()).toEqual(before);
    expect(folder.run(['lift', 'top-header', '--unify', phone]).status).toBe(0);
    folder.run(['expand', '--out', 'dist']);
    const wanted = shared({ title: 'Mewport', below: 'isles/', call: 'old/calls.html', tide: false });
    expect(folder.read('dist/isles/mewport.html')).toBe(wanted);
  });

  test.each([
    [
      ['lift', 'top-header', '--unify', 'nope'],
      'nothing drifted in a prop "nope"',
      'the props that drifted are href, call, tide',
    ],
    [['lift', '--select', '.top', '--unify', 'all'], '--unify goes with names of findings', ''],
    [['lift', 'top-header', '--cut', '2', '--unify', 'all'], '--unify goes with names of findings', ''],
    [['lift', 'no-header', '--unify', 'all'], 'no finding "no-header"', ''],
    [['lift', 'page-head', '--unify', 'all'], 'nothing drifted here', 'estrade survey tells what drifted'],
    [['lift', '--unify', 'all'], 'nothing is named to be lifted', ''],
  ])('%j is refused, and nothing is written', (args, what, hint) => {
    const folder = new Folder(site);
    const run = folder.run(args);
    expect([run.status, run.err]).toEqual([2, expect.stringContaining(what)]);
    expect(run.err).toContain(hint);
    expect(folder.files()).toEqual(site);
  });

  test('of a page too different to be one of them is told, and the page left as it is', () => {
    const own = shared({ title: 'Mewport' }).replace(
      /<header[^]*<\/header>/,
      `<header class="top">\n<nav><a href="index.html">Back</a></nav>\n<form><input name="q"><button>Go</button></form>\n<table><tr><td>${filler}</td></tr></table>\n</header>`,
    );
    const folder = new Folder({ ...usual, 'mewport.html': own });
    expect(folder.run(['survey'], { env: { COLUMNS: '140' } }).out).toMatch(
      /^mewport\.html:11 +top-header +\(all of it\) +5 lines, left as they are +one component +6$/m,
    );
  });
});

test('what all heads and bodies load is one component each, title and description props, whatever else some load', () => {
  const folder = new Folder({ ...site, ...files });
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  expect(folder.read('isles/orlay.html')).toMatch(
    /<template use="page-head" page-title="Orlay of the Sound"\s+description="About the orlay, and how to find it."><\/template>/,
  );
  const head = folder.read('components/page-head.html');
  expect(head).toContain('<title>{{pageTitle}}</title>');
  expect(head).toContain('<!-- looks -->\n  <link rel="stylesheet" href="../css/site.css">');
  for (const path of Object.keys(site)) expect(folder.read(path)).toContain('<page-scripts></page-scripts>');
  expect(folder.read('fares.html')).toContain('<script src="js/fares.js"></script>');
  expect(new Set(checked(folder).pages.map(({ same }) => same))).toEqual(new Set(['bytes']));
});

describe('the layout of whole pages', () => {
  test('is offered, not recommended; lifted, the pages are their contents', () => {
    const folder = new Folder({ ...site, ...files });
    const { findings } = folder.json(['survey', '--regions']) as SurveyJson;
    expect(findings.find(({ name }) => name === 'page-layout')).toMatchObject({ recommended: false, kind: 'frame' });
    expect(folder.run(['lift', 'page-layout', 'top-header']).status).toBe(0);
    const layout = folder.read('components/page-layout.html');
    expect(layout).toMatch(
      /<html lang="en">\s*<head>[^]*<\/head>\s*<body class="quay">[^]*<top-header[^]*<\/body>\s*<\/html>\s*<\/template>\n$/,
    );
    expect(folder.read('boats.html')).toMatch(
      /^<!DOCTYPE html>\n<page-layout [^>]*>\n {2}<template slot="heading">Boats<\/template>[^]*<\/page-layout>\n$/,
    );
    expect(new Set(checked(folder).pages.map(({ same }) => same))).toEqual(new Set(['bytes']));
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()).toEqual({ ...site, ...files });
  });

  test('takes pages of one frame: other tags around, or a base that URLs resolve against, are another', () => {
    const pages = {
      ...usual,
      'other.html': shared({ title: 'Other' }).replace('class="quay"', 'class="pier"'),
      'based.html': shared({ title: 'Based' }).replace('<title>', '<base href="/x/">\n  <title>'),
    };
    const { findings } = new Folder(pages).json(['survey', '--regions']) as SurveyJson;
    const layout = findings.find(({ name }) => name === 'page-layout')!;
    expect(layout.occurrences.map((each) => each.page)).toEqual(Object.keys(usual).sort());
  });
});
