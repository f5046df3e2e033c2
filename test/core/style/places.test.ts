/** Where things stand once uses are expanded and markers filled in, and styles in the encodings of their files. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { expandPage } from '../../../src/core/component/expand.js';
import { readComponents } from '../../../src/core/component/read.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { fillMarkers, placeOnDisk } from '../../../src/core/style/fill.js';
import { filledReader } from '../../../src/core/style/plan.js';
import { sheetPlace } from '../../../src/core/style/places.js';
import { componentStyle, leadAt, reindent, styleElement } from '../../../src/core/style/text.js';
import { decodeStyles, encode } from '../../../src/workspace/encoding.js';

const component = (name: string, body: string, style = '') => ({
  path: `parts/${name}.html`,
  source: `<template component="${name}">\n  ${body}\n</template>\n${style}`,
});

describe('extents of uses', () => {
  const registry = readComponents([
    component('x-frame', '<div class="f"><slot></slot><x-mark></x-mark></div>'),
    component('x-mark', '<i>m</i>'),
  ]);

  test('every use, those in templates and in what is poured in too, has its range of the output', () => {
    const page = parsePage('p.html', '<p>a</p><x-frame><b>in</b><x-mark></x-mark></x-frame><x-mark></x-mark>');
    const { text, extents } = expandPage(page, registry);
    expect(extents.map(({ component: name, start, end }) => [name, text.slice(start, end)])).toEqual([
      ['x-frame', '<div class="f"><b>in</b><i>m</i><i>m</i></div>'],
      ['x-mark', '<i>m</i>'],
      ['x-mark', '<i>m</i>'],
      ['x-mark', '<i>m</i>'],
    ]);
    expect(extents[0]!.poured.map(({ start, end }) => text.slice(start, end))).toEqual(['<b>in</b><i>m</i>']);
  });

  test('whatever stands around them', () => {
    const piece = fc.constantFrom(
      '<x-mark></x-mark>',
      '<x-frame>é</x-frame>',
      '<x-frame></x-frame>',
      '<p>x</p>',
      '\n  ',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 8 }), (pieces) => {
        const { text, extents } = expandPage(parsePage('p.html', pieces.join('')), registry);
        for (const { component: name, start, end, poured } of extents) {
          expect(text.slice(start, end)).toMatch(
            name === 'x-mark' ? /^<i>m<\/i>$/ : /^<div class="f">é?<i>m<\/i><\/div>$/,
          );
          for (const part of poured) expect(['', 'é']).toContain(text.slice(part.start, part.end));
        }
      }),
    );
  });
});

describe('places on disk', () => {
  const style = '\n<style>\n  .a { b: c }\n\n  .d {\n    e: f;\n  }\n</style>\n';
  const registry = readComponents([component('x-mark', '<i class="a d">m</i>', style)]);
  const source = '/* top */\n@layer l {\n    @component x-mark;\n}\n.z { y: x }\n';

  test('what is filled in stands in the component file, the rest in the sheet', () => {
    const sources = new Map([['css/a.css', source]]);
    const sheet = filledReader(sources, registry).read.ofFile('css/a.css')!;
    const places = sheet.units.map(({ name, node }) => {
      const { path, line, column } = sheetPlace(sheet, node.start);
      return `${name} ${path}:${line}:${column}`;
    });
    expect(places).toEqual(['.a parts/x-mark.html:6:3', '.d parts/x-mark.html:8:3', '.z css/a.css:5:1']);
    const inner = sheet.rules.find(({ unit }) => unit.name === '.d')!.declarations[0]!;
    expect(sheetPlace(sheet, inner.start)).toEqual({ path: 'parts/x-mark.html', line: 9, column: 5 });
  });

  test('every place told holds the character that is there', () => {
    const { text, ranges } = fillMarkers('css/a.css', source, registry);
    const [sheet, filled] = [
      { path: 'css/a.css', source },
      { path: 'css/a.css', source: text, ranges },
    ];
    const files = new Map([...registry.values()].map((each) => [each.path, each.source]));
    files.set('css/a.css', source);
    for (let offset = 0; offset < text.length; offset++) {
      const char = text[offset]!;
      if (/\s/.test(char)) continue;
      const { path, line, column } = placeOnDisk(sheet, filled, registry, offset);
      expect([offset, files.get(path)!.split('\n')[line - 1]![column - 1]]).toEqual([offset, char]);
    }
  });
});

describe('the text of styles', () => {
  const line = fc
    .tuple(fc.constantFrom('', '  ', '\t', '    '), fc.constantFrom('a{b:c}', '}', '/* é */', '.k{'))
    .map((parts) => parts.join(''));

  test('goes into a component file and comes back as it was', () => {
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 6 }), (lines) => {
        const styles = [lines[0]!.trim(), ...lines.slice(1)].join('\n');
        const file = styleElement(styles);
        const range = { start: file.indexOf('>') + 1, end: file.lastIndexOf('</style>') };
        expect(componentStyle(file, range)).toBe(styles);
      }),
    );
  });

  test('moves from one indentation to another, blank lines as they are', () => {
    expect(reindent('a {\n\t\tb: c\n \n\t}', '\t', '    ')).toBe('a {\n    \tb: c\n \n    }');
    expect([leadAt('  a', 2), leadAt('x\n\ta', 3), leadAt('b a', 2), leadAt('', 0)]).toEqual(['  ', '\t', null, '']);
  });

  test.each([
    ['a byte-order mark', Buffer.from('\ufeff.é{}'), 'UTF-8'],
    ['@charset', Buffer.from('@charset "iso-8859-15";.\xe9{}', 'latin1'), 'iso-8859-15'],
    ['neither', Buffer.from('.é{}'), 'UTF-8'],
    ['an encoding that is none', Buffer.from('@charset "nope";.a{}'), 'UTF-8'],
    ['UTF-16 that it is not', Buffer.from('@charset "utf-16";.a{}'), 'UTF-8'],
  ])('in a sheet with %s', (_, bytes, encoding) => {
    const decoded = decodeStyles(bytes);
    expect([decoded.encoding, decoded.exact]).toEqual([encoding, true]);
    expect(encode(decoded.text, decoded)).toEqual(bytes);
  });

  test('what an encoding lacks is escaped as CSS has it, and bytes that are none are not exact', () => {
    const decoded = decodeStyles(Buffer.from('@charset "windows-1252";', 'latin1'));
    expect(encode('.a{content:"→"}', decoded).toString('latin1')).toBe('.a{content:"\\2192 "}');
    expect(decodeStyles(Buffer.from([0x2e, 0xe9, 0x7b, 0x7d])).exact).toBe(false);
  });
});
