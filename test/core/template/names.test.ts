/** What components and their props are called: by what their authors wrote about them. */
import { describe, expect, test } from '@jest/globals';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import { componentOf } from '../component-of.js';
import { occurrenceOf, runFrom } from '../../../src/core/fragments/occurrence.js';
import { elementsOf } from '../../../src/core/page/tree.js';
import { nameComponent } from '../../../src/core/survey/component-names.js';
import { siteOf } from '../../../src/core/survey/survey.js';
import { type Finding, type Page, parsePage, survey } from '../../../src/index.js';

const thresholds = { ...DEFAULT_THRESHOLDS, minWorth: -100_000 };
const options = { thresholds, componentFolder: 'components' };
const filler = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';

function findings(pages: Record<string, string[]>): Finding[] {
  const parsed = Object.entries(pages).map(([path, blocks]) =>
    parsePage(path, `<!DOCTYPE html>\n<html>\n<body>\n${blocks.join('\n')}\n</body>\n</html>\n`),
  );
  return survey(parsed, new Map(), options).findings;
}

function first(blocks: string[], path = 'quay.html'): Finding {
  return componentOf('body > *', [
    parsePage(path, `<!DOCTYPE html>\n<html>\n<body>\n${blocks.join('\n')}\n</body>\n</html>\n`),
  ]);
}

const block = (before: string, heading = '') => `${before}<div>\n${heading}<b>${filler}</b><i>${filler}</i>\n</div>`;

describe('a component is called', () => {
  test.each<[string, string[], string]>([
    ['by the comment before it', [block('<!-- Tide table -->\n'), block('<!-- Tide table -->\n')], 'tide-table'],
    ['with its role after one word', [block('<!-- Tides -->\n'), block('<!--Tides-->\n')], 'tides-block'],
    ['not by what ends before it', [block('<!-- End of tides -->\n'), block('<!-- End of tides -->\n')], 'quay-block'],
    ['not by comments that differ', [block('<!-- Tides -->\n'), block('<!-- Winds -->\n')], 'quay-block'],
    ['not by a sentence', [block('<!-- ask Ada before you -->'), block('<!-- ask Ada before you -->')], 'quay-block'],
    ['not by old markup', [block('<!-- <b>x</b> -->'), block('<!-- <b>x</b> -->')], 'quay-block'],
    ['by its heading', [block('', '<h2>Tide table</h2>'), block('', '<h2>Tide table</h2>')], 'tide-table'],
    ['not by headings that differ', [block('', '<h2>Tides</h2>'), block('', '<h2>Winds</h2>')], 'quay-block'],
  ])('%s', (_, blocks, name) => {
    expect(first(blocks).name).toBe(name);
  });

  test('by the page that it is on, where that is one', () => {
    expect(first([block(''), block('')], 'boats/tern.html').name).toBe('tern-block');
    expect(first([block(''), block('')], 'boats/index.html').name).toBe('page-block');
  });

  test.each<[string, string, string]>([
    [
      'by the picture that is seen first',
      `<a href="x"><img src="x" alt=""></a><h3>x</h3><p>${filler}</p>`,
      'picture-block',
    ],
    ['by its icon', `<div><i class="buoy-green"></i></div><p>${filler}</p>`, 'icon-block'],
  ])('%s, where nobody calls it anything', (_, content, name) => {
    const blocks = ['Tern', 'Eider'].map((boat) => `<div>${content.replaceAll('x', boat)}</div>`);
    expect(first(blocks, 'index.html').name).toBe(name);
  });

  test('a column or a row by what it is in the grid, where it has no name of its own', () => {
    const style = '<style>.w-50 { float: left; width: 50% } .boat { color: navy } .boat b { color: red }</style>';
    const column = (boat: string) => `<div class="w-50"><div class="boat"><b>${boat}</b><p>${filler}</p></div></div>`;
    const row = (...boats: string[]) => `<div>${boats.map(column).join('')}</div>`;
    const page = parsePage(
      'quay.html',
      `<!DOCTYPE html><body>${style}${row('Tern', 'Eider')}${row('Gull', 'Skua')}</body>`,
    );
    const named = (selector: string) => componentOf(selector, [page]).name;
    expect(named('.w-50')).toBe('boat-column');
    expect(named('body > div')).toBe('boat-row');
  });
});

