/** Modules with JSX, for all inputs: what is rendered is the page, whatever its texts and attributes hold. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { readComponents } from '../../../src/index.js';
import {
  DRAWING,
  ELEMENTS,
  GLOBAL,
  OWN_ATTRIBUTES,
  rolesOf,
  TRUTH,
  UNTYPED_IN_DRAWINGS,
  WORDS,
} from '../../../src/core/emit/tsx/tables.js';
import { tsx } from '../../../src/core/emit/tsx/index.js';
import type { ElementNode, EmitNode, EmitProp, EmittedFile, Piece } from '../../../src/core/emit/model.js';
import { sites } from '../../arbitrary/pages.js';
import { rendered, typeErrors } from './rendered.js';
import { hostileSite, liftedSite, siteOf } from './site-of.js';
import { cases, isDeep } from '../../arbitrary/cases.js';

const numRuns = cases(60);

describe('random sites', () => {
  test('lifted, handed over and rendered, every page is the same, with either spelling and with or without types', async () => {
    const seen = { components: 0, pages: 0 };
    await fc.assert(
      fc.asyncProperty(sites, fc.nat(), fc.boolean(), async (sources, turn, typed) => {
        const { site, registry } = liftedSite(sources, turn);
        const attributes = turn % 2 === 0 ? 'dom' : 'html';
        const { different, remarks } = await rendered(site, { attributes }, typed);
        // the differences that random pages come to, and they are told
        const isTold = /^the line break that <|elements nest there as no closed tags can say/;
        if (!remarks.some((message) => isTold.test(message))) expect(different).toEqual([]);
        seen.components += registry.size;
        seen.pages += site.pages.length;
      }),
      { numRuns },
    );
    expect(seen.components).toBeGreaterThan(numRuns / 4);
  });
});

test('hostile text comes out as the same text, in values, attributes, lists, slots and constant parts; nothing runs', async () => {
  await fc.assert(
    fc.asyncProperty(hostileSite, fc.boolean(), async ({ site, texts: [a, b, c, d, e] }, typed) => {
      const { different, html } = await rendered(site, {}, typed);
      // what a carriage return is, a parser decides when it reads the rendered page
      if (![a, b, c, d, e].some((text) => text.includes('\r'))) expect(different).toEqual([]);
      expect(html.get('p.html')).toEqual(expect.any(String));
      expect((globalThis as { hit?: number }).hit).toBeUndefined();
    }),
    { numRuns: numRuns * 3 },
  );
});

test('handlers become functions that mean the same, and what is no code is told', async () => {
  const page = `<!DOCTYPE html><body>
    <button onclick="this.hidden = true">a</button> <button onclick="this.hidden = true">b</button>
    <form onsubmit="return confirm('Send?')"></form> <a onclick="go(); return false">c</a> <a onclick="}{">d</a>
    <a onclick="[1].map(() => this.id); function f() { return this }">e</a> <x-go on-click="}{"></x-go> <x-go>
    <script type="application/json" slot="ways">[{ "on-click": "way(1)" }, { "on-click": "way(2)" }]</script></x-go></body>`;
  const go = `<template component="x-go"><meta prop="on-click" type="handler" default="stop()">
    <meta prop="look" type="text" default="color: red">
    <meta prop="ways" type="list"><meta prop="ways.on-click" type="handler">
    <a onclick="{{onClick}}" style="{{look}}">f</a>
    <template each="way" of="ways"><a onclick="{{way.onClick}}">h</a></template>
    <textarea value="kept by runtimes">g</textarea></template>`;
  const registry = readComponents([{ path: 'components/x-go.html', source: go }]);
  const site = siteOf({ 'p.html': page }, registry);
  const { files, remarks, different } = await rendered(site, { jsxImport: 'preact' });
  expect(different).toEqual([]);
  const code = files.get('handlers.ts')!;
  expect(code.match(/export function \w+/g)).toHaveLength(7);
  expect(code).toContain('event.currentTarget.hidden = true;');
  expect(code).toContain('if (confirm("Send?") === false) event.preventDefault();');
  expect(code).toMatch(/go\(\);\s*event\.preventDefault\(\);/);
  expect(code).toMatch(/map\(\(\) => event\.currentTarget\.id\);\s*function f\(\) \{\s*return this;/);
  expect(remarks.filter((remark) => /on-?click is no JavaScript/.test(remark))).toHaveLength(2);
  expect(typeErrors(files, 'preact')).toEqual([]);
});

const at = { path: 'p.html', line: 1, column: 1 };
const element = (tag: string, space: ElementNode['space'], attrs: [string, Piece[]][]): ElementNode => ({
  kind: 'element',
  tag,
  space,
  attrs: attrs.map(([name, pieces]) => ({ name, pieces, at })),
  children: [],
  at,
});

/** Attributes on as few elements as there are values of one: what the compiler is asked of one element takes long. */
function together(values: (readonly [name: string, values: Piece[][]])[]): [string, Piece[]][][] {
  const most = Math.max(...values.map(([, each]) => each.length));
  return Array.from({ length: most }, (_, i) =>
    values.flatMap(([name, each]): [string, Piece[]][] => (i < each.length ? [[name, each[i]!]] : [])),
  );
}

