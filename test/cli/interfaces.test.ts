/** The built program on small pages, one for each way in which real fragments differ. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { Folder, page, removeFolders, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

const filler = 'It hangs beside the clock at the office on the quay, where everyone can read it all week long.';

type Told = SurveyJson['findings'][number];

interface LiftJson {
  components: { name: string; uses: number }[];
  data: string[];
  pages: { path: string; same: string }[];
  leftOut: unknown[];
}

/** Surveys, lifts, proves it, and takes it back; gives what was told and written. Lifts the best one of five places unless told. */
function liftAll(pages: Record<string, string>, args: string[] | ((finding: Told) => boolean) = isOne) {
  const folder = new Folder(pages);
  const before = folder.files();
  const { findings, remarks } = folder.json(['survey', '--all']) as SurveyJson;
  const lifted = folder.json([
    'lift',
    ...(typeof args === 'function' ? [findings.find(args)!.name] : args),
  ]) as LiftJson;
  expect([lifted.leftOut, lifted.pages.map(({ same }) => same)]).toEqual([[], lifted.pages.map(() => 'bytes')]);
  expect(folder.run(['check']).status).toBe(0);
  const files = folder.files();
  folder.run(['expand', '--out', 'dist']);
  const expanded = folder.files('dist');
  for (const path of Object.keys(pages)) if (path.endsWith('.html')) expect(expanded[path]).toBe(before[path]);
  expect(folder.run(['undo']).status).toBe(0);
  // which way was taken stays decided
  const left = Object.entries(folder.files()).filter(([path]) => !/^dist\/|^estrade\.draft\.json$/.test(path));
  expect(Object.fromEntries(left)).toEqual(before);
  return { folder, findings, remarks, lifted, files };
}

const isOne = ({ occurrences }: Told) => occurrences.length === 5;

const shape = ({ props, slots }: Told) => [
  ...props.map(({ name, type, optional }) => `${name}:${type}${optional ? '?' : ''}`),
  ...(slots as { name: string }[]).map(({ name }) => `<${name}>`),
];

/** Pages with one block each and something of its own around it. */
function around(blocks: string[]): Record<string, string> {
  const tags = ['main', 'section', 'div', 'article'];
  const own = (block: string, i: number) =>
    `<${tags[i % 4]!} id="part-${i}">\n  <p>Only here: ${i}</p>\n${block}\n</${tags[i % 4]!}>`;
  return Object.fromEntries(blocks.map((block, i) => [`page-${i}.html`, page(own(block, i))]));
}

const names = ['Tern', 'Eider', 'Puffin', 'Gull', 'Skua'];
const insides = [
  '    <table>\n      <tr><td>09:10</td><td>Mewport</td></tr>\n    </table>',
  '    <p>Bring a coat.</p>\n    <pre>wind NW 4</pre>',
  '    <form action="#"><input name="q"></form>',
  '    <ul>\n      <li>one</li>\n    </ul>\n    <p>and <em>more</em> of it</p>',
  '    <blockquote>Mind the gull.</blockquote>',
];
const panel = (name: string, inside: string) =>
  `  <section class="panel panel--wide" data-area="quay">\n    <h2 class="panel__heading">${name}</h2>\n    <div class="panel__body panel__body--padded">\n${inside}\n    </div>\n  </section>`;
const stops = (count: number) =>
  Array.from(
    { length: count },
    (_, i) => `      <li class="stop"><a class="stop__link" href="${i}.html">Quay ${i}</a></li>`,
  ).join('\n');
const line = (name: string, count: number) =>
  `  <section class="line">\n    <h2 class="line__name">${name}</h2>\n    <p class="line__note">${filler}</p>\n    <ul class="line__stops">\n${stops(count)}\n    </ul>\n  </section>`;
const menu = (current: number) =>
  `  <nav class="menu" aria-label="Main">\n${['Home', 'Boats', 'Fares', 'News']
    .map((label, i) => {
      const mark = i === current ? ' aria-current="page"' : '';
      return `    <a class="menu__link${i === current ? ' menu__link--here' : ''}" href="https://ferry.example/${i}"${mark}>${label}</a>`;
    })
    .join('\n')}\n  </nav>`;

