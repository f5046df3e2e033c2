/** Where stylesheets make white space show, so that indentation counts there when two pages are compared. */
import type { Shown } from '../page/same.js';
import { ident } from 'css-tree';
import { mayShowSpace } from '../page/space.js';
import { type Element, elementsOf } from '../page/tree.js';
import { cascadeOf, type SheetReader } from './cascade.js';
import { matches } from './match.js';
import { filledReader, type Sources } from './plan.js';
import type { Selector } from './selector.js';
import type { Sheet } from './sheet.js';
import { blankedRules, type Declaration } from './syntax.js';
import type { Registry } from '../component/model.js';

const showsSpace = ({ property, value }: Declaration) => mayShowSpace(ident.decode(property), value);

const selectors = new WeakMap<Sheet, Selector[]>();

/** Selectors of rules that say so; whether another rule wins is not asked, so rather too many than too few. */
function showing(sheet: Sheet): Selector[] {
  let found = selectors.get(sheet);
  if (found === undefined) {
    const rules = sheet.rules.filter(({ declarations }) => declarations.some(showsSpace));
    selectors.set(sheet, (found = rules.flatMap((rule) => rule.selectors)));
  }
  return found;
}

/** `shownBy` the stylesheets of a site, of which little else is read. */
export function shownIn(sources: Sources, registry: Registry): Shown {
  const asked = (css: string) => blankedRules(css, (_, body) => /white-space/i.test(body));
  return shownBy(filledReader(sources, registry, asked).read);
}

/** The elements of a page that some rule gives a `white-space` that shows; with all that is in them. */
export function shownBy(read: SheetReader): Shown {
  return (page) => {
    const all = cascadeOf(page, read).uses.flatMap(({ sheet }) => showing(sheet));
    const shows = (element: Element) => all.some((selector) => selector.pseudo === '' && matches(selector, element));
    return new Set(all.length === 0 ? [] : elementsOf(page.root).filter(shows));
  };
}
