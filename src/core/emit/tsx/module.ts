/** Modules of components and pages, as text that is yet to be formatted. */
import { camelName } from '../../component/expression.js';
import type { EmitComponent, EmitNode, EmitPage, EmitProp } from '../model.js';
import { handlerText, styleText } from './attribute.js';
import { expressionOf } from './jsx.js';
import { importPath, moduleImport } from './names.js';
import { slotTypeOf } from './options.js';
import { isReserved, jsString } from './strings.js';
import { scopeOf, type Type } from './types.js';
import { propName, slotProp } from './prop-names.js';
import { FOLDER, type Job, type Module, startModule, type Writer, writerFor } from './writer.js';

/** The module of a component. */
export function componentModule(component: EmitComponent, job: Job): string {
  const { name, folder, file } = job.names.components.get(component.name)!;
  const types = job.types.props.get(component.name)!;
  const module = startModule(component.name, component);
  const variables = new Map(component.props.map((prop) => [camelName(prop.name), variableOf(propName(prop.name))]));
  const writer = writerFor(job, module, scopeOf(types), variables);
  const markup = rootOf(component.nodes, writer);
  const needsFolder = job.needFolder.has(component.name);
  const hasProps = needsFolder || component.props.length + component.slots.length > 0;
  const parameters = hasProps ? parametersOf(component, types, writer, markup) : '';
  const styles = component.styles === null ? '' : `import './${file}.css';`;
  const interfaces = job.typed && hasProps ? interfacesOf(component, types, job) : [];
  return job.moduleText(folder, {
    pragma: pragma(job),
    imports: joined([imports(folder, module, [...propTypesUsed(component, types, job)], job), styles]),
    interface: joined([declarations(module, job), ...interfaces]),
    about: job.typed || !hasProps ? docComment(component.about) : propsComment(component, types, job),
    name,
    props: parameters,
    markup,
  });
}

/** The module of a page's content. */
export function pageModule(page: EmitPage, job: Job): string {
  const { name, folder } = job.names.pages.get(page.path)!;
  const module = startModule(page.path, null);
  const markup = rootOf(page.body, writerFor(job, module, new Map(), new Map()));
  return job.moduleText(folder, {
    pragma: pragma(job),
    imports: imports(folder, module, [], job),
    interface: declarations(module, job),
    about: docComment(`What stands in the body of ${page.path}.`),
    name,
    props: '',
    markup,
  });
}

function joined(parts: string[]): string {
  return parts.filter((part) => part !== '').join('\n\n');
}

function pragma({ names }: Job): string {
  const { jsxImport } = names.options;
  return jsxImport === null ? '' : `/** @jsxImportSource ${jsxImport} */`;
}

/** A variable that a prop is taken apart into. */
function variableOf(name: string): string {
  return isReserved(name) ? `${name}Value` : name;
}

/** An element or a fragment. */
function rootOf(nodes: EmitNode[], writer: Writer): string {
  const [node, ...more] = nodes.filter(({ kind }) => kind !== 'comment');
  const alone = more.length === 0 && (node === undefined || node.kind === 'element' || node.kind === 'use');
  const code = expressionOf(nodes, writer);
  return alone || code.startsWith('<>') ? code : `<>{${code}}</>`;
}

function parametersOf(
  component: EmitComponent,
  types: ReadonlyMap<string, Type>,
  writer: Writer,
  markup: string,
): string {
  const { job } = writer;
  const isUsed = (name: string) => new RegExp(`(?<![\\w$.'"-])${name.replaceAll('$', '\\$')}(?![\\w$])`).test(markup);
  const taken: string[] = job.needFolder.has(component.name) && isUsed(FOLDER) ? [FOLDER] : [];
  for (const prop of component.props) {
    const name = propName(prop.name);
    const variable = variableOf(name);
    // its name may stand in the markup as a word only, and what asks for it may be written without it in the end
    if (!writer.module.variablesUsed.has(variable) || !isUsed(variable)) continue;
    const standard = defaultOf(prop, types.get(prop.name)!, writer);
    const target = variable === name ? name : `${name}: ${variable}`;
    taken.push(standard === null ? target : `${target} = ${standard}`);
  }
  for (const slot of component.slots) {
    const name = slotProp(component, slot);
    if (isUsed(name)) taken.push(name);
  }
  const { name } = job.names.components.get(component.name)!;
  return `{ ${taken.join(', ')} }${job.typed ? `: ${name}Props` : ''}`;
}

