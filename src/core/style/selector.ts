/**
 * Selectors as the cascade needs them: what can be decided on a tree that stands still, what must be there for a match,
 * and how specific they are (Selectors Level 4). What only a running page decides, such as `:hover`, counts as met;
 * pseudo-elements count as their host.
 */
import * as csstree from 'css-tree';
import type { CssNode, Selector as SelectorNode } from 'css-tree';
import { type Compound, levelsOf, namesAbove, plainOf, type Subject, subjectOf } from './compound.js';
import { LISTS, NOWHERE, OLD_ELEMENTS, RUNNING, STRUCTURAL } from './pseudo-classes.js';

export type Specificity = readonly [ids: number, classes: number, types: number];

export interface Selector {
  /** as it is spelled */
  text: string;
  /** what css-select decides, null for what matches no element of a page */
  still: string | null;
  specificity: Specificity;
  /** `::before`, '' for the element itself */
  pseudo: string;
  /** true when the still part says it all */
  exact: boolean;
  /** a part that a browser may not know, and then drops the whole rule; null for none */
  doubtful: string | null;
  /** `.class`, `#id`, `tag` or `[attribute]` of the rightmost compound, one of which an element has; null for any element */
  keys: string[] | null;
  subject: Subject;
  /** names that the element or those around it must have: `.class`, `#id` */
  above: string[];
  /** depends on more than the element itself */
  relative: boolean;
  /** `>`, `+`, `~` or a pseudo-class that counts siblings, looks for children or below */
  positional: boolean;
  /** how many levels above the element the places stand that it depends on; 0 when it is its own place alone */
  levels: number;
  /** `+`, `~` or `:has()`: may dress an element through one that is not around it */
  sideways: boolean;
  /** decided by what the element and those around it are called: tags, classes and ids */
  byNames: boolean;
  /** asks for the tag of some element, or counts by it */
  byTag: boolean;
  /** set where the element's own names are all that it asks for, and at most one of something around it */
  plain: { within: string | null } | null;
}

/** What nested selectors are relative to: `&`. */
export interface Around {
  still: string | null;
  specificity: Specificity;
  keys: string[] | null;
  exact: boolean;
  relative: boolean;
  positional: boolean;
  sideways: boolean;
  byNames: boolean;
  byTag: boolean;
  /** of `@scope`: adds nothing to specificity, and its roots themselves may be dressed */
  scope?: boolean;
}

const ZERO: Specificity = [0, 0, 0];
const add = (a: Specificity, b: Specificity): Specificity => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
/** Below zero when `a` is less specific. */
export function compareSpecificity(a: Specificity, b: Specificity): number {
  return a[0] - b[0] || a[1] - b[1] || a[2] - b[2];
}

const most = (all: Specificity[]): Specificity => all.reduce((a, b) => (compareSpecificity(a, b) < 0 ? b : a), ZERO);

/** Lists outside any rule that were read: sheets are read again when rules move, and share their selectors. */
const known = new Map<string, Selector[]>();

/**
 * Reads a selector list; `around` is what `&` means, null outside any rule.
 * @returns the same selectors whenever a list outside any rule is read again
 * @throws Error with `offset` into `prelude` for what is no selector
 */
export function readSelectors(prelude: string, around: Around | null): Selector[] {
  if (around !== null) return readAnew(prelude, around);
  let found = known.get(prelude);
  if (found === undefined) known.set(prelude, (found = readAnew(prelude, null)));
  return found;
}

function readAnew(prelude: string, around: Around | null): Selector[] {
  const list = csstree.parse(prelude, { context: 'selectorList', positions: true, onParseError: raise }) as {
    children: csstree.List<CssNode>;
  } & CssNode;
  if (list.children.isEmpty) throw Object.assign(new Error('a selector is expected'), { offset: 0 });
  return list.children.toArray().map((node) => {
    if (node.type !== 'Selector') throw Object.assign(new Error('a selector is expected'), { offset: 0 });
    refuseOpenEnds(node, around !== null);
    return readSelector(node, prelude, around);
  });
}

function raise(error: Error & { offset?: number }): never {
  throw error;
}

function refuseOpenEnds({ children }: SelectorNode, nested: boolean): void {
  const first = children.first;
  const last = children.last;
  const wrong = !nested && first?.type === 'Combinator' ? first : last?.type === 'Combinator' ? last : null;
  if (children.isEmpty || wrong !== null)
    throw Object.assign(new Error(wrong ? `something is missing beside "${wrong.name}"` : 'a selector is expected'), {
      offset: wrong?.loc?.start.offset ?? 0,
    });
}

/** The `:is()` of all selectors of a rule, for those nested in it. */
export function aroundOf(selectors: Selector[]): Around {
  const still = selectors.map((each) => each.still).filter((each): each is string => each !== null);
  const keys = selectors.map((each) => each.keys);
  return {
    still: still.length === 0 ? null : `:is(${still.join(',')})`,
    specificity: most(selectors.map((each) => each.specificity)),
    keys: keys.includes(null) ? null : keys.flatMap((each) => each!),
    exact: selectors.every((each) => each.exact && each.pseudo === ''),
    relative: selectors.some((each) => each.relative),
    positional: selectors.some((each) => each.positional),
    sideways: selectors.some((each) => each.sideways),
    byNames: selectors.every((each) => each.byNames),
    byTag: selectors.some((each) => each.byTag),
  };
}

