/** A report as one HTML page that needs nothing else: no network, and no script to be read. */
import { html, Markup } from '../core/html.js';
import { REPORT_BEGINNING } from '../core/report-mark.js';
import { anchorOf, entrySection } from './entry.js';
import type { Report } from './model.js';
import { leftSection, stylesSection } from './rest.js';
import { driftSection, linesSection, mapSection, nearSection, slipsSection } from './sections.js';
import { REPORT_STYLES } from './styles.js';

/** A part of the report: what it is called in the list at its side, and what it has; null for nothing. */
interface Section {
  id: string;
  title: string;
  content: Markup | null;
}

/** @param script that lets tables be sorted and parts be filtered; text of a script element */
export function reportPage(report: Report, script: string): string {
  const { name, summary, entries } = report;
  const sections = sectionsOf(report).filter(({ content }) => content !== null);
  const list = sections.map(
    ({ id, title }) =>
      html`<li>
        <a href="#${id}">${title}</a>${
          id === 'parts' &&
          html`<ul>
            ${entries.map((entry) => html`<li data-name="${entry.name}"><a href="#${anchorOf(entry.name)}">${entry.name}</a></li>`)}
          </ul>`
        }
      </li> `,
  );
  const page = html`<html lang="en">
    <head>
      <meta charset="utf-8" />
      <meta name="viewport" content="width=device-width, initial-scale=1" />
      <meta
        http-equiv="Content-Security-Policy"
        content="default-src 'none'; img-src data:; style-src 'unsafe-inline'; script-src 'unsafe-inline'"
      />
      <title>${name}: components</title>
      <style>
        ${new Markup(REPORT_STYLES)}
      </style>
    </head>
    <body>
      <a class="skip" href="#report">To the report</a>
      <nav aria-label="Contents">
        <p>${name}</p>
        <ul>
          ${list}
        </ul>
      </nav>
      <main id="report">
        <h1>${name}</h1>
        ${summary.map((sentence) => html`<p class="lead">${sentence}</p> `)}
        ${sections.map(
          ({ id, title, content }) =>
            html`<section aria-labelledby="${id}">
              <h2 id="${id}">${title}</h2>
              ${content}
            </section> `,
        )}
      </main>
      <script>
        ${new Markup(script.replace(/<\//g, '<\\/'))};
      </script>
    </body>
  </html> `;
  return REPORT_BEGINNING + page.text;
}

function sectionsOf(report: Report): Section[] {
  const { entries, drift, slips, near, sheets, left } = report;
  const title = report.isLifted ? 'Components' : 'Findings';
  return [
    { id: 'lines', title: 'Lines before and after', content: linesSection(report) },
    { id: 'map', title: 'What stands on which page', content: mapSection(report) },
    { id: 'drift', title: 'Where copies drifted apart', content: driftSection(drift) },
    { id: 'slips', title: 'What was probably forgotten', content: slipsSection(slips) },
    { id: 'near', title: 'Nearly uses of a component', content: nearSection(near) },
    {
      id: 'parts',
      title,
      content: entries.length === 0 ? null : html`${entries.map((entry) => entrySection(entry, report.pages))}`,
    },
    { id: 'styles', title: 'Styles', content: stylesSection(entries, sheets) },
    { id: 'left', title: 'What was left, and why', content: leftSection(left) },
  ];
}
