/**
 * Components as standard custom elements, with no library: a module each, one classic script of all of them so that
 * pages open from disk, and the pages themselves. Their content stands in the page, where the site's stylesheets see it.
 */
import { workingOn } from '../../errors.js';
import { pascalCase } from 'change-case';
import type { Emitted, EmittedFile, EmitPage, EmitRemark, EmitSite, Target } from '../model.js';
import { namesOf } from '../tsx/names.js';
import { DEFAULT_JSX } from '../tsx/options.js';
import { unique } from '../tsx/strings.js';
import { propTypes } from '../tsx/types.js';
import { baseModule } from './base.js';
import { classicScript } from './classic.js';
import { elementsFolder, freeName, type Loaded, loadedBy } from './loaded.js';
import { manifestOf } from './manifest.js';
import { elementModule, type ElementModule, type Job, type Standing } from './module.js';
import { DEFAULT_ELEMENTS, type ElementsOptions } from './options.js';
import { pageText } from './pages.js';
import { standings } from './standing.js';

export const elements: Target = (site, options) => {
  const { prerender }: ElementsOptions = { ...DEFAULT_ELEMENTS, ...options };
  const { standing, remarks } = standings(site);
  const names = namesOf(site, { ...DEFAULT_JSX, attributes: 'html' }, false);
  const job: Job = {
    components: new Map(site.components.map((component) => [component.name, component])),
    types: propTypes(site, names),
    classes: classNames(site),
    standing,
  };
  const modules = site.components.flatMap((component) => elementModule(component, job) ?? []);
  const folder = elementsFolder(site);
  const manifest = freeName('custom-elements.json', site);
  const pathOf = (name: string) => `${folder}/${name}.js`;
  const isElement = ({ component }: ElementModule) => standing.get(component.name)!.kind !== 'expanded';
  const own = modules.filter(isElement);
  const files: EmittedFile[] = [
    { path: pathOf('base'), text: `${ABOUT}\n${baseModule()}`, format: true },
    ...modules.map((each) => ({ path: pathOf(each.component.name), text: moduleText(each), format: true })),
    {
      path: pathOf('index'),
      text: own.map(({ component }) => `import './${component.name}.js';\n`).join(''),
      format: true,
    },
    {
      path: pathOf('all'),
      from: [pathOf('base'), ...modules.map(({ component }) => pathOf(component.name))],
      join: classicScript,
    },
    { path: `${folder}/all.css`, text: stylesheet(standing), format: true },
    {
      path: manifest,
      text: manifestOf(
        own.map(({ component }) => component),
        job,
        pathOf,
      ),
      format: true,
    },
    ...site.pages.map((page) => {
      const html = workingOn(page.path, () => pageText(page, site, standing, prerender ? 'prerendered' : 'plain'));
      return { path: page.path, text: linked(html, page, loadedBy(page, folder)), like: page.path };
    }),
    ...site.files.map((path) => ({ path, copy: path })),
  ];
  return { files, remarks: [...flat(site), ...summary(standing), ...remarks] } satisfies Emitted;
};

const ABOUT =
  '/** What the elements of this site share: standard custom elements, whose content stands in the page itself. */';

function classNames({ components }: EmitSite): Map<string, string> {
  const taken = new Set([
    'Markup',
    'SiteElement',
    'Element',
    'HTMLElement',
    'Node',
    'Text',
    'Object',
    'Set',
    'Map',
    'WeakMap',
    'URL',
    'JSON',
    'String',
    'Number',
    'Array',
  ]);
  return new Map(
    components.map(({ name }) => {
      const words = pascalCase(name, { mergeAmbiguousCharacters: true }).replace(/[^\w$]/g, '');
      return [name, unique(/^[A-Z]/.test(words) ? words : `E${words}`, taken)];
    }),
  );
}

function moduleText({ base, functions, elements: others, code }: ElementModule): string {
  const imports = [
    `import { ${base.join(', ')} } from './base.js';`,
    ...functions.map(([component, name]) => `import { ${name} } from './${component}.js';`),
    ...others.filter((other) => !functions.some(([name]) => name === other)).map((other) => `import './${other}.js';`),
  ];
  return `${imports.join('\n')}\n\n${code}\n`;
}

/** What elements look like themselves: weaker than every rule of the site. */
function stylesheet(standing: ReadonlyMap<string, Standing>): string {
  const rule = (kind: Standing['kind'], display: string) => {
    const tags = [...standing].filter(([, each]) => each.kind === kind).map(([name]) => name);
    return tags.length === 0 ? '' : `${tags.join(',\n')} { display: ${display}; }\n`;
  };
  return `/* link this before all other stylesheets */\n@layer {\n${rule('around', 'contents')}${rule('root', 'block')}}\n`;
}

/** The page with the stylesheet and the script of all elements, which runs before the scripts at the end of the body. */
function linked(html: string, { shell }: EmitPage, { stylesheet, script: source }: Loaded): string {
  const end = html.length - shell.after.length;
  const script = /<script[\s>]/i.exec(shell.after);
  const tag = (attributes: string) => `<script${attributes} src="${source}"></script>`;
  const [text, loads] =
    script === null
      ? [html, tag(' defer')]
      : [
          html.slice(0, end + script.index) +
            tag('') +
            indented(html, end + script.index) +
            html.slice(end + script.index),
          '',
        ];
  const link = `<link rel="stylesheet" href="${stylesheet}">`;
  const at = headAt(text.slice(0, shell.before.length));
  return (
    text.slice(0, at) + link + indented(text, at) + (loads === '' ? '' : loads + indented(text, at)) + text.slice(at)
  );
}

/** The white space that a line starts with, where `at` is the first thing on it. */
function indented(html: string, at: number): string {
  return /(?:\r\n|\n|\r)[ \t]*$/.exec(html.slice(0, at))?.[0] ?? '';
}

/** Where the first stylesheet or script of the head stands, or its end: before all that could be weaker. */
function headAt(before: string): number {
  const body = before.search(/<body[\s>]/i);
  const head = body < 0 ? before : before.slice(0, body);
  const bare = head.replace(/<!--[^]*?-->/g, (comment) => ' '.repeat(comment.length));
  const first = bare.search(/<(?:link|style|script)[\s>]/i);
  if (first >= 0) return first;
  const end = bare.search(/<\/head[\s>]/i);
  if (end >= 0) return end;
  const open = [...bare.matchAll(/<head(?:\s[^>]*)?>|<html(?:\s[^>]*)?>|<!doctype[^>]*>/gi)];
  const behind = Math.max(0, ...open.map((match) => match.index + match[0].length));
  // without its tag the head begins with what is put in, and comments before it stand outside
  const hasTag = open.some(([tag]) => /^<head/i.test(tag));
  return hasTag ? behind : behind + /^\s*/.exec(bare.slice(behind))![0].length;
}

function flat({ pages }: EmitSite): EmitRemark[] {
  return pages.flatMap(({ path, flat: why }) =>
    why === null
      ? []
      : [
          {
            kind: 'decided' as const,
            message: `${path} has its components expanded: ${why.what} otherwise`,
            place: why.place,
          },
        ],
  );
}

function summary(standing: ReadonlyMap<string, Standing>): EmitRemark[] {
  const said = { around: 'around their markup', root: 'in the place of their root' };
  return (['around', 'root'] as const).flatMap((kind) => {
    const names = [...standing].filter(([, each]) => each.kind === kind).map(([name]) => name);
    return names.length === 0
      ? []
      : [{ kind: 'decided' as const, message: `elements ${said[kind]}: ${names.join(', ')}`, place: null }];
  });
}
