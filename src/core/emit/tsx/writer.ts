/** What the parts of one module share while it is written: names, imports, handlers and remarks. */
import { camelName } from '../../component/expression.js';
import { placeText } from '../../errors.js';
import { fromRoot, markedText, partsOfMarked } from '../../page/url.js';
import type { EmitComponent, EmitNode, EmitRemark, EmitSite, Piece } from '../model.js';
import { find } from '../read.js';
import { jsPieces, type Writing } from './expression.js';
import { collectHandlers, type Handlers } from './handlers.js';
import type { Names } from './names.js';
import { type ModuleParts, moduleStarter, plainModule } from './starter.js';
import { jsString } from './strings.js';
import { type PropTypes, propTypes, type Scope, usesIn } from './types.js';

/** What all modules share. */
export interface Job {
  site: EmitSite;
  names: Names;
  types: PropTypes;
  typed: boolean;
  handlers: Handlers;
  /** functions that modules import from a module of their own */
  shared: Set<'styleObject'>;
  remarks: EmitRemark[];
  components: ReadonlyMap<string, EmitComponent>;
  /** the one folder that all pages resolve their URLs against; null when there are several */
  pageFolder: string | null;
  /** components that must know the folder of the page that they stand in */
  needFolder: ReadonlySet<string>;
  /** for each list, `component prop`, the field that tells records apart */
  keys: ReadonlyMap<string, string>;
  /** the text of a module that stands in a folder of the output */
  moduleText: (folder: string, parts: ModuleParts) => string;
}

/** What one module comes to need while it is written. */
export interface Module {
  /** what handlers and constants are named after, in kebab-case */
  owner: string;
  component: EmitComponent | null;
  imports: Set<string>;
  handlerNames: Set<string>;
  /** variables that expressions ask for */
  variablesUsed: Set<string>;
  /** elements that JSX has no name for, by tag, with the constant that stands for each */
  aliases: Map<string, string>;
  /** lists of records */
  constants: { name: string; type: string; code: string }[];
  usesUrls: boolean;
  usesStyles: boolean;
}

/** A place in a module: what names mean there. */
export interface Writer extends Writing {
  job: Job;
  module: Module;
  /** JavaScript variables by the names of templates, where they differ */
  variables: ReadonlyMap<string, string>;
}

export function startJob(site: EmitSite, names: Names, typed: boolean): Job {
  const folders = new Set(site.pages.map(({ folder }) => folder));
  const [only = ''] = folders;
  const components = new Map(site.components.map((component) => [component.name, component]));
  const { starter } = names.options;
  const all = [...site.components.flatMap(({ props }) => props)].flatMap((prop) => [prop, ...prop.fields]);
  const job: Job = {
    site,
    names,
    types: propTypes(site, names),
    typed,
    handlers: collectHandlers(typed, new Set(all.map(({ name }) => camelName(name)))),
    shared: new Set(),
    remarks: [],
    components,
    pageFolder: folders.size <= 1 && only !== null ? only : null,
    needFolder: new Set(),
    keys: keysOf(site),
    moduleText: starter === null ? (_, parts) => plainModule(parts) : moduleStarter(starter, site.toRoot),
  };
  return { ...job, needFolder: needingFolder(job) };
}

export function startModule(owner: string, component: EmitComponent | null): Module {
  return {
    owner,
    component,
    imports: new Set(),
    handlerNames: new Set(),
    variablesUsed: new Set(),
    aliases: new Map(),
    constants: [],
    usesUrls: false,
    usesStyles: false,
  };
}

export function writerFor(job: Job, module: Module, scope: Scope, variables: ReadonlyMap<string, string>): Writer {
  const writer: Writer = {
    job,
    module,
    scope,
    variables,
    nameOf: (name) => {
      const variable = variables.get(name) ?? name;
      module.variablesUsed.add(variable);
      return variable;
    },
    url: (pieces) => urlOf(pieces, writer),
    none: 'undefined',
  };
  return writer;
}

/** Tells what cannot be said, with its place. */
export function unsayable(writer: Writer, { at }: Pick<EmitNode, 'at'>, message: string): void {
  const { remarks } = writer.job;
  if (
    remarks.some((each) => each.message === message && each.place !== null && placeText(each.place) === placeText(at))
  )
    return;
  remarks.push({ kind: 'unsayable', message, place: at });
}

/** The prop that passes the folder of the page on. */
export const FOLDER = 'pageFolder';

/** A URL from the site's root as the page has it. */
function urlOf(pieces: Piece[], writer: Writer): string {
  const { pageFolder } = writer.job;
  if (pageFolder === null) {
    writer.module.usesUrls = true;
    return `relativeUrl(${FOLDER}, ${jsPieces(pieces, writer)})`;
  }
  const values = pieces.filter((piece) => typeof piece !== 'string');
  const parts = partsOfMarked(fromRoot(markedText(pieces), pageFolder), values);
  return parts.length === 0 ? jsString('') : jsPieces(parts, writer);
}

function needingFolder({ components, pageFolder }: Job): Set<string> {
  const need = new Set<string>();
  if (pageFolder !== null) return need;
  const hasUrl = (pieces: Piece[]) => pieces.some((piece) => typeof piece === 'object' && piece.kind === 'url');
  for (const { name, nodes } of components.values()) {
    const attrs = [
      ...find(nodes, 'element').map((each) => each.attrs),
      ...find(nodes, 'use').map((each) => each.values),
    ];
    if (attrs.flat().some(({ pieces }) => hasUrl(pieces))) need.add(name);
  }
  for (let size = -1; size !== need.size;) {
    size = need.size;
    for (const { name, uses } of components.values()) if (uses.some((each) => need.has(each))) need.add(name);
  }
  return need;
}

/** For each list the field whose values no two records of a list share, in all uses: an id or a link rather than a text. */
function keysOf(site: EmitSite): Map<string, string> {
  const keys = new Map<string, string>();
  const given = usesIn(site);
  for (const { name, props } of site.components)
    for (const prop of props.filter(({ fields }) => fields.length > 0)) {
      const lists = given.flatMap((use) =>
        use.component === name ? use.lists.filter((list) => list.name === prop.name).map(({ records }) => records) : [],
      );
      const isKey = (field: string) =>
        lists.every((records) => {
          const values = records.map((record) => (record as Record<string, unknown> | null)?.[field]);
          return (
            new Set(values).size === values.length && values.every((value) => typeof value === 'string' && value !== '')
          );
        });
      const fields = lists.length === 0 ? [] : prop.fields.filter((field) => isKey(field.name));
      const rank = ({ name: field, type }: (typeof fields)[number]) =>
        /(^|-)id$/.test(field) ? 0 : type === 'url' ? 1 : 2;
      const [best] = fields.sort((a, b) => rank(a) - rank(b));
      if (best !== undefined) keys.set(`${name} ${prop.name}`, camelName(best.name));
    }
  return keys;
}
