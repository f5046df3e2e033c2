/** What a fragment is, in one word: by its tag, or by what stands in it where the tag says nothing. */
import { RUN } from '../fragments/occurrence.js';
import { attrOf, classWords, type Child, type Element, elementsOf, RAW_TEXT } from '../page/tree.js';
import { isTelling } from '../words/names.js';
import { nameIn, type Vocabulary } from '../words/vocabulary.js';

const BY_TAG: ReadonlyMap<string, string> = new Map(
  Object.entries({
    header: 'header',
    footer: 'footer',
    main: 'main',
    aside: 'aside',
    article: 'card',
    section: 'section',
    form: 'form',
    fieldset: 'fieldset',
    figure: 'figure',
    table: 'table',
    thead: 'head',
    tbody: 'body',
    tr: 'row',
    td: 'cell',
    th: 'heading',
    li: 'item',
    ul: 'list',
    ol: 'list',
    dl: 'list',
    dt: 'term',
    dd: 'detail',
    a: 'link',
    button: 'button',
    img: 'picture',
    svg: 'icon',
    i: 'icon',
    p: 'text',
    label: 'label',
    input: 'field',
    select: 'select',
    option: 'option',
    dialog: 'dialog',
    details: 'details',
    blockquote: 'quote',
    video: 'video',
    meta: 'meta',
    link: 'link',
    script: 'script',
  }),
);

/** What a run of siblings is, by its first element, and where all are of one tag. */
const RUN_BY_FIRST = new Map(Object.entries({ dt: 'entry', label: 'field', input: 'field' }));
const RUN_OF = new Map(Object.entries({ meta: 'meta', link: 'links', script: 'scripts' }));

/** So many links are a menu rather than a bar. */
const MANY_LINKS = 9;

const CONTROLS = new Set(['input', 'select', 'textarea', 'output', 'meter']);

/** What a menu is made of. */
const IN_MENU = new Set(['a', 'ul', 'li', 'i', 'span', 'hr']);

/** True where the tag by itself says what an element is. */
export function isToldByTag({ tag }: Element): boolean {
  return BY_TAG.has(tag);
}

const NOUNS: ReadonlySet<string> = new Set(BY_TAG.values());

/** True for a word that says what an element is, and not what it is about. */
export function isNoun(word: string): boolean {
  return NOUNS.has(word) || word === VAGUE;
}

/** What an element is of which nothing tells what it is. */
export const VAGUE = 'block';

/** What boxes of no name of their own are in a grid: its columns, or the row that these stand in; null for others. */
export function gridNounOf(roots: Element[], vocabulary: Vocabulary): 'column' | 'row' | null {
  const isCalledNothing = (element: Element) => {
    const name = nameIn(element, vocabulary);
    return name === '' || !isTelling(name);
  };
  const isColumn = (element: Element) =>
    isCalledNothing(element) && classWords(element).some((word) => vocabulary.get(word)?.effect === 'width');
  const holdsColumns = ({ children }: { children: Child[] }) => {
    const elements = children.filter(isElement);
    return elements.length > 1 && elements.every(isColumn);
  };
  if (roots.every((root) => isCalledNothing(root) && holdsColumns(root))) return 'row';
  // one row may hold thousands of them
  const rows = new Set(roots.map(({ parent }) => parent));
  return [...rows].every((row) => row !== null && holdsColumns(row)) ? 'column' : null;
}

/** What an element or a run is; `block` where nothing tells. */
export function nounOf(root: Element): string {
  if (root.tag === RUN) return nounOfRun(root);
  if (/^h[1-6]$/.test(root.tag)) return 'heading';
  if (root.tag === 'nav')
    return elementsOf(root).filter(({ tag }) => tag === 'a').length < MANY_LINKS ? 'navbar' : 'menu';
  // without a class it is text in another voice
  if (root.tag === 'i' && hasText(root) && classWords(root).length === 0) return VAGUE;
  return BY_TAG.get(root.tag) ?? nounOfContent(root) ?? VAGUE;
}

function nounOfRun({ children }: Element): string {
  const all = children.filter((child) => child.kind === 'element');
  const first = all[0]!;
  if (all.every((each) => attrOf(each, 'rel')?.toLowerCase() === 'stylesheet')) return 'styles';
  const one = all.every(({ tag }) => tag === first.tag) ? RUN_OF.get(first.tag) : undefined;
  const inHead = first.parent?.kind === 'element' && first.parent.tag === 'head';
  if (one !== undefined || inHead) return one ?? 'head';
  return RUN_BY_FIRST.get(first.tag) ?? (/^h[1-6]$/.test(first.tag) ? 'heading' : 'section');
}

/** What an element holds that says what it is; null where nothing does. */
export function nounOfContent(root: Element): string | null {
  // what holds one thing only is that thing
  const only = root.children.filter(
    (child) => child.kind === 'element' || (child.kind === 'text' && child.value.trim()),
  );
  const [one] = only;
  if (only.length === 1 && one?.kind === 'element') {
    const inner = one.tag === 'div' || one.tag === 'span' ? nounOfContent(one) : null;
    if (inner !== null) return inner;
  }
  const elements = elementsOf(root).slice(1);
  const tags = new Set(elements.map(({ tag }) => tag));
  if (tags.has('canvas')) return 'chart';
  if (tags.has('table')) return 'table';
  if (tags.has('form')) return 'form';
  if (elements.length <= 8 && elements.filter(isControl).length === 1) return 'field';
  if (elements.some(isGauge)) return 'progress';
  if (tags.has('img') && !hasText(root)) return isRound(root) || elements.some(isRound) ? 'avatar' : 'picture';
  if (tags.has('video') || tags.has('iframe')) return 'media';
  const isMenu = [...tags].every((tag) => IN_MENU.has(tag));
  if (isMenu && elements.filter(({ tag }) => tag === 'a').length > 1) return 'menu';
  if (isPanel(root)) return 'card';
  const [first, ...rest] = root.children.filter((child) => child.kind === 'element');
  const text = rest.length > 0 && rest.every(({ tag }) => tag === 'p' || tag === 'small');
  if (first !== undefined && /^h[1-6]$/.test(first.tag) && text) return 'heading';
  return null;
}

function hasText({ tag, children }: Element): boolean {
  if (RAW_TEXT.has(tag)) return false;
  return children.some((child) =>
    child.kind === 'element' ? hasText(child) : child.kind === 'text' && child.value.trim() !== '',
  );
}

function isControl({ tag, attrs }: Element): boolean {
  const type = attrs.find(({ name }) => name === 'type')?.value;
  return CONTROLS.has(tag) && !['hidden', 'submit', 'button', 'checkbox', 'radio'].includes(type ?? '');
}

/** Something whose length tells how far it is (WAI-ARIA, "progressbar"). */
function isGauge(element: Element): boolean {
  const length = /(^|;)\s*width\s*:\s*[\d.]+%/.test(attrOf(element, 'style') ?? '');
  return element.tag === 'progress' || attrOf(element, 'role') === 'progressbar' || (length && !hasText(element));
}

/** Looks: a round picture, and a raised box with round corners, by what their utility classes say. */
function isRound(element: Element): boolean {
  return classWords(element).some((word) => /(^|-)(rounded|circle)(-|$)/.test(word) && /full|circle/.test(word));
}

function isPanel(element: Element): boolean {
  const words = classWords(element);
  return words.some((word) => /^shadow(-|$)/.test(word)) && words.some((word) => /^rounded(-|$)/.test(word));
}

/** True for nodes that are elements. */
export function isElement(node: Child): node is Element {
  return node.kind === 'element';
}
