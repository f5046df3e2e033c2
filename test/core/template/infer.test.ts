/** What varies: from a page's repeats to the interface, its names and types. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { GLOBAL_ATTRIBUTES } from '../../../src/core/page/prop.js';
import {
  DEFAULT_THRESHOLDS,
  type Finding,
  parsePage,
  planLift,
  readComponents,
  survey,
  type Thresholds,
} from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';
import { componentOf } from '../component-of.js';
import { cases } from '../../arbitrary/cases.js';

const loose: Thresholds = { ...DEFAULT_THRESHOLDS, minElements: 1, minWorth: -100_000, maxProps: 12 };

function find(pages: Record<string, string>, thresholds: Partial<Thresholds> = {}): Finding[] {
  const parsed = Object.entries(pages).map(([path, source]) => parsePage(path, source));
  return survey(parsed, new Map(), { thresholds: { ...loose, ...thresholds }, componentFolder: 'components' }).findings;
}

/** The finding whose root is the given tag, on a page with these fragments. */
function general(tag: string, fragments: string[]): Finding {
  return componentOf(`body > ${tag}`, [parsePage('p.html', `<!DOCTYPE html><body>${fragments.join('\n')}</body>`)]);
}

const props = (finding: Finding) => finding.props.map(({ name, type }) => `${name}:${type}`);

