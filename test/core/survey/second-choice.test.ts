/** What is chosen in place of what turned out to be worth too little. */
import { describe, expect, test } from '@jest/globals';
import { savedAlone } from '../../../src/core/survey/findings.js';
import { recommendedAmong } from '../../../src/core/survey/second-choice.js';
import type { Generalised } from '../../../src/core/survey/choice.js';
import type { ChosenAlike } from '../../../src/core/survey/generalised.js';
import type { Recommended } from '../../../src/core/survey/recommend.js';
import { type Finding, parsePage } from '../../../src/index.js';
import { componentOf } from '../component-of.js';

const filler = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';
const boat = (name: string, text = filler) => `<section><h2>${name}</h2><p>${text}</p></section>`;
const page = (...boats: string[]) => parsePage('p.html', `<!DOCTYPE html><body>${boats.join('')}</body>`);
/** Parts that save a lot by themselves, and nothing. */
const large = componentOf('section', [page(boat('Tern'), boat('Eider'), boat('Gull'), boat('Auk'))]);
const small = componentOf('section', [page(boat('Tern', ''), boat('Eider', ''))]);

const choiceOf = ({ general }: Finding) => ({ candidate: {}, general: general! }) as unknown as Generalised;
const saving = (bytes: number) => [{ saved: { lines: 0, bytes } }] as unknown as Finding[];

describe('what stood in the way of something better, and is worth too little itself, makes room for it', () => {
  const poor = choiceOf(large);
  test.each<[string, { poor: Generalised[]; added: Finding[]; before: number; after: number }, number, number]>([
    ['where all of it saves more', { poor: [poor], added: [large], before: 400, after: 500 }, 500, 2],
    ['but not where that saves less', { poor: [poor], added: [large], before: 400, after: 300 }, 400, 2],
    ['nor where nothing else is chosen', { poor: [poor], added: [], before: 400, after: 500 }, 400, 1],
    ['nor for what saves nothing by itself', { poor: [poor], added: [small], before: 400, after: 500 }, 400, 1],
    ['nor where its places are few', { poor: [poor], added: [large], before: 40_000, after: 50_000 }, 40_000, 1],
    ['and nothing is asked where nothing is poor', { poor: [], added: [large], before: 400, after: 500 }, 400, 1],
  ])('%s', (_, { poor, added, before, after }, saved, times) => {
    const others = { before: [], after: [] };
    const next = { chosen: added.map(choiceOf), others: others.after } as unknown as ChosenAlike;
    const first = { chosen: [], others: others.before, without: () => next, savedAlone } as unknown as ChosenAlike;
    let asked = 0;
    const recommended = recommendedAmong(first, (choice): Recommended => {
      asked++;
      return choice === first
        ? { findings: saving(before), dropped: [], poor }
        : { findings: saving(after), dropped: [], poor: [] };
    });
    expect(recommended.findings[0]!.saved.bytes).toBe(saved);
    expect(recommended.others).toBe(saved === after ? others.after : others.before);
    expect(asked).toBe(times);
  });
});

test('what was chosen in place of it, and is worth too little too, makes room again however few its places are', () => {
  const [first, second, third] = [large, small, large].map(choiceOf) as [Generalised, Generalised, Generalised];
  const chosenOf = (chosen: Generalised[], next: ChosenAlike | null) =>
    ({ chosen, others: [], without: () => next, savedAlone }) as unknown as ChosenAlike;
  const last = chosenOf([third], null);
  const middle = chosenOf([choiceOf(large), second], last);
  const answers = new Map<ChosenAlike, Recommended>([
    [middle, { findings: saving(90_000), dropped: [], poor: [second] }],
    [last, { findings: saving(90_500), dropped: [], poor: [] }],
  ]);
  const recommended = recommendedAmong(
    chosenOf([first], middle),
    (choice) => answers.get(choice) ?? { findings: saving(400), dropped: [], poor: [first] },
  );
  expect(recommended.findings[0]!.saved.bytes).toBe(90_500);
});
