/** What stands where in two spellings of a page that differ in white space. */
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { offsetsInto } from '../../../src/core/component/respaced.js';
import { parsePage } from '../../../src/core/page/parse.js';
import { elementsOf } from '../../../src/core/page/tree.js';
import { sites } from '../../arbitrary/pages.js';

test('the elements of a page begin and end in the other spelling where they do there', () => {
  fc.assert(
    fc.property(
      sites,
      fc.array(fc.constantFrom('', '\n', '  ', '\n\n\t'), { minLength: 1 }),
      ([source = ''], spaces) => {
        let turn = 0;
        const other = source.replace(/>\s*\n\s*</g, (gap) => `${gap.slice(0, -1)}${spaces[turn++ % spaces.length]!}<`);
        const [from, to] = [source, other].map((text) => parsePage('p.html', text)) as [
          ReturnType<typeof parsePage>,
          ReturnType<typeof parsePage>,
        ];
        const move = offsetsInto(from, to);
        const [own, others] = [from, to].map(({ root }) => elementsOf(root).filter(({ start }) => start >= 0));
        expect(own!.map(({ start, end }) => [move(start), move(end)])).toEqual(
          others!.map(({ start, end }) => [start, end]),
        );
        expect(move(source.length)).toBeLessThanOrEqual(other.length);
      },
    ),
  );
});
