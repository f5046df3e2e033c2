/** Emits a site from memory and renders it with a real JSX runtime. */
import * as preact from 'preact';
import * as jsxRuntime from 'preact/jsx-runtime';
import * as renderer from 'preact-render-to-string';
import fc from 'fast-check';
import ts from 'typescript';
import {
  DEFAULT_THRESHOLDS,
  type EmitSite,
  type EmittedFile,
  parsePage,
  planLift,
  readComponents,
  type Registry,
  survey,
} from '../../../src/index.js';
import { spaceRules } from '../../../src/core/emit/manner.js';
import { readSite } from '../../../src/core/emit/site.js';
import { compareRendered } from '../../../src/core/emit/same.js';
import { jsx, tsx } from '../../../src/core/emit/tsx/index.js';
import { namesOf, pathOf } from '../../../src/core/emit/tsx/names.js';
import { DEFAULT_JSX, type JsxOptions } from '../../../src/core/emit/tsx/options.js';
import { expandAll } from '../../../src/core/style/plan.js';
import { readSheet } from '../../../src/core/style/sheet.js';
import { formatted } from '../../../src/workspace/format.js';
import { renderPages, strictOptions } from '../../../src/verify/modules.js';

const RUNTIME: Record<string, Record<string, unknown>> = {
  preact: { ...preact },
  'preact/jsx-runtime': { ...jsxRuntime },
  'preact-render-to-string': { ...renderer },
};

export function siteOf(pages: Record<string, string>, registry: Registry, css = ''): EmitSite {
  const parsed = Object.entries(pages).map(([path, source]) => parsePage(path, source));
  const sheet = readSheet('site.css', css);
  const expanded = expandAll(parsed, registry);
  const space = spaceRules(
    expanded.map(({ page }) => page),
    (path) => (path === 'site.css' ? sheet : null),
  );
  const sheets = new Map([['site.css', css]]);
  return readSite(parsed, expanded, registry, {
    files: [],
    sheets,
    space,
    toRoot: '../',
    componentFolder: 'components',
  });
}

export interface Rendered {
  files: Map<string, string>;
  html: Map<string, string | Error>;
  remarks: string[];
  /** what differs from the expanded pages */
  different: string[];
}

/** Emits, formats as a team would have it, and renders. */
export async function rendered(site: EmitSite, options: Partial<JsxOptions> = {}, typed = true): Promise<Rendered> {
  const emitted = await (typed ? tsx : jsx)(site, options);
  const texts = (emitted.files as Extract<EmittedFile, { text: string }>[]).map(async ({ path, text, format }) => {
    return [path, format === true ? (await formatted('/nowhere', path, text, false)).text : text] as const;
  });
  const files = new Map(await Promise.all(texts));
  const names = namesOf(site, { ...DEFAULT_JSX, ...options }, typed);
  const places = [...names.pages].map(
    ([page, each]) => [page, { ...each, path: pathOf(each, names.extension) }] as const,
  );
  const html = renderPages(ts, (name) => RUNTIME[name]!, { texts: files, outside: () => undefined }, new Map(places));
  const different = site.pages.flatMap(({ path, expanded }) => {
    const made = html.get(path)!;
    if (typeof made !== 'string') return [`${path}: ${made.message}`];
    const first = compareRendered(parsePage(path, expanded), parsePage(path, made), site.space);
    return first === null ? [] : [`${path}: ${first.what}`];
  });
  return { files, html, remarks: emitted.remarks.map(({ message }) => message), different };
}

/** Files of the compiler and of runtimes, by path: read once for all programs. */
const library = new Map<string, ts.SourceFile | undefined>();

/** What the compiler says of emitted modules, in strict mode. */
export function typeErrors(files: ReadonlyMap<string, string>, runtime: string): string[] {
  const folder = new URL('../../../.emitted', import.meta.url).pathname;
  const options = strictOptions(ts, runtime);
  const own = new Map([...files].map(([path, text]) => [`${folder}/${path}`, text]));
  const host = ts.createCompilerHost(options);
  const known = ts.createCompilerHost(options);
  host.fileExists = (path) => own.has(path) || known.fileExists(path);
  host.readFile = (path) => own.get(path) ?? known.readFile(path);
  host.directoryExists = (path) => path.startsWith(folder) || known.directoryExists!(path);
  host.getSourceFile = (path, version) => {
    const text = own.get(path);
    if (text !== undefined) return ts.createSourceFile(path, text, version);
    if (!library.has(path)) library.set(path, known.getSourceFile(path, version));
    return library.get(path);
  };
  const roots = [...own.keys()].filter((path) => /\.tsx?$/.test(path));
  return ts.getPreEmitDiagnostics(ts.createProgram(roots, options, host)).map(({ file, start, messageText }) => {
    const line = file?.getLineAndCharacterOfPosition(start ?? 0).line ?? 0;
    const text = file?.text.split('\n')[line]?.trim() ?? '';
    return `${text}: ${ts.flattenDiagnosticMessageText(messageText, ' ').slice(0, 160)}`;
  });
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
  .array(fc.oneof({ weight: 3, arbitrary: hostile }, fc.string({ unit: 'binary', maxLength: 3 })), { maxLength: 6 })
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
    <u title="${escaped(c)}">${escaped(d)}</u><pre>x${escaped(e)}</pre><slot></slot></div>
</template>`;
  const registry = readComponents([{ path: 'components/x-card.html', source: component }]);
  const page = `<!DOCTYPE html><body><x-card heading="${escaped(a)}" note="${escaped(e)}">${escaped(c)}<em>${escaped(b)}</em><script type="application/json" slot="items">${json}</script></x-card><x-card heading="${escaped(d)}"><textarea>x${escaped(a)}</textarea><script>/* ${e.replaceAll('\u0000', '').replace(/[<\r]/g, '')} */</script></x-card></body>`;
  return { site: siteOf({ 'p.html': page }, registry), texts: all };
});
