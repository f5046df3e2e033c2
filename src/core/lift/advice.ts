/** What could be said with less: components and props that are not needed as they are, each with the command that mends it. */
import { expandPage, folderOfPage } from '../component/expand.js';
import type { Component, Registry } from '../component/model.js';
import { bodyOf } from '../component/read.js';
import { type Place, shownValue } from '../errors.js';
import { addTo } from '../groups.js';
import { type KnownUse, type NearUse, Recogniser } from '../match/known.js';
import { parsePage, placeAt } from '../page/parse.js';
import { attrOf, type Element, elementsOf } from '../page/tree.js';
import { registryForInlining } from '../library/inline.js';
import { type Given, keyOf, useTable } from '../library/roster.js';
import { type Site, type Use, usesOf } from '../library/uses.js';
import { metaOf } from '../library/meta.js';
import { differenceText } from '../survey/near.js';
import { extendComponent } from './extend.js';

export interface Advice {
  kind: 'unused-component' | 'same-value' | 'untaken-default' | 'could-be-one';
  message: string;
  /** what mends it, in their order */
  commands: string[];
  place: Place;
}

/** So many uses say that a value is the same in all; what one or two give may change with the next. */
const LEAST_USES = 3;

/** All advice, by kind, then by component. */
export function adviceFor(site: Site): Advice[] {
  const components = [...site.registry.values()];
  const uses = new Map<string, Use[]>();
  for (const use of usesOf(site)) addTo(uses, use.name, use);
  const unused = components.filter(({ name }) => !uses.has(name));
  return [
    ...unused.map((component): Advice => ({
      kind: 'unused-component',
      message: `${component.name} is used nowhere`,
      commands: [`estrade inline ${component.name}`],
      place: placeAt(component, component.template.start),
    })),
    ...components.flatMap((component) => propAdvice(site, component, uses.get(component.name) ?? [])),
    ...oneOfTwo(site, uses),
  ];
}

/** Props whose value could be a default, or whose default is none. */
function propAdvice(site: Site, component: Component, uses: Use[]): Advice[] {
  const { columns, rows } = useTable(site, component, uses);
  if (rows.length < LEAST_USES) return [];
  return columns.flatMap(({ name, kind }, i): Advice[] => {
    const given = rows.map((row) => row.given[i]!);
    const prop = component.props.find((each) => each.name === name);
    if (kind === 'slot' || prop === undefined || !given.every(isPlain)) return [];
    const values = new Set(given.map(keyOf));
    const place = placeAt(component, metaOf(component, name).start);
    const what = `${component.name}.${name}`;
    const [only] = values;
    const isGiven = given.every((each) => each.kind === 'value');
    if (values.size === 1 && isGiven && only !== undefined)
      return [
        {
          kind: 'same-value',
          message: `all ${rows.length} uses give ${what} the value ${shownValue(only)}`,
          commands: [`estrade default ${what} ${inShell(only)}`],
          place,
        },
      ];
    if (prop.default === null || !isGiven) return [];
    const message = `no use takes the default ${shownValue(prop.default.value)} of ${what}`;
    return [{ kind: 'untaken-default', message, commands: [`estrade default ${what} --none`], place }];
  });
}

/** A value that stands there, or nothing: no list, no flag, and nothing that a template works out. */
function isPlain(given: Given): boolean {
  if (given.kind === 'value') return !given.text.includes('{{');
  return given.kind === 'default' || given.kind === 'none';
}

/** A word as shells take it. */
function inShell(text: string): string {
  return /^[\w./:@%+=,-]+$/.test(text) ? text : `'${text.replaceAll("'", "'\\''")}'`;
}

