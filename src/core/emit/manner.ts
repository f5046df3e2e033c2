/**
 * What elements are on the screen: blocks or parts of lines, and what their content is laid out as. Found out by matching
 * the stylesheets of every page; elements that say the same names are one kind, and what holds for a kind holds for all
 * of it (CSS Display 3; HTML standard, "Rendering").
 */
import { type Expression, isSpelled } from '../component/expression.js';
import { onceEach } from '../once.js';
import type { Page } from '../page/parse.js';
import { attrOf, type Element, elementsOf, HTML } from '../page/tree.js';
import { type Cascade, cascadeOf, type SheetReader } from '../style/cascade.js';
import { type Candidate, matching, RuleIndexes } from '../style/match.js';
import type { Sheet } from '../style/sheet.js';
import { type Declaration, readDeclarations } from '../style/syntax.js';
import type { ElementNode, Kind, Manner, Piece, SpaceRules } from './model.js';

function tags(text: string): Set<string> {
  return new Set(text.split(/\s+/));
}

const TABLE = 'caption col colgroup tbody td tfoot th thead tr';
const BLOCK = tags(
  `address article aside blockquote body center dd details dialog dir div dl dt fieldset figcaption figure footer form
  h1 h2 h3 h4 h5 h6 header hgroup hr html legend li listing main menu nav ol optgroup option p plaintext pre search
  section summary table ul xmp head title ${TABLE}`,
);
/** Part of a line themselves, with lines of their own inside. */
const INLINE_BLOCK = tags('button select datalist textarea marquee');
/** Never on the screen. */
export const HIDDEN = tags('script style template link meta head');
export const SVG_TEXT = tags('text tspan textPath foreignObject title desc a');

/**
 * Reads pages one after the other, which must be expanded.
 * @returns reads one more page; and what holds for all that were read
 */
export function spaceReader(read: SheetReader): { add: (page: Page) => void; rules: SpaceRules } {
  const kinds = new Map<string, Map<string, Kind>>();
  // elements that are called alike where all around them are share one list of what matches them
  const manners = new WeakMap<readonly Candidate[], Map<string, Manner>>();
  const mannerIn = (element: Element, candidates: readonly Candidate[]): Manner => {
    const known = manners.get(candidates) ?? new Map<string, Manner>();
    manners.set(candidates, known);
    const key = `${element.tag} ${attrOf(element, 'style') ?? ''}`;
    const manner = known.get(key) ?? matchedManner(element, candidates);
    known.set(key, manner);
    return manner;
  };
  const indexes = new RuleIndexes();
  const bearingOnce = onceEach(bearing);
  const bearingIn = (cascade: Cascade): Cascade => ({
    ...cascade,
    uses: cascade.uses.map((use) => ({ ...use, sheet: bearingOnce(use.sheet) })),
  });
  const add = (page: Page): void => {
    const elements = elementsOf(page.root);
    const index = indexes.pageIndexOf(bearingIn(cascadeOf(page, read)), elements);
    for (const element of elements) {
      if (element.ns !== HTML) continue;
      const id = attrOf(element, 'id') ?? '';
      const style = bearingOf(attrOf(element, 'style') ?? '');
      // braces mean nothing on a page that is expanded
      const words = new Set(wordsOf(attrOf(element, 'class') ?? ''));
      const key = keyOf(id, style, words);
      const manner = mannerIn(element, matching(index, element));
      const same = kinds.get(element.tag) ?? new Map<string, Kind>();
      kinds.set(element.tag, same);
      const known = same.get(key);
      if (known !== undefined) known.manner = both(known.manner, manner);
      else same.set(key, { id, style, words, manner });
    }
  };
  return { add, rules: kinds };
}

function keyOf(id: string, style: string, names: Iterable<string>): string {
  return [`#${id}`, ...new Set([...names].sort()), style].join(' ');
}

const BEARING = /^(content|display|float|position|white-space|white-space-collapse|all)$/;

/** The declarations of a `style` attribute that bear on lines and white space. */
function bearingOf(style: string): string {
  if (style === '') return '';
  return readDeclarations(style)
    .filter(({ property }) => BEARING.test(property))
    .map(({ property, value }) => `${property}:${value}`)
    .join(';');
}

/** The sheet with only those rules that bear on lines and white space. */
function bearing(sheet: Sheet): Sheet {
  const bears = ({ property }: Declaration) => BEARING.test(property);
  return { ...sheet, rules: sheet.rules.filter(({ declarations }) => declarations.some(bears)) };
}

