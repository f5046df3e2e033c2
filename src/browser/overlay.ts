/**
 * The overlay of the preview: outlines of the components that a page is made of, or of what could become one, a list of
 * them, and what each was given.
 */
import type { Instance } from '../core/component/instances.js';
import { closedHost } from './host.js';
import { OWN, type Looked, type OwnRule } from './messages.js';
import { detailsOf, hint, make, type Pointed, takingFor } from './overlay-details.js';
import { OVERLAY_STYLES } from './overlay-styles.js';

/** The page that is looked at. */
export interface LookedAt {
  path: string;
  version: string;
  /** elements by the offsets of their start tags */
  elements: ReadonlyMap<number, Element>;
}

/** An overlay that is on; it is taken out of the page with `close`. */
export interface Overlay {
  close: () => void;
}

/** What is shown: what the page is made of, or what could become a component. */
type Kind = 'instances' | 'findings';

/** Puts the overlay over the page. @param closed called when it is closed from within */
export async function openOverlay(page: LookedAt, closed: () => void): Promise<Overlay> {
  const first = await lookedAt(page, 'instances');
  const { host, root } = closedHost(OVERLAY_STYLES);
  const off = new AbortController();
  const close = () => {
    off.abort();
    host.remove();
    closed();
  };
  const panel = make('aside', { 'aria-label': 'Components of this page' });
  const layer = make('div', { class: 'outlines', 'aria-hidden': 'true' });
  root.append(layer, panel);
  const shown = { view: null as View | null, kind: 'instances' as Kind };
  const show = (kind: Kind, looked: Looked) => {
    shown.kind = kind;
    shown.view = viewOf(page, looked);
    layer.replaceChildren(...shown.view.outlines);
    layer.classList.toggle('possible', kind === 'findings');
    panel.classList.toggle('possible', kind === 'findings');
    panel.replaceChildren(headerOf(kind, looked, { close, turn, look }), ...shown.view.content);
  };
  const focusOnKind = () =>
    panel.querySelector<HTMLElement>('.ways [aria-pressed=true]')?.focus({ preventScroll: true });
  const look = (kind: Kind) => {
    if (kind === shown.kind) return;
    panel.classList.add('waiting');
    void lookedAt(page, kind).then((looked) => {
      panel.classList.remove('waiting');
      if (!off.signal.aborted) show(kind, looked);
      focusOnKind();
    });
  };
  const turn = () => panel.classList.toggle('left');
  show('instances', first);
  // before anything is lifted it is what could be that one looks for
  if (first.instances.length === 0) look('findings');

  listenOnPage({ host, view: () => shown.view, close }, off.signal);
  follow(() => shown.view, off.signal);
  focusOnKind();
  return { close };
}

interface Listening {
  host: HTMLElement;
  view: () => View | null;
  close: () => void;
}

/** Hears what is done to the page before it does: what is pointed at, clicked, and Escape. */
function listenOnPage({ host, view, close }: Listening, signal: AbortSignal): void {
  const options = { capture: true, signal };
  const point = ({ target }: PointerEvent) => {
    const shown = view();
    if (target !== host) shown?.point(shown.instanceAt(target));
  };
  const take = (event: MouseEvent) => {
    if (event.target === host) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    view()?.take(event.target);
  };
  const end = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopImmediatePropagation();
    close();
  };
  addEventListener('pointermove', point, options);
  addEventListener('click', take, options);
  addEventListener('keydown', end, options);
}

/** What the page is made of, or could be; a page that is another one by now is loaded again. */
async function lookedAt({ path, version }: LookedAt, kind: Kind): Promise<Looked> {
  const asked = new URLSearchParams({ path, version });
  const response = await fetch(`${OWN}/${kind}?${asked.toString()}`);
  if (response.ok) return (await response.json()) as Looked;
  if (response.status === 409) location.reload();
  return { instances: [], findings: {}, editor: '', root: '' };
}

/** One way to look at the page: outlines over it, and what stands in the panel. */
interface View {
  outlines: HTMLElement[];
  /** elements of each outline */
  roots: Element[][];
  content: HTMLElement[];
  /** number of the instance that something of the page is part of; null for none */
  instanceAt: (target: EventTarget | null) => number | null;
  point: (number: number | null) => void;
  /** opens or copies the place of what stands there */
  take: (target: EventTarget | null) => void;
}

