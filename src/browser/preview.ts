/**
 * Runs first in every page of the preview: takes itself out of the page, hears of changes, and shows what is wrong, or what
 * the page is made of, over it, in closed shadow trees that are only there while they show something.
 */
import { answerComparing } from './compared-page.js';
import { type Message, OWN, type StartedOriginal, type StartedPage, type Trouble } from './messages.js';
import { readOffsets } from './offsets.js';
import { overlaySwitch } from './overlay-switch.js';
import { troublePanel } from './trouble-panel.js';

/** Starts on the page that is being read. */
export function start({ path, version, troubles, offsets, comparing }: StartedPage): void {
  document.currentScript?.remove();
  const tellReady = answerComparing(comparing, path);
  overlaySwitch({ path, version, elements: readOffsets(offsets) });
  const panel = troublePanel();
  let shown = '';
  const showTroubles = (now: readonly Trouble[]) => {
    // what is shown already, or was hidden, is not shown again
    if (JSON.stringify(now) === shown) return;
    shown = JSON.stringify(now);
    if (document.readyState === 'loading')
      document.addEventListener('DOMContentLoaded', () => panel.show(now), { once: true });
    else panel.show(now);
  };
  showTroubles(troubles);
  listen();

  /** Hears of changes for as long as the page is open. */
  function listen(): void {
    const socket = new WebSocket(`ws://${location.host}${OWN}/changes`);
    socket.onopen = () => socket.send(`${version} ${path}`);
    socket.onmessage = ({ data }) => {
      const message = JSON.parse(data as string) as Message;
      if (message.kind === 'reload') location.reload();
      else if (message.kind === 'styles') void loadStylesAgain().then(tellReady);
      else showTroubles(message.troubles);
    };
    // the preview was stopped: when it is there again, it tells whether the page is another one
    socket.onclose = () => setTimeout(listen, RETRY);
  }
}

/** Starts on a page as it was, which is only looked at to be compared. */
export function startOriginal({ path, comparing }: StartedOriginal): void {
  document.currentScript?.remove();
  answerComparing(comparing, path);
}

/** Milliseconds until a preview that was stopped is looked for again. */
const RETRY = 1000;

/** Loads the stylesheets of the page again, where they stand; those that others import with them. @returns when they are there */
async function loadStylesAgain(): Promise<void> {
  const links = document.querySelectorAll<HTMLLinkElement>('link[rel~=stylesheet][href]');
  const own = Array.from(links).filter(({ href }) => new URL(href).origin === location.origin);
  // a `style` element that imports, and a sheet of a shadow tree, are not loaded again by themselves
  const isImporting = Array.from(document.querySelectorAll('style')).some(({ textContent }) =>
    /@import/i.test(textContent),
  );
  if (isImporting || own.length === 0) {
    location.reload();
    return;
  }
  await Promise.all(
    own.map((link) => {
      const again = link.cloneNode() as HTMLLinkElement;
      return new Promise<void>((done) => {
        // the page is dressed all the time
        again.onload = again.onerror = () => {
          link.remove();
          done();
        };
        link.after(again);
      });
    }),
  );
}
