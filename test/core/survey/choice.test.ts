/** What the survey recommends and what it passes over, and that neither hangs on the order of files. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { componentFile } from '../../../src/core/template/write.js';
import {
  DEFAULT_THRESHOLDS,
  type Finding,
  type Page,
  parsePage,
  planLift,
  readComponents,
  survey,
  templatesOf,
} from '../../../src/index.js';
import { classWords } from '../../../src/core/page/tree.js';
import { sites } from '../../arbitrary/pages.js';
import { cases } from '../../arbitrary/cases.js';

const options = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };
const page = (body: string) =>
  `<!DOCTYPE html>\n<html lang="en">\n<head><title>t</title></head>\n<body>\n${body}\n</body>\n</html>\n`;
const surveyed = (files: Record<string, string>) =>
  survey(
    Object.entries(files).map(([path, body]) => parsePage(path, page(body))),
    new Map(),
    options,
  );

/** What is found once these findings are lifted. */
const surveyedAgain = (pages: Page[], findings: Finding[]) => {
  const plan = planLift({ pages, components: [], findings, componentFolder: 'components' });
  const registry = readComponents(plan.components);
  const lifted = [...plan.pages.map(({ path, after }) => parsePage(path, after)), ...templatesOf(registry)];
  return survey(lifted, registry, options).findings.map(({ name, occurrences }) => `${name} ${occurrences.length}`);
};

test('what is nested deeper than anybody nests elements is no component, and what stands in it is found', () => {
  const card = (name: string) =>
    `<article class="card"><h3>${name}</h3><p class="card__text">It calls at every quay, wind and tide allowing.</p></article>`;
  const nested = (levels: number, name: string) =>
    `<section class="deep"><h2>${name}</h2>${'<div>'.repeat(levels)}${card(name)}${card(`Old ${name}`)}${'</div>'.repeat(levels)}</section>`;
  for (const levels of [20, 900]) {
    const body = nested(levels, 'Tern') + nested(levels, 'Gull');
    const { findings } = surveyed({ 'a.html': body, 'b.html': body });
    const places = findings.filter(({ name }) => name.includes('card'));
    expect(places.map(({ occurrences }) => occurrences.length)).toEqual([8]);
    expect(findings.some(({ occurrences: [first] }) => first!.element.tag === 'section')).toBe(levels === 20);
  }
});