describe('what stands once on each of several pages is called', () => {
  const link = `<a href="#">${filler}</a>`;
  test.each<[string, string, string]>([
    ['a part of the page', `<nav><ul><li>${link}</li></ul></nav>`, 'page-navbar'],
    ['so, whatever it holds', `<footer><button>${filler}</button>${link}</footer>`, 'page-footer'],
    ['so, beside how wide it is', `<header class="header header-lg">${link}${link}</header>`, 'page-header'],
    ['by its own words', `<header class="masthead">${link}${link}</header>`, 'masthead-header'],
    ['once what it is', `<!-- Navigation --><nav>${link}${link}</nav>`, 'page-navbar'],
    ['once what it is, after its id', `<!-- Navigation --><nav id="mainNav">${link}</nav>`, 'main-navbar'],
    [
      'by what it holds in a part of one',
      `<section><footer><p>${filler}</p><form>${filler}</form></footer></section>`,
      'form-footer',
    ],
  ])('%s', (_, markup, name) => {
    const { name: found } = componentOf('header, nav, footer', [
      parsePage('quay.html', `<!DOCTYPE html><body>${markup}</body>`),
      parsePage('boats.html', `<!DOCTYPE html><body>${markup}</body>`),
    ]);
    expect(found).toBe(name);
  });
});

describe('among others of its block a component is called', () => {
  const styled = ['.card', '.card b', '.card-body', '.card-body b', '.card-tide', '.card-tide b', '.buoy-icons'];
  const style = `<style>${styled.map((each) => `${each} { color: navy; border: 1px solid }`).join('\n')}</style>`;
  const card = (content: string) =>
    `<div class="card">\n<div class="card-body">${content}<p>${filler}</p></div>\n</div>`;
  const others = ['<ol><li>1</li></ol>', '<ol><li>2</li></ol>', '<s>3</s>'].map(card);
  test.each<[string, string, string, string]>([
    ['by a part that the others lack', 'quay.html', '<div class="card-tide"><b>High</b></div>', 'tide-card'],
    ['an icon, whatever its font is called', 'quay.html', '<u><i class="buoy-icons"></i></u>', 'icon-card'],
    ['by its page, that says no word twice', 'boat-cards.html', '', 'boat-card'],
  ])('%s', (_, path, content, name) => {
    const body = [card(content), card(content), ...others].join('\n');
    const pages = [parsePage(path, `<!DOCTYPE html><html><body>${style}\n${body}</body></html>`)];
    const cards = elementsOf(pages[0]!.root).filter(({ attrs: [first] }) => first?.value === 'card');
    const occurrences = cards.slice(0, 2).map((each) => occurrenceOf(pages[0]!, each, null));
    expect(nameComponent(occurrences, new Set(), siteOf(pages, { stylesheets: [style] }).vocabulary)).toBe(name);
  });
});

describe('where better names are taken a component is called', () => {
  /** All names for a run of siblings at the start of the heads or bodies of these pages, the best one first. */
  function namesOf(tag: string, span: number, pages: Page[]): string[] {
    const { vocabulary } = siteOf(pages, {});
    const occurrences = pages.map((page) => {
      const parent = elementsOf(page.root).find((each) => each.tag === tag)!;
      const first = parent.children.find((child) => child.kind === 'element')!;
      return occurrenceOf(page, span === 1 ? first : runFrom(first, span), null);
    });
    const names: string[] = [];
    for (;;) {
      const name = nameComponent(occurrences, new Set(names), vocabulary);
      if (name === undefined) return names;
      names.push(name);
    }
  }

  const head = '<head><meta charset="utf-8"><link href="../css/sound.min.css"></head>';
  test.each<[string, string, number, string[], string[]]>([
    ['by the files that it loads', 'head', 2, ['quay.html', 'boats.html'], ['page-head', 'sound-head']],
    ['by the words that all start with', 'body', 1, ['a.html', 'b.html'], ['boat-list-block']],
    ['by the folder that it stands in', 'body', 1, ['harbour/boats/a.html', 'harbour/crews/b.html'], ['harbour-block']],
    [
      'by the nearest one first',
      'body',
      1,
      ['harbour/boats/a.html', 'harbour/boats/b.html'],
      ['boat-block', 'harbour-block'],
    ],
  ])('%s', (_, tag, span, paths, expected) => {
    const pages = paths.map((path) =>
      parsePage(path, `<!DOCTYPE html><html>${head}<body><div><b>Boat list ${path}</b>${filler}</div></body></html>`),
    );
    const names = namesOf(tag, span, pages);
    expect(names.filter((name) => expected.includes(name))).toEqual(expected);
    expect(names.at(-1)).toBe(expected.at(-1));
  });
});