interface Reading {
  around: Around | null;
  specificity: Specificity;
  pseudo: string;
  exact: boolean;
  doubtful: string | null;
  nowhere: boolean;
  relative: boolean;
  positional: boolean;
  sideways: boolean;
  byNames: boolean;
  byTag: boolean;
  nests: boolean;
}

function readSelector(node: SelectorNode, prelude: string, around: Around | null): Selector {
  const reading: Reading = {
    around,
    specificity: ZERO,
    pseudo: '',
    exact: true,
    doubtful: null,
    nowhere: false,
    relative: false,
    positional: false,
    sideways: false,
    byNames: true,
    byTag: false,
    nests: false,
  };
  const compounds = compoundsOf(node, reading, true);
  const last = compounds.at(-1)!;
  let still = compounds.map(({ combinator, text }) => combinator + text).join('');
  if (around !== null && !reading.nests) {
    const starts = node.children.first?.type === 'Combinator';
    const root = around.still ?? '';
    if (around.scope === true && !starts) still += `:is(${root},${root} *)`;
    else still = `${root}${starts ? '' : ' '}${still}`;
    meet(reading, around);
    reading.relative = true;
  }
  const text = prelude.slice(node.loc!.start.offset, node.loc!.end.offset).trim();
  const { specificity, pseudo, exact, doubtful, relative, positional, sideways, byNames, byTag } = reading;
  const never = reading.nowhere || (around !== null && around.still === null);
  const kept = never ? null : still;
  return {
    ...{ text, still: kept, specificity, pseudo, exact, doubtful, relative, positional, sideways, byNames, byTag },
    above: namesAbove(compounds),
    levels: around === null ? levelsOf(compounds) : Infinity,
    keys: last.keys,
    subject: subjectOf(last),
    plain: around === null ? plainOf(compounds) : null,
  };
}

function meet(reading: Reading, around: Around): void {
  reading.specificity = add(reading.specificity, around.specificity);
  reading.exact &&= around.exact;
  reading.relative ||= around.relative;
  reading.positional ||= around.positional;
  reading.sideways ||= around.sideways;
  reading.byNames &&= around.byNames;
  reading.byTag ||= around.byTag;
}

function compoundsOf(node: SelectorNode, reading: Reading, outer: boolean): Compound[] {
  const compounds: Compound[] = [];
  const fresh = (combinator: string): Compound => ({
    ...{ combinator, text: '', names: [], denied: [], values: [], tests: [] },
    ...{ keys: null, place: 'none' as const, isPlain: true },
  });
  let now: Compound | null = null;
  for (const part of node.children.toArray()) {
    if (part.type === 'Combinator') {
      reading.relative = true;
      if (part.name !== ' ') reading.positional = true;
      if (part.name === '+' || part.name === '~') {
        reading.sideways = true;
        reading.byNames = false;
      }
      compounds.push((now = fresh(part.name)));
      continue;
    }
    if (now === null) compounds.push((now = fresh('')));
    simple(part, now, reading, outer);
  }
  for (const each of compounds) {
    if (each.text === '') each.text = '*';
    // an id or a class tells more than a tag
    const best = each.names.find((name) => name.startsWith('#')) ?? each.names.find((name) => name.startsWith('.'));
    const key = best ?? each.names[0];
    each.keys = key === undefined ? each.keys : [key];
  }
  return compounds;
}

function simple(part: CssNode, now: Compound, reading: Reading, outer: boolean): void {
  const count = (specificity: Specificity) => {
    if (outer) reading.specificity = add(reading.specificity, specificity);
  };
  switch (part.type) {
    case 'ClassSelector':
    case 'IdSelector': {
      const mark = part.type === 'IdSelector' ? '#' : '.';
      now.text += mark + part.name;
      now.names.push(mark + csstree.ident.decode(part.name));
      count(part.type === 'IdSelector' ? [1, 0, 0] : [0, 1, 0]);
      break;
    }
    case 'TypeSelector': {
      const name = part.name.replace(/^.*\|/, '');
      if (name !== '*') {
        now.names.unshift(name.toLowerCase());
        reading.byTag = true;
        count([0, 0, 1]);
      }
      now.text = name + now.text;
      break;
    }
    case 'AttributeSelector':
      now.text += csstree.generate(part);
      now.isPlain = false;
      attribute(part, now, reading);
      if (part.matcher === '=' && part.value !== null)
        now.values.push([part.name.name.toLowerCase(), valueOf(part.value).toLowerCase()]);
      count([0, 1, 0]);
      break;
    case 'NestingSelector': {
      now.isPlain = false;
      const { around } = reading;
      reading.nests = true;
      if (around === null) now.text += ':root';
      else {
        now.text += around.still ?? '';
        now.keys = around.keys;
        if (outer) meet(reading, around);
        reading.nowhere ||= around.still === null;
      }
      break;
    }
    case 'PseudoElementSelector':
      reading.pseudo = `::${part.name.toLowerCase()}`;
      if (NOWHERE.has(part.name)) reading.nowhere = true;
      if (part.name.startsWith('-')) reading.doubtful = csstree.generate(part);
      count([0, 0, 1]);
      break;
    case 'PseudoClassSelector':
      pseudoClass(part, now, reading, count);
      break;
    default:
      reading.exact = false;
  }
}

