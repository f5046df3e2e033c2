/** The parts of a report that come after its entries: styles, and what was left. */
import { placeText } from '../core/errors.js';
import { html, type Markup } from '../core/html.js';
import { count, number } from '../terminal/style.js';
import { anchorOf } from './entry.js';
import type { Entry, Left, SheetRow } from './model.js';
import { toldList } from './sections.js';

export function stylesSection(entries: Entry[], sheets: SheetRow[]): Markup | null {
  const dressed = entries.flatMap(({ name, rules }) => (rules === null ? [] : [{ name, rules }]));
  if (dressed.length === 0 && sheets.length === 0) return null;
  const titles = ['own', 'shared', 'reach in', 'reach out', 'poured in', 'positional', 'in its file'];
  const cells = (values: number[]) => values.map((value) => html`<td class="n">${number(value)}</td>`);
  const rows = dressed.map(
    ({ name, rules: { own, shared, reachesIn, reachesOut, poured, positional, inside } }) =>
      html`<tr data-name="${name}">
        <th scope="row"><a href="#${anchorOf(name)}">${name}</a></th>
        ${cells([own, shared, reachesIn, reachesOut, poured, positional, inside])}
      </tr> `,
  );
  const sheetRows = sheets.map(
    ({ name, rules, own, shared, pages, unseen }) =>
      html`<tr>
        <th scope="row">${name}</th>
        ${cells([rules, own, shared, pages, unseen.length])}
      </tr> `,
  );
  const unseen = sheets.flatMap((sheet) => sheet.unseen);
  const heads = (all: string[]) => all.map((title) => html`<th scope="col" class="n">${title}</th>`);
  return html`${
    rows.length > 0 &&
    html`<div class="scroll" tabindex="0" role="group" aria-label="Rules by component">
      <table data-sort>
        <caption>
          Rules that dress each: its own, shared with others, and those that reach in from around it, out of it, or into
          what is poured in
        </caption>
        <thead>
          <tr>
            <th scope="col">component</th>
            ${heads(titles)}
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>
    </div>`
  }
  ${
    sheetRows.length > 0 &&
    html`<h3 class="minor">Stylesheets</h3>
      <div class="scroll" tabindex="0" role="group" aria-label="Rules by stylesheet">
        <table>
          <caption>
            Rules of each stylesheet
          </caption>
          <thead>
            <tr>
              <th scope="col">stylesheet</th>
              ${heads(['rules', 'own', 'shared', 'of pages', 'not seen'])}
            </tr>
          </thead>
          <tbody>
            ${sheetRows}
          </tbody>
        </table>
      </div>`
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
  const rows = offers.map(
    ({ name, kind, places, reason }) =>
      html`<tr>
        <th scope="row">${name}</th>
        <td>${kind}</td>
        <td class="n">${number(places)}</td>
        <td>${reason}</td>
      </tr> `,
  );
  const once = regions.map(
    ({ name, place, lines }) =>
      html`<tr>
        <th scope="row">${name}</th>
        <td class="code">${placeText(place)}</td>
        <td class="n">${number(lines)}</td>
      </tr> `,
  );
  return html`${
    remarks.length > 0 &&
    html`<h3 class="minor">What has to stay as it is</h3>
      ${toldList(remarks)}`
  }
  ${
    rows.length > 0 &&
    html`<h3 class="minor">What could be a component, and is not recommended</h3>
      <div class="scroll" tabindex="0" role="group" aria-label="Not recommended">
        <table data-sort>
          <caption>
            Not recommended
          </caption>
          <thead>
            <tr>
              <th scope="col">finding</th>
              <th scope="col">kind</th>
              <th scope="col" class="n">places</th>
              <th scope="col">why not</th>
            </tr>
          </thead>
          <tbody>
            ${rows}
          </tbody>
        </table>
      </div>
      ${moreOffers > 0 && html`<p class="quiet">… and ${number(moreOffers)} more: estrade survey --all</p>`}`
  }
  ${
    once.length > 0 &&
    html`<h3 class="minor">What stands apart once</h3>
      <div class="scroll" tabindex="0" role="group" aria-label="Regions">
        <table data-sort>
          <caption>
            Regions, the longest first
          </caption>
          <thead>
            <tr>
              <th scope="col">region</th>
              <th scope="col">place</th>
              <th scope="col" class="n">lines</th>
            </tr>
          </thead>
          <tbody>
            ${once}
          </tbody>
        </table>
      </div>
      ${moreRegions > 0 && html`<p class="quiet">… and ${number(moreRegions)} more: estrade survey --regions</p>`}`
  } `;
}
