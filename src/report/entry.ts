/** One component or finding in a report. */
import { placeText } from '../core/errors.js';
import { html, type Markup } from '../core/html.js';
import { count, number } from '../terminal/style.js';
import { highlighted } from './highlight.js';
import type { CutRow, Entry, PlaceTable, PropRow, RuleCounts } from './model.js';
import { tableBox } from './table.js';

/** The id of an entry, and a reference to it. */
export function anchorOf(name: string): string {
  return `part-${name}`;
}

/** A link to an entry, by its name. */
export function linkTo(name: string): Markup {
  return html`<a href="#${anchorOf(name)}">${name}</a>`;
}

/** @param pages paths of all pages, which `byPage` counts */
export function entrySection(entry: Entry, pages: readonly string[]): Markup {
  const { name, told, notes, props, slots, places, path, file, use, cuts, rules } = entry;
  const on = pages.filter((_, i) => entry.byPage[i]! > 0).length;
  return html`<section class="part" id="${anchorOf(name)}" data-name="${name}" aria-labelledby="${anchorOf(name)}-name">
    <header>
      <h3 id="${anchorOf(name)}-name">${name}</h3>
      <p>${told}</p>
    </header>
    ${notes.map((note) => html`<p dir="auto">${note}</p> `)} ${shownPart(entry)}
    <h4>Interface</h4>
    ${props.length === 0 ? html`<p class="quiet">It takes no props.</p>` : propTable(name, props)}
    ${slots.length > 0 && html`<p>Slots: ${slots.map((slot) => (slot === '' ? 'its content' : slot)).join(', ')}.</p>`}
    <h4>Places</h4>
    ${places.rows.length === 0 ? html`<p class="quiet">Nothing uses it.</p>` : placeTable(name, places)}
    ${on > 1 && html`<p class="quiet">On ${count(on, 'page')}, those where another component brings it among them.</p>`}
    <div class="sources">
      <div>
        <h4>${entry.isComponent ? path : `${path}, as it would be written`}</h4>
        ${sourceBox(file.trimEnd(), `File of ${name}`)}
      </div>
      ${
        use !== null &&
        html`<div>
          <h4>A use</h4>
          ${sourceBox(use, `A use of ${name}`)}
        </div>`
      }
    </div>
    ${
      cuts.length > 1 &&
      html`<h4>Other ways to cut it</h4>
        ${cutTable(name, cuts)}`
    }
    ${
      rules !== null &&
      html`<h4>Styles</h4>
        <p>${rulesText(rules)}.</p>`
    }
    ${!entry.isComponent && html`<p>To lift it: <code>estrade lift ${name}</code></p>`}
  </section> `;
}

/** A picture of it, or its markup. */
function shownPart({ name, picture, markup }: Entry): Markup | null {
  if (picture !== null) {
    const { image, type, width, height, page } = picture;
    return html`<figure>
      <img
        src="data:${type};base64,${image.toString('base64')}"
        width="${width}"
        height="${height}"
        alt="${name} as it looks on ${page}"
      />
      <figcaption>As on ${page}</figcaption>
    </figure>`;
  }
  return markup === null
    ? null
    : html`<h4>Its markup at the first place</h4>
        ${sourceBox(markup, `Markup of ${name}`)}`;
}

function sourceBox(source: string, label: string): Markup {
  return html`<pre tabindex="0" role="group" aria-label="${label}"><code>${highlighted(source)}</code></pre>`;
}

function propTable(name: string, props: PropRow[]): Markup {
  const hasChoices = props.some(({ choices }) => choices.length > 0);
  return tableBox({
    caption: `Props of ${name}`,
    columns: ['prop', 'type', 'given', ...(hasChoices ? ['choices'] : [])],
    rows: props.map(({ name: prop, type, given, choices }) => ({
      head: prop,
      cells: [type, given, ...(hasChoices ? [choices.join(', ')] : [])],
    })),
  });
}

function placeTable(name: string, { columns, rows, more, untold }: PlaceTable): Markup {
  const isOdd = rows.some(({ cells }) => cells.some(({ kind }) => kind === 'odd'));
  const table = tableBox({
    caption: columns.length === 0 ? `Where ${name} stands` : `What each place gives ${name}`,
    columns: ['place', ...columns],
    rows: rows.map(({ place, cells }) => ({
      head: html`<code>${placeText(place)}</code>`,
      cells: cells.map(
        ({ text, kind }) => html`<td class="value ${kind}" dir="auto">${text}${kind === 'odd' && ' *'}</td>`,
      ),
    })),
    isSortable: true,
  });
  return html`${table} ${isOdd && html`<p class="quiet">Marked with *: most uses are given something else.</p>`}
  ${
    more.length > 0 &&
    html`<details>
      <summary>${count(more.length + untold, 'more place')}</summary>
      <p>
        <code>${more.map(placeText).join(', ')}</code
        >${untold > 0 && ` … and ${number(untold)} more: estrade show ${name} --all`}
      </p>
    </details>`
  }`;
}

function cutTable(name: string, cuts: CutRow[]): Markup {
  return tableBox({
    caption: `Ways to cut ${name}, with the lines that the site would have after each by itself`,
    columns: ['way', 'component', 'lines', 'files', 'props', 'slots', 'uses', 'places to change'],
    rows: cuts.map(({ what, name: called, linesAfter, props, slots, uses, places }) => ({
      head: what,
      cells: [called, linesAfter, 1, props, slots, uses, places],
    })),
  });
}

function rulesText({ own, shared, reachesIn, reachesOut, poured, positional, inside }: RuleCounts): string {
  const more = [
    [reachesIn, 'by what is around it'],
    [reachesOut, 'something else through it'],
    [poured, 'what is poured into it'],
    [positional, 'depending on where it stands'],
  ] as const;
  return [
    `${own === 0 ? 'No rule' : count(own, 'rule')} of its own${inside > 0 ? `, ${number(inside)} in its file` : ''}, ${number(shared)} shared`,
    ...more.flatMap(([many, what]) =>
      many === 0 ? [] : [`${count(many, 'rule')} ${many === 1 ? 'dresses' : 'dress'} ${reachWord(what)}${what}`],
    ),
  ].join('; ');
}

/** What stands before a way in which a rule reaches. */
function reachWord(what: string): string {
  return what.startsWith('by') || what.startsWith('depending') ? 'it ' : '';
}