describe('props', () => {
  test.each<[string, string, string[], string[]]>([
    [
      'text and link',
      'article',
      ['<article><h3><a href="a.html">A</a></h3></article>', '<article><h3><a href="b.html">B</a></h3></article>'],
      ['href:url', 'heading:text'],
    ],
    [
      'equal everywhere is one',
      'div',
      [
        '<div><label for="you">N</label><input id="you"></div>',
        '<div><label for="them">N</label><input id="them"></div>',
      ],
      ['field-id:text'],
    ],
    [
      'a value within another',
      'a',
      [
        '<a id="tern" href="#tern"><img src="i/tern.svg"></a>',
        '<a id="eider" href="#eider"><img src="i/eider.svg"></a>',
      ],
      ['link-id:text'],
    ],
    [
      'class word with a stem',
      'p',
      ['<p class="note note--calm">x</p>', '<p class="note note--storm">x</p>'],
      ['state:choice'],
    ],
    [
      'one side of a style',
      'i',
      ['<i style="width: 40%; color: red">x</i>', '<i style="width: 7%; color: red">x</i>'],
      ['width:text'],
    ],
    ['numbers', 'b', ['<b>12</b>', '<b>7.5</b>', '<b>-3</b>'], ['strong:number', 'text:number']],
    [
      'links as they are related',
      'div',
      [
        '<div><p>Mind the gap</p><link rel="icon" href="a.svg"><link rel="license" href="b.html"></div>',
        '<div><p>Mind the gap</p><link rel="icon" href="c.svg"><link rel="license" href="d.html"></div>',
      ],
      ['icon-href:url', 'license-href:url'],
    ],
    [
      'several links as they are labelled',
      'div',
      [
        '<div><p>Mind the gap</p><a class="go" href="a.html">Our boats</a><a class="go" href="b.html">Fares</a></div>',
        '<div><p>Mind the gap</p><a class="go" href="c.html">Our boats</a><a class="go" href="d.html">Fares</a></div>',
      ],
      ['our-boats-href:url', 'fares-href:url'],
    ],
    [
      'several files as they are called in all folders',
      'div',
      [
        '<div><p>Mind the gap</p><script src="a/tide.table.min.js"></script><script src="a/site.js?v=2"></script></div>',
        '<div><p>Mind the gap</p><script src="b/tide.table.min.js"></script><script src="b/site.js?v=2"></script></div>',
      ],
      ['tide-table-src:url', 'site-src:url'],
    ],
    ['lines of a text that stand deeper', 'p', ['<p>Mind\n  the gap</p>', '<p>Mind\n     the gap</p>'], []],
    ['lines that show', 'pre', ['<pre>Mind\n  the gap</pre>', '<pre>Mind\n     the gap</pre>'], ['text:text']],
    ['a flag', 'input', ['<input name="a" disabled>', '<input name="b">'], ['label:text', 'disabled:flag']],
    [
      'a handler',
      'button',
      ['<button onclick="go(1)">x</button>', '<button onclick="go(2)">x</button>'],
      ['on-click:handler'],
    ],
    ...(
      [
        ['few words often that are read', '<em>WORD</em>', ['emphasis:text']],
        ['few that name something', '<b id="WORD">x</b><i aria-labelledby="WORD"></i>', ['strong-id:text']],
        ['few class words', '<em class="em WORD">x</em>', ['variant:choice']],
        ['few of a keyword', '<a rel="WORD">x</a>', ['rel:choice']],
        ['few that are read and stand in a class', '<b class="is-WORD">WORD</b>', ['variant:choice']],
        ['few that are read and tell a class', '<em class="CLASS">WORD</em>', ['emphasis:choice']],
      ] as const
    ).map(([what, markup, props]): [string, string, string[], string[]] => [
      what,
      'p',
      ['late', 'calm', 'late', 'calm'].map(
        (word) => `<p>${markup.replaceAll('WORD', word).replace('CLASS', word === 'late' ? 'em alarm' : 'em')}</p>`,
      ),
      [...props],
    ]),
    ...['open', ''].map((word): [string, string, string[], string[]] => {
      const group = (name: string, open: string) =>
        `<p class="g${word && name === open ? ` ${word}` : ''}"><b aria-expanded="${name === open}">${name}</b></p>`;
      const [what, prop] = word === '' ? ['a keyword', 'expanded'] : ['a class and a keyword', word];
      const names = ['Boats', 'Fares', 'Quays'];
      const menus = names.map((open) => `<nav>${names.map((name) => group(name, open)).join('')}</nav>`);
      return [`groups of which one is open, said in ${what}`, 'nav', menus, [`${prop}:choice`]];
    }),
    [
      'a value within a handler is none',
      'button',
      ['<button id="tern" onclick="go(\'tern\')">x</button>', '<button id="eider" onclick="go(\'eider\')">x</button>'],
      ['label-id:text'],
    ],
    [
      'nor is code a value',
      'button',
      ['<button title="go(1)" onclick="go(1)">x</button>', '<button title="go(2)" onclick="go(2)">x</button>'],
      ['heading:text', 'on-click:handler'],
    ],
    [
      'one of several that alone has a class',
      'li',
      [1, 2, 3].map((i) => `<li${i === 2 ? ' class="active"' : ''}><a href="${i}.html">of ${'abc'[i]!}</a></li>`),
      ['active:flag', 'href:url', 'label:text'],
    ],
    [
      'an attribute that is left out holds no other value',
      'p',
      ['tern', 'eider', 'gull'].map((id, i) => `<p>${id}<a${i < 2 ? ` id="${id}-tab" rel="${id}"` : ''}>x</a></p>`),
      ['text:text', 'link-id:text', 'rel:text'],
    ],
    ['entities are values', 'p', ['<p>R&amp;D</p>', '<p>a</p>'], ['text:text']],
  ])('%s', (name, tag, fragments, expected) => {
    const found = props(general(tag, fragments));
    if (name === 'numbers') expect(found).toHaveLength(1);
    else if (name === 'a flag') expect(found.map((each) => each.split(':')[1])).toEqual(['text', 'flag']);
    else expect(found).toEqual(expected);
  });

  test('class words that others have moved are the same words', () => {
    const { file, props: found } = general('p', [
      '<p class="note calm wide mb-2 tall">x</p>',
      '<p class="note wide mb-2 tall dark">x</p>',
    ]);
    expect(found.map(({ type }) => type)).toEqual(['flag']);
    expect(file).toContain(`class="note{{calm ? ' calm' : ''}} wide mb-2 tall{{calm ? '' : ' dark'}}"`);
  });

  test('one of several that has another class word is a marker, however many words it has', () => {
    const links = ['sailings', 'fares', 'boats'];
    const menu = (current: number) =>
      `<nav><p>${links.map((link, i) => `<a class="${i === current ? 'text-red' : 'text-blue'} ${i === current ? 'bold' : 'thin'}" href="https://x.example/${link}">${link}</a>`).join(' ')}</p></nav>`;
    const { file, props: found } = general('nav', [menu(0), menu(1), menu(2), menu(1)]);
    expect(found.map(({ name, type, choices }) => [name, type, ...choices])).toEqual([
      ['current', 'choice', 'sailings', 'fares', 'boats'],
    ]);
    expect(file).toContain(
      `class="text-{{current === 'fares' ? 'red' : 'blue'}} {{current === 'fares' ? 'bold' : 'thin'}}"`,
    );
  });

  test('what aligns by names stays where what is inside would not align', () => {
    const inside = ['<p>a</p>', '<ul><li>a</li></ul>', '<em>a</em><b>c</b>', '<hr>', '<u>a</u><i>b</i>', '<h4>a</h4>'];
    const section = (i: number) =>
      `<section>\n<h3>S${i}</h3>\n${i % 2 ? '<strong class="sign">Late</strong>\n' : ''}<button type="button">Go</button>\n<div class="one">${inside[i % 6]!}${inside[(i * 5 + 1) % 6]!}</div>\n<div class="two">${inside[(i * 7 + 2) % 6]!}${inside[i % 5]!}</div>\n</section>`;
    const { file } = general(
      'section',
      Array.from({ length: 30 }, (_, i) => section(i)),
    );
    expect(file).toMatch(/<div class="one"><slot name="[\w-]+"><\/slot><\/div>\s*<div class="two"><slot/);
    expect(file).toContain('<button type="button">Go</button>');
  });

  test('content of two kinds is poured in where both are rich, and told apart by a value where they are not', () => {
    const rich = [
      (i: number) => `<p>From ${i}</p>\n<p><a href="${i}.html">Times</a></p>`,
      (i: number) => `<ul>\n<li>${i} knots</li>\n<li>${i} miles</li>\n</ul>`,
    ];
    const poor = [(i: number) => `<a href="#">To ${i}</a>`, (i: number) => `<em>${i < 0 ? '' : 'none today'}</em>`];
    const fileOf = (kinds: typeof rich) =>
      general(
        'section',
        [0, 1, 2, 3, 4, 5].map((i) => `<section>\n<h2>S${i}</h2>\n<div>\n${kinds[i % 2]!(i)}\n</div>\n</section>`),
      ).file;
    expect(fileOf(rich)).toMatch(/<div>\n *<slot><\/slot>\n *<\/div>/);
    expect(fileOf(poor)).toMatch(/<template when="[^]*<template unless="/);
  });

  test('values have one entry an occurrence, and the usual one is the default', () => {
    const finding = general('p', ['<p>more</p>', '<p>more</p>', '<p>less</p>', '<p>more</p>']);
    expect(finding.props[0]!.default?.value).toBe('more');
    expect(finding.props[0]!.values.map((value) => (value as { value: string }).value)).toEqual([
      'more',
      'more',
      'less',
      'more',
    ]);
  });

  test.each<[string, string[], string]>([
    ['comments that differ are poured in', ['<p>a<!-- x --></p>', '<p>b<!-- y --></p>'], 'slot'],
    ['scripts that differ', ['<p><script>a()</script></p>', '<p><script>b()</script></p>'], 'slot'],
    ['text on both sides of markup', ['<p>a <b>x</b> c</p>', '<p>b <b>x</b> d</p>'], 'slot'],
    ['text with and without markup', ['<p class="a">a <b>x</b></p>', '<p class="a">b</p>'], 'slot'],
    ['other nesting', ['<p class="a"><b>a</b><i>b</i></p>', '<p class="a"><u>b</u><s>a</s></p>'], 'slot'],
    [
      'attributes come and go',
      ['<p title="a">x</p>', '<p lang="en">x</p>', '<p title="a" lang="en">x</p>'],
      'flag flag',
    ],
    ['attributes exclude each other', ['<p title="a">x</p>', '<p lang="en">x</p>'], 'flag'],
    ['another class word', ['<p class="a b">x</p>', '<p class="a">x</p>'], 'flag'],
  ])('%s', (_, fragments, expected) => {
    const { props: found, general: made } = general('p', fragments);
    expect([...found.map(({ type }) => type), ...made!.slots.map(() => 'slot')].join(' ')).toBe(expected);
  });

  test('a template is written as most places are indented, whatever the first one looks like', () => {
    const tidy = ['Ness', 'Quay', 'Hope'].map((name) => `<div>\n  <b>${name}</b>\n</div>`);
    const found = general('div', ['', `      ${tidy[0]!}`, ...tidy.slice(1)]);
    expect(found.file).toContain('\n\n  <div>\n    <b>{{text}}</b>\n  </div>\n');
  });

  test('a slot of the page’s own would be taken for a component’s', () => {
    expect(() => general('p', ['<p><slot></slot></p>', '<p><slot></slot></p>'])).toThrow(
      /cannot be lifted|no one template/,
    );
  });

  test('the same link from two folders is one URL in the template; another target is a prop', () => {
    const block = (to: string, link: string) =>
      `<!DOCTYPE html><body><footer><p><a href="${to}index.html">Home</a> <a href="${link}">x</a></p></footer></body>`;
    const [finding] = find({ 'index.html': block('', 'a.html'), 'boats/tern.html': block('../', 'b.html') });
    expect(finding!.kind).toBe('shared');
    expect(props(finding!)).toEqual(['href:url']);
    expect(finding!.file).toContain('href="../index.html"');
    // a dot is kept where it can be, whichever page comes first
    for (const paths of [
      ['index.html', 'boats/tern.html'],
      ['zz.html', 'boats/tern.html'],
    ]) {
      const [found] = find(Object.fromEntries(paths.map((path, i) => [path, block(i === 0 ? './' : '../', 'a.html')])));
      expect(props(found!)).toEqual(['href:url']);
      expect(found!.file).toContain('href="./../index.html"');
    }
    // a spelling that would not come back letter by letter stays with the page
    const [dotted] = find({ 'index.html': block('./', 'a.html'), 'boats/tern.html': block('.././', 'a.html') });
    expect(props(dotted!)).toHaveLength(2);
  });

  test('names are kebab-case, no global attributes, and no two alike; component names are valid and no two alike', () => {
    fc.assert(
      fc.property(sites, (sources) => {
        const found = find(Object.fromEntries(sources.map((source, i) => [`p${i}.html`, source])));
        for (const { props: each, name } of found) {
          const names = each.map((prop) => prop.name);
          expect(new Set(names).size).toBe(names.length);
          for (const prop of names) {
            expect(prop).toMatch(/^[a-z][a-z0-9]*(-[a-z0-9]+)*$/);
            expect(GLOBAL_ATTRIBUTES.has(prop)).toBe(false);
          }
          expect(name).toMatch(/^[a-z][a-z0-9]*(-[a-z0-9]+)+$/);
        }
        expect(new Set(found.map(({ name }) => name)).size).toBe(found.length);
        // every file that would be written can be read, with the same interface
        for (const { name, file, props: each } of found) {
          const component = readComponents([{ path: `components/${name}.html`, source: file }]).get(name)!;
          const declared = component.props.filter((prop) => !prop.name.includes('.'));
          expect(declared.map((prop) => [prop.name, prop.type, prop.default])).toEqual(
            each.map((prop) => [prop.name, prop.type, prop.default]),
          );
        }
      }),
      { numRuns: cases(60) },
    );
  });

  test('an attribute whose spelling hides quotes is a value, not a text in a placeholder', () => {
    const finding = general('i', [`<i data-x='&quot;so&quot;'>a</i>`, '<i>b</i>']);
    expect(finding.file).toContain("data-x='{{x}}'");
    expect(props(finding)).toEqual(['x:text', 'text:text']);
  });
});

