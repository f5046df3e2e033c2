/**
 * The stylesheets of a page in cascade order (CSS Cascading and Inheritance Level 5): `link` and `style` elements as
 * they stand in the document, each import before the sheet that asks for it, and the order of cascade layers.
 */
import { isCss, isStylesheetLink } from '../page/stylesheet-link.js';
import { folderOfPage } from '../component/expand.js';
import { type Page, placeAt } from '../page/parse.js';
import type { Place } from '../errors.js';
import { attrOf, type Element, elementsOf } from '../page/tree.js';
import { folderOf, resolve } from '../page/url.js';
import { fold, readSheet, type Sheet } from './sheet.js';

/** One sheet at its place in the cascade of a page. */
export interface SheetUse {
  sheet: Sheet;
  /** number in cascade order */
  order: number;
  /** what `link` and imports ask for, as far as it may or may not hold */
  conditions: string[];
  /** the layer that an import puts it in, outermost first */
  layers: string[];
}

export interface Cascade {
  uses: SheetUse[];
  /** place in the order of layers by their joined names; what is in none comes last */
  layers: ReadonlyMap<string, number>;
  notes: { kind: 'remote' | 'missing' | 'cycle'; message: string; place: Place }[];
}

/** Gives the stylesheets of a site, each read once: asked again, it gives the same objects. */
export class SheetReader {
  /**
   * @param ofFile gives the sheet at a path from the root, null when there is none
   * @param inline sheets of `style` elements that were read before
   */
  constructor(
    readonly ofFile: (path: string) => Sheet | null,
    private readonly inline = new Map<string, Sheet>(),
  ) {}

  /** The same, with another sheet at one path. */
  with(path: string, sheet: Sheet): SheetReader {
    return new SheetReader((each) => (each === path ? sheet : this.ofFile(each)), this.inline);
  }

  /** The sheet of a `style` element: the first of the page at a path is number 1. */
  ofElement(path: string, element: number, source: string): Sheet {
    const key = `${path} ${element}\n${source}`;
    let sheet = this.inline.get(key);
    if (sheet === undefined) this.inline.set(key, (sheet = readSheet(path, source, element)));
    return sheet;
  }
}

const SCHEME = /^(?:[a-z][a-z0-9+.-]*:|\/\/)/i;

/** Collects the stylesheets of a page, which must be expanded. */
export function cascadeOf(page: Page, read: SheetReader): Cascade {
  const cascade: Cascade = { uses: [], layers: new Map(), notes: [] };
  const folder = folderOfPage(page);
  let styles = 0;
  for (const element of elementsOf(page.root)) {
    const conditions = mediaOf(element);
    if (element.tag === 'style' && isCss(element) && !inTemplate(element)) {
      const text = element.children[0];
      const source = text?.kind === 'text' ? text.value : '';
      const sheet = read.ofElement(page.path, ++styles, source);
      const start = text?.start ?? element.openEnd;
      sheet.onDisk = (offset) => placeAt(page, start + offset);
      add(cascade, sheet, { conditions, layers: [] }, [], read);
    } else if (isStylesheetLink(element) && !inTemplate(element)) {
      const place = placeAt(page, element.start);
      addFrom(cascade, attrOf(element, 'href') ?? '', folder, { conditions, layers: [] }, [], place, read);
    }
  }
  cascade.layers = layerOrder(cascade.uses);
  return cascade;
}

function inTemplate(element: Element): boolean {
  for (let at = element.parent; at !== null; at = at.parent)
    if (at.kind === 'element' && at.tag === 'template') return true;
  return false;
}

function mediaOf(element: Element): string[] {
  const media = fold(attrOf(element, 'media') ?? '');
  return media === '' || media === 'all' ? [] : [`@media ${media}`];
}

type Wrapped = Pick<SheetUse, 'conditions' | 'layers'>;

/** Adds the sheet that a URL names. `chain` holds the sheets that lead to it, for an import may lead back. */
function addFrom(
  cascade: Cascade,
  url: string,
  folder: string | null,
  wrapped: Wrapped,
  chain: Sheet[],
  place: Place,
  read: SheetReader,
): void {
  const note = (kind: Cascade['notes'][number]['kind'], message: string) =>
    cascade.notes.push({ kind, message, place });
  if (folder === null || SCHEME.test(url)) return void note('remote', `${url} is elsewhere, and is not read`);
  const plain = url.trim().replace(/[?#].*$/s, '');
  const target = plain.startsWith('/') ? plain.slice(1) : resolve(plain, folder);
  const sheet = target === null || plain === '' ? null : (read.ofFile(target) ?? read.ofFile(decoded(target)));
  if (sheet === null) return void note('missing', `the stylesheet "${url}" is not there`);
  if (chain.includes(sheet)) {
    const names = [...chain.slice(chain.indexOf(sheet)), sheet].map((each) => each.path).join(' → ');
    return void note('cycle', `these stylesheets import each other: ${names}; the last import is skipped`);
  }
  add(cascade, sheet, wrapped, chain, read);
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

function add(cascade: Cascade, sheet: Sheet, wrapped: Wrapped, chain: Sheet[], read: SheetReader): void {
  sheet.imports.forEach(({ url, conditions, layer, start }, i) => {
    const inner = {
      conditions: [...wrapped.conditions, ...conditions],
      layers:
        layer === null
          ? wrapped.layers
          : [...wrapped.layers, ...(layer === '' ? [`(import ${i} of ${sheet.path})`] : layer.split('.'))],
    };
    addFrom(cascade, url, folderOf(sheet.path), inner, [...chain, sheet], placeAt(sheet, start), read);
  });
  cascade.uses.push({ sheet, order: cascade.uses.length, ...wrapped });
}

interface Layer {
  inner: Map<string, Layer>;
}

/** Layers in the order of their first mention; rules of a layer itself come after those of layers in it. */
function layerOrder(uses: SheetUse[]): Map<string, number> {
  const top: Layer = { inner: new Map() };
  const mention = (names: string[]) => {
    let at = top;
    for (const name of names) {
      let next = at.inner.get(name);
      if (next === undefined) at.inner.set(name, (next = { inner: new Map() }));
      at = next;
    }
  };
  for (const { sheet, layers } of uses) {
    mention(layers);
    for (const names of sheet.layerNames) mention([...layers, ...names]);
  }
  const order = new Map<string, number>();
  const visit = (layer: Layer, names: string[]) => {
    for (const [name, inner] of layer.inner) visit(inner, [...names, name]);
    order.set(names.join('.'), order.size);
  };
  visit(top, []);
  return order;
}