/** What the element may be: whether another rule wins is asked no further than that a rule which holds always holds. */
function matchedManner(element: Element, candidates: readonly Candidate[]): Manner {
  const declared = candidates
    .filter(({ selector }) => selector.pseudo === '')
    .flatMap(({ use, rule, selector }) => {
      const always = selector.exact && rule.sure && use.conditions.length + rule.conditions.length === 0;
      return rule.declarations.map((declaration) => ({ ...said(declaration), always }));
    });
  for (const declaration of readDeclarations(attrOf(element, 'style') ?? ''))
    declared.push({ ...said(declaration), always: true });
  const displays = declared
    .filter(({ property }) => property === 'display' || property === 'all')
    .map(({ value }) => value);
  if (!declared.some(({ property, always }) => property === 'display' && always))
    displays.push(BLOCK.has(element.tag) ? 'block' : INLINE_BLOCK.has(element.tag) ? 'inline-block' : 'inline');
  const moved = declared.some(
    ({ property, value }) =>
      (property === 'float' && !value.startsWith('none')) ||
      (property === 'position' && !/^(static|relative|sticky)/.test(value)),
  );
  const shows = declared.some(
    ({ property, value }) => property.startsWith('white') && /\b(pre|break|preserve)/.test(value),
  );
  const all = (pattern: RegExp) => displays.every((display) => pattern.test(display));
  const isBlock = all(/^(block|flex|grid|table|list-item|flow-root)\b/);
  const isInline = all(/^inline\b/);
  return {
    outside: moved ? 'moved' : isBlock ? 'block' : isInline ? 'inline' : 'moved',
    inside: all(/^(inline-)?(flex|grid)\b/)
      ? 'items'
      : all(/^(block|flex|grid|table|list-item|flow-root|none|inline-\w)/)
        ? 'lines'
        : 'other',
    starts: generates(candidates, '::before'),
    ends: generates(candidates, '::after'),
    shows: shows || /^(pre|textarea|listing)$/.test(element.tag),
  };
}

/** True where a pseudo-element has content that is part of a line. */
function generates(candidates: readonly Candidate[], pseudo: string): boolean {
  const declared = candidates
    .filter(({ selector }) => selector.pseudo === pseudo)
    .flatMap(({ rule }) => rule.declarations.map(said));
  const values = (name: string) => declared.filter(({ property }) => property === name).map(({ value }) => value);
  const displays = values('display');
  const isBlock =
    displays.length > 0 && displays.every((value) => /^(block|flex|grid|table|list-item|flow-root)\b/.test(value));
  return !isBlock && values('content').some((value) => !/^(none|normal)/.test(value));
}

function said({ property, value }: Declaration): { property: string; value: string } {
  return { property, value: value.toLowerCase() };
}

function both(a: Manner, b: Manner): Manner {
  return {
    outside: a.outside === b.outside ? a.outside : 'moved',
    inside: a.inside === b.inside ? a.inside : a.inside === 'other' || b.inside === 'other' ? 'other' : 'lines',
    shows: a.shows || b.shows,
    starts: a.starts || b.starts,
    ends: a.ends || b.ends,
  };
}

const OTHER: Manner = { outside: 'moved', inside: 'other', shows: false, starts: true, ends: true };
/** Stands in a word for what only a use says. */
const OPEN = '\u0003';

/** What an element of a component or page is: of all kinds that it may turn out as, what holds for each. */
export function mannerOf(node: ElementNode, rules: SpaceRules): Manner {
  if (node.space !== 'html')
    return {
      ...OTHER,
      outside: 'inline',
      inside: node.space === 'svg' && !SVG_TEXT.has(node.tag) ? 'lines' : 'other',
      starts: false,
      ends: false,
    };
  const kinds = rules.get(node.tag);
  if (kinds === undefined) return OTHER;
  const value = (name: string) => textsIn(node.attrs.find((attr) => attr.name === name)?.pieces ?? []);
  const [ids, classes, styles] = [value('id'), value('class').map(wordsOf), value('style')];
  const [only] = classes;
  const isOpen = (texts: string[]) => texts.length > 1 || texts[0]!.includes(OPEN);
  const exact = classes.length === 1 && !isOpen(ids) && !isOpen(styles) && !only!.join(' ').includes(OPEN);
  if (exact) return kinds.get(keyOf(ids[0]!, bearingOf(styles[0]!), only!))?.manner ?? OTHER;
  const constant = only!.filter((word) => !word.includes(OPEN) && classes.every((each) => each.includes(word)));
  const isId = (id: string) => ids.some((each) => each === id || each.includes(OPEN));
  const isStyle = isOpen(styles) ? () => true : (style: string) => style === bearingOf(styles[0]!);
  const found = [...kinds.values()].filter(
    ({ id, style, words }) => isId(id) && isStyle(style) && constant.every((word) => words.has(word)),
  );
  return found.length === 0 ? OTHER : found.map(({ manner }) => manner).reduce(both);
}

function wordsOf(text: string): string[] {
  return text.split(/[\t\n\f\r ]+/).filter((word) => word !== '');
}

/** The texts that a value may be, as far as they are known. */
function textsIn(pieces: Piece[]): string[] {
  let texts = [''];
  for (const piece of pieces) {
    const said = typeof piece === 'string' ? [piece] : piece.kind === 'value' ? textsOf(piece.expression) : [OPEN];
    texts = texts.flatMap((text) => said.map((each) => text + each));
    if (texts.length > 64) return [OPEN];
  }
  return texts;
}

function textsOf(expression: Expression): string[] {
  if (expression.kind === 'choose') return [...textsOf(expression.yes), ...textsOf(expression.no)];
  if (expression.kind !== 'literal') return [OPEN];
  return [isSpelled(expression.value) ? expression.value.value : ''];
}
