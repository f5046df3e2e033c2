/** What the overlay tells of one component, or of what could become one. */
import type { Instance } from '../core/component/instances.js';
import type { Place } from '../core/errors.js';
import { COMPARE_PATH, type FindingFacts, type Looked, type OwnRule } from './messages.js';

/** What is pointed at. */
export interface Pointed {
  instance: Instance;
  /** null for a component that is there */
  finding: FindingFacts | null;
  /** asks for the rules that dress it alone */
  rules: () => Promise<OwnRule[]>;
}

/** What is done with what is clicked. */
export interface Taking {
  /** opens or copies a place */
  place: (place: Place) => void;
  copy: (text: string) => void;
}

/**
 * @param looked with the URL that opens a place in an editor; where there is none, places are copied
 * @param details where is said what was done
 */
export function takingFor({ editor, root }: Pick<Looked, 'editor' | 'root'>, details: HTMLElement): Taking {
  const copy = (text: string) => {
    void navigator.clipboard.writeText(text).then(
      () => say(`Copied ${text}`, details),
      () => say(`${text} could not be copied`, details),
    );
  };
  return {
    copy,
    place: (place) => {
      if (editor === '') copy(placeText(place));
      else openIn(editor, root, place);
    },
  };
}

/** What is told where nothing is pointed at. */
export function hint(editor: string, count: number): HTMLElement {
  const box = make('div', {});
  const click = editor === '' ? 'click it to copy its place' : 'click it to open its place in the editor';
  const text =
    count === 0
      ? 'There is nothing of this kind on the page.'
      : `Point at a part of the page to see what it is given; ${click}.`;
  const compare = make(
    'a',
    { href: `${COMPARE_PATH}?path=${encodeURIComponent(location.pathname.slice(1))}`, target: '_blank' },
    'Before and after',
  );
  const more = make('p', { class: 'hint' });
  more.append(compare);
  box.append(make('p', { class: 'hint' }, text), more);
  return box;
}

const placeText = ({ path, line, column }: Place) => `${path}:${line}:${column}`;

export function detailsOf({ instance, finding, rules }: Pointed, taking: Taking): HTMLElement[] {
  const { component, file, use, props, slots } = instance;
  const places = make('dl', {});
  const placeRow = (title: string, place: Place) => {
    const button = make('button', { type: 'button' }, placeText(place));
    button.addEventListener('click', () => taking.place(place));
    const cell = make('dd', {});
    cell.append(button);
    places.append(make('dt', {}, title), cell);
  };
  placeRow(finding === null ? 'used at' : 'stands at', use);
  if (finding === null) placeRow('written in', file);
  else places.append(make('dt', {}, 'would be'), make('dd', {}, file.path));
  const parts: HTMLElement[] = [make('h3', {}, component), places];
  if (finding !== null) parts.push(make('p', { class: 'told' }, finding.told), commandRow(finding, taking));
  if (props.length > 0) parts.push(propTable(instance));
  if (slots.length > 0) {
    const told = slots.map(({ name, filled }) => `${name === '' ? 'content' : name}${filled ? '' : ' (not given)'}`);
    parts.push(make('p', { class: 'hint' }, `Takes markup: ${told.join(', ')}`));
  }
  const own = make('div', { class: 'rules' });
  own.append(make('p', { class: 'hint' }, 'Looking for rules of its own …'));
  // who only passes over it does not ask
  setTimeout(() => {
    if (own.isConnected) void rules().then((all) => own.replaceChildren(...rulesList(all, taking)));
  }, LOOKED_AT);
  parts.push(own);
  return parts;
}

function propTable({ props }: Instance): HTMLElement {
  const table = make('table', {});
  for (const prop of props) {
    const row = make('tr', {});
    const isDefault = prop.value !== null && prop.value === prop.default;
    const isQuiet = prop.value === null || isDefault || (prop.type === 'flag' && prop.value === 'no');
    const value = make('td', { class: isQuiet ? 'quiet' : '' }, prop.value ?? 'none');
    row.append(make('th', { scope: 'row' }, prop.name), value);
    if (isDefault) value.append(make('small', {}, ' default'));
    else if (prop.default !== null) value.append(make('small', {}, ` default ${prop.default}`));
    table.append(row);
  }
  return table;
}

/** The command that lifts it; a click copies it. */
function commandRow({ command }: FindingFacts, { copy }: Taking): HTMLElement {
  const button = make('button', { type: 'button', class: 'command', title: 'Copy the command' }, command);
  button.addEventListener('click', () => copy(command));
  return button;
}

/** Milliseconds after which something that is pointed at is looked at. */
const LOOKED_AT = 200;

/** So many rules are told. */
const MOST_RULES = 12;

function rulesList(all: readonly OwnRule[], taking: Taking): HTMLElement[] {
  const title =
    all.length === 0 ? 'No rule of its own.' : `${all.length} ${all.length === 1 ? 'rule' : 'rules'} of its own`;
  const list = make('ol', {});
  for (const { selector, place } of all.slice(0, MOST_RULES)) {
    const item = make('li', {});
    const button = make('button', { type: 'button', title: placeText(place) }, selector);
    button.addEventListener('click', () => taking.place(place));
    item.append(button);
    list.append(item);
  }
  if (all.length > MOST_RULES) list.append(make('li', {}, `… and ${all.length - MOST_RULES} more`));
  return [make('p', { class: 'hint' }, title), ...(all.length === 0 ? [] : [list])];
}

function say(text: string, details: HTMLElement): void {
  details.querySelector('.said')?.remove();
  details.append(make('p', { class: 'said' }, text));
}

/** Follows a link that a program on this machine answers. */
function openIn(editor: string, root: string, { path, line, column }: Place): void {
  const full = `${root}/${path}`.split('/').map(encodeURIComponent).join('/');
  const href = editor.replaceAll('{path}', full).replaceAll('{line}', `${line}`).replaceAll('{column}', `${column}`);
  const link = make('a', { href, ...(/^https?:/i.test(href) ? { target: '_blank', rel: 'noreferrer' } : {}) });
  link.click();
}

/** An element with attributes and text. */
export function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  attributes: Record<string, string>,
  text = '',
): HTMLElementTagNameMap[K] {
  const element = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value);
  element.append(text);
  return element;
}
