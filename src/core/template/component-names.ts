/**
 * Names for components: what a developer would call a block. Comments before it say so in the author's own words; then
 * come its class words, its label, what stands around it, and the page that it is on.
 */
import pluralize from 'pluralize';
import type { Registry } from '../component/model.js';
import { attrOf, classWords, type Element, elementsOf, textOf } from '../page/tree.js';
import { isSpaceText } from '../page/space.js';
import { asName, isTelling, ORDINALS } from './prop-names.js';
import { type Occurrence, RUN } from '../fragments/occurrence.js';

const ROOT_ROLE: Record<string, string> = {
  header: 'header',
  footer: 'footer',
  nav: 'nav',
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
  p: 'text',
  label: 'label',
  input: 'field',
  select: 'select',
  option: 'option',
  meta: 'meta',
  link: 'link',
  script: 'script',
};

/** Names with a hyphen that HTML keeps for itself (HTML standard, "valid custom element name"). */
const RESERVED = new Set(
  'annotation-xml color-profile font-face font-face-src font-face-uri font-face-format font-face-name missing-glyph'.split(
    ' ',
  ),
);

/** True for a custom-element name as component files have them (HTML standard, in ASCII). */
export function isComponentName(name: string): boolean {
  return /^[a-z][a-z0-9]*(-[a-z0-9]+)+$/.test(name) && !RESERVED.has(name);
}

/**
 * Names that no new component may have: those of components, and of custom elements.
 * @param pages all elements of each page
 */
export function takenNames(registry: Registry, pages: Element[][]): Set<string> {
  const taken = new Set(registry.keys());
  for (const elements of pages) for (const { tag } of elements) if (tag.includes('-')) taken.add(tag);
  return taken;
}

/** A valid custom-element name for what stands at `occurrences`, not among `taken`; `taken` is left as it is. */
export function nameComponent(occurrences: Occurrence[], taken: ReadonlySet<string>): string {
  const root = occurrences[0]!.element;
  const role = roleOf(root);
  const around = aroundWords(root).flatMap((word) => asName(pluralize.singular(word)) ?? []);
  // one place alone may be told what it holds, not what it is
  const heading = toldBy(occurrences, headingIn);
  const [first, last] = occurrences.length > 1 ? [heading, null] : [null, heading];
  const told = [toldBy(occurrences, commentBefore), ...ownWords(root), first];
  const words = [...told, ...around, pageWord(occurrences), last].filter((word) => word !== null);
  const names = words.flatMap((word) =>
    word.includes('-')
      ? [word, ...(word.endsWith(`-${role}`) ? [] : [`${word}-${role}`])]
      : [word === role ? `page-${role}` : `${word}-${role}`],
  );
  names.push(`page-${role}`, `plain-${role}`, `simple-${role}`, `small-${role}`);
  const free = (name: string) => !taken.has(name) && !RESERVED.has(name);
  const found = names.find(free);
  if (found !== undefined) return found;
  for (const ordinal of ORDINALS.slice(1)) if (free(`${ordinal}-${names[0]!}`)) return `${ordinal}-${names[0]!}`;
  let i = 2;
  while (!free(`${names[0]!}-${i}`)) i++;
  return `${names[0]!}-${i}`;
}

/** What a run of siblings is, by its first element. */
const RUN_ROLE: Record<string, string> = { dt: 'entry', label: 'field', input: 'field' };
/** And where all are of one tag. */
const RUN_OF: Record<string, string> = { meta: 'meta', link: 'links', script: 'scripts' };

function roleOf(root: Element): string {
  const first = root.children[0];
  if (root.tag === RUN && first?.kind === 'element') {
    const all = root.children.filter((child) => child.kind === 'element');
    if (all.every((each) => attrOf(each, 'rel')?.toLowerCase() === 'stylesheet')) return 'styles';
    const one = all.every(({ tag }) => tag === first.tag) ? RUN_OF[first.tag] : undefined;
    const inHead = first.parent?.kind === 'element' && first.parent.tag === 'head';
    return one ?? (inHead ? 'head' : (RUN_ROLE[first.tag] ?? 'section'));
  }
  return ROOT_ROLE[root.tag] ?? (/^h[1-6]$/.test(root.tag) ? 'heading' : 'block');
}

/** What all occurrences are told to be, as a name of a few words; null where they are told nothing, or different things. */
function toldBy(occurrences: Occurrence[], read: (root: Element) => string | null): string | null {
  const texts = new Set(occurrences.map(({ element }) => read(element)));
  const [text] = texts;
  if (texts.size > 1 || typeof text !== 'string' || !/^[\w\s-]+$/.test(text)) return null;
  const name = asName(text);
  return name !== null && name.split('-').length <= MAX_WORDS ? name : null;
}

const MAX_WORDS = 3;
/** A comment that says where something ends, or what it is an instance of, is no name. */
const NO_NAME = /^(end|close|todo|fixme|start|begin|for|see|note|the|this|here)\b|\bend$/i;

/** The comment on the lines before a block. */
function commentBefore(root: Element): string | null {
  const first = root.tag === RUN ? root.children[0]! : root;
  const siblings = (first as Element).parent!.children;
  const before = siblings.slice(0, siblings.indexOf(first)).filter((each) => !isSpaceText(each));
  const last = before.at(-1);
  const text = last?.kind === 'comment' ? last.value.trim() : '';
  return text === '' || NO_NAME.test(text) ? null : text;
}

/** So many elements from its start is a heading that of the block. */
const NEAR = 8;

/** The heading of a block. */
function headingIn(root: Element): string | null {
  const heading = elementsOf(root)
    .slice(0, NEAR)
    .find(({ tag }) => /^(h[1-6]|legend|caption)$/.test(tag));
  return heading === undefined ? null : textOf(heading);
}

/** The page that all occurrences stand on. */
function pageWord(occurrences: Occurrence[]): string | null {
  const paths = new Set(occurrences.map(({ page }) => page.path));
  const [path] = paths;
  const word =
    paths.size > 1
      ? null
      : path!
          .split('/')
          .pop()!
          .replace(/\.\w+$/, '');
  return word === null || word === 'index' ? null : asName(word);
}

function ownWords(root: Element): string[] {
  const label = attrOf(root, 'aria-label') ?? '';
  return [
    blockWord(root),
    asName(label),
    attrOf(root, 'itemtype')?.split('/').pop(),
    asName(attrOf(root, 'id') ?? ''),
    innerWord(root),
  ]
    .map((word) => (word ? asName(word) : null))
    .filter((word): word is string => word !== null);
}

function blockWord(element: Element): string | null {
  const word = classWords(element).find(isTelling);
  return word === undefined ? null : asName(word.replace('__', '-').replace(/--.*$/, ''));
}

/** A block word that the insides share: `boat__name`, `boat__facts` speak of a boat. */
function innerWord(root: Element): string | null {
  for (const each of elementsOf(root).slice(1, 12)) {
    const block = classWords(each)
      .find((word) => word.includes('__'))
      ?.split('__')[0];
    if (block) return asName(block);
  }
  return null;
}

function aroundWords(root: Element): string[] {
  const found: string[] = [];
  for (let at = root.parent; at?.kind === 'element' && at.tag !== 'body' && found.length < 3; at = at.parent) {
    const words = [blockWord(at), asName(attrOf(at, 'id') ?? ''), asName(attrOf(at, 'aria-label') ?? '')];
    found.push(...words.filter((word): word is string => word !== null));
  }
  return found;
}
