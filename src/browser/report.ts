/** Runs in a report: lets tables be sorted, and parts be filtered by name. Without it all is there to be read. */

for (const table of document.querySelectorAll<HTMLTableElement>('table[data-sort]')) makeSortable(table);
addFilter();

/** Makes a button of each heading, which sorts by its column. */
function makeSortable(table: HTMLTableElement): void {
  const headings = Array.from(table.querySelectorAll<HTMLTableCellElement>('thead th'));
  headings.forEach((heading) => {
    const button = document.createElement('button');
    button.type = 'button';
    button.append(...heading.childNodes);
    heading.append(button);
    button.addEventListener('click', () => {
      const direction = heading.getAttribute('aria-sort') === 'ascending' ? 'descending' : 'ascending';
      for (const each of headings) each.removeAttribute('aria-sort');
      heading.setAttribute('aria-sort', direction);
      sortRows(table, heading.cellIndex, direction === 'ascending' ? 1 : -1);
    });
  });
}

function sortRows(table: HTMLTableElement, column: number, sign: number): void {
  const body = table.tBodies[0];
  if (body === undefined) return;
  const keyOf = (row: HTMLTableRowElement) => row.cells[column]?.textContent.trim() ?? '';
  const numberOf = (text: string) =>
    /^-?[\d,]+/.test(text) ? Number(/^-?[\d,]+/.exec(text)![0].replaceAll(',', '')) : NaN;
  const rows = Array.from(body.rows).sort((a, b) => {
    const [one, two] = [keyOf(a), keyOf(b)];
    const apart = numberOf(one) - numberOf(two);
    return sign * (Number.isNaN(apart) ? one.localeCompare(two, 'en', { numeric: true }) : apart);
  });
  body.append(...rows);
}

/** A field above the list of contents; what does not have the text in its name is not shown. */
function addFilter(): void {
  const nav = document.querySelector('nav');
  const named = Array.from(document.querySelectorAll<HTMLElement>('[data-name]')).filter(
    ({ dataset }) => dataset.name !== '',
  );
  if (nav === null || named.length === 0) return;
  const field = document.createElement('input');
  field.type = 'search';
  field.placeholder = 'Filter by name';
  field.setAttribute('aria-label', 'Show only parts with this in their name');
  nav.querySelector('ul')?.before(field);
  field.addEventListener('input', () => {
    const wanted = field.value.trim().toLowerCase();
    for (const each of named) each.hidden = !each.dataset.name!.includes(wanted);
  });
}

export {};
