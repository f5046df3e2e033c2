/** The draft: decisions about findings in a file, kept when pages change, and done by the next lift. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Folder, page, removeFolders, ROOT } from './estrade.js';

afterAll(removeFolders);

const card = (name: string, more = '') => `<article class="boat${more}">
  <h3 class="boat__name">${name}</h3>
  <p class="boat__text">She calls at every quay of the sound</p>
  <div class="boat__more"><p>${name} carries the mail</p></div>
</article>`;
const note = (text: string) =>
  `<aside class="note">\n  <b class="note__head">Mind the tide</b>\n  <span>${text}</span>\n</aside>`;
const files = {
  'a.html': page(`${card('Tern')}\n${note('at noon')}\n${card('Eider')}`),
  'b.html': page(`${card('Gull')}\n${note('at six')}\n${card('Puffin')}`),
  'c.html': page(note('by night')),
};
const DRAFT = 'estrade.draft.json';
const edited = (folder: Folder, ...changes: [string | RegExp, string][]) => {
  let text = folder.read(DRAFT);
  for (const [from, to] of changes) {
    expect(text).toMatch(from);
    text = text.replace(from, to);
  }
  folder.write({ [DRAFT]: text });
};

describe('draft', () => {
  test('writes one entry a finding, and again adds what is new and keeps the rest', () => {
    const folder = new Folder(files);
    const dry = folder.run(['draft', '--dry-run']);
    expect([dry.status, dry.err, Object.keys(folder.files())]).toEqual([0, '', Object.keys(files)]);
    expect(folder.run(['draft']).out).toContain('Written: estrade.draft.json, 2 findings added, 0 decided before.');
    const text = folder.read(DRAFT);
    expect(text).toBe(dry.out);
    expect(text).toMatch(/^ {4}\/\/ repeat: 4 places on 2 pages, 1 prop, \d slots?; saves \d+ lines$/m);
    expect(text).toMatch(/^ {4}\/\/ a\.html:5:1 and 3 more: heading "Tern"/m);
    const schema = JSON.parse(readFileSync(join(ROOT, 'schema/draft.schema.json'), 'utf8')) as {
      properties: { findings: { items: { properties: object } } };
    };
    const { findings } = JSON.parse(text.replace(/^\s*\/\/.*$/gm, '')) as { findings: object[] };
    for (const each of findings)
      expect(Object.keys(each)).toEqual(Object.keys(schema.properties.findings.items.properties));

    edited(folder, ['"take": true,', '"take": false, // no']);
    // other pages change: the decisions hold, whatever the places share from now on
    folder.write({
      'a.html': page(`<main>${card('Tern', ' boat--old')}</main>\n<hr>\n${card('Eider')}`),
      'd.html': page(`${note('at dawn')}\n<p class="fare"><i class="fare__a">One</i> <b>way</b> 4</p>`),
      'e.html': page(`<p class="fare"><i class="fare__a">One</i> <b>way</b> 5</p>\n${card('Tern')}`),
    });
    const before = folder.read(DRAFT);
    const again = folder.run(['draft']);
    expect([again.status, again.err.slice(0, 300)]).toEqual([0, '']);
    expect(folder.read(DRAFT).startsWith(before.slice(0, -10))).toBe(true);
    expect(again.out).toMatch(/\d findings? added, 2 decided before/);
    folder.write({ 'a.html': page(''), 'b.html': page(''), 'e.html': page('') });
    expect(folder.run(['draft']).out).toMatch(/^gone: boat-\w+ \(article\.boat\): nothing is like it now$/m);
  });

  test('is done by lift, alone and with --draft; the survey has its names', () => {
    const folder = new Folder(files);
    folder.run(['draft']);
    const [boat, aside] = ['"finding": "boat-card"', '"finding": "note-aside"'];
    edited(
      folder,
      ['"name": "boat-card"', '"name": "boat-tile"'],
      ['"heading": "heading"', '"heading": "boat"'],
      [new RegExp(`${aside},\\s*"take": true`), `${aside},\n      "take": false`],
    );
    expect(folder.read(DRAFT)).toContain(boat);
    const { findings } = folder.json(['survey']) as {
      findings: { name: string; recommended: boolean; reason: string }[];
    };
    expect(findings.map(({ name, recommended, reason }) => [name, recommended, reason])).toEqual([
      ['boat-tile', true, null],
      ['note-aside', false, 'the draft leaves it'],
    ]);
    expect(folder.run(['lift', '--dry-run']).out).toMatch(/^\+<template component="boat-tile">$/m);
    const lift = folder.run(['lift', '--draft']);
    expect([lift.status, lift.err]).toEqual([0, '']);
    expect(folder.read('a.html')).toMatch(/<boat-tile boat="Tern">/);
    expect(folder.read('a.html')).toContain('<aside class="note">');
    expect(folder.run(['check']).status).toBe(0);
    expect(folder.run(['draft']).out).not.toContain('gone');
    // what is like it, and no use of it, is decided by itself
    const other = (name: string) =>
      `<article class="boat">\n  <h4>${name}</h4>\n  <ul><li>Sold to the isles</li><li>Laid up</li></ul>\n</article>`;
    folder.write({ 'f.html': page(['Auk', 'Skua', 'Teal'].map(other).join('\n')) });
    expect(folder.run(['draft'])).toMatchObject({ status: 0, err: '' });
    expect(folder.run(['survey'])).toMatchObject({ status: 0, err: '' });
    folder.write({ 'f.html': page('') });
    for (const args of [
      ['boat-tile', 'boat-plate'],
      ['boat-plate.boat', 'vessel'],
    ])
      folder.run(['rename', ...args]);
    expect(folder.read(DRAFT)).toMatch(/"name": "boat-plate",\s*"props": \{\s*"heading": "vessel"\s*\}/);
    for (let i = 0; i < 2; i++) folder.run(['undo']);
    expect(folder.run(['lift']).status).toBe(1);
    folder.run(['undo']);
    expect(folder.run(['lift']).out).toContain('boat-plate');
  });

  test('keeps what was decided by options', () => {
    const folder = new Folder(files);
    expect(folder.run(['lift', 'boat-card', '--name', 'boat-tile', '--props', 'heading=boat']).status).toBe(0);
    folder.run(['undo']);
    expect(folder.run(['survey']).out).toMatch(/^\* +boat-tile /m);
    const { props } = folder.json(['show', 'boat-tile']) as { props: { name: string }[] };
    expect(props.map(({ name }) => name)).toContain('boat');
    expect(folder.run(['lift', 'boat-tile', '--cut', '2']).status).toBe(0);
    expect(folder.read(DRAFT)).toMatch(/"cut": 2/);
    // what goes with one finding does not lift all of the draft
    folder.run(['undo']);
    expect(folder.run(['lift', '--cut', '2'])).toMatchObject({ status: 2, out: '' });
  });

  test.each([
    [/"format": 1/, '"format": 2', /^estrade: estrade\.draft\.json:5:13: "format" must be \[1\]$/m],
    [
      /"take": true/,
      '"take": "yes"',
      /^estrade: estrade\.draft\.json:\d+:15: "findings\[0\]\.take" must be a boolean$/m,
    ],
    [/"cut": 1/, '"cut": 9', /^estrade: estrade\.draft\.json:\d+:5: there is no way 9 to cut boat-card$/m],
    [/"pour": /, '"pur": ', /^estrade: estrade\.draft\.json:\d+:7: "findings\[0\]\.pur" is not allowed$/m],
    [/"name": "boat-card"/, '"name": "boat"', /^estrade: estrade\.draft\.json:\d+:5: /m],
    [/"heading": "heading"/, '"head": "boat"', /^estrade: estrade\.draft\.json:\d+:5: .*there is no prop "head"/m],
    [/\{/, '{{', /^estrade: estrade\.draft\.json:4:2: the draft is not JSON/m],
  ])('%s made %s is told with its place, and nothing is written', (from, to, message) => {
    const folder = new Folder(files);
    folder.run(['draft']);
    edited(folder, [from, to]);
    const before = folder.files();
    for (const command of ['lift', 'draft', 'survey']) {
      const { status, out, err } = folder.run([command]);
      expect([status, out]).toEqual([2, '']);
      expect(err).toMatch(message);
    }
    expect(folder.files()).toEqual(before);
  });

  test('is asked for where there is none', () => {
    const folder = new Folder(files);
    for (const args of [['lift', '--draft'], ['lift']]) {
      const { status, err } = folder.run(args);
      expect([status, err]).toEqual([2, expect.stringContaining('write a draft: estrade draft')]);
    }
    expect(folder.run(['lift', 'boat-card', '--draft']).err).toContain('--draft does not go with other findings');
  });
});