describe('the survey', () => {
  const row = (name: string) => `<li class="stop"><b>${name}</b> <span>calls at every quay</span></li>`;
  const list = (names: string[]) => `<ul class="stops">${names.map(row).join('')}</ul>`;
  const body = (inner: string) => `<!DOCTYPE html><body>${inner}</body>`;

  test('what stands once in another is not recommended by itself; what is elsewhere too, is', () => {
    const lead = '<p class="lead"><b>All about</b> <i>it</i> <em>and more</em></p>';
    const panel = (name: string) => `<section class="panel"><h2>${name}</h2>${lead}</section>`;
    const inside = find({ 'p.html': body(panel('a') + panel('b') + panel('c')) }, DEFAULT_THRESHOLDS);
    expect(inside.map(({ occurrences }) => occurrences[0]!.element.tag)).toEqual(['section']);
    const both = find(
      { 'p.html': body(`${panel('a')}${panel('b')}${lead}<hr>${lead}`) },
      { ...DEFAULT_THRESHOLDS, minWorth: 50 },
    );
    expect(both.map(({ occurrences }) => occurrences.length).sort()).toEqual([2, 4]);
  });

  test('recommended findings stand apart or one inside the other, never in one place or across', () => {
    fc.assert(
      fc.property(sites, (sources) => {
        const found = find(Object.fromEntries(sources.map((source, i) => [`p${i}.html`, source])), { minWorth: 0 });
        const taken = new Map<string, [number, number][]>();
        for (const { occurrences } of found.filter((each) => each.recommended))
          for (const { page, element, end } of occurrences) {
            const ranges = taken.get(page.path) ?? [];
            const nested = ([a, b]: [number, number], [c, d]: [number, number]) => a <= c && d <= b && (a < c || d < b);
            const mine: [number, number] = [element.start, end];
            const clash = ranges.filter((each) => mine[0] < each[1] && each[0] < mine[1]);
            expect(clash.filter((each) => !nested(each, mine) && !nested(mine, each))).toEqual([]);
            taken.set(page.path, [...ranges, [element.start, end]]);
          }
      }),
      { numRuns: cases(60) },
    );
  });

  test('kinds: a run of siblings, the same part on several pages, and the rest', () => {
    const kind = (tag: string, ...bodies: string[]) =>
      componentOf(
        tag,
        bodies.map((each, i) => parsePage(`p${i}.html`, body(each))),
      ).kind;
    expect(kind('li', list(['a', 'b', 'c']))).toBe('series');
    expect(kind('ul', list(['a']) + list(['b']))).toBe('series');
    expect(kind('ul', `${list(['a'])}<p>between</p>${list(['b'])}`)).toBe('repeat');
    expect(kind('ul', list(['a']), list(['b']))).toBe('shared');
  });

  test('thresholds are kept, and what is worth too little says so', () => {
    const pages = { 'p.html': body(list(['a', 'b', 'c'])) };
    expect(find(pages, { minOccurrences: 4 })).toEqual([]);
    expect(find(pages, { minElements: 4 })).toEqual([]);
    const parsed = [parsePage('p.html', body('<p class="note"><b>a</b></p>\n<p class="note"><b>b</b></p>'))];
    const { findings, others } = survey(parsed, new Map(), {
      thresholds: DEFAULT_THRESHOLDS,
      componentFolder: 'components',
    });
    expect(findings).toEqual([]);
    expect(others().map(({ reason }) => reason)).toEqual(['worth too little']);
  });

  test('saved is what is written: pages before, less pages and component after', () => {
    const part = (name: string) =>
      `<section class="quay">\n  <h2>${name} · 世界</h2>\n  <p>${'All boats call here. '.repeat(8)}</p>\n</section>`;
    const source = body(['Mewport', 'Hallow', 'Sandrey'].map(part).join('\n<p>between</p>\n'));
    const page = parsePage('p.html', source);
    const { findings } = survey([page], new Map(), { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' });
    const recommended = findings.filter((each) => each.recommended);
    const plan = planLift({ pages: [page], components: [], findings: recommended, componentFolder: 'components' });
    const written = [plan.pages[0]!.after, ...plan.components.map((each) => each.source)];
    const lines = (text: string) => text.split('\n').length - 1;
    const sum = (of: (text: string) => number) => of(source) - written.reduce((total, text) => total + of(text), 0);
    expect(recommended.length).toBe(1);
    expect(recommended[0]!.saved).toEqual({ bytes: sum((text) => Buffer.byteLength(text)), lines: sum(lines) });
  });

  test('the same pages give the same answer', () => {
    fc.assert(
      fc.property(sites, (sources) => {
        const pages = Object.fromEntries(sources.map((source, i) => [`p${i}.html`, source]));
        const told = () => find(pages).map(({ name, saved, file, uses }) => ({ name, saved, file, uses }));
        expect(told()).toEqual(told());
      }),
      { numRuns: 30 },
    );
  });
});
