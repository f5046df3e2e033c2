/** Random stylesheets and random markup that they dress, with two components in it. */
import fc from '../../arbitrary/seeded.js';

export const components = [
  ['x-card', '<div class="card a"><p class="title b">t</p><slot></slot></div>'],
  ['x-item', '<p class="item"><span class="c"></span><b>b</b></p>'],
].map(([name, body]) => ({
  path: `components/${name!}.html`,
  source: `<template component="${name!}">\n  ${body!}\n</template>\n`,
}));

/** `on` and `off` stand on no page: only scripts add them */
export const classes = ['card', 'title', 'title', 'title', 'item', 'item', 'a', 'b', 'b', 'c', 'd', 'on', 'off'];
const one = fc.constantFrom(...classes).map((word) => [word]);
const compound = fc
  .tuple(
    fc.constantFrom('', '', '', '', 'div', 'p', 'span', '*'),
    fc.oneof(
      { weight: 4, arbitrary: one },
      { weight: 1, arbitrary: fc.tuple(one, one).map((pair) => [...new Set(pair.flat())]) },
    ),
    fc.constantFrom(
      '',
      '',
      '',
      '',
      '',
      '',
      ':first-child',
      ':last-child',
      ':nth-child(2)',
      ':empty',
      ':hover',
      ':not(.a)',
      ':is(.a,p)',
      ':where(.b,.c)',
    ),
  )
  .map(([tag, words, pseudo]) => `${tag}${words.map((word) => `.${word}`).join('')}${pseudo}`);
export const selector = fc
  .tuple(
    fc.oneof(
      { weight: 2, arbitrary: fc.constant([]) },
      {
        weight: 1,
        arbitrary: fc.array(fc.tuple(compound, fc.constantFrom(' ', ' ', '>', '+', '~')), { maxLength: 2 }),
      },
    ),
    compound,
    fc.constantFrom('', '', '', '::before'),
  )
  .map(([lead, last, pseudo]) => lead.map(([one, way]) => `${one}${way}`).join('') + last + pseudo);
const declaration = fc
  .tuple(
    fc.constantFrom(
      'color:red',
      'color:red',
      'color:blue',
      'color:blue',
      'margin:0',
      'margin-left:1px',
      'border-top:0',
      'border-color:red',
    ),
    fc.constantFrom('', '', '', '!important'),
  )
  .map(([text, important]) => text + important);
const rule = fc
  .tuple(
    fc.oneof(
      { weight: 3, arbitrary: selector.map((each) => [each]) },
      { weight: 1, arbitrary: fc.array(selector, { minLength: 2, maxLength: 2 }) },
    ),
    fc.array(declaration, { minLength: 1, maxLength: 3 }),
    fc.boolean(),
  )
  .map(
    ([list, declarations, note]) => `${note ? '/* note */\n' : ''}${list.join(', ')} { ${declarations.join('; ')} }`,
  );
const around = fc.constantFrom('', '', '', '@media (m1)', '@media (m2)', '@layer l1', '@layer l2', '@supports (s1)');
const block = fc
  .tuple(around, fc.array(rule, { minLength: 1, maxLength: 3 }), fc.constantFrom('\n', '\n\n', ''))
  .map(([at, rules, gap]) =>
    at === '' ? rules.join(gap) + gap : `${at} {\n${rules.map((each) => `  ${each}\n`).join('')}}${gap}`,
  );
/** An own rule on either side of a shared one, each beaten by it or beating it: they cannot stand together. */
const crossing = fc
  .constantFrom('title', 'item')
  .map((word) => `.${word} { color: red }\n.${word}, .d { color: blue; margin: 1px }\n.${word} { margin: 2px }\n`);
export const sheet = fc
  .array(fc.oneof({ weight: 12, arbitrary: block }, { weight: 1, arbitrary: crossing }), {
    minLength: 3,
    maxLength: 14,
  })
  .map((blocks) => blocks.join(''));

export const { tree } = fc.letrec<{ tree: string; node: string }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small' },
    fc.constantFrom('<span class="c d"></span>', '<x-item></x-item>', '<p class="a b">x</p>'),
    fc
      .tuple(fc.constantFrom('div', 'div class="a"', 'div class="card d"', 'x-card'), tie('tree'))
      .map(([open, inner]) => `<${open}>${inner}</${open.split(' ')[0]!}>`),
  ),
  tree: fc.array(tie('node'), { maxLength: 4 }).map((nodes) => nodes.join('')),
}));
