/** Where a use can stand: every one is a single element with exactly the range that was written. */
import { componentOf } from '../component-of.js';
import { expect, test } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import { expandPage, type Finding, parsePage, planLift, readComponents, survey } from '../../../src/index.js';
import { elementsOf, textOf } from '../../../src/core/page/tree.js';
import { cases } from '../../arbitrary/cases.js';

const thresholds = { ...DEFAULT_THRESHOLDS, minElements: 1, minWorth: -100_000, maxProps: 12 };

function lift(source: string, tag: string, components: { path: string; source: string }[] = []) {
  const page = parsePage('p.html', source);
  const known = survey([page], readComponents(components), { thresholds, componentFolder: 'components' }).findings[0];
  const finding = components.length > 0 && known?.component ? known : componentOf(`${tag}:not(${tag} *)`, [page]);
  return { finding, plan: planLift({ pages: [page], components, findings: [finding], componentFolder: 'components' }) };
}

/** The elements of the rewritten page that are uses, as source. */
function usesIn(after: string, { name }: Finding): string[] {
  return elementsOf(parsePage('p.html', after).root)
    .filter(
      (element) => element.tag === name || element.attrs.some((attr) => attr.name === 'use' && attr.value === name),
    )
    .map((element) => after.slice(element.start, element.end));
}

test.each([
  ['rows', 'tr', '<table>\n<tr><td>a</td></tr>\n<tr><td>b</td></tr>\n</table>', 'template'],
  [
    'rows of a head and a body',
    'tr',
    '<table><thead><tr><td>a</td></tr></thead><tbody><tr><td>b</td></tr></table>',
    'template',
  ],
  ['cells', 'td', '<table><tr><td>a<td>b</table>', 'template'],
  ['columns', 'col', '<table><colgroup><col width=1><col width=2></colgroup><tr></table>', 'template'],
  [
    'captions',
    'caption',
    '<table><caption>a</caption></table><table><caption>b</caption><tr><td>x</table>',
    'template',
  ],
  ['options', 'option', '<select><option value=a>A<option value=b>B</select>', 'template'],
  [
    'groups of options',
    'optgroup',
    '<select><optgroup label=a><option>A<optgroup label=b><option>B</select>',
    'template',
  ],
  ['items', 'li', '<ul><li>a</li><li>b</li></ul>', 'template'],
  ['items left open', 'li', '<ul>\n<li>a\n<li>b\n</ul>', 'template'],
  [
    'items after one that is left open',
    'li:has(> b)',
    '<ul><li class=x>open\n<li><b>a</b></li><li><b>b</b></li></ul>',
    'template',
  ],
  ['terms', 'dt', '<dl><dt>a<dd>x<dt>b<dd>y</dl>', 'template'],
  ['blocks after a paragraph left open', 'div', '<p>open\n<div>a</div><p>open\n<div>b</div>', 'tag'],
  ['paragraphs left open', 'p', '<main><p>a\n<p>b\n</main>', 'tag'],
  ['inline parts of a paragraph', 'a', '<p>see <a href=a>a</a>, <a href=b>b</a></p>', 'tag'],
  ['icons', 'svg', '<p><svg><path d="M0"/></svg></p><p>x<svg><path d="M1"/></svg></p>', 'tag'],
  ['buttons', 'button', '<button>a</button><button>b</button>', 'tag'],
  ['upper-case tags', 'div', '<DIV>a</DIV><DIV>b</DIV>', 'tag'],
])('%s', (_, tag, body, form) => {
  const source = `<!DOCTYPE html><html><head></head><body>\n${body}\n</body></html>`;
  const { finding, plan } = lift(source, tag);
  const { after, same, uses } = plan.pages[0]!;
  expect(same).toBe('bytes');
  expect(plan.leftOut).toEqual([]);
  const written = usesIn(after, finding);
  expect(written).toHaveLength(uses);
  expect(uses).toBe(finding.occurrences.length);
  for (const use of written)
    expect(use).toMatch(
      form === 'template' ? /^<template use="[\w-]+"[^>]*><\/template>$/ : /^<([\w-]+)( [^>]*)?><\/\1>$/,
    );
  expect(expandPage(parsePage('p.html', after), plan.registry).text).toBe(source);
});

test('meta and title in the head take the template form and stay in the head', () => {
  const head = '<meta name="author" content="Oda"><title>Boats</title><meta name="tide" content="low">';
  const source = `<!DOCTYPE html><html><head>${head}</head><body><p>x</p></body></html>`;
  const { finding, plan } = lift(source, 'meta');
  const { after, same } = plan.pages[0]!;
  expect(same).toBe('bytes');
  const uses = elementsOf(parsePage('p.html', after).root).filter(({ tag }) => tag === 'template');
  expect(uses.map((use) => (use.parent as { tag?: string }).tag)).toEqual(['head', 'head']);
  expect(usesIn(after, finding)).toHaveLength(2);
});

test('what no lift touches stays to the byte, however odd', () => {
  const odd = '<P  Class = x>&copy &bogus; <br/>\t\n<!-- ok -- >--><hr>';
  const source = `<html>${odd}<div><b>a</b><i>stay</i></div>\r\n${odd}<div><b>b</b><i>stay</i></div>${odd}`;
  const { plan, finding } = lift(source, 'div');
  const [first, second] = finding.uses;
  expect(plan.pages[0]!.after).toBe(`<html>${odd}${first!}\r\n${odd}${second!}${odd}`);
});

