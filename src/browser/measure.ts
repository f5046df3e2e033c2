/**
 * What is asked of a page that is open in a browser to prove it: that it stands still, what its elements compute to, and
 * which of them stand at a place of its picture. Run by `src/verify`.
 */

import { drawnPseudos, hashOf, propertyNames, ruleTexts } from './computed.js';

/** A part of a picture, in CSS pixels from the top left of the page. */
interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** An element as it is told of. */
interface Told {
  /** start of its tag, and its classes */
  element: string;
  /** what its attribute with offsets says; null where a script made it and all around it */
  offset: number | null;
}

/** The document, and those of its frames that it may look into. */
function documentsIn(document: Document): Document[] {
  const frames = document.querySelectorAll('iframe');
  const inner = Array.from(frames, (frame) => frame.contentDocument);
  return [document, ...inner.flatMap((each) => (each === null ? [] : documentsIn(each)))];
}

/** Loads what waits to be scrolled to, decodes pictures, brings animations to their end, and stops what plays, in frames too. */
export async function settle(): Promise<void> {
  await Promise.all(documentsIn(document).map(settleDocument));
}

async function settleDocument(document: Document): Promise<void> {
  for (const each of document.querySelectorAll<HTMLImageElement | HTMLIFrameElement>('[loading=lazy]'))
    each.loading = 'eager';
  for (const each of document.querySelectorAll<HTMLMediaElement>('video, audio')) {
    each.pause();
    each.currentTime = 0;
  }
  for (const animation of document.getAnimations()) {
    const end = animation.effect?.getComputedTiming().endTime;
    if (end === Infinity) animation.cancel();
    else animation.finish();
  }
  await Promise.all(Array.from(document.images, (image) => image.decode().catch(() => undefined)));
  await document.fonts.ready;
}

/** Lets nothing change little by little from now on. */
export function stopTransitions(): void {
  for (const each of documentsIn(document)) {
    // a document takes none of another one's
    const sheet = new (each.defaultView ?? window).CSSStyleSheet();
    sheet.replaceSync('*, ::before, ::after { transition: none !important }');
    each.adoptedStyleSheets = [...each.adoptedStyleSheets, sheet];
  }
}

/** One hash of 53 bits an element and pseudo-element, in document order. */
export function styleHashes(): number[] {
  const names = propertyNames();
  return styled().map(({ element, pseudo }) => {
    const style = getComputedStyle(element, pseudo);
    return hashOf(`${element.localName}${pseudo ?? ''} ${names.map((name) => style.getPropertyValue(name)).join(';')}`);
  });
}

/** Computed styles of the elements or pseudo-elements of those numbers, by property; null where there is none. */
export function stylesAt(numbers: number[]): ({ pseudo: string; styles: [string, string][] } | null)[] {
  const names = propertyNames();
  const all = styled();
  return numbers.map((number) => {
    const found = all[number];
    if (found === undefined) return null;
    const style = getComputedStyle(found.element, found.pseudo);
    return { pseudo: found.pseudo ?? '', styles: names.map((name) => [name, style.getPropertyValue(name)]) };
  });
}

/** The elements, or those of the pseudo-elements, of those numbers; null where there is none. */
export function elementsAt(numbers: number[], attribute: string): (Told | null)[] {
  const all = styled();
  return numbers.map((number) => {
    const found = all[number];
    return found === undefined ? null : told(found.element, attribute);
  });
}

/** The box around the elements whose attribute has those offsets, on the page; null where nothing of them shows. */
export function boxAround(offsets: number[], attribute: string): Box | null {
  const elements = offsets.flatMap((offset) => document.querySelector(`[${attribute}="${offset}"]`) ?? []);
  const boxes = elements
    .filter((element) => element.checkVisibility({ opacityProperty: true, visibilityProperty: true }))
    .map((element) => element.getBoundingClientRect())
    .filter(({ width, height }) => width > 1 && height > 1);
  if (boxes.length === 0) return null;
  const [left, top] = [Math.min(...boxes.map((box) => box.left)), Math.min(...boxes.map((box) => box.top))];
  const [right, bottom] = [Math.max(...boxes.map((box) => box.right)), Math.max(...boxes.map((box) => box.bottom))];
  return { x: left + scrollX, y: top + scrollY, width: right - left, height: bottom - top };
}

/** The smallest elements that hold the boxes, one a box; the page's root where none does. */
export function elementsAround(boxes: Box[], attribute: string): Told[] {
  const all = Array.from(document.body.querySelectorAll('*'), (element) => {
    const { left, top, width, height } = element.getBoundingClientRect();
    return { element, x: left + scrollX, y: top + scrollY, width, height };
  });
  return boxes.map((box) => {
    const around = all.filter(
      ({ x, y, width, height }) =>
        x <= box.x + 1 && y <= box.y + 1 && x + width >= box.x + box.width - 1 && y + height >= box.y + box.height - 1,
    );
    // the last of the smallest is the innermost
    const smallest = Math.min(...around.map(({ width, height }) => width * height));
    const found = around.findLast(({ width, height }) => width * height === smallest)?.element;
    return told(found ?? document.documentElement, attribute);
  });
}

function told(element: Element, attribute: string): Told {
  const classes = element.getAttribute('class')?.trim();
  const id = element.id === '' ? '' : ` id="${element.id}"`;
  const offset = element.closest(`[${attribute}]`)?.getAttribute(attribute) ?? null;
  return {
    element: `<${element.localName}${id}${classes ? ` class="${classes}"` : ''}>`,
    offset: offset === null ? null : Number(offset),
  };
}

interface Styled {
  element: Element;
  /** null for the element itself */
  pseudo: string | null;
}

/** Pseudo-elements that compute to something on every element, and are looked at where a rule names them. */
const NAMED_PSEUDOS = ['marker', 'placeholder', 'first-line', 'first-letter', 'selection', 'backdrop'];

/** All elements outside of the head, with those pseudo-elements that there are. */
function styled(): Styled[] {
  const rules = ruleTexts();
  const named = NAMED_PSEUDOS.filter((name) => rules.includes(`:${name}`)).map((name) => `::${name}`);
  return Array.from(document.querySelectorAll('*'))
    .filter((element) => element.closest('head') === null)
    .flatMap((element) => {
      return [null, ...drawnPseudos(element), ...named].map((pseudo) => ({ element, pseudo }));
    });
}
