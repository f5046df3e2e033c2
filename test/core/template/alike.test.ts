/** Fragments that are alike and not equal: parts, attributes and class words that come and go. */
import { describe, expect, test } from '@jest/globals';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import fc from '../../arbitrary/seeded.js';
import { mergeRows } from '../../../src/core/template/merge.js';
import { componentOf, generalisingFor } from '../component-of.js';
import { findingFor } from '../../../src/core/survey/findings.js';
import { selected } from '../../../src/core/survey/point.js';
import { generalise } from '../../../src/core/template/generalise.js';
import {
  expandPage,
  type Finding,
  parsePage,
  planLift,
  readComponents,
  survey,
  type Thresholds,
} from '../../../src/index.js';
import { cases } from '../../arbitrary/cases.js';

const thresholds: Thresholds = { ...DEFAULT_THRESHOLDS, minWorth: -100_000 };
const options = { thresholds, componentFolder: 'components' };
const usual = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };
const filler = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';

interface Part {
  badge?: string;
  state?: string;
  wide?: boolean;
  current?: boolean;
  link?: string;
  gone?: string;
  extra?: boolean;
}

/** A card with some parts. */
function card(name: string, part: Part = {}): string {
  const words = [
    'card',
    ...(part.wide ? ['card--wide'] : []),
    ...(part.state === undefined ? [] : [`is-${part.state}`]),
  ];
  const body = part.gone === undefined ? `<p class="card__text">${filler}</p>` : `<em>${part.gone}</em>`;
  return `  <article class="${words.join(' ')}"${part.current ? ' aria-current="page"' : ''}>
    <h3><a href="x.html"${part.link === undefined ? '' : ` hreflang="${part.link}"`}>${name}</a></h3>
    ${body}
${part.badge === undefined ? '' : `    <span class="badge">${part.badge}</span>\n`}${
    part.extra ? '    <p class="card__more">\n      The rest is the same\n      on every card.\n    </p>\n' : ''
  }    <p class="card__end">${filler}</p>
  </article>`;
}

function site(cards: string[]): string {
  return `<!DOCTYPE html>\n<body>\n<main>\n${cards.join('\n')}\n</main>\n</body>\n`;
}

/** The component of all articles. */
function find(source: string, page = parsePage('p.html', source)): Finding {
  return componentOf('article', [page]);
}

function lift(source: string, components: { path: string; source: string }[] = []) {
  const page = parsePage('p.html', source);
  const known = survey([page], readComponents(components), options).findings.find(
    ({ component }) => component !== null,
  );
  const finding = components.length === 0 ? find(source, page) : known!;
  const plan = planLift({ pages: [page], components, findings: [finding], componentFolder: 'components' });
  return { finding, plan };
}

const names = ['Tern', 'Eider', 'Puffin', 'Gull'];

