/** How many lines of a site are whose. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { sourceLines, staticLines } from '../../../src/core/library/line-shares.js';
import { lineCount, parsePage } from '../../../src/core/page/parse.js';
import { expandAll } from '../../../src/core/style/plan.js';
import { readComponents } from '../../../src/index.js';

const registry = readComponents([
  {
    path: 'c/quay-box.html',
    source:
      '<template component="quay-box">\n  <section>\n    <h2>Quay</h2>\n    <slot></slot>\n    <boat-mark></boat-mark>\n  </section>\n</template>\n',
  },
  {
    path: 'c/boat-mark.html',
    source: '<template component="boat-mark">\n  <p>\n    <b>Tern</b>\n  </p>\n</template>\n',
  },
  {
    path: 'c/boat-list.html',
    source:
      '<template component="boat-list">\n<meta prop="boats" type="list"><meta prop="boats.name" type="text">\n<ul><template each="boat" of="boats"><li>{{boat.name}}</li></template></ul>\n</template>',
  },
]);
const told = ({ total, pages, components }: ReturnType<typeof staticLines>) => ({
  total,
  pages,
  ...Object.fromEntries(components),
});

test('a line is of the innermost component that it begins in; what is poured in, of whoever pours', () => {
  const source = `<h1>A</h1>
<quay-box>
  <i>poured</i>
  <boat-mark></boat-mark>
</quay-box>
<boat-list>
  <script type="application/json" slot="boats">[
    { "name": "Auk" }
  ]</script>
</boat-list>
<p>one</p> <boat-mark></boat-mark>
`;
  const pages = [parsePage('p.html', source)];
  // h1, poured, and the line on which the last mark begins; section, h2 and its end
  const all = expandAll(pages, registry);
  expect(told(staticLines(all))).toEqual({ total: 15, pages: 3, 'quay-box': 3, 'boat-mark': 8, 'boat-list': 1 });
  expect(told(sourceLines({ pages, registry, data: new Map() }))).toEqual({
    total: 11 + 7 + 5 + 4,
    pages: 3,
    'quay-box': 2 + 6,
    'boat-mark': 1 + 5 + 1,
    'boat-list': 5 + 4,
  });
});

test('whatever pages hold, all their lines are counted once', () => {
  const parts = fc.constantFrom(
    'text',
    '\n',
    '  ',
    '\r\n',
    '<p>x</p>',
    '<boat-mark></boat-mark>',
    '<quay-box>\n<p>a</p>\n  b</quay-box>',
    '<quay-box></quay-box>\n',
  );
  fc.assert(
    fc.property(
      fc.array(
        fc.array(parts, { maxLength: 12 }).map((all) => all.join('')),
        { maxLength: 3 },
      ),
      (sources) => {
        const pages = sources.map((source, i) => parsePage(`${i}.html`, source));
        const expanded = expandAll(pages, registry);
        const sum = (all: Iterable<{ source: string }>) => [...all].reduce((lines, each) => lines + lineCount(each), 0);
        const before = staticLines(expanded);
        const after = sourceLines({ pages, registry, data: new Map() });
        expect(before.total).toBe(sum(expanded.map(({ page }) => page)));
        expect(after.total).toBe(sum(pages) + sum(registry.values()));
        for (const { total, pages: own, components } of [before, after])
          expect([...components.values()].reduce((lines, each) => lines + each, own)).toBe(total);
      },
    ),
  );
});
