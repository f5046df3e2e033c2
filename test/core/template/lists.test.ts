/** Lists, slots and markers: whatever the occurrences hold, the page comes back, in any order of them. */
import { describe, expect, test } from '@jest/globals';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import fc from '../../arbitrary/seeded.js';
import { componentOf } from '../component-of.js';
import { expandPage, type Finding, parsePage, planLift, readComponents, survey } from '../../../src/index.js';
import { cases } from '../../arbitrary/cases.js';

const thresholds = { ...DEFAULT_THRESHOLDS, minWorth: -100_000 };
const options = { thresholds, componentFolder: 'components' };
const filler = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';

function site(blocks: string[]): string {
  return `<!DOCTYPE html>\n<body>\n<main>\n${blocks.join('\n')}\n</main>\n</body>\n`;
}

function findingOf(tag: string, source: string): Finding {
  return componentOf(tag, [parsePage('p.html', source)]);
}

/** Lifts one finding alone and expands the page again. */
function back(finding: Finding, source: string) {
  const page = finding.occurrences[0]!.page;
  const plan = planLift({ pages: [page], components: [], findings: [finding], componentFolder: 'components' });
  const { after, same } = plan.pages[0]!;
  const expanded = expandPage(parsePage('p.html', after), plan.registry).text;
  return { plan, after, same, exact: expanded === source };
}

interface Stop {
  place: string;
  time?: string;
  late?: boolean;
}

function line(name: string, stops: Stop[]): string {
  const items = stops.map(
    ({ place, time, late }) =>
      `    <li class="stop${late ? ' stop--late' : ''}"><b>${place}</b>${time === undefined ? '' : ` <i>${time}</i>`}</li>\n`,
  );
  return `<section class="line">\n  <h2>${name}</h2>\n  <p class="line__note">${filler}</p>\n  <ul class="line__stops">\n${items.join('')}  </ul>\n</section>`;
}

