/** Fragments of templates become components: what their placeholders name is passed on, or passed in ready. */
import { expect, test } from '@jest/globals';
import { pointedFinding } from '../../../src/core/survey/pointed.js';
import { generalisingOf, siteOf } from '../../../src/core/survey/survey.js';
import { selected } from '../../../src/core/survey/point.js';
import { expandPage, parsePage, planLift, readComponents, templatesOf } from '../../../src/index.js';

/** Cuts what `selector` matches in the template `body`, which `uses` prove; gives both templates, without their interface. */
function cut(interfaceLines: string[], body: string, uses: string[], selector: string) {
  const source = `<template component="old-card">\n${interfaceLines.map((line) => `  <meta ${line}>\n`).join('')}\n${body}\n</template>\n`;
  const components = [{ path: 'parts/old-card.html', source }];
  const registry = readComponents(components);
  const text = `<!DOCTYPE html>\n<body>\n${uses.join('\n')}\n</body>\n`;
  const pages = [parsePage('isles/a.html', text), ...templatesOf(registry)];
  const options = generalisingOf(siteOf(pages, {}).vocabulary, registry, { componentFolder: 'parts', maxProps: 8 });
  const wishes = { name: 'new-part', props: new Map<string, string>(), slots: [], fixed: [] };
  const { finding } = pointedFinding(selected(pages, selector), wishes, options, new Set());
  const plan = planLift({ pages, components, findings: [finding], componentFolder: 'parts' });
  expect(plan.leftOut).toEqual([]);
  expect(plan.proven).toEqual([{ path: 'isles/a.html', same: 'bytes' }]);
  const after = readComponents([{ path: 'parts/old-card.html', source: plan.templates[0]!.after }, ...plan.components]);
  const [before, now] = [registry, after].map((each) => expandPage(parsePage('isles/a.html', text), each));
  expect([now!.text, now!.problems]).toEqual([before!.text, []]);
  const { props } = after.get('new-part')!;
  return {
    use: /<(?:new-part|template use="new-part")[^]*?<\/(?:new-part|template)>/.exec(plan.templates[0]!.after)![0],
    uses: plan.templates[0]!.uses,
    file: plan.components[0]!.source,
    props: props.map(({ name, type, optional, choices }) => [name, type, optional, ...choices].join(' ')),
  };
}

const card = [
  'prop="heading" type="text"',
  'prop="note" type="text" optional',
  'prop="state" type="choice" choices="calm storm" default="calm"',
  'prop="open" type="flag"',
];
const used = [
  '<old-card heading="One &amp; two" open></old-card>',
  '<old-card heading="Three" note="Late" state="storm"></old-card>',
];

test('what is the same is copied, its names passed on with their types', () => {
  const body = `  <section>\n    <h2>{{heading}}</h2>\n    <p class="a a--{{state}} {{open ? 'is-open' : ''}}" hidden="{{note === 'Late'}}">{{heading}}: {{note ?? "none"}}</p>\n  </section>`;
  const { use, file, props } = cut(card, body, used, 'p');
  expect(use).toBe('<new-part state="{{state}}" open="{{open}}" note="{{note}}" heading="{{heading}}"></new-part>');
  expect(props).toEqual(['state choice false calm storm', 'open flag false', 'note text true', 'heading text false']);
  expect(file).toContain(
    `<p class="a a--{{state}} {{open ? 'is-open' : ''}}" hidden="{{note === 'Late'}}">{{heading}}: {{note ?? "none"}}</p>`,
  );
});

test('what differs is passed in ready: texts, tests, a choice between the same constants; braces stay literal', () => {
  const item = (value: string, name: string) =>
    `    <div class="row{{state === '${name}' ? ' row--now' : ''}}" title='{{"{{"}}'>\n      <template when="state === '${name}'"><b>now</b></template>\n      <i>${value}</i>\n    </div>`;
  const body = `  <section>\n${[item('{{heading}}', 'calm'), item('Storm &lt; {{note}}', 'storm')].join('\n')}\n  </section>`;
  const { use, uses, file, props } = cut(card, body, used, '.row');
  expect(uses).toBe(2);
  expect(use).toMatch(/^<new-part [\w-]+="\{\{state === 'calm'\}\}" [\w-]+="\{\{heading\}\}"><\/new-part>$/);
  expect(props).toEqual([expect.stringMatching(/^[\w-]+ flag false$/), expect.stringMatching(/^[\w-]+ text true$/)]);
  expect(file).toMatch(
    /class="row\{\{(\w+) \? ' row--now' : ''\}\}" title='\{\{"\{\{"\}\}'>\s*<template when="\1"><b>now<\/b><\/template>/,
  );
});

test('URLs lead where they led: those that the template starts, and those that it is given', () => {
  const body =
    '  <section>\n    <h2>{{heading}}</h2>\n    <p><a href="../isles/{{heading}}.html">{{heading}}</a> <img src="{{note}}" alt=""></p>\n  </section>';
  const uses = [
    '<old-card heading="hallow" note="../img/hallow.svg"></old-card>',
    '<old-card heading="orlay" note="orlay.svg"></old-card>',
  ];
  const { use, file } = cut(['prop="heading" type="text"', 'prop="note" type="url"'], body, uses, 'p');
  expect(use).toBe('<new-part heading="{{heading}}" note="{{note}}"></new-part>');
  expect(file).toContain('<a href="../isles/{{heading}}.html">{{heading}}</a> <img src="{{note}}" alt="">');
});

test('records of a list around, lists and slots within', () => {
  const list = ['prop="stops" type="list"', 'prop="stops.place" type="text"', 'prop="stops.time" type="text" optional'];
  const data =
    '<old-card><script type="application/json" slot="stops">[{ "place": "Mewport" }, { "place": "Orlay", "time": "7" }]</script><template slot="more">a <b>b</b> </template></old-card>';
  const body =
    '  <section>\n    <ul>\n      <template each="stop" of="stops"><li><b>{{stop.place}}</b> <template when="stop.time"><i>{{stop.time}}</i></template></li></template>\n    </ul>\n    <div><slot name="more">none</slot></div>\n  </section>';
  const inner = cut(list, body, [data, '<old-card></old-card>'], 'li');
  expect(inner.use).toMatch(/^<new-part place="\{\{stop\.place\}\}"\s+[\w-]+="\{\{stop\.time\}\}"><\/new-part>$/);
  const outer = cut(list, body, [data, '<old-card></old-card>'], 'ul');
  expect(outer.use).toBe('<new-part stops="{{stops}}"></new-part>');
  expect(outer.props).toEqual(['stops list false', 'stops.place text false', 'stops.time text true']);
  expect(cut(list, body, [data, '<old-card></old-card>'], 'div').use).toBe(
    '<new-part><slot name="more">none</slot></new-part>',
  );
});
