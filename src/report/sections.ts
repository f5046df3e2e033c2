/** The parts of a report that are about the whole site. */
import { type Place, placeText } from '../core/errors.js';
import { html, type Markup } from '../core/html.js';
import { number } from '../terminal/style.js';
import { linesByComponent, linesPlot, pairOfBars } from './charts.js';
import { anchorOf } from './entry.js';
import type { DriftRow, Entry, NearRow, Report, Told } from './model.js';

export function linesSection(report: Report): Markup | null {
  const rows = linesByComponent(report);
  if (rows.length === 0) return null;
  const most = Math.max(...rows.map(({ before, after }) => Math.max(before, after)), 1);
  const { before, after } = report.lines;
  const [was, is] = [report.isLifted ? 'built' : 'now', report.isPlanned ? 'with components' : 'written'];
  const told = [
    report.isLifted ? 'Lines of the site as it is built' : 'Lines of the site now',
    report.isPlanned ? 'and with what is recommended lifted.' : 'and as it is written with its components.',
  ].join(', ');
  const line = (name: Markup | string, lines: { name: string; before: number; after: number }) =>
    html`<tr data-name="${lines.name}">
      <th scope="row">${name}</th>
      <td class="n">${number(lines.before)}</td>
      <td class="n">${number(lines.after)}</td>
      <td class="bars">${pairOfBars(lines, most)}</td>
    </tr> `;
  return html`<figure>
      ${linesPlot(report)}
      <figcaption>
        ${told} A line counts for the innermost component that it begins in; of what is written, component files and
        uses count.
      </figcaption>
    </figure>
    <div class="scroll" tabindex="0" role="group" aria-label="Lines by component">
      <table data-sort>
        <caption>
          Lines by component
        </caption>
        <thead>
          <tr>
            <th scope="col">component</th>
            <th scope="col" class="n">${was}</th>
            <th scope="col" class="n">${is}</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          ${rows.map((each) => line(html`<a href="#${anchorOf(each.name)}">${each.name}</a>`, each))}
        </tbody>
        <tfoot>
          ${line('pages themselves', { name: '', before: before.pages, after: after.pages })}
        </tfoot>
      </table>
    </div>`;
}

/** So many columns a map has at most; with more pages, those of a folder share one. */
const MOST_COLUMNS = 40;

export function mapSection({ pages, entries }: Report): Markup | null {
  if (entries.length === 0) return null;
  const folderOf = (path: string) => path.slice(0, path.lastIndexOf('/') + 1) || './';
  const columns = pages.length <= MOST_COLUMNS ? pages : [...new Set(pages.map(folderOf))];
  const columnOf = new Map(pages.map((path) => [path, columns.indexOf(pages === columns ? path : folderOf(path))]));
  const countsOf = ({ byPage }: Entry) => {
    const counts = columns.map(() => 0);
    byPage.forEach((many, i) => (counts[columnOf.get(pages[i]!)!]! += many));
    return counts;
  };
  const rows = entries.map(
    (entry) =>
      html`<tr data-name="${entry.name}">
        <th scope="row"><a href="#${anchorOf(entry.name)}">${entry.name}</a></th>
        ${countsOf(entry).map((many) => (many === 0 ? html`<td></td>` : html`<td class="some">${number(many)}</td>`))}
      </tr> `,
  );
  return html`<div class="scroll" tabindex="0" role="group" aria-label="Map of components and pages">
    <table class="map">
      <caption>
        How often each stands on each page
      </caption>
      <thead>
        <tr>
          <td></td>
          ${columns.map((path) => html`<th scope="col"><span>${path}</span></th>`)}
        </tr>
      </thead>
      <tbody>
        ${rows}
      </tbody>
    </table>
  </div> `;
}

export function driftSection(drift: DriftRow[]): Markup | null {
  if (drift.length === 0) return null;
  const rows = drift.map(
    ({ finding, place, prop, here, usual, count: pages }) =>
      html`<tr>
        <th scope="row"><a href="#${anchorOf(finding)}">${finding}</a> ${prop === '' ? '(all of it)' : prop}</th>
        <td class="value" dir="auto">${usual}</td>
        <td class="n">${number(pages)}</td>
        <td class="value here" dir="auto">${here}</td>
        <td class="code">${placeText(place)}</td>
      </tr> `,
  );
  return html`<p>
      Most pages that share a part agree; these differ. They keep their own text unless <code>--unify</code> is asked
      for.
    </p>
    <div class="scroll" tabindex="0" role="group" aria-label="Drift">
      <table class="sides" data-sort>
        <caption>
          What most have, and what stands here instead
        </caption>
        <thead>
          <tr>
            <th scope="col">part</th>
            <th scope="col">most have</th>
            <th scope="col" class="n">pages</th>
            <th scope="col">here</th>
            <th scope="col">place</th>
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>
    </div> `;
}

export function toldList(all: Told[]): Markup {
  return html`<ul>
    ${all.map(({ place, message }) => html`<li>${place !== null && html`<code>${placeText(place)}</code> `}<span dir="auto">${message}</span></li> `)}
  </ul>`;
}

export function slipsSection(slips: Told[]): Markup | null {
  return slips.length === 0
    ? null
    : html`<p>When something is copied, some of it is forgotten.</p>
        ${toldList(slips)} `;
}

export function nearSection(near: NearRow[]): Markup | null {
  if (near.length === 0) return null;
  const places = ([first, ...more]: Place[]) =>
    placeText(first!) + (more.length === 0 ? '' : ` and ${number(more.length)} more`);
  const rows = near.map(
    (each) =>
      html`<tr>
        <th scope="row" class="code"><code>${places(each.places)}</code></th>
        <td>${each.component}</td>
        <td dir="auto">${each.difference}</td>
      </tr> `,
  );
  return html`<p>
      A component that is there would give these back but for one thing: <code>estrade lift --extend</code>.
    </p>
    <div class="scroll" tabindex="0" role="group" aria-label="Nearly uses">
      <table>
        <thead>
          <tr>
            <th scope="col">place</th>
            <th scope="col">component</th>
            <th scope="col">it has</th>
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>
    </div> `;
}
