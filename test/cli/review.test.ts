/** Going through the findings in a terminal, through the built program: what is decided stands in the draft, and is lifted. */
import { afterAll, afterEach, expect, test } from '@jest/globals';
import { demo, Folder, removeFolders, site } from './estrade.js';
import { closeTerminals, CONTROL_C, DOWN, EMPTIED, ENTER, Terminal, UP } from './terminal.js';

afterEach(closeTerminals);
afterAll(removeFolders);

interface DraftJson {
  findings: { key: string; finding: string; take: boolean; name: string; props: Record<string, string>; cut: number }[];
}

const draftOf = (folder: Folder) =>
  JSON.parse(folder.read('estrade.draft.json').replace(/^\s*\/\/.*$/gm, '')) as DraftJson;

/** Waits until a finding is asked about, and chooses the entry that begins so. @returns what was shown */
async function choose(terminal: Terminal, place: RegExp, entry: string): Promise<string> {
  const shown = await terminal.until(new RegExp(`${place.source}[^]*navigate`));
  // what was drawn before, key by key, stands above
  const entries = [...shown.slice(shown.lastIndexOf('A use:')).matchAll(/^([❯ ]) (\S.*)$/gm)];
  const at = (is: (entry: RegExpExecArray) => boolean) => entries.findIndex(is);
  const steps = at(([, , text]) => text!.startsWith(entry)) - at(([, mark]) => mark === '❯');
  if (steps < -entries.length || entries.length === 0) throw new Error(`there is no "${entry}" in:\n${shown}`);
  await terminal.type(place, ...Array<string>(Math.abs(steps)).fill(steps < 0 ? UP : DOWN), ENTER);
  return shown;
}

test('take, another name, other props, another cut, leave, back, stop: kept in the draft, nothing lifted until said', async () => {
  const folder = demo();
  const original = folder.files();
  const terminal = new Terminal(folder.path, ['review']);
  const first = await choose(terminal, /1 of 24 {2}site-header/, 'take it under another name');
  expect(first).toMatch(
    /site-header {2}not decided[^]*shared, 15 places on 15 pages, 4 props, 0 slots; recommended; saves \d+ lines[^]*boats\/eider\.html:13:3[^]*and 12 more[^]*<template component="site-header">[^]*A use:\s+<site-header current="boats">/,
  );
  // a name that cannot be had is asked for again
  await terminal.type(/its name:/, EMPTIED, 'header', ENTER);
  await choose(
    terminal,
    /"header" cannot be the name of a component[^]*of site-header\?/,
    'take it under another name',
  );
  await terminal.type(/its name:/, EMPTIED, 'top-bar', ENTER);
  await choose(terminal, /2 of 24/, 'leave it');
  await choose(terminal, /3 of 24/, 'back');
  await choose(terminal, /2 of 24 {2}\S+ {2}to leave/, 'back');
  await choose(terminal, /1 of 24 {2}top-bar {2}to take/, 'rename its props');
  await terminal.type(/which prop\?[^]*navigate/, DOWN, ENTER);
  await terminal.type(/what is label called\?/, EMPTIED, 'lead', ENTER);
  expect(await choose(terminal, /1 of 24 {2}top-bar {2}to take[^]*prop="lead"/, 'take it')).toContain(
    'label="{{lead}}"',
  );
  await choose(terminal, /2 of 24/, 'stop');
  const { text, status } = await terminal.end();
  expect([status, text]).toEqual([
    0,
    expect.stringMatching(/Kept in estrade\.draft\.json: 2 decisions; 1 to take, 22 not decided\./),
  ]);
  const { findings } = draftOf(folder);
  expect(findings).toMatchObject([
    { finding: 'site-header', take: true, name: 'top-bar', props: { label: 'lead', phone: 'phone' }, cut: 1 },
    { take: false },
  ]);
  const { 'estrade.draft.json': _draft, ...others } = folder.files();
  expect([_draft !== undefined, others]).toEqual([true, original]);
  expect(folder.run(['lift']).status).toBe(0);
  expect(folder.read('index.html')).toContain('<top-bar ');
  expect(folder.read('components/top-bar.html')).toContain('prop="lead"');
});

test('again: from the first that is open, what was decided before stays; all alike are left; interrupted, it is kept', async () => {
  const folder = demo();
  const terminal = new Terminal(folder.path, ['review']);
  await choose(terminal, /1 of 24/, 'take it');
  const shown = await terminal.until(/2 of 24[^]*navigate/);
  expect(shown).not.toContain('leave all like it');
  await terminal.type(/2 of 24/, CONTROL_C);
  const { text, status } = await terminal.end();
  expect([status, text]).toEqual([
    130,
    expect.stringMatching(/Interrupted\. Kept in estrade\.draft\.json: 1 decision; 1 to take, 23 not decided\./),
  ]);
  folder.write({ 'estrade.draft.json': `// mine\n${folder.read('estrade.draft.json')}` });
  const again = new Terminal(folder.path, ['review']);
  await choose(again, /2 of 24/, 'take it');
  for (let at = 3; at <= 24; at++) await choose(again, new RegExp(`\\b${at} of 24`), 'take it');
  const end = await again.end();
  expect([end.status, end.text]).toEqual([0, expect.stringContaining('23 decisions; 24 to take.')]);
  expect(folder.read('estrade.draft.json')).toMatch(/^\/\/ mine\n/);
  expect(draftOf(folder).findings).toHaveLength(24);
  expect(folder.run(['lift']).status).toBe(0);
  expect(folder.json(['check'])).toMatchObject({ passed: true });
});

test('another cut, and what begins alike', async () => {
  const rows = (tag: string) =>
    Array.from(
      { length: 4 },
      (_, i) =>
        `<li class="row row--${tag}"><b class="row__to">Quay ${i}${tag}</b> <i>${i}:10</i><span class="${tag}">calls at every quay</span></li>`,
    ).join('\n');
  const folder = new Folder({
    ...site(),
    'rows.html': `<!DOCTYPE html>\n<ul class="list">\n${rows('a')}\n</ul>\n<ol class="list">\n${rows('b')}${rows('b')}\n</ol>\n`,
  });
  const names = (folder.json(['survey']) as { findings: { name: string }[] }).findings.map(({ name }) => name);
  const terminal = new Terminal(folder.path, ['review']);
  await choose(terminal, /1 of \d/, 'cut it another way');
  await terminal.type(/which way\?[^]*navigate/, DOWN, ENTER);
  await choose(terminal, /1 of \d+ {2}\S+ {2}to take/, 'take it');
  const last = await terminal.until(/2 of|Kept/);
  if (!last.includes('Kept')) await terminal.type(/2 of[^]*navigate/, CONTROL_C);
  await terminal.end();
  expect(draftOf(folder).findings[0]).toMatchObject({ finding: names[0], take: true, cut: 2 });
  expect(folder.run(['lift']).status).toBe(0);
  expect(folder.json(['check'])).toMatchObject({ passed: true });
});

test('without a terminal it names the draft', () => {
  const folder = new Folder(site());
  expect(folder.run(['review'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(
      /there is no terminal to ask in\n {2}estrade draft writes the same decisions into estrade\.draft\.json/,
    ),
  });
  expect(folder.files()).toEqual(site());
});
