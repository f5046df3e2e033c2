/** A value that is said in several places is one prop. */
import { expect, test } from '@jest/globals';
import { parsePage } from '../../../src/index.js';
import { componentOf } from '../component-of.js';

const boats = ['Tern', 'Eider', 'Gull', 'Auk', 'Petrel'];
const quays = 'It calls at every quay of the sound, wind and tide allowing, and always carries the mail.';
const propsOf = (write: (name: string, at: number) => string) => {
  const items = boats.map((name, at) => `<li class="boat"><p>${quays}</p>${write(name, at)}<b>${name}</b></li>`);
  const { file } = componentOf('.boat', [parsePage('index.html', `<ul>\n${items.join('\n')}\n</ul>`)]);
  return { props: [...file.matchAll(/prop="([\w-]+)"/g)].map(([, name]) => name), file };
};
const picture = (alt: string, at: number) => `<img src="${at}.svg" alt="${alt}">`;

test('what a part that some lack says with words of another is the same prop', () => {
  const { props, file } = propsOf((name, at) => (at === 2 ? '' : picture(`The ${name}`, at)));
  expect(props).toEqual(['picture', 'text']);
  expect(file).toContain('alt="The {{text}}"');
});

test.each<[string, (name: string, at: number) => string]>([
  ['where it says something else once', (name, at) => (at === 2 ? '' : picture(at === 1 ? 'A boat' : name, at))],
  ['where so few have it that it may be by accident', (name, at) => (at > 1 ? '' : picture(name, at))],
  ['where the attribute itself is left out', (name, at) => (at === 2 ? '<img src="2.svg">' : picture(name, at))],
])('but not %s', (_, write) => {
  expect(propsOf(write).props).toContain('alt');
});
