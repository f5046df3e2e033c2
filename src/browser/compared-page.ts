/** A page that stands in the one that compares: tells how its elements look, scrolls along, and marks what differs. */
import { drawnPseudos, hashOf, propertyNames, USED_VALUES } from './computed.js';
import { closedHost } from './host.js';
import type { ElementLook, Question, Told } from './messages.js';

const STYLES = `
div { position: absolute; inset: 0; overflow: hidden; pointer-events: none !important }
b { position: absolute; box-sizing: border-box; border: 2px solid #b4371d; outline: 1px solid #fffc; background: #b4371d14; border-radius: 2px }
b.current { border-width: 4px; background: #b4371d33 }
`;

/** Answers the page of that origin which this one stands in; does nothing where it stands in none. */
export function answerComparing(origin: string, path: string): void {
  if (parent === window) return;
  const { parent: asking } = window;
  const tell = (told: Told) => asking.postMessage(told, origin);
  const shown = { marks: null as HTMLElement | null, toldShare: NaN, remark: (): void => undefined };
  addEventListener('message', (event: MessageEvent<unknown>) => {
    if (event.source !== asking || event.origin !== origin || !isQuestion(event.data)) return;
    event.stopImmediatePropagation();
    const question = event.data;
    if (question.estrade === 'elements') tell({ estrade: 'elements', elements: looks() });
    else if (question.estrade === 'scroll') {
      shown.toldShare = question.share;
      scrollTo({ top: question.share * mostScroll(), behavior: 'instant' });
    } else {
      const mark = (current: number | null) => {
        shown.marks?.remove();
        shown.marks = markElements(question.numbers, question.current, current);
      };
      shown.remark = () => mark(null);
      mark(question.current);
    }
  });
  // elements are elsewhere then
  addEventListener('resize', () => shown.remark());
  addEventListener(
    'scroll',
    () => {
      const share = mostScroll() === 0 ? 0 : scrollY / mostScroll();
      // what it was told to do is no news
      if (Math.abs(share * mostScroll() - shown.toldShare * mostScroll()) > 1) tell({ estrade: 'scrolled', share });
      shown.toldShare = NaN;
    },
    { passive: true },
  );
  addEventListener('load', () => tell({ estrade: 'ready', path }), { once: true });
}

function isQuestion(data: unknown): data is Question {
  return typeof data === 'object' && data !== null && 'estrade' in data;
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

/**
 * Puts boxes around elements; they scroll with the page.
 * @param into number of the element that is scrolled to; null for none
 * @returns what they are in; null for none
 */
function markElements(numbers: readonly number[], current: number | null, into: number | null): HTMLElement | null {
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
    if (number === into) element.scrollIntoView({ block: 'center', behavior: 'instant' });
  }
  layer.style.height = `${document.documentElement.scrollHeight}px`;
  root.append(layer);
  return host;
}
