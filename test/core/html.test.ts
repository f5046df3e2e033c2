/** Markup that is made of values. */
import { expect, test } from '@jest/globals';
import fc, { anyText } from '../arbitrary/seeded.js';
import { parseFragment } from 'parse5';
import { html } from '../../src/core/html.js';
import { highlighted } from '../../src/report/highlight.js';

interface Node {
  value?: string;
  attrs?: { name: string; value: string }[];
  childNodes?: Node[];
}
const textOf = (node: Node): string => (node.value ?? '') + (node.childNodes ?? []).map(textOf).join('');
// the parser itself makes these otherwise
const texts = anyText(20).filter((text) => !/[\0\r]/.test(text));

test('any text stands in it as text, in elements and in attributes', () => {
  fc.assert(
    fc.property(texts, (text) => {
      const { childNodes } = parseFragment(html`<b title="${text}">${[text, null, false]}</b>`.text) as Node;
      expect(childNodes).toHaveLength(1);
      expect(textOf(childNodes![0]!)).toBe(text);
      expect(childNodes![0]!.attrs).toEqual([{ name: 'title', value: text }]);
    }),
  );
});

test('any markup that is highlighted is that markup as text, whatever it says', () => {
  const parts = fc.constantFrom(
    '<script>',
    '</script>',
    '{{a}}',
    '{{',
    '<style>p{',
    '"',
    '<a href="{{x}}">',
    '<!--',
    '-->',
    ' & ',
    "'",
    '🛥',
    '\n',
    'مرفأ',
  );
  fc.assert(
    fc.property(
      fc.oneof(
        texts,
        fc.array(parts).map((all) => all.join('')),
      ),
      (source) => {
        const { childNodes } = parseFragment(`<b>${highlighted(source).text}</b>`) as Node;
        expect(childNodes).toHaveLength(1);
        expect(textOf(childNodes![0]!)).toBe(source);
      },
    ),
  );
});