describe('lists', () => {
  const place = fc.constantFrom('Mewport', 'Hallow', 'Orlay', 'Sandrey &amp; Bar', 'Varn "Haven"');
  const stop = fc.record(
    { place, time: fc.constantFrom('9', '10.30'), late: fc.boolean() },
    { requiredKeys: ['place'] },
  );
  const lines = fc.array(fc.array(stop, { minLength: 1, maxLength: 6 }), { minLength: 2, maxLength: 6 });

  test('any records, with and without their parts, come back to the byte', () => {
    let listed = 0;
    fc.assert(
      fc.property(lines, (all) => {
        const source = site(all.map((stops, i) => line(`Line ${i}`, stops)));
        const finding = findingOf('section', source);
        const { exact, plan } = back(finding, source);
        expect([exact, plan.leftOut]).toEqual([true, []]);
        const list = finding.props.find(({ type }) => type === 'list');
        if (list === undefined) return;
        listed++;
        expect(list.values.map((rows) => (rows as unknown[]).length)).toEqual(all.map((stops) => stops.length));
      }),
      { numRuns: cases(120) },
    );
    expect(listed).toBeGreaterThan(cases(60));
  });

  describe('lists beside each other that each place has another one of differ in kind', () => {
    const crew = (...names: string[]) =>
      names.map((name) => `<tr class="crew"><td><b>${name}</b></td><td>${filler}</td></tr>`);
    const fares = (...sums: number[]) =>
      sums.map((sum) => `<tr class="fare"><td>${sum}</td><td><em>each</em> way</td><td>p</td></tr>`);
    const total = (sum: number) => `<tr class="total"><th>In all</th><td>${sum}</td><td>p</td></tr>`;
    const panel = (rows: string[]) =>
      `<section class="panel"><h2>Of this week</h2>\n<div><table><thead><tr><th>Quay</th></tr></thead>\n  <tbody>\n${rows.map((row) => `    ${row}\n`).join('')}  </tbody></table></div></section>`;
    const menu = (links: string[], lead = '\n    ') =>
      `<section class="menu"><h2>${filler}</h2><ul>${links.map((link) => `${lead}<li><a href="${link}.html">${link}</a></li>`).join('')}</ul></section>`;
    const crews = [crew('Ann', 'Bo', 'Cleo'), crew('Dee', 'Eli'), crew('Flo', 'Gus', 'Hal', 'Ida')];
    const links = [
      ['tern', 'gull'],
      ['wren', 'rook', 'skua'],
      ['knot', 'ruff', 'coot', 'smew'],
    ];

    test.each<[what: string, blocks: string[], lists: number, slots: number]>([
      ['rows of one kind', crews.map(panel), 1, 0],
      ['rows of two kinds', [...crews, fares(3, 4, 5), fares(6, 7)].map(panel), 0, 1],
      [
        'rows, and totals where there are some',
        [fares(3, 4), [...fares(1, 2, 3), total(6)], [...fares(4, 5), total(9)]].map(panel),
        1,
        0,
      ],
      ['items that are laid out alike', links.map((each) => menu(each)), 1, 0],
      ['items in one line, and in lines', links.map((each, i) => menu(each, i === 0 ? '' : undefined)), 0, 1],
    ])('%s', (_, blocks, lists, slots) => {
      const source = site(blocks);
      const finding = findingOf('section', source);
      expect([finding.props.filter(({ type }) => type === 'list').length, finding.slots.length]).toEqual([
        lists,
        slots,
      ]);
      const { exact, plan } = back(finding, source);
      expect([exact, plan.leftOut]).toEqual([true, []]);
    });
  });

  test('the same lines in any order are the same component', () => {
    fc.assert(
      fc.property(lines, fc.nat(), (all, turn) => {
        const blocks = all.map((stops, i) => line(`Line ${i}`, stops));
        const at = turn % blocks.length;
        const turned = [...blocks.slice(at), ...blocks.slice(0, at)];
        const told = (some: string[]) => {
          const { props, general } = findingOf('section', site(some));
          return [props.map(({ name, type, optional }) => [name, type, optional]), general!.slots.length];
        };
        expect(told(turned)).toEqual(told(blocks));
      }),
      { numRuns: cases(60) },
    );
  });

  test('a list in a data file is read from there, and one that is missing is told', () => {
    const path = 'components/stop-list.html';
    const source =
      '<template component="stop-list">\n  <meta prop="stops" type="list">\n  <meta prop="stops.place" type="text">\n\n  <ul>\n    <template each="stop" of="stops"><li>{{stop.place}}</li></template>\n  </ul>\n</template>\n';
    const registry = readComponents([{ path, source }], {
      data: new Map([['data/far.json', '[{ "place": "Orlay" }]']]),
    });
    const use = (src: string) =>
      `<body>\n<stop-list><script type="application/json" slot="stops" src="${src}"></script></stop-list>\n</body>\n`;
    const found = expandPage(parsePage('quays/p.html', use('../data/far.json')), registry);
    expect([found.text, found.problems]).toEqual(['<body>\n<ul>\n  <li>Orlay</li>\n</ul>\n</body>\n', []]);
    expect(expandPage(parsePage('p.html', use('./data/far.json')), registry).text).toBe(found.text);
    const { problems } = expandPage(parsePage('quays/p.html', use('data/far.json')), registry);
    expect(problems).toMatchObject([
      { kind: 'bad-list', message: 'the data file data/far.json of stops is not there' },
    ]);
  });
});

