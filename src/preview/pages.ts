/** Pages of the preview itself. */
import { html, Markup } from '../core/html.js';
import type { Comparing } from '../browser/compare.js';

/** The path of a URL that names a path from the root. */
export function urlOf(path: string): string {
  return `/${path.split('/').map(encodeURIComponent).join('/')}`;
}

const LIST_STYLES = `
body { font: 16px/1.6 ui-sans-serif, system-ui, sans-serif; max-width: 44rem; margin: 3rem auto; padding: 0 1rem;
  color: light-dark(#1d2730, #e9e4d8); background: light-dark(#fffaf2, #161d24) }
h1 { font-size: 1.3rem; border-top: 3px solid light-dark(#0b6e69, #5cc9c1); padding-top: .6rem }
ul { padding: 0; list-style: none; border-top: 1px solid #8886 }
li { border-bottom: 1px solid #8886 }
a { display: block; padding: .45rem 0; color: inherit; font-family: ui-monospace, monospace; font-size: .9rem }
`;

/** All pages of the site, for who asks for one that is not there. */
export function listPage(path: string, pages: readonly string[]): string {
  const title = path === '' ? 'Pages of this site' : `There is no page or file “${path}”`;
  const links = pages.map((each) => html`<li><a href="${urlOf(each)}">${each}</a></li> `);
  return pageOf(
    title,
    LIST_STYLES,
    html`<h1>${title}</h1>
      <ul>
        ${links}
      </ul>`,
  );
}

const COMPARE_STYLES = `
* { box-sizing: border-box }
html, body { height: 100% }
body {
  margin: 0; display: grid; grid-template-rows: auto minmax(0, 1fr); --share: 50%;
  font: 14px/1.4 ui-sans-serif, system-ui, sans-serif; color: light-dark(#1d2730, #e9e4d8); background: light-dark(#e8e2d6, #10161b);
}
header {
  display: flex; flex-wrap: wrap; gap: 8px 14px; align-items: center; padding: 9px 14px;
  background: light-dark(#fffaf2, #1b242c); border-bottom: 3px solid light-dark(#0b6e69, #5cc9c1);
}
h1 { margin: 0; font-size: 15px }
select, button {
  font: inherit; color: inherit; background: light-dark(#fff, #10161b); padding: 3px 10px; border-radius: 3px;
  border: 1px solid light-dark(#1d273080, #e9e4d880);
}
select { max-width: 100%; font-family: ui-monospace, monospace; font-size: 13px }
button { cursor: pointer }
button:disabled { opacity: .45; cursor: default }
button[aria-pressed=true] { color: light-dark(#fff, #10201f); background: light-dark(#0b6e69, #5cc9c1); border-color: transparent }
:focus-visible { outline: 2px solid light-dark(#0b6e69, #5cc9c1); outline-offset: 2px }
.ways, .steps { display: flex; gap: 6px }
.steps { margin-inline-start: auto; align-items: center }
#said { font-weight: 600; overflow-wrap: anywhere }
#said.differs { color: light-dark(#a3301a, #f6a188) }
/* of the same width to the pixel, or what they compute to differs */
main { position: relative; display: grid; grid-template-columns: repeat(2, round(down, calc((100% - 3px) / 2), 1px)); gap: 3px; min-height: 0 }
figure { margin: 0; display: grid; grid-template-rows: auto minmax(0, 1fr); min-width: 0 }
figcaption { padding: 3px 14px; font-size: 12px; font-weight: 600 }
iframe { width: 100%; height: 100%; border: 0; background: #fff; color-scheme: light }
.looking main::before { content: ""; position: absolute; inset: 0; z-index: 1 }
#share { display: none }
.slider main { grid-template-columns: 100% }
.slider figure { position: absolute; inset: 0 }
.slider figure + figure { clip-path: inset(0 0 0 var(--share)) }
.slider figure + figure figcaption { text-align: end }
.slider main::after {
  content: ""; position: absolute; top: 0; bottom: 0; left: var(--share); width: 3px; margin-left: -1px; pointer-events: none;
  background: light-dark(#0b6e69, #5cc9c1);
}
.slider #share { display: block; flex: 1 1 100%; margin: 2px 0 0; accent-color: light-dark(#0b6e69, #5cc9c1) }
p { margin: 40px auto; max-width: 60ch; padding: 0 16px; font-size: 16px }
@media (max-width: 600px) { .sides main { grid-template-columns: 100%; grid-template-rows: repeat(2, minmax(0, 1fr)) } .steps { margin: 0 } }
`;

/**
 * A page before and after, side by side.
 * @param comparing what its script is started with; null where it is not known how anything was
 */
export function comparePage(pages: readonly string[], comparing: Comparing | null, script: string): string {
  const title = 'Before and after';
  if (comparing === null)
    return pageOf(
      title,
      LIST_STYLES,
      html`<h1>${title}</h1>
        <p>
          It is not known how the pages were: nothing has been lifted here. A folder or a commit to compare with is
          named with <code>estrade preview --against</code>.
        </p>`,
    );
  const given = JSON.stringify(comparing).replace(/</g, '\\u003c');
  const options = pages.map(
    (path) => html`<option value="${path}" ${new Markup(path === comparing.path ? 'selected' : '')}>${path}</option> `,
  );
  const frame = (id: string, name: string) =>
    html`<figure>
      <figcaption>${name}</figcaption>
      <iframe id="${id}" title="${name}" sandbox="allow-scripts allow-same-origin allow-forms allow-popups"></iframe>
    </figure>`;
  return pageOf(
    title,
    COMPARE_STYLES,
    html`<header>
        <h1>${title}</h1>
        <select id="page" aria-label="Page">
          ${options}
        </select>
        <div class="ways">
          <button type="button" id="sides" aria-pressed="true">Side by side</button>
          <button type="button" id="slider" aria-pressed="false">Slider</button>
        </div>
        <div class="steps">
          <span id="said" role="status">Looking …</span>
          <button type="button" id="previous" disabled>Previous</button>
          <button type="button" id="next" disabled>Next</button>
        </div>
        <input id="share" type="range" min="0" max="100" value="50" aria-label="Share that is before" />
      </header>
      <main>${frame('before', 'Before')}${frame('after', 'After')}</main>
      <script>
        ${new Markup(script.replace(/<\//g, '<\\/'))};
        compare.start(${new Markup(given)});
      </script>`,
    'sides',
  );
}

function pageOf(title: string, styles: string, content: Markup, bodyClass = ''): string {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <meta name="color-scheme" content="light dark" />
        <title>${title}</title>
        <style>
          ${new Markup(styles)}
        </style>
      </head>
      <body class="${bodyClass}">
        ${content}
      </body>
    </html> `.text;
}