describe('one component, with', () => {
  test.each<[string, string[], string[], RegExp, pointing?: string[]]>([
    [
      'a run of siblings, whatever stands around it',
      names.map(
        (name, i) =>
          `  <h3 class="facts__heading facts__heading--plain" data-kind="heading"><b class="facts__mark">${filler}</b> ${name}</h3>\n  <ul class="facts" data-kind="plain">\n${Array.from({ length: i + 1 }, (_, k) => `    <li class="facts__item">${name} ${k}</li>`).join('\n')}\n  </ul>`,
      ),
      ['heading:text', 'items:list'],
      /<\/b> \{\{heading\}\}<\/h3>\n {2}<ul/,
      ['--lines', 'page-0.html:7-10', '--alike'],
    ],
    [
      'a label and its control',
      names.map(
        (name) =>
          `  <label class="field__label" for="${name}">Name of the ${name}, as it is painted on the bow</label>\n  <input class="field__input" type="text" autocomplete="off" id="${name}" name="${name}">`,
      ),
      ['field-id:text'],
      /for="\{\{fieldId\}\}">Name of the \{\{fieldId\}\}, as/,
    ],
    [
      'a list of records where a child repeats',
      names.map((name, i) => line(name, i + 1)),
      ['heading:text', 'stops:list'],
      /\n {6}<template each="stop" of="stops"><li class="stop"><a class="stop__link" href="\{\{stop\.href\}\}">\{\{stop\.(label|stop)\}\}<\/a><\/li><\/template>\n/,
      ['--select', '.line'],
    ],
    [
      'a slot where nothing aligns',
      names.map((name, i) => panel(name, insides[i]!)),
      ['heading:text', '<>'],
      /<div class="panel__body panel__body--padded">\s*<slot><\/slot>\s*<\/div>/,
    ],
    [
      'named slots where there are several such places',
      names.map(
        (_, i) =>
          `  <section class="pair" data-area="quay" data-kind="pair">\n    <div class="pair__head">\n${insides[i]!}\n    </div>\n    <p class="pair__between">${filler}</p>\n    <div class="pair__foot">\n${insides[(i + 2) % 5]!}\n    </div>\n  </section>`,
      ),
      ['<head>', '<foot>'],
      /<slot name="head"><\/slot>[^]*<slot name="foot"><\/slot>/,
    ],
    [
      'a slot for text in which any has markup',
      names.map(
        (name, i) =>
          `  <div class="note note--quay" data-kind="note">\n    <b class="note__by">${name}</b>\n    <p class="note__text">${i === 2 ? 'Ask <a href="q.html">the quay</a> first.' : `${name} is late.`}</p>\n    <p class="note__end">${filler}</p>\n  </div>`,
      ),
      ['by:text', '<>'],
      /<p class="note__text"><slot><\/slot><\/p>/,
    ],
    [
      'a slot for a control, not a mirror of its attributes',
      names.map(
        (name, i) =>
          `  <div class="field field--row" data-kind="field">\n    <label class="field__label">${name}</label>\n    <input name="${name}" type="${['text', 'date', 'tel', 'email', 'url'][i]!}" placeholder="${i}" maxlength="${i + 1}" value="${i * 2}">\n    <p class="field__end">${filler}</p>\n  </div>`,
      ),
      ['label:text', '<>'],
      /<slot><\/slot>/,
    ],
    [
      'one prop for the marker that one of several carries',
      [0, 1, 2, 3, 1].map(menu),
      ['here:choice'],
      /menu__link\{\{here === 'boats' \? ' menu__link--here' : ''\}\}"[^>]*aria-current="\{\{here === 'boats' \? 'page' : null\}\}">Boats/,
    ],
    [
      'a choice and a flag among its class words',
      names.map(
        (name, i) =>
          `  <div class="tide tide--${['low', 'high'][i % 2]!}${i === 3 ? ' tide--spring' : ''}">\n    <b class="tide__at">${name}</b>\n    <p class="tide__end">${filler}</p>\n  </div>`,
      ),
      ['state:choice', 'spring:flag', 'at:text'],
      /class="tide tide--\{\{state\}\}\{\{spring \? ' tide--spring' : ''\}\}"/,
    ],
  ])('%s', (...[, blocks, expected, template, pointing]) => {
    const fits = (each: Told) => isOne(each) && shape(each).join() === expected.join();
    const { findings, files, folder } = liftAll(around(blocks), pointing ?? fits);
    const finding = pointing === undefined ? findings.find(fits)! : (folder.json(['show', ...pointing]) as Told);
    expect([finding.occurrences.length, ...shape(finding)]).toEqual([5, ...expected]);
    expect(files[`components/${finding.name}.html`]).toMatch(template);
  });

  test('the head’s own block, on every page', () => {
    const pages = ['Mewport', 'Hallow', 'Sandrey', 'Varnhaven', 'Orlay'];
    const head = (description: string) =>
      `<!DOCTYPE html>\n<html lang="en">\n<head>\n  <title>${description}</title>\n  <meta name="description" content="${description} and back again, every day but Sunday">\n  <link rel="icon" href="https://ferry.example/mark.svg" type="image/svg+xml">\n  <link rel="stylesheet" href="https://ferry.example/site.css">\n</head>\n<body>\n<p>${description}</p>\n</body>\n</html>\n`;
    const { findings, files } = liftAll(Object.fromEntries(pages.map((to, i) => [`${i}.html`, head(`To ${to}`)])));
    expect(findings[0]).toMatchObject({ name: 'page-head', kind: 'shared' });
    expect(files['0.html']).toContain('<template use="page-head" page-title="To Mewport"></template>');
    expect(files['components/page-head.html']).toContain('content="{{pageTitle}} and back again');
  });

  test('terms and their descriptions in lists of any length', () => {
    const entry = (name: string) =>
      `  <dt class="facts__term" data-kind="term">The ${name}</dt>\n  <dd class="facts__detail"><b class="facts__mark">Noted:</b> ${name}, ${filler}</dd>`;
    const list = (some: string[]) => `<dl>\n${some.map(entry).join('\n')}\n</dl>`;
    const { files } = liftAll(
      {
        'a.html': page(list(names)),
        'b.html': page(`<section>\n${list(['Rope', 'Bell'])}\n</section>`),
      },
      ({ occurrences }) => occurrences.length === 7,
    );
    expect(files['b.html']).toMatch(/<template use="facts-entry" term="The Rope"/);
  });
});

