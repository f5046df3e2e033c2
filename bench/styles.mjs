/**
 * Speed of `styles`: reading the sheets, matching all rules, and telling what belongs to every component, against the
 * plain parsing of the same sheets (css-tree) and pages (parse5). On the site of a folder, and on a made-up one that
 * grows by pages and by rules: node bench/styles.mjs [folder]
 */
import * as csstree from 'css-tree';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { globSync } from 'tinyglobby';
import { DEFAULT_THRESHOLDS, parsePage, planLift, readComponents, survey } from '../dist/index.js';
import { bondsOfAll } from '../dist/core/style/move.js';
import { dress } from '../dist/core/style/dress.js';
import { expandAll, filledReader } from '../dist/core/style/plan.js';
import { totalsOf } from '../dist/core/style/totals.js';

const ms = (work) => {
  const start = performance.now();
  const result = work();
  return [performance.now() - start, result];
};
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Plain parsing, and nothing else, in ms. */
function parse(sources, html) {
  const [sheets] = ms(() => [...sources.values()].map((css) => csstree.parse(css, { positions: true })));
  const [pages] = ms(() => [...html].map(([path, source]) => parsePage(path, source)));
  return sheets + pages;
}

/** One run in this process, which must be fresh: nothing read is kept from an earlier one. */
function measure(name, sources, html, registry, names, plan = new Map(), parsing = parse(sources, html)) {
  const pages = [...html].map(([path, source]) => parsePage(path, source));
  const expanded = expandAll(pages, registry, plan);
  const [time, dressed] = ms(() => {
    const made = dress(expanded, filledReader(sources, registry).read);
    const bonds = bondsOfAll(made, names);
    totalsOf(made, bonds.values());
    return made;
  });
  const rules = dressed.sheets.reduce((sum, sheet) => sum + sheet.rules.length, 0);
  const elements = dressed.pages.reduce((sum, page) => sum + page.elements.length, 0);
  console.log(
    `${name}: ${rules} rules, ${elements} elements, ${names.length} components: ` +
      `parsing ${parsing.toFixed(0)} ms, styles ${time.toFixed(0)} ms, ${(time / parsing).toFixed(2)} times`,
  );
  return { parsing, time };
}

function site(folder) {
  const read = (path) => [path, readFileSync(join(folder, path), 'utf8')];
  const html = new Map(globSync(['**/*.html'], { cwd: folder }).sort().map(read));
  const sources = new Map(globSync(['**/*.css'], { cwd: folder }).sort().map(read));
  // first of all, as cold as the command has it
  const parsing = parse(sources, html);
  const pages = [...html].map(([path, source]) => parsePage(path, source));
  const { findings } = survey(pages, readComponents([]), {
    thresholds: DEFAULT_THRESHOLDS,
    componentFolder: 'components',
  });
  const chosen = findings.filter(({ recommended }) => recommended);
  const plan = planLift({ pages, components: [], findings: chosen, componentFolder: 'components' });
  const after = new Map(plan.pages.map(({ path, after }) => [path, after]));
  measure(
    folder.split('/').at(-1),
    sources,
    html,
    plan.registry,
    chosen.map(({ name }) => name),
    after,
    parsing,
  );
}

/** Pages of cards under a stylesheet of `rules` rules, of which some dress them. */
function made(pages, rules) {
  const component = {
    path: 'components/ferry-card.html',
    source:
      '<template component="ferry-card">\n  <article class="card"><h2 class="card__name">x</h2><p class="card__text"><slot></slot></p></article>\n</template>\n',
  };
  const registry = readComponents([component]);
  const body = Array.from({ length: 40 }, (_, i) => `<ferry-card><b class="c${i % 9}">y</b></ferry-card>`).join('\n');
  const html = new Map(
    Array.from({ length: pages }, (_, i) => [
      `p${i}.html`,
      `<!DOCTYPE html><html><head><link rel="stylesheet" href="site.css"></head><body><main class="m">\n${body}\n</main></body></html>`,
    ]),
  );
  const kinds = [
    (i) => `.card__name.v${i} { margin: 0; color: red }`,
    (i) => `.u${i} > .card:first-child { padding: ${i}px }`,
    (i) => `.card .c${i} { margin-left: ${i}px }`,
    (i) => `.w${i} + .card__text::before { content: "x" }`,
  ];
  const css = Array.from({ length: rules }, (_, i) => kinds[i % kinds.length](i)).join('\n');
  return { sources: new Map([['site.css', css]]), html, registry };
}

const [folder] = process.argv.slice(2);
if (folder !== undefined && existsSync(folder)) site(folder);
else {
  // warm up, so that the first size pays no more than the others
  for (let i = 0; i < 3; i++) {
    const { sources, html, registry } = made(20, 500);
    dress(
      expandAll(
        [...html].map(([path, source]) => parsePage(path, source)),
        registry,
      ),
      filledReader(sources, registry).read,
    );
  }
  for (const [axis, sizes] of [
    [
      'pages',
      [
        [50, 1000],
        [100, 1000],
        [200, 1000],
      ],
    ],
    [
      'rules',
      [
        [50, 2000],
        [50, 4000],
        [50, 8000],
      ],
    ],
  ]) {
    const times = sizes.map(([pages, rules]) => {
      const runs = Array.from({ length: 3 }, () => {
        const { sources, html, registry } = made(pages, rules);
        return measure(`${pages} pages`, sources, html, registry, ['ferry-card']).time;
      });
      return median(runs);
    });
    console.log(
      `doubling ${axis}: ${times
        .slice(1)
        .map((time, i) => (time / times[i]).toFixed(2))
        .join(' and ')} times as long`,
    );
  }
}
