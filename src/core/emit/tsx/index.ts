/**
 * Components as modules with JSX: one function a component and a page, for any automatic JSX runtime, with types or
 * without. The document around a page stays HTML, with a comment where the page's markup goes.
 */
import { workingOn } from '../../errors.js';
import { folderOf, mapUrls, resolve } from '../../page/url.js';
import type { EmitComponent, Emitted, EmittedFile, EmitSite, Target } from '../model.js';
import { find } from '../read.js';
import { tidySite } from '../space.js';
import { componentModule, pageModule, slotType } from './module.js';
import { importPath, moduleImport, type Names, namesOf, pathOf } from './names.js';
import { DEFAULT_JSX, type JsxOptions } from './options.js';
import { jsString } from './strings.js';
import { type Job, startJob } from './writer.js';

/** Stands in a document where the markup of its page goes. */
export function mountPoint(page: string): string {
  return `<!-- ${page}: the content of its page module -->`;
}

export const tsx: Target = (site, options) => emitModules(site, { ...DEFAULT_JSX, ...options }, true);
export const jsx: Target = (site, options) => emitModules(site, { ...DEFAULT_JSX, ...options }, false);

function emitModules(raw: EmitSite, options: JsxOptions, typed: boolean): Emitted {
  const site = tidySite(raw);
  const names = namesOf(site, options, typed);
  const job = startJob(site, names, typed);
  const components = site.components.flatMap((component) =>
    workingOn(component.path, () => componentFiles(component, job)),
  );
  const pages = site.pages.map((page) => ({
    path: pathOf(names.pages.get(page.path)!, names.extension),
    text: workingOn(page.path, () => pageModule(page, job)),
  }));
  const shells = site.pages.map(({ path, shell }) => ({
    path: `html/${path}`,
    text: shell.before + mountPoint(path) + shell.after,
    like: path,
  }));
  decide(site, job);
  const modules = [...components, ...indexes(names), ...shared(job), ...pages];
  return { files: [...modules.map((file) => ({ ...file, format: true })), ...shells], remarks: job.remarks };
}

function componentFiles(component: EmitComponent, job: Job): EmittedFile[] {
  const module = job.names.components.get(component.name)!;
  const files = [{ path: pathOf(module, job.names.extension), text: componentModule(component, job) }];
  if (component.styles !== null) {
    const path = pathOf(module, 'css');
    const up = '../'.repeat(path.split('/').length - 1) + job.site.toRoot;
    const moved = mapUrls(component.styles, 'css', (url) => {
      const target = resolve(url, folderOf(component.path));
      return target === null ? url : up + target;
    });
    files.push({ path, text: moved });
  }
  return files;
}

