/** The overlay of the preview: outlines of the components that a page is made of, a list of them, and what each was given. */
import { closedHost } from './host.js';
import type { Instance } from '../core/component/instances.js';
import { OWN } from './messages.js';
import { OVERLAY_STYLES } from './overlay-styles.js';

/** The page that is looked at. */
export interface Looked {
  path: string;
  version: string;
  /** elements by the offsets of their start tags */
  elements: ReadonlyMap<number, Element>;
}

/** An overlay that is on; it is taken out of the page with `close`. */
export interface Overlay {
  close: () => void;
}

/** Puts the overlay over the page. @param closed called when it is closed from within */
export async function openOverlay({ path, version, elements }: Looked, closed: () => void): Promise<Overlay> {
  const instances = await instancesOf(path, version);
  const roots = instances.map((each) => each.roots.flatMap((offset) => elements.get(offset) ?? []));
  const { host, root } = closedHost(OVERLAY_STYLES);
  const outlines = instances.map(outlineOf);
  const details = make('section', { class: 'details', 'aria-live': 'polite' });
  const shown = { component: null as string | null, pointed: null as number | null, named: null as string | null };
  const buttons = componentButtons(instances);
  const mark = () => {
    outlines.forEach((outline, i) => {
      const { component } = instances[i]!;
      outline.hidden = shown.component !== null && shown.component !== component;
      outline.classList.toggle('pointed', i === shown.pointed || component === shown.named);
    });
    for (const [name, button] of buttons) {
      button.setAttribute('aria-pressed', String(name === shown.component));
      button.classList.toggle('pointed', shown.pointed !== null && instances[shown.pointed]!.component === name);
    }
    details.replaceChildren(...(shown.pointed === null ? [hint()] : detailsOf(instances[shown.pointed]!)));
  };
  const point = (number: number | null) => {
    if (number === shown.pointed) return;
    shown.pointed = number;
    mark();
  };
  for (const [name, button] of buttons) {
    const first = instances.findIndex(({ component }) => component === name);
    const enter = () => {
      shown.named = name;
      shown.pointed = first;
      mark();
    };
    const leave = () => {
      shown.named = null;
      mark();
    };
    button.addEventListener('pointerenter', enter);
    button.addEventListener('focus', enter);
    button.addEventListener('pointerleave', leave);
    button.addEventListener('blur', leave);
    button.addEventListener('click', () => {
      shown.component = shown.component === name ? null : name;
      roots[first]?.[0]?.scrollIntoView({ block: 'center', behavior: 'instant' });
      mark();
    });
  }
  const off = new AbortController();
  const close = () => {
    off.abort();
    host.remove();
    closed();
  };
  const panel = panelOf(instances.length, [...buttons.values()], details, close);
  const layer = make('div', { class: 'outlines', 'aria-hidden': 'true' });
  layer.append(...outlines);
  root.append(layer, panel);
  mark();

  const numbers = new Map<Element, number>();
  // of instances with one root, the inner one comes later
  roots.forEach((all, i) => all.forEach((element) => numbers.set(element, i)));
  const instanceAt = (target: EventTarget | null): number | null => {
    for (let at = target instanceof Element ? target : null; at !== null; at = at.parentElement) {
      const number = numbers.get(at);
      if (number !== undefined && !outlines[number]!.hidden) return number;
    }
    return null;
  };
  const options = { capture: true, signal: off.signal };
  addEventListener('pointermove', ({ target }) => target !== host && point(instanceAt(target)), options);
  addEventListener(
    'click',
    (event) => {
      if (event.target === host) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      const number = instanceAt(event.target);
      if (number !== null) void copyPlace(instances[number]!, details);
    },
    options,
  );
  addEventListener(
    'keydown',
    (event) => {
      if (event.key !== 'Escape') return;
      event.stopImmediatePropagation();
      close();
    },
    options,
  );
  follow(outlines, roots, off.signal);
  panel.querySelector('button')?.focus({ preventScroll: true });
  return { close };
}

/** The components of the page; a page that is another one by now is loaded again. */
async function instancesOf(path: string, version: string): Promise<Instance[]> {
  const asked = new URLSearchParams({ path, version });
  const response = await fetch(`${OWN}/instances?${asked.toString()}`);
  if (response.ok) return (await response.json()) as Instance[];
  location.reload();
  return [];
}

