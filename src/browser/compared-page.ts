/** A page that stands in the one that compares: tells how its elements look, scrolls along, and marks what differs. */
import { drawnPseudos, hashOf, propertyNames, USED_VALUES } from './computed.js';
import { closedHost } from './host.js';
import type { ElementLook, Question, Told } from './messages.js';

const STYLES = `
div { position: absolute; inset: 0; overflow: hidden; pointer-events: none !important }
b { position: absolute; box-sizing: border-box; border: 2px solid #b4371d; outline: 1px solid #fffc; background: #b4371d14; border-radius: 2px }
b.current { border-width: 4px; background: #b4371d33 }
`;

/**
 * Answers the page of that origin which this one stands in; does nothing where it stands in none.
 * @returns what tells that page that this one looks otherwise by now
 */
export function answerComparing(origin: string, path: string): () => void {
  if (parent === window) return () => undefined;
  const { parent: asking } = window;
  const tell = (told: Told) => asking.postMessage(told, origin);
  const tellReady = () => tell({ estrade: 'ready', path });
  /** `top` is how far it was scrolled by what it was told, in CSS pixels; NaN for not */
  const shown = { marks: null as HTMLElement | null, top: NaN, remark: (): void => undefined };
  const scroll = (move: () => void) => {
    move();
    shown.top = scrollY;
  };
  addEventListener('message', (event: MessageEvent<unknown>) => {
    if (event.source !== asking || event.origin !== origin || !isQuestion(event.data)) return;
    event.stopImmediatePropagation();
    const question = event.data;
    if (question.estrade === 'elements')
      void pointerGone().then(() => tell({ estrade: 'elements', elements: looks() }));
    else if (question.estrade === 'scroll')
      scroll(() => scrollTo({ top: question.share * mostScroll(), behavior: 'instant' }));
    else {
      const { numbers, current } = question;
      shown.remark = () => {
        shown.marks?.remove();
        shown.marks = markElements(numbers, current);
      };
      shown.remark();
      if (current !== null)
        scroll(() => comparedElements()[current]?.scrollIntoView({ block: 'center', behavior: 'instant' }));
    }
  });
  // elements are elsewhere then
  addEventListener('resize', () => shown.remark());
  addEventListener(
    'scroll',
    () => {
      // what it was told to do is no news
      if (Math.abs(scrollY - shown.top) <= 1) return;
      shown.top = NaN;
      tell({ estrade: 'scrolled', share: mostScroll() === 0 ? 0 : scrollY / mostScroll() });
    },
    { passive: true },
  );
  addEventListener('load', tellReady, { once: true });
  return tellReady;
}

function isQuestion(data: unknown): data is Question {
  return typeof data === 'object' && data !== null && 'estrade' in data;
}

/** Milliseconds between two looks at whether the pointer is gone, and how often it is looked. */
const SOON = 30;
const LOOKS = 40;

/** Waits until the pointer is over nothing, for what it is over looks otherwise; but not for ever. */
async function pointerGone(): Promise<void> {
  for (let look = 0; look < LOOKS && document.querySelector(':hover') !== null; look++)
    await new Promise((done) => setTimeout(done, SOON));
}

function mostScroll(): number {
  return Math.max(0, document.documentElement.scrollHeight - innerHeight);
}

/** What shows nothing of its own. */
const UNSEEN = 'head, head *, script, style, template, link, meta, noscript, estrade-layer';

function comparedElements(): Element[] {
  return Array.from(document.querySelectorAll('*')).filter((element) => !element.matches(UNSEEN));
}

function looks(): ElementLook[] {
  const names = propertyNames().filter((name) => !USED_VALUES.has(name));
  const textOf = (element: Element, pseudo?: string) => {
    const style = getComputedStyle(element, pseudo);
    // the versions have origins of their own
    return names.map((name) => style.getPropertyValue(name).replaceAll(location.origin, '')).join(';');
  };
  const elements = comparedElements();
  const numbers = new Map(elements.map((element, i) => [element, i]));
  return elements.map((element) => {
    const classes = Array.from(element.classList, (name) => `.${name}`).join('');
    const attributes = Array.from(element.attributes, ({ name, value }) => `${name}=${value}`).sort();
    const text = Array.from(element.childNodes, (node) =>
      node.nodeType === Node.TEXT_NODE ? node.nodeValue : '',
    ).join(' ');
    return {
      name: element.localName + classes,
      key: [element.localName, ...attributes, text.replace(/\s+/g, ' ').trim()].join('\n'),
      style: hashOf([textOf(element), ...drawnPseudos(element).map((pseudo) => textOf(element, pseudo))].join('\n')),
      parent: element.parentElement === null ? -1 : (numbers.get(element.parentElement) ?? -1),
    };
  });
}

/** Puts boxes around elements; they scroll with the page. @returns what they are in; null for none */
function markElements(numbers: readonly number[], current: number | null): HTMLElement | null {
  if (numbers.length === 0) return null;
  const elements = comparedElements();
  const { host, root } = closedHost(STYLES);
  host.style.setProperty('position', 'absolute', 'important');
  const layer = document.createElement('div');
  for (const number of numbers) {
    const element = elements[number];
    if (element === undefined) continue;
    const { left, top, width, height } = element.getBoundingClientRect();
    const box = document.createElement('b');
    box.className = number === current ? 'current' : '';
    box.style.cssText = `left: ${left + scrollX}px; top: ${top + scrollY}px; width: ${width}px; height: ${height}px`;
    layer.append(box);
  }
  layer.style.height = `${document.documentElement.scrollHeight}px`;
  root.append(layer);
  return host;
}