describe('what is recommended', () => {
  const words = ['tide', 'quay', 'gull', 'rope', 'bell', 'lamp', 'pier', 'sail', 'salt', 'deck', 'stern', 'wind'];
  const prose = (i: number, tags: string[]) =>
    `<div>${tags.map((tag, at) => `<${tag}>${words[(i + at) % 12]!} and ${words[(i * 5 + at) % 12]!}</${tag}>`).join('')}</div>`;
  const shapes = [['p'], ['h4', 'p'], ['p', 'em', 'p'], ['blockquote', 'p'], ['span', 'p']];

  test('no prose: text that nothing names, and in which nothing is the same', () => {
    const body = (n: number) => shapes.map((tags, i) => prose(n + i, tags)).join('\n');
    const pages = Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`p${i}.html`, body(i)]));
    expect(surveyed(pages).findings.map(({ name }) => name)).toEqual([]);
    // the same with a constant line in it is a part
    const noted = Object.fromEntries(
      Object.entries(pages).map(([path, source]) => [
        path,
        source.replaceAll('</div>', '<p><b>Mind the gull</b> <i>and the step that moves with the tide</i></p></div>'),
      ]),
    );
    expect(surveyed(noted).findings.length).toBeGreaterThan(0);
  });

  test('what all pages share, each with something else in it, before what only some have', () => {
    const rules = ['', ' h1', ' span', ' .inner', ' .row', ' .col']
      .map((each) => `.masthead${each} { margin: 0 }`)
      .join(' ');
    const masthead = (word: string, title: string, more = '') =>
      `<style>${rules}</style><header class="masthead">\n<div class="inner">\n<div class="row">\n<div class="col">\n<div class="${word}-heading"><h1>${title}</h1><span>${title} today</span><hr>${more}</div>\n</div>\n</div>\n</div>\n</header>`;
    const pages = {
      'a.html': masthead('page', 'Boats'),
      'b.html': masthead('page', 'Fares'),
      'c.html': masthead('site', 'Ferries'),
      'd.html': masthead('post', 'A new quay', '<em>by us</em>'),
    };
    const found = (files: Record<string, string>) =>
      surveyed(files).findings.map(({ occurrences }) => [occurrences.length, occurrences[0]!.element.tag]);
    expect(found(pages)).toEqual([[4, 'header']]);
    // the same word for something else is another part
    expect(found({ ...pages, 'e.html': '<header class="masthead"><nav><ul><li>x</li></ul></nav></header>' })).toEqual([
      [2, 'header'],
    ]);
  });

  test('no frame that nothing names and of which only the root is the same', () => {
    const kinds = ['article', 'aside', 'figure'];
    const main = (n: number) =>
      `<main>\n${Array.from({ length: 9 }, (_, i) => {
        const kind = kinds[(n * 7 + i * (n + 1)) % 3]!;
        return `<${kind} class="${kind}"><h3>${words[(n + i) % 12]!}</h3><p>${words[(n * i) % 12]!}</p></${kind}>`;
      }).join('\n')}\n</main>`;
    const { findings } = surveyed(Object.fromEntries(words.map((_, i) => [`p${i}.html`, main(i)])));
    expect(findings.map(({ occurrences: [first] }) => first!.element.tag).sort()).toEqual([
      'article',
      'aside',
      'figure',
    ]);
  });

  test('no running text, whatever stands around it, and a menu of the same tags all the same', () => {
    const paragraphs = (n: number) =>
      [0, 1, 2].map((i) => `<p>${words[(n + i) % 12]!} and <a href="a.html">${words[i]!}</a></p>`);
    const items = (n: number) =>
      `<ul>\n${words.map((_, i) => `<li><a href="p${n + i}.html">${words[(n + i) % 12]!}</a></li>`).join('\n')}\n</ul>`;
    const article = (n: number) =>
      `<style>.menu { margin: 0 }\n.menu li { display: inline }</style><nav class="menu">${items(n)}</nav>\n<div class="text">\n${paragraphs(n).join('\n')}\n${items(n + 3)}\n<pre><code><b>${words[n]!}</b> <i>1</i></code></pre>\n</div>`;
    const pages = Object.fromEntries([0, 1, 2, 3].map((n) => [`p${n}.html`, article(n)]));
    const found = surveyed(pages).findings.flatMap(({ occurrences }) => occurrences.map(({ element }) => element));
    const parentOf = ({ parent }: (typeof found)[number]) => (parent?.kind === 'element' ? parent : null);
    expect(found.filter(({ tag }) => tag === 'p' || tag === 'b' || tag === 'pre')).toEqual([]);
    const lists = found.filter(({ tag }) => tag === 'li').map((element) => parentOf(parentOf(element)!)!.tag);
    expect(new Set(lists)).toEqual(new Set(['nav']));
  });

  test('the main element of a page is no part, and a part that a template cannot use is poured in', () => {
    const item = (i: number) =>
      `<div class="related__item"><a href="p${i}.html"><img src="${i}.jpg" alt=""><span>${words[i % 12]!}</span></a></div>`;
    const main = (n: number) =>
      `<main>\n<section class="related">\n${[0, 1, 2].map((i) => item(n * 3 + i)).join('\n')}\n</section>\n</main>`;
    const { findings } = surveyed(Object.fromEntries([0, 1, 2, 3].map((n) => [`p${n}.html`, main(n)])));
    expect(findings.map(({ name, occurrences: [first] }) => [name, first!.element.tag])).toEqual([
      ['related-section', 'section'],
      ['related-item', 'div'],
    ]);
    expect(findings[0]!.file).toContain('<slot></slot>');
  });

  test('the parts of pages by themselves also where a layout holds them, however it is called', () => {
    const rules = ['.shell', '.shell div', '.topbar', '.topbar p', '.crew', '.crew p'];
    const links = (verb: string) =>
      words.slice(0, 6).map((word) => `<p><a href="${word}.html">${verb} ${word}</a></p>`);
    const kinds = ['section h2', 'article h3', 'figure figcaption', 'blockquote p', 'ul li'].map((tags) =>
      tags.split(' '),
    );
    const contents = ([outer, inner]: string[]) =>
      words.map((word) => `<${outer!}><${inner!}>${word}</${inner!}></${outer!}>`).join('\n');
    const shell = (crew: string) =>
      `<style>${rules.map((each) => `${each} { color: navy }`).join(' ')}</style>
<div class="shell">
<div class="topbar">${links('To').join('\n')}</div>
<div class="crew">${crew}</div>
<div><b>Mind the tide</b>${links('Again to').join('\n')}</div>
</div>`;
    const found = (bodies: string[]) => {
      const { findings } = surveyed(Object.fromEntries(bodies.map((body, n) => [`p${n}.html`, shell(body)])));
      return findings.flatMap(({ occurrences: [first, ...others] }) =>
        ['shell', 'topbar', 'crew'].filter((word) => others.length === 4 && classWords(first!.element).includes(word)),
      );
    };
    // what holds the contents is no part of its own
    expect(found(kinds.map(contents)).sort()).toEqual(['shell', 'topbar']);
    // nor is any part of what has no contents
    expect(found(words.slice(0, 5))).toEqual(['shell']);
  });

  test('no part for whose sake a menu would have to be poured in on each page', () => {
    const labels = ['Home', 'Boats', 'Fares', 'News', 'Crew', 'Tides', 'Shop', 'Work'];
    const link = (label: string, here: boolean) =>
      here
        ? `<li class="item active"><a class="link" href="#">${label} <span class="unseen">(here)</span></a></li>`
        : `<li class="item"><a class="link" href="${label}.html">${label}</a></li>`;
    const menu = (here: string) =>
      `<header class="top"><nav class="menu">\n<ul>\n${labels.map((label) => link(label, label === here)).join('\n')}\n</ul>\n</nav></header>\n<p>${here} it is.</p>`;
    const { findings } = surveyed(Object.fromEntries(labels.map((label) => [`${label}.html`, menu(label)])));
    expect(findings).toHaveLength(1);
    expect([findings[0]!.slots, findings[0]!.props.map(({ name, type }) => `${name} ${type}`)]).toEqual([
      [],
      ['active choice'],
    ]);
    expect(findings[0]!.uses[1]).toMatch(/^<[\w-]+ active="\w+"><\/[\w-]+>$/);
  });

  test('content that differs in kind is poured in', () => {
    const kinds = [
      (i: number) => `<p>${words[i]!} and ${words[i + 1]!}</p>`,
      (i: number) => `<ul><li>${words[i]!}</li><li>${words[i + 2]!}</li></ul>`,
      (i: number) => `<img src="${words[i]!}.jpg" alt="">`,
    ];
    const panel = (i: number) =>
      `<section class="panel">\n<h2 class="panel__head">${words[i]!}</h2>\n<div class="panel__body">${kinds[i % 3]!(i)}</div>\n</section>`;
    const body = (from: number) => [0, 1, 2].map((i) => panel(from + i)).join('\n');
    const { findings } = surveyed({ 'a.html': body(0), 'b.html': body(3), 'c.html': body(6) });
    const panels = findings.find(({ occurrences }) => occurrences.length === 9)!;
    expect(panels.props.map(({ type }) => type)).toEqual(['text']);
    expect(panels.file).toContain('<div class="panel__body"><slot></slot></div>');
  });

  test('links that mean the same from every folder stay in the template, whatever stands in it', () => {
    const block = (title: string, links: string[], up: string) =>
      `<section class="block">\n<h2 class="block__title">${title}</h2>\n<ul>\n${links.map((to) => `<li><a href="${up}${to}.html">Go to ${to}</a></li>`).join('\n')}\n</ul>\n</section>`;
    const footer = (up: string) =>
      `<footer class="foot">\n<p class="foot__note">Sailings depend on wind and tide</p>\n${block('Travel', ['tide', 'quay', 'pier'], up)}\n${block('Company', ['boats', 'crew'], up)}\n</footer>`;
    const { findings } = surveyed({
      'a.html': footer(''),
      'b.html': footer(''),
      'isles/c.html': footer('../'),
      'isles/d.html': footer('../'),
    });
    const whole = findings.find(({ occurrences: [first] }) => first!.element.tag === 'footer')!;
    expect(whole.props).toEqual([]);
    expect(whole.file).toContain('<a href="../tide.html">Go to tide</a>');
    expect(whole.uses).toEqual(Array(4).fill(`<${whole.name}></${whole.name}>`));
    expect(componentFile(whole.name, whole.general!)).toContain(whole.name);
  });

  test('siblings that make a run are no parts besides, wherever they stand', () => {
    const run = (i: number) =>
      `<h3 class="berth__head"><span class="berth__mark">Berth</span> ${words[i]!}</h3>\n<p class="berth__text">${words[i + 1]!} <b class="berth__more">always at the quay</b></p>`;
    const body = (i: number) =>
      `<div>\n<em>${words[i]!}</em>\n${run(i)}\n</div>\n<hr>\n${run(i + 2)}\n<blockquote>${words[i]!}</blockquote>`;
    const { findings } = surveyed({ 'a.html': body(0), 'b.html': body(3), 'c.html': body(6) });
    // those within other elements are met before those after them
    expect(findings.map(({ kind, occurrences }) => [kind, occurrences.length])).toEqual([['repeat', 6]]);
    expect(findings[0]!.occurrences.map(({ element }) => element.children.length)).toEqual(Array(6).fill(3));
  });

  test('a bare table is text, and one by its headings', () => {
    const table = (i: number, head: string) =>
      `<table>${head}<tr><td>${words[i % 12]!}</td><td>${i % 7}</td></tr><tr><td>quay</td><td>${i}</td></tr></table>`;
    const tables = (head: string) =>
      Object.fromEntries(
        [0, 1, 2, 3].map((n) => [`p${n}.html`, [0, 1].map((i) => table(n * 3 + i, head)).join('<hr>')]),
      );
    const whole = (head: string) =>
      surveyed(tables(head)).findings.filter(({ occurrences: [first] }) => first!.element.tag === 'table');
    expect(whole('').map(({ name }) => name)).toEqual([]);
    expect(whole('<tr><th>Boat</th><th>Berth</th></tr>')).toHaveLength(1);
  });

  test('what is the same in all its places is one, also where some stand apart', () => {
    const note = (i: number) =>
      `<div>\n<p><span>Calls at</span> <b>${words[i % 12]!}</b></p>\n<p>${words[(i * 5) % 12]!}</p>\n<button type="button">Hail</button>\n</div>`;
    const beside = (n: number) => `${note(n)}\n<hr>\n${note(n + 1)}`;
    const alone = (n: number) =>
      `<section class="s${n}"><${n % 2 ? 'em' : 'i'}>x</${n % 2 ? 'em' : 'i'}>\n${note(n)}</section>`;
    const pages = [0, 4, 8].map((n, i): [string, string] => [
      `p${i}.html`,
      `${beside(n)}\n${alone(n)}\n${alone(n + 3)}\n${alone(n + 6)}`,
    ]);
    const { findings } = surveyed(Object.fromEntries(pages));
    const divs = findings.filter(({ occurrences: [first] }) => first!.element.tag === 'div');
    expect(divs.map(({ occurrences }) => occurrences.length)).toEqual([15]);
  });

  test('places that nothing names and that are of two kinds by their template are two', () => {
    const line = (i: number) => `<p><span>Calls at</span> <b>${words[i % 12]!}</b></p>`;
    const kinds = [
      (i: number) =>
        `<div>\n<h3>${words[i % 12]!}</h3>\n<a href="${i}.html">${words[(i * 5) % 12]!}</a>\n${line(i)}\n<p>The mail goes with her</p>\n<hr>\n</div>`,
      (i: number) =>
        `<div>\n<label>Berth</label>\n<a href="${i}.html">${words[(i * 7) % 12]!}</a>\n${line(i)}\n<button type="button">Hail</button>\n<hr>\n</div>`,
    ];
    const body = (n: number) => [0, 1, 2, 3].map((i) => kinds[i % 2]!(n * 4 + i)).join('\n');
    const pages = [0, 1, 2].map((n) => parsePage(`p${n}.html`, page(body(n))));
    const found = (minOccurrences: number) =>
      survey(pages, new Map(), { ...options, thresholds: { ...DEFAULT_THRESHOLDS, minOccurrences } }).findings;
    expect(found(2).map(({ occurrences }) => occurrences.length)).toEqual([6, 6]);
    for (const { file } of found(2)) expect(file).not.toMatch(/when=|unless=/);
    expect(found(7)).toEqual([]);
  });

  test.each([
    ['that a word tells apart', 'ul', ['aside list', 'list'], '.aside, .aside b, .aside i { margin: 0 }'],
    ['one of which pages have once', 'nav', ['list', 'list wide'], '.wide { margin: 0 }'],
  ])('a frame that holds two usual contents is two, %s', (_, tag, [first, second], css) => {
    const links = (from: number) =>
      [0, 1, 2, 3, 4, 5]
        .map(
          (i) =>
            `<b>${words[from + i]!} at the quay, wind and tide allowing</b><i>${words[from + i]!} with the mail of the isles</i>`,
        )
        .join('\n');
    const list = (list: string, from: number) =>
      `<${tag} class="${list}">\n<p>Calls at</p>\n<div>${links(from)}</div>\n</${tag}>`;
    const body = (i: number) =>
      `<style>.list { margin: 0 } .list p { margin: 0 } .list div { margin: 0 } ${css}</style>\n${list(first!, 0)}\n<p>${words[i]!}</p>\n${list(second!, 6)}`;
    const { findings } = surveyed(Object.fromEntries([0, 1, 2, 3].map((i) => [`p${i}.html`, body(i)])));
    const found = findings.filter(({ occurrences: [first] }) => first!.element.tag === tag);
    expect(found.map(({ occurrences, slots }) => [occurrences.length, slots.length])).toEqual([
      [4, 0],
      [4, 0],
    ]);
  });

  test('what pages load counts where all of them load the same, and more by the code in it', () => {
    const script = `<script>\n${words.map((word) => `call('${word}');`).join('\n')}\n</script>`;
    const head = '<meta charset="utf-8">\n<link rel="icon" href="quay.ico">\n<link rel="stylesheet" href="quay.css">';
    const source = (i: number) =>
      `<!DOCTYPE html>\n<html>\n<head>\n${head}\n</head>\n<body>\n<p>${words[i]!}</p>\n<script src="a.js"></script>\n<script src="b.js"></script>\n${i < 4 ? `${script}\n` : ''}</body>\n</html>\n`;
    const pages = [0, 1, 2, 3, 4].map((i) => parsePage(`p${i}.html`, source(i)));
    const { findings } = survey(pages, new Map(), options);
    expect(findings.map(({ file, occurrences }) => [occurrences.length, file.includes('call(')])).toEqual([
      [4, true],
      [5, false],
    ]);
  });

  test('what a better one leaves of another, however little it is, so that no second survey finds it', () => {
    const metas = words.slice(0, 8).map((name) => `<meta name="${name}" content="north">`);
    const links = ['rope', 'gull', 'sail', 'salt'].map((name) => `<link rel="stylesheet" href="${name}.css">`);
    const source = (i: number) =>
      `<!DOCTYPE html>\n<html><head>${metas.join('')}<title>${words[i]!}</title>${i < 10 ? links.join('') : '<base target="_top">'}</head><body>${words[i]!}</body></html>`;
    const pages = words.map((_, i) => parsePage(`p${i}.html`, source(i)));
    const { findings } = survey(pages, new Map(), options);
    expect(findings.map(({ occurrences }) => occurrences.length)).toEqual([10, 2]);
    expect(surveyedAgain(pages, findings)).toEqual([]);
  });

  test.each([
    ['short items, that take more to write as records', '', 0],
    ['long items', ' data-tide="any" title="It calls here every day, wind and tide allowing"', 1],
  ])('a list of %s', (_, attrs, found) => {
    const quays = [3, 5, 4, 6, 3].map((count, at) => {
      const boats = words.slice(at, at + count).map((word) => `<button type="button"${attrs}>${word}</button>`);
      return `<p class="quay">\n${boats.join('\n')}\n</p>`;
    });
    const { findings } = surveyed({ 'p.html': quays.join('\n<hr>\n') });
    expect(findings.filter(({ props }) => props.some(({ type }) => type === 'list')).length).toBe(found);
  });

  test('a second survey passes over what the first one passed over', () => {
    const card = (i: number) =>
      `<article class="boat">\n<h3 class="boat__name">${words[i]!}</h3>\n<p class="boat__text"><b>Calls at</b> <i>every quay</i> ${words[i + 1]!}</p>\n</article>`;
    const pages = [0, 4, 8].map((n, i) =>
      parsePage(`p${i}.html`, page([0, 1, 2].map((at) => card(n + at)).join('\n'))),
    );
    const { findings } = survey(pages, new Map(), options);
    expect(findings.length).toBeGreaterThan(0);
    expect(surveyedAgain(pages, findings)).toEqual([]);
  });
});