describe('components in components', () => {
  const badge = (word: string) =>
    `<span class="badge badge--round" data-kind="badge"><b class="badge__mark">*</b> <i class="badge__word">${word}</i> <u>${filler}</u></span>`;
  const card = (name: string, word: string) =>
    `  <article class="boat boat--card">\n    <h3 class="boat__name">${name}</h3>\n    ${badge(word)}\n    <p class="boat__text">${filler}</p>\n  </article>`;

  test('what stands elsewhere too is used in the template, with what varies passed on', () => {
    const free = names.map((name) => `<p>${name}: ${badge(`of ${name}`)}</p>`).join('\n');
    const { lifted, files, findings } = liftAll(
      {
        'a.html': page(names.map((name) => card(name, name.toUpperCase())).join('\n')),
        'b.html': page(free),
      },
      ['--recommended'],
    );
    expect(lifted.components).toMatchObject([
      { name: 'boat-card', uses: 5 },
      { name: 'round-badge', uses: 5 },
    ]);
    expect(files['components/boat-card.html']).toContain('<round-badge word="{{word}}"></round-badge>');
    expect(findings.find(({ name }) => name === 'round-badge')!.occurrences).toHaveLength(10);
  });
});

describe('other ways to cut', () => {
  const pages = {
    'index.html': page(
      `<div class="boats">\n${names.map((name) => `  <article class="boat" data-kind="boat">\n    <h3 class="boat__name">${name}</h3>\n    <p class="boat__text">${name} sails. ${filler}</p>\n    <p class="boat__end">${filler}</p>\n  </article>`).join('\n')}\n</div>`,
    ),
  };

  test('are listed by show, and each can be lifted', () => {
    const folder = new Folder(pages);
    const { cuts } = folder.json(['show', 'boat-card']) as {
      cuts: { what: string; uses: number; slots: number; linesAfter: number }[];
    };
    expect(cuts.map(({ what, uses, slots }) => [what, uses, slots])).toEqual([
      ['the whole, its values as props', 5, 0],
      ['the frame, what varies poured in', 5, 2],
      ['one component that takes a list', 1, 0],
    ]);
    for (const number of cuts.keys()) liftAll(pages, ['boat-card', '--cut', String(number + 1)]);
    const { files } = liftAll(pages, ['boat-card', '--cut', '3']);
    expect(files['index.html']).toContain('<script type="application/json" slot="boats">[\n');
    expect(folder.run(['show', 'boat-card']).out).toMatch(/3 {2}one component that takes a list/);
    expect(folder.run(['lift', 'boat-card', '--cut', '9'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('give a number from 1 to 3'),
    });
  });

  test('of a series without anything between its items, each is a component, and a list of them is a way to cut it', () => {
    const quays = Array.from({ length: 40 }, (_, i) => `Quay ${i}`);
    const items = quays.map((quay) => `    <p class="quay" data-kind="quay"><b>${filler}</b> <i>${quay}</i></p>`);
    const pages = { 'a.html': page(`  <div class="quays">\n${items.join('\n')}\n  </div>`) };
    const folder = new Folder(pages);
    const [item] = (folder.json(['survey']) as SurveyJson).findings;
    expect(item!.occurrences).toHaveLength(40);
    const { cuts } = folder.json(['show', item!.name]) as { cuts: { what: string; uses: number }[] };
    const list = cuts.findIndex(({ what }) => what === 'one component that takes a list') + 1;
    expect(cuts[list - 1]).toMatchObject({ uses: 1 });
    const { files, lifted } = liftAll(pages, [item!.name, '--cut', String(list)]);
    const { name } = lifted.components[0]!;
    expect(files[`components/${name}.html`]).toMatch(/<template each="\w+" of="\w+">\s*<p class="quay"/);
  });

  test('a list that is too long for a page goes into a data file, and comes back from it', () => {
    const { files, lifted } = liftAll({ ...pages, 'estrade.config.json': '{ "inlineList": 100 }' }, [
      'boat-card',
      '--cut',
      '3',
    ]);
    expect(lifted.data).toEqual(['data/index-boats.json']);
    expect(JSON.parse(files['data/index-boats.json']!)).toHaveLength(5);
    expect(files['index.html']).toContain(
      '<script type="application/json" slot="boats" src="data/index-boats.json"></script>',
    );
  });
});

test('what is not worth a file is told only when all is asked for, with the reason', () => {
  const folder = new Folder({ 'a.html': page('<p class="note"><b>a</b></p>\n<p class="note"><b>b</b></p>') });
  expect((folder.json(['survey']) as SurveyJson).findings).toEqual([]);
  expect(folder.run(['survey', '--all']).out).toMatch(/-\d+ B +worth too little/);
});

test('clearly different cards of one class are two findings', () => {
  const one = (name: string) =>
    `  <div class="card">\n    <h3>${name}</h3>\n    <p>${filler}</p>\n    <p>${filler}</p>\n  </div>`;
  const other = (name: string) =>
    `  <div class="card">\n    <table><tr><td>${name}</td><td>${filler}</td></tr></table>\n    <form action="#"><input name="q"><button>Ask at the harbour office</button></form>\n  </div>`;
  const { findings } = liftAll({ 'a.html': page(names.map((name) => `${one(name)}\n${other(name)}`).join('\n')) }, [
    '--recommended',
  ]);
  expect(findings.filter(({ recommended }) => recommended).map(({ occurrences }) => occurrences.length)).toEqual([
    5, 5,
  ]);
});

test('a value that repeats another in lower case is told, not derived', () => {
  const blocks = names.map(
    (name) =>
      `  <div class="row row--boat" data-boat="${name.toLowerCase()}">\n    <b class="row__name">${name}</b>\n    <p class="row__end">${filler}</p>\n  </div>`,
  );
  const { out } = new Folder(around(blocks)).run(['show', 'boat-block']);
  expect(out).toContain('boat is name in lower case; it stays a prop of its own');
});

test('slips are told with their place and what the others say', () => {
  const row = (name: string, text: string, more = true) =>
    `  <div class="row row--boat">\n    <b class="row__name">${name}</b>\n    <i class="row__text">${text}</i>\n${more ? `    <u class="row__more">${filler}</u>\n` : ''}    <p class="row__end">${filler}</p>\n  </div>`;
  const rows = [
    row('Tern', 'When Tern sails'),
    row('Eider', 'When Eider sails'),
    row('Gull', 'When Tern sails'),
    row('Skua', 'When Skua sails', false),
  ];
  const labels = '<label for="nobody">Name</label>\n<p id="twice"></p>\n<p id="twice"></p>';
  const { remarks } = liftAll({ 'a.html': page(`${rows.join('\n')}\n${labels}`) }, ['--recommended']);
  const slips = remarks.filter(({ kind }) => kind === 'slip').map(({ message, places }) => [message, places]);
  expect(slips).toEqual([
    ['the id "twice" stands 2 times on this page', [{ path: 'a.html', line: 30, column: 1 }]],
    ['this label is for "nobody", and nothing here has that id', [{ path: 'a.html', line: 28, column: 1 }]],
    [
      expect.stringMatching(
        /^text of .* is "When Tern sails", as at a\.html:7:\d+, and has a value of its own in all others$/,
      ),
      [{ path: 'a.html', line: 19, column: 26 }],
    ],
    [
      expect.stringMatching(/this one has no <u class="row__more">, and the 3 others have$/),
      [{ path: 'a.html', line: 23, column: 3 }],
    ],
  ]);
});
