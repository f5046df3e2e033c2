/** The parts of a report that come after its entries: styles, and what was left. */
import { placeText } from '../core/errors.js';
import { html, type Markup } from '../core/html.js';
import { count, number } from '../terminal/style.js';
import { linkTo } from './entry.js';
import type { Entry, Left, SheetRow } from './model.js';
import { toldList } from './sections.js';
import { codeCell, tableBox } from './table.js';

export function stylesSection(entries: Entry[], sheets: SheetRow[]): Markup | null {
  const dressed = entries.flatMap(({ name, rules }) => (rules === null ? [] : [{ name, rules }]));
  if (dressed.length === 0 && sheets.length === 0) return null;
  const unseen = sheets.flatMap((sheet) => sheet.unseen);
  return html`${
    dressed.length > 0 &&
    tableBox({
      caption:
        'Rules that dress each: its own, shared with others, and those that reach in from around it, out of it, or into what is poured in',
      columns: ['component', 'own', 'shared', 'reach in', 'reach out', 'poured in', 'positional', 'in its file'],
      rows: dressed.map(({ name, rules: { own, shared, reachesIn, reachesOut, poured, positional, inside } }) => ({
        head: linkTo(name),
        name,
        cells: [own, shared, reachesIn, reachesOut, poured, positional, inside],
      })),
      isSortable: true,
    })
  }
  ${
    sheets.length > 0 &&
    html`<h3 class="minor">Stylesheets</h3>
      ${tableBox({
        caption: 'Rules of each stylesheet',
        columns: ['stylesheet', 'rules', 'own', 'shared', 'of pages', 'not seen'],
        rows: sheets.map(({ name, rules, own, shared, pages, unseen: never }) => ({
          head: name,
          cells: [rules, own, shared, pages, never.length],
        })),
      })}`
  }
  ${
    unseen.length > 0 &&
    html`<details>
      <summary>${count(unseen.length, 'rule')} not seen on any page</summary>
      ${toldList(unseen)}
    </details>`
  } `;
}

export function leftSection({ offers, moreOffers, regions, moreRegions, remarks }: Left): Markup | null {
  if (offers.length + regions.length + remarks.length === 0) return null;
  return html`${
    remarks.length > 0 &&
    html`<h3 class="minor">What has to stay as it is</h3>
      ${toldList(remarks)}`
  }
  ${
    offers.length > 0 &&
    html`<h3 class="minor">What could be a component, and is not recommended</h3>
      ${tableBox({
        caption: 'Not recommended',
        columns: ['finding', 'kind', 'places', 'why not'],
        rows: offers.map(({ name, kind, places, reason }) => ({ head: name, cells: [kind, places, reason] })),
        isSortable: true,
      })}
      ${moreOffers > 0 && html`<p class="quiet">… and ${number(moreOffers)} more: estrade survey --all</p>`}`
  }
  ${
    regions.length > 0 &&
    html`<h3 class="minor">What stands apart once</h3>
      ${tableBox({
        caption: 'Regions, the longest first',
        columns: ['region', 'place', 'lines'],
        rows: regions.map(({ name, place, lines }) => ({ head: name, cells: [codeCell(placeText(place)), lines] })),
        isSortable: true,
      })}
      ${moreRegions > 0 && html`<p class="quiet">… and ${number(moreRegions)} more: estrade survey --regions</p>`}`
  } `;
}