describe('a prop that decides how something looks is called', () => {
  const sheet = `
    .mb-1 { margin-bottom: .25rem !important } .mb-4 { --gap: 1rem; margin-bottom: 1.5rem !important }
    .mx-2 { margin-left: .5rem; margin-right: .5rem } .text-storm { color: #a00 } .text-calm { color: #0a0 }
    .bg-storm { background-color: #a00 } .bg-calm { background: #0a0 }
    .cell-6 { flex: 0 0 50%; max-width: 50%; padding-left: 1rem } .cell-4 { flex: 0 0 33%; max-width: 33% }
    .mark-tern::before { content: '\\e1' } .mark-gull::before { content: '\\e2' }
    .wave.is-high { background: #00a } .wave.is-low { background: #0aa } .note-top { border-top-color: #a00 }
    .note-end { border-top-color: #0a0 } .float-end { float: right; margin: 0 } .pier-lg { font-size: 2em; padding: 1em }
    .mb-lg { margin-bottom: 9em } .mb-sm { margin-bottom: 1em }
    .note-storm { color: #fff; background: #a00 } .note-calm { color: #000; background: #0a0 }`;
  const badge = (word: string) => `<p class="${word}">x<i>${filler}</i></p>`;
  test.each<[string, string[], string]>([
    ['by what its words change', ['text-storm', 'text-calm'], 'color'],
    ['by what its word changes', ['note mb-4', 'note', 'note mb-4'], 'margin-bottom'],
    ['so beside custom properties', ['mb-1', 'mb-4'], 'margin-bottom'],
    ['by two sides of it', ['note mx-2', 'note', 'note mx-2'], 'margin'],
    ['by one thing for a property and its shorthand', ['bg-storm', 'bg-calm'], 'background'],
    ['by the width of a cell', ['cell-6', 'cell-4'], 'width'],
    ['by the glyph that it shows', ['mark mark-tern', 'mark mark-gull'], 'icon'],
    ['by what its words change beside another one', ['wave is-high', 'wave is-low'], 'background'],
    ['by the colour of a border', ['note-top', 'note-end'], 'border-color'],
    ['by the word that comes and goes, where it changes several things', ['note', 'note float-end'], 'float-end'],
    ['by how large something is', ['pier pier-lg', 'pier pier-sm'], 'size'],
    ['by what its words change rather than by how much', ['mb-lg', 'mb-sm'], 'margin-bottom'],
    ['by no one of several things', ['note-storm', 'note-calm'], 'variant'],
    ['by nothing where words change different things', ['text-storm', 'mb-4'], 'variant'],
  ])('%s', (_, words, name) => {
    const page = `<!DOCTYPE html><style>${sheet}</style><body>${words.map(badge).join('\n')}</body>`;
    expect(componentOf('p', [parsePage('quay.html', page)]).props.map((prop) => prop.name)).toEqual([name]);
  });

  const pair = (one: string, other: string) => [`<p>${one}</p>`, `<p>${other}</p>`];
  test.each<[string, string[], string[]]>([
    [
      'by the glyph of an icon whose stylesheet is not here',
      pair('<i class="x x-a"></i>', '<i class="x x-b"></i>'),
      ['icon'],
    ],
    [
      'by what such a word usually changes',
      pair('<i class="x text-info"></i>', '<i class="x text-dark"></i>'),
      ['color'],
    ],
    ['by white space', pair('<b class="x">x</b>', '<b class="x ">x</b>'), ['spaced']],
    ['by no word that is not usual', pair('<b class="x y-a">x</b>', '<b class="x y-b">x</b>'), ['variant']],
    ['by the one property of a style', pair('<b style="color: red">x</b>', '<b>x</b>'), ['color']],
    ['by no property of several', pair('<b style="color: red; width: 2em">x</b>', '<b>x</b>'), ['look']],
    [
      'by what it is read as',
      pair('<u style="width: 9%"><i class="level">9%</i></u>', '<u style="width: 8%"><i class="level">8%</i></u>'),
      ['level'],
    ],
    [
      'with where it is, for two of them',
      pair(
        '<b style="color: red">x</b><u style="color: blue">x</u>',
        '<b style="color: lime">x</b><u style="color: tan">x</u>',
      ),
      ['strong-color', 'u-color'],
    ],
  ])('%s', (_, fragments, names) => {
    const page = `<!DOCTYPE html><body>${fragments.join('\n')}</body>`;
    expect(componentOf('p', [parsePage('quay.html', page)]).props.map((prop) => prop.name)).toEqual(names);
  });
});