describe('one component of alike fragments', () => {
  test.each<[string, Part[], string[], RegExp]>([
    [
      'a part with a text',
      [{ badge: 'New' }, {}, { badge: 'Old' }, {}],
      ['badge:text?'],
      /\n {4}<template when="badge"><span class="badge">\{\{badge\}\}<\/span><\/template>\n/,
    ],
    [
      'a part without one',
      [{ badge: 'New' }, {}, { badge: 'New' }, {}],
      ['badge:flag'],
      /<template when="badge"><span class="badge">New<\/span><\/template>/,
    ],
    [
      'a part of several lines',
      [{ extra: true }, {}, {}, {}],
      ['more:flag'],
      /<template when="more">\n {6}<p class="card__more">\n {8}The rest/,
    ],
    ['a class word', [{ wide: true }, {}, {}, {}], ['wide:flag'], /class="card\{\{wide \? ' card--wide' : ''\}\}"/],
    [
      'a class word out of several',
      [{ state: 'late' }, {}, { state: 'gone' }, {}],
      ['variant:choice?'],
      /class="card\{\{variant === null \? '' : ' is-'\}\}\{\{variant\}\}"/,
    ],
    [
      'an attribute with one value',
      [{ current: true }, {}, {}, {}],
      ['current:flag'],
      /aria-current="\{\{current \? 'page' : null\}\}"/,
    ],
    [
      'an attribute with several',
      [{ link: 'en' }, {}, { link: 'de' }, {}],
      ['hreflang:text?'],
      /hreflang="\{\{hreflang\}\}"/,
    ],
    [
      'a class word and an attribute at once',
      [{ wide: true, current: true }, {}, {}, {}],
      ['wide:flag'],
      /wide \? 'page' : null/,
    ],
    [
      'parts that exclude each other',
      [{ gone: 'no sailing' }, {}, { gone: 'in dock' }, {}],
      ['emphasis:text?'],
      /when="emphasis">[^]*unless="emphasis">|unless="emphasis">[^]*when="emphasis">/,
    ],
  ])('%s', (_, parts, props, template) => {
    const source = site(parts.map((part, i) => card(names[i]!, part)));
    const { finding, plan } = lift(source);
    expect(finding.occurrences).toHaveLength(4);
    const told = finding.props.map(({ name, type, optional }) => `${name}:${type}${optional ? '?' : ''}`);
    expect(told.filter((each) => each !== 'heading:text')).toEqual(props);
    expect(finding.file).toMatch(template);
    expect(plan.pages[0]).toMatchObject({ same: 'bytes', uses: 4 });
    // and more of them are known again, with and without
    const again = lift(source, [{ path: `components/${finding.name}.html`, source: finding.file }]);
    expect(again.finding).toMatchObject({ name: finding.name, component: { name: finding.name } });
    expect(again.plan.pages[0]).toMatchObject({ same: 'bytes', uses: 4, after: plan.pages[0]!.after });
  });

  test('any mixture of them, in any order, is the same component and the same page to the byte', () => {
    const part = fc.record(
      {
        badge: fc.constantFrom('New', 'Old', 'Last'),
        wide: fc.boolean(),
        current: fc.boolean(),
        link: fc.constantFrom('en', 'de'),
        extra: fc.boolean(),
      },
      { requiredKeys: [] },
    );
    let whole = 0;
    fc.assert(
      fc.property(fc.array(part, { minLength: 2, maxLength: 6 }), fc.nat(), (parts, turn) => {
        const cards = parts.map((each, i) => card(`${names[i % 4]!} ${i}`, each));
        const at = turn % cards.length;
        const [found, turned] = [find(site(cards)), find(site([...cards.slice(at), ...cards.slice(0, at)]))];
        const interfaceOf = (finding: Finding) =>
          finding.props
            .map(({ type, values }) => `${type} ${new Set(values.map((value) => JSON.stringify(value))).size}`)
            .sort();
        expect(interfaceOf(turned)).toEqual(interfaceOf(found));
        const { plan } = lift(site(cards));
        for (const { after, before } of plan.pages)
          expect(expandPage(parsePage('p.html', after), plan.registry).text).toBe(before);
        if (plan.leftOut.length === 0) whole++;
      }),
      { numRuns: cases(150) },
    );
    expect(whole).toBeGreaterThan(cases(60));
  });

  test('clearly different cards with one class are two components', () => {
    const other = (name: string) =>
      `  <article class="card">\n    <table><tr><td>${name}</td></tr></table>\n    <ul><li>one</li><li>two</li></ul>\n    <form><input name="q"><button>Ask the harbour office</button></form>\n  </article>`;
    const page = parsePage('p.html', site([card('a'), other('b'), card('c'), other('d'), card('e'), other('f')]));
    const { findings } = survey([page], new Map(), options);
    const articles = findings.filter(({ occurrences }) => occurrences[0]!.element.tag === 'article');
    expect(articles.map(({ occurrences }) => occurrences.length)).toEqual([3, 3]);
  });

  test('one odd fragment that shares little more than its tag is none of them', () => {
    const odd = `  <article class="card">\n    <dl><dt>${filler}</dt><dd>${filler}</dd></dl>\n    <blockquote>${filler}</blockquote>\n  </article>`;
    const page = parsePage('p.html', site([card('a'), card('b', { badge: 'new' }), odd, card('c')]));
    const { findings } = survey([page], new Map(), usual);
    const articles = findings.filter(({ occurrences }) => occurrences[0]!.element.tag === 'article');
    expect(articles.map(({ occurrences }) => occurrences.length)).toContain(3);
  });

  test('of several alike parts the one that others lack is the one that comes and goes, from whatever folder it is linked', () => {
    const menu = (up: string, names: string[]) =>
      `<!DOCTYPE html><body><nav><b>${filler}</b>${names.map((name) => `<a href="${up}${name}.html">${name}</a>`).join('')}</nav></body>`;
    const pages = [
      parsePage('a.html', menu('', ['fares', 'boats', 'crew'])),
      parsePage('b.html', menu('', ['boats', 'crew'])),
      parsePage('boats/c.html', menu('../', ['boats', 'crew'])),
    ];
    const { props, file } = componentOf('nav', pages);
    expect(props.map(({ type }) => type)).toEqual(['flag']);
    expect(file).toMatch(/<template when="\w+"><a [^>]*>fares<\/a><\/template><a [^>]*boats/);
  });

  test('fragments without any class meet by their structure', () => {
    const plain = (name: string, more: string) =>
      `<div><div><b>${name}</b></div><div><i>${filler}</i><u>${filler}</u></div>${more}</div>`;
    const source = `<!DOCTYPE html><body><section>${plain('a', '')}</section><main>${plain('b', '<p>more</p>')}${plain('c', '')}</main></body>`;
    const few = { ...usual, thresholds: { ...DEFAULT_THRESHOLDS, minWorth: 20 } };
    const { findings } = survey([parsePage('p.html', source)], new Map(), few);
    expect(findings.map(({ occurrences }) => occurrences.length)).toContain(3);
  });
});