function viewOf({ elements }: LookedAt, { instances, findings, editor, root }: Looked): View {
  const roots = instances.map((each) => each.roots.flatMap((offset) => elements.get(offset) ?? []));
  const outlines = instances.map(outlineOf);
  const details = make('section', { class: 'details', 'aria-live': 'polite' });
  const shown = { component: null as string | null, pointed: null as number | null, named: null as string | null };
  const buttons = componentButtons(instances);
  const rules = rulesByName();
  const taking = takingFor({ editor, root }, details);
  const pointed = (): Pointed | null => {
    if (shown.pointed === null) return null;
    const instance = instances[shown.pointed]!;
    const { component } = instance;
    return { instance, finding: findings[component] ?? null, rules: () => rules(component) };
  };
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
    const now = pointed();
    details.replaceChildren(...(now === null ? [hint(editor, instances.length)] : detailsOf(now, taking)));
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
  mark();
  const instanceAt = instanceFinder(roots, outlines);
  const take = (target: EventTarget | null) => {
    point(instanceAt(target));
    if (shown.pointed !== null) taking.place(instances[shown.pointed]!.use);
  };
  return { outlines, roots, content: [listOf(buttons.values()), details], instanceAt, point, take };
}

/** @returns what finds the innermost instance, of those that are shown, that something of the page is part of */
function instanceFinder(roots: readonly Element[][], outlines: readonly HTMLElement[]): View['instanceAt'] {
  const numbers = new Map<Element, number>();
  // of instances with one root, the inner one comes later
  roots.forEach((all, i) => all.forEach((element) => numbers.set(element, i)));
  return (target) => {
    for (let at = target instanceof Element ? target : null; at !== null; at = at.parentElement) {
      const number = numbers.get(at);
      if (number !== undefined && !outlines[number]!.hidden) return number;
    }
    return null;
  };
}

function listOf(buttons: Iterable<HTMLElement>): HTMLElement {
  const list = make('ul', {});
  for (const button of buttons) {
    const item = make('li', {});
    item.append(button);
    list.append(item);
  }
  return list;
}

/** The own rules of components, each asked for once, when someone looks at it. */
function rulesByName(): (name: string) => Promise<OwnRule[]> {
  const asked = new Map<string, Promise<OwnRule[]>>();
  return (name) => {
    const found = asked.get(name);
    if (found !== undefined) return found;
    const answer = fetch(`${OWN}/rules?${new URLSearchParams({ name }).toString()}`).then(
      async (response) => (response.ok ? ((await response.json()) as OwnRule[]) : []),
      () => [],
    );
    asked.set(name, answer);
    return answer;
  };
}

/** Keeps the outlines where their elements are, for as long as the overlay is there. */
function follow(view: () => Pick<View, 'outlines' | 'roots'> | null, signal: AbortSignal): void {
  const place = () => {
    if (signal.aborted) return;
    const { outlines, roots } = view() ?? { outlines: [], roots: [] };
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

interface HeaderActions {
  close: () => void;
  /** puts the panel on the other side */
  turn: () => void;
  look: (kind: Kind) => void;
}

function headerOf(kind: Kind, looked: Looked, { close, turn, look }: HeaderActions): HTMLElement {
  const header = make('header', {});
  const button = (text: string, attributes: Record<string, string>, act: () => void) => {
    const made = make('button', { type: 'button', ...attributes }, text);
    made.addEventListener('click', act);
    return made;
  };
  const counted = (many: number, what: string) => `${many} ${what}${many === 1 ? '' : 's'}`;
  const { instances } = looked;
  const names = new Set(instances.map(({ component }) => component)).size;
  const title =
    kind === 'instances'
      ? counted(instances.length, 'component')
      : `${counted(names, 'finding')}, ${counted(instances.length, 'place')}`;
  const ways = make('div', { class: 'ways' });
  const way = (each: Kind, text: string) =>
    button(text, { 'aria-pressed': String(each === kind) }, () => {
      look(each);
    });
  ways.append(way('instances', 'Components'), way('findings', 'Findings'));
  header.append(
    make('h2', {}, title),
    button('⇄', { class: 'plain', 'aria-label': 'Other side', title: 'Other side' }, turn),
    button('Close (Esc)', { class: 'plain' }, close),
    ways,
  );
  return header;
}
