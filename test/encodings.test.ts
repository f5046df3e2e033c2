/** The encoding of a page is decided once: whatever moves out of it, it is read and written as it was. */
import { afterAll, expect, test } from '@jest/globals';
import fc from './arbitrary/seeded.js';
import iconv from 'iconv-lite';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkProject } from '../src/operations/check.js';
import { expandProject } from '../src/operations/expand.js';
import { liftProject } from '../src/operations/lift.js';
import { cases } from './arbitrary/cases.js';

const top = mkdtempSync(join(tmpdir(), 'estrade-encodings-'));
process.env.XDG_STATE_HOME = join(top, 'state');
afterAll(() => rmSync(top, { recursive: true, force: true }));

/** Encodings of the Encoding standard, with letters that each has. */
const ENCODINGS: [label: string, letters: string][] = [
  ['utf-8', 'éб世🚢'],
  ['windows-1252', 'é€ñ'],
  ['windows-1251', 'Привет'],
  ['windows-1250', 'łőč'],
  ['windows-1253', 'Ωλβ'],
  ['windows-1254', 'ğşı'],
  ['windows-1255', 'שלום'],
  ['iso-8859-2', 'łőč'],
  ['iso-8859-7', 'Ωλβ'],
  ['koi8-r', 'Привет'],
  ['macintosh', 'éñ'],
  ['shift_jis', '世界'],
  ['euc-jp', '世界'],
  ['gbk', '世界'],
  ['big5', '世界'],
  ['euc-kr', '안녕'],
];
type Way = 'not at all' | 'charset' | 'http-equiv' | 'late' | 'mark';

interface Made {
  label: string;
  way: Way;
  texts: string[];
}
const made: fc.Arbitrary<Made> = fc
  .record({
    label: fc.constantFrom(...ENCODINGS),
    way: fc.constantFrom<Way[]>('not at all', 'charset', 'http-equiv', 'late', 'mark'),
    marks: fc.array(fc.boolean(), { minLength: 6, maxLength: 6 }),
  })
  .map(({ label: [label, letters], way, marks }) => ({
    ...{ label, way },
    // letters only in some places: what is left in the page may be ASCII
    texts: marks.map((isSpecial, i) => (isSpecial ? letters : `quay ${i}`)),
  }));

function sourceOf({ label, way, texts }: Made, number: number): string {
  const declaration = {
    charset: `<meta charset="${label}">`,
    'http-equiv': `<meta http-equiv="Content-Type" content="text/html; charset=${label}">`,
    late: `${`<meta name="quay" content="${texts[0]!}">\n`.repeat(30)}<meta charset="${label}">`,
    'not at all': '',
    mark: '',
  }[way];
  const card = (text: string, i: number) =>
    `<article class="boat"><h3><b>${text}</b> ${number}</h3><p>${texts[5]!} calls at every quay <i>${i}</i></p></article>`;
  return `<!DOCTYPE html>\n<html><head>\n${declaration}\n<meta name="fleet" content="${texts[4]!}">\n<meta name="view" content="a">\n<title>${texts[1]!}</title>\n<link rel="stylesheet" href="a.css">\n</head><body>\n<footer><p>${texts[2]!} and all of the fleet</p><p>${texts[3]!}</p></footer>\n${texts.slice(0, 3).map(card).join('\n')}\n</body></html>\n`;
}

test('pages in sixteen encodings, declared in each way or none, lifted and expanded, are the same bytes', async () => {
  let lifted = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(made, { minLength: 2, maxLength: 3 }), async (pages) => {
      const folder = mkdtempSync(join(top, 'site-'));
      const bytes = pages.map((page, i) => {
        const mark = page.way === 'mark' && page.label === 'utf-8' ? '\uFEFF' : '';
        return iconv.encode(mark + sourceOf(page, i), page.label);
      });
      bytes.forEach((each, i) => writeFileSync(join(folder, `p${i}.html`), each));
      const { plan } = await liftProject(folder, [], { recommended: true });
      lifted += plan.pages.length;
      const checked = await checkProject(folder);
      expect(checked.pages.map(({ same }) => same)).not.toContain('different');
      await expandProject(folder, { out: 'dist', force: false });
      checked.pages.forEach(({ path, same }) => {
        if (same === 'bytes') expect(readFileSync(join(folder, 'dist', path))).toEqual(bytes[Number(/\d+/.exec(path))]);
      });
      // a page that cannot be read is not proven
      expect(checked.passed).toBe(checked.unreadable.every(({ harmless }) => harmless === true));
    }),
    { numRuns: cases(320) },
  );
  expect(lifted).toBeGreaterThan(40);
});

test('a page that was written anew in another encoding is told', async () => {
  const folder = mkdtempSync(join(top, 'site-'));
  const page = sourceOf({ label: 'windows-1251', way: 'not at all', texts: Array<string>(6).fill('Привет') }, 0);
  for (const name of ['a.html', 'b.html']) writeFileSync(join(folder, name), iconv.encode(page, 'windows-1251'));
  await liftProject(folder, [], { recommended: true });
  const path = join(folder, 'a.html');
  writeFileSync(path, `\uFEFF${readFileSync(path, 'utf8')}`);
  const { pages } = await checkProject(folder);
  expect(pages.map(({ same, first }) => [same, first?.what])).toEqual([
    ['different', expect.stringMatching(/written in UTF-8 with a byte-order mark, and was in windows-1252/)],
    ['bytes', undefined],
  ]);
});
