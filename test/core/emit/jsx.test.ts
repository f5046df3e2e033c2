/** How components and pages are said in JSX: one example for each thing that bites by hand. */
import { describe, expect, test } from '@jest/globals';
import { readComponents } from '../../../src/index.js';
import { rendered, typeErrors } from './rendered.js';
import { siteOf } from './site-of.js';

/** The modules of one component and one page, on one line each. */
async function emitted(
  template: string,
  meta: string,
  uses: string,
  options = {},
  more: [name: string, source: string][] = [],
) {
  const sources = [['x-card', `<template component="x-card">${meta}\n${template}\n</template>`], ...more];
  const registry = readComponents(
    sources.map(([name, source]) => ({ path: `components/${name!}.html`, source: source! })),
  );
  const page = `<!DOCTYPE html><body>${uses}</body>`;
  const { files, remarks, different } = await rendered(siteOf({ 'p.html': page }, registry), {
    jsxImport: 'preact',
    ...options,
  });
  const flat = (path: string) => (files.get(path) ?? '').replace(/\s+/g, ' ');
  return { card: flat('components/XCard.tsx'), page: flat('pages/PPage.tsx'), flat, files, remarks, different };
}

const prop = (name: string, type = 'text', more = '') => `<meta prop="${name}" type="${type}" ${more}>`;

describe('types of props', () => {
  test.each<[string, string, string, string, RegExp]>([
    ['a choice is a union', prop('t', 'choice', 'choices="a b"'), '{{t}}', '<x-card t="a"></x-card>', /t: "a" \| "b";/],
    [
      'unless some use gives another text',
      prop('t', 'choice', 'choices="a b"'),
      '{{t}}',
      '<x-card t="c"></x-card>',
      /t: string;/,
    ],
    ['a number is spelled as one', prop('t', 'number'), '{{t}}', '<x-card t="12"></x-card>', /t: number;/],
    ['else it is a text', prop('t', 'number'), '{{t}}', '<x-card t="012"></x-card>', /t: string;/],
    [
      'a flag is false by default',
      prop('t', 'flag'),
      '<template when="t">x</template>',
      '<x-card t></x-card>',
      /t\?: boolean; \} .*t = false/,
    ],
    ['optional', prop('t', 'text', 'optional'), '{{t}}', '<x-card></x-card>', /t\?: string;/],
    ['what no use leaves out is required', prop('t'), '{{t}}', '<x-card t="a"></x-card>', /t: string;/],
    ['what one leaves out is not', prop('t'), '{{t}}', '<x-card></x-card>', /t\?: string;/],
    [
      'a default stands in the parameters',
      prop('t', 'text', 'default="it’s"'),
      '{{t}}',
      '<x-card></x-card>',
      /t\?: string; \} .*t = "it’s"/,
    ],
    [
      'a style is an object',
      prop('t'),
      '<i style="{{t}}">x</i>',
      '<x-card t="color: red"></x-card>',
      /t: Record<string, string>;/,
    ],
    [
      'a number in a style is text, and no length in pixels',
      prop('t', 'number'),
      '<i style="top: {{t}}; left: {{t}}%">x</i>',
      '<x-card t="100"></x-card>',
      /style=\{\{ top: `\$\{t\}`, left: `\$\{t\}%` \}\}/,
    ],
    [
      'one of two styles is one of two objects, and none is none',
      prop('t', 'flag'),
      `<i style="{{t ? 'top: 1px' : 'top: 2px'}}">x</i><b style="{{t ? null : 'top: 3px'}}">y</b>`,
      '<x-card t></x-card><x-card></x-card>',
      /style=\{t \? \{ top: "1px" \} : \{ top: "2px" \}\}.*style=\{t \? undefined : \{ top: "3px" \}\}/,
    ],
    [
      'a style that is known only when it is rendered is read there',
      prop('t', 'text', 'optional') + prop('u', 'list') + prop('u.v'),
      `<i style="{{t}}; top: 1px">x</i><template each="w" of="u"><b style="{{w.v}}">y</b></template>`,
      `<x-card t="--A: url(data:;b,x); -webkit-box-flex: 1; BORDER-TOP: 1px/* ; */">
        <script type="application/json" slot="u">[{ "v": "content: ';'; color: red" }, { "v": "x" }]</script></x-card>
        <x-card></x-card>`,
      /style=\{styleObject\(`\$\{t \?\? ""\}; top: 1px`\)\}.*style=\{styleObject\(w\.v\)\}/,
    ],
    [
      'about is a comment',
      prop('t', 'text', 'about="What it says */"'),
      '{{t}}',
      '<x-card t="a"></x-card>',
      /\/\*\* What it says \* \/ \*\/ t: string;/,
    ],
  ])('%s', async (_, meta, content, use, expected) => {
    const { card, different, files } = await emitted(`<p>${content}</p>`, meta, use);
    expect(card).toMatch(expected);
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });

  test('a list is an array of records of their own, with a field as key where one tells them apart', async () => {
    const meta =
      prop('stops', 'list') +
      prop('stops.at-time') +
      prop('stops.late', 'flag') +
      prop('stops.note', 'text', 'optional');
    const list = (json: string) => `<x-card><script type="application/json" slot="stops">${json}</script></x-card>`;
    const row = '<li>{{s.atTime}}<template when="s.late"><b>late</b></template>{{s.note}}</li>';
    const template = `<ol><template each="s" of="stops">${row}</template></ol>`;
    const { card, page, files, different } = await emitted(
      template,
      meta,
      list('[{"at-time":"1","late":true},{"at-time":"2","note":"n"}]'),
    );
    expect(card).toContain('export interface XCardStop { atTime: string; late?: boolean; note?: string; }');
    expect(card).toMatch(/stops: readonly XCardStop\[\];.*stops\.map\(\(s\) => \( <li key=\{s\.atTime\}>/);
    expect(page).toMatch(
      /const stops: readonly XCardStop\[\] = \[ \{ atTime: "1", late: true \}, \{ atTime: "2", note: "n" \}, \];/,
    );
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
    const same = await emitted(template, meta, list('[{"at-time":"1"},{"at-time":"1"}]'));
    expect(same.card).toContain('stops.map((s, index) => ( <li key={index}>');
    const silent = await emitted(
      '<ol><template each="s" of="stops"><li>stop s</li></template></ol>',
      meta,
      list('[{}]'),
    );
    expect(silent.card).toContain('stops.map((_, index) => ( <li key={index}>');
    expect(typeErrors(silent.files, 'preact')).toEqual([]);
  });
});