/** Keeps the outlines where their elements are, for as long as the overlay is there. */
function follow(outlines: HTMLElement[], roots: Element[][], signal: AbortSignal): void {
  const place = () => {
    if (signal.aborted) return;
    outlines.forEach((outline, i) => {
      const boxes = roots[i]!.map((element) => element.getBoundingClientRect()).filter(
        ({ width, height }) => width + height > 0,
      );
      outline.classList.toggle('gone', boxes.length === 0);
      if (boxes.length === 0) return;
      const [left, top] = [Math.min(...boxes.map((box) => box.left)), Math.min(...boxes.map((box) => box.top))];
      const [right, bottom] = [Math.max(...boxes.map((box) => box.right)), Math.max(...boxes.map((box) => box.bottom))];
      outline.style.cssText = `transform: translate(${left}px, ${top}px); width: ${right - left}px; height: ${bottom - top}px`;
      outline.classList.toggle('small', right - left < 70 || bottom - top < 44);
    });
    requestAnimationFrame(place);
  };
  place();
}

function outlineOf({ component }: Instance): HTMLElement {
  const outline = make('div', { class: 'outline' });
  outline.append(make('span', {}, component));
  return outline;
}

/** A button for each component, by name, in the order in which they stand. */
function componentButtons(instances: readonly Instance[]): Map<string, HTMLButtonElement> {
  const counts = new Map<string, number>();
  for (const { component } of instances) counts.set(component, (counts.get(component) ?? 0) + 1);
  return new Map(
    [...counts].map(([name, count]) => {
      const button = make('button', { type: 'button' });
      button.append(make('span', {}, name), make('span', { class: 'count' }, `${count}`));
      return [name, button];
    }),
  );
}

function panelOf(count: number, buttons: HTMLElement[], details: HTMLElement, close: () => void): HTMLElement {
  const panel = make('aside', { 'aria-label': 'Components of this page' });
  const header = make('header', {});
  const button = make('button', { type: 'button', class: 'close' }, 'Close (Esc)');
  button.addEventListener('click', close);
  header.append(make('h2', {}, count === 1 ? '1 component' : `${count} components`), button);
  const list = make('ul', {});
  list.append(
    ...buttons.map((each) => {
      const item = make('li', {});
      item.append(each);
      return item;
    }),
  );
  panel.append(header, list, details);
  return panel;
}

function hint(): HTMLElement {
  return make(
    'p',
    { class: 'hint' },
    'Point at a part of the page to see what it was given; click it to copy its place.',
  );
}

const placeText = ({ path, line, column }: Instance['use']) => `${path}:${line}:${column}`;

/** What a component is and was given. */
function detailsOf({ component, file, use, props, slots }: Instance): HTMLElement[] {
  const places = make('dl', {});
  places.append(
    make('dt', {}, 'used at'),
    make('dd', {}, placeText(use)),
    make('dt', {}, 'written in'),
    make('dd', {}, placeText(file)),
  );
  const table = make('table', {});
  for (const prop of props) {
    const row = make('tr', {});
    const isDefault = prop.value !== null && prop.value === prop.default;
    const isQuiet = prop.value === null || isDefault || (prop.type === 'flag' && prop.value === 'no');
    const value = make('td', { class: isQuiet ? 'quiet' : '' }, prop.value ?? 'none');
    row.append(make('th', { scope: 'row' }, prop.name), value);
    if (isDefault) value.append(make('small', {}, ' default'));
    table.append(row);
  }
  const poured = slots.map(({ name }) => (name === '' ? 'content' : name)).join(', ');
  const all = [make('h3', {}, component), places];
  if (props.length > 0) all.push(table);
  if (slots.length > 0) all.push(make('p', { class: 'hint' }, `Takes markup: ${poured}`));
  return all;
}

/** Copies where a component is used, and says so. */
async function copyPlace({ use }: Instance, details: HTMLElement): Promise<void> {
  const said = await navigator.clipboard.writeText(placeText(use)).then(
    () => `Copied ${placeText(use)}`,
    () => `${placeText(use)} could not be copied`,
  );
  details.append(make('p', { class: 'said' }, said));
}

/** An element with attributes and text. */
function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  attributes: Record<string, string>,
  text = '',
): HTMLElementTagNameMap[K] {
  const element = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value);
  element.append(text);
  return element;
}