// a usual run tries every tenth element; a deep one tries all, one half in each spelling of the runtime that has two
test.each([
  ['preact', 'dom', isDeep ? 2 : 10],
  ['preact', 'html', isDeep ? 2 : 10],
  ['react', 'dom', isDeep ? 1 : 10],
] as const)(
  'every attribute of every element passes the types of %s, spelled as %s, whatever it says',
  async (runtime, attributes, every) => {
    const nodes: EmitNode[] = [];
    const names = [
      ...GLOBAL,
      ...WORDS.keys(),
      'onclick',
      'data-x',
      'aria-label',
      'translate',
      'align',
      'foo',
      'x:y',
      '@z',
    ];
    // what all elements have is tried on a few
    const namesFor = (tag: string) =>
      new Set([...(/^(div|a|input|li|svg)$/.test(tag) ? names : []), ...(OWN_ATTRIBUTES.get(tag) ?? [])]);
    const values = (name: string) =>
      name === 'style'
        ? ['color: red; --x: 1']
        : ['x', '2', '', ...(WORDS.get(name) ?? (/^(draggable|spellcheck)$/.test(name) ? TRUTH : []))];
    // those that one spelling leaves out are the other's
    const first = attributes === 'html' ? 1 : 0;
    const tags = [...ELEMENTS].filter((_, i) => i % every === first % every);
    for (const tag of tags) {
      nodes.push(
        ...together(
          [...namesFor(tag)].map((name) => [
            name,
            (name === 'onclick' ? ['go()'] : values(name)).map((value) => [value]),
          ]),
        ).map((attrs) => element(tag, 'html', attrs)),
      );
      for (const role of rolesOf(tag))
        nodes.push(
          element(tag, 'html', [
            ['href', ['x']],
            ['role', [role]],
          ]),
        );
    }
    for (const tag of DRAWING)
      for (const name of [
        'class',
        'fill',
        'stroke-width',
        'viewBox',
        'xlink:href',
        'role',
        'aria-hidden',
        'focusable',
        'text-anchor',
        // names that the types of a runtime lack, or take with some texts only
        ...(tag === 'g' ? UNTYPED_IN_DRAWINGS : []),
      ])
        nodes.push(element(tag, 'svg', [[name, ['x']]]), element(tag, 'svg', [[name, ['true']]]));
    const types = ['text', 'number', 'flag', 'choice'] as const;
    const props = types.map((type): EmitProp => ({
      name: `p-${type}`,
      type,
      optional: true,
      default: null,
      choices: ['a', 'b'],
      about: null,
      fields: [],
    }));
    const pieces = ['pText', 'pNumber', 'pFlag', 'pChoice'].flatMap((path): Piece[][] => {
      const piece: Piece = { kind: 'value', expression: { kind: 'name', path: [path] } };
      return [[piece], ['a', piece]];
    });
    const dynamic = tags.flatMap((tag) =>
      together(
        [...namesFor(tag)].flatMap((name) => (name === 'style' || name === 'onclick' ? [] : [[name, pieces] as const])),
      ).map((attrs) => element(tag, 'html', attrs)),
    );
    const site = siteOf({ 'p.html': '<p>' }, readComponents([]));
    const component = {
      name: 'x-all',
      about: null,
      path: 'components/x-all.html',
      folder: '',
      props,
      slots: [],
      nodes: dynamic,
      styles: null,
      uses: [],
    };
    const { files } = await tsx(
      { ...site, components: [component], pages: [{ ...site.pages[0]!, body: nodes }] },
      { attributes, jsxImport: runtime },
    );
    const texts = files.flatMap((file: EmittedFile) =>
      'text' in file ? [[file.path, file.text.replaceAll('/><', '/>\n<')] as const] : [],
    );
    const attributesTried = [...nodes, ...dynamic].flatMap((node) => (node.kind === 'element' ? node.attrs : []));
    expect(attributesTried.length).toBeGreaterThan(5_000 / every);
    expect(typeErrors(new Map(texts), runtime)).toEqual([]);
  },
);
