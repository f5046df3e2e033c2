/** Where stylesheets make white space show, so that indentation counts there when two pages are compared. */
import type { Shown } from '../page/same.js';
import { ident } from 'css-tree';
import { onceEach } from '../once.js';
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

/** Selectors of rules that say so; whether another rule wins is not asked, so rather too many than too few. */
function showing({ rules }: Sheet): Selector[] {
  // selectors are read when they are first asked for
  return rules.filter(({ declarations }) => declarations.some(showsSpace)).flatMap((rule) => rule.selectors);
}

/** `shownBy` the stylesheets of a site, of which little else is read. */
export function shownIn(sources: Sources, registry: Registry): Shown {
  const asked = (css: string) => blankedRules(css, (_, body) => /white-space/i.test(body));
  return shownBy(filledReader(sources, registry, asked).read);
}

/** The elements of a page that some rule gives a `white-space` that shows; with all that is in them. */
export function shownBy(read: SheetReader): Shown {
  const showingOnce = onceEach(showing);
  return (page) => {
    const all = cascadeOf(page, read).uses.flatMap(({ sheet }) => showingOnce(sheet));
    const shows = (element: Element) => all.some((selector) => selector.pseudo === '' && matches(selector, element));
    return new Set(all.length === 0 ? [] : elementsOf(page.root).filter(shows));
  };
}