/** What a prop is where a use gives none, as JavaScript; null where that is nothing. */
function defaultOf(prop: EmitProp, { kind, absent }: Type, writer: Writer): string | null {
  if (kind === 'flag') return 'false';
  if (kind === 'list' && absent) return '[]';
  if (prop.default === null) return null;
  const at = { path: writer.module.component!.path, line: 1, column: 1 };
  const value = { name: prop.name, pieces: [prop.default], at };
  if (kind === 'style') return styleText(value, writer);
  if (kind === 'handler') return handlerText(value, prop.name, writer);
  return kind === 'number' ? prop.default : jsString(prop.default);
}

/** The interfaces of the props, and of the records of lists. */
function interfacesOf(component: EmitComponent, types: ReadonlyMap<string, Type>, job: Job): string[] {
  const { name } = job.names.components.get(component.name)!;
  const records = component.props.flatMap((prop) => {
    const { kind, record, fields } = types.get(prop.name)!;
    if (kind !== 'list') return [];
    const lines = prop.fields.map((field) =>
      member(
        camelName(field.name),
        fields.get(camelName(field.name))!,
        field.about,
        fields.get(camelName(field.name))!.absent,
      ),
    );
    return [`${docComment(prop.about)}export interface ${record} {\n${lines.join('\n')}\n}`];
  });
  const members = component.props.map((prop) => {
    const type = types.get(prop.name)!;
    return member(propName(prop.name), type, prop.about, type.absent || prop.default !== null || type.kind === 'flag');
  });
  const folder = job.needFolder.has(component.name)
    ? [
        `/** The folder of the page that this stands in, which relative URLs are written from; '' is the site's root. */\n${FOLDER}: string;`,
      ]
    : [];
  const empty = job.types.emptySlots.get(component.name)!;
  const slots = component.slots.map(
    (slot) => `${slotProp(component, slot)}${empty.has(slot) ? '?' : ''}: ${slotType(job).name};`,
  );
  return [...records, `export interface ${name}Props {\n${[...folder, ...members, ...slots].join('\n')}\n}`];
}

function member(name: string, type: Type, about: string | null, optional: boolean): string {
  return `${docComment(about)}${name}${optional ? '?' : ''}: ${typeName(type)};`;
}

function typeName({ kind, choices, record }: Type): string {
  switch (kind) {
    case 'choice':
      return choices.map(jsString).join(' | ');
    case 'number':
      return 'number';
    case 'flag':
      return 'boolean';
    case 'list':
      return `readonly ${record}[]`;
    case 'handler':
      return 'Handler';
    case 'style':
      return 'Record<string, string>';
    case 'mixed':
      return 'string | boolean';
    case 'text':
    case 'nothing':
      return 'string';
  }
}

/** The type of slots, with the module that it comes from. */
export function slotType({ names }: Job): { name: string; from: string | null } {
  return slotTypeOf(names.options) ?? { name: 'Markup', from: null };
}

function docComment(about: string | null): string {
  return about === null || about === '' ? '' : `/** ${about.replaceAll('*/', '* /')} */\n`;
}

