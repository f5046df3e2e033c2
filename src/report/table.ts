/** Tables of a report. */
import { html, type Markup } from '../core/html.js';
import { number } from '../terminal/style.js';

/** A number, a text in whatever direction it is written, or a whole cell of its own. */
export type Cell = number | string | Markup;

export interface Row {
  /** what the row is about */
  head: string | Markup;
  cells: readonly Cell[];
  /** component that it is hidden with, where parts are filtered by name */
  name?: string;
}

export interface Table {
  caption: string;
  /** titles, that of the heads first; '' for a column that has none */
  columns: readonly (string | Markup)[];
  rows: readonly Row[];
  /** the last row, which stays there */
  foot?: Row;
  isSortable?: boolean;
  className?: string;
}

/** A table that scrolls by itself where it is wider than the page. */
export function tableBox({ caption, columns, rows, foot, isSortable = false, className = '' }: Table): Markup {
  const isNumeric = (column: number) => column > 0 && rows.every(({ cells }) => typeof cells[column - 1] === 'number');
  const titles = columns.map((title, i) =>
    title === '' ? html`<td></td>` : html`<th scope="col" class="${isNumeric(i) ? 'n' : ''}">${title}</th>`,
  );
  return html`<div class="scroll" tabindex="0" role="group" aria-label="${caption}">
    <table class="${className}" ${isSortable ? html`data-sort` : null}>
      <caption>
        ${caption}
      </caption>
      <thead>
        <tr>
          ${titles}
        </tr>
      </thead>
      <tbody>
        ${rows.map(rowOf)}
      </tbody>
      ${
        foot !== undefined &&
        html`<tfoot>
          ${rowOf(foot)}
        </tfoot>`
      }
    </table>
  </div> `;
}

function rowOf({ head, cells, name }: Row): Markup {
  const written = cells.map((cell) => {
    if (typeof cell === 'number') return html`<td class="n">${number(cell)}</td>`;
    return typeof cell === 'string' ? html`<td dir="auto">${cell}</td>` : cell;
  });
  return html`<tr ${name === undefined ? null : html`data-name="${name}"`}>
    <th scope="row">${head}</th>
    ${written}
  </tr> `;
}

/** A cell with a place, or other code. */
export function codeCell(text: string): Markup {
  return html`<td class="code">${text}</td>`;
}
