/** Sites from memory, as targets are given them. */
import {
  DEFAULT_THRESHOLDS,
  type EmitSite,
  parsePage,
  planLift,
  readComponents,
  type Registry,
  survey,
} from '../../../src/index.js';
import { readSite } from '../../../src/core/emit/site.js';
import { expandedPage } from '../../../src/core/style/plan.js';
import { SheetReader } from '../../../src/core/style/cascade.js';
import { readSheet } from '../../../src/core/style/sheet.js';
import fc, { anyText } from '../../arbitrary/seeded.js';

export function siteOf(pages: Record<string, string>, registry: Registry, css = ''): EmitSite {
  const sheet = readSheet('site.css', css);
  const made = Object.entries(pages).map(([path, source]) => {
    const page = parsePage(path, source);
    return { page, expanded: expandedPage(page, registry) };
  });
  const read = new SheetReader((path) => (path === 'site.css' ? sheet : null));
  const own = readSite(made, { registry, componentFolder: 'components', read, keepsDocuments: false });
  return { ...own, files: [], sheets: new Map([['site.css', css]]), read, toRoot: '../' };
}

/** A random site of which one finding has been lifted, whichever `turn` says. */
export function liftedSite(sources: string[], turn: number): { site: EmitSite; registry: Registry } {
  const thresholds = { ...DEFAULT_THRESHOLDS, minElements: 1, minWorth: -10_000, maxProps: 12, minLines: 1 };
  const originals = new Map(sources.map((source, i) => [i === 1 ? 'sub/p1.html' : `p${i}.html`, source]));
  const pages = [...originals].map(([path, source]) => parsePage(path, source));
  const { findings } = survey(pages, new Map(), { thresholds, componentFolder: 'components' });
  const chosen = findings.slice(turn % (findings.length + 1)).slice(0, 1);
  const plan = planLift({
    pages,
    components: [],
    findings: chosen,
    componentFolder: 'components',
    origins: originals,
  });
  const registry = readComponents(plan.components);
  const after = new Map([...originals, ...plan.pages.map(({ path, after }) => [path, after] as const)]);
  return { site: siteOf(Object.fromEntries(after), registry), registry };
}

const hostile = fc.constantFrom(
  ...[
    '"',
    "'",
    '`',
    '{',
    '}',
    '{{',
    '${globalThis.hit=1}',
    '</script><script>globalThis.hit=1</script>',
    '-->',
    '<!--',
  ],
  ...[
    '\u2028',
    '\u2029',
    '🚢',
    '\u0000',
    // marks of ours
    '\u0002',
    '\u0003',
    '\ud800',
    '\udc00',
    '\\',
    '\\u0041',
    '&amp;',
    '&copy',
    '&#0;',
    '<',
    '>',
    '*/',
    '/*',
  ],
  ...[
    '\n',
    '\r',
    '\t',
    '\u00a0',
    '\u200d',
    '\u202e',
    ' ',
    'a',
    '$&',
    "');globalThis.hit=1;('",
    '{/*',
    ']]>',
    '=>',
    '//',
  ],
);
const texts = fc
  .array(fc.oneof({ weight: 3, arbitrary: hostile }, anyText(3)), { maxLength: 6 })
  .map((all) => all.join(''));

/** As source of HTML; NUL has none. */
function escaped(text: string): string {
  return text.replaceAll('\u0000', '').replace(/[&<>"'{\r]/g, (char) => `&#${char.charCodeAt(0)};`);
}

/** A page whose component is given hostile texts, in all places where text may stand. */
export const hostileSite = fc.tuple(texts, texts, texts, texts, texts).map((all) => {
  const [a, b, c, d, e] = all;
  const json = JSON.stringify([
    { label: a, 'to-id': b },
    { label: c, 'to-id': d },
  ]).replaceAll('<', '\\u003c');
  const component = `<template component="x-card" about="*/ ${escaped(e)}">
  <meta prop="heading" type="text"><meta prop="note" type="text" default="${escaped(b)}">
  <meta prop="items" type="list"><meta prop="items.label" type="text"><meta prop="items.to-id" type="text">
  <div title="{{heading}}" data-x="a{{note}}b"><b>{{heading}}</b><i>{{note}}</i>
    <template each="item" of="items"><p id="{{item.toId}}">{{item.label}}</p></template>
    <u title="${escaped(c)}" onclick="go('{{heading}}', \`x{{note}}\`)">${escaped(d)}</u><pre>x${escaped(e)}</pre><slot></slot></div>
</template>`;
  const registry = readComponents([{ path: 'components/x-card.html', source: component }]);
  const page = `<!DOCTYPE html><body><x-card heading="${escaped(a)}" note="${escaped(e)}">${escaped(c)}<em>${escaped(b)}</em><script type="application/json" slot="items">${json}</script></x-card><x-card heading="${escaped(d)}"><textarea>x${escaped(a)}</textarea><script>/* ${e.replaceAll('\u0000', '').replace(/[<\r]/g, '')} */</script></x-card></body>`;
  return { site: siteOf({ 'p.html': page }, registry), texts: all };
});
