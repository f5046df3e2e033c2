/** Components in the templates of others: what they are given is the same everywhere, passed on, or poured in. */
import { describe, expect, test } from '@jest/globals';
import { expandPage, parsePage, planLift } from '../../../src/index.js';
import { componentOf } from '../component-of.js';

const filler = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';
const names = ['Tern', 'Eider', 'Puffin', 'Gull', 'Skua', 'Petrel'];

/** Lifts what these selectors match, together; gives all files after. */
function liftAll(bodies: string[], selectors = ['article', '.chip'], left: string[] = []) {
  const sources = bodies.map((body) => `<!DOCTYPE html>\n<body>\n${body}\n</body>\n`);
  const pages = sources.map((source, i) => parsePage(`p${i}.html`, source));
  const recommended = selectors.map((selector) => componentOf(selector, pages));
  const plan = planLift({ pages, components: [], findings: recommended, componentFolder: 'components' });
  for (const { path, after, before } of plan.pages)
    expect(expandPage(parsePage(path, after), plan.registry).text).toBe(before);
  expect([...new Set(plan.leftOut.map(({ finding, why }) => `${finding}: ${why}`))]).toEqual(left);
  const files = Object.fromEntries(
    plan.components.map(({ path, source }) => [path.replace(/^.*\/|\.html$/g, ''), source]),
  );
  return { recommended, files, pages: plan.pages.map(({ after }) => after) };
}

const chip = (word: string, more = '') =>
  `<div class="chip chip--round" data-kind="chip"${more}>\n      <b class="chip__mark">${filler}</b>\n      <i class="chip__word">${word}</i>\n    </div>`;
const card = (name: string, inner: string) =>
  `  <article class="boat" data-kind="boat">\n    <h3 class="boat__name">${name}</h3>\n    ${inner}\n    <p class="boat__text">${filler}</p>\n    <p class="boat__end">${filler}</p>\n  </article>`;
const free = names.map((name) => `  <section id="of-${name}">\n    ${chip(`of ${name}`)}\n  </section>`).join('\n');

