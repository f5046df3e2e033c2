/** Turns the overlay on and off: by a key, and by a button in the corner while the pointer is near it. */
import { closedHost } from './host.js';
import { type LookedAt, openOverlay, type Overlay } from './overlay.js';

/** While the overlay is on, pages that are loaded again have it again. */
const KEPT = 'estrade-overlay';
/** So near to the corner, in CSS pixels, the button shows. */
const NEAR = { right: 130, bottom: 80 };

const STYLES = `
button {
  position: fixed; right: 12px; bottom: 12px; padding: 7px 14px; cursor: pointer;
  font: 600 13px/1.4 ui-sans-serif, system-ui, sans-serif; color: #fff; background: #0b6e69; border: 0; border-radius: 4px;
  box-shadow: 0 3px 14px #0006;
}
button:focus-visible { outline: 3px solid #f3c26b }
`;

export function overlaySwitch(looked: LookedAt): void {
  const state = { overlay: null as Overlay | null, isOpening: false, corner: null as HTMLElement | null };
  const hideButton = () => {
    state.corner?.remove();
    state.corner = null;
  };
  const turnOn = async () => {
    if (state.isOpening || state.overlay !== null) return;
    state.isOpening = true;
    hideButton();
    sessionStorage.setItem(KEPT, 'on');
    state.overlay = await openOverlay(looked, () => {
      state.overlay = null;
      sessionStorage.removeItem(KEPT);
    });
    state.isOpening = false;
  };
  const showButton = () => {
    if (state.corner !== null || state.overlay !== null) return;
    const { host, root } = closedHost(STYLES);
    const button = document.createElement('button');
    button.type = 'button';
    button.textContent = 'Components';
    button.title = 'Alt+Shift+E';
    button.addEventListener('click', () => void turnOn());
    root.append(button);
    state.corner = host;
  };
  addEventListener(
    'keydown',
    (event) => {
      if (!(event.altKey && event.shiftKey && event.code === 'KeyE')) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (state.overlay === null) void turnOn();
      else state.overlay.close();
    },
    true,
  );
  addEventListener(
    'pointermove',
    ({ clientX, clientY }) => {
      const isNear = clientX > innerWidth - NEAR.right && clientY > innerHeight - NEAR.bottom;
      if (isNear) showButton();
      else hideButton();
    },
    { capture: true, passive: true },
  );
  if (isKept()) addEventListener('DOMContentLoaded', () => void turnOn(), { once: true });
}

/** False too where the page may keep nothing. */
function isKept(): boolean {
  try {
    return sessionStorage.getItem(KEPT) !== null;
  } catch {
    return false;
  }
}