describe('slots', () => {
  const inside = fc.constantFrom(
    '<p>Bring a coat.</p>',
    '<ul>\n    <li>one</li>\n    <li>two</li>\n  </ul>',
    '<pre>wind\n  NW 4</pre>',
    '<table><tr><td>09:10</td></tr></table>',
    '<b>bold</b> and <i>plain</i> &copy; text',
    '',
  );

  test('whatever is poured in, the page is the same, and what frames it is written once', () => {
    let poured = 0;
    fc.assert(
      fc.property(fc.array(fc.array(inside, { maxLength: 3 }), { minLength: 3, maxLength: 6 }), (all) => {
        const panel = (some: string[], i: number) =>
          `<section class="panel" data-kind="panel">\n  <h2 class="panel__heading">Panel ${i}</h2>\n  <div class="panel__body">\n  ${some.join('\n  ')}\n  </div>\n  <p class="panel__foot">${filler}</p>\n</section>`;
        const source = site(all.map(panel));
        const finding = findingOf('section', source);
        expect(back(finding, source).plan.leftOut).toEqual([]);
        if (finding.general!.slots.length === 0) return;
        poured++;
        expect(finding.file.split(filler)).toHaveLength(2);
      }),
      { numRuns: cases(120) },
    );
    expect(poured).toBeGreaterThan(cases(60));
  });

  test('what stands in place of something poured in is poured in too', () => {
    const line = `\n${' '.repeat(40)}`;
    const hint = '<p class="field__hint">The harbour master reads what is written here by the next boat.</p>';
    const field = (id: string, control: string) =>
      `<div class="field">${[control, `<label for="${id}">Your ${id}</label>`, hint].map((each) => line + each).join('')}\n</div>`;
    const input = (id: string, type: string, rule: string) =>
      field(id, `<input id="${id}" type="${type}" placeholder="${id} …" data-rule="${rule}" class="field__input">`);
    const found = findingOf(
      'div',
      site([
        input('name', 'text', 'some'),
        input('mail', 'email', 'mail'),
        input('phone', 'tel', 'some'),
        field(
          'message',
          '<textarea id="message" rows="9" class="field__input field__input--large">Dear harbour master,\n</textarea>',
        ),
      ]),
    );
    expect(found.file).toMatch(/\n +<slot><\/slot>\n/);
    expect(found.props.map(({ type }) => type)).toEqual(['text']);
  });
});

