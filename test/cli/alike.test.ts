/** The built program on pages whose fragments are alike and not equal. */
import { afterAll, expect, test } from '@jest/globals';
import { Folder, page, removeFolders, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

/** A notice on the quay; some have a badge, some are marked, some point somewhere. */
function notice(text: string, part: { badge?: string; marked?: boolean; lang?: string } = {}): string {
  return `  <section class="notice${part.marked ? ' notice--marked' : ''}"${part.lang ? ` lang="${part.lang}"` : ''}>
    <h2 class="notice__heading">${text}</h2>${part.badge ? `\n    <p class="notice__badge">${part.badge}</p>` : ''}
    <p class="notice__text">Read it at the office on the quay, where it hangs beside the clock all week.</p>
  </section>`;
}

const site = {
  'index.html': page([notice('Tide'), notice('Wind', { badge: 'New' }), notice('Rope', { marked: true })].join('\n')),
  'quay/one.html': page([notice('Bell', { badge: 'Old', marked: true }), notice('Lamp', { lang: 'fr' })].join('\n')),
};

interface LiftJson {
  components: { name: string; new: boolean; uses: number }[];
  pages: { same: string }[];
  leftOut: unknown[];
}

test('one component with its parts, the pages to the byte, and undo', () => {
  const folder = new Folder(site);
  const before = folder.files();
  const [finding] = (folder.json(['survey']) as SurveyJson).findings;
  expect(finding).toMatchObject({ name: 'notice-section', recommended: true });
  expect(finding!.occurrences).toHaveLength(5);
  expect(finding!.props.map(({ name, type, optional, values }) => [name, type, optional, values])).toEqual([
    ['marked', 'flag', false, [false, false, true, true, false]],
    ['language', 'flag', false, [false, false, false, false, true]],
    ['heading', 'text', false, ['Tide', 'Wind', 'Rope', 'Bell', 'Lamp']],
    ['badge', 'text', true, [null, 'New', null, 'Old', null]],
  ]);
  const { pages, leftOut } = folder.json(['lift', '--recommended']) as LiftJson;
  expect([pages.map(({ same }) => same), leftOut]).toEqual([['bytes', 'bytes'], []]);
  expect(folder.read('index.html')).toContain('\n  <notice-section heading="Wind" badge="New"></notice-section>\n');
  expect(folder.run(['check']).status).toBe(0);
  folder.run(['expand', '--out', 'dist']);
  const { '.estrade-output.json': manifest, ...expanded } = folder.files('dist');
  expect([expanded, manifest === undefined]).toEqual([before, false]);
  expect(folder.run(['undo']).status).toBe(0);
  const left = Object.entries(folder.files()).filter(([path]) => !path.startsWith('dist/'));
  expect(Object.fromEntries(left)).toEqual(before);
});

test('a page that comes later is offered as uses of the component, with its parts and without', () => {
  const folder = new Folder(site);
  folder.run(['lift', '--recommended']);
  folder.write({
    'later.html': page(
      [notice('Kettle', { badge: 'Hot' }), notice('Chain', { marked: true }), notice('Oar')].join('\n'),
    ),
  });
  const { components, pages } = folder.json(['lift', '--recommended']) as LiftJson;
  expect(components).toEqual([{ name: 'notice-section', path: 'components/notice-section.html', new: false, uses: 3 }]);
  expect(pages).toMatchObject([{ path: 'later.html', same: 'bytes' }]);
  expect(folder.read('later.html')).toContain('<notice-section marked heading="Chain"></notice-section>');
  // what the component cannot say stays as it is
  folder.write({ 'other.html': page(notice('Gull').replace('</h2>', '</h2><hr>')) });
  expect((folder.json(['survey']) as SurveyJson).findings).toEqual([]);
});

test('show tells a part that is not there, and the block that it stands in', () => {
  const { out } = new Folder(site).run(['show', 'notice-section']);
  expect(out).toMatch(/index\.html:5:3 .*Tide\s+\(none\)/);
  expect(out).toContain('<template when="badge"><p class="notice__badge">{{badge}}</p></template>');
  expect(out).toContain(`class="notice{{marked ? ' notice--marked' : ''}}"`);
});

test('text with markup in it is poured in, not taken for text without', () => {
  const line = (inner: string) => `<p class="line">${inner}</p>`;
  const lines = [
    'The boat is late today.',
    'Ask at <a href="q.html">the quay</a> for tickets.',
    'Mind the step and the gull.',
  ];
  const folder = new Folder({ 'p.html': page(lines.map(line).join('\n')) });
  const finding = folder.json(['show', '--select', '.line']);
  expect(finding).toMatchObject({ occurrences: { length: 3 }, props: [], slots: [{ name: '' }] });
});
