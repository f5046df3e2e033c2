/** Components that are there are known again in static markup, whatever they hold; what is nearly a use is told, and widened for. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { extendComponent } from '../../../src/core/lift/extend.js';
import { elementsOf } from '../../../src/core/page/tree.js';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import {
  comparePages,
  type Component,
  type ComponentSource,
  expandPage,
  type Finding,
  type Page,
  parsePage,
  planLift,
  readComponents,
  survey,
  templatesOf,
} from '../../../src/index.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(200);
const options = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };

const component = (name: string, metas: string[], body: string): ComponentSource => ({
  path: `components/${name}.html`,
  source: `<template component="${name}">\n${metas.map((meta) => `  <meta prop=${meta}>\n`).join('')}\n  ${body}\n</template>\n`,
});

const library = [
  component(
    'berth-card',
    [
      '"state" type="choice" choices="open closed full" default="open"',
      '"heading" type="text"',
      '"href" type="url"',
      '"note" type="text" optional',
      '"wide" type="flag"',
      '"calls" type="list"',
      '"calls.place" type="text"',
      '"calls.late" type="flag"',
    ],
    `<article class="berth berth--{{state}}{{wide ? ' berth--wide' : ''}}" id="b-{{heading}}">
    <h3><a href="{{href}}">{{heading}}</a></h3>
    <template when="note"><p class="berth__note">{{note}}</p></template>
    <template unless="note"><p class="berth__quiet">Nothing to say</p></template>
    <ul>
      <template each="call" of="calls"><li class="call{{call.late ? ' call--late' : ''}}">{{call.place}}</li></template>
    </ul>
    <template when="calls"><p>{{heading}}: boats call</p></template>
    <img src="../img/berth.svg" alt="{{heading}} from the sea">
  </article>`,
  ),
  component(
    'side-item',
    ['"href" type="url"', '"label" type="text"', '"current" type="flag"'],
    `<li class="side"><a href="{{href}}" aria-current="{{current ? 'page' : null}}">{{label}}</a></li>`,
  ),
  component(
    'side-menu',
    ['"current" type="choice" choices="tides fares" optional', '"label" type="text" default="Menu"'],
    `<nav aria-label="{{label}}">
    <ul class="sides">
      <template use="side-item" href="../tides.html" label="Tides" current="{{current === 'tides'}}"></template>
      <template use="side-item" href="../fares.html" label="Fares" current="{{current === 'fares'}}"></template>
      <template use="side-item" href="../about.html" label="{{label ?? 'Menu'}}"></template>
    </ul>
  </nav>`,
  ),
  component(
    'panel-frame',
    ['"heading" type="text"'],
    `<section class="panel">
    <header><slot name="head"><h2>{{heading}}</h2></slot></header>
    <div class="panel__body"><slot></slot></div>
    <footer class="panel__foot"><slot name="foot"></slot></footer>
  </section>`,
  ),
  component(
    'quay-panel',
    ['"quay" type="text"', '"closed" type="flag"'],
    `<panel-frame heading="{{quay}}"><p class="quay">Berths at {{quay}}</p><slot></slot><template slot="foot"><template when="closed"><b>Closed</b></template></template></panel-frame>`,
  ),
  component(
    'tide-row',
    ['"hour" type="text"', '"height" type="number"'],
    `<tr class="tide"><td>{{hour}}</td><td>{{height}} m</td></tr>`,
  ),
  component(
    'fact-pair',
    ['"term" type="text"', '"said" type="text"'],
    `<dt class="fact">{{term}}</dt>\n  <dd>{{said}}</dd>`,
  ),
];
const registry = readComponents(library);

const words = fc.constantFrom('Tern', 'Low water', 'fish &amp; chips', 'Grüße', '7', 'a - b', 'Skerry 2');
const flag = (name: string) => fc.boolean().map((on) => (on ? ` ${name}` : ''));
const berth = fc
  .record({
    state: fc.constantFrom('', ' state="closed"', ' state="full"'),
    heading: words,
    note: fc.option(words, { nil: null }),
    wide: flag('wide'),
    calls: fc.array(fc.record({ place: fc.constantFrom('Quay', 'Pier'), late: fc.boolean() }), { maxLength: 4 }),
  })
  .map(({ state, heading, note, wide, calls }) => {
    const list = calls.map(({ place, late }) => JSON.stringify(late ? { place, late } : { place }));
    const data = list.length === 0 ? '' : `<script type="application/json" slot="calls">[${list.join(', ')}]</script>`;
    const said = note === null ? '' : ` note="${note}"`;
    return `<berth-card${state} heading="${heading}" href="b.html"${said}${wide}>${data}</berth-card>`;
  });
const uses = fc.letrec<{ use: string; content: string }>((tie) => ({
  content: fc.oneof({ maxDepth: 2 }, fc.constant('<p>So it is</p>'), fc.constant('\n<i>some</i>\n'), tie('use')),
  use: fc.oneof(
    { maxDepth: 3 },
    berth,
    fc.constantFrom('', ' current="tides"', ' current="fares"').map((current) => `<side-menu${current}></side-menu>`),
    fc
      .record({ heading: words, body: tie('content'), foot: tie('content') })
      .map(
        ({ heading, body, foot }) =>
          `<panel-frame heading="${heading}">${body}<template slot="foot">${foot}</template></panel-frame>`,
      ),
    fc
      .record({ quay: words, closed: flag('closed'), body: tie('content') })
      .map(({ quay, closed, body }) => `<quay-panel quay="${quay}"${closed}>${body}</quay-panel>`),
    words.map(
      (hour) => `<table><tbody><template use="tide-row" hour="${hour}" height="2.5"></template></tbody></table>`,
    ),
    words.map((term) => `<dl><template use="fact-pair" term="${term}" said="so"></template></dl>`),
  ),
})).use;

const rangeOf = ({ element: { start }, end }: Finding['occurrences'][number]) => `${start} ${end}`;

test('what components expand to is known again, with the same use', () => {
  let known = 0;
  fc.assert(
    fc.property(fc.array(uses, { minLength: 1, maxLength: 3 }), (written) => {
      const page = parsePage('sub/p.html', `<!DOCTYPE html>\n<body>\n  ${written.join('\n  ')}\n</body>\n`);
      const { text, uses: outermost, problems } = expandPage(page, registry);
      expect(problems).toEqual([]);
      const plain = parsePage(page.path, text);
      const { findings } = survey([plain, ...templatesOf(registry)], registry, options);
      const found = new Map(
        findings
          .filter(({ component: of }) => of !== null)
          .flatMap(({ name, occurrences }) => occurrences.map((each) => [rangeOf(each), name])),
      );
      let grown = 0;
      for (const { component: name, start, end, expandedLength } of outermost) {
        const from = start + grown;
        expect([name, found.get(`${from} ${from + expandedLength}`)]).toEqual([name, name]);
        grown += expandedLength - (end - start);
        known++;
      }
      const plan = planLift({ pages: [plain], components: library, findings, componentFolder: 'components' });
      for (const { path, after } of plan.pages)
        expect(expandPage(parsePage(path, after), plan.registry).text).toBe(text);
      expect(plan.leftOut).toEqual([]);
    }),
    { numRuns },
  );
  expect(known).toBeGreaterThan(numRuns);
});

/** Sites of two to four plain pages, in which the parts of the library stand again and again. */
const plainSites = fc
  .array(fc.array(uses, { minLength: 2, maxLength: 6 }), { minLength: 2, maxLength: 4 })
  .map((pages) =>
    pages.map((written, i) => {
      const source = `<!DOCTYPE html>\n<body>\n  ${written.join('\n  ')}\n</body>\n`;
      return expandPage(parsePage(`p${i}.html`, source), registry).text;
    }),
  );

