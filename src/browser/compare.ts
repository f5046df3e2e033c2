/** Runs in the page that shows another one before and after, and marks what differs. */
import { diffArrays } from 'diff';
import type { ElementLook, Question, Told } from './messages.js';

/** What the page is started with. */
export interface Comparing {
  /** path of the page that is compared */
  path: string;
  /** origins of the site as it was, and as it is */
  before: string;
  after: string;
}

/** One difference: numbers of the elements in each version, null where there is none. */
interface Difference {
  before: number | null;
  after: number | null;
  told: string;
}

type Side = 'before' | 'after';
const SIDES: readonly Side[] = ['before', 'after'];

const find = (id: string): HTMLElement => document.getElementById(id)!;

/** Starts on the page that the preview serves for it. */
export function start({ path, ...origins }: Comparing): void {
  const pages = find('page') as HTMLSelectElement;
  const frames = { before: find('before') as HTMLIFrameElement, after: find('after') as HTMLIFrameElement };
  const said = find('said');
  const state = {
    path,
    looks: { before: null, after: null } as Record<Side, ElementLook[] | null>,
    differences: [] as Difference[],
    current: -1,
  };
  const ask = (side: Side, question: Question) => frames[side].contentWindow?.postMessage(question, origins[side]);
  const askForLook = (side: Side) => {
    // what the pointer is over looks otherwise: it is over nothing until both have answered
    document.body.classList.add('looking');
    ask(side, { estrade: 'elements' });
  };
  const open = (side: Side) => {
    state.looks[side] = null;
    frames[side].src = `${origins[side]}/${state.path.split('/').map(encodeURIComponent).join('/')}`;
  };
  const go = (to: string) => {
    if (to === state.path) return;
    state.path = to;
    pages.value = to;
    history.replaceState(null, '', `?path=${encodeURIComponent(to)}`);
    SIDES.forEach(open);
  };
  const mark = () => {
    const current = state.differences[state.current];
    for (const side of SIDES) {
      const numbers = state.differences.flatMap((each) => each[side] ?? []);
      ask(side, { estrade: 'mark', numbers, current: current?.[side] ?? null });
    }
    const count = state.differences.length;
    said.textContent = statusOf(count, state.current, current);
    said.classList.toggle('differs', count > 0);
    for (const id of ['previous', 'next']) (find(id) as HTMLButtonElement).disabled = count === 0;
  };
  const step = (by: number) => {
    const count = state.differences.length;
    if (count === 0) return;
    state.current = state.current < 0 && by < 0 ? count - 1 : (state.current + by + count) % count;
    mark();
  };
  addEventListener('message', ({ source, origin, data }: MessageEvent<Told>) => {
    const side = SIDES.find((each) => frames[each].contentWindow === source && origins[each] === origin);
    if (side === undefined) return;
    if (data.estrade === 'scrolled')
      ask(side === 'before' ? 'after' : 'before', { estrade: 'scroll', share: data.share });
    else if (data.estrade === 'ready') {
      // who follows a link in one sees the same page in the other
      if (data.path !== state.path) go(data.path);
      else askForLook(side);
    } else {
      state.looks[side] = data.elements;
      const { before, after } = state.looks;
      if (before === null || after === null) return;
      document.body.classList.remove('looking');
      const found = differencesBetween(before, after);
      // who goes through them goes on where nothing of them changed
      if (JSON.stringify(found) !== JSON.stringify(state.differences)) state.current = -1;
      state.differences = found;
      mark();
    }
  });
  find('previous').addEventListener('click', () => step(-1));
  find('next').addEventListener('click', () => step(1));
  pages.addEventListener('change', () => go(pages.value));
  connectWays();
  SIDES.forEach(open);
}

/** @param number of the difference that is looked at, from 0 */
function statusOf(count: number, number: number, current: Difference | undefined): string {
  if (current !== undefined) return `${number + 1} of ${count}: ${current.told}`;
  return count === 0 ? 'Nothing differs' : `${count} ${count === 1 ? 'difference' : 'differences'}`;
}

/** Side by side, or one above the other with a slider between them. */
function connectWays(): void {
  const ways = ['sides', 'slider'];
  for (const way of ways)
    find(way).addEventListener('click', () => {
      document.body.classList.remove(...ways);
      document.body.classList.add(way);
      for (const each of ways) find(each).setAttribute('aria-pressed', String(each === way));
    });
  const share = find('share') as HTMLInputElement;
  share.addEventListener('input', () => document.body.style.setProperty('--share', `${share.value}%`));
}

/** What differs between the elements of a page before and after, in the order of the page; of what stands in each other the outermost. */
function differencesBetween(before: readonly ElementLook[], after: readonly ElementLook[]): Difference[] {
  const differences: Difference[] = [];
  const told = { before: new Set<number>(), after: new Set<number>() };
  const add = (difference: Difference) => {
    const isOuter = SIDES.every((side) => {
      const number = difference[side];
      return number === null || !told[side].has({ before, after }[side][number]!.parent);
    });
    for (const side of SIDES) if (difference[side] !== null) told[side].add(difference[side]);
    if (isOuter) differences.push(difference);
  };
  for (const { was, is } of alignedElements(before, after)) {
    const [one, two] = [before[was ?? -1], after[is ?? -1]];
    const pair = { before: was, after: is };
    if (two === undefined) add({ ...pair, told: `${one!.name} is only before` });
    else if (one === undefined) add({ ...pair, told: `${two.name} is only after` });
    else if (one.key !== two.key) add({ ...pair, told: `${two.name} is otherwise` });
    else if (one.style !== two.style) add({ ...pair, told: `${two.name} looks otherwise` });
  }
  return differences;
}

/** Numbers of the elements that are the same before and after; those that are only there once with null for the other. */
function alignedElements(
  before: readonly ElementLook[],
  after: readonly ElementLook[],
): { was: number | null; is: number | null }[] {
  const keys = (looks: readonly ElementLook[]) => looks.map(({ key }) => key);
  const at = { was: 0, is: 0 };
  const pairs: { was: number | null; is: number | null }[] = [];
  /** what went, and may be what comes next, changed */
  let gone: number[] = [];
  const settle = () => {
    for (const was of gone) pairs.push({ was, is: null });
    gone = [];
  };
  for (const { added, removed, count } of diffArrays(keys(before), keys(after)))
    for (let i = 0; i < count; i++)
      if (removed) gone.push(at.was++);
      else if (added) {
        const isSame = gone[0] !== undefined && tagOf(before[gone[0]]!) === tagOf(after[at.is]!);
        pairs.push({ was: isSame ? gone.shift()! : null, is: at.is++ });
      } else {
        settle();
        pairs.push({ was: at.was++, is: at.is++ });
      }
  settle();
  return pairs;
}

function tagOf({ name }: ElementLook): string {
  return name.split('.', 1)[0]!;
}
