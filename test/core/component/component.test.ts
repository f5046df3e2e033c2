/** The component file: its interface, placeholders, blocks, slots, and what a use of it expands to. */
import { describe, expect, test } from '@jest/globals';
import { evaluate, isSpelled, parseExpression } from '../../../src/core/component/expression.js';
import { expandPage, parsePage, Problem, readComponents } from '../../../src/index.js';

/** Expands `use` on page `path` with components given by name → [interface, template]. */
function expand(use: string, components: Record<string, [string, string]>, path = 'p.html') {
  const registry = readComponents(
    Object.entries(components).map(([name, [props, body]]) => ({
      path: `components/${name}.html`,
      source: `<template component="${name}">\n  ${props}\n\n  ${body}\n</template>\n`,
    })),
  );
  return expandPage(parsePage(path, use), registry);
}

const one = (use: string, props: string, body: string, path?: string) =>
  expand(use, { 'x-card': [props, body] }, path).text;

describe('expressions', () => {
  const scope = new Map<string, ReturnType<typeof evaluate>>([
    ['state', { value: 'late', raw: 'late' }],
    ['flag', true],
    ['none', null],
    ['boat', new Map([['name', { value: 'Tern', raw: 'Tern' }]])],
  ]);
  test.each([
    ['state', 'late'],
    ['boat.name', 'Tern'],
    ['boat.name.more', null],
    ['missing', null],
    ["state === 'late'", true],
    ['state !== "late"', false],
    ["none ?? 'else'", 'else'],
    ["flag ? 'yes' : 'no'", 'yes'],
    ["none ? 'a' : state === 'late' ? 'b' : 'c'", 'b'],
    ["(none ?? state) === 'late'", true],
    ["'it\\'s'", "it's"],
    ['null', null],
    ['true', true],
  ])('%s is %j', (source, expected) => {
    const value = evaluate(parseExpression(source), scope);
    expect(isSpelled(value) ? value.value : value).toBe(expected);
  });

  test.each([
    ['a +', /"\+" cannot stand/],
    ['a b', /"b" is one too many/],
    ['a ? b', /":" is missing/],
    ['a.', /a name is missing after "\."/],
    ['', /a name or a value is missing/],
    ['alert(x)', /"\(" is one too many/],
  ])('%s is refused', (source, message) => {
    expect(() => parseExpression(source)).toThrow(message);
  });
});