describe('a component in the template of another', () => {
  test('is given what is the same everywhere as it is, and what varies by a prop', () => {
    const constant = liftAll([names.map((name) => card(name, chip('always'))).join('\n'), free]);
    expect(constant.files['boat-card']).toContain('<round-chip word="always"></round-chip>');
    const varying = liftAll([names.map((name) => card(name, chip(`by ${name}`))).join('\n'), free]);
    expect(varying.files['boat-card']).toContain('<round-chip word="by {{heading}}"></round-chip>');
    const own = liftAll([names.map((name, i) => card(name, chip(`${i}`))).join('\n'), free]);
    expect(own.files['boat-card']).toContain('<round-chip word="{{word}}"></round-chip>');
  });

  test('is given flags, and left out with the part that holds it', () => {
    const inner = (name: string, i: number) => (i % 2 === 0 ? '' : chip(name, i === 1 ? ' hidden' : ''));
    const { files, recommended } = liftAll([
      names
        .map((name, i) => card(name, inner(name, i)))
        .join('\n')
        .replace(/\n {4}\n/g, '\n'),
      `${free}\n  <section id="last">\n    ${chip('last', ' hidden')}\n  </section>`,
    ]);
    expect(files['boat-card']).toMatch(
      /<template when="\w+">\n? *<round-chip concealed="\{\{concealed\}\}" word="\{\{\w+\}\}">/,
    );
    expect(recommended.find(({ name }) => name === 'round-chip')!.occurrences).toHaveLength(10);
  });

  test('is marked by one prop where all its class words are given it', () => {
    const item = (name: string, words: string) =>
      `<p class="${words}" data-kind="stop"><i class="glyph">stop_mark</i> <a href="#${name}">${name}</a> <i>${filler}</i></p>`;
    const menu = (here: number) =>
      `<nav class="line"><h3>Line</h3><div>${names.map((name, i) => item(name, i === here ? 'stop is-here bold' : 'stop ')).join('\n')}</div></nav>`;
    const rest = ['stop far', 'stop far', 'far'].map((words) => `<section>${item('Quay', words)}</section>`).join('\n');
    const { files, pages } = liftAll([menu(0), menu(3), menu(-1), menu(1), rest], ['nav', 'p[data-kind]']);
    const [name] = Object.keys(files).filter((each) => files[each]!.includes('<nav'));
    expect(files[name!]).toContain(`{{current === 'gull' ? 'stop is-here bold' : 'stop '}}`);
    expect(pages[1]).toMatch(/<([\w-]+) current="gull"><\/\1>|<template use="[\w-]+" current="gull"><\/template>/);
  });

  test('is marked like others of its kind by one prop, and what it stands in by another', () => {
    const groups = [names.slice(0, 3), names.slice(3)];
    const item = (name: string, here: string) =>
      `<p class="stop${name === here ? ' is-active' : ''}" data-kind="stop"><a href="#${name}">${name}</a> <i class="stop__note">${filler}</i></p>`;
    const group = (some: string[], here: string, i: number) =>
      `<section class="line${some.includes(here) ? ' is-active' : ''}" data-kind="line">\n    <h3 class="line__name">Line ${i}</h3>\n    ${some.map((name) => item(name, here)).join('\n    ')}\n  </section>`;
    const menu = (here: string) =>
      `<nav class="menu" data-kind="menu">\n  ${groups.map((some, i) => group(some, here, i)).join('\n  ')}\n</nav>`;
    const { recommended, pages } = liftAll(names.map(menu), ['nav', '.stop']);
    const own = recommended.find(({ occurrences }) => occurrences.length === names.length)!;
    expect(own.general!.props.map(({ type }) => type)).toEqual(['flag', 'choice']);
    expect(pages[4]).toMatch(/^<!DOCTYPE html>\n<body>\n<[\w-]+ [\w-]+="skua"><\/[\w-]+>\n<\/body>\n$/);
  });

  test('is lifted where it is poured into a frame', () => {
    const insides = [
      '<pre>wind NW 4</pre>',
      chip('Tern'),
      `<p>Mind the gull</p>\n    ${chip('Skua')}`,
      '<hr>',
      '<b>*</b>',
    ];
    const frame = (inside: string, i: number) =>
      `  <section class="panel">\n    <h2>${names[i]!}</h2>\n    <div class="panel__body">${inside}</div>\n  </section>`;
    const { files, pages } = liftAll([insides.map(frame).join('\n'), free], ['.panel', '.chip']);
    expect(files['panel-section']).toContain('<div class="panel__body"><slot></slot></div>');
    expect(pages[0]).toMatch(/<panel-section heading="Eider"><round-chip word="Tern"><\/round-chip><\/panel-section>/);
    expect(pages[0]!.match(/<round-chip /g)).toHaveLength(2);
  });

  test('that takes a list is not used in the records of a list', () => {
    const row = (name: string, count: number) =>
      `      <tr class="trip"><td>${name}</td><td><ol>${`<li>${name} calls</li>`.repeat(count)}</ol></td></tr>`;
    const table = (kind: string, rows: string[]) =>
      `  <table class="${kind}">\n    <tbody>\n${rows.join('\n')}\n    </tbody>\n  </table>`;
    const weeks = [2, 3, 4].map((count) =>
      table(
        'week',
        names.slice(0, count).map((name) => row(name, 2)),
      ),
    );
    const loose = table(
      'loose',
      names.map((name, i) => row(name, i + 1)),
    );
    const { files } = liftAll(
      [[...weeks, loose].join('\n')],
      ['.week', '.trip'],
      ['trip-row: it stands in week-table, which does not use it here'],
    );
    expect(files['week-table']).toMatch(/<template each="\w+" of="\w+">\s*<tr class="trip">/);
    expect(files['trip-row']).toMatch(/<template each=/);
  });

  test('is not used where not all copies of the place are it', () => {
    const other = '<div class="chip chip--round" data-kind="chip">\n      <em>other</em> <s>things</s>\n    </div>';
    const { files } = liftAll(
      [names.map((name, i) => card(name, i === 2 ? other : chip(name))).join('\n'), free],
      ['article', '.chip:has(b)'],
      ['round-chip: it stands in boat-card, which does not use it here'],
    );
    for (const [name, file] of Object.entries(files))
      if (name.startsWith('boat')) expect(file).not.toContain('<round-chip');
  });

  test('stands in each item of a list', () => {
    const list = (count: number, name: string) =>
      `  <div class="fleet">\n    <h2>${name}</h2>\n    <p>${filler}</p>\n    <u>${filler}</u>\n    <p>${filler}</p>\n    <s>${filler}</s>\n${Array.from({ length: count }, (_, i) => `    ${chip(`${name} ${i}`)}`).join('\n')}\n  </div>`;
    const { files, recommended } = liftAll(
      [names.map((name, i) => list(i + 1, name)).join('\n'), free],
      ['.fleet', '.chip'],
    );
    const fleet = Object.values(files).find((file) => file.includes('class="fleet"'));
    expect(fleet).toMatch(
      /<template each="chip" of="chips"><round-chip word="\{\{chip\.word\}\}"><\/round-chip><\/template>/,
    );
    expect(recommended.find(({ name }) => name === 'round-chip')!.occurrences).toHaveLength(27);
  });

  test('takes what is poured into it from the template, or passes it on', () => {
    const insides = [
      '<p>a</p>',
      '<pre>b\n c</pre>',
      '<b>c</b> <i>d</i>',
      '<ul><li>e</li></ul>',
      '<hr>',
      '<em>f</em><u>g</u>',
    ];
    const frame = (heading: string, inside: string) =>
      `<div class="frame frame--wide" data-kind="frame" data-area="quay">\n      <h4 class="frame__heading frame__heading--plain">${heading}</h4>\n      <div class="frame__body frame__body--padded">${inside}</div>\n      <p class="frame__foot">${filler}</p>\n    </div>`;
    const loose = insides
      .map((inside, i) => `  <section id="s${i}">\n    ${frame(`At ${i}`, `<s>${i}</s>${inside}`)}\n  </section>`)
      .join('\n');
    const held = names.map((name, i) => card(name, frame('Of it', `<q>${i}</q>${insides[(i + 2) % 6]!}`))).join('\n');
    const { files } = liftAll([held, loose], ['article', '.frame']);
    const holder = files['boat-card'] ?? '';
    expect(holder).toContain('<wide-frame heading="Of it"><slot></slot></wide-frame>');
  });
});
