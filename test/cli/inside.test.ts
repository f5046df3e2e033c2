/** The built program, round after round: inside what it lifted before, proven by the pages, and taken back. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { demo, Folder, page, removeFolders, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

/** Lifts, and checks: how every page compares now. */
function lift(folder: Folder, ...args: string[]): string[] {
  const run = folder.run(['lift', ...args]);
  expect([run.err, run.status]).toEqual(['', 0]);
  const { pages } = folder.json(['check']) as { pages: { same: string }[] };
  return [...new Set(pages.map(({ same }) => same))];
}

function undo(folder: Folder, times: number): void {
  for (let i = 0; i < times; i++) expect(folder.run(['undo']).status).toBe(0);
}

const found = (folder: Folder, name: string) =>
  (folder.json(['survey', '--all', '--regions']) as SurveyJson).findings.find((each) => each.name === name);

test('three rounds on the demo, each inside what the last one lifted, and three times undo', () => {
  const folder = demo();
  const before = folder.files();
  expect(lift(folder, 'site-header')).toEqual(['bytes']);
  expect(found(folder, 'main-nav')).toMatchObject({
    kind: 'region',
    occurrences: [{ page: 'components/site-header.html' }],
  });
  expect(lift(folder, 'main-nav')).toEqual(['bytes']);
  expect(folder.read('components/site-header.html')).toContain(
    '<main-nav current="{{current}}" item="{{item}}"></main-nav>',
  );
  expect(found(folder, 'nav-item')!.occurrences.map((each) => each.page)).toEqual(
    Array(6).fill('components/main-nav.html'),
  );
  expect(lift(folder, 'nav-item')).toEqual(['bytes']);
  const nav = folder.read('components/main-nav.html');
  expect(nav).toMatch(
    /<template use="nav-item" current="\{\{current === 'sailings'\}\}" href="..\/sailings.html"\s+label="\{\{item\}\}">/,
  );
  expect(folder.read('components/nav-item.html')).toContain('<meta prop="current" type="flag">');
  expect(Object.keys(folder.files()).filter((path) => path.startsWith('components/'))).toHaveLength(3);
  undo(folder, 3);
  expect(folder.files()).toEqual(before);
});

const filler = 'It hangs beside the clock in the office on the quay, and stays there all week.';

/** Pages of one component with all that a template can hold: lists, conditions, slots, values in other values. */
function harbour(name: string, boats: string[], note: string | null, inside: string): string {
  const more = note === null ? '' : `\n    <p class="pier__note">${note}: ${filler}</p>`;
  return page(`<section class="pier" id="pier-${name.toLowerCase()}">
  <div class="pier__head" aria-label="${name}">
    <h2>${name}</h2>
    <img src="img/${name.toLowerCase()}.svg" alt="">${more}
    <p class="pier__text">${filler}</p>
  </div>
  <div class="pier__boats">
    <h3>Boats at ${name}</h3>
    <ul>
${boats.map((boat) => `      <li class="boat"><b>${boat}</b> <i>calls at ${name}</i></li>`).join('\n')}
    </ul>
    <p>${filler}</p>
  </div>
  <div class="pier__more">
    ${inside}
    <p>${filler}</p>
  </div>
</section>`);
}

const piers = {
  'index.html': harbour('Mewport', ['Tern', 'Eider', 'Gull'], 'Mind the step', '<table><tr><td>12 m</td></tr></table>'),
  'two.html': harbour('Sandrey', ['Puffin', 'Gull'], null, '<ol><li>bell</li></ol>'),
  'three.html': harbour('Hallow', ['Tern', 'Puffin', 'Eider', 'Gull'], 'Closed', '<h4>Tea</h4>'),
  'four.html': harbour('Orlay', ['Eider', 'Gull'], null, '<dl><dt>Tea</dt><dd>at four</dd></dl>'),
};