describe('expanding', () => {
  const heading = '<meta prop="heading" type="text">';
  test.each<[string, string, string, string, string]>([
    [
      'text is escaped',
      '<x-card heading="a &lt;b&gt; &amp;c;"></x-card>',
      heading,
      '<h2>{{heading}}</h2>',
      '<h2>a &lt;b&gt; &amp;c;</h2>',
    ],
    [
      'spelling travels',
      '<x-card heading="&copy; R&D"></x-card>',
      heading,
      '<h2 title="{{heading}}">{{heading}}</h2>',
      '<h2 title="&copy; R&D">&copy; R&D</h2>',
    ],
    [
      'quotes are kept apart',
      `<x-card heading='say "so"'></x-card>`,
      heading,
      `<h2 data-a="{{heading}}" data-b='{{heading}}'>{{heading}}</h2>`,
      `<h2 data-a="say &quot;so&quot;" data-b='say "so"'>say "so"</h2>`,
    ],
    [
      'a default fills in',
      '<x-card></x-card>',
      '<meta prop="heading" type="text" default="Boats &amp; co">',
      '<h2>{{heading}}</h2>',
      '<h2>Boats &amp; co</h2>',
    ],
    [
      'a whole attribute goes with null',
      '<x-card></x-card>',
      '<meta prop="link" type="url" optional>',
      '<a  href="{{link}}" id="z">x</a>',
      '<a id="z">x</a>',
    ],
    [
      'a flag comes bare',
      '<x-card open></x-card>',
      '<meta prop="open" type="flag">',
      '<details open="{{open}}">x</details>',
      '<details open>x</details>',
    ],
    [
      'a flag goes',
      '<x-card></x-card>',
      '<meta prop="open" type="flag">',
      '<details open="{{open}}">x</details>',
      '<details>x</details>',
    ],
    [
      'when and unless',
      '<x-card heading="n"></x-card>',
      heading,
      '<p><template when="heading"><b>{{heading}}</b></template><template unless="heading">-</template></p>',
      '<p><b>n</b></p>',
    ],
    [
      'a literal brace',
      '<x-card></x-card>',
      '',
      '<p data-x="{{\'{{\'}}">{{"{{"}} x }}</p>',
      '<p data-x="{{">{{ x }}</p>',
    ],
    [
      'scripts are left alone',
      '<x-card></x-card>',
      '',
      '<p>x</p><script>"{{x}}"</script>',
      '<p>x</p><script>"{{x}}"</script>',
    ],
    [
      'a template of the user passes',
      '<x-card heading="h"></x-card>',
      heading,
      '<template id="t"><i>{{heading}}</i></template>',
      '<template id="t"><i>h</i></template>',
    ],
    [
      'content fills the slot to the last space',
      '<x-card> a <b>b</b>  </x-card>',
      '',
      '<p><slot>empty</slot></p>',
      '<p> a <b>b</b>  </p>',
    ],
    ['fallback content', '<x-card></x-card>', '', '<p><slot>empty</slot></p>', '<p>empty</p>'],
    [
      'named slots',
      '<x-card><template slot="foot"><i>f</i></template>rest</x-card>',
      '',
      '<p><slot></slot></p><slot name="foot"></slot>',
      '<p>rest</p><i>f</i>',
    ],
    [
      'a list',
      '<x-card><script type="application/json" slot="stops">[{"place":"Mew <b>","time":"7"},{"place":"Hallow","time":"8"}]</script></x-card>',
      '<meta prop="stops" type="list"><meta prop="stops.place" type="text">',
      '<ol><template each="stop" of="stops"><li>{{stop.place}} {{stop.time}}</li></template></ol>',
      '<ol><li>Mew &lt;b&gt; 7</li><li>Hallow 8</li></ol>',
    ],
    [
      'the template form',
      '<table><tr><td>1</td></tr><template use="x-card" heading="2"></template></table>',
      heading,
      '<tr><td>{{heading}}</td></tr>',
      '<table><tr><td>1</td></tr><tr><td>2</td></tr></table>',
    ],
    [
      'no use, no change',
      '<P Class=a>{{heading}}<x-other></x-other>',
      heading,
      '<h2>{{heading}}</h2>',
      '<P Class=a>{{heading}}<x-other></x-other>',
    ],
  ])('%s', (_, use, props, body, expected) => {
    expect(one(use, props, body)).toBe(expected);
  });

  test('lines take the indentation of the place and the line ends of the page; preformatted ones do not', () => {
    const body = '<div>\n    <p>a</p>\n\n    <pre>\n x\n  y</pre>\n  </div>';
    expect(one('<main>\r\n\t<x-card></x-card>\r\n</main>', '', body)).toBe(
      '<main>\r\n\t<div>\r\n\t  <p>a</p>\r\n\r\n\t  <pre>\n x\n  y</pre>\r\n\t</div>\r\n</main>',
    );
  });

  test('a block on lines of its own comes and goes with them', () => {
    const body = `<ul>
    <li>first</li>
    <template when="heading">
      <li>
        {{heading}}
      </li>
    </template>
    <template each="stop" of="stops"><li>{{stop}}</li></template>
    <li>last <template when="heading"> <b>{{heading}}</b></template></li>
  </ul>`;
    const props = '<meta prop="heading" type="text" optional><meta prop="stops" type="list">';
    expect(one('<div>\n\t<x-card></x-card>\n</div>', props, body)).toBe(
      '<div>\n\t<ul>\n\t  <li>first</li>\n\t  <li>last </li>\n\t</ul>\n</div>',
    );
    const list = '<script type="application/json" slot="stops">["a", "b"]</script>';
    expect(one(`<div>\n  <x-card heading="h">${list}</x-card>\n</div>`, props, body)).toBe(
      '<div>\n  <ul>\n    <li>first</li>\n    <li>\n      h\n    </li>\n    <li>a</li>\n    <li>b</li>\n    <li>last  <b>h</b></li>\n  </ul>\n</div>',
    );
  });

  test('a block where white space shows keeps its lines, however deep the use stands', () => {
    const body = `<pre>tide\n<template when="late">  <b>late\n    by an hour</b></template>\n</pre>`;
    const use = (attributes: string) =>
      one(`<div>\n      <x-card${attributes}></x-card></div>`, '<meta prop="late" type="flag">', body);
    expect(use(' late')).toBe('<div>\n      <pre>tide\n  <b>late\n    by an hour</b>\n</pre></div>');
    expect(use('')).toBe('<div>\n      <pre>tide\n\n</pre></div>');
  });

  test('a URL that the template starts is relative to the component file, one that a prop starts to the page', () => {
    const body =
      '<a href="../fares.html?x#y"><img src="../img/{{name}}.svg" srcset="../img/a.png 1x, https://b.example/c.png 2x"></a><a href="{{link}}">x</a>';
    const props = '<meta prop="name" type="text"><meta prop="link" type="url">';
    const use = '<x-card name="tern" link="tern.html"></x-card>';
    const image = (to: string) =>
      `<a href="${to}fares.html?x#y"><img src="${to}img/tern.svg" srcset="${to}img/a.png 1x, https://b.example/c.png 2x"></a><a href="tern.html">x</a>`;
    expect(one(use, props, body, 'index.html')).toBe(image(''));
    expect(one(use, props, body, 'boats/a/tern.html')).toBe(image('../../'));
    expect(one(`<base href="../">${use}`, props, body, 'boats/tern.html')).toBe(`<base href="../">${image('')}`);
  });

  test('components use components, in templates and in slots, each line where it belongs', () => {
    const components: Record<string, [string, string]> = {
      'x-list': [
        '<meta prop="first" type="text">',
        '<ul>\n    <template use="x-item" label="{{first}}!"></template>\n    <slot></slot>\n  </ul>',
      ],
      'x-item': ['<meta prop="label" type="text">', '<li>\n    {{label}}\n  </li>'],
    };
    const {
      text,
      uses,
      components: took,
    } = expand('<div>\n  <x-list first="a"><template use="x-item" label="b"></template></x-list>\n</div>', components);
    expect(text).toBe('<div>\n  <ul>\n    <li>\n      a!\n    </li>\n    <li>\n      b\n    </li>\n  </ul>\n</div>');
    expect(uses.map(({ component }) => component)).toEqual(['x-list']);
    expect([...took].sort()).toEqual(['x-item', 'x-list']);
  });

  test('what is wrong with a use is told with its place', () => {
    const props = '<meta prop="state" type="choice" choices="calm late"><meta prop="stops" type="list">';
    const use =
      '<p>\n <x-card state="odd" sate="x"><script type="application/json" slot="stops">[</script></x-card><x-card></x-card>';
    const line = use.split('\n')[1]!;
    const { problems } = expand(use, { 'x-card': [props, '<b>{{state}}</b>'] });
    expect(problems.map(({ kind, place }) => `${kind} ${place.line}:${place.column}`).sort()).toEqual([
      `bad-list 2:${line.indexOf('[') + 1}`,
      `missing-prop 2:${line.lastIndexOf('<x-card>') + 1}`,
      'unknown-choice 2:2',
      'unknown-prop 2:22',
    ]);
  });
});

