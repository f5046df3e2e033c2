/** The built program: what the survey prints, what the words of a site are there for, and why a finding is recommended. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { Folder, page, removeFolders, type SurveyJson } from './estrade.js';

afterAll(removeFolders);

const names = ['Tern', 'Eider', 'Puffin', 'Gull', 'Skua', 'Petrel'];
const card = (name: string, words = 'boat') =>
  `<article class="${words}">\n  <h3 class="boat__name mb-2">${name}</h3>\n  <p class="boat__text">${name} calls at every quay of the sound.</p>\n</article>`;
const notice = (name: string) =>
  `<aside class="notice">\n  <b>${name}</b>\n  <p>Mind the gull, and the step.</p>\n</aside>`;
const sheet =
  '.boat { border: 1px solid } .boat__name { font-weight: 700 } .boat--old { opacity: 0.5 } .mb-2 { margin-bottom: 2px } .notice { color: red } .notice p { margin: 0 }';
const site = {
  'site.css': sheet,
  'index.html': page(
    names.map((name, i) => `${card(name, i === 3 ? 'boat boat--old' : 'boat')}\n${notice(name)}`).join('\n'),
  ),
};

interface WordsJson {
  words: { word: string; role: string; of: string | null; rules: number; places: number; why: string }[];
}

describe('survey', () => {
  test('--words tells what each class word is there for, and the configuration puts one right', () => {
    const folder = new Folder(site);
    const { words } = folder.json(['survey', '--words']) as WordsJson;
    const roles = Object.fromEntries(
      words.map(({ word, role, of }) => [word, of === null ? role : `${role} of ${of}`]),
    );
    expect(roles).toEqual({
      boat: 'block',
      boat__name: 'part of boat',
      boat__text: 'part of boat',
      'boat--old': 'modifier of boat',
      notice: 'block',
      'mb-2': 'utility',
    });
    expect(words.find(({ word }) => word === 'boat')).toMatchObject({ places: 6, rules: 1 });
    const said = folder.run(['survey', '--words']).out;
    expect(said).toMatch(/^boat +block +6 +1 +\S/m);
    expect(folder.run(['survey', '--words', '--top', '2']).out).toMatch(/… and 4 more words: --all/);
    folder.write({ 'estrade.config.json': '{ "words": { "notice": "layout" } }' });
    const again = folder.json(['survey', '--words']) as WordsJson;
    expect(again.words.find(({ word }) => word === 'notice')).toMatchObject({ role: 'layout' });
    folder.write({ 'estrade.config.json': '{ "words": { "notice": "blok" } }' });
    expect(folder.run(['survey'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/estrade\.config\.json:1:\d+/),
    });
  });

  test('--top prints so many and says how many more; no name is cut, and kinds are explained', () => {
    const folder = new Folder(site);
    const { findings } = folder.json(['survey']) as SurveyJson;
    expect(findings.map(({ name }) => name).sort()).toEqual(['boat-card', 'notice-aside']);
    const all = folder.run(['survey']).out;
    for (const { name } of findings) expect(all).toContain(`${name} `);
    expect(all).toMatch(/^(series|repeat): several/m);
    expect(folder.run(['survey', '--top', '1']).out).toMatch(/… and 1 more finding: --top 2/);
    expect(folder.run(['survey', '--top', '0'])).toMatchObject({ status: 2 });
  });

  test('show adds up why a finding is recommended, or is not', () => {
    const folder = new Folder(site);
    const { terms } = folder.json(['show', 'boat-card']) as { terms: { what: string; bytes: number }[] };
    const sum = terms.reduce((total, { bytes }) => total + bytes, 0);
    expect(sum).toBeGreaterThanOrEqual(145);
    expect(folder.run(['show', 'boat-card']).out).toMatch(new RegExp(`^together +${sum}$`, 'm'));
    const dear = folder.json(['survey', '--min-worth', String(sum + 1)]) as SurveyJson;
    expect(dear.findings.map(({ name }) => name)).not.toContain('boat-card');
  });

  test('takes class words that every object has', () => {
    const words = ['constructor', '__proto__', 'toString', 'hasOwnProperty'];
    const body = words
      .map((word) =>
        names
          .slice(0, 3)
          .map((name) => card(name, word))
          .join('\n'),
      )
      .join('\n');
    const folder = new Folder({ 'a.html': page(body), 'a.css': words.map((word) => `.${word} { top: 0 }`).join('\n') });
    const { findings } = folder.json(['survey', '--all']) as SurveyJson;
    expect(findings.length).toBeGreaterThan(0);
    expect(folder.run(['lift', '--recommended']).status).toBe(0);
    expect(folder.run(['check']).status).toBe(0);
  });
});