test('one finding inside another is used there, and refused where it is not so in all places', () => {
  const page = parsePage('p.html', '<ul><li><b>a</b></li><li><b>b</b></li></ul><b>c</b>');
  const both = [componentOf('li', [page]), componentOf('b', [page], ['page-item'])];
  const plan = (some: Finding[]) =>
    planLift({ pages: [page], components: [], findings: some, componentFolder: 'components' });
  const names = both.map(({ name }) => name);
  const [outer, inner] = both[0]!.occurrences[0]!.element.tag === 'li' ? names : [...names].reverse();
  const { components, pages } = plan(both);
  expect(components.find(({ path }) => path.endsWith(`/${outer!}.html`))!.source).toContain(`<${inner!} `);
  expect(pages[0]).toMatchObject({ same: 'bytes', uses: 3 });
  const fewer = both.map((each) => (each.name === outer ? each : { ...each, occurrences: each.occurrences.slice(1) }));
  expect(plan(fewer).leftOut).toContainEqual(
    expect.objectContaining({ finding: inner, why: `it stands in ${outer!}, which does not use it here` }),
  );
});

test('a component that is there takes more uses, and its default is left out of them', () => {
  const path = 'components/quay-item.html';
  const component =
    '<template component="quay-item">\n<meta prop="heading" type="text">\n<meta prop="state" type="choice" choices="calm late" default="calm">\n<meta prop="open" type="flag">\n' +
    '<article class="quay quay--{{state}}"><details open="{{open}}"><summary>{{heading}}</summary><a href="../{{heading}}.html">more of {{heading}}</a></details></article>\n</template>\n';
  const quay = (name: string, state: string, open = '', href = name) =>
    `<article class="quay quay--${state}"><details${open}><summary>${name}</summary><a href="${href}.html">more of ${name}</a></details></article>`;
  const source = `<!DOCTYPE html><body>\n${quay('Hallow', 'calm')}\n${quay('Mewport', 'late', ' open')}\n${quay('Odd', 'calm', '', 'Even')}\n</body>`;
  const { finding, plan } = lift(source, 'article', [{ path, source: component }]);
  expect(finding).toMatchObject({ name: 'quay-item', recommended: true, component: { name: 'quay-item' } });
  // the third one links elsewhere, which this component cannot say
  expect(finding.uses).toEqual([
    '<quay-item heading="Hallow"></quay-item>',
    '<quay-item heading="Mewport" state="late" open></quay-item>',
  ]);
  expect(plan).toMatchObject({ components: [], pages: [{ same: 'bytes', uses: 2 }] });
});

test('an occurrence that the component would not give back is left as it is, and told', () => {
  // the tree is alike, but the white space between attributes and the stray end tag are not part of it
  const source =
    '<!DOCTYPE html><body><main><div class="pair"><p>one</p></div><div class="pair"><p>two</p></div><p>x</p></main></body>';
  const page = parsePage('p.html', source);
  const { findings } = survey([page], new Map(), { thresholds, componentFolder: 'components' });
  const finding = findings.find(({ occurrences }) => occurrences[0]!.element.tag === 'div')!;
  const general = finding.general!;
  const props = general.props.map((prop) => ({ ...prop, values: [prop.values[0]!, { value: 'three', raw: 'three' }] }));
  const tampered = { ...finding, file: finding.file, uses: finding.uses, general: { ...general, props } };
  const plan = planLift({ pages: [page], components: [], findings: [tampered], componentFolder: 'components' });
  expect(plan.leftOut).toEqual([
    { finding: finding.name, path: 'p.html', line: 1, column: 62, why: 'text "two" became "three"' },
  ]);
  expect(plan.pages[0]).toMatchObject({ uses: 1, same: 'bytes' });
});

test('line breaks at the start of what shows them are the same again, wherever the value goes', () => {
  const value = fc
    .tuple(
      fc.constantFrom('', '', '\n', '\n\n', '\r\n', '\r\n\r\n', '\n \n', ' \n', '&#10;', '\n&#10;'),
      fc.constantFrom('a', 'b', ''),
    )
    .map(([start, rest]) => start + rest);
  let lifted = 0;
  fc.assert(
    fc.property(
      fc.constantFrom('pre', 'textarea', 'listing'),
      fc.array(value, { minLength: 2, maxLength: 4 }),
      (tag, all) => {
        const blocks = all.map(
          (each, i) => `<section><h3>log ${i}</h3><${tag} class="log">${each}</${tag}></section>\n`,
        );
        const source = `<!DOCTYPE html><body>\n${blocks.join('')}</body>`;
        const { plan } = lift(source, 'section');
        const [{ after, uses } = { after: source, uses: 0 }] = plan.pages;
        const shown = (text: string) =>
          elementsOf(parsePage('p.html', text).root).map((element) => [element.tag, textOf(element)]);
        expect(shown(expandPage(parsePage('p.html', after), plan.registry).text)).toEqual(shown(source));
        lifted += uses;
      },
    ),
    { numRuns: cases(300) },
  );
  expect(lifted).toBeGreaterThan(cases(600));
});