describe('what usually stands in a slot', () => {
  const table = '<table>\n      <tr><td>09:10</td></tr>\n    </table>';
  const menu = (here: number) =>
    `<ul>\n${['Home', 'Boats', 'Fares', 'News'].map((label, i) => `      <li${i === here ? ' class="current"' : ''}><a href="./${label}.html">${label}</a></li>\n`).join('')}    </ul>`;
  const panel = (content: string, i: number) =>
    `<section class="panel">\n  <h2>Panel ${i}</h2>\n  <div class="panel__body">${content === '' ? '' : `\n    ${content}\n  `}</div>\n  <p>${filler}</p>\n</section>`;
  const lines = (count: number) => `<pre>09:10${'\n'.repeat(count)}on</pre>`;
  const other = ['<p>Calm.</p>', '<b>Wind</b> and <i>rain</i>', '<ol><li>9</li></ol>'];

  test.each<[what: string, contents: string[], slots: number, times: number, props: number]>([
    ['is written once', [table, table, table, other[0]!, other[1]!, table], 1, 1, 1],
    ['but not what few hold', [table, table, ...other, other[0]!], 1, 0, 1],
    ['where nothing stands, that is said', [table, table, table, '', other[1]!], 1, 1, 1],
    ['nor what is broken otherwise', [lines(1), lines(2), lines(1), lines(2), ...other], 1, 0, 1],
    ['what all hold needs no slot', [table, table, table], 0, 1, 1],
    [
      'one of it may be marked, where another of the same shape says something else',
      [menu(0), menu(1), menu(2), menu(3), other[1]!, menu(1).replaceAll('Boats', 'Bådar')],
      1,
      1,
      2,
    ],
    ['one of it may be marked', [menu(0), menu(1), other[0]!, menu(2), other[1]!, menu(3), other[2]!], 1, 1, 2],
    [
      'but not what says something else',
      [0, 1, 2, 3].map((i) => `<p><b>${i} of ${i + 7}</b> boats</p>`).concat(other),
      1,
      0,
      1,
    ],
  ])('%s', (_, contents, slots, times, props) => {
    const source = site(contents.map(panel));
    const finding = findingOf('section', source);
    const { exact, plan } = back(finding, source);
    expect([exact, plan.leftOut]).toEqual([true, []]);
    expect([finding.slots.length, finding.props.length]).toEqual([slots, props]);
    const usual = contents[0]!.includes('09:10') ? '09:10' : 'Boats.html';
    expect(finding.file.split(usual)).toHaveLength(times + 1);
    const said = plan.pages[0]!.after.split(usual).length - 1;
    expect(said).toBe(times === 1 ? 0 : contents.filter((content) => content.includes(usual)).length);
  });

  test.each([
    [' class="current"', ''],
    [' class="stop  current"', ' class="stop  "'],
  ])('one of many may be marked with %j, where at one place two are, and there all is poured in', (marked, other) => {
    const names = Array.from({ length: 20 }, (_, i) => `Quay ${String.fromCharCode(65 + i)}`);
    const long = (here: number[]) =>
      `<ul>${names.map((name, i) => `<li${here.includes(i) ? marked : other}><a href="#x">${name}</a></li>`).join('')}</ul>`;
    const source = site([...names.map((_, i) => [i]), [3, 7]].map(long).map(panel));
    const finding = findingOf('section', source);
    expect([finding.slots.length, finding.props.map(({ type }) => type)]).toEqual([1, ['text', 'choice']]);
    const { exact, plan } = back(finding, source);
    expect(exact).toBe(true);
    expect(plan.pages[0]!.after.split('Quay T')).toHaveLength(2);
  });

  test('what few hold in it is left out, and all that these hold poured in', () => {
    const odd = [menu(2).replace('News.html', 'Old.html'), menu(1).replace('Home.html', 'index.html')];
    const source = site([menu(0), menu(1), menu(2), menu(3), ...odd, menu(1), ...other].map(panel));
    const finding = findingOf('section', source);
    const { exact, plan } = back(finding, source);
    expect([exact, finding.props.map(({ type }) => type)]).toEqual([true, ['text', 'choice']]);
    expect(plan.pages[0]!.after.split('Boats.html')).toHaveLength(odd.length + 1);
  });

  test('whatever it is, and however often, the page comes back to the byte', () => {
    let usual = 0;
    const contents = fc
      .tuple(fc.array(fc.constantFrom(table, menu(0), menu(1), menu(2)), { minLength: 3, maxLength: 6 }), fc.boolean())
      .map(([usual, isOne]) => [...usual.map((each) => (isOne ? table : each)), ...other, ''])
      .chain((all) => fc.shuffledSubarray(all, { minLength: all.length - 2 }));
    fc.assert(
      fc.property(contents, (contents) => {
        const source = site(contents.map(panel));
        const finding = findingOf('section', source);
        const { exact, plan } = back(finding, source);
        expect([exact, plan.leftOut]).toEqual([true, []]);
        if (!finding.slots.some(({ hasFallback }) => hasFallback)) return;
        usual++;
        // and a page that comes later is known by it
        const page = parsePage('q.html', site([panel(contents[0]!, 9)]));
        const registry = readComponents(plan.components);
        const { findings } = survey([page], registry, options);
        expect(findings[0]).toMatchObject({ name: finding.name, component: { name: finding.name } });
        const again = planLift({ pages: [page], components: plan.components, findings, componentFolder: 'components' });
        expect(expandPage(parsePage('q.html', again.pages[0]!.after), registry).text).toBe(page.source);
      }),
      { numRuns: cases(100) },
    );
    expect(usual).toBeGreaterThan(cases(20));
  });
});

