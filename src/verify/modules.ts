/**
 * Proves emitted modules in the real thing: the TypeScript compiler in strict mode, and a JSX runtime (Preact with its
 * renderer) that renders each page for comparison with the expanded one.
 */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { compileFunction } from 'node:vm';
import type TypeScript from 'typescript';
import type { EmitSite } from '../core/emit/model.js';
import { parsePage } from '../core/page/parse.js';
import { compareRendered } from '../core/emit/same.js';
import { mountPoint } from '../core/emit/tsx/index.js';
import { namesOf, pathOf } from '../core/emit/tsx/names.js';
import type { JsxOptions } from '../core/emit/tsx/options.js';
import { decode } from '../workspace/encoding.js';
import { toPosix } from '../workspace/files.js';
import { loadPackage, requirePackages, resolvePackage } from '../workspace/packages.js';
import type { Verified, VerifiedPage } from './verified.js';

const NEEDED = ['typescript', 'preact', 'preact-render-to-string'];

/** What was written: paths relative to the folder, and the site that it was made of. */
export interface WrittenModules {
  folder: string;
  files: string[];
  site: EmitSite;
}

/**
 * Looks for what proving needs, before anything is written.
 * @returns what proves emitted modules
 * @throws Problem when something that is needed is not installed
 */
export function moduleVerifier(
  root: string,
  options: JsxOptions,
  typed: boolean,
): (written: WrittenModules) => Verified {
  const runtime = options.jsxImport ?? 'preact';
  requirePackages(root, [...new Set([...NEEDED, ...(typed ? [runtime] : [])])]);
  const ts = loadPackage(root, 'typescript') as typeof TypeScript;
  return (written) => verifyModules(ts, root, written, { ...options, typed, runtime });
}

function verifyModules(
  ts: typeof TypeScript,
  root: string,
  { folder, files, site }: WrittenModules,
  { typed, runtime, ...options }: JsxOptions & { typed: boolean; runtime: string },
): Verified {
  const modules = files.filter((path) => /\.[jt]sx?$/.test(path) && !path.endsWith('.d.ts'));
  const texts = new Map(files.map((path) => [path, textOf(path, readFileSync(join(folder, path)))]));
  const require = createRequire(import.meta.url);
  const sources = files.filter((path) => /\.tsx?$/.test(path)).map((path) => join(folder, path));
  const errors = typed ? typeErrors(ts, root, folder, sources, runtime) : [];
  const runtimeOf = (name: string) => require(resolvePackage(root, name)!) as Exports;
  const names = namesOf(site, options, typed);
  const places = [...names.pages].map(
    ([page, module]) => [page, { ...module, path: pathOf(module, names.extension) }] as const,
  );
  // what a starter imports stands outside the output
  const outside = (path: string) => readModule(join(folder, path));
  const rendered = renderPages(ts, runtimeOf, { texts, outside }, new Map(places));
  const pages = site.pages.map(({ path, document }): VerifiedPage => {
    const html = rendered.get(path)!;
    if (typeof html !== 'string')
      return { path, same: 'different', first: { place: null, what: `it cannot be rendered: ${html.message}` } };
    const first = compareRendered(document, parsePage(path, html), site.space);
    return { path, same: first === null ? 'markup' : 'different', first };
  });
  return { checked: typed ? modules.length : null, errors, pages };
}

/** What stands in a file; what is written like a page may begin with a byte-order mark, or be in another encoding. */
function textOf(path: string, bytes: Buffer): string {
  return path.startsWith('html/') ? decode(bytes).text : bytes.toString('utf8');
}

/** What modules are held to. */
export function strictOptions(ts: typeof TypeScript, runtime: string): TypeScript.CompilerOptions {
  return {
    strict: true,
    noEmit: true,
    noUnusedLocals: true,
    noUnusedParameters: true,
    isolatedModules: true,
    skipLibCheck: true,
    jsx: ts.JsxEmit.ReactJSX,
    jsxImportSource: runtime,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    target: ts.ScriptTarget.ES2022,
    lib: ['lib.es2022.d.ts', 'lib.dom.d.ts', 'lib.dom.iterable.d.ts'],
    types: [],
  };
}