/** In modules without types the comment says what the props are. */
function propsComment(component: EmitComponent, types: ReadonlyMap<string, Type>, { needFolder }: Job): string {
  const lines = component.about === null ? [] : [component.about];
  lines.push('@param {object} props');
  if (needFolder.has(component.name))
    lines.push(`@param {string} props.${FOLDER} The folder of the page that this stands in`);
  for (const prop of component.props) {
    const type = types.get(prop.name)!;
    const name = `props.${propName(prop.name)}`;
    const shown =
      prop.default !== null && type.kind !== 'style' && type.kind !== 'handler'
        ? `[${name}=${prop.default}]`
        : prop.default !== null || type.absent || type.kind === 'flag'
          ? `[${name}]`
          : name;
    const kind = type.kind === 'list' ? 'object[]' : type.kind === 'handler' ? 'Function' : typeName(type);
    lines.push(`@param {${kind}} ${shown}${prop.about === null ? '' : ` ${prop.about}`}`);
    for (const field of prop.fields)
      lines.push(`@param {${typeName(type.fields.get(camelName(field.name))!)}} ${name}[].${camelName(field.name)}`);
  }
  for (const slot of component.slots) lines.push(`@param {*} props.${slotProp(component, slot)}`);
  return `/**\n${lines.map((line) => ` * ${line.replaceAll('*/', '* /')}`).join('\n')}\n */\n`;
}

/** What the interface of a component names that stands elsewhere. */
function propTypesUsed(
  component: EmitComponent,
  types: ReadonlyMap<string, Type>,
  { typed }: Job,
): ('handler' | 'slot')[] {
  if (!typed) return [];
  const all = [...types.values()].flatMap((type) => [type, ...type.fields.values()]);
  return [
    ...(all.some(({ kind }) => kind === 'handler') ? (['handler'] as const) : []),
    ...(component.slots.length > 0 ? (['slot'] as const) : []),
  ];
}

function imports(folder: string, module: Module, needs: ('handler' | 'slot')[], job: Job): string {
  const { names } = job;
  const lines: { from: string; what: string }[] = [];
  const slot = slotType(job);
  const packages =
    needs.includes('slot') && slot.from !== null ? [`import type { ${slot.name} } from ${jsString(slot.from)};`] : [];
  if (needs.includes('slot') && slot.from === null)
    lines.push({ from: importPath(folder, 'markup'), what: 'import type { Markup }' });
  const handlers = [...module.handlerNames].sort();
  if (needs.includes('handler')) handlers.unshift('type Handler');
  if (handlers.length > 0) {
    const onlyType = handlers.length === 1 && needs.includes('handler');
    lines.push({
      from: importPath(folder, 'handlers'),
      what: onlyType ? 'import type { Handler }' : `import { ${handlers.join(', ')} }`,
    });
  }
  if (module.usesStyles) lines.push({ from: importPath(folder, 'styleObject'), what: 'import { styleObject }' });
  if (module.usesUrls) lines.push({ from: importPath(folder, 'relativeUrl'), what: 'import { relativeUrl }' });
  const records = new Map<string, Set<string>>();
  for (const { type } of module.constants) {
    const owner = [...job.types.props].find(([, props]) =>
      [...props.values()].some(({ record }) => record !== '' && record === type),
    );
    if (owner !== undefined) records.set(owner[0], (records.get(owner[0]) ?? new Set()).add(type));
  }
  for (const used of module.imports) {
    const target = names.components.get(used)!;
    const types = [...(records.get(used) ?? [])].sort().map((type) => `type ${type}`);
    lines.push({ from: moduleImport(folder, target, names), what: `import { ${[target.name, ...types].join(', ')} }` });
  }
  lines.sort((a, b) => (a.from < b.from ? -1 : 1));
  return [...packages, ...lines.map(({ from, what }) => `${what} from ${jsString(from)};`)].join('\n');
}

/** Constants of the module: tags that JSX has no name for, and lists. */
function declarations({ aliases, constants }: Module, { typed }: Job): string {
  const tags = [...aliases].map(
    ([tag, alias]) => `const ${alias} = ${jsString(tag)}${typed ? " as string as 'div'" : ''};`,
  );
  const lists = constants.map(
    ({ name, type, code }) => `const ${name}${typed ? `: readonly ${type}[]` : ''} = ${code};`,
  );
  return [tags.join('\n'), ...lists].filter((part) => part !== '').join('\n\n');
}
