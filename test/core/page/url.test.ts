/** Relative URLs: moved through folders, in all kinds of attributes. */
import { describe, expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import {
  baseFolder,
  folderOf,
  fromRoot,
  moveUrls,
  relativeUrls,
  relativise,
  resolve,
  targetIn,
  templateUrls,
  toRoot,
} from '../../../src/core/page/url.js';
import { cases } from '../../arbitrary/cases.js';

const numRuns = cases(200);

describe('URLs', () => {
  const folder = fc.array(fc.constantFrom('a', 'b', 'c d'), { maxLength: 3 }).map((parts) => parts.join('/'));
  const file = fc.constantFrom('x.html', 'y/', 'i/p.svg', 'x.html?a=../b#c', 'x.html#../y');

  test('moved to another folder and back, a URL is what it was: in its shortest form, or with a dot before it', () => {
    fc.assert(
      fc.property(folder, folder, folder, file, fc.boolean(), (from, to, where, name, isDotted) => {
        const target = where === '' ? name : `${where}/${name}`;
        const short = relativise(target, from);
        const url = isDotted && !short.startsWith('.') ? `./${short}` : short;
        expect(resolve(url, from)).toBe(target);
        const moved = moveUrls(url, 'url', from, to)!;
        expect(resolve(moved, to)).toBe(target);
        expect(moveUrls(moved, 'url', to, from)).toBe(url);
      }),
    );
  });

  test('through component files in any folders, a URL climbs as far as it did', () => {
    fc.assert(
      fc.property(folder, folder, folder, folder, fc.nat(3), file, (page, one, other, where, climbs, name) => {
        const rest = where === '' ? name : `${where}/${name}`;
        const most = page === '' ? 0 : page.split('/').length;
        const url = '../'.repeat(Math.min(climbs, most)) + rest;
        const target = resolve(url, page)!;
        const moved = templateUrls(url, 'url', page, one)!;
        const again = templateUrls(moved, 'url', one, other)!;
        for (const [each, at] of [
          [moved, one],
          [again, other],
        ] as const) {
          expect(resolve(each, at)).toBe(target);
          expect(moveUrls(each, 'url', at, page)).toBe(url);
          expect(fromRoot(toRoot(each, at)!, page)).toBe(url);
          expect(resolve(moveUrls(each, 'url', at, where)!, where)).toBe(target);
        }
      }),
    );
  });

  test.each([
    ['../boats/a.html', 'boats', '.././boats/a.html'],
    ['../../x/boats/a.html?b=../c', 'x/boats', '.././x/boats/a.html?b=../c'],
    ['../boats/a.html', 'x/boats', '../x/./boats/a.html'],
    ['../fares/a.html', 'boats', '../fares/a.html'],
    ['../boats', 'boats', '../boats'],
  ])('%s in %j is %s in a component file', (url, from, written) => {
    expect(templateUrls(url, 'url', from, 'components')).toBe(written);
  });

  test.each([
    ['../css/site.css', 'boats', 'components', '../css/site.css'],
    ['.././boats/a.html', 'components', '', 'boats/a.html'],
    ['.././boats/a.html', 'components', 'quays', '../boats/a.html'],
    ['../boats/a.html', 'components', 'boats', 'a.html'],
    ['img/a.png', '', 'components', '../img/a.png'],
    ['https://ferries.example/a', '', 'components', 'https://ferries.example/a'],
    ['#top', '', 'components', '#top'],
    ['mailto:a@b.example', 'x', 'y', 'mailto:a@b.example'],
    ['data:,x', 'x', 'y', 'data:,x'],
    ['/rooted', 'x', 'y', '/rooted'],
    ['', 'x', 'y', ''],
    ['../../out', 'x', 'y', null],
    ['./img/a.png', '', 'components', './../img/a.png'],
    ['./../img/a.png', 'components', 'boats', '../img/a.png'],
    ['./../boats/a.png', 'components', 'boats', './a.png'],
    ['.', 'boats', 'components', '../boats/.'],
    ['../boats/.?d=1', 'components', 'boats', '.?d=1'],
    ['../boats/.', 'components', 'boats', '.'],
    ['./', 'boats', 'components', './../boats/'],
    ['./../boats/', 'components', 'boats', './'],
  ])('%s from %j to %j is %j', (url, from, to, moved) => {
    expect(moveUrls(url, 'url', from, to)).toBe(moved);
  });

  test('a URL leads to the same, however it is spelled', () => {
    const spellings = [' ./a.html', '../boats/a.html', 'a.html', './../boats/./a.html'].map((url) =>
      targetIn(url, 'url', 'boats'),
    );
    expect(new Set(spellings.map((url) => url.trim()))).toEqual(new Set(['boats/a.html']));
    expect(['/a', 'https://ferries.example/a', '../../a'].map((url) => targetIn(url, 'url', 'boats'))).toEqual([
      '/a',
      'https://ferries.example/a',
      '../../a',
    ]);
  });

  test.each([
    ['srcset', 'a.png, b.png 2x,c.png', '../a.png, ../b.png 2x,../c.png'],
    ['srcset', ' a.png 1x,\n b.png, ', ' ../a.png 1x,\n ../b.png, '],
    ['srcset', 'a,b.png 1x,, c.png', '../a,b.png 1x,, ../c.png'],
    ['url', '  a b.html\n', '  ../a b.html\n'],
    ['css', 'a: url(x.png); b: URL( "y.png" ) url(', 'a: url(../x.png); b: URL( "../y.png" ) url('],
    ['css', `url('it's') url(z.png)`, `url('it's') url(../z.png)`],
    ['refresh', 'soon', 'soon'],
  ] as const)('in %s, %j becomes %j one folder further in', (kind, raw, moved) => {
    expect(moveUrls(raw, kind, '', 'k')).toBe(moved);
  });

  const around = [
    ['css', 'color: red; background: url(', ') no-repeat'],
    ['css', "background: url( '", "' ), url(https://c.example/d.png), url(data:x)"],
    ['css', 'background: url(&quot;', '&quot;)'],
    ['refresh', '5; url=', ''],
    ['refresh', "0;URL='", "'"],
    ['refresh', '300, ', ' '],
  ] as const;

  test('URLs within declarations and refreshes move, and nothing around them', () => {
    const part = fc.constantFrom('a', 'b c', 'img', '..', 'd.e');
    const path = fc.array(part, { minLength: 1, maxLength: 4 }).map((parts) => [...parts, 'f.png'].join('/'));
    fc.assert(
      fc.property(fc.constantFrom(...around), path, ([kind, before, after], url) => {
        const moved = moveUrls(before + url + after, kind, 'x/y/z/u/v', 'x/k');
        const alone = moveUrls(url, 'url', 'x/y/z/u/v', 'x/k');
        expect(moved).toBe(before + alone! + after);
        expect(relativeUrls(before + url + after, kind)).toEqual([url]);
      }),
      { numRuns },
    );
    for (const [kind, before, after] of around)
      for (const url of ['/a.png', '#a', 'https://c.example/a', 'mailto:a@b.example'])
        expect(moveUrls(before + url + after, kind, 'x', 'k')).toBe(before + url + after);
  });

  test('srcset candidates move one by one, and base elements count', () => {
    expect(moveUrls('a.png 1x, b.png 2x,https://c.example/d.png', 'srcset', '', 'k')).toBe(
      '../a.png 1x, ../b.png 2x,https://c.example/d.png',
    );
    expect([
      baseFolder('a/p.html', undefined),
      baseFolder('a/p.html', '../b/'),
      baseFolder('a/p.html', 'https://x.example/'),
    ]).toEqual(['a', 'b', null]);
    expect(folderOf('a/b/c.html')).toBe('a/b');
  });
});
