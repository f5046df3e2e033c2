/** The words of a site: what stylesheets say of them, against a second reading by css-tree, and what each is there for. */
import { describe, expect, test } from '@jest/globals';
import * as csstree from 'css-tree';
import fc from '../../arbitrary/seeded.js';
import { isSameButForSpace } from '../../../src/core/page/space.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { readWordRules } from '../../../src/core/words/rules.js';
import { nameIn, readVocabulary, type Role } from '../../../src/core/words/vocabulary.js';
import { elementsOf } from '../../../src/core/page/tree.js';

const all = { has: () => true };
const word = fc.constantFrom('quay', 'quay__name', 'mb-2', 'is-open', 'constructor', '__proto__', 'toString', 'w-50');
const compound = fc
  .tuple(
    fc.constantFrom('', 'a', 'li'),
    fc.array(word, { maxLength: 2 }),
    fc.constantFrom('', ':hover', '[title="a.b"]', '[title^="}"]'),
  )
  .map(([tag, words, end]) => `${tag}${words.map((each) => `.${each}`).join('')}${end}` || '*');
const selector = fc
  .array(fc.tuple(fc.constantFrom(' ', ' > ', ' + ', '~'), compound), { minLength: 1, maxLength: 3 })
  .map((parts) => parts.map(([combinator, each], i) => (i === 0 ? each : combinator + each)).join(''));
const declaration = fc.constantFrom(
  'margin: 0',
  'color: red',
  'color: red !important',
  'display: flex',
  '--gap: {x}',
  'content: "} .quay { left: 0 }"',
  'background: url(mark/quay.png)',
);
const rule = fc
  .tuple(fc.array(selector, { minLength: 1, maxLength: 3 }), fc.array(declaration, { minLength: 1, maxLength: 3 }))
  .map(([selectors, body]) => `${selectors.join(', ')} { ${body.join('; ')} }`)
  .chain((text) => fc.constantFrom(text, `/* it's not .mb-2 { left: 0 } */ ${text}`, `${text} /* " { */`));
const sheet = fc
  .array(fc.tuple(fc.boolean(), fc.array(rule, { minLength: 1, maxLength: 4 })), { maxLength: 4 })
  .map((groups) =>
    groups.map(([media, rules]) => (media ? `@media print { ${rules.join('\n')} }` : rules.join('\n'))).join('\n'),
  );

/** How many selectors have each word as their subject, and in how many it stands left of that. */
function countedByTree(css: string): Map<string, [rules: number, ancestor: number]> {
  const found = new Map<string, [number, number]>();
  csstree.walk(csstree.parse(css), {
    visit: 'Selector',
    enter(node) {
      const compounds: string[][] = [[]];
      for (const part of node.children.toArray())
        if (part.type === 'Combinator') compounds.push([]);
        else if (part.type === 'ClassSelector') compounds.at(-1)!.push(part.name);
      compounds.forEach((words, i) => {
        for (const each of words) {
          const counts = found.get(each) ?? [0, 0];
          counts[i === compounds.length - 1 ? 0 : 1]++;
          found.set(each, counts);
        }
      });
    },
  });
  return found;
}

describe('what stylesheets say', () => {
  test('is what a second reader counts, whatever the words are called', () => {
    fc.assert(
      fc.property(sheet, (css) => {
        const read = [...readWordRules([css], all)].map(([each, { rules, ancestor }]) => [each, [rules, ancestor]]);
        expect(new Map(read as [string, [number, number]][])).toEqual(countedByTree(css));
      }),
    );
  });

  test('of the words on the pages does not hang on which others there are', () => {
    fc.assert(
      fc.property(sheet, fc.uniqueArray(word), (css, words) => {
        const wanted = new Set<string>(words);
        const some = readWordRules([css], wanted);
        const rest = [...readWordRules([css], all)].filter(([each]) => wanted.has(each));
        expect(some).toEqual(new Map(rest));
      }),
    );
  });

  test('what stands in brackets, escapes and other at-rules is read as CSS has it', () => {
    const css = String.raw`@keyframes quay { from { margin: 0 } } .a\:b:not(.quay) { color: red } .pier { & .deck { color: red } }`;
    const read = readWordRules([css], all);
    expect([...read.keys()].sort()).toEqual(['a:b', 'deck', 'pier']);
  });
});