describe('component files that cannot be read', () => {
  const file = (source: string, path = 'components/x-card.html') => ({ path, source });
  test.each([
    [
      'two templates',
      '<template component="x-card"></template>\n<template component="x-card"></template>',
      /two templates/,
      2,
    ],
    ['another name', '<template component="x-other"></template>', /is not the name/, 1],
    ['no hyphen', '<template component="card"></template>', /is not the name/, 1],
    ['not closed', '<template component="x-card"><p>', /not closed/, 1],
    [
      'no such type',
      '<template component="x-card">\n<meta prop="a" type="string"></template>',
      /"string" is no type/,
      2,
    ],
    ['a prop twice', '<template component="x-card">\n<meta prop="a">\n<meta prop="a"></template>', /stands twice/, 3],
    ['a bad name', '<template component="x-card"><meta prop="Ä"></template>', /cannot be a prop's name/, 1],
    ['a bad expression', '<template component="x-card">\n\n<p>{{a b}}</p></template>', /cannot be read/, 3],
    ['an open placeholder', '<template component="x-card"><p>{{a</p></template>', /not closed/, 1],
    [
      'each without of',
      '<template component="x-card"><template each="a"></template></template>',
      /a name and a list/,
      1,
    ],
    [
      'a prop that is an attribute of every element',
      '<template component="x-card">\n<meta prop="title"><b>{{title}}</b></template>',
      /cannot be called title/,
      2,
    ],
    [
      'two props that differ in hyphens only',
      '<template component="x-card">\n<meta prop="sailing-time">\n<meta prop="sailingtime"><b></b></template>',
      /sailing-time and sailingtime differ/,
      3,
    ],
    ['a use of itself', '<template component="x-card"><x-card></x-card></template>', /uses itself: x-card → x-card/, 1],
  ])('%s', (_, source, message, line) => {
    let problem: unknown;
    try {
      readComponents([file(source)]);
    } catch (error) {
      problem = error;
    }
    expect(problem).toBeInstanceOf(Problem);
    expect(problem).toMatchObject({
      message: expect.stringMatching(message),
      hint: expect.any(String),
      exit: 2,
      place: { path: 'components/x-card.html', line },
    });
  });

  test('a name that HTML keeps for itself', () => {
    const source = '<template component="font-face"></template>';
    expect(() => readComponents([file(source, 'components/font-face.html')])).toThrow(/cannot be called font-face/);
  });

  test('two files of one name', () => {
    const source = '<template component="x-card"></template>';
    expect(() => readComponents([file(source), file(source, 'components/more/x-card.html')])).toThrow(
      /two files define/,
    );
  });

  test('a use that is not closed', () => {
    const registry = readComponents([file('<template component="x-card"><b>x</b></template>')]);
    expect(() => expandPage(parsePage('p.html', '<div>\n<x-card>\n</div>'), registry)).toThrow(
      /the use of x-card is not closed/,
    );
  });
});

describe('what has no end, or nearly none', () => {
  const many = (count: number, inner: (next: string) => string) =>
    Array.from({ length: count }, (_, i) => ({
      path: `components/c-${i}.html`,
      source: `<template component="c-${i}"><div>${i < count - 1 ? inner(`<c-${i + 1}></c-${i + 1}>`) : 'x'}</div></template>`,
    }));
  const told = (work: () => unknown) => {
    try {
      work();
    } catch (error) {
      return error instanceof Problem ? `${error.place!.path}: ${error.message}` : String(error);
    }
    return 'nothing';
  };

  test('components that stand in each other, and elements in one, are read to a depth that is told', () => {
    expect(told(() => readComponents(many(200, (next) => next)))).toBe('nothing');
    for (const order of [many(3000, (next) => next), many(3000, (next) => next).reverse()])
      expect(told(() => readComponents(order))).toMatch(
        /^components\/c-\d+\.html: more than 200 components stand in each/,
      );
    const deep = `<template component="c-0">${'<i>'.repeat(5000)}${'</i>'.repeat(5000)}</template>`;
    expect(told(() => readComponents([{ path: 'components/c-0.html', source: deep }]))).toMatch(/c-0.*1000 deep/);
  });

  test('a page that doubles with each of them, or with each list in a list, is refused where it becomes too large', () => {
    const page = (body: string) => parsePage('a.html', `<!DOCTYPE html><html><body>${body}</body></html>`);
    const doubling = readComponents(many(28, (next) => next + next));
    expect(told(() => expandPage(page('<c-0></c-0>'), doubling))).toMatch(
      /^components\/c-\d+\.html: the page becomes too/,
    );
    expect(expandPage(page('<c-20></c-20>'), doubling).uses).toHaveLength(1);
    const small = Object.assign(doubling, { maxPageSize: 1000 });
    expect(expandPage(page('<c-26></c-26>'), small).uses).toHaveLength(1);
    expect(told(() => expandPage(page('<c-20></c-20>'), small))).toMatch(/too large here: more than 1000 characters/);
    const each = '<template each="a" of="rows">'.repeat(5);
    const source = `<template component="c-0"><meta prop="rows" type="list"><meta prop="rows.a" type="text">${each}<p>x</p>${'</template>'.repeat(5)}</template>`;
    const lists = readComponents([{ path: 'components/c-0.html', source }]);
    const rows = JSON.stringify(Array.from({ length: 300 }, () => ({ a: '1' })));
    const use = `<c-0><script type="application/json" slot="rows">${rows}</script></c-0>`;
    expect(told(() => expandPage(page(use), lists))).toMatch(/^components\/c-0\.html: the page becomes too large/);
  });
});