/** All that a site is lifted to: the pages that were lifted, and all components. */
function lifted(
  pages: Page[],
  components: ComponentSource[],
): { pages: Page[]; components: ComponentSource[]; findings: Finding[] } {
  const known = readComponents(components);
  const { findings } = survey([...pages, ...templatesOf(known)], known, options);
  const plan = planLift({
    pages: [...pages, ...templatesOf(known)],
    components,
    findings,
    componentFolder: 'components',
  });
  const after = pages.map((page) => plan.pages.find(({ path }) => path === page.path)?.after ?? page.source);
  const sources = [...plan.registry.values()].map(({ path, source }) => ({ path, source }));
  return { pages: pages.map(({ path }, i) => parsePage(path, after[i]!)), components: sources, findings };
}

test('white space that comes and goes with a part says nothing about it', () => {
  const menu = component(
    'quay-menu',
    ['"current" type="choice" choices="tides fares" optional'],
    `<nav class="quays"><b class="quay{{current === 'tides' ? ' here' : ''}}">Tides<template when="current === 'tides'">\n  </template></b> <b class="quay{{current === 'fares' ? ' here' : ''}}">Fares</b></nav>`,
  );
  const registry = readComponents([menu]);
  const use = '<quay-menu current="fares"></quay-menu>';
  const page = parsePage('p.html', `<body>\n${use}\n</body>\n`);
  const plain = parsePage('p.html', expandPage(page, registry).text);
  const { findings } = survey([plain], registry, options);
  expect(findings.map(({ name, uses }) => [name, uses])).toEqual([['quay-menu', [use]]]);
});