test('merging rows loses no token, keeps each row in order, and does not depend on the order of rows, whatever tokens say', () => {
  const row = fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.constantFrom('', 'x', 'y')), { maxLength: 6 });
  fc.assert(
    fc.property(fc.array(row, { minLength: 1, maxLength: 5 }), (rows) => {
      const joined = rows.map((each) => each.map(([token]) => `${token}\u0000`).join(''));
      const said = new Map(joined.map((key, i) => [key, rows[i]!.map(([, says]) => says)]));
      const columns = mergeRows(joined, said)!;
      rows.forEach((each, i) =>
        expect(columns.map((column) => column[i]!).filter((at) => at !== -1)).toEqual(each.map((_, at) => at)),
      );
      for (const column of columns)
        expect(new Set(column.flatMap((at, i) => (at === -1 ? [] : [rows[i]![at]![0]]))).size).toBe(1);
      const back = mergeRows([...joined].reverse(), said)!;
      expect(back.map((column) => [...column].reverse())).toEqual(columns);
      // as many meet as if nothing was said
      if (rows.length === 2) expect(columns).toHaveLength(mergeRows(joined)!.length);
    }),
  );
});

describe('a style that differs in', () => {
  const urls = (before: string, after: string) => [1, 2, 3].map((i) => `${before}quay-${i}.jpg${after}`);
  test.each<[string, string[], string, string[]]>([
    ['a picture', urls("background-image: url('img/", "')"), "background-image: url('{{picture}}')", ['picture url']],
    [
      'one of several hosts',
      urls('color: red; background: url(https://harbour.example/', ') no-repeat; width: 40%'),
      'color: red; background: url({{picture}}) no-repeat; width: 40%',
      ['picture url'],
    ],
    ['a picture, beside one of all', urls('cursor: url(all.cur), auto; mask: url(', ')'), '{{look}}', ['look text']],
    [
      'a value after one with colons',
      ['a:b:c; width: 10%', 'a:b:c; width: 20%', 'a:b:c; width: 70%'],
      'a:b:c; width: {{width}}',
      ['width text'],
    ],
    ['a property', ['color: red', 'background: red', 'fill: red'], '{{look}}', ['look text']],
  ])('%s', (_, styles, style, props) => {
    const pages = styles.map((each, i) =>
      parsePage(`${i}.html`, `<!DOCTYPE html><body><article style="${each}"><h2>Quay</h2><p>${filler}</p></article>`),
    );
    const finding = componentOf('article', pages);
    expect(finding.file).toContain(` style="${style}">`);
    expect(finding.props.map(({ name, type }) => `${name} ${type}`)).toEqual(props);
    const plan = planLift({ pages, components: [], findings: [finding], componentFolder: 'components' });
    expect(plan.pages.map(({ same }) => same)).toEqual(styles.map(() => 'bytes'));
  });
});

describe('a class list', () => {
  const lists = ['icon ic-tern', 'icon ic-gull spin', 'icon ic-auk', 'icon ic-skua'];
  const item = (list: string) => `<li><i class="${list}"></i> ${list.split(' ')[1]?.slice(3)}</li>`;
  const page = parsePage('p.html', `<!DOCTYPE html><body><ul>\n${lists.map(item).join('\n')}\n</ul></body>\n`);

  test('keeps the words that all have, and one of them is what is read beside it', () => {
    const finding = componentOf('li', [page]);
    expect(finding.file).toContain(`<i class="icon ic-{{item}}{{spin ? ' spin' : ''}}"></i> {{item}}</li>`);
    const plan = planLift({ pages: [page], components: [], findings: [finding], componentFolder: 'components' });
    expect(plan.pages.map(({ same }) => same)).toEqual(['bytes']);
    expect(plan.pages[0]!.after).toContain('item="gull" spin');
  });

  test('says what each place has, whatever white space is in it', () => {
    const word = fc.constantFrom('icon', 'ic-tern', 'ic-gull', 'spin', 'mb-1', 'mb-2', "o'", '');
    const list = fc
      .array(fc.tuple(word, fc.constantFrom(' ', ' ', ' ', '  ', '\n')), { minLength: 1, maxLength: 4 })
      .map((words) => `${words.flat().join('')}icon`);
    fc.assert(
      fc.property(fc.array(list, { minLength: 2, maxLength: 6 }), (some) => {
        const pages = [parsePage('p.html', `<!DOCTYPE html><body>\n${some.map(item).join('\n')}\n</body>\n`)];
        const findings = [componentOf('i', pages)];
        const plan = planLift({ pages, components: [], findings, componentFolder: 'components' });
        expect(plan.pages.map(({ same }) => same)).toEqual(['bytes']);
      }),
      { numRuns: cases(300) },
    );
  });

  test.each([
    [2, "icon ic-{{icon}}{{spin ? ' spin' : ''}}"],
    [1, '{{icon}}'],
  ])('is told in as many props as there may be: %i', (maxProps, list) => {
    const occurrences = selected([page], 'i');
    const made = generalise(occurrences, generalisingFor([page], [], maxProps))!;
    expect(findingFor('bird', made).file).toContain(`<i class="${list}"></i>`);
  });
});