test('the order of the files changes no place, no name and no byte of a component', () => {
  fc.assert(
    fc.property(sites, fc.nat(), (sources, turn) => {
      const pages = sources.map((source, i) => parsePage(`p${i}.html`, source));
      const from = turn % pages.length;
      const told = (order: typeof pages) =>
        survey(order, new Map(), options)
          .findings.map(({ name, file, occurrences }) => ({
            name,
            file,
            places: occurrences.map(({ page: { path }, element }) => `${path} ${element.start}`).sort(),
          }))
          .sort((a, b) => (a.name < b.name ? -1 : 1));
      expect(told([...pages.slice(from), ...pages.slice(0, from)])).toEqual(told(pages));
    }),
    { numRuns: cases(100) },
  );
});

test('whatever is found has a name of its own, that says no word twice and is the same each time it is asked for', () => {
  let named = 0;
  fc.assert(
    fc.property(sites, (sources) => {
      const pages = sources.map((source, i) => parsePage(`p${i}.html`, source));
      const { findings, others, regions } = survey(pages, new Map(), options);
      const names = [...findings, ...others(), ...regions()].map(({ name }) => name);
      expect(new Set(names).size).toBe(names.length);
      for (const words of names.map((name) => name.split('-'))) expect(new Set(words).size).toBe(words.length);
      expect([...findings, ...others(), ...regions()].map(({ name }) => name)).toEqual(names);
      named += names.length;
    }),
    { numRuns: cases(60) },
  );
  expect(named).toBeGreaterThan(cases(60));
});