describe('what a word is there for', () => {
  const css = `.boat { border: 1px solid } .boat h3 { color: red } .boat__name { margin: 0 } .boat--old { opacity: 0.5 }
    .mb-1 { margin-bottom: 1px } .mb-2 { margin-bottom: 2px } .mb-3 { margin-bottom: 3px } .row { display: flex }`;
  const card = (name: string, more: string, inner: string) =>
    `<article class="boat${more} mb-${(name.length % 3) + 1}"><h3 class="boat__name">${name}</h3>${inner}</article>`;
  const body = ['Tern', 'Eider', 'Puffin', 'Gull']
    .map((name, i) =>
      card(
        name,
        i === 1 ? ' boat--old' : '',
        `<div class="row"><${i % 2 ? 'b' : 'i'}>${i}</${i % 2 ? 'b' : 'i'}><p>${name}</p></div>`,
      ),
    )
    .join('');
  const page = parsePage('p.html', `<!DOCTYPE html><body>${body}</body>`);

  test('blocks, parts, modifiers and utilities are told apart, and a correction is kept', () => {
    const vocabulary = readVocabulary([page], [css]);
    const roleOf = (each: string) => vocabulary.get(each)?.role;
    expect(['boat', 'boat__name', 'boat--old', 'mb-1', 'mb-2'].map(roleOf)).toEqual([
      'block',
      'part',
      'modifier',
      'utility',
      'utility',
    ]);
    const [article, heading] = ['article', 'h3'].map((tag) => elementsOf(page.root).find((each) => each.tag === tag)!);
    expect([nameIn(article!, vocabulary), nameIn(heading!, vocabulary)]).toEqual(['boat', 'boat__name']);
    const corrected = readVocabulary([page], [css], new Map([['boat', 'layout']]));
    expect(corrected.get('boat')).toMatchObject({ role: 'layout', why: 'the configuration says so' });
  });

  test('a word that only dresses what is inside of it is known to its stylesheet', () => {
    const notices = [1, 2, 3].map((n) => `<div class="notice"><p>Gale ${n}</p><p>${n} knots</p></div>`).join('');
    const vocabulary = readVocabulary(
      [parsePage('n.html', `<!DOCTYPE html><body>${notices}</body>`)],
      ['.notice p { margin: 0 } .notice > :first-child { color: red }'],
    );
    expect(vocabulary.get('notice')).toMatchObject({ role: 'block', rules: 0, inside: 2 });
  });

  test('one word alone is a state where it is called so, and others like its element have none', () => {
    const list = '<ul><li class="active">a</li><li>b</li><li class="last">c</li></ul><p class="open">d</p>';
    const vocabulary = readVocabulary([parsePage('n.html', `<!DOCTYPE html><body>${list}</body>`)], []);
    expect(['active', 'last', 'open'].map((each) => vocabulary.get(each)!.role)).toEqual(['state', 'hook', 'hook']);
  });

  test('a state is one beside words that start with it, and the first of several words a block, however its rules insist', () => {
    const links = [1, 2, 3, 4].map((n) => `<li${n === 1 ? ' class="active"' : ''}><p>${n}</p></li>`).join('');
    const lists = [1, 2].map((n) => `<ul class="harbour plain">${links}<li class="active-last"><p>${n}</p></li></ul>`);
    const css =
      '.active p { margin: 0 } .harbour { width: 9em !important } .harbour li, .harbour p { margin: 0 } .plain { margin: 0 !important }';
    const vocabulary = readVocabulary([parsePage('n.html', `<!DOCTYPE html><body>${lists.join('')}</body>`)], [css]);
    expect(['active', 'harbour', 'plain'].map((each) => vocabulary.get(each)!.role)).toEqual([
      'state',
      'block',
      'utility',
    ]);
  });

  test('icons are told apart by words that name nothing, and say nothing of what they stand in', () => {
    const shown = ['boat', 'quay', 'tide', 'bell'];
    const drawn = shown.map((each) => `.icon-${each}`).join(', ');
    const icons = `${drawn} { font-family: sound; font-style: normal; speak: none; line-height: 1; color: navy }
      .service { padding: 1em } .service h3 { color: navy } .buoy, .buoy-red, .buoy-green, .buoy-old { ${'font: serif; color: red; '.repeat(2)}}`;
    const services = shown.map(
      (each) => `<div class="service"><i class="icon-${each} icons"></i><h3>${each}</h3></div>`,
    );
    const buoys = ['red', 'green', 'old'].map((each) => `<i class="buoy buoy-${each}"></i>`);
    const site = parsePage('s.html', `<!DOCTYPE html><body>${services.join('')}${buoys.join('')}</body>`);
    const vocabulary = readVocabulary([site], [icons]);
    expect(shown.map((each) => vocabulary.get(`icon-${each}`)!.role)).toEqual(Array(4).fill('modifier'));
    expect(['service', 'buoy'].map((each) => vocabulary.get(each)!.role)).toEqual(['block', 'block']);
  });

  test('what is written with a condition or a value names nothing, whether a stylesheet knows it or not', () => {
    const lists = ['lg:menu', 'sm:w-1/2', 'p-[3px]', 'gap-1.5', '!flex'].map((word) => {
      return `<ul class="${word}"><li class="${word}-item"><b>Tern</b></li></ul>`;
    });
    const lister = parsePage('l.html', `<!DOCTYPE html><body>${lists.join('')}</body>`);
    const css = '.lg\\:menu { margin: 0 } .lg\\:menu .lg\\:menu-item, .lg\\:menu b { color: navy }';
    for (const sheets of [[], [css]])
      expect(new Set(Array.from(readVocabulary([lister], sheets).values(), ({ role }) => role))).toEqual(
        new Set(['utility']),
      );
  });

  describe('where stylesheets are not at hand', () => {
    const boats = ['Tern', 'Eider', 'Gull', 'Auk'].map((name, i) => {
      const [tone, gap] = [['calm', 'storm'][i % 2]!, ['near', 'far', 'wide', 'none'][i]!];
      return `<article class="boat tone-${tone} gap-${gap}"><h3 class="boat-name gap-wide">${name}</h3>
        <p class="boat-text tone-storm gap-near">It calls at every quay.</p><i class="loose gap-${gap}"></i>
        <div class="band"><${['b', 'u', 'em', 's'][i]}>${i}</${['b', 'u', 'em', 's'][i]}></div></article>`;
    });
    const fleet = parsePage('f.html', `<!DOCTYPE html><body>${boats.join('')}</body>`);

    test.each<[string, Role]>([
      ['boat', 'block'],
      ['boat-name', 'part'],
      ['gap-near', 'utility'],
      ['gap-none', 'utility'],
      ['band', 'layout'],
      ['loose', 'hook'],
    ])('%s is a %s by how it is used', (word, role) => {
      expect(readVocabulary([fleet], ['.other { margin: 0 }']).get(word)).toMatchObject({ role });
    });

    test('words that others derive from say as much for a block as their rules would', () => {
      const own = '.boat, .boat-name, .boat-text { color: navy } .boat h3, .boat p, .boat-name b { margin: 0 }';
      const rules = [own, '[class*=gap], .gap-near, .gap-far, .gap-wide, .gap-none, .tone-storm, .band { padding: 0 }'];
      const strengthOf = (sheets: string[]) => readVocabulary([fleet], sheets).get('boat')!.strength;
      expect(strengthOf([])).toBeGreaterThan(3);
      expect(Math.abs(strengthOf([]) - strengthOf(rules))).toBeLessThan(1);
    });
  });

  test('numbers make no names: of one element, or of what is a utility but for its number', () => {
    const boats = [17, 23, 40, 51].map((n) => `<div class="boat-${n} boat mb-${n}"><p><b>${n}</b></p></div>`).join('');
    const numbered = parsePage('n.html', `<!DOCTYPE html><body>${boats}${body}</body>`);
    const vocabulary = readVocabulary([numbered], [css]);
    expect(vocabulary.get('boat-17')).toMatchObject({ role: 'modifier' });
    expect(vocabulary.get('mb-17')).toMatchObject({ role: 'utility', rules: 0 });
  });
});

test('texts are the same but for white space when their words are', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', ' ', '\n', '\t') });
  const folded = (each: string) =>
    each
      .split(/[ \n\t]+/)
      .filter((part) => part !== '')
      .join(' ');
  fc.assert(
    fc.property(text, text, (one, other) => {
      expect(isSameButForSpace(one, other)).toBe(folded(one) === folded(other));
      expect(isSameButForSpace(one, ` ${one.replace(/ /g, '\n\n')} `)).toBe(true);
    }),
  );
});