describe('spelling', () => {
  test.each<[string, string, RegExp, object?]>([
    ['class and for', '<label class="a" for="b">x</label>', /<label className="a" htmlFor="b">/],
    ['or as in HTML', '<label class="a" for="b">x</label>', /<label class="a" for="b">/, { attributes: 'html' }],
    ['void tags', '<p>a<br>b<img src="i.svg" alt=""></p>', /a ?<br \/> ?b ?<img src="i\.svg" alt="" \/>/],
    [
      'boolean and enumerated attributes',
      '<p><input disabled maxlength="3"><b draggable="true" contenteditable="false">x</b></p>',
      /<input disabled maxLength=\{3\} \/>.*draggable/,
    ],
    ['what each runtime spells in its own way', '<p spellcheck="false">x</p>', /<p spellcheck=\{false\}>/],
    [
      'or as all of them set it',
      '<p spellcheck="false">x</p>',
      /\{\.\.\.\(\{ spellCheck: "false" \} as object\)\}/,
      { jsxImport: null },
    ],
    [
      'the value that a user may change',
      '<p><input value="a"><textarea>b</textarea></p>',
      /<input defaultValue="a" \/>.*<textarea defaultValue=\{?"b"/,
    ],
    [
      'style',
      '<p style="--a: 1; -webkit-box-flex: 2; margin-top: 3px; float: left">x</p>',
      /style=\{ ?\{ "--a": "1", WebkitBoxFlex: "2", marginTop: "3px", float: "left",? \}/,
    ],
    ['what every object has', '<p constructor="a">toString<b>constructor</b></p>', /> ?toString ?<b>constructor<\/b>/],
    [
      'attributes that only types lack',
      '<table><tr><td valign="top">a</td></tr></table>',
      /<td \{\.\.\.\(\{ vAlign: "top" \} as object\)\}>/,
    ],
    [
      'names of drawings',
      '<svg viewBox="0 0 1 1" stroke-width="2" xlink:href="#a"><clippath id="c"></clippath></svg>',
      /viewBox="0 0 1 1" stroke-width="2".*<clipPath id="c"/,
    ],
    [
      'names of drawings for other runtimes',
      '<svg stroke-width="2"><g fill-opacity="0"></g></svg>',
      /<svg strokeWidth="2"> ?<g fillOpacity="0"/,
      { jsxImport: null },
    ],
    ['data and aria', '<p data-a-b="1" aria-label="x">y</p>', /data-a-b="1" aria-label="x"/],
    ['braces and signs in text', '<p>a { b } &lt; &amp;</p>', /a \{"\{"\} b \{"\}"\} &lt; &amp;/],
    ['quotes in values', `<p title='"'>x</p><p title="&quot;'">y</p>`, /title='"'.*title=\{?["'].*\\?'/],
    ['no-break spaces', '<p>a&nbsp;b</p>', /a&nbsp;b/],
    ['comments', '<p>x<!-- what */ --></p>', /\{\/\* what \* \/ \*\/\}/],
    [
      'a script in the middle',
      '<p>x</p><script>a < "b"</script><p>y</p>',
      /<script dangerouslySetInnerHTML=\{\{ __html: 'a < "b"' \}\} \/>/,
    ],
    [
      'an element that JSX has no name for',
      '<p><x:y>a</x:y></p>',
      /const XYTag = "x:y" as string as "div";.*<XYTag>a<\/XYTag>/,
    ],
    [
      'attributes that types do not know',
      '<p foo="1" @click="x">y</p>',
      /\{\.\.\.\(\{ foo: "1", "@click": "x" \} as object\)\}/,
    ],
    [
      'attributes that are called as JSX calls others',
      '<label className="a" htmlFor="b">x</label><svg><path strokeWidth="2"></path></svg>',
      /\{ classname: "a", htmlfor: "b" \}.*\{ strokewidth: "2" \}/,
    ],
  ])('of %s', async (_, body, expected, options = {}) => {
    const { page, files, different } = await emitted('<p>x</p>', '', body, options);
    expect(page).toMatch(expected);
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });
});

describe('components', () => {
  test('several roots are a fragment, opposites one choice, absent attributes undefined', async () => {
    const meta = prop('t', 'text', 'optional') + prop('f', 'flag');
    const template =
      '<p id="{{t}}">a</p><template when="f"><b>yes</b></template><template unless="f"><i>no</i></template>';
    const { card, different } = await emitted(template, meta, '<x-card></x-card><x-card t="1" f></x-card>');
    expect(card).toMatch(/<> <p id=\{t\}>a<\/p> \{f \? <b>yes<\/b> : <i>no<\/i>\} <\/>/);
    expect(different).toEqual([]);
  });

  test('names that are taken get others', async () => {
    const meta = ['key', 'ref', 'children', 'default', 'page-folder'].map((each) => prop(each)).join('');
    const { card, page, files, different } = await emitted(
      '<p>{{key}}{{ref}}{{children}}{{default}}{{pageFolder}}<slot></slot></p>',
      meta,
      '<x-card key="1" ref="2" children="3" default="4" page-folder="5">6</x-card>',
    );
    expect(card).toMatch(/keyValue: string; refValue: string; childrenValue: string; default: string;/);
    expect(card).toMatch(/default: defaultValue/);
    expect(page).toMatch(/<XCard keyValue="1" refValue="2" childrenValue="3" default="4"/);
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });

  test('a prop is taken where it is asked for, not where its name stands as a word', async () => {
    const { card, files, different } = await emitted(
      '<div>spaced<b>b</b><template when="spaced">\n</template></div>',
      prop('spaced', 'flag'),
      '<x-card></x-card><x-card spaced></x-card>',
    );
    expect(card).toContain('spaced?: boolean;');
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });

  test('import what they use, sorted, and no more; parts are children or props', async () => {
    const more: [string, string][] = ['b', 'a', 'c'].map((letter) => [
      `x-${letter}`,
      `<template component="x-${letter}"><p><slot></slot><slot name="end-part">none</slot></p></template>`,
    ]);
    const { card, flat, files, different } = await emitted(
      '<div><x-b>1</x-b><x-a><b>2</b><template slot="end-part">3</template></x-a></div>',
      '',
      '<x-card></x-card><x-c></x-c>',
      {},
      more,
    );
    expect(card).toMatch(/import \{ XA \} from "\.\/XA"; import \{ XB \} from "\.\/XB"; export/);
    expect(card).toMatch(/<XB>1<\/XB> <XA endPart="3"> <b>2<\/b> <\/XA>/);
    expect(flat('components/XA.tsx')).toMatch(
      /children: ComponentChildren; endPart: ComponentChildren;.*\{endPart \?\? "none"\}/,
    );
    expect(flat('components/index.ts')).toBe(
      'export * from "./XA"; export * from "./XB"; export * from "./XC"; export * from "./XCard"; ',
    );
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });

  test('relative links lead where they led, from every folder', async () => {
    const registry = readComponents([
      {
        path: 'components/x-card.html',
        source:
          '<template component="x-card"><a href="../b.html?x#y"><img src="i.svg" alt=""></a><a href=".././sub/c.html">c</a></template>',
      },
    ]);
    const use = '<!DOCTYPE html><body><x-card></x-card></body>';
    const alone = await rendered(siteOf({ 'sub/p.html': use }, registry));
    expect(alone.files.get('components/XCard.tsx')).toMatch(
      /href="\.\.\/b\.html\?x#y"[^]*src="\.\.\/components\/i\.svg"[^]*href="\.\.\/sub\/c\.html"/,
    );
    const both = await rendered(siteOf({ 'sub/p.html': use, 'q.html': use }, registry), { jsxImport: 'preact' });
    expect(both.files.get('components/XCard.tsx')).toContain('href={relativeUrl(pageFolder, "b.html?x#y")}');
    expect([...alone.different, ...both.different]).toEqual([]);
    expect(typeErrors(both.files, 'preact')).toEqual([]);
  });

  test('handlers that vary are functions that uses give', async () => {
    const { card, page, flat, files } = await emitted(
      '<button onclick="{{press}}">x</button>',
      prop('press', 'handler'),
      `<x-card press="go(1)"></x-card><x-card press="go(2)"></x-card>`,
    );
    expect(card).toMatch(/press: Handler;.*onClick=\{press\}/);
    expect(page).toMatch(
      /import \{ pPress, pPress2 \} from "\.\.\/handlers";.*<XCard press=\{pPress\} \/> <XCard press=\{pPress2\} \/>/,
    );
    expect(flat('handlers.ts')).toMatch(/export function pPress\(event: HandledEvent\) \{ go\(1\); \}/);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });

  const [quay, count, open] = [prop('quay', 'text'), prop('count', 'number'), prop('open', 'flag')];
  test.each<[string, string, string | null]>([
    ["go('{{quay}}')", 'event, quay', '(event: HandledEvent, quay: string) { go(quay); }'],
    ["go('{{quay}}', '{{quay}}')", 'event, quay', '(event: HandledEvent, quay: string) { go(quay, quay); }'],
    ["go('to `{{quay}}.html')", 'event, quay', '(event: HandledEvent, quay: string) { go(`to \\`${quay}.html`); }'],
    ['go(`to {{quay}}`)', 'event, quay', '(event: HandledEvent, quay: string) { go(`to ${quay}`); }'],
    ['go({{count}} + 1)', 'event, count', '(event: HandledEvent, count: number) { go(count + 1); }'],
    ["quay('{{quay}}')", 'event, quay', '(event: HandledEvent, quay2: string) { quay(quay2); }'],
    ["go('{{count}}')", 'event, `${count}`', '(event: HandledEvent, count: string) { go(count); }'],
    [
      "return go('{{open ? 'a' : 'b'}}')",
      'event, open ? "a" : "b"',
      '(event: HandledEvent, value: string) { if (go(value) === false) event.preventDefault(); }',
    ],
    ["{{open ? null : 'go(1)'}}", 'open ? undefined : xCardClick', '(event: HandledEvent) { go(1); }'],
    ['go({{quay}})', '', null],
    ['go.{{count}}', '', null],
    ['go{{count}}(1)', '', null],
    [
      "go('{{quay}}{{count}}')",
      'event, quay, `${count}`',
      '(event: HandledEvent, quay: string, count: string) { go(`${quay}${count}`); }',
    ],
    ["go({ '{{quay}}': 1 })", '', null],
    ["go('{{quay}}'); {{quay}}()", '', null],
    ['go(/{{quay}}/)', '', null],
  ])('values in a handler are given to its function: %s', async (code, given, written) => {
    const { card, flat, files, remarks, different } = await emitted(
      `<button onclick="${code}">x</button>`,
      quay + count + open,
      '<x-card quay="Long Quay" count="7"></x-card><x-card quay="Old Pier" count="12" open></x-card>',
    );
    if (written === null) {
      expect(remarks.join()).toContain('the code of onclick is put together from values');
      expect(card).not.toContain('onClick');
    } else {
      expect(card).toContain(`onClick={${given.startsWith('event') ? `(event) => xCardClick(${given})` : given}}`);
      expect(flat('handlers.ts')).toContain(`export function xCardClick${written}`);
    }
    expect(different).toEqual([]);
    expect(typeErrors(files, 'preact')).toEqual([]);
  });
});