test('the second half of a site uses the components of the first for the same fragments, and is the same', () => {
  let fragments = 0;
  let same = 0;
  fc.assert(
    fc.property(plainSites, fc.nat(), (sources, turn) => {
      // pages of the same markup under other names, so that each half has what the other has
      const pages = [...sources, ...sources].map((source, i) => parsePage(`p${i}.html`, source));
      const isFirst = (_: Page, i: number) => i < sources.length || (turn >> i) % 2 === 0;
      const first = lifted(pages.filter(isFirst), []);
      const late = pages.filter((page, i) => !isFirst(page, i));
      const second = lifted([...first.pages, ...late], first.components);
      const made = readComponents(second.components);
      for (const page of second.pages) {
        const original = pages.find(({ path }) => path === page.path)!;
        expect(comparePages(page.path, original.source, expandPage(page, made).text).same).not.toBe('different');
      }
      for (const page of late) {
        const twin = first.pages.find(
          ({ path }) => path === `p${Number(page.path.slice(1, -5)) - sources.length}.html`,
        )!;
        const isFirsts = ({ path }: ComponentSource) => first.components.some((each) => each.path === path);
        // tags with anything in them are no more than tags
        const saysSomething = ({ source, start, end }: Component, fragment: string) => {
          const constant = source.slice(start, end).replace(/\{\{[^]*?\}\}/g, '');
          const words = [...constant.matchAll(/class=["']?\s*([\w-]+)|>\s*(\w+)/g)].map(
            (found) => found[1] ?? found[2]!,
          );
          return words.some((each) => fragment.includes(each));
        };
        const extentsOn = (each: Page) => {
          const { text, extents } = expandPage(each, made);
          return extents.filter(({ component: name, start, end }) => {
            const of = made.get(name)!;
            return isFirsts(of) && saysSomething(of, text.slice(start, end));
          });
        };
        const again = second.pages.find(({ path }) => path === page.path)!;
        // where indentation differs, places are not to be compared by their offsets
        if (expandPage(again, made).text !== expandPage(twin, made).text) continue;
        const found = extentsOn(again);
        for (const { component: name, start, end } of extentsOn(twin)) {
          // another one may say it in fewer letters
          const covering = found.filter((each) => each.start <= start && end <= each.end);
          expect({ name, start, end, known: covering.length > 0 }).toEqual({ name, start, end, known: true });
          fragments++;
          if (covering.some((each) => each.component === name || each.start < start || end < each.end)) same++;
        }
      }
    }),
    { numRuns },
  );
  expect(fragments).toBeGreaterThan(numRuns);
  expect(same).toBeGreaterThan(fragments * 0.95);
});

test('thirty optional parts, of which every second is there, are no more work than thirty parts', () => {
  const names = Array.from({ length: 30 }, (_, i) => `part-${i}`);
  const parts = names.map((_, i) => `<template when="part${i}"><p>{{part${i}}}</p></template>`);
  const many = component(
    'many-parts',
    names.map((name) => `"${name}" type="text" optional`),
    `<div class="many">${parts.join('')}<hr></div>`,
  );
  const some = names.map((_, i) => (i % 2 === 0 ? `<p>${i}</p>` : ''));
  const known = readComponents([many]);
  const page = parsePage('p.html', `<body><div class="many">${some.join('')}<hr></div></body>`);
  const { findings } = survey([page, ...templatesOf(known)], known, options);
  expect(findings.map(({ name }) => name)).toEqual(['many-parts']);
});

const card = component(
  'pier-card',
  [
    '"heading" type="text"',
    '"tone" type="choice" choices="calm rough" default="calm"',
    '"current" type="choice" choices="tern eider" optional',
  ],
  `<section class="pier pier--{{tone}}">
    <h2>{{heading}}</h2>
    <p class="pier__text">Open all year</p>
    <a class="more" href="https://ferry.example/pier">More</a>
    <ul class="list"><li class="{{current === 'tern' ? 'on' : ''}}">Tern</li><li class="{{current === 'eider' ? 'on' : ''}}">Eider</li><li class="">Puffin</li></ul>
  </section>`,
);
const plainCard = (change: (markup: string) => string, i: number) => {
  const markup = `<section class="pier pier--calm">
    <h2>Pier ${i}</h2>
    <p class="pier__text">Open all year</p>
    <a class="more" href="https://ferry.example/pier">More</a>
    <ul class="list"><li class="">Tern</li><li class="">Eider</li><li class="">Puffin</li></ul>
  </section>`;
  return change(markup);
};

test.each([
  ['another text', (s: string, i: number) => s.replace('all year', `till ${i}`), /text/, 'text "text"'],
  [
    'a class word',
    (s: string) => s.replace('class="more"', 'class="more more--wide"'),
    /class="more more--wide"/,
    'flag "wide"',
  ],
  [
    'one of several class words',
    (s: string, i: number) => s.replace('class="more"', `class="more more--${'abc'[i]!}"`),
    /class=/,
    '"variant"',
  ],
  ['another URL', (s: string, i: number) => s.replace('example/pier', `example/${i}`), /href=/, 'url "href"'],
  ['no class', (s: string) => s.replace(' class="more"', ''), /no class="more"/, 'flag "no-class"'],
  [
    'one more attribute',
    (s: string, i: number) => s.replace('<h2>', `<h2 data-id="${i}">`),
    /data-id="0" besides/,
    'text "data-id"',
  ],
  [
    'one more part',
    (s: string) => s.replace('<a ', '<b class="pier__new">New</b>\n    <a '),
    /<b class="pier__new">New<\/b> besides/,
    'flag "new"',
  ],
  [
    'parts that differ',
    (s: string, i: number) => s.replace('<a ', `<b class="pier__new">${i}</b>\n    <a `),
    /besides/,
    'slot "new"',
  ],
  [
    'a part that lacks',
    (s: string) => s.replace('<p class="pier__text">Open all year</p>\n    ', ''),
    /no <p class="pier__text">/,
    'flag "no-text"',
  ],
  [
    'a choice',
    (s: string, i: number) => s.replace('pier--calm', `pier--${['storm', 'ice'][i % 2]!}`),
    /no choice of tone/,
    'choices of "tone": storm, ice',
  ],
  [
    'one more that is marked',
    (s: string) => s.replace('class="">Puffin', 'class="on">Puffin'),
    /class="on"/,
    'a choice of "current": puffin',
  ],
])('%s: told, and widened for, with the uses so far as they were', (_, change, told, added) => {
  const known = readComponents([card]);
  const old = parsePage(
    'old.html',
    '<body><pier-card heading="Old"></pier-card><pier-card heading="Up" tone="rough" current="tern"></pier-card></body>',
  );
  const page = parsePage(
    'new.html',
    `<body>\n  ${[0, 1].map((i) => plainCard((markup) => change(markup, i), i)).join('\n  ')}\n</body>`,
  );
  const pages = [old, page, ...templatesOf(known)];
  const { near, remarks } = survey(pages, known, options);
  expect(near).toHaveLength(2);
  expect(remarks.find(({ kind }) => kind === 'near-use')!.message).toMatch(told);
  const elements = pages.flatMap(({ root }) => elementsOf(root));
  const extension = extendComponent(known.get('pier-card')!, near, { sources: [card], registry: known, elements })!;
  expect(extension.added.join()).toContain(added);
  expect(extension.places).toHaveLength(2);
  const wider = readComponents([extension.file]);
  expect(expandPage(old, wider).text).toBe(expandPage(old, known).text);
  const { findings } = survey([old, page, ...templatesOf(wider)], wider, options);
  const plan = planLift({ pages: [old, page], components: [extension.file], findings, componentFolder: 'components' });
  expect(plan.uses.get('pier-card')).toBe(2);
});
