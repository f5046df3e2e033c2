/** The parts of a report that are about the whole site. */
import { type Place, placeText } from '../core/errors.js';
import { html, type Markup } from '../core/html.js';
import { number } from '../terminal/style.js';
import { linesByComponent, type LinesOf, linesPlot, pairOfBars } from './charts.js';
import { linkTo } from './entry.js';
import type { DriftRow, Entry, NearRow, Report, Told } from './model.js';
import { codeCell, type Row, tableBox } from './table.js';

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
  const row = (head: Markup | string, lines: LinesOf): Row => ({
    head,
    name: lines.name,
    cells: [lines.before, lines.after, html`<td class="bars">${pairOfBars(lines, most)}</td>`],
  });
  return html`<figure>
      ${linesPlot(report)}
      <figcaption>
        ${told} A line counts for the innermost component that it begins in; of what is written, component files and
        uses count.
      </figcaption>
    </figure>
    ${tableBox({
      caption: 'Lines by component',
      columns: ['component', was, is, ''],
      rows: rows.map((each) => row(linkTo(each.name), each)),
      foot: row('pages themselves', { name: '', before: before.pages, after: after.pages }),
      isSortable: true,
    })}`;
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
  return tableBox({
    caption: 'How often each stands on each page',
    columns: ['', ...columns.map((path) => html`<span>${path}</span>`)],
    rows: entries.map((entry) => ({
      head: linkTo(entry.name),
      name: entry.name,
      cells: countsOf(entry).map((many) =>
        many === 0 ? html`<td></td>` : html`<td class="some">${number(many)}</td>`,
      ),
    })),
    className: 'map',
  });
}

export function driftSection(drift: DriftRow[]): Markup | null {
  if (drift.length === 0) return null;
  return html`<p>
      Most pages that share a part agree; these differ. They keep their own text unless <code>--unify</code> is asked
      for.
    </p>
    ${tableBox({
      caption: 'What most have, and what stands here instead',
      columns: ['part', 'most have', 'pages', 'here', 'place'],
      rows: drift.map(({ finding, place, prop, here, usual, count: pages }) => ({
        head: html`${linkTo(finding)} ${prop === '' ? '(all of it)' : prop}`,
        cells: [
          html`<td class="value" dir="auto">${usual}</td>`,
          pages,
          html`<td class="value here" dir="auto">${here}</td>`,
          codeCell(placeText(place)),
        ],
      })),
      isSortable: true,
      className: 'sides',
    })}`;
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
  return html`<p>
      A component that is there would give these back but for one thing: <code>estrade lift --extend</code>.
    </p>
    ${tableBox({
      caption: 'Nearly uses',
      columns: ['place', 'component', 'it has'],
      rows: near.map((each) => ({
        head: html`<code>${places(each.places)}</code>`,
        cells: [each.component, each.difference],
      })),
    })}`;
}
