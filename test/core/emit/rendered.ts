/** Emits a site from memory and renders it with a real JSX runtime. */
import * as preact from 'preact';
import * as jsxRuntime from 'preact/jsx-runtime';
import * as renderer from 'preact-render-to-string';
import ts from 'typescript';
import { type EmitSite, parsePage } from '../../../src/index.js';
import { textsOf } from '../../../src/core/emit/files.js';
import { compareRendered } from '../../../src/core/emit/same.js';
import { jsx, tsx } from '../../../src/core/emit/tsx/index.js';
import { namesOf, pathOf } from '../../../src/core/emit/tsx/names.js';
import { DEFAULT_JSX, type JsxOptions } from '../../../src/core/emit/tsx/options.js';
import { formatterFor } from '../../../src/workspace/format.js';
import { renderPages, strictOptions } from '../../../src/verify/modules.js';

const RUNTIME: Record<string, Record<string, unknown>> = {
  preact: { ...preact },
  'preact/jsx-runtime': { ...jsxRuntime },
  'preact-render-to-string': { ...renderer },
};

export interface Rendered {
  files: Map<string, string>;
  html: Map<string, string | Error>;
  remarks: string[];
  /** what differs from the expanded pages */
  different: string[];
}

const formatted = formatterFor('/nowhere', false);

/** Emits, formats as a team would have it, and renders. */
export async function rendered(site: EmitSite, options: Partial<JsxOptions> = {}, typed = true): Promise<Rendered> {
  const emitted = await (typed ? tsx : jsx)(site, options);
  const files = await textsOf(emitted.files, async (path, text) => (await formatted(path, text)).text);
  const names = namesOf(site, { ...DEFAULT_JSX, ...options }, typed);
  const places = [...names.pages].map(
    ([page, each]) => [page, { ...each, path: pathOf(each, names.extension) }] as const,
  );
  const html = renderPages(ts, (name) => RUNTIME[name]!, { texts: files, outside: () => undefined }, new Map(places));
  const different = site.pages.flatMap(({ path, document }) => {
    const made = html.get(path)!;
    if (typeof made !== 'string') return [`${path}: ${made.message}`];
    const first = compareRendered(document, parsePage(path, made), site.space);
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
