/** The panel over a page that says what is wrong in the files that it is made of. */
import { closedHost } from './host.js';
import type { Trouble } from './messages.js';

const STYLES = `
section {
  color-scheme: light dark;
  position: fixed; inset: auto 0 0 0; max-height: 70vh; overflow: auto; box-sizing: border-box; padding: 18px 24px 20px;
  font: 15px/1.5 ui-sans-serif, system-ui, sans-serif;
  color: light-dark(#1d2730, #e9e4d8); background: light-dark(#fffaf2, #1b242c);
  border-top: 4px solid light-dark(#b4371d, #f08a6b); box-shadow: 0 -12px 40px #0006;
}
header { display: flex; align-items: baseline; gap: 16px }
h2 { flex: 1; margin: 0; font: inherit; font-weight: 650; font-size: 17px; color: light-dark(#8f2a15, #ffb39c) }
button {
  font: inherit; font-size: 13px; padding: 3px 10px; cursor: pointer; color: inherit; background: none;
  border: 1px solid light-dark(#1d273059, #e9e4d866); border-radius: 3px;
}
button:focus-visible { outline: 2px solid light-dark(#0b6e69, #5cc9c1); outline-offset: 2px }
ul { list-style: none; margin: 12px 0 0; padding: 0; display: grid; grid-template-columns: minmax(0, 1fr); gap: 14px }
p { margin: 0; overflow-wrap: anywhere }
code { font: 13px/1.6 ui-monospace, Menlo, Consolas, monospace; color: light-dark(#0b6e69, #5cc9c1) }
pre {
  margin: 6px 0; padding: 8px 12px; overflow: auto; font: 13px/1.5 ui-monospace, Menlo, Consolas, monospace;
  color: inherit; background: light-dark(#1d27300f, #00000047); border-radius: 3px;
}
pre b { color: light-dark(#b4371d, #f08a6b) }
small { font-size: 13px; opacity: .8 }
@media (max-width: 500px) { section { padding: 14px 14px 16px } }
`;

export interface TroublePanel {
  /** shows what is wrong now; nothing is left in the page where nothing is */
  show: (troubles: readonly Trouble[]) => void;
}

export function troublePanel(): TroublePanel {
  let host: HTMLElement | null = null;
  const hide = () => {
    host?.remove();
    host = null;
    removeEventListener('keydown', hideOnEscape, true);
  };
  const hideOnEscape = ({ key }: KeyboardEvent) => {
    if (key === 'Escape') hide();
  };
  return {
    show(troubles) {
      hide();
      if (troubles.length === 0) return;
      const made = closedHost(STYLES);
      host = made.host;
      addEventListener('keydown', hideOnEscape, true);
      made.root.append(content(troubles, hide));
    },
  };
}

function content(troubles: readonly Trouble[], hide: () => void): HTMLElement {
  const section = document.createElement('section');
  section.setAttribute('role', 'alert');
  section.setAttribute('aria-label', 'Estrade');
  const heading = document.createElement('h2');
  heading.textContent = troubles.length === 1 ? 'Something here is wrong' : `${troubles.length} things here are wrong`;
  const close = document.createElement('button');
  close.type = 'button';
  close.textContent = 'Hide (Esc)';
  close.addEventListener('click', hide);
  const header = document.createElement('header');
  header.append(heading, close);
  const list = document.createElement('ul');
  list.append(...troubles.map(itemOf));
  section.append(header, list);
  return section;
}

function itemOf({ message, hint, place, line }: Trouble): HTMLElement {
  const item = document.createElement('li');
  const told = document.createElement('p');
  told.textContent = message;
  item.append(told);
  if (place !== null) {
    const at = document.createElement('code');
    at.textContent = `${place.path}:${place.line}:${place.column}`;
    const source = document.createElement('pre');
    const mark = document.createElement('b');
    mark.textContent = line.slice(place.column - 1, place.column) || ' ';
    const shown = line.slice(0, place.column - 1).trimStart();
    const from = Math.max(0, shown.length - 100);
    source.append(from > 0 ? `…${shown.slice(from)}` : shown, mark, line.slice(place.column, place.column + 160));
    item.append(at, source);
  }
  if (hint !== '') {
    const more = document.createElement('small');
    more.textContent = hint;
    item.append(more);
  }
  return item;
}
