/** Taking components back and giving props other defaults: pages and stylesheets come out the same. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { setDefault } from '../../../src/core/library/default.js';
import { inlineComponent } from '../../../src/core/library/inline.js';
import { useTable } from '../../../src/core/library/roster.js';
import { Problem } from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { boards, changed, component, expanded, type Files, lifted, siteOf } from './files.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(60);

test('components taken back one by one, in any order, leave the pages that there were', () => {
  let [taken, ended, refused] = [0, 0, 0];
  fc.assert(
    fc.property(fc.oneof(sites, boards), fc.nat(), fc.constantFrom(0, 60, 10_000), (sources, turn, inline) => {
      let files = lifted(sources, inline);
      const before = expanded(files);
      const names = [...siteOf(files).registry.keys()];
      const order = [...names.slice(turn % names.length), ...names.slice(0, turn % names.length)];
      // what others use can be taken back once they are
      for (let waiting = order; waiting.length > 0;) {
        const [name, ...more] = waiting as [string, ...string[]];
        const site = siteOf(files);
        try {
          const next = changed(files, inlineComponent(site, site.registry.get(name)!));
          const now = expanded(next);
          if (JSON.stringify(now) !== JSON.stringify(before)) {
            // the command refuses what is not the same to the byte
            refused++;
            return;
          }
          files = next;
          waiting = more;
          taken++;
        } catch (error) {
          if (!(error instanceof Problem)) throw error;
          // untidy markup around a use can leave those within open, which is refused
          if (error.message.endsWith(' is not closed')) return;
          expect(error).toMatchObject({
            message: expect.stringMatching(/ uses .*: only what stands in pages/),
            exit: 1,
          });
          waiting = [...more, name];
        }
      }
      ended++;
      expect([files.components, files.data.size]).toEqual([[], 0]);
      expect([...files.pages.values()]).toEqual(before.slice(0, files.pages.size));
    }),
    { numRuns },
  );
  expect(taken).toBeGreaterThan(numRuns);
  expect(ended).toBeGreaterThan(numRuns / 2);
  expect(refused).toBeLessThanOrEqual(Math.max(1, numRuns / 30));
});

test('what a component passes its list on to stays a use where pages use it themselves, with its data', () => {
  const list = '<script type="application/json" slot="items" src="boats.json"></script>';
  const items = '<meta prop="items" type="list"><meta prop="items.name" type="text">';
  const files: Files = {
    pages: new Map([['index.html', `<panel-x>${list}</panel-x>\n<board-x>${list}</board-x>\n`]]),
    components: [
      component('panel-x', items, '<section><board-x items="{{items}}"></board-x></section>'),
      component('board-x', items, '<ul><template each="item" of="items"><li>{{item.name}}</li></template></ul>'),
    ],
    data: new Map([['boats.json', '[{ "name": "Tern" }]']]),
    sheets: new Map(),
  };
  const site = siteOf(files);
  const { pages, data } = changed(files, inlineComponent(site, site.registry.get('panel-x')!));
  expect(pages.get('index.html')).toBe(`<section><ul><li>Tern</li></ul></section>\n<board-x>${list}</board-x>\n`);
  expect([...data.keys()]).toEqual(['boats.json']);
});

test('any default that a use gives, then another, then none: the pages are the same, and uses say what differs', () => {
  let set = 0;
  fc.assert(
    fc.property(sites, fc.nat(), fc.nat(), (sources, turn, which) => {
      let files = lifted(sources, 10_000);
      const before = expanded(files);
      const ways = [...siteOf(files).registry.values()].flatMap(({ name, props }) =>
        props
          .filter(({ type, name: prop }) => ['text', 'url', 'choice'].includes(type) && !prop.includes('.'))
          .map((prop) => ({ name, prop: prop.name })),
      );
      if (ways.length === 0) return;
      const { name, prop } = ways[turn % ways.length]!;
      const given = () => {
        const site = siteOf(files);
        const { columns, rows } = useTable(site, site.registry.get(name)!);
        const column = columns.findIndex((each) => each.name === prop);
        return rows.map((row) => row.given[column]!);
      };
      const values = given().flatMap((each) => (each.kind === 'value' && !each.text.includes('{{') ? [each.text] : []));
      for (const value of [values[which % values.length], values[0], null]) {
        if (value === undefined) continue;
        const site = siteOf(files);
        try {
          files = changed(files, setDefault(site, site.registry.get(name)!, prop, value));
        } catch (error) {
          expect(error).toBeInstanceOf(Problem);
          expect((error as Problem).message).toBe(`this use leaves ${prop} out, and would be given it`);
          continue;
        }
        set++;
        expect(expanded(files)).toEqual(before);
        const kinds = given().map(({ kind }) => kind);
        if (value === null) expect(kinds).not.toContain('default');
        else expect(kinds).toContain('default');
      }
    }),
    { numRuns },
  );
  expect(set).toBeGreaterThan(numRuns / 2);
});

const files = (): Files => ({
  pages: new Map([
    ['isles/index.html', '<p>a</p>\n  <boat-row tone=calm\n    name="Tern"/>\n<boat-row name="Eider"></boat-row>'],
  ]),
  components: [
    component(
      'boat-row',
      '<meta prop="tone" type="choice" choices="calm loud" optional>\n<meta prop="name" type="text">\n<meta prop="loud" type="flag">',
      '<b class="{{tone}}">{{name}}</b>',
    ),
    component('row-frame', '', '<div><boat-row name="Gull" tone="loud"></boat-row></div>'),
  ],
  data: new Map(),
  sheets: new Map(),
});

test.each([
  ['tone', 'calm', 1, 'this use leaves tone out, and would be given it'],
  ['tone', 'quiet', 2, '"quiet" is no choice of tone'],
  ['loud', 'x', 2, 'a flag has no default'],
  ['nam', 'x', 2, 'boat-row has no prop nam'],
])('a default for %s of %s is refused', (prop, value, exit, message) => {
  const site = siteOf(files());
  const set = () => setDefault(site, site.registry.get('boat-row')!, prop, value);
  expect(set).toThrow(expect.objectContaining({ message, exit }));
});

test('a default is written into the declaration, and uses that have it say it no longer', () => {
  const site = siteOf(files());
  const { texts } = setDefault(site, site.registry.get('boat-row')!, 'name', 'Tern');
  expect(texts.get('isles/index.html')).toBe('<p>a</p>\n  <boat-row tone=calm/>\n<boat-row name="Eider"></boat-row>');
  expect(texts.get('components/boat-row.html')).toContain('<meta prop="name" type="text" default="Tern">');
  expect(texts.has('components/row-frame.html')).toBe(false);
});