function typeErrors(ts: typeof TypeScript, root: string, folder: string, sources: string[], runtime: string) {
  const paths: Record<string, string[]> = {};
  const typesOf = (name: string) => resolvePackage(root, `${name}/package.json`);
  for (const name of [runtime, `@types/${runtime}`]) {
    const manifest = typesOf(name);
    if (manifest === null) continue;
    paths[runtime] = [dirname(manifest)];
    paths[`${runtime}/*`] = [`${dirname(manifest)}/*`];
  }
  const program = ts.createProgram(sources, { ...strictOptions(ts, runtime), paths });
  return ts.getPreEmitDiagnostics(program).map(({ file, start, messageText }) => {
    const message = ts.flattenDiagnosticMessageText(messageText, ' ');
    if (file === undefined) return { place: { path: folder, line: 1, column: 1 }, message };
    const { line, character } = file.getLineAndCharacterOfPosition(start ?? 0);
    const path = toPosix(file.fileName).replace(`${toPosix(folder)}/`, '');
    return { place: { path, line: line + 1, column: character + 1 }, message };
  });
}

type Exports = Record<string, unknown>;

/** A module that is imported, with or without its extension; undefined for styles, and where there is none. */
function readModule(path: string): { extension: string; text: string } | undefined {
  const ends = ['.tsx', '.ts', '.jsx', '.js'];
  const isWhole = ends.some((end) => path.endsWith(end));
  const candidates = isWhole ? [''] : [...ends, ...ends.map((end) => `/index${end}`)];
  const isFile = (each: string) => existsSync(path + each) && statSync(path + each).isFile();
  const extension = candidates.find(isFile);
  return extension === undefined ? undefined : { extension, text: readFileSync(path + extension, 'utf8') };
}

/** What is rendered. */
export interface RenderedModules {
  /** text of emitted modules and documents, by path */
  texts: ReadonlyMap<string, string>;
  /** a module of the team's own, by its path from the output's folder as it is imported */
  outside: (path: string) => { extension: string; text: string } | undefined;
}

/**
 * All pages as HTML; an error for those that throw.
 * @param runtime loads the JSX runtime's packages
 */
export function renderPages(
  ts: typeof TypeScript,
  runtime: (name: string) => Exports,
  { texts: modules, outside }: RenderedModules,
  pages: ReadonlyMap<string, { name: string; path: string }>,
): Map<string, string | Error> {
  const loaded = new Map<string, { exports: Exports }>();
  const load = (path: string, text = modules.get(path)!): Exports => {
    const known = loaded.get(path);
    if (known !== undefined) return known.exports;
    const module = { exports: {} };
    loaded.set(path, module);
    const { outputText } = ts.transpileModule(text, {
      fileName: path,
      compilerOptions: {
        jsx: ts.JsxEmit.ReactJSX,
        jsxImportSource: 'preact',
        module: ts.ModuleKind.CommonJS,
        target: ts.ScriptTarget.ES2022,
      },
    });
    const run = compileFunction(outputText, ['require', 'exports', 'module'], { filename: path }) as unknown as (
      require: (name: string) => Exports,
      exports: Exports,
      module: object,
    ) => void;
    run((name: string) => imported(name, path), module.exports, module);
    return module.exports;
  };
  const imported = (name: string, from: string): Exports => {
    if (!name.startsWith('.')) return runtime(name.endsWith('/jsx-runtime') ? 'preact/jsx-runtime' : name);
    const base = toPosix(join(dirname(from), name));
    const found = [...modules.keys()].find(
      (each) => /\.[jt]sx?$/.test(each) && [base, `${base}/index`].includes(each.replace(/\.\w+$/, '')),
    );
    if (found !== undefined) return load(found);
    const own = outside(base);
    return own === undefined ? {} : load(base + own.extension, own.text);
  };
  const { h } = runtime('preact') as { h: (component: unknown, props: null) => unknown };
  const { render } = runtime('preact-render-to-string') as { render: (vnode: unknown) => string };
  const draw = (page: string, { name, path }: { name: string; path: string }): string | Error => {
    try {
      const component = load(path)[name];
      return modules.get(`html/${page}`)!.replace(mountPoint(page), () => render(h(component, null)));
    } catch (error) {
      return error as Error;
    }
  };
  return new Map([...pages].map(([page, module]) => [page, draw(page, module)]));
}