/** Index modules, so that a component is imported by its name alone. */
function indexes(names: Names): EmittedFile[] {
  const { options, script } = names;
  const all = [...names.components.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
  if (!options.index || all.length === 0) return [];
  const lines = all.map((module) => `export * from ${jsString(moduleImport('components', module, names))};`);
  const files = [{ path: `components/index.${script}`, text: `${lines.join('\n')}\n` }];
  if (options.layout === 'folders')
    for (const { folder, file } of all)
      files.push({
        path: `${folder}/index.${script}`,
        text: `export * from ${jsString(importPath(folder, `${folder}/${file}`))};\n`,
      });
  return files;
}

/** Modules that others import. */
function shared(job: Job): EmittedFile[] {
  const { typed, site, names } = job;
  const files: EmittedFile[] = [];
  const types = [...job.types.props.values()].flatMap((props) => [...props.values()]);
  const takesHandlers = types.some(
    ({ kind, fields }) => kind === 'handler' || [...fields.values()].some((field) => field.kind === 'handler'),
  );
  const handlers = job.handlers.text(typed && takesHandlers);
  if (handlers !== '') files.push({ path: `handlers.${names.script}`, text: `${handlers}\n` });
  if (job.needFolder.size > 0) files.push({ path: `relativeUrl.${names.script}`, text: relativeUrlModule(typed) });
  if (job.shared.has('styleObject'))
    files.push({ path: `styleObject.${names.script}`, text: styleObjectModule(typed) });
  if (typed && slotType(job).from === null && site.components.some(({ slots }) => slots.length > 0))
    files.push({
      path: 'markup.tsx',
      text: `${names.options.jsxImport === null ? '' : `/** @jsxImportSource ${names.options.jsxImport} */\n`}${MARKUP}`,
    });
  if (typed && site.components.some(({ styles }) => styles !== null))
    files.push({ path: 'styles.d.ts', text: `declare module '*.css';\n` });
  return files;
}

const MARKUP = `const element = <></>;

/** What a slot takes: elements, text, or several of both. */
export type Markup = typeof element | string | number | boolean | null | undefined | Markup[];
`;

function styleObjectModule(typed: boolean): string {
  const [text, object] = typed ? [': string', ': Record<string, string>'] : ['', ''];
  return `/** The declarations of a \`style\` attribute as the object that JSX takes. */
export function styleObject(text${text})${object} {
  const style${object} = {};
  const plain = text.replace(/\\/\\*[^]*?\\*\\//g, ' ');
  // what stands in quotes or brackets may hold any character
  const declarations = plain.matchAll(/([-\\w]+)\\s*:((?:"[^"]*"|'[^']*'|\\([^)]*\\)|[^;"'(])*)/g);
  for (const [, name = '', value = ''] of declarations) {
    const key = name.startsWith('--')
      ? name
      : name.toLowerCase().replace(/^-ms-/, 'ms-').replace(/-([a-z])/g, (part) => part.charAt(1).toUpperCase());
    style[key] = value.trim();
  }
  return style;
}
`;
}

function relativeUrlModule(typed: boolean): string {
  const [text, list] = typed ? [': string', ': string[]'] : ['', ''];
  return `/**
 * A path from the site's root, as a URL that is relative to a page's folder.
 * @param folder of the page, '' for the root
 * @param target path, with what may follow it after \`?\` or \`#\`; a \`./\` before it is kept where it does not climb,
 *   and one within is where the URL turns that climbs further than it has to
 */
export function relativeUrl(folder${text}, target${text})${text} {
  const end = target.search(/[?#]/);
  const turn = target.slice(0, end < 0 ? undefined : end).indexOf('/./');
  if (turn > 0) return relativeUrl(folder, target.slice(0, turn + 1)).replace(/^\\.\\/$/, '') + target.slice(turn + 3);
  const isDotted = target.startsWith('./');
  const path = target.slice(isDotted ? 2 : 0, end < 0 ? undefined : end);
  const from${list} = folder === '' ? [] : folder.split('/');
  const to = path.split('/');
  const file = to.pop() ?? '';
  let common = 0;
  while (common < from.length && common < to.length && from[common] === to[common]) common++;
  const url = [...from.slice(common).map(() => '..'), ...to.slice(common), file].join('/');
  const isPlain = url !== '' && !/^[a-z][a-z0-9+.-]*:/i.test(url) && (!isDotted || url.startsWith('../'));
  return (isPlain ? url : './' + url) + (end < 0 ? '' : target.slice(end));
}
`;
}

/** Tells what was decided for the user. */
function decide(site: EmitSite, job: Job): void {
  const tell = (message: string) => job.remarks.push({ kind: 'decided', message, place: null });
  const inBody = new Set([...site.pages.flatMap(({ uses }) => uses), ...site.components.flatMap(({ uses }) => uses)]);
  for (const { name } of site.components) {
    const { name: own } = job.names.components.get(name)!;
    if (!inBody.has(name) && site.pages.some(({ elsewhere, flat }) => flat === null && elsewhere.includes(name)))
      tell(
        `no page module uses ${own}: it stands in the head, or holds scripts, and the pages in html/ have it written out`,
      );
  }
  for (const { path, flat } of site.pages)
    if (flat !== null)
      job.remarks.push({
        kind: flat.isWritable ? 'decided' : 'unsayable',
        message: flat.isWritable
          ? `${path} has its components expanded: ${flat.what} otherwise, for a tag is left open or misnested there`
          : `${path} has its components expanded, and ${flat.what} all the same: elements nest there as no closed tags can say, so close what is left open`,
        place: flat.place,
      });
  const nodes = [...site.components.flatMap((each) => each.nodes), ...site.pages.flatMap(({ body }) => body)];
  const comments = find(nodes, 'comment').length;
  if (comments > 0) tell(`comments (${comments}) stay in the source of the modules; no page has them`);
  if (site.components.some(({ styles }) => styles !== null))
    tell('each module imports its styles; take the lines "@component …;" out of the stylesheets that the pages link');
  if (job.needFolder.size > 0)
    tell('the pages stand in several folders: components with relative links take the prop pageFolder');
}