describe('markers', () => {
  const labels = ['Home', 'Boats', 'Fares', 'News'];
  // what all but the marked one carry is the same marker
  const menu = (current: number | null, others = false) => {
    const off = others ? ' class="link link--off"' : ' class="link"';
    const item = (label: string, i: number) =>
      i === current
        ? `  <li class="item item--here"><a href="#x" class="link" aria-current="page">${label}</a></li>`
        : `  <li class="item"><a href="#x"${off}>${label}</a></li>`;
    return `<nav class="menu">\n<ul>\n${labels.map(item).join('\n')}\n</ul>\n</nav>`;
  };

  test('one prop for which of several is marked, none included; more of them are known by it', () => {
    const at = fc.constantFrom(null, 0, 1, 2, 3);
    fc.assert(
      fc.property(
        fc.shuffledSubarray([0, 1, 2, 3], { minLength: 3 }),
        fc.array(at, { maxLength: 4 }),
        at,
        fc.boolean(),
        (some, more, later, others) => {
          const marked = [...some, ...more];
          const source = site(marked.map((current) => menu(current, others)));
          const finding = findingOf('nav', source);
          expect(finding.props.map(({ name, type, optional }) => [name, type, optional])).toEqual([
            ['here', 'choice', marked.includes(null)],
          ]);
          const { exact, plan } = back(finding, source);
          expect(exact).toBe(true);
          if (later !== null && !some.includes(later)) return;
          if (later === null && !marked.includes(null)) return;
          const page = parsePage('q.html', site([menu(later, others)]));
          const { findings } = survey([page], readComponents(plan.components), options);
          expect(findings[0]).toMatchObject({ name: finding.name, component: { name: finding.name } });
          const again = planLift({
            pages: [page],
            components: plan.components,
            findings: [findings[0]!],
            componentFolder: 'components',
          });
          expect(expandPage(parsePage('q.html', again.pages[0]!.after), again.registry).text).toBe(page.source);
        },
      ),
      { numRuns: cases(60) },
    );
  });

  test('a group and a link in it that are marked by the same word are two props', () => {
    const groups = ['Boats', 'Fares', 'News'].map((group) => [
      group,
      ...['A', 'B', 'C'].map((each) => `${group} ${each}`),
    ]);
    const menus = ['Boats A', 'Boats C', 'Fares A', 'Fares B', 'News B', 'News C', 'Boats B', 'Fares C', 'News A'].map(
      (at) => {
        const link = (label: string) => `<a${at.startsWith(label) ? ' class="here"' : ''} href="#x">${label}</a>`;
        const items = groups.map(
          ([group, ...links]) =>
            `<li>${link(group!)}<ul>${links.map((each) => `<li>${link(each)}</li>`).join('')}</ul></li>`,
        );
        return `<nav class="menu">\n<p>${filler}</p>\n<ul>\n${items.join('\n')}\n</ul>\n</nav>`;
      },
    );
    const source = site(menus);
    const finding = findingOf('nav', source);
    expect(finding.props.map(({ type, choices }) => [type, choices.length])).toEqual([
      ['choice', 3],
      ['choice', 9],
    ]);
    expect(back(finding, source).exact).toBe(true);
  });

  test('the marked one may be another element', () => {
    const menus = [0, 1, 2, 3, 1].map((current) => {
      const item = (label: string, i: number) =>
        i === current ? `  <li><span class="here">${label}</span></li>` : `  <li><a href="#${i}">${label}</a></li>`;
      return `<nav class="menu">\n<p>${filler}</p>\n<ul>\n${labels.map(item).join('\n')}\n</ul>\n</nav>`;
    });
    const source = site(menus);
    const finding = findingOf('nav', source);
    expect(finding.props).toMatchObject([
      { name: 'current', type: 'choice', choices: ['home', 'boats', 'fares', 'news'] },
    ]);
    expect(finding.uses[1]).toBe('<menu-navbar current="boats"></menu-navbar>');
    expect(back(finding, source).exact).toBe(true);
  });

  test('what has two states and always changes together is one prop', () => {
    const ways = fc.subarray(['word', 'stem', 'spaces', 'flag', 'other flag', 'part', 'other part'], { minLength: 2 });
    const card = (name: string, left: boolean, has: string[]) => {
      const says = (way: string, yes: string, no: string) => (has.includes(way) ? (left ? yes : no) : '');
      const words = `card${says('word', ' wide', '')}${says('stem', ' at-left', ' at-right')}${says('spaces', ' ', ' big  bold')}`;
      return `<article class="${words}">
  <h2${says('flag', ' hidden', '')}${says('other flag', '', ' inert')}>${name}</h2>
${says('part', `  <em>${filler}</em>\n`, '')}${says('other part', '', `  <b>${filler}</b>\n`)}  <p class="${says('stem', 'me-2', 'ms-2')}">${filler}</p>
  <ul><li>${filler}</li><li>${filler}</li><li>${filler}</li></ul>
</article>`;
    };
    fc.assert(
      fc.property(ways, fc.array(fc.boolean(), { maxLength: 4 }), (has, more) => {
        const sides = [true, false, true, false, ...more];
        const source = site(sides.map((left, i) => card(`Boat ${i}`, left, has)));
        const finding = findingOf('article', source);
        expect(finding.props.map(({ type }) => (type === 'choice' ? 'flag' : type)).sort()).toEqual(['flag', 'text']);
        expect(back(finding, source).exact).toBe(true);
      }),
      { numRuns: cases(150) },
    );
  });
});