describe('what stands in a template', () => {
  test('is cut out with what it names: lists, conditions and slots are passed on', () => {
    const folder = new Folder(piers);
    expect(lift(folder, '--select', '.pier', '--name', 'pier-panel')).toEqual(['bytes']);
    const whole = folder.read('components/pier-panel.html');
    expect(whole).toMatch(/<template when="note">|<template when="pierNote">/);
    for (const [block, name] of [
      ['pier__head', 'pier-head'],
      ['pier__boats', 'pier-boats'],
      ['pier__more', 'pier-more'],
    ] as const) {
      const line = folder
        .read('components/pier-panel.html')
        .split('\n')
        .findIndex((each) => each.includes(`class="${block}"`));
      expect(lift(folder, '--at', `components/pier-panel.html:${line + 1}`, '--name', name)).toEqual(['bytes']);
    }
    const uses = folder.read('components/pier-panel.html');
    expect(uses).toMatch(/<pier-head [^>]*label="\{\{label\}\}"[^>]*note="\{\{note\}\}"/);
    expect(uses).toMatch(/<pier-boats [^>]*boats="\{\{boats\}\}"/);
    expect(uses).toMatch(/<pier-more>\s*<slot><\/slot>\s*<\/pier-more>|<pier-more><slot><\/slot><\/pier-more>/);
    expect(folder.read('components/pier-boats.html')).toMatch(
      /<meta prop="boats" type="list">\s*<meta prop="boats\.[\w-]+" type="text">/,
    );
    expect(folder.read('components/pier-head.html')).toMatch(/<meta prop="[\w-]*note" type="text" optional>/);
    undo(folder, 4);
    expect(folder.files()).toEqual(piers);
  });

  test('names the record that it stands in, and its tests are passed in ready', () => {
    const board = (quay: string, rows: [string, string | null][]) =>
      page(
        `<main>\n<h1>${quay}</h1>\n<ul class="board">\n${rows
          .map(
            ([boat, note]) =>
              `<li class="call"><b class="call__boat">${boat}</b>${note === null ? '' : `<i class="call__note">${note}</i>`}<p class="call__text">${filler}</p></li>`,
          )
          .join('\n')}\n</ul>\n</main>`,
      );
    const site = {
      'a.html': board('Mewport', [
        ['Tern', null],
        ['Eider', 'late'],
        ['Gull', null],
      ]),
      'b.html': board('Hallow', [
        ['Gull', 'full'],
        ['Tern', null],
      ]),
      'c.html': board('Sandrey', [
        ['Puffin', null],
        ['Tern', 'late'],
        ['Eider', null],
        ['Gull', 'early'],
      ]),
    };
    const folder = new Folder(site);
    expect(lift(folder, '--select', 'main', '--name', 'quay-board')).toEqual(['bytes']);
    const text = folder.read('components/quay-board.html');
    expect(text).toContain('<template each=');
    const line = text.split('\n').findIndex((each) => each.includes('<li class="call">'));
    const column = text.split('\n')[line]!.indexOf('<li') + 1;
    expect(lift(folder, '--at', `components/quay-board.html:${line + 1}:${column}`, '--name', 'quay-call')).toEqual([
      'bytes',
    ]);
    expect(folder.read('components/quay-board.html')).toMatch(
      /<quay-call boat="\{\{call\.boat\}\}" note="\{\{call\.note\}\}">/,
    );
    expect(folder.read('components/quay-call.html')).toContain('<meta prop="note" type="text" optional>');
    undo(folder, 2);
    expect(folder.files()).toEqual(site);
  });

  test('meets what stands in pages: one component, its uses in both', () => {
    const buoy = (name: string, light: string) =>
      `<div class="buoy" data-light="${light}">\n<b>${name}</b>\n<p>${filler}</p>\n<p>${filler}</p>\n</div>`;
    const panel = (name: string, light: string) =>
      `<section class="chart">\n<h2>${name}</h2>\n${buoy(name, light)}\n</section>`;
    const site = {
      'a.html': page([panel('North', 'red'), panel('South', 'green')].join('\n')),
      'sub/b.html': page(['<main>', buoy('West', 'white'), buoy('East', 'amber'), '</main>'].join('\n')),
    };
    const folder = new Folder(site);
    expect(lift(folder, '--select', '.chart', '--name', 'chart-panel')).toEqual(['bytes']);
    expect(lift(folder, '--select', '.buoy', '--name', 'sea-buoy')).toEqual(['bytes']);
    expect(folder.read('components/chart-panel.html')).toMatch(/<sea-buoy [^>]*="\{\{heading\}\}"/);
    expect(folder.read('sub/b.html').match(/<sea-buoy /g)).toHaveLength(2);
    const again = folder.run(['lift', '--select', '.buoy']);
    expect([again.status, again.err]).toEqual([
      2,
      expect.stringContaining('".buoy" matches nothing but what is a component already'),
    ]);
    undo(folder, 2);
    expect(folder.files()).toEqual(site);
  });

  test('is left alone where it is all of it, or where no page proves it', () => {
    const folder = new Folder(piers);
    lift(folder, '--select', '.pier', '--name', 'pier-panel');
    const unused =
      '<template component="lone-card">\n  <div class="lone">\n    <p>One</p>\n    <p>Two</p>\n  </div>\n  <hr>\n</template>\n';
    folder.write({ 'components/lone-card.html': unused });
    const before = folder.files();
    const line = before['components/pier-panel.html']!.split('\n').findIndex((each) => each.includes('class="pier"'));
    const whole = folder.run(['lift', '--at', `components/pier-panel.html:${line + 1}`]);
    expect([whole.status, whole.err]).toEqual([2, expect.stringContaining('it is all that this component holds')]);
    const further = folder.run(['lift', '--at', `components/pier-panel.html:${line + 2}`, '--outer', '3']);
    expect([further.status, further.err]).toEqual([
      2,
      expect.stringContaining('nothing stands 3 elements further out'),
    ]);
    const lone = folder.run(['lift', '--at', 'components/lone-card.html:2']);
    expect([lone.status, lone.err]).toEqual([
      1,
      expect.stringContaining('no page uses lone-card, so nothing proves it'),
    ]);
    expect(folder.files()).toEqual(before);
  });

  test('was edited by hand: what the pages give since then is what is proven', () => {
    const folder = demo();
    lift(folder, 'site-footer');
    const footer = folder.read('components/site-footer.html').replace('The company', 'Who we are');
    folder.write({ 'components/site-footer.html': footer });
    const [line] = [...footer.split('\n').entries()].find(([, each]) => each.includes('site-footer__columns'))!;
    expect(
      folder.run(['lift', '--at', `components/site-footer.html:${line + 1}`, '--name', 'footer-columns']).status,
    ).toBe(0);
    const checked = folder.json(['check']) as { passed: boolean; pages: { same: string }[] };
    expect([checked.passed, new Set(checked.pages.map(({ same }) => same))]).toEqual([true, new Set(['bytes'])]);
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.read('components/site-footer.html')).toBe(footer);
  });
});