/** Components whose every use could be one of another component, as that is or but for one difference. */
function oneOfTwo(site: Site, uses: ReadonlyMap<string, Use[]>): Advice[] {
  const { registry } = site;
  const merged = new Set<string>();
  const countOf = ({ name }: Component) => uses.get(name)?.length ?? 0;
  const components = [...registry.values()].sort((a, b) => countOf(a) - countOf(b) || (a.name < b.name ? -1 : 1));
  return components.flatMap((component): Advice[] => {
    const own = uses.get(component.name) ?? [];
    const inPages = own.length > 0 && own.every(({ holder }) => holder.component === undefined);
    const others = components.filter(
      (each) => each !== component && !merged.has(each.name) && beginAlike(component, each),
    );
    if (!inPages || others.length === 0) return [];
    const found = givenBackBy(site, uses, component, others);
    if (found === null) return [];
    merged.add(component.name);
    const { other, but } = found;
    const inline = `estrade inline ${component.name}`;
    return [
      {
        kind: 'could-be-one',
        message: `all uses of ${component.name} could be uses of ${other}${but === null ? '' : `, but for one thing: ${but}`}`,
        commands: [inline, but === null ? `estrade lift ${other}` : `estrade lift --extend ${other}`],
        place: placeAt(component, component.template.start),
      },
    ];
  });
}

/** True where the roots have the same tag, and a class word in common if they have any. */
function beginAlike(one: Component, other: Component): boolean {
  const [a, b] = [rootOf(one), rootOf(other)];
  if (a === undefined || b?.tag !== a.tag) return false;
  const words = (root: Element) => (attrOf(root, 'class') ?? '').split(/\s+/).filter((word) => /^[\w-]+$/.test(word));
  const [mine, theirs] = [words(a), words(b)];
  return mine.length + theirs.length === 0 || mine.some((word) => theirs.includes(word));
}

function rootOf(component: Component): Element | undefined {
  const [root, ...more] = bodyOf(component).filter((child): child is Element => child.kind === 'element');
  return more.length === 0 ? root : undefined;
}

/**
 * The one other component that gives back all that a component stands for in pages; what differs, where it can be widened by that.
 * @param uses of all components, by name; the component's own stand in pages
 */
function givenBackBy(
  site: Site,
  uses: ReadonlyMap<string, Use[]>,
  component: Component,
  others: Component[],
): { other: string; but: string | null } | null {
  const { registry } = site;
  const alone = registryForInlining(component, registry);
  const rest: Registry = Object.assign(new Map([...registry].filter(([name]) => name !== component.name)), {
    data: registry.data,
  });
  const holders = new Set<object>(uses.get(component.name)?.map(({ holder }) => holder));
  const pages = site.pages
    .filter((page) => holders.has(page))
    .map((page) => {
      const { text, extents } = expandPage(page, alone);
      return { after: parsePage(page.path, text, page.encoding), extents };
    });
  const stays = ({ holder }: Use) => holder.component === undefined && !holders.has(holder);
  const staying = [...uses.values()].flatMap((list) => list.filter(stays));
  const elements = [...staying.map(({ element }) => element), ...pages.flatMap(({ after }) => elementsOf(after.root))];
  const recogniser = new Recogniser(rest, elements);
  const found: (KnownUse | NearUse)[] = [];
  for (const { after, extents } of pages) {
    const folder = folderOfPage(after);
    const byStart = new Map(elementsOf(after.root).map((element) => [element.start, element]));
    for (const { start } of extents) {
      const element = byStart.get(start);
      const at = element && { page: after, element, folder };
      const use = at && (recogniser.useAt(at, -Infinity) ?? recogniser.nearUseAt(at));
      if (use === undefined || use === null || !others.includes(use.component)) return null;
      found.push(use);
    }
  }
  const [first] = found;
  if (first === undefined || found.some((each) => each.component !== first.component)) return null;
  const near = found.filter((each): each is NearUse => 'difference' in each);
  if (near.length === 0) return { other: first.component.name, but: null };
  const sources = [...rest.values()];
  const extension = near.some(({ difference }) => difference.component !== first.component)
    ? null
    : extendComponent(first.component, near, { sources, registry: rest, elements });
  if (extension === null || extension.rest.length > 0) return null;
  return { other: first.component.name, but: differenceText(near[0]!.difference) };
}