describe('props and slots', () => {
  test('a class that only lays out gives its name to the part that comes with it', () => {
    const card = (more: boolean) =>
      `<section class="panel${more ? ' d-flex' : ''}"><p>${filler}</p>${more ? `<nav class="choices"><a href="#a">${filler}</a></nav>` : ''}</section>`;
    expect(first([card(true), card(false), card(true)]).props).toMatchObject([{ name: 'choices', type: 'flag' }]);
  });

  test('a menu of many links takes one prop, marked where it may be', () => {
    const links = Array.from({ length: 30 }, (_, i) => `Quay ${String.fromCharCode(65 + (i % 26))}${i}`);
    const menu = (current: number) =>
      `<ul class="menu">\n${links.map((label, i) => `<li class="menu__item${i === current ? ' menu__item--here' : ''}"><a href="#${i}">${label}</a></li>`).join('\n')}\n</ul>`;
    const pages = Object.fromEntries(links.map((_, i) => [`p${i}.html`, [menu(i)]]));
    const [found] = findings(pages);
    expect(found!.occurrences).toHaveLength(30);
    expect(found!.props).toMatchObject([{ name: 'here', type: 'choice', optional: false }]);
    expect(found!.props[0]!.values.map((value) => (value as { value: string }).value)).toEqual(
      found!.occurrences.map(({ page }) => links[Number(/\d+/.exec(page.path)![0])]!.toLowerCase().replace(' ', '-')),
    );
  });

  test('a menu of many links and groups of which one is marked by one of two words takes a prop for each kind', () => {
    const groups = Array.from({ length: 6 }, (_, i) => `Island ${String.fromCharCode(65 + i)}`);
    const menu = (current: number) =>
      groups
        .map((group, i) => {
          const links = [0, 1, 2, 3, 4].map((at) => i * 5 + at);
          const items = links.map(
            (at) => `<li><a class="${at === current ? 'here' : ''}" href="#${at}">Quay ${at}</a></li>`,
          );
          return `<h3 class="group ${links.includes(current) ? 'open' : ''}">${group}</h3>\n<ul>\n${items.join('\n')}\n</ul>`;
        })
        .join('\n');
    const pages = Array.from({ length: 30 }, (_, i): [string, string[]] => [
      `p${i}.html`,
      [`<nav class="menu">\n${menu(i)}\n</nav>`],
    ]);
    const found = findings(Object.fromEntries(pages)).find(({ occurrences }) => occurrences[0]!.element.tag === 'nav')!;
    expect(found.slots).toHaveLength(0);
    expect(
      found.props.map(
        ({ name, values }) => `${name} ${new Set(values.map((value) => (value as { value: string }).value)).size}`,
      ),
    ).toEqual(['marked 6', 'current 30']);
  });

  test.each<[string, string, string]>([
    ['follow the marker of that', ' menu__item--here', 'here'],
    ['are one where nothing else marks it', '', 'current'],
  ])('links that lead nowhere on their own page %s', (_, mark, name) => {
    const quays = ['north', 'south', 'east', 'west', 'mole', 'slip', 'pier', 'rock', 'sound'];
    const menu = (current: string) =>
      quays
        .map((quay) => {
          const isCurrent = quay === current;
          return `<li class="menu__item${isCurrent ? mark : ''}"><a href="${isCurrent ? '#' : `${quay}.html`}">${quay}</a></li>`;
        })
        .join('\n');
    const pages = quays.map((quay): [string, string[]] => [
      `${quay}.html`,
      [`<ul class="menu">\n${menu(quay)}\n</ul>`],
    ]);
    const [found] = findings(Object.fromEntries(pages));
    expect(found!.props.map((prop) => prop.name)).toEqual([name]);
    expect(found!.file).toContain(`{{${name} === 'mole' ? '#' : 'mole.html'}}`);
  });

  test('white space that is there or not takes no slot beside what is poured in', () => {
    const panel = (space: string, inside: string) =>
      `<section class="panel">\n<h2><b>Notice</b>${space}</h2>\n<p class="panel__lead">${filler}</p>\n<div class="panel__body">${inside}</div>\n</section>`;
    const insides = ['<ul><li>a</li></ul>', '<table><tr><td>b</td></tr></table>', '<form><input></form>'];
    const found = first(insides.map((inside, i) => panel(i === 1 ? '\n' : '', inside)));
    expect(found.general!.slots.map(({ name }) => name)).toEqual(['']);
  });
});