/** What an attribute selector asks for: of `class` and `id` names tell, as of no others. */
function attribute({ name, matcher, value, flags }: csstree.AttributeSelector, now: Compound, reading: Reading): void {
  const own = name.name.toLowerCase();
  const isNamed = own === 'class' || own === 'id';
  if (!isNamed || flags !== null) reading.byNames = false;
  if (!/^[\w-]+$/.test(own)) return;
  now.keys ??= [`[${own}]`];
  if (isNamed && flags === null) now.tests.push({ name: own, matcher, value: value === null ? '' : valueOf(value) });
}

/** The value that an attribute selector asks for. */
function valueOf(value: csstree.StringNode | csstree.Identifier): string {
  return value.type === 'String' ? value.value : csstree.ident.decode(value.name);
}

function pseudoClass(
  part: csstree.PseudoClassSelector,
  now: Compound,
  reading: Reading,
  count: (specificity: Specificity) => void,
): void {
  const name = part.name.toLowerCase();
  const [argument] = part.children?.toArray() ?? [];
  if (OLD_ELEMENTS.has(name)) {
    reading.pseudo = `::${name}`;
    count([0, 0, 1]);
    return;
  }
  // what stands behind a pseudo-element is a state of that
  if (LISTS.has(name) && argument?.type === 'SelectorList' && reading.pseudo === '') {
    const inner = argument.children.toArray().map((each) => innerSelector(each as SelectorNode, reading));
    count(name === 'where' ? ZERO : most(inner.map((each) => each.specificity)));
    if (name === 'has') {
      reading.positional = reading.sideways = reading.relative = true;
      reading.byNames = false;
    }
    now.place = 'any';
    now.isPlain = false;
    const exact = inner.every((each) => each.exact);
    reading.exact &&= exact;
    const list = inner.map((each) => each.text).join(',');
    if (name === 'not') now.denied.push(...inner.flatMap((each) => each.only ?? []));
    // what may or may not hold cannot be denied
    if (name !== 'not' || exact) now.text += `:${name === 'not' || name === 'has' ? name : 'is'}(${list})`;
    if (name !== 'not' && name !== 'has' && inner.every((each) => each.keys !== null))
      now.keys ??= inner.flatMap((each) => each.keys!);
    return;
  }
  count([0, 1, 0]);
  if (name === 'root') {
    now.isPlain = false;
    now.text += ':root';
    now.keys ??= ['html'];
  } else if (name === 'scope') {
    now.isPlain = false;
    now.text += reading.around?.still ?? ':root';
  } else if (STRUCTURAL.has(name) && reading.pseudo === '') {
    reading.positional = reading.relative = true;
    reading.byNames = false;
    if (name.endsWith('of-type')) reading.byTag = true;
    if (now.place === 'none') now.place = 'own';
    now.isPlain = false;
    // `of` within counts only some siblings, which the matcher cannot
    const of = argument?.type === 'Nth' ? argument.selector : null;
    if (of != null) {
      const inner = of.children.toArray().map((each) => innerSelector(each as SelectorNode, reading));
      count(most(inner.map((each) => each.specificity)));
      reading.exact = false;
    } else now.text += csstree.generate(part);
  } else {
    reading.exact = false;
    if (NOWHERE.has(name)) reading.nowhere = true;
    else if (!RUNNING.has(name)) reading.doubtful = `:${name}`;
  }
}

function innerSelector(node: SelectorNode, reading: Reading) {
  const inner: Reading = { ...reading, specificity: ZERO, exact: true, nests: false, pseudo: '' };
  const compounds = compoundsOf(node, inner, true);
  reading.doubtful ??= inner.doubtful;
  reading.relative ||= inner.relative;
  reading.positional ||= inner.positional;
  reading.sideways ||= inner.sideways;
  reading.byNames &&= inner.byNames;
  reading.byTag ||= inner.byTag;
  reading.nests ||= inner.nests;
  return {
    text: compounds.map(({ combinator, text }) => combinator + text).join(''),
    exact: inner.exact,
    specificity: inner.specificity,
    keys: compounds.at(-1)?.keys ?? null,
    /** the one name that it asks for, when it asks for nothing else */
    only: compounds.length === 1 && compounds[0]!.names[0] === compounds[0]!.text ? compounds[0]!.text : null,
  };
}
