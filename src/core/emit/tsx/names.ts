/** Where modules go and what they are called. */
import { pascalCase } from 'change-case';
import { inFileCase } from '../../component/file-names.js';
import type { EmitSite } from '../model.js';
import type { JsxOptions } from './options.js';
import { unique } from './strings.js';

export interface Module {
  /** the exported function */
  name: string;
  /** folder and file name without extension, relative to the output folder */
  folder: string;
  file: string;
}

export interface Names {
  components: ReadonlyMap<string, Module>;
  pages: ReadonlyMap<string, Module>;
  /** extension of modules with markup */
  extension: 'tsx' | 'jsx';
  script: 'ts' | 'js';
  options: JsxOptions;
}

/** Names of all modules, no two alike, whatever the file system makes of capitals. */
export function namesOf(site: EmitSite, options: JsxOptions, typed: boolean): Names {
  const taken = new Set(['markup', 'handler', 'fragment']);
  const name = (text: string) => {
    const words = pascalCase(text, { mergeAmbiguousCharacters: true }).replace(/[^\w$]/g, '');
    return distinct(/^[A-Z]/.test(words) ? words : `C${words}`, taken);
  };
  const components = site.components.map((component): [string, Module] => {
    const own = name(component.name);
    const file = inCase(own, options) + options.suffix;
    // a component that has a folder to itself needs no other
    const isApart = inFileCase(component.folder.replace(/^.*\//, ''), 'kebab') === component.name;
    const folder = [
      'components',
      component.folder,
      options.layout === 'folders' && !isApart ? inCase(own, options) : '',
    ]
      .filter((part) => part !== '')
      .join('/');
    return [component.name, { name: own, folder, file }];
  });
  const pages = site.pages.map(({ path }): [string, Module] => {
    const own = name(`${path.replace(/\.x?html?$/i, '').replaceAll(/[^\p{L}\p{N}]+/gu, '-')}-page`);
    return [path, { name: own, folder: 'pages', file: inCase(own, options) }];
  });
  const [extension, script] = typed ? (['tsx', 'ts'] as const) : (['jsx', 'js'] as const);
  return { components: new Map(components), pages: new Map(pages), extension, script, options };
}

function distinct(name: string, taken: Set<string>): string {
  const lower = unique(name.toLowerCase(), taken);
  taken.add(`${lower}props`);
  return name + lower.slice(name.length);
}

function inCase(name: string, { fileCase }: JsxOptions): string {
  return fileCase === 'pascal' ? name : inFileCase(name, fileCase);
}

export function pathOf({ folder, file }: Module, extension: string): string {
  return `${folder}/${file}.${extension}`;
}

/** How a module in `folder` imports the file or folder at `path`. */
export function importPath(folder: string, path: string): string {
  const from = folder === '' ? [] : folder.split('/');
  const to = path.split('/');
  while (from.length > 0 && to.length > 1 && from[0] === to[0]) {
    from.shift();
    to.shift();
  }
  const up = from.map(() => '..');
  return `${up.length === 0 ? './' : ''}${[...up, ...to].join('/')}`;
}

/** How a module in `folder` imports another: through its index where it has a folder to itself. */
export function moduleImport(folder: string, module: Module, { options }: Names): string {
  const own = options.layout === 'folders' && options.index && module.folder !== 'pages';
  return importPath(folder, own ? module.folder : `${module.folder}/${module.file}`);
}
