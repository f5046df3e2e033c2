/** Starters of a team's own, as the guide shows them: new components, and modules that are type-checked and rendered. */
import { afterAll, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { demo, Folder, page, removeFolders, ROOT } from './estrade.js';

afterAll(removeFolders);

/** The examples of the guide, in their order. */
const [config, part, made, module, emitted] = [
  ...readFileSync(join(ROOT, 'docs/starters.md'), 'utf8').matchAll(/^```(?:json|html|tsx)\n([^]*?)^```/gm),
].map(([, code]) => code!) as [string, string, string, string, string];

const traced = `import type { ComponentChildren } from 'preact';

export function Traced({ name, children }: { name: string; children: ComponentChildren }) {
  return <>{name === '' ? null : children}</>;
}
`;

const team = () => {
  const folder = demo();
  folder.write({
    'estrade.config.json': config,
    'team/team-part.html': part,
    'team/TeamPart.tsx': module,
    'team/Traced.tsx': traced,
  });
  return folder;
};

test('the guide: a new component has the starter’s wrapper, comments and props, under its own name', () => {
  const folder = team();
  const before = folder.files();
  const planned = folder.run(['new', 'quay-notice', '--in', 'notices', '--dry-run']);
  expect([planned.status, planned.out]).toEqual([0, made]);
  expect(folder.files()).toEqual(before);
  const run = folder.run(['new', 'quay-notice', '--in', 'notices']);
  expect([run.status, run.out]).toEqual([
    0,
    `Written: components/notices/quay-notice.html
Its styles stand where a stylesheet has the line @component quay-notice;
Next: edit it, and use it: <quay-notice heading=""></quay-notice>; estrade undo takes it back
`,
  ]);
  expect(folder.read('components/notices/quay-notice.html')).toBe(made);
  // the starter is no page, and no component
  folder.write({ 'css/site.css': `${folder.read('css/site.css')}@component quay-notice;\n` });
  expect(folder.json(['check'])).toMatchObject({ passed: true });
  expect((folder.json(['survey']) as { pages: object[] }).pages).toHaveLength(15);
  expect(folder.json(['roster'])).toMatchObject({ components: [{ name: 'quay-notice', slots: [''] }] });
  expect(folder.run(['undo']).status).toBe(0);
  expect(Object.keys(folder.files())).toEqual(Object.keys(before));
});

test('the guide: modules are written after the starter, type-checked, and rendered as before', () => {
  const folder = team();
  folder.write({ '.prettierrc.json': '{ "singleQuote": true }' });
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  const run = folder.run(['emit', 'tsx', '--verify']);
  expect(run.out).toMatch(/Type check, strict: \d+ modules, no error\.\nRendered and compared: 15 pages the same\.\n$/);
  expect(folder.read('emitted/tsx/components/BoatFact.tsx')).toBe(emitted);
  const written = Object.entries(folder.files('emitted/tsx')).filter(
    ([path]) => /^(pages|components)\/(?!index)/.test(path) && path.endsWith('.tsx'),
  );
  expect(written.length).toBeGreaterThan(30);
  for (const [path, text] of written) {
    const name = path.replace(/^.*\/|\.tsx$/g, '');
    expect(text).toMatch(new RegExp(`^// Varn Sound Ferries[^]*name="${name}"[^]*\\n${name}\\.displayName = `));
    expect(text).not.toMatch(/estrade: \w+ \*|TeamPart|team-part/);
  }
  // with a runtime that is named on top, in folders, and untyped
  folder.write({
    'estrade.config.json':
      '{ "starter": "team/team-part.html", "emit": { "starter": "team/TeamPart.jsx", "layout": "folders" } }',
  });
  folder.write({
    'team/TeamPart.jsx':
      '/* estrade: imports */\n/* estrade: interface */\nexport function TeamPart(/* estrade: props */) {\n  const markup = /* estrade: markup */;\n  return markup;\n}\n',
  });
  expect(folder.run(['styles', 'boat-fact', '--move']).status).toBe(0);
  expect(folder.run(['arrange', 'area']).status).toBe(0);
  expect(folder.run(['emit', 'jsx', '--verify', '--jsx-import', 'preact']).out).toContain('15 pages the same.\n');
  expect(folder.read('emitted/jsx/components/boats/BoatFact/BoatFact.jsx')).toMatch(
    /^\/\*\* @jsxImportSource preact \*\/\n\nimport '\.\/BoatFact\.css';\n+\/\*\*\n \* @param \{object\} props\n[^]*const markup = \(\n +<div className="fact">/,
  );
  expect(folder.run(['emit', 'tsx']).out).toContain(
    'the starter team/TeamPart.jsx is one of other modules, and is not used',
  );
});

test('without a starter a new component has a root and a slot, and its file the spelling of the configuration', () => {
  const folder = new Folder({
    'index.html': page('<p>x</p>'),
    'estrade.config.json': '{ "arrange": { "fileCase": "pascal", "suffix": ".part" } }',
  });
  expect(folder.json(['new', 'quay-notice'])).toEqual({
    format: 1,
    written: true,
    path: 'components/QuayNotice.part.html',
    source:
      '<template component="quay-notice" about="">\n  <div class="quay-notice">\n    <slot></slot>\n  </div>\n</template>\n',
    use: '<quay-notice></quay-notice>',
    marker: null,
  });
  expect(folder.json(['check'])).toMatchObject({ passed: true, problems: [{ kind: 'unused-component' }] });
});

test.each([
  [['new', 'quay'], {}, 2, /"quay" cannot be the name of a component/],
  [
    ['new', 'boat-card'],
    { 'components/boat-card.html': made.replaceAll('quay-notice', 'boat-card') },
    2,
    /"boat-card" is the name of another/,
  ],
  [
    ['new', 'boat-card'],
    { 'components/boat-card.html': '<p>x</p>' },
    1,
    /components\/boat-card\.html is there already/,
  ],
  [['new', 'boat-card', '--in', '../x'], {}, 2, /"\.\.\/x" cannot be a folder for components/],
  [
    ['new', 'boat-card'],
    { 'estrade.config.json': '{ "starter": "team/x.html" }' },
    2,
    /team\/x\.html cannot be read: there is no such file/,
  ],
  [
    ['new', 'boat-card'],
    { 'estrade.config.json': '{ "starter": "x.html" }', 'x.html': '<p>x</p>' },
    2,
    /x\.html:1:1: a starter is a component file, and this is none/,
  ],
  [
    ['new', 'boat-card'],
    { 'estrade.config.json': '{ "starter": "x-y.html" }', 'x-y.html': '<template component="x-y">\n<p>{{nobody}</p>' },
    2,
    /x-y\.html:1:1: the template is not closed/,
  ],
  [
    ['emit', 'tsx'],
    { 'estrade.config.json': '{ "emit": { "starter": "T.tsx" } }' },
    2,
    /T\.tsx cannot be read[^]*"emit\.starter" in estrade\.config\.json names it/,
  ],
  [
    ['emit', 'tsx'],
    { 'estrade.config.json': '{ "emit": { "starter": "T.tsx" } }', 'T.tsx': module.replace('props */', 'prop */') },
    2,
    /T\.tsx:8:26: "estrade: prop" is no marker of a starter\n {2}did you mean props\?/,
  ],
  [
    ['emit', 'tsx'],
    {
      'estrade.config.json': '{ "emit": { "starter": "T.tsx" } }',
      'T.tsx': '\n/* estrade: imports */ /* estrade: imports */',
    },
    2,
    /T\.tsx:2:24: the marker "estrade: imports" stands twice/,
  ],
  [
    ['emit', 'tsx'],
    { 'estrade.config.json': '{ "emit": { "starter": "T.tsx" } }', 'T.tsx': '/* estrade: imports */' },
    2,
    /T\.tsx:1:1: the starter does not say where the interface goes/,
  ],
  [
    ['emit', 'tsx'],
    { 'estrade.config.json': '{ "emit": { "starter": "T.ts" } }' },
    2,
    /"emit\.starter" .*modules with JSX/,
  ],
] as const)('%j is told with its place, and nothing is written', (args, files, status, message) => {
  const all = { 'index.html': page('<p>x</p>'), ...files } as Record<string, string>;
  const folder = new Folder(all);
  expect(folder.run([...args])).toMatchObject({ status, err: expect.stringMatching(message) });
  expect(Object.keys(folder.files())).toEqual(Object.keys(all).sort());
});
